//! What the person thinks of a company, in words.

use crate::{
    AppError, Ctx,
    documents::{
        kind::DocumentKind,
        of_company::{Kept, keep, kept},
    },
};
use artemon_core::limits::{self, TEXT};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The longest text, and the longest of the fields, in characters.
const LONGEST_TEXT: usize = 100_000;

/// What the person thinks of a company.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Note {
    /// Markdown.
    pub text: String,
    /// Who runs it, and how.
    pub management: String,
    /// How it stands among its rivals.
    pub competition: String,
    /// What is ahead.
    pub outlook: String,
}

impl Note {
    /// Refuses texts that are too long.
    pub(crate) fn check(&self) -> Result<(), AppError> {
        let lengths = [
            ("The note", &self.text, LONGEST_TEXT),
            ("Management", &self.management, TEXT),
            ("Competition", &self.competition, TEXT),
            ("Outlook", &self.outlook, TEXT),
        ];
        lengths.into_iter().try_for_each(|(what, text, most)| {
            limits::fits(text, most).map_err(|problem| AppError::Unusable { what: what.to_owned(), problem })
        })
    }
}

/// What the person wrote about a company.
///
/// # Errors
/// An unknown company.
pub fn note(ctx: &Ctx, symbol: &str) -> Result<Kept<Note>, AppError> {
    kept(ctx, DocumentKind::Note, &ctx.company(symbol, ctx.date(None)?)?)
}

/// Keeps what the person wrote about a company, if it was not changed elsewhere since the version that it was made to.
///
/// # Errors
/// An unknown company, a text that is too long, a change made elsewhere.
pub fn save_note(ctx: &Ctx, symbol: &str, made_to: i32, note: Note) -> Result<(), AppError> {
    keep(ctx, DocumentKind::Note, &ctx.company(symbol, ctx.date(None)?)?, made_to, note)
}
