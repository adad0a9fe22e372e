//! What one trade of an insider says beside its amount.

use crate::{
    Num, Why,
    domain::{Day, InsiderTrade},
    panel::CompanyAt,
    price,
};
use serde::Serialize;

/// Weekdays after which a filing is late.
const LATE_AFTER: u32 = 2;
/// As far under the yearly high counts as after a fall.
const FALLEN: f64 = 0.2;
/// Months without a purchase after which the next one is a first.
const FIRST_AFTER: i32 = 24;
/// Months in which purchases count as repeated.
const REPEATED_WITHIN: i32 = 12;

/// The signs of one trade.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TradeSigns {
    /// Shares ÷ shares held before, as a fraction, negative for a sale; `None` when that is not known or nothing was held.
    pub of_holding: Option<f64>,
    /// Nothing was held before.
    pub new_holding: bool,
    /// Price of the date ÷ price paid − 1, on one split basis and in the listing's currency.
    pub since: Option<f64>,
    /// Days from the trade to its filing.
    pub days_to_filing: i32,
    /// More than two of them weekdays.
    pub late: bool,
    /// A purchase: whether it is the first by this person in two years.
    pub first_in_two_years: Option<bool>,
    /// A purchase: whether the price was at least 20 % under the 52-week high of its day.
    pub after_a_fall: Option<bool>,
    /// A purchase: its place among those by this person within twelve months, from 1.
    pub purchase_of_year: Option<u32>,
}

/// The signs of a trade, from what was known at the company's date. Purchases on the open market, outside of a plan, are
/// compared with others of their kind.
#[must_use]
pub fn signs(c: &CompanyAt<'_>, trade: &InsiderTrade) -> TradeSigns {
    let bought = trade.is_purchase() && !trade.planned;
    let before = trade.shares_after.map(|after| if trade.acquired { after - trade.shares } else { after + trade.shares });
    let side = if trade.acquired { 1.0 } else { -1.0 };
    let order = |t: &InsiderTrade| (t.traded_on, t.filed_on);
    let up_to_it = |x: &&InsiderTrade| (order(x), &x.filing_id) <= (order(trade), &trade.filing_id);
    let place_within = |months: i32| {
        let begins = trade.traded_on.plus_months(-months);
        purchases_by_same(c, trade).filter(|x| x.traded_on > begins).filter(up_to_it).count()
    };
    TradeSigns {
        of_holding: before.filter(|b| *b > 0.0).map(|b| side * trade.shares / b),
        new_holding: before.is_some_and(|b| b <= 0.0),
        since: since(c, trade).ok(),
        days_to_filing: trade.filed_on.days_since(trade.traded_on),
        late: weekdays_between(trade.traded_on, trade.filed_on) > LATE_AFTER,
        first_in_two_years: bought.then(|| place_within(FIRST_AFTER) == 1),
        after_a_fall: fallen(c, trade.traded_on).ok().filter(|_| bought),
        purchase_of_year: bought.then(|| u32::try_from(place_within(REPEATED_WITHIN)).unwrap_or(u32::MAX)),
    }
}

/// Known purchases by the same person, of no plan.
fn purchases_by_same<'a>(c: &CompanyAt<'a>, trade: &'a InsiderTrade) -> impl Iterator<Item = &'a InsiderTrade> {
    c.insider_trades().filter(|x| x.is_purchase() && !x.planned && x.insider_id == trade.insider_id)
}

/// P ÷ price of the trade − 1. The trade's price is per ordinary share, as of its day.
fn since(c: &CompanyAt<'_>, trade: &InsiderTrade) -> Num {
    let price = trade.price.ok_or(Why::NoPrice)?;
    if price <= 0.0 {
        return Err(Why::NotPositive);
    }
    let rate = c.fx_on(trade.currency, c.listing_currency(), trade.traded_on)?;
    let paid = price * c.shares_per_unit() / c.splits_since(trade.traded_on) * rate;
    Ok(c.price()? / paid - 1.0)
}

fn fallen(c: &CompanyAt<'_>, day: Day) -> Result<bool, Why> {
    let then = c.at(day.min(c.t()));
    Ok(then.price()? <= (1.0 - FALLEN) * price::high_52w(&then)?)
}

/// Weekdays after `from`, up to and including `to`.
fn weekdays_between(from: Day, to: Day) -> u32 {
    // 1970-01-01 was a Thursday, the fourth day from Monday.
    let is_weekday = |d: i32| (d + 3).rem_euclid(7) < 5;
    let days = (from.epoch_days() + 1..=to.epoch_days()).take(3_660).filter(|d| is_weekday(*d)).count();
    u32::try_from(days).unwrap_or(u32::MAX)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_weekend_does_not_make_a_filing_late() {
        let day = |t: &str| t.parse::<Day>().unwrap();
        // Thursday to the Monday after: Friday and Monday.
        assert_eq!(weekdays_between(day("2024-06-13"), day("2024-06-17")), 2);
        assert_eq!(weekdays_between(day("2024-06-14"), day("2024-06-14")), 0);
        assert_eq!(weekdays_between(day("2024-06-10"), day("2024-06-14")), 4);
    }
}
