//! What a share brought between two days.

use crate::{
    Num, Why,
    domain::{Day, Kind},
    panel::{AsOf, CompanyAt},
};
use rayon::prelude::*;

/// Price and dividends of a share from the date to a later day over its price at the date, less one: dividends are not put back
/// into shares, and of one that left the exchange the last price counts with its return on leaving.
///
/// Bought at 50, split two for one, 1 paid after the split, 30 at the end: (30 + 1) ÷ (50 ÷ 2) − 1 = 24 %.
///
/// # Errors
/// Without a price on either day or dividends.
pub fn total_return(c: &CompanyAt<'_>, to: Day) -> Num {
    let paid: f64 = c.at(to).dividends()?.filter(|d| d.ex_date > c.t()).map(|d| d.amount).sum();
    returned(c, to, paid)
}

/// The same without dividends.
///
/// # Errors
/// Without a price on either day.
pub fn price_return(c: &CompanyAt<'_>, to: Day) -> Num {
    returned(c, to, 0.0)
}

fn returned(c: &CompanyAt<'_>, to: Day, paid: f64) -> Num {
    let then = c.at(to);
    let start = c.price()? / then.splits_since(c.t());
    let end = then.price()? * (1.0 + on_leaving(c, to));
    if start > 0.0 { Ok((end + paid) / start - 1.0) } else { Err(Why::NotPositive) }
}

/// What the last price of a share became that had left the exchange by a day, as a return; 0 of others.
fn on_leaving(c: &CompanyAt<'_>, by: Day) -> f64 {
    c.listing().filter(|l| l.delisted_on.is_some_and(|d| d <= by)).and_then(|l| l.delisting_return).unwrap_or(0.0)
}

/// The mean [`price_return`] of all companies but funds over so many months, from each day of a calendar month on.
#[derive(Debug)]
pub struct MarketReturns(Vec<Option<f64>>);

impl MarketReturns {
    /// From the days of the month of `day`; those count that are in the universe of the day.
    #[must_use]
    pub fn of_month(as_of: AsOf<'_>, day: Day, months: i32) -> MarketReturns {
        let first = day.month_start();
        let days: Vec<(Day, Day)> =
            (0..=day.month_end().days_since(first)).map(|i| first.plus_days(i)).map(|d| (d, d.plus_months(months))).collect();
        let last = as_of.at(day.month_end().plus_months(months));
        let all = last.companies().filter(|c| c.kind() != Kind::Fund).collect::<Vec<_>>();
        let none = || vec![(0.0, 0_u32); days.len()];
        let sums = all.par_iter().with_min_len(256).fold(none, |sums, c| added(sums, c, &days));
        let sums = sums.reduce(none, |a, b| a.iter().zip(b).map(|(a, b)| (a.0 + b.0, a.1 + b.1)).collect());
        MarketReturns(sums.into_iter().map(|(sum, n)| (n > 0).then(|| sum / f64::from(n))).collect())
    }

    /// From a day of the month on; `None` where nothing was listed.
    #[must_use]
    pub fn since(&self, day: Day) -> Option<f64> {
        self.0.get(usize::try_from(day.days_since(day.month_start())).ok()?).copied()?
    }

    /// Roughly the memory it takes, in bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        size_of_val(&*self.0)
    }
}

/// Adds the returns of a company between the pairs of days, each later than the one before.
fn added(mut sums: Vec<(f64, u32)>, c: &CompanyAt<'_>, days: &[(Day, Day)]) -> Vec<(f64, u32)> {
    let bars = c.bars();
    let dates = bars.dates();
    let known = |from: usize, day: Day| from + dates[from..].iter().take_while(|d| **d <= day).count();
    let Some((mut from, mut to)) = days.first().map(|(from, to)| (bars.upto(*from), bars.upto(*to))) else { return sums };
    for (sum, (start, end)) in sums.iter_mut().zip(days) {
        (from, to) = (known(from, *start), known(to, *end));
        if from > 0 && c.is_in_universe_of(*start, dates[from - 1]) {
            let paid = bars.close(from - 1);
            if paid > 0.0 {
                *sum = (sum.0 + bars.close(to - 1) * (1.0 + on_leaving(c, *end)) / paid - 1.0, sum.1 + 1);
            }
        }
    }
    sums
}
