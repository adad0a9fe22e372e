//! What happened to a company, day by day: a lane each for insiders, results, dividends with splits, and news.

use super::super::trades::{role, what_happened};
use crate::{Ctx, figures::compact::six_digits};
use artemon_core::{
    domain::{Day, InsiderTrade, Metric},
    estimates, insiders,
    panel::CompanyAt,
    price,
    wording::figures::{amount, percent},
};
use serde::Serialize;
use utoipa::ToSchema;

/// Quarters of results that are looked at.
const QUARTERS: u32 = 80;

/// What sort of thing happened.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Lane {
    /// A purchase or sale on the open market.
    Insiders,
    /// Results of a quarter.
    Results,
    /// A dividend or a split.
    Dividends,
    /// A headline.
    News,
}

/// Something that happened.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LogEntry {
    /// On which day.
    #[schema(value_type = String)]
    pub date: Day,
    /// In which lane it is told.
    pub lane: Lane,
    /// How much, with its side: for insiders the amount in the base currency, negative for sales; for results the surprise, as a
    /// fraction; for dividends the amount a share, for a split the shares for one; for news the change of the price in the session
    /// that could answer it.
    pub size: Option<f64>,
    /// In words.
    pub text: String,
    /// For news: the first session that could answer it.
    #[schema(value_type = Option<String>)]
    pub session: Option<Day>,
}

/// All that happened from a day on, oldest first; from when prices are known.
pub(super) fn log(ctx: &Ctx, c: &CompanyAt<'_>, from: Option<Day>) -> Vec<LogEntry> {
    let Some(from) = from else { return Vec::new() };
    let base = ctx.settings().base.to_string();
    let mut all: Vec<LogEntry> = trades(c, &base).chain(results(c)).chain(paid(c)).chain(news(c)).filter(|e| e.date >= from).collect();
    all.sort_by_key(|e| e.date);
    all
}

fn trades(c: &CompanyAt<'_>, base: &str) -> impl Iterator<Item = LogEntry> {
    let entry = move |t: &InsiderTrade| {
        let worth = insiders::amount(c, t).ok().map(six_digits);
        let who = [t.insider_name.to_string(), role(t)].into_iter().filter(|part| !part.is_empty()).collect::<Vec<_>>().join(", ");
        let sum = worth.map(|w| format!(", {w:.0} {base}")).unwrap_or_default();
        let price = t.price.map(|price| format!(" at {} {}", amount(price), t.currency)).unwrap_or_default();
        let text = format!("{who}, {} {:.0}{price}{sum}", what_happened(t), t.shares);
        LogEntry { date: t.traded_on, lane: Lane::Insiders, size: worth.map(|w| if t.acquired { w } else { -w }), text, session: None }
    };
    c.insider_trades().filter(|t| t.is_purchase() || t.is_sale()).map(entry)
}

fn results(c: &CompanyAt<'_>) -> impl Iterator<Item = LogEntry> {
    let entry = move |k: u32| {
        let (year, quarter) = c.quarter_back(k).ok()?;
        let s = estimates::surprise(c, Metric::Eps, k).ok()?;
        let rate = (s.expected != 0.0).then(|| (s.reported - s.expected) / s.expected.abs());
        let against = match rate {
            Some(r) if r > 0.0005 => format!(", {} above what was expected", percent(r)),
            Some(r) if r < -0.0005 => format!(", {} below what was expected", percent(-r)),
            _ => ", as expected".to_owned(),
        };
        let text = format!("Q{quarter} {year}: {} {} a share{against}", amount(s.reported), c.reporting_currency());
        Some(LogEntry { date: s.announced, lane: Lane::Results, size: rate.map(six_digits), text, session: None })
    };
    (0..QUARTERS).filter_map(entry)
}

fn paid(c: &CompanyAt<'_>) -> impl Iterator<Item = LogEntry> {
    let currency = c.listing_currency();
    let dividend = move |d: artemon_core::panel::Dividend| {
        let kind = if d.special { "Special dividend" } else { "Dividend" };
        let text = format!("{kind} of {} {currency} a share", amount(d.amount));
        LogEntry { date: d.ex_date, lane: Lane::Dividends, size: Some(six_digits(d.amount)), text, session: None }
    };
    let split = |(date, ratio): (Day, f64)| {
        let text = if ratio >= 1.0 { format!("Split: {ratio} shares for one") } else { format!("Split: one share for {}", 1.0 / ratio) };
        LogEntry { date, lane: Lane::Dividends, size: Some(ratio), text, session: None }
    };
    let dividends: Vec<LogEntry> = c.dividends().map(|all| all.map(dividend).collect()).unwrap_or_default();
    dividends.into_iter().chain(c.splits().map(split))
}

fn news(c: &CompanyAt<'_>) -> impl Iterator<Item = LogEntry> {
    let entry = move |n: &artemon_core::domain::News| {
        let date = n.published_on()?;
        let session = price::session_after(c, date);
        let change = session.and_then(|session| price::session_change(c, session));
        let text = format!("{} ({})", n.headline, n.source);
        Some(LogEntry { date, lane: Lane::News, size: change.map(six_digits), text, session })
    };
    c.news().filter_map(entry)
}
