//! The columns of each table, in the order in which they are written.

use artemon_core::domain::{Item, Table};
use std::sync::LazyLock;

/// What the cells of a column hold.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum CellKind {
    /// Text, keys and codes.
    Text,
    /// A number with decimals.
    Number,
    /// A number without.
    Whole,
    /// A calendar day.
    Date,
    /// True or false.
    Flag,
    /// A moment (RFC 3339).
    Moment,
}

impl CellKind {
    /// The name of the type in a table schema of the Data Package standard.
    #[must_use]
    pub const fn schema_type(self) -> &'static str {
        match self {
            CellKind::Text => "string",
            CellKind::Number => "number",
            CellKind::Whole => "integer",
            CellKind::Date => "date",
            CellKind::Flag => "boolean",
            CellKind::Moment => "datetime",
        }
    }
}

/// A column of a table.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Column {
    /// Its header.
    pub name: &'static str,
    /// What its cells hold.
    pub kind: CellKind,
}

macro_rules! columns {
    ($($kind:ident: $($name:ident)+);+) => { &[$($(Column { name: stringify!($name), kind: CellKind::$kind }),+),+] };
}

const STATEMENT_KEYS: &[Column] =
    columns![Text: company_id; Whole: fiscal_year; Text: period; Date: period_end filed_on; Text: currency source];
/// How many columns stand before the items of a statement.
pub(super) const STATEMENT_KEY_COUNT: usize = STATEMENT_KEYS.len();

static STATEMENTS: LazyLock<Vec<Column>> = LazyLock::new(|| {
    let items = Item::ALL.iter().map(|i| Column { name: i.code(), kind: CellKind::Number });
    STATEMENT_KEYS.iter().copied().chain(items).collect()
});

/// The columns of a table.
#[must_use]
pub fn columns(table: Table) -> &'static [Column] {
    match table {
        Table::Companies => {
            columns![Text: company_id name country sector industry currency; Whole: fiscal_year_end_month; Text: kind description;
                Number: employees; Whole: founded; Text: lei]
        }
        Table::Listings => {
            columns![Text: symbol company_id mic isin currency; Number: shares_per_unit; Flag: primary; Date: listed_on delisted_on;
                Number: delisting_return]
        }
        Table::Statements => &STATEMENTS,
        Table::Prices => columns![Text: symbol; Date: date; Number: open high low close volume],
        Table::Actions => columns![Text: symbol; Date: ex_date; Text: kind; Number: ratio amount; Date: declared_on record_date pay_date],
        Table::Estimates => {
            columns![Text: company_id; Date: published_on; Text: metric; Whole: fiscal_year; Text: period; Number: mean low high analysts]
        }
        Table::InsiderTrades => {
            columns![Text: company_id filing_id; Date: filed_on traded_on; Text: insider_id insider_name role code; Flag: acquired;
                Number: shares price; Text: currency; Number: shares_after; Flag: direct planned; Date: superseded_on]
        }
        Table::Ownership => columns![Text: company_id; Date: as_of filed_on; Number: insiders controlling institutions pledged],
        Table::Rates => columns![Date: date; Text: currency series; Number: value],
        Table::Fx => columns![Date: date; Text: base quote; Number: rate],
        Table::Officers => columns![Text: company_id name role; Date: since until; Whole: birth_year],
        Table::Events => columns![Text: company_id; Date: date; Text: kind; Flag: confirmed; Date: announced_on],
        Table::News => columns![Text: company_id; Moment: published_at; Text: headline summary source],
        Table::Indexes => columns![Text: index_id name currency],
        Table::IndexMembers => columns![Text: index_id company_id; Date: from to],
        Table::IndexLevels => columns![Text: index_id; Date: date; Number: level],
        Table::Annotations => columns![Text: company_id kind name value; Date: noted_on],
    }
}

/// The columns without which a row of the table means nothing.
#[must_use]
pub fn required(table: Table) -> &'static [&'static str] {
    match table {
        Table::Companies => &["company_id", "name", "currency", "kind"],
        Table::Listings => &["symbol", "company_id", "currency"],
        Table::Statements => &["company_id", "fiscal_year", "period", "period_end", "filed_on", "currency"],
        Table::Prices => &["symbol", "date", "close"],
        Table::Actions => &["symbol", "ex_date", "kind"],
        Table::Estimates => &["company_id", "published_on", "metric", "mean"],
        Table::InsiderTrades => &["company_id", "filed_on", "traded_on", "insider_id", "code", "acquired", "shares", "currency"],
        Table::Ownership => &["company_id", "as_of", "filed_on"],
        Table::Rates => &["date", "currency", "series", "value"],
        Table::Fx => &["date", "base", "quote", "rate"],
        Table::Officers => &["company_id", "name", "role"],
        Table::Events => &["company_id", "date", "kind"],
        Table::News => &["published_at", "headline"],
        Table::Indexes => &["index_id", "name", "currency"],
        Table::IndexMembers => &["index_id", "company_id", "from"],
        Table::IndexLevels => &["index_id", "date", "level"],
        Table::Annotations => &["company_id", "kind", "value"],
    }
}
