//! Dividends a share.

use crate::{
    Num, Why,
    domain::Day,
    formula::Args,
    panel::{CompanyAt, PeriodIndex},
};

/// Days up to the newest ex-date whose dividends make a year's.
const YEAR_OF_DIVIDENDS: i32 = 350;
/// Days of grace for the next dividend.
const DIVIDEND_SLACK: i32 = 50;

/// D0: the regular dividends with an ex-date in the 350 days up to and including the newest one, when that one is at
/// most 350 ÷ k + 50 days old (k: how many they are); else 0. Per traded unit in the listing's currency.
pub(crate) fn regular_dividend(c: &CompanyAt<'_>) -> Num {
    let mut newest_first = c.dividends()?.rev().filter(|d| !d.special).peekable();
    let Some(newest) = newest_first.peek().map(|d| d.ex_date) else { return Ok(0.0) };
    let in_year: Vec<f64> = newest_first.take_while(|d| newest.days_since(d.ex_date) < YEAR_OF_DIVIDENDS).map(|d| d.amount).collect();
    let k = i32::try_from(in_year.len()).unwrap_or(1);
    let age = c.t().days_since(newest);
    // Oldest first: the sum is the same to the last bit however it is asked for.
    if (age - DIVIDEND_SLACK) * k > YEAR_OF_DIVIDENDS { Ok(0.0) } else { Ok(in_year.iter().rev().sum()) }
}

/// D0 ÷ P.
pub(crate) fn dividend_yield(c: &CompanyAt<'_>, _: &Args) -> Num {
    Ok(regular_dividend(c)? / c.price()?)
}

/// Regular dividends with an ex-date in a fiscal year, a traded unit; 0 when none.
pub(crate) fn year_dividend(c: &CompanyAt<'_>, year: PeriodIndex) -> Num {
    let end: Day = c.period_end(year);
    let year_before = end.plus_months(-12);
    let start = if end == end.month_end() { year_before.month_end() } else { year_before };
    let from_end = c.dividends()?.rev().skip_while(|d| d.ex_date > end);
    Ok(from_end.take_while(|d| d.ex_date > start).filter(|d| !d.special).map(|d| d.amount).sum())
}

/// Fiscal years from the newest backwards with a regular dividend.
pub(crate) fn dividend_years(c: &CompanyAt<'_>, _: &Args) -> Num {
    c.year0()?;
    let mut n = 0;
    while let Ok(year) = c.year(n) {
        if year_dividend(c, year)? <= 0.0 {
            break;
        }
        n += 1;
    }
    if n == 0 && c.year(0).is_err() { Err(Why::HistoryTooShort) } else { Ok(f64::from(n)) }
}
