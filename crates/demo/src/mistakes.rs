//! Mistakes in the data on purpose, for the checks to find: two of units, a sheet that does not balance, a price spike,
//! items that are missing, a trade filed twice.

use crate::{character::Character, economy::day, random::Chance};
use artemon_core::domain::{Bar, Item, ItemKind, Items, Kind, Period};

/// The companies that carry the planted mistakes: the first operating ones from these positions on.
const IN_THOUSANDS: usize = 21;
const SHARES_IN_UNITS: usize = 34;
const UNBALANCED: usize = 47;
const SPIKE: usize = 60;
/// Its filings are each a little incomplete.
const SHARE_OF_TERSE: f64 = 0.12;

/// What a filing lacks or gets wrong.
pub(crate) fn in_filing(c: &Character, fiscal_year: i32, period: Period, items: &mut Items) {
    if c.story.is_some() {
        return;
    }
    match (c.index, fiscal_year, period) {
        (IN_THOUSANDS, 2017, Period::FY) => scale(items, 0.001, |i| matches!(i.kind(), ItemKind::Flow | ItemKind::Balance)),
        (SHARES_IN_UNITS, 2021, Period::FY) => scale(items, 1000.0, |i| i.kind() == ItemKind::Shares),
        (UNBALANCED, 2015, Period::FY) => scale(items, 1.07, |i| i == Item::TotalAssets),
        _ => {}
    }
    let mut x = Chance::new(c.seed, c.index, 80);
    if c.industry.kind == Kind::Operating && x.happens(SHARE_OF_TERSE) {
        let dropped: &[Item] = match x.below(4) {
            0 => &[Item::GrossProfit, Item::CostOfRevenue],
            1 => &[Item::InterestExpense],
            2 => &[Item::EpsAdjusted, Item::StockCompensation],
            _ => &[Item::Receivables, Item::Inventory, Item::Payables],
        };
        dropped.iter().for_each(|i| items.set(*i, None));
    }
}

fn scale(items: &mut Items, by: f64, which: impl Fn(Item) -> bool) {
    for &item in Item::ALL.iter().filter(|i| which(**i)) {
        let value = items.get(item).map(|v| (v * by).round());
        items.set(item, value);
    }
}

/// A close with its decimal point in the wrong place.
pub(crate) fn in_prices(c: &Character, bars: &mut [Bar]) {
    let on = day((2022, 9, 7));
    if let Some(bar) = bars.iter_mut().find(|b| c.index == SPIKE && b.date == on) {
        bar.close *= 10.0;
        bar.high = bar.high.max(bar.close);
    }
}

/// Companies whose data carries a planted mistake stay listed and report quarterly, so that it can be found.
pub(crate) const fn carries_one(index: usize) -> bool {
    matches!(index, IN_THOUSANDS | SHARES_IN_UNITS | UNBALANCED | SPIKE)
}
