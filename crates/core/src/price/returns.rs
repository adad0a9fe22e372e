//! What a share brought between two days.

use crate::{Num, Why, domain::Day, panel::CompanyAt};

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
    let left = c.listing().filter(|l| l.delisted_on.is_some_and(|d| d <= to)).and_then(|l| l.delisting_return).unwrap_or(0.0);
    let end = then.price()?;
    if start > 0.0 { Ok((end * (1.0 + left) + paid) / start - 1.0) } else { Err(Why::NotPositive) }
}
