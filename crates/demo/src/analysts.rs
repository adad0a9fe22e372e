//! Analysts: five to ten percent too hopeful, late to change their minds; from the eighth year on.

use crate::{
    character::{Character, Reporting},
    economy::{Economy, QUARTERS, rounded},
    prices::Traded,
    quarter::Quarter,
    random::Chance,
};
use artemon_core::domain::{Day, Estimate, Metric, Period, Record};

/// Price targets over the price: what a year brings on average, and the hope.
const TARGET: f64 = 1.15;
/// Quarters of the books before the first estimate.
const FIRST_QUARTER: usize = 34;

pub(crate) fn estimate(c: &Character, books: &[Quarter], market: &Traded, out: &mut Vec<Record>) {
    let mut x = Chance::new(c.seed, c.index, 50);
    let analysts = (2.0 + (c.revenue / 1.5e7).ln().max(0.0) * 4.0).round();
    if x.happens(0.12) {
        return;
    }
    let hope = 1.0 + x.between(0.05, 0.10);
    // One note a quarter, in its middle, while the shares trade.
    let mut last = None;
    for bar in &market.bars {
        let q = Economy::quarter_of(bar.date);
        if q < FIRST_QUARTER || last == Some(q) || bar.date.days_since(bar.date.plus_months(-1).month_end()) < 15 {
            continue;
        }
        last = Some(q);
        note(c, books, market, (q, bar.date, bar.close), (analysts, hope), &mut x, out);
    }
}

fn note(
    c: &Character,
    books: &[Quarter],
    market: &Traded,
    (q, date, close): (usize, Day, f64),
    (analysts, hope): (f64, f64),
    x: &mut Chance,
    out: &mut Vec<Record>,
) {
    let split = market.split_factor(date);
    let mut put = |metric, fiscal_year, period: Period, mean: f64, spread: f64| {
        out.push(Record::Estimate(Estimate {
            company_id: c.id.clone(),
            published_on: date,
            metric,
            fiscal_year,
            period: fiscal_year.map(|_| period),
            mean,
            low: Some(rounded(mean - spread, 4)),
            high: Some(rounded(mean + spread, 4)),
            analysts: Some(analysts),
        }));
    };
    let offset = usize::try_from((c.year_end / 3) % 4).unwrap_or(0);
    let this_end = q + (offset + 4 - (q + 1) % 4) % 4;
    for ahead in 0..2 {
        let end = this_end + 4 * ahead;
        let year = crate::economy::FIRST_YEAR + i32::try_from(end / 4).unwrap_or(0);
        // They see half of what is coming; the rest is what they know.
        let known = books[q - 1].normal_eps;
        let coming = year_eps(books, end);
        let eps = (0.5 * known * (1.0 + books[q - 1].outlook) + 0.5 * coming) * hope / split * (1.0 + 0.02 * x.normal());
        put(Metric::Eps, Some(year), Period::FY, rounded(eps, 4), (eps.abs() * 0.05).max(0.001));
        let revenue = 4.0 * books[q - 1].revenue * (1.0 + books[q - 1].outlook).powi(i32::try_from(ahead).unwrap_or(0));
        put(Metric::Revenue, Some(year), Period::FY, revenue.round(), revenue * 0.02);
        if !c.is_financial() {
            let usual = books[q - 1].normal_operating * (1.0 + books[q - 1].outlook) * hope;
            put(Metric::Ebit, Some(year), Period::FY, usual.round(), usual.abs() * 0.05);
        }
    }
    let growth = rounded((books[q - 1].outlook + 0.01 + 0.012 * x.normal()).clamp(-0.05, 0.25), 4);
    put(Metric::LongTermGrowth, None, Period::FY, growth, 0.02);
    let target = rounded(close * TARGET * (1.0 + 0.05 * x.normal()), 2);
    put(Metric::PriceTarget, None, Period::FY, target, close * 0.1);
    // The nearer the target, the cooler the advice; most are warm.
    let rating = rounded((2.9 - 6.0 * (target / close - 1.06) + 0.3 * x.normal()).clamp(1.0, 5.0), 1);
    put(Metric::Rating, None, Period::FY, rating, 0.0);
    if c.reporting == Reporting::Quarterly {
        let (year, period) = quarter_label(c, q);
        let coming = books[q].net_income() / books[q].shares;
        let eps = (0.5 * books[q - 1].normal_eps / 4.0 + 0.5 * coming) * hope / split * (1.0 + 0.02 * x.normal());
        put(Metric::Eps, Some(year), period, rounded(eps, 4), (eps.abs() * 0.06).max(0.001));
        put(Metric::Revenue, Some(year), period, (books[q].revenue * (1.0 + 0.02 * x.normal())).round(), books[q].revenue * 0.03);
    }
}

/// Fiscal year and period of a quarter of the books.
fn quarter_label(c: &Character, q: usize) -> (i32, Period) {
    let offset = usize::try_from((c.year_end / 3) % 4).unwrap_or(0);
    let end = q + (offset + 4 - (q + 1) % 4) % 4;
    let year = crate::economy::FIRST_YEAR + i32::try_from(end / 4).unwrap_or(0);
    (year, [Period::Q4, Period::Q3, Period::Q2, Period::Q1][end - q])
}

/// Usual earnings of the fiscal year that ends with a quarter, a share before splits.
fn year_eps(books: &[Quarter], end: usize) -> f64 {
    let last = end.min(QUARTERS - 1);
    let year = &books[last.saturating_sub(3)..=last];
    year.iter().map(|b| b.net_income() / b.shares).sum::<f64>() * 4.0 / year.len() as f64
}
