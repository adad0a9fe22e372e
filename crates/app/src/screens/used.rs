//! What screens ask most: offered first where criteria are picked.

use super::ready::ready_screens;
use crate::{AppError, Ctx, documents::DocumentKind};
use artemon_core::{screening::Screen, wording::label};
use serde::Serialize;
use std::collections::HashMap;
use utoipa::ToSchema;

/// Most formulas told.
const MOST: usize = 12;

/// A formula of criteria.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct UsedFormula {
    #[allow(missing_docs)]
    pub formula: String,
    /// In words.
    pub label: String,
    /// In how many of the person's kept screens it is.
    pub screens: usize,
}

/// The formulas that most of the person's kept screens use, then those of most ready-made ones.
///
/// # Errors
/// When the screens cannot be read.
pub fn used_formulas(ctx: &Ctx) -> Result<Vec<UsedFormula>, AppError> {
    let kept = ctx.home.people.whole_documents(&ctx.person, DocumentKind::Screen.code())?;
    let own: Vec<Screen> = kept.iter().filter_map(|document| serde_json::from_str(&document.body).ok()).collect();
    let ready: Vec<Screen> = ready_screens().into_iter().map(|ready| ready.screen).collect();
    let mut used: HashMap<&str, [usize; 2]> = HashMap::new();
    for (kind, screens) in [&own, &ready].into_iter().enumerate() {
        for screen in screens {
            let mut formulas: Vec<&str> = screen.blocks.iter().flat_map(|b| &b.criteria).map(|c| c.formula.trim()).collect();
            formulas.sort_unstable();
            formulas.dedup();
            formulas.into_iter().for_each(|formula| used.entry(formula).or_default()[kind] += 1);
        }
    }
    let mut all: Vec<(&str, [usize; 2])> = used.into_iter().collect();
    all.sort_by(|a, b| b.1.cmp(&a.1).then(a.0.cmp(b.0)));
    let library = &ctx.settings().library;
    let told =
        |(formula, [screens, _]): (&str, [usize; 2])| UsedFormula { formula: formula.to_owned(), label: label(formula, library), screens };
    Ok(all.into_iter().filter(|(formula, _)| !formula.is_empty()).take(MOST).map(told).collect())
}
