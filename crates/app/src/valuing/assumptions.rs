//! Assumption sets: the shipped one, and the person's own as documents.

use crate::{
    AppError, Ctx,
    documents::{DocumentFile, DocumentKind, add_document, delete_document, restore_document, save_document},
    settings::{SET_IN_USE, read_set},
};
use artemon_core::valuation::Assumptions;
use artemon_store::{DocumentHead, PersonId};
use serde::Serialize;
use utoipa::ToSchema;

/// An assumption set with its place in time.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct AssumptionSet {
    /// The newest version.
    pub assumptions: Assumptions,
    /// The document; none for the shipped set.
    pub id: Option<String>,
    /// Whether valuations use it.
    pub in_use: bool,
    /// Whether it ships with the product and cannot be changed.
    pub shipped: bool,
    /// When each version was saved, oldest first, as RFC 3339.
    pub versions: Vec<String>,
}

/// The shipped set, then the person's by name. A set that cannot be used is not among them: see [`crate::repairs`].
///
/// # Errors
/// When they cannot be read.
pub fn assumption_sets(ctx: &Ctx) -> Result<Vec<AssumptionSet>, AppError> {
    let in_use = &ctx.settings().assumptions.name;
    let shipped = Assumptions::standard();
    let standard = AssumptionSet { in_use: *in_use == shipped.name, assumptions: shipped, id: None, shipped: true, versions: Vec::new() };
    let mut all = vec![standard];
    for document in ctx.home.people.whole_documents(&ctx.person, KIND.code())? {
        if let Ok(assumptions) = read_set(&document) {
            let versions = ctx.home.people.document_versions(&ctx.person, &document.head.id)?;
            let versions = versions.into_iter().map(|v| v.saved_at).collect();
            all.push(AssumptionSet {
                in_use: *in_use == assumptions.name,
                assumptions,
                id: Some(document.head.id),
                shipped: false,
                versions,
            });
        }
    }
    Ok(all)
}

const KIND: DocumentKind = DocumentKind::AssumptionSet;

/// Saves a set as the next version of its name, and uses it. `made_to` is the version that the change was made to, where the
/// name is known already; a newer one is then not overwritten.
///
/// # Errors
/// A name that is empty, too long or that of the shipped set; an assumption outside its bounds; a newer version.
pub fn save_assumptions(ctx: &Ctx, set: &Assumptions, made_to: Option<i32>) -> Result<(), AppError> {
    let name = set.name.trim();
    let kept = named(ctx, name)?;
    let body = serde_json::to_value(set).unwrap_or_default();
    let folder = kept.as_ref().map(|k| k.folder.clone()).unwrap_or_default();
    let new = DocumentFile { kind: KIND, folder, name: name.to_owned(), note: String::new(), body };
    let saved = match kept {
        Some(kept) => save_document(ctx, &kept.id, made_to.unwrap_or(kept.version), new)?,
        None => add_document(ctx, new)?,
    };
    prefer(ctx, &ctx.person, &saved.name)
}

/// Values with the set of this name from now on.
///
/// # Errors
/// When there is none that can be used.
pub fn use_assumptions(ctx: &Ctx, name: &str) -> Result<(), AppError> {
    let set = set_named(ctx, name)?;
    prefer(ctx, &ctx.person, &set.name)
}

fn prefer(ctx: &Ctx, person: &PersonId, name: &str) -> Result<(), AppError> {
    Ok(ctx.home.people.prefer(person, SET_IN_USE, name)?)
}

/// A version of a set, counted from 1.
///
/// # Errors
/// When there is none.
pub fn assumptions_version(ctx: &Ctx, name: &str, version: u32) -> Result<Assumptions, AppError> {
    let missing = || AppError::Missing { what: format!("Version {version} of \"{name}\"") };
    let kept = named(ctx, name)?.ok_or_else(missing)?;
    let asked = i32::try_from(version).ok().filter(|v| *v > 0).ok_or_else(missing)?;
    let document = ctx.home.people.document(&ctx.person, &kept.id, Some(asked))?.ok_or_else(missing)?;
    let set = read_set(&document).map_err(|problem| AppError::Unusable { what: format!("Version {version} of \"{name}\""), problem })?;
    Ok(Assumptions { version, ..set })
}

/// Restores a set that was deleted.
///
/// # Errors
/// When there is none.
pub fn restore_assumptions(ctx: &Ctx, name: &str) -> Result<(), AppError> {
    let deleted = ctx.home.people.deleted_document(&ctx.person, KIND.code(), name)?.ok_or_else(|| unknown(name))?;
    restore_document(ctx, &deleted.id).map(drop)
}

/// Deletes a set until it is restored; when it is in use, the shipped one is used.
///
/// # Errors
/// When there is none, or it ships with the product.
pub fn delete_assumptions(ctx: &Ctx, name: &str) -> Result<(), AppError> {
    let kept = named(ctx, name)?.ok_or_else(|| unknown(name))?;
    delete_document(ctx, &kept.id)?;
    if ctx.home.people.preference(&ctx.person, SET_IN_USE)?.as_deref() == Some(name) {
        prefer(ctx, &ctx.person, &Assumptions::standard().name)?;
    }
    Ok(())
}

/// The set of a name, in its newest version.
///
/// # Errors
/// When there is none; when it cannot be used as it is kept.
pub fn set_named(ctx: &Ctx, name: &str) -> Result<Assumptions, AppError> {
    if name == Assumptions::standard().name {
        return Ok(Assumptions::standard());
    }
    let kept = named(ctx, name)?.ok_or_else(|| unknown(name))?;
    let document = ctx.home.people.document(&ctx.person, &kept.id, None)?.ok_or_else(|| unknown(name))?;
    read_set(&document).map_err(|problem| AppError::Unusable { what: format!("The assumption set \"{name}\""), problem })
}

fn named(ctx: &Ctx, name: &str) -> Result<Option<DocumentHead>, AppError> {
    Ok(ctx.home.people.document_named(&ctx.person, KIND.code(), name)?)
}

/// Refuses assumptions that cannot be meant.
pub(crate) fn checked(set: &Assumptions) -> Result<(), AppError> {
    set.check().map_err(|problem| AppError::Unusable { what: format!("The assumption set \"{}\"", set.name), problem })
}

fn unknown(name: &str) -> AppError {
    AppError::Missing { what: format!("An assumption set of your own named \"{name}\"") }
}
