//! Size and trading volume.

use crate::{Num, Why, domain::Item, formula::Args, panel::CompanyAt};

/// Sessions over which an order is compared with what trades.
const ORDER_SESSIONS: u32 = 50;

/// P × shares outstanding (newest known), in the base currency; one traded unit may stand for several shares.
pub(crate) fn market_cap(c: &CompanyAt<'_>, _: &Args) -> Num {
    let shares = c.latest_item(Item::SharesOutstanding)?.1;
    Ok(c.price()? * shares / c.shares_per_unit() * c.listing_to_base()?)
}

pub(crate) fn volume(c: &CompanyAt<'_>, _: &Args) -> Num {
    let bars = c.bars();
    known(bars.len().checked_sub(1).map(|i| bars.volume(i)).ok_or(Why::NoPrice)?)
}

/// A figure made of volumes, if all of them are known.
fn known(figure: f64) -> Num {
    if figure.is_nan() { Err(Why::NoVolume) } else { Ok(figure) }
}

pub(crate) fn average_volume(c: &CompanyAt<'_>, args: &Args) -> Num {
    let bars = c.bars();
    mean_of_last(bars.len(), args.count, |i| bars.volume(i))
}

/// Mean of close × volume, in the base currency at the rate of the date.
pub(crate) fn average_traded_value(c: &CompanyAt<'_>, args: &Args) -> Num {
    let bars = c.bars();
    Ok(mean_of_last(bars.len(), args.count, |i| bars.close(i) * bars.volume(i))? * c.listing_to_base()?)
}

pub(crate) fn relative_volume(c: &CompanyAt<'_>, args: &Args) -> Num {
    let bars = c.bars();
    let before = bars.len().checked_sub(1).ok_or(Why::NoPrice)?;
    let mean = mean_of_last(before, args.count, |i| bars.volume(i))?;
    if mean > 0.0 { known(bars.volume(before) / mean) } else { Err(Why::NotPositive) }
}

pub(crate) fn order_share(c: &CompanyAt<'_>, args: &Args) -> Num {
    let traded = average_traded_value(c, &Args { count: ORDER_SESSIONS, ..*args })?;
    if traded > 0.0 { Ok(args.amount / traded) } else { Err(Why::NotPositive) }
}

/// The mean over the `n` positions before `end`.
pub(super) fn mean_of_last(end: usize, n: u32, value: impl Fn(usize) -> f64) -> Num {
    let start = end.checked_sub(n as usize).ok_or(Why::HistoryTooShort)?;
    known((start..end).map(value).sum::<f64>() / f64::from(n))
}
