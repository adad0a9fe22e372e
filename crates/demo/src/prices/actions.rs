//! What companies do to their shares: splits, dividends, a second class; and offers for all of them.

use super::{Offer, Paid, Traded, tick};
use crate::{
    character::{Character, Ending, Reporting},
    economy::rounded,
    quarter::Quarter,
    random::Chance,
};
use artemon_core::domain::{Action, Bar, Day, Record};

/// A price above which shares are split, and below which they are put together.
const SPLIT_ABOVE: f64 = 180.0;
const MERGE_BELOW: f64 = 0.6;
/// Days between the offer for all shares and the end of trading.
const OFFER_DAYS: i32 = 75;

/// The price of a company for which an offer stands: a hair under the offer. The offer is made on the first session on
/// which it is due.
pub(super) fn offered(c: &Character, date: Day, price: f64, out: &mut Traded, x: &mut Chance) -> Option<f64> {
    let (end, _) = c.delisted.filter(|d| d.1 == Ending::Takeover)?;
    if end.days_since(date) > OFFER_DAYS {
        return None;
    }
    let offer = out.offer.unwrap_or_else(|| {
        let premium = x.between(0.22, 0.45);
        Offer { made_on: date, price: rounded(price * (1.0 + premium), 2).max(0.01), premium }
    });
    out.offer = Some(offer);
    Some(offer.price * (1.0 - 0.004 * x.normal().abs()))
}

pub(super) fn split_due(price: f64, date: Day, x: &mut Chance) -> Option<f64> {
    if date.epoch_days() % 5 != 0 {
        return None;
    }
    if price > SPLIT_ABOVE && x.happens(0.05) {
        return Some([2.0, 3.0, 5.0][x.below(3)]);
    }
    (price < MERGE_BELOW && x.happens(0.05)).then_some(0.1)
}

/// Dividends go ex in the second month after each period.
pub(super) fn pay(c: &Character, books: &[Quarter], q: usize, date: Day, split: f64, out: &mut Traded) {
    let months: &[u32] = match c.reporting {
        Reporting::Quarterly => &[2, 5, 8, 11],
        Reporting::HalfYearly => &[3, 9],
        Reporting::Yearly => &[5],
    };
    let month = u32::try_from(date.month_index().rem_euclid(12)).unwrap_or(0) + 1;
    let mid_month = date.days_since(date.plus_months(-1).month_end());
    let first_after = (10..=14).contains(&mid_month) && out.dividends.last().is_none_or(|d| date.days_since(d.ex_date) > 25);
    if !months.contains(&month) || !first_after || q < 5 {
        return;
    }
    let back = 4 / months.len();
    let sum = |of: fn(&Quarter) -> f64| (1..=back).map(|i| of(&books[q - i]) / books[q - i].shares).sum::<f64>();
    for (paid, special) in [(sum(|b| b.dividends), false), (sum(|b| b.special), true)] {
        let amount = rounded(paid / split, 4);
        if amount > 0.0 {
            out.dividends.push(Paid { ex_date: date, amount, special });
        }
    }
}

/// What happens to shares of the second class: the same as to the first, at prices that are lower for the missing votes.
pub(super) fn second_class(c: &Character, first: &[Record]) -> Vec<Record> {
    let mut x = Chance::new(c.seed, c.index, 32);
    let mut lower = -0.06;
    let mut of_second = |row: &Record| match row {
        Record::Price { bar, .. } => {
            lower += -0.01 * (lower + 0.06) + 0.002 * x.normal();
            let at = |p: f64| tick(p * f64::exp(lower.min(0.0)));
            let [open, high, low, close] = [bar.open, bar.high, bar.low, bar.close].map(at);
            Record::Price { symbol: c.second_symbol(), bar: Bar { open, high, low, close, volume: (bar.volume * 0.2).round(), ..*bar } }
        }
        Record::Action(action) => Record::Action(Action { symbol: c.second_symbol(), ..action.clone() }),
        other => other.clone(),
    };
    first.iter().map(&mut of_second).collect()
}
