//! A person's documents: screens, column sets, assumption sets, measures. One mechanism for all: folders, notes, every saved
//! version, deleted until restored, out and in as a file.

pub(crate) mod body;
mod check;
pub(crate) mod kind;
pub(crate) mod known;
pub(crate) mod of_company;

pub use kind::DocumentKind;
pub use known::KnownCompany;
pub use of_company::Kept;

use crate::{
    AppError, Ctx,
    names::check_name,
    people::{noted, room_for_a_document, room_for_a_version},
};
use artemon_core::{
    limits::{self, TEXT},
    screening::Screen,
};
use artemon_store::{Document, DocumentHead, DocumentVersion, NewDocument, Saved};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

/// The longest name and folder, and the longest note, in characters.
const LONGEST_NAME: usize = 80;

/// A document in a list.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct DocumentEntry {
    /// By which it is asked for.
    pub id: String,
    /// What sort of document it is.
    pub kind: DocumentKind,
    /// Folders separated by `/`; empty at the top.
    pub folder: String,
    /// Its name, unlike that of any other of the kind.
    pub name: String,
    /// The newest version, from 1.
    pub version: i32,
    /// When it was first saved, as RFC 3339.
    pub created_at: String,
    /// When the newest version was saved.
    pub saved_at: String,
    /// In the person's words, of the newest version.
    pub note: String,
    /// When it was deleted; it can be restored.
    pub deleted_at: Option<String>,
}

/// A document with its contents.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct DocumentAnswer {
    /// Its entry; of the newest version, whichever is shown.
    #[serde(flatten)]
    pub entry: DocumentEntry,
    /// The documented JSON of its kind; a text where what is kept is no JSON.
    #[schema(value_type = Value)]
    pub body: Value,
    /// Every saved version, oldest first.
    pub versions: Vec<VersionEntry>,
}

/// A saved version.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct VersionEntry {
    pub version: i32,
    pub note: String,
    pub saved_at: String,
}

/// A document to be saved; also its form as a file.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DocumentFile {
    /// What sort of document it is.
    pub kind: DocumentKind,
    /// Folders separated by `/`; empty at the top.
    #[serde(default)]
    pub folder: String,
    /// Its name, unlike that of any other of the kind.
    pub name: String,
    /// In the person's words.
    #[serde(default)]
    pub note: String,
    /// The documented JSON of its kind.
    #[schema(value_type = Value)]
    pub body: Value,
}

impl DocumentFile {
    fn trimmed(self) -> DocumentFile {
        let folder = self.folder.split('/').map(str::trim).filter(|f| !f.is_empty()).collect::<Vec<_>>().join("/");
        DocumentFile { folder, name: self.name.trim().to_owned(), note: self.note.trim().to_owned(), ..self }
    }

    /// Refuses names that are none, bodies that are not of the kind, and more than there is room for.
    pub(crate) fn check(&self, ctx: &Ctx) -> Result<(), AppError> {
        let refused = |what: String, problem: &str| Err(AppError::Unusable { what, problem: problem.to_owned() });
        check_name(&self.name, LONGEST_NAME).or_else(|problem| refused(format!("The name \"{}\"", self.name), &problem))?;
        let mut folders = self.folder.split('/').filter(|_| !self.folder.is_empty());
        let fit = folders.try_for_each(|folder| check_name(folder, LONGEST_NAME));
        let problem = fit.and_then(|()| limits::fits(&self.folder, LONGEST_NAME));
        problem.or_else(|problem| refused(format!("The folder \"{}\"", self.folder), &problem))?;
        limits::fits(&self.note, TEXT).or_else(|problem| refused("The note".to_owned(), &problem))?;
        room_for_a_version(ctx)?;
        self.kind.check(&self.name, &self.body, ctx)
    }
}

/// The documents of a kind, by folder and name; deleted ones when asked for.
///
/// # Errors
/// When they cannot be read.
pub fn documents(ctx: &Ctx, kind: DocumentKind, deleted: bool) -> Result<Vec<DocumentEntry>, AppError> {
    Ok(ctx.home.people.documents(&ctx.person, kind.code(), deleted)?.into_iter().map(|h| entry(h, kind)).collect())
}

/// A document, in its newest version or another.
///
/// # Errors
/// When there is none.
pub fn document(ctx: &Ctx, id: &str, version: Option<i32>) -> Result<DocumentAnswer, AppError> {
    let found = ctx.home.people.document(&ctx.person, id, version)?.ok_or_else(|| missing(version))?;
    let versions = ctx.home.people.document_versions(&ctx.person, id)?;
    answer(found, versions)
}

