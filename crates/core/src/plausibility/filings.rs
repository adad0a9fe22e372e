//! Filings that are missing or late.

use super::Doubt;
use crate::{
    domain::{Item, Period},
    panel::CompanyAt,
};

/// Days from a period's end beyond which its first filing is late.
const LATE_DAYS: i32 = 120;

/// Fiscal years missing between others; quarters missing in years that have some.
pub(super) fn missing(c: &CompanyAt<'_>) -> Vec<Doubt> {
    let years: Vec<_> = c.years().collect();
    let mut out = Vec::new();
    for pair in years.windows(2) {
        let (before, after) = (c.label(pair[0]).0, c.label(pair[1]).0);
        let doubt = |year: i32, sentence: String| Doubt { on: c.period_end(pair[1]), fiscal_year: Some(year), item: None, sentence };
        for year in before + 1..after {
            out.push(doubt(year, format!("The fiscal year {year} is missing between {before} and {after}.")));
        }
        if let Some(sentence) = missing_quarters(c, after) {
            out.push(doubt(after, sentence));
        }
    }
    out
}

/// A year that has some quarters has all four, filed or by subtraction.
fn missing_quarters(c: &CompanyAt<'_>, year: i32) -> Option<String> {
    let filed = [Period::Q1, Period::Q2, Period::Q3, Period::Q4].map(|q| c.find_period(year, q).is_some());
    if !filed.contains(&true) {
        return None;
    }
    let known = |q: u8| c.quarter((year, q), Item::Revenue).is_some() || c.quarter((year, q), Item::NetIncome).is_some();
    let missing: Vec<String> = (1..=4).filter(|q| !filed[usize::from(*q) - 1] && !known(*q)).map(|q| format!("Q{q}")).collect();
    (!missing.is_empty()).then(|| format!("{} of {year} cannot be told from what was filed.", missing.join(", ")))
}

/// First filed more than 120 days after the period's end.
pub(super) fn late(c: &CompanyAt<'_>) -> Vec<Doubt> {
    let one = |p| {
        let days = c.first_filed(p).days_since(c.period_end(p));
        let (year, period) = c.label(p);
        (days > LATE_DAYS).then(|| Doubt {
            on: c.period_end(p),
            fiscal_year: Some(year),
            item: None,
            sentence: format!("{period} {year} was first filed {days} days after its end."),
        })
    };
    c.known_periods().filter_map(one).collect()
}
