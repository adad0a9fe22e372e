//! What can be wrong with a formula, where, and what was meant.

use serde::Serialize;

/// A part of a formula's text, in bytes from its start.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Position {
    /// First byte.
    pub start: usize,
    /// One past the last byte.
    pub end: usize,
}

impl Position {
    /// From the start of `self` to the end of `other`.
    #[must_use]
    pub fn to(self, other: Position) -> Position {
        Position { start: self.start.min(other.start), end: self.end.max(other.end) }
    }
}

/// A mistake in a formula: a sentence, where it is, and the names that may have been meant.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, thiserror::Error)]
#[error("{message}")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FormulaError {
    /// What is wrong and what to do.
    pub message: String,
    /// Where.
    pub position: Position,
    /// Known names that resemble the unknown one, nearest first.
    pub suggestions: Vec<String>,
}

impl FormulaError {
    pub(super) fn new(position: Position, message: impl Into<String>) -> FormulaError {
        FormulaError { message: message.into(), position, suggestions: Vec::new() }
    }

    /// The formula with the mistake underlined, for a terminal.
    #[must_use]
    pub fn underlined(&self, formula: &str) -> String {
        let before = formula.get(..self.position.start).map_or(0, |s| s.chars().count());
        let length = formula.get(self.position.start..self.position.end).map_or(1, |s| s.chars().count()).max(1);
        format!("{}\n  {formula}\n  {}{}", self.message, " ".repeat(before), "^".repeat(length))
    }
}

/// The outcome of a check.
pub(super) type Checked<T> = Result<T, FormulaError>;