/// Keeps a new document.
///
/// # Errors
/// A name that is taken or none; a body that is not of the kind.
pub fn add_document(ctx: &Ctx, new: DocumentFile) -> Result<DocumentEntry, AppError> {
    let new = new.trimmed();
    new.check(ctx)?;
    room_for_a_document(ctx, new.kind.code())?;
    let body = new.body.to_string();
    saved(ctx.home.people.add_document(&ctx.person, as_new(&new, &body))?, new.kind, &new.name)
}

/// Keeps the next version of a document, if nobody saved another since `made_to`, the version that the change was made to.
///
/// # Errors
/// As [`add_document`]; when somebody did; when there is none.
pub fn save_document(ctx: &Ctx, id: &str, made_to: i32, new: DocumentFile) -> Result<DocumentEntry, AppError> {
    let new = new.trimmed();
    new.check(ctx)?;
    let body = new.body.to_string();
    saved(ctx.home.people.save_document(&ctx.person, id, made_to, as_new(&new, &body))?, new.kind, &new.name)
}

/// Deletes a document until it is restored.
///
/// # Errors
/// When there is none; when others need it.
pub fn delete_document(ctx: &Ctx, id: &str) -> Result<DocumentEntry, AppError> {
    let found = ctx.home.people.document(&ctx.person, id, None)?.ok_or_else(|| missing(None))?;
    let kind = kind_of(&found.head)?;
    kind.check_deletion(&found.head.name, ctx)?;
    let deleted = saved(ctx.home.people.delete_document(&ctx.person, id, true)?, kind, &found.head.name)?;
    noted(ctx, "deleted", &format!("{} {}", kind.label(), found.head.name))?;
    Ok(deleted)
}

/// Restores a deleted document.
///
/// # Errors
/// When there is none; when another has taken its name.
pub fn restore_document(ctx: &Ctx, id: &str) -> Result<DocumentEntry, AppError> {
    let found = ctx.home.people.document(&ctx.person, id, None)?.ok_or_else(|| missing(None))?;
    let kind = kind_of(&found.head)?;
    saved(ctx.home.people.delete_document(&ctx.person, id, false)?, kind, &found.head.name)
}

/// A document as a file.
///
/// # Errors
/// When there is none.
pub fn document_file(ctx: &Ctx, id: &str, version: Option<i32>) -> Result<DocumentFile, AppError> {
    let DocumentAnswer { entry, body, .. } = document(ctx, id, version)?;
    Ok(DocumentFile { kind: entry.kind, folder: entry.folder, name: entry.name, note: entry.note, body })
}

pub(crate) fn as_new<'d>(new: &'d DocumentFile, body: &'d str) -> NewDocument<'d> {
    NewDocument { kind: new.kind.code(), folder: &new.folder, name: &new.name, note: &new.note, body }
}

/// What became of it, as an answer.
pub(crate) fn saved(outcome: Saved, kind: DocumentKind, name: &str) -> Result<DocumentEntry, AppError> {
    match outcome {
        Saved::As(head) => Ok(entry(head, kind)),
        Saved::ChangedSince(head) => Err(AppError::ChangedSince { name: head.name, version: head.version, saved_at: head.saved_at }),
        Saved::NameTaken => {
            let problem = format!("another {} has it; choose another name", kind.label());
            Err(AppError::Unusable { what: format!("The name \"{name}\""), problem })
        }
        Saved::Missing => Err(missing(None)),
    }
}

fn entry(head: DocumentHead, kind: DocumentKind) -> DocumentEntry {
    DocumentEntry {
        id: head.id,
        kind,
        folder: head.folder,
        name: head.name,
        version: head.version,
        created_at: head.created_at,
        saved_at: head.saved_at,
        note: head.note,
        deleted_at: head.deleted_at,
    }
}

fn answer(found: Document, versions: Vec<DocumentVersion>) -> Result<DocumentAnswer, AppError> {
    let kind = kind_of(&found.head)?;
    let version = |v: DocumentVersion| VersionEntry { version: v.version, note: v.note, saved_at: v.saved_at };
    let body = serde_json::from_str(&found.body).unwrap_or(Value::String(found.body));
    Ok(DocumentAnswer { entry: entry(found.head, kind), body, versions: versions.into_iter().map(version).collect() })
}

/// The screen that a document is.
pub(crate) fn screen_of(document: &DocumentAnswer) -> Result<Screen, AppError> {
    if document.entry.kind != DocumentKind::Screen {
        return Err(missing(None));
    }
    check::parsed(DocumentKind::Screen, &document.body)
}

fn kind_of(head: &DocumentHead) -> Result<DocumentKind, AppError> {
    DocumentKind::of(&head.kind).ok_or_else(|| missing(None))
}

fn missing(version: Option<i32>) -> AppError {
    let what = version.map_or_else(|| "This document".to_owned(), |v| format!("Version {v} of this document"));
    AppError::Missing { what }
}
