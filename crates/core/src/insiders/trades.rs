//! What one trade of an insider says beside its amount.

use crate::{
    Num, Why,
    domain::{Day, InsiderTrade, Span},
    panel::CompanyAt,
    price,
};
use serde::Serialize;

/// Weekdays after which a filing is late.
const LATE_AFTER: u32 = 2;
/// As far under the yearly high counts as after a fall.
const FALLEN: f64 = 0.2;
/// Without a purchase for so long, the next one is a first.
const FIRST_AFTER: Span = Span::years(2);
/// Months in which purchases count as repeated.
const REPEATED_WITHIN: i32 = 12;

/// The signs of one trade.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TradeSigns {
    /// Shares ÷ shares held before, as a fraction; `None` when that is not known or nothing was held.
    pub of_holding: Option<f64>,
    /// Nothing was held before.
    pub new_holding: bool,
    /// Price of the date ÷ price paid − 1, on one split basis and in the listing's currency.
    pub since: Option<f64>,
    /// Weekdays from the trade to its filing.
    pub weekdays_to_filing: u32,
    /// More than two of them.
    pub late: bool,
    /// The first purchase by this person in two years.
    pub first_in_two_years: bool,
    /// A purchase at least 20 % under the 52-week high of its day.
    pub after_a_fall: bool,
    /// Which purchase by this person within twelve months it is, 1 the first; 0 for other trades.
    pub purchase_of_year: u32,
}

/// The signs of a trade, from what was known at the company's date.
#[must_use]
pub fn signs(c: &CompanyAt<'_>, trade: &InsiderTrade) -> TradeSigns {
    let before = trade.shares_after.map(|after| if trade.acquired { after - trade.shares } else { after + trade.shares });
    let bought = trade.is_purchase();
    let by_same = |x: &&InsiderTrade| x.is_purchase() && x.insider_id == trade.insider_id;
    let earlier =
        |from: Day| c.insider_trades().iter().filter(by_same).filter(move |x| x.traded_on > from && x.traded_on <= trade.traded_on);
    let weekdays = weekdays_between(trade.traded_on, trade.filed_on);
    TradeSigns {
        of_holding: before.filter(|b| *b > 0.0).map(|b| trade.shares / b),
        new_holding: before.is_some_and(|b| b <= 0.0),
        since: since(c, trade).ok(),
        weekdays_to_filing: weekdays,
        late: weekdays > LATE_AFTER,
        first_in_two_years: bought && earlier(trade.traded_on.minus(FIRST_AFTER)).all(|x| x.traded_on == trade.traded_on),
        after_a_fall: bought && fallen(c, trade.traded_on).unwrap_or(false),
        purchase_of_year: if bought {
            u32::try_from(earlier(trade.traded_on.plus_months(-REPEATED_WITHIN)).count()).unwrap_or(u32::MAX)
        } else {
            0
        },
    }
}

/// P ÷ price of the trade − 1. The trade's price is per ordinary share, as of its day.
fn since(c: &CompanyAt<'_>, trade: &InsiderTrade) -> Num {
    if trade.price <= 0.0 {
        return Err(Why::NotPositive);
    }
    let rate = c.fx_on(trade.currency, c.listing_currency(), trade.traded_on)?;
    let paid = trade.price * c.shares_per_unit() / c.splits_since(trade.traded_on) * rate;
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
