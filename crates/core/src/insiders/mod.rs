//! Insiders' open-market trades and stakes.
//!
//! A trade counts from its filing. Grants, exercises, withholding, gifts and planned trades are no conviction and are
//! left out of every measure here.

mod followed;
mod trades;

pub use followed::{Followed, followed};
pub use trades::{TradeSigns, signs};

use crate::{
    Num, Why,
    domain::{Currency, Day, InsiderTrade, Role},
    formula::Args,
    panel::{CompanyAt, OpenTrade, OwnershipRow},
    price,
};
use serde::Serialize;
use std::collections::HashSet;

/// Days over which a cluster must have happened.
const CLUSTER_WITHIN: i32 = 90;
/// Days before a purchase, its own day left out, in which the others of its cluster lie.
const CLUSTER_DAYS: i32 = 29;
/// Distinct buyers that make a cluster.
const CLUSTER_BUYERS: f64 = 3.0;
/// Days of grace when looking for the row a number of quarters earlier.
const QUARTER_SLACK: i32 = 15;

/// Open-market trades of (t − months, t] by day of trade; undefined when the company has no trade at all.
fn window<'a>(c: &CompanyAt<'a>, months: u32) -> Result<impl Iterator<Item = &'a OpenTrade>, Why> {
    if !c.has_insider_trades() {
        return Err(Why::NoInsiderData);
    }
    Ok(c.open_trades(c.t().plus_months(-months.cast_signed())))
}

/// Shares × price: put into the listing's currency at the rate of the day of trade, then into the base currency at the
/// rate of the date, as all amounts are.
pub fn amount(c: &CompanyAt<'_>, trade: &InsiderTrade) -> Num {
    in_base(c, trade.amount().ok_or(Why::NoPrice)?, trade.currency, trade.traded_on)
}

fn in_base(c: &CompanyAt<'_>, amount: f64, currency: Currency, day: Day) -> Num {
    Ok(amount * c.fx_on(currency, c.listing_currency(), day)? * c.listing_to_base()?)
}

/// What a trade adds to a sum: nothing where its price is not known.
fn worth(c: &CompanyAt<'_>, trade: &OpenTrade) -> Num {
    trade.amount.map_or(Ok(0.0), |amount| in_base(c, amount, trade.currency, trade.traded_on))
}

/// Σ purchases − Σ sales, in the base currency.
pub(crate) fn net_buying(c: &CompanyAt<'_>, args: &Args) -> Num {
    let signed = |x: &OpenTrade| Ok(if x.bought { worth(c, x)? } else { -worth(c, x)? });
    window(c, args.count)?.try_fold(0.0, |sum, x| Ok(sum + signed(x)?))
}

/// Net buying ÷ market value.
pub(crate) fn net_buying_ratio(c: &CompanyAt<'_>, args: &Args) -> Num {
    Ok(net_buying(c, args)? / price::market_cap(c, args)?)
}

/// Purchases by chief executive and chief of finance, in the base currency.
pub(crate) fn executive_buying(c: &CompanyAt<'_>, args: &Args) -> Num {
    let by_chief = |x: &&OpenTrade| x.bought && x.role.is_some_and(Role::is_chief);
    window(c, args.count)?.filter(by_chief).try_fold(0.0, |sum, x| Ok(sum + worth(c, x)?))
}

pub(crate) fn buyers(c: &CompanyAt<'_>, args: &Args) -> Num {
    Ok(distinct(window(c, args.count)?.filter(|x| x.bought)))
}

pub(crate) fn sellers(c: &CompanyAt<'_>, args: &Args) -> Num {
    Ok(distinct(window(c, args.count)?.filter(|x| !x.bought)))
}

#[allow(clippy::cast_precision_loss)]
fn distinct<'a>(trades: impl Iterator<Item = &'a OpenTrade>) -> f64 {
    trades.map(|x| x.insider).collect::<HashSet<_>>().len() as f64
}

/// Some purchase day d in (t − 90 days, t] has at least three distinct buyers in [d − 29 days, d].
pub(crate) fn cluster(c: &CompanyAt<'_>, _: &Args) -> Result<bool, Why> {
    if !c.has_insider_trades() {
        return Err(Why::NoInsiderData);
    }
    let begins = c.t().plus_days(-CLUSTER_WITHIN);
    let bought = purchases(c, begins.plus_days(-CLUSTER_DAYS));
    Ok(bought.iter().map(|x| x.traded_on).filter(|d| *d > begins).any(|d| is_clustered(&bought, d)))
}

