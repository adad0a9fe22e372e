//! What the market paid for a unit of earnings in each of the last years, put to the earnings of the year in progress.

use crate::{
    Num, Why,
    domain::{Item, Kind},
    estimates,
    formula::ValueField,
    panel::{CompanyAt, Field, PeriodIndex},
    stats,
};

/// The fewest fiscal years with earnings above zero.
const LEAST: usize = 3;

/// A fiscal year's price over its earnings: at its lowest, at its highest.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct YearMultiple {
    pub fiscal_year: i32,
    /// Lowest and highest price of the twelve months, on the split basis of the date.
    pub low_price: f64,
    pub high_price: f64,
    /// The same ÷ earnings a traded unit.
    pub low: f64,
    pub high: f64,
}

/// Those of the last `years` fiscal years (five in the shipped set) with earnings above zero and prices, newest first: lowest low and highest high of the
/// twelve months that end with the year ÷ its diluted earnings a traded unit, at the exchange rate of its end.
#[must_use]
pub fn yearly_multiples(c: &CompanyAt<'_>, years: u32) -> Vec<YearMultiple> {
    (0..years).filter_map(|k| multiple_of(c, c.year(k).ok()?)).collect()
}

fn multiple_of(c: &CompanyAt<'_>, year: PeriodIndex) -> Option<YearMultiple> {
    let end = c.period_end(year);
    let eps = c.item(year, Item::EpsDiluted)? * c.fx_on(c.reporting_currency(), c.listing_currency(), end).ok()?;
    let bars = c.bars();
    let year_before = end.plus_months(-12);
    let start = if end == end.month_end() { year_before.month_end() } else { year_before };
    let window = bars.upto(start)..bars.upto(end);
    let low = bars.lowest(Field::Low, window.clone())?;
    let high = bars.highest(Field::High, window)?;
    let fiscal_year = c.label(year).0;
    (eps > 0.0).then(|| YearMultiple { fiscal_year, low_price: low, high_price: high, low: low / eps, high: high / eps })
}

/// Estimated earnings of the year in progress × a multiple picked from those of at least three years.
fn of_next_year(c: &CompanyAt<'_>, years: u32, pick: fn(&[YearMultiple]) -> Option<f64>) -> Num {
    if c.kind() == Kind::Fund {
        return Err(Why::NotMeaningful);
    }
    c.year0()?;
    let years = yearly_multiples(c, years);
    if years.len() < LEAST {
        return Err(Why::HistoryTooShort);
    }
    let eps = expected_earnings(c)?;
    if eps <= 0.0 {
        return Err(Why::NotPositive);
    }
    pick(&years).map(|x| x * eps).ok_or(Why::HistoryTooShort)
}

/// Estimated earnings of the year in progress, a traded unit in the listing's currency.
pub fn expected_earnings(c: &CompanyAt<'_>) -> Num {
    Ok(estimates::next_year_eps(c)? * c.reporting_to_listing()?)
}

/// A figure of the range: × the lowest low multiple; × the median of the yearly mids, each the mean of low and high; × the
/// median of the high multiples.
pub(crate) fn range_number(c: &CompanyAt<'_>, field: ValueField, years: u32) -> Num {
    match field {
        ValueField::RangeDownside => of_next_year(c, years, |all| all.iter().map(|y| y.low).min_by(f64::total_cmp)),
        ValueField::RangeMiddle => {
            of_next_year(c, years, |all| stats::median(&all.iter().map(|y| f64::midpoint(y.low, y.high)).collect::<Vec<_>>()))
        }
        ValueField::RangeUpside => of_next_year(c, years, |all| stats::median(&all.iter().map(|y| y.high).collect::<Vec<_>>())),
        _ => Err(Why::NoAnswer),
    }
}
