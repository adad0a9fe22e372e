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
    /// What the person thinks of a company; its name is the company's id.
    Note,
    /// What the person forecasts of a company; its name is the company's id.
    Case,
    /// Companies that the person follows.
    List,
    /// What the person wants to be told of.
    Alert,
}

impl DocumentKind {
    pub(crate) const ALL: [DocumentKind; 8] = [
        DocumentKind::Screen,
        DocumentKind::ColumnSet,
        DocumentKind::AssumptionSet,
        DocumentKind::Measure,
        DocumentKind::Note,
        DocumentKind::Case,
        DocumentKind::List,
        DocumentKind::Alert,
    ];

    /// As it is kept.
    #[must_use]
    pub const fn code(self) -> &'static str {
        match self {
            DocumentKind::Screen => "screen",
            DocumentKind::ColumnSet => "column_set",
            DocumentKind::AssumptionSet => "assumption_set",
            DocumentKind::Measure => "measure",
            DocumentKind::Note => "note",
            DocumentKind::Case => "case",
            DocumentKind::List => "list",
            DocumentKind::Alert => "alert",
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
            DocumentKind::Note => "note",
            DocumentKind::Case => "case",
            DocumentKind::List => "list",
            DocumentKind::Alert => "alert",
        }
    }

    pub(crate) fn of(code: &str) -> Option<DocumentKind> {
        DocumentKind::ALL.into_iter().find(|k| k.code() == code)
    }
}