fn purchases<'a>(c: &CompanyAt<'a>, after: Day) -> Vec<&'a OpenTrade> {
    c.open_trades(after).filter(|x| x.bought).collect()
}

/// Those of the days up to `d` that may be of one cluster with it.
fn near<'a, 'b>(bought: &'b [&'a OpenTrade], d: Day) -> impl Iterator<Item = &'a OpenTrade> + 'b {
    bought.iter().filter(move |x| x.traded_on <= d && x.traded_on >= d.plus_days(-CLUSTER_DAYS)).copied()
}

fn is_clustered(bought: &[&OpenTrade], d: Day) -> bool {
    distinct(near(bought, d)) >= CLUSTER_BUYERS
}

/// Purchases of several insiders close to each other.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Cluster {
    /// The first purchase.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub from: Day,
    /// The last one.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub to: Day,
    /// Distinct buyers.
    pub buyers: usize,
}

/// The clusters of all purchases, oldest first: days with at least three distinct buyers in the 30 days up to them, joined where they
/// share a purchase.
#[must_use]
pub fn clusters(c: &CompanyAt<'_>) -> Vec<Cluster> {
    let mut bought = purchases(c, Day::MIN);
    bought.sort_by_key(|x| x.traded_on);
    let mut spans: Vec<(Day, Day)> = Vec::new();
    for day in bought.iter().map(|x| x.traded_on).filter(|d| is_clustered(&bought, *d)) {
        let from = near(&bought, day).map(|x| x.traded_on).min().unwrap_or(day);
        match spans.last_mut() {
            Some(last) if from <= last.1 => last.1 = day,
            _ => spans.push((from, day)),
        }
    }
    let buyers = |(from, to): (Day, Day)| {
        let of_span = bought.iter().filter(|x| x.traded_on >= from && x.traded_on <= to);
        Cluster { from, to, buyers: of_span.map(|x| x.insider).collect::<HashSet<_>>().len() }
    };
    spans.into_iter().map(buyers).collect()
}

/// Days since the newest purchase.
pub(crate) fn buy_days(c: &CompanyAt<'_>, _: &Args) -> Num {
    if !c.has_insider_trades() {
        return Err(Why::NoInsiderData);
    }
    let newest = c.open_trades(Day::MIN).filter(|x| x.bought).map(|x| x.traded_on).max();
    newest.map(|d| f64::from(c.t().days_since(d))).ok_or(Why::HistoryTooShort)
}

/// A stake of the newest known ownership row.
pub(crate) fn newest_stake(c: &CompanyAt<'_>, stake: fn(&OwnershipRow) -> Option<f64>) -> Num {
    c.ownership().next_back().and_then(|o| stake(&o)).ok_or(Why::NoOwnership)
}

/// The newest insiders' stake less that of the newest row at least the quarters earlier (15 days of grace).
pub(crate) fn stake_change(c: &CompanyAt<'_>, args: &Args) -> Num {
    let newest = c.ownership().next_back().ok_or(Why::NoOwnership)?;
    let limit = newest.as_of.plus_months(-3 * args.count.cast_signed()).plus_days(QUARTER_SLACK);
    let earlier = c.ownership().rfind(|o| o.as_of <= limit).ok_or(Why::HistoryTooShort)?;
    Ok(newest.insiders.ok_or(Why::NoOwnership)? - earlier.insiders.ok_or(Why::NoOwnership)?)
}

/// How many of the newest quarters in a row, each against the newest row at least a quarter earlier (15 days of grace),
/// raised the insiders' stake.
pub(crate) fn rising_quarters(c: &CompanyAt<'_>, _: &Args) -> Num {
    let rows: Vec<OwnershipRow> = c.ownership().collect();
    let mut newest = rows.last().ok_or(Why::NoOwnership)?;
    newest.insiders.ok_or(Why::NoOwnership)?;
    let mut count = 0.0;
    loop {
        let limit = newest.as_of.plus_months(-3).plus_days(QUARTER_SLACK);
        let Some(earlier) = rows.iter().rfind(|o| o.as_of <= limit) else { return Ok(count) };
        if newest.insiders.zip(earlier.insiders).is_none_or(|(now, before)| now <= before) {
            return Ok(count);
        }
        count += 1.0;
        newest = earlier;
    }
}

/// Years (of 365.25 days) since the chief executive in office took it.
pub(crate) fn chief_tenure(c: &CompanyAt<'_>, _: &Args) -> Num {
    c.chief_since().map(|d| f64::from(c.t().days_since(d)) / 365.25).ok_or(Why::NoOfficer)
}
