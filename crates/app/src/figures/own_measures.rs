//! Measures of the person's own: documents whose name is the measure's id.

use crate::{
    AppError, Ctx,
    documents::{DocumentFile, DocumentKind, add_document, delete_document, save_document},
};
use artemon_core::formula::OwnMeasure;

/// All that can be used, by id.
#[must_use]
pub fn own_measures(ctx: &Ctx) -> Vec<OwnMeasure> {
    ctx.settings().library.iter().cloned().collect()
}

/// Adds a measure, or the next version of the one with its id; from then on formulas may use it.
///
/// # Errors
/// A name that is taken, a mistake in the formula, a circle.
pub fn save_own_measure(ctx: &Ctx, measure: &OwnMeasure) -> Result<(), AppError> {
    let kept = ctx.home.people.document_named(&ctx.person, DocumentKind::Measure.code(), &measure.id)?;
    let body = serde_json::to_value(measure).unwrap_or_default();
    let folder = kept.as_ref().map(|k| k.folder.clone()).unwrap_or_default();
    let new = DocumentFile { kind: DocumentKind::Measure, folder, name: measure.id.clone(), note: String::new(), body };
    match kept {
        Some(kept) => save_document(ctx, &kept.id, kept.version, new).map(drop),
        None => add_document(ctx, new).map(drop),
    }
}

/// Deletes a measure that no other uses.
///
/// # Errors
/// When others use it, or there is none.
pub fn delete_own_measure(ctx: &Ctx, id: &str) -> Result<(), AppError> {
    match ctx.home.people.document_named(&ctx.person, DocumentKind::Measure.code(), id)? {
        Some(kept) => delete_document(ctx, &kept.id).map(drop),
        None => Err(AppError::Missing { what: format!("Your measure \"{id}\"") }),
    }
}
