//! What was held on any day.

use super::{
    calendar::Calendar,
    document::Backtest,
    outcome::{Outcome, PickOutcome},
    priced::Prices,
};
use crate::{
    domain::Day,
    engine::{Context, Settings},
};
use serde::{Deserialize, Serialize};

/// The account at the close of a day.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct HoldingsAt {
    /// The session.
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub date: Day,
    pub cash: f64,
    /// In order of symbol.
    pub holdings: Vec<HeldThen>,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct HeldThen {
    pub symbol: String,
    /// Traded units of that day for the 1 that the backtest begins with, in the base currency.
    pub shares: f64,
    pub value: f64,
}

/// What was held at the close of a day, or of the last session before it: it follows from the picks. Before the first session it is
/// that of the first.
#[must_use]
pub fn holdings_at(context: &Context, settings: &Backtest, outcome: &Outcome, day: Day) -> HoldingsAt {
    let context = context.with(Settings { base: settings.base, ..context.settings().clone() });
    let calendar = Calendar { sessions: outcome.daily.dates.clone(), rebalances: Vec::new() };
    let session = calendar.sessions.partition_point(|s| *s <= day).saturating_sub(1);
    let date = calendar.sessions[session];
    let is_held = |p: &&PickOutcome| p.from <= date && (date < p.to || p.to == date && p.ended_by == super::Reason::End);
    let held = outcome.picks.iter().filter(is_held).filter_map(|p| Some((context.snapshot().find(&p.symbol)?, p)));
    let held: Vec<(u32, &PickOutcome)> = held.collect();
    let prices = Prices::new(context.as_of(outcome.last), &calendar, &held.iter().map(|h| h.0).collect::<Vec<_>>());
    let one = |(company, pick): &(u32, &PickOutcome)| {
        let priced = prices.of(*company)?;
        let value = pick.start * priced.unit(session) / priced.unit(calendar.on_or_after(pick.from));
        let shares = value / (prices.seen(*company, session) * prices.rate(*company, session)?);
        Some(HeldThen { symbol: pick.symbol.clone(), shares, value })
    };
    let mut holdings: Vec<HeldThen> = held.iter().filter_map(one).collect();
    holdings.sort_by(|a, b| a.symbol.cmp(&b.symbol));
    let cash = outcome.daily.value[session] - holdings.iter().map(|h| h.value).sum::<f64>();
    HoldingsAt { date, cash, holdings }
}
