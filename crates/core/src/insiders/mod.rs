//! Insiders' open-market trades and stakes.
//!
//! A trade counts from its filing. Grants, exercises, withholding, gifts and planned trades are no conviction and are
//! left out of every measure here.

mod trades;

pub use trades::{TradeSigns, signs};

use crate::{
    Num, Why,
    domain::{Day, InsiderTrade, Role},
    formula::Args,
    panel::{CompanyAt, OwnershipRow},
    price,
};
use std::collections::HashSet;

/// Days over which a cluster must have happened.
const CLUSTER_WITHIN: i32 = 90;
/// Days before a purchase, its own day left out, in which the others of its cluster lie.
const CLUSTER_DAYS: i32 = 29;
/// Distinct buyers that make a cluster.
const CLUSTER_BUYERS: usize = 3;
/// Days of grace when looking for the row a number of quarters earlier.
const QUARTER_SLACK: i32 = 15;

/// Whether the trade is an open-market purchase (code P, acquired).
#[must_use]
pub fn is_purchase(trade: &InsiderTrade) -> bool {
    trade.acquired && &*trade.code == "P"
}

/// Whether the trade is an open-market sale (code S, disposed of).
#[must_use]
pub fn is_sale(trade: &InsiderTrade) -> bool {
    !trade.acquired && &*trade.code == "S"
}

/// Trades of (t − months, t] by day of trade, planned ones left out; undefined when the company has none at all.
fn window<'a>(c: &CompanyAt<'a>, months: u32) -> Result<impl Iterator<Item = &'a InsiderTrade>, Why> {
    if c.insider_trades().is_empty() {
        return Err(Why::NoInsiderData);
    }
    let t = c.t();
    Ok(c.insider_trades_after(t.plus_months(-months.cast_signed())).filter(move |x| x.traded_on <= t && !x.planned))
}

/// Shares × price: put into the listing's currency at the rate of the day of trade, then into the base currency at the
/// rate of the date, as all amounts are.
pub fn amount(c: &CompanyAt<'_>, trade: &InsiderTrade) -> Num {
    let then = c.fx_on(trade.currency, c.listing_currency(), trade.traded_on)?;
    Ok(trade.shares * trade.price * then * c.listing_to_base()?)
}

/// Σ purchases − Σ sales, in the base currency.
pub(crate) fn net_buying(c: &CompanyAt<'_>, args: &Args) -> Num {
    window(c, args.count)?.try_fold(0.0, |sum, x| {
        Ok(match (is_purchase(x), is_sale(x)) {
            (true, _) => sum + amount(c, x)?,
            (_, true) => sum - amount(c, x)?,
            _ => sum,
        })
    })
}

/// Net buying ÷ market value.
pub(crate) fn net_buying_ratio(c: &CompanyAt<'_>, args: &Args) -> Num {
    Ok(net_buying(c, args)? / price::market_cap(c, args)?)
}

/// Purchases by chief executive and chief of finance, in the base currency.
pub(crate) fn executive_buying(c: &CompanyAt<'_>, args: &Args) -> Num {
    let chief = |x: &&InsiderTrade| matches!(x.role, Role::ChiefExecutive | Role::ChiefFinancial);
    window(c, args.count)?.filter(chief).filter(|x| is_purchase(x)).try_fold(0.0, |sum, x| Ok(sum + amount(c, x)?))
}

pub(crate) fn buyers(c: &CompanyAt<'_>, args: &Args) -> Num {
    Ok(distinct(window(c, args.count)?.filter(|x| is_purchase(x))))
}

pub(crate) fn sellers(c: &CompanyAt<'_>, args: &Args) -> Num {
    Ok(distinct(window(c, args.count)?.filter(|x| is_sale(x))))
}

#[allow(clippy::cast_precision_loss)]
fn distinct<'a>(trades: impl Iterator<Item = &'a InsiderTrade>) -> f64 {
    trades.map(|x| &x.insider_id).collect::<HashSet<_>>().len() as f64
}

/// Some purchase day d in (t − 90 days, t] has at least three distinct buyers in [d − 29 days, d].
pub(crate) fn cluster(c: &CompanyAt<'_>, _: &Args) -> Result<bool, Why> {
    if c.insider_trades().is_empty() {
        return Err(Why::NoInsiderData);
    }
    let t = c.t();
    let bought: Vec<_> = c.insider_trades().iter().filter(|x| is_purchase(x) && !x.planned && x.traded_on <= t).collect();
    let clustered = |d: Day| {
        let near = bought.iter().filter(|x| x.traded_on <= d && x.traded_on >= d.plus_days(-CLUSTER_DAYS));
        near.map(|x| &x.insider_id).collect::<HashSet<_>>().len() >= CLUSTER_BUYERS
    };
    Ok(bought.iter().map(|x| x.traded_on).filter(|d| *d > t.plus_days(-CLUSTER_WITHIN)).any(clustered))
}

/// Days since the newest purchase.
pub(crate) fn buy_days(c: &CompanyAt<'_>, _: &Args) -> Num {
    let trades = c.insider_trades();
    if trades.is_empty() {
        return Err(Why::NoInsiderData);
    }
    let newest = trades.iter().filter(|x| is_purchase(x) && !x.planned).map(|x| x.traded_on).max();
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
