//! Analysts: five to ten percent too hopeful, late to change their minds; from the eighth year on.

use crate::{
    books::Quarter,
    company::Character,
    economy::{Economy, QUARTERS, rounded},
    prices::Traded,
    random::Chance,
};
use artemon_core::domain::{Day, Estimate, Metric, Record};

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
    let mut put = |metric, fiscal_year, mean: f64, spread: f64| {
        out.push(Record::Estimate(Estimate {
            company_id: c.id.clone(),
            published_on: date,
            metric,
            fiscal_year,
            period: fiscal_year.map(|_| artemon_core::domain::Period::FY),
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
        put(Metric::Eps, Some(year), rounded(eps, 4), (eps.abs() * 0.05).max(0.001));
        let revenue = 4.0 * books[q - 1].revenue * (1.0 + books[q - 1].outlook).powi(i32::try_from(ahead).unwrap_or(0));
        put(Metric::Revenue, Some(year), revenue.round(), revenue * 0.02);
    }
    let growth = rounded((books[q - 1].outlook * 1.3 + 0.02 + 0.01 * x.normal()).clamp(-0.05, 0.25), 4);
    put(Metric::LongTermGrowth, None, growth, 0.02);
    put(Metric::PriceTarget, None, rounded(close * (1.06 + 0.06 * x.normal().abs()), 2), close * 0.1);
}

/// Usual earnings of the fiscal year that ends with a quarter, a share before splits.
fn year_eps(books: &[Quarter], end: usize) -> f64 {
    let last = end.min(QUARTERS - 1);
    let year = &books[last.saturating_sub(3)..=last];
    year.iter().map(|b| b.net_income() / b.shares).sum::<f64>() * 4.0 / year.len() as f64
}
