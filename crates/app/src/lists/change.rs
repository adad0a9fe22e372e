//! Who comes onto a list, leaves it, and in which order they stand.

use super::{
    body::{ListBody, Member, MemberOwn},
    list_of, symbol,
};
use crate::{
    AppError, Ctx, DocumentFile,
    documents::{as_new, body::read, kind::DocumentKind, known::KnownCompany},
};
use artemon_core::panel::CompanyAt;
use artemon_store::{Document, Saved};
use serde::{Deserialize, Serialize};
use std::{collections::HashSet, time::Duration};
use utoipa::ToSchema;

/// Changes made elsewhere in between after which one gives up.
const ATTEMPTS: usize = 5;
/// While somebody writes a note, versions that stay are at least so far apart.
const APART: Duration = Duration::from_secs(10 * 60);
/// The longest word on where a company comes from, in characters.
const LONGEST_FROM: usize = 120;

/// Companies for a list.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AddMembers {
    /// Symbols, ISINs or ids.
    pub symbols: Vec<String>,
    /// From where they come: the name of a screen, or other words.
    #[serde(default)]
    pub from: String,
    /// What is said of each, where anything is: as many as symbols, or none.
    #[serde(default)]
    pub own: Vec<MemberOwn>,
}

/// What became of companies for a list.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Added {
    /// Those that are new on it.
    pub added: Vec<String>,
    /// Those that were on it.
    pub already: Vec<String>,
    /// The version of the list before and after.
    pub before: i32,
    #[allow(missing_docs)]
    pub version: i32,
}

/// What became of companies that were moved from a list to another.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Moved {
    /// On the list to which they went.
    #[serde(flatten)]
    pub there: Added,
    /// The version of the list that they left, before they did: those that were on both lists are put back from it with what was said
    /// of them here. None where they stayed.
    pub left: Option<i32>,
}

/// Puts companies on a list, behind those that are there.
///
/// # Errors
/// An unknown company or list.
pub fn add_members(ctx: &Ctx, id: &str, request: &AddMembers) -> Result<Added, AppError> {
    let t = ctx.date(None)?;
    let unknown: Vec<String> = request.symbols.iter().filter(|s| ctx.snapshot().find(s).is_none()).cloned().collect();
    if !unknown.is_empty() {
        return Err(ctx.unknown(unknown));
    }
    request.own.iter().try_for_each(MemberOwn::check)?;
    let companies = request.symbols.iter().map(|s| ctx.company(s, t)).collect::<Result<Vec<CompanyAt<'_>>, _>>()?;
    let from: String = request.from.chars().filter(|c| !c.is_control()).take(LONGEST_FROM).collect();
    let (mut added, mut already) = (Vec::new(), Vec::new());
    let (before, version) = change(ctx, id, Duration::ZERO, |body| {
        (added, already) = (Vec::new(), Vec::new());
        let mut there = ids(ctx, body);
        for (i, c) in companies.iter().enumerate() {
            if there.insert(c.index) {
                added.push(c.symbol().to_owned());
                body.members.push(Member { own: request.own.get(i).cloned().unwrap_or_default(), ..member(c, from.clone()) });
            } else {
                already.push(c.symbol().to_owned());
            }
        }
        Ok(!added.is_empty())
    })?;
    Ok(Added { added, already, before, version })
}

fn member(c: &CompanyAt<'_>, from: String) -> Member {
    Member {
        company: KnownCompany::of(c),
        own: MemberOwn::default(),
        added_on: c.bars().last_date().unwrap_or_else(|| c.t()),
        price_then: c.price().ok(),
        from,
    }
}

/// Takes companies off a list. The version before has them still, with all that was said of them.
///
/// # Errors
/// An unknown list.
pub fn remove_members(ctx: &Ctx, id: &str, symbols: &[String]) -> Result<Added, AppError> {
    let mut gone = Vec::new();
    let (before, version) = change(ctx, id, Duration::ZERO, |body| {
        gone = taken(ctx, body, symbols);
        Ok(!gone.is_empty())
    })?;
    Ok(Added { added: Vec::new(), already: gone.iter().map(|m| m.company.symbol.clone()).collect(), before, version })
}

/// Companies that were on a list and left it.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RestoreMembers {
    /// A version of the list's document that has them.
    pub version: i32,
    /// As they were called.
    pub symbols: Vec<String>,
}

/// Puts companies back on a list as they were in one of its versions, in their place.
///
/// # Errors
/// An unknown list or version.
pub fn restore_members(ctx: &Ctx, id: &str, request: &RestoreMembers) -> Result<Added, AppError> {
    let id = list_of(ctx, id)?.id.clone();
    let missing = || AppError::Missing { what: format!("Version {} of this list", request.version) };
    let then = ctx.home.people.document(&ctx.person, &id, Some(request.version))?.ok_or_else(missing)?;
    let earlier = read_body(&then)?.members;
    let back: HashSet<String> = taken(ctx, &mut ListBody { members: earlier.clone(), ..ListBody::default() }, &request.symbols)
        .into_iter()
        .map(|m| m.company.id)
        .collect();
    let mut added = Vec::new();
    let (before, version) = change(ctx, &id, Duration::ZERO, |body| {
        added.clear();
        let there: HashSet<String> = body.members.iter().map(|m| m.company.id.clone()).collect();
        for (place, m) in earlier.iter().enumerate().filter(|(_, m)| back.contains(&m.company.id) && !there.contains(&m.company.id)) {
            added.push(m.company.symbol.clone());
            body.members.insert(place.min(body.members.len()), m.clone());
        }
        Ok(!added.is_empty())
    })?;
    Ok(Added { added, already: Vec::new(), before, version })
}

