//! What sorts of documents there are.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A sort of document.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DocumentKind {
    /// A screen, as docs/screens.md describes it.
    Screen,
    /// Columns of a table: a list of formulas.
    ColumnSet,
    /// An assumption set.
    AssumptionSet,
    /// A measure of the person's own; its name is its id in formulas.
    Measure,
}

impl DocumentKind {
    const ALL: [DocumentKind; 4] = [DocumentKind::Screen, DocumentKind::ColumnSet, DocumentKind::AssumptionSet, DocumentKind::Measure];

    /// As it is kept.
    #[must_use]
    pub const fn code(self) -> &'static str {
        match self {
            DocumentKind::Screen => "screen",
            DocumentKind::ColumnSet => "column_set",
            DocumentKind::AssumptionSet => "assumption_set",
            DocumentKind::Measure => "measure",
        }
    }

    /// In words.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            DocumentKind::Screen => "screen",
            DocumentKind::ColumnSet => "column set",
            DocumentKind::AssumptionSet => "assumption set",
            DocumentKind::Measure => "measure",
        }
    }

    pub(crate) fn of(code: &str) -> Option<DocumentKind> {
        DocumentKind::ALL.into_iter().find(|k| k.code() == code)
    }
}
