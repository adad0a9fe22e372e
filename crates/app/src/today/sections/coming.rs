//! What is to come for companies that the person follows.

use super::super::{line::Line, look::Look};
use crate::{
    AppError,
    figures::compact::six_digits,
    ledger::{OwnDate, own_dates},
};
use artemon_core::{
    domain::Day,
    panel::CompanyIndex,
    today::{self, Coming, event_words},
};
use serde::Serialize;
use utoipa::ToSchema;

/// Days ahead.
const DAYS: i32 = 14;

/// A date ahead.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ComingLine {
    #[serde(flatten)]
    pub line: Line,
    #[schema(value_type = String)]
    pub date: Day,
    pub symbol: String,
    pub name: String,
    /// What, in words.
    pub what: String,
    /// Of a dividend: a traded unit, in `currency`.
    pub amount: Option<f64>,
    pub currency: String,
    /// Whether the date is only expected.
    pub expected: bool,
    /// Why the company is followed.
    pub why: String,
}

pub(crate) fn coming(look: &Look<'_>) -> Result<Vec<ComingLine>, AppError> {
    let all = today::coming(&look.ctx.engine, look.t(), DAYS, look.all.keys().copied());
    let own = own_dates(look.ctx, look.t(), DAYS)?;
    let mut all: Vec<ComingLine> = all.into_iter().map(|c| line(look, &c)).chain(own.into_iter().map(|d| own_line(look, d))).collect();
    all.sort_by_key(|l| l.date);
    Ok(all)
}

fn own_line(look: &Look<'_>, own: OwnDate) -> ComingLine {
    ComingLine { why: "your ledger".to_owned(), ..dated(look, own.company, &own.what.clone(), own.date, own.what) }
}

fn line(look: &Look<'_>, coming: &Coming) -> ComingLine {
    ComingLine {
        amount: coming.amount.map(six_digits),
        expected: coming.confirmed == Some(false),
        ..dated(look, coming.company, &coming.kind.to_string(), coming.date, event_words(coming.kind).to_owned())
    }
}

/// A date of a company; `key` tells it from its others.
fn dated(look: &Look<'_>, company: CompanyIndex, key: &str, date: Day, what: String) -> ComingLine {
    let c = look.now.as_of.company(company);
    ComingLine {
        line: look.away.line("coming", &format!("{}/{key}", c.company().id), &date),
        date,
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        what,
        amount: None,
        currency: c.listing_currency().to_string(),
        expected: false,
        why: look.why(company),
    }
}
