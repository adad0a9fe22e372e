//! Taking a copy: it belongs to whoever takes it, and what becomes of the other does not touch it.

use super::{ShareKind, opened};
use crate::{
    AppError, Ctx,
    backtests::{AskBacktest, ask_backtest, backtest, resolved},
    documents::{DocumentFile, DocumentKind, add_document, document_file},
    lists::{ListBody, Member, MemberOwn, OwnList},
    people::with_entry,
};
use artemon_core::{backtest::ScreenRef, formula::OwnMeasure};
use serde::Serialize;
use serde_json::Value;
use std::collections::BTreeSet;
use utoipa::ToSchema;

/// Names that are tried for a copy.
const TRIED: usize = 20;

/// A copy that was taken.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Copied {
    pub kind: ShareKind,
    /// What it is, in words.
    pub what: String,
    pub id: String,
    pub name: String,
    /// Measures that came with it, since it uses them.
    pub measures: Vec<String>,
    /// The list that came with it, since its screen looks among its companies.
    pub list: Option<String>,
}

/// Takes a copy of what a link leads to, with the measures that it uses and the list that its screen looks among. A backtest is run
/// again, on the same settings.
///
/// # Errors
/// A link that leads nowhere; a measure of the same name that is another; what cannot be used here.
pub fn take_copy(ctx: &Ctx, token: &str) -> Result<Copied, AppError> {
    let (share, kind, named, theirs) = opened(ctx, token)?;
    let from = format!("{named} of {}", share.name);
    with_entry(ctx, "took a copy of", &from, |entry| ctx.home.people.add_entry(entry))?;
    if kind == ShareKind::Backtest {
        let of = backtest(&theirs, &share.object)?.entry;
        let mut settings = resolved(&theirs, of.settings)?;
        let measures = brought(ctx, &theirs, &serde_json::to_string(&settings).unwrap_or_default())?;
        let mut list = None;
        if let ScreenRef::Document(screen) = &mut settings.screen
            && let Some(name) = &mut screen.universe.list
        {
            list = brought_list(ctx, &theirs, name, &share.name)?;
        }
        let asked = ask_backtest(&ctx.anew()?, &AskBacktest { name: of.name, settings })?;
        return Ok(Copied { kind, what: named.what, id: asked.id, name: asked.name, measures, list });
    }
    let mut file = document_file(&theirs, &share.object, None)?;
    let mut measures = brought(ctx, &theirs, &file.body.to_string())?;
    measures.retain(|id| file.kind != DocumentKind::Measure || *id != file.name);
    let mut list = None;
    if file.kind == DocumentKind::Screen
        && let Some(Value::String(name)) = file.body.pointer_mut("/universe/list")
    {
        list = brought_list(ctx, &theirs, name, &share.name)?;
    }
    let (id, name) = added(&ctx.anew()?, file, &share.name)?;
    Ok(Copied { kind, what: named.what, id, name, measures, list })
}

/// Keeps the copy under its own name, or one that says from whom it is.
fn added(ctx: &Ctx, file: DocumentFile, from: &str) -> Result<(String, String), AppError> {
    let taken: BTreeSet<String> = ctx.home.people.documents(&ctx.person, file.kind.code(), false)?.into_iter().map(|d| d.name).collect();
    if taken.contains(&file.name) && matches!(file.kind, DocumentKind::Case | DocumentKind::Measure) {
        let sentence = match file.kind {
            DocumentKind::Case => "You have a forecast of this company already, and there is one a company. Delete yours to take this one.",
            _ => "You have a measure of this name already. Rename yours to take this one.",
        };
        return Err(AppError::Refused(sentence.to_owned()));
    }
    let name = names(&file.name, from).find(|name| !taken.contains(name)).unwrap_or_else(|| file.name.clone());
    let added = add_document(ctx, DocumentFile { name, folder: String::new(), ..file })?;
    Ok((added.id, added.name))
}

/// The names that a copy may have: its own, and those that say from whom it is.
fn names<'a>(name: &'a str, from: &'a str) -> impl Iterator<Item = String> + 'a {
    (1..=TRIED).map(move |n| match n {
        1 => name.to_owned(),
        2 => format!("{name} ({from})"),
        n => format!("{name} ({from}, {n})"),
    })
}

/// Brings the companies of a list, and nothing of what is said of them there; one's own list of these companies and this name serves as
/// well. `name` becomes that of one's own. Says which came.
fn brought_list(ctx: &Ctx, theirs: &Ctx, name: &mut String, from: &str) -> Result<Option<String>, AppError> {
    let Some(list) = theirs.own.lists.iter().find(|l| l.name == *name) else { return Ok(None) };
    let (_, companies) = list.companies();
    let serves = |own: &&OwnList| names(&list.name, from).any(|n| n == own.name) && own.companies().1 == companies;
    if let Some(own) = ctx.own.lists.iter().find(serves) {
        name.clone_from(&own.name);
        return Ok(None);
    }
    let bare = |m: &Member| Member { own: MemberOwn::default(), from: String::new(), ..m.clone() };
    let body = ListBody { members: list.body.members.iter().map(bare).collect(), columns: Vec::new() };
    let body = serde_json::to_value(body).unwrap_or_default();
    let file = DocumentFile { kind: DocumentKind::List, folder: String::new(), name: list.name.clone(), note: String::new(), body };
    (_, *name) = added(&ctx.anew()?, file, from)?;
    Ok(Some(name.clone()))
}

/// Brings the measures of whoever shares that a text uses, those before others that use them; says which came.
fn brought(ctx: &Ctx, theirs: &Ctx, text: &str) -> Result<Vec<String>, AppError> {
    let mut came = Vec::new();
    for measure in used(theirs, text) {
        let own = ctx.settings().library.iter().find(|own| own.id == measure.id).cloned();
        match own {
            Some(own) if own.formula == measure.formula => {}
            Some(_) => {
                let id = &measure.id;
                let sentence = format!("It uses the measure {id}, and yours of that name is another. Rename yours to take the copy.");
                return Err(AppError::Refused(sentence));
            }
            None => {
                crate::figures::save_own_measure(&ctx.anew()?, &measure)?;
                came.push(measure.id);
            }
        }
    }
    Ok(came)
}

/// The measures of a person's own that are named in a text, and those that these use, before them.
fn used(theirs: &Ctx, text: &str) -> Vec<OwnMeasure> {
    let all: Vec<&OwnMeasure> = theirs.settings().library.iter().collect();
    let mut found: Vec<&OwnMeasure> = Vec::new();
    let mut texts = vec![text.to_owned()];
    while let Some(text) = texts.pop() {
        let names: BTreeSet<&str> = text.split(|c: char| !(c.is_ascii_alphanumeric() || c == '_')).collect();
        for measure in all.iter().filter(|m| names.contains(m.id.as_str())) {
            texts.push(measure.formula.clone());
            // What is used by more than one comes before all of them.
            found.retain(|known| known.id != measure.id);
            found.insert(0, measure);
        }
    }
    found.into_iter().cloned().collect()
}
