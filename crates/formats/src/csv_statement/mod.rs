//! An account's statement from any CSV file: its columns and its words for what happened are mapped. What was guessed is shown before it
//! is used.

mod guess;
mod head;
mod read;

pub use guess::guess;
pub use head::StatementHead;
pub use read::read;

use crate::{
    mapped_table::{DateOrder, DecimalMark},
    statement::StatementKind,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// What a column can say.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum StatementField {
    TradedOn,
    SettledOn,
    Id,
    Kind,
    Isin,
    Symbol,
    Name,
    Units,
    Price,
    Commission,
    Fees,
    Withheld,
    Total,
    Currency,
    Memo,
}

impl StatementField {
    /// All of them.
    pub const ALL: [StatementField; 15] = [
        StatementField::TradedOn,
        StatementField::SettledOn,
        StatementField::Id,
        StatementField::Kind,
        StatementField::Isin,
        StatementField::Symbol,
        StatementField::Name,
        StatementField::Units,
        StatementField::Price,
        StatementField::Commission,
        StatementField::Fees,
        StatementField::Withheld,
        StatementField::Total,
        StatementField::Currency,
        StatementField::Memo,
    ];
}

/// What a word means.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MeantWord {
    /// In lower case.
    pub word: String,
    /// None of what is left out.
    pub means: Option<StatementKind>,
}

impl StatementMapping {
    /// What a word means, if the mapping has it.
    #[must_use]
    pub fn meant(&self, word: &str) -> Option<&MeantWord> {
        self.words.iter().find(|w| w.word == word)
    }
}

/// How a file's columns and words become a statement's.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StatementMapping {
    /// The file's header for each field that it has.
    #[schema(value_type = BTreeMap<String, String>)]
    pub columns: BTreeMap<StatementField, String>,
    /// What its words for what happened mean. Without a word the sign of the total decides.
    pub words: Vec<MeantWord>,
    /// The order of dates.
    pub dates: DateOrder,
    /// The decimal mark.
    pub decimal: DecimalMark,
}
