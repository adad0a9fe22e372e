//! The columns of each table, in the order in which they are written.

use artemon_core::domain::{Item, Table};
use std::sync::LazyLock;

/// The columns before the items of a statement.
pub(super) const STATEMENT_KEYS: [&str; 7] = ["company_id", "fiscal_year", "period", "period_end", "filed_on", "currency", "source"];

static STATEMENTS: LazyLock<Vec<&str>> = LazyLock::new(|| STATEMENT_KEYS.into_iter().chain(Item::ALL.iter().map(|i| i.code())).collect());

/// The columns of a table.
pub(super) fn columns(table: Table) -> &'static [&'static str] {
    match table {
        Table::Companies => &[
            "company_id",
            "name",
            "country",
            "sector",
            "industry",
            "currency",
            "fiscal_year_end_month",
            "kind",
            "description",
            "employees",
            "founded",
            "lei",
        ],
        Table::Listings => &[
            "symbol",
            "company_id",
            "mic",
            "isin",
            "currency",
            "shares_per_unit",
            "primary",
            "listed_on",
            "delisted_on",
            "delisting_return",
        ],
        Table::Statements => &STATEMENTS,
        Table::Prices => &["symbol", "date", "open", "high", "low", "close", "volume"],
        Table::Actions => &["symbol", "ex_date", "kind", "ratio", "amount", "declared_on", "record_date", "pay_date"],
        Table::Estimates => &["company_id", "published_on", "metric", "fiscal_year", "period", "mean", "low", "high", "analysts"],
        Table::InsiderTrades => &[
            "company_id",
            "filing_id",
            "filed_on",
            "traded_on",
            "insider_id",
            "insider_name",
            "role",
            "code",
            "acquired",
            "shares",
            "price",
            "currency",
            "shares_after",
            "direct",
            "planned",
        ],
        Table::Ownership => &["company_id", "as_of", "filed_on", "insiders", "controlling", "institutions", "pledged"],
        Table::Rates => &["date", "currency", "series", "value"],
        Table::Fx => &["date", "base", "quote", "rate"],
    }
}

/// The columns without which a row of the table means nothing.
pub(super) fn required(table: Table) -> &'static [&'static str] {
    match table {
        Table::Companies => &["company_id", "name", "currency", "kind"],
        Table::Listings => &["symbol", "company_id", "currency"],
        Table::Statements => &STATEMENT_KEYS[..6],
        Table::Prices => columns(table),
        Table::Actions => &["symbol", "ex_date", "kind"],
        Table::Estimates => &["company_id", "published_on", "metric", "mean"],
        Table::InsiderTrades => {
            &["company_id", "filed_on", "traded_on", "insider_id", "role", "code", "acquired", "shares", "price", "currency"]
        }
        Table::Ownership => &["company_id", "as_of", "filed_on"],
        Table::Rates => &["date", "currency", "series", "value"],
        Table::Fx => &["date", "base", "quote", "rate"],
    }
}