/// Takes members out of a body.
fn taken(ctx: &Ctx, body: &mut ListBody, symbols: &[String]) -> Vec<Member> {
    let wanted: HashSet<String> = symbols.iter().map(|s| s.trim().to_uppercase()).collect();
    let is_wanted = |m: &Member| wanted.contains(&symbol(ctx, m.company.find(ctx.snapshot()), m).to_uppercase());
    let (gone, stay): (Vec<Member>, Vec<Member>) = body.members.drain(..).partition(is_wanted);
    body.members = stay;
    gone
}

/// Companies that go from one list to another with all that is said of them.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct MoveMembers {
    /// Ids of lists.
    pub from: String,
    pub to: String,
    pub symbols: Vec<String>,
    /// Whether they stay on the first list too.
    #[serde(default)]
    pub copy: bool,
}

/// Moves companies from one list to another, or copies them. They are put on the other list before they leave the first: what breaks
/// off in between loses nothing.
///
/// # Errors
/// An unknown list.
pub fn move_members(ctx: &Ctx, request: &MoveMembers) -> Result<Moved, AppError> {
    let from = list_of(ctx, &request.from)?;
    let moving = taken(ctx, &mut from.body.clone(), &request.symbols);
    let (mut added, mut already) = (Vec::new(), Vec::new());
    let (before, version) = change(ctx, &request.to, Duration::ZERO, |body| {
        (added, already) = (Vec::new(), Vec::new());
        let mut there: HashSet<String> = body.members.iter().map(|m| m.company.id.clone()).collect();
        for m in &moving {
            if there.insert(m.company.id.clone()) {
                added.push(m.company.symbol.clone());
                body.members.push(m.clone());
            } else {
                already.push(m.company.symbol.clone());
            }
        }
        Ok(!added.is_empty())
    })?;
    let leave = !request.copy && request.from != request.to;
    let left = leave.then(|| remove_members(ctx, &request.from, &request.symbols)).transpose()?;
    Ok(Moved { there: Added { added, already, before, version }, left: left.map(|l| l.before) })
}

/// Puts the companies of a list in an order; those that are not named stay behind, as they are.
///
/// # Errors
/// An unknown list.
pub fn order_members(ctx: &Ctx, id: &str, symbols: &[String]) -> Result<(), AppError> {
    let place = |m: &Member| {
        let own = symbol(ctx, m.company.find(ctx.snapshot()), m);
        symbols.iter().position(|s| s.eq_ignore_ascii_case(&own)).unwrap_or(usize::MAX)
    };
    change(ctx, id, APART, |body| {
        body.members.sort_by_cached_key(place);
        Ok(true)
    })
    .map(drop)
}

/// Keeps what the person says of a company on a list.
///
/// # Errors
/// An unknown list, a company that is not on it, what cannot be meant.
pub fn save_member(ctx: &Ctx, id: &str, of: &str, own: &MemberOwn) -> Result<(), AppError> {
    own.check()?;
    change(ctx, id, APART, |body| {
        let is_it = |m: &&mut Member| symbol(ctx, m.company.find(ctx.snapshot()), m).eq_ignore_ascii_case(of);
        let member = body.members.iter_mut().find(is_it).ok_or_else(|| AppError::Missing { what: format!("{of} on this list") })?;
        let changed = member.own != *own;
        member.own = own.clone();
        Ok(changed)
    })
    .map(drop)
}

fn read_body(document: &Document) -> Result<ListBody, AppError> {
    read(&document.body).map_err(|problem| AppError::Unusable { what: format!("The list \"{}\"", document.head.name), problem })
}

/// The companies of a body that the dataset has.
fn ids(ctx: &Ctx, body: &ListBody) -> HashSet<u32> {
    body.members.iter().filter_map(|m| m.company.find(ctx.snapshot())).collect()
}

/// Changes a list as it is now, whoever changed it in between; the versions before and after. `work` says whether anything changed.
fn change(
    ctx: &Ctx,
    id: &str,
    apart: Duration,
    mut work: impl FnMut(&mut ListBody) -> Result<bool, AppError>,
) -> Result<(i32, i32), AppError> {
    let (people, id) = (&ctx.home.people, list_of(ctx, id)?.id.clone());
    for _ in 0..ATTEMPTS {
        let missing = || AppError::Missing { what: "This list".to_owned() };
        let found = people.document(&ctx.person, &id, None)?.filter(|d| d.head.deleted_at.is_none()).ok_or_else(missing)?;
        let mut body: ListBody = read_body(&found)?;
        let before = found.head.version;
        if !work(&mut body)? {
            return Ok((before, before));
        }
        let new = DocumentFile {
            kind: DocumentKind::List,
            folder: found.head.folder,
            name: found.head.name,
            note: found.head.note,
            body: serde_json::to_value(&body).unwrap_or_default(),
        };
        new.check(ctx)?;
        let text = new.body.to_string();
        match people.save_apart(&ctx.person, &id, before, as_new(&new, &text), apart)? {
            Saved::ChangedSince(_) => {}
            Saved::As(head) => return Ok((before, head.version)),
            Saved::NameTaken | Saved::Missing => return Err(missing()),
        }
    }
    Err(AppError::Busy { what: "The list is being changed elsewhere all the time".to_owned() })
}
