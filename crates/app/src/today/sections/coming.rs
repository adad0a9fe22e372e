//! What is to come for companies that the person follows.

use super::super::{line::Line, page::Look};
use crate::figures::compact::six_digits;
use artemon_core::{
    domain::Day,
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

pub(crate) fn coming(look: &Look<'_>) -> Vec<ComingLine> {
    let all = today::coming(&look.ctx.engine, look.t(), DAYS, look.all.keys().copied());
    all.into_iter().map(|c| line(look, &c)).collect()
}

fn line(look: &Look<'_>, coming: &Coming) -> ComingLine {
    let c = look.now.as_of.company(coming.company);
    ComingLine {
        line: look.away.line("coming", &format!("{}/{}", c.company().id, coming.kind), &coming.date),
        date: coming.date,
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        what: event_words(coming.kind).to_owned(),
        amount: coming.amount.map(six_digits),
        currency: c.listing_currency().to_string(),
        expected: coming.confirmed == Some(false),
        why: look.why(coming.company),
    }
}
