//! Why something is decided, in the person's words.

use crate::{
    AppError, Ctx,
    documents::{DocumentFile, add_document, kind::DocumentKind, known::KnownCompany},
};
use artemon_core::{
    domain::Day,
    formula::Unit,
    limits::{self, TEXT},
    panel::CompanyAt,
};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use std::ops::RangeInclusive;
use utoipa::ToSchema;

/// Of the names of alerts, in characters: a number has room behind.
const LONGEST_NAME: usize = 76;
/// Formulas that would prove it wrong, at most.
const MOST_FORMULAS: usize = 10;
/// Confidences that can be meant: less than even odds are a reason to decide otherwise, and nobody knows.
const CONFIDENCES: RangeInclusive<f64> = 0.5..=0.95;

/// Why something is decided.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Reasons {
    #[allow(missing_docs)]
    pub thesis: String,
    /// What would prove it wrong, in plain words.
    pub wrong: String,
    /// The same as formulas that are true or false: each becomes an alert.
    pub wrong_when: Vec<String>,
    /// That the decision turns out right in three years, as a fraction from 0.5 to 0.95: that what is bought or kept beats the index, that
    /// what is sold or left alone does not.
    pub confidence: Option<f64>,
    /// When to look at it again.
    #[schema(value_type = Option<String>)]
    pub review_on: Option<Day>,
    /// Tell when the price reaches the value: an alert.
    pub tell_at_value: bool,
    /// The id of the saved screen from which the company came.
    pub screen: Option<String>,
}

impl Reasons {
    /// # Errors
    /// Texts that are too long, a confidence that cannot be meant, a day that is over, a formula that is neither true nor false.
    pub(crate) fn check(&self, ctx: &Ctx, today: Day) -> Result<(), AppError> {
        let refused = |what: &str, problem: String| Err(AppError::Unusable { what: what.to_owned(), problem });
        for (what, text) in [("The thesis", &self.thesis), ("What would prove it wrong", &self.wrong)] {
            limits::fits(text, TEXT).or_else(|problem| refused(what, problem))?;
        }
        if let Some(confidence) = self.confidence.filter(|c| !CONFIDENCES.contains(c)) {
            return refused("The confidence", format!("{} % does not lie between 50 and 95 %", (confidence * 1000.0).round() / 10.0));
        }
        if let Some(day) = self.review_on.filter(|day| *day <= today) {
            return refused("The day to look at it again", format!("{day} is not after {today}"));
        }
        if self.wrong_when.len() > MOST_FORMULAS {
            return refused("What would prove it wrong", format!("it may have at most {MOST_FORMULAS} formulas"));
        }
        for formula in &self.wrong_when {
            let compiled = ctx.engine.compile(formula).map_err(|e| AppError::formula(formula, e))?;
            if compiled.unit != Unit::Flag {
                return refused(
                    &format!("\"{formula}\""),
                    "it is neither true nor false; compare it with something, as in roe < 8 %".to_owned(),
                );
            }
        }
        Ok(())
    }
}

/// Makes the alerts that the reasons ask for.
///
/// # Errors
/// When they cannot be kept.
pub(crate) fn tell_when_wrong(ctx: &Ctx, c: &CompanyAt<'_>, reasons: &Reasons) -> Result<(), AppError> {
    let wrong = reasons.wrong_when.iter().map(|f| (format!("{}: wrong if {f}", c.symbol()), f.as_str()));
    let worth = reasons.tell_at_value.then(|| (format!("{}: the value is reached", c.symbol()), "price >= intrinsic_value"));
    for (name, formula) in wrong.chain(worth) {
        let what = json!({ "kind": "formula", "formula": formula });
        let body = json!({ "what": what, "of": { "kind": "companies", "companies": [KnownCompany::of(c)] } });
        tell(ctx, &name, body)?;
    }
    Ok(())
}

/// Keeps an alert, under the next free name where another has its own; one that waits for the same thing already is enough.
fn tell(ctx: &Ctx, name: &str, body: Value) -> Result<(), AppError> {
    let name: String = name.chars().take(LONGEST_NAME).collect();
    for n in 1.. {
        let name = if n == 1 { name.clone() } else { format!("{name} {n}") };
        let kept = ctx.home.people.document_named(&ctx.person, DocumentKind::Alert.code(), &name)?;
        let Some(kept) = kept else {
            let new = DocumentFile { kind: DocumentKind::Alert, folder: "Decisions".to_owned(), name, note: String::new(), body };
            return add_document(ctx, new).map(drop);
        };
        let kept = ctx.home.people.document(&ctx.person, &kept.id, None)?;
        if kept.and_then(|k| serde_json::from_str::<Value>(&k.body).ok()).is_some_and(|k| k["what"] == body["what"]) {
            break;
        }
    }
    Ok(())
}
