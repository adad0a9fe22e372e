//! Analysts: some six percent too hopeful a year ahead, late to change their minds; from the eighth year on.

use crate::{
    character::{Character, Reporting},
    economy::{Economy, QUARTERS, STATES, rounded},
    prices::Traded,
    quarter::Quarter,
    random::Chance,
};
use artemon_core::domain::{Day, Estimate, Metric, Period, Record};

/// Price targets over the price: what a year brings on average, and the hope.
const TARGET: f64 = 1.15;
/// Quarters of the books before the first estimate.
const FIRST_QUARTER: usize = 34;

pub(crate) fn estimate(c: &Character, books: &[Quarter], market: &Traded, crowns_on: Option<Day>, out: &mut Vec<Record>) {
    let mut x = Chance::new(c.seed, c.index, 50);
    let analysts = (2.0 + (c.revenue / 1.5e7).ln().max(0.0) * 4.0).round();
    if x.happens(0.12) {
        return;
    }
    // One note a quarter, in its middle, while the shares trade.
    let mut last = None;
    for bar in &market.bars {
        let q = Economy::quarter_of(bar.date);
        if q < FIRST_QUARTER
            || c.is_suspended(bar.date)
            || last == Some(q)
            || bar.date.days_since(bar.date.plus_months(-1).month_end()) < 15
        {
            continue;
        }
        last = Some(q);
        let from = out.len();
        note(c, books, market, (q, bar.date, bar.close), analysts, &mut x, out);
        if crowns_on.is_some_and(|d| d <= bar.date) {
            out[from..].iter_mut().for_each(|r| in_crowns(r, STATES[c.state].crowns));
        }
    }
}

/// What is expected of a company that reports in crowns.
fn in_crowns(row: &mut Record, rate: f64) {
    let Record::Estimate(e) = row else { return };
    let decimals = match e.metric {
        Metric::Eps => 4,
        Metric::Revenue | Metric::Ebit => 0,
        _ => return,
    };
    let convert = |v: f64| rounded(v * rate, decimals);
    (e.mean, e.low, e.high) = (convert(e.mean), e.low.map(convert), e.high.map(convert));
}

fn note(
    c: &Character,
    books: &[Quarter],
    market: &Traded,
    (q, date, close): (usize, Day, f64),
    analysts: f64,
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
    let this_end = q + quarters_left(c, q);
    for ahead in 0..2 {
        let end = this_end + 4 * ahead;
        let year = crate::economy::FIRST_YEAR + i32::try_from(end / 4).unwrap_or(0);
        let error = error(c.seed, c.index, end, end - q);
        let come = Year::of(books, end);
        let eps = missed(come.eps, books[q - 1].normal_eps, error) / split;
        put(Metric::Eps, Some(year), Period::FY, rounded(eps, 4), (eps.abs() * 0.05).max(0.001));
        // Sales are easier to foresee than what is left of them.
        let revenue = come.revenue * (1.0 + 0.35 * error);
        put(Metric::Revenue, Some(year), Period::FY, revenue.round(), revenue * 0.02);
        if !c.is_financial() {
            let operating = missed(come.operating, books[q - 1].normal_operating, error);
            put(Metric::Ebit, Some(year), Period::FY, operating.round(), operating.abs() * 0.05);
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
        let eps = missed(coming, books[q - 1].normal_eps / 4.0, 0.08 * x.normal() - CAUTION) / split;
        put(Metric::Eps, Some(year), period, rounded(eps, 4), (eps.abs() * 0.06).max(0.001));
        put(Metric::Revenue, Some(year), period, (books[q].revenue * (1.0 + 0.02 * x.normal())).round(), books[q].revenue * 0.03);
    }
}

/// Quarters from one of the books to the last of its fiscal year.
fn quarters_left(c: &Character, q: usize) -> usize {
    let offset = usize::try_from((c.year_end / 3) % 4).unwrap_or(0);
    (offset + 4 - (q + 1) % 4) % 4
}

/// Fiscal year and period of a quarter of the books.
fn quarter_label(c: &Character, q: usize) -> (i32, Period) {
    let end = q + quarters_left(c, q);
    let year = crate::economy::FIRST_YEAR + i32::try_from(end / 4).unwrap_or(0);
    (year, [Period::Q4, Period::Q3, Period::Q2, Period::Q1][end - q])
}

/// What a fiscal year brings.
struct Year {
    /// A share before splits.
    eps: f64,
    revenue: f64,
    operating: f64,
}

impl Year {
    /// The one that ends with a quarter, as far as the books go.
    fn of(books: &[Quarter], end: usize) -> Year {
        let last = end.min(QUARTERS - 1);
        let year = &books[last.saturating_sub(3)..=last];
        let sum = |of: fn(&Quarter) -> f64| year.iter().map(of).sum::<f64>() * 4.0 / year.len() as f64;
        Year { eps: sum(|b| b.net_income() / b.shares), revenue: sum(|b| b.revenue), operating: sum(Quarter::operating_income) }
    }
}

/// How much too high estimates are for each quarter that lies before the end of their year, and how cautious they are in the end, so
/// that results are a little better than expected.
const HOPE: f64 = 0.021;
const CAUTION: f64 = 0.025;
/// What the last quarter can still bring, and each one before it.
const LATE_NEWS: f64 = 0.05;
const NEWS: f64 = 0.105;

/// By which share an estimate of the year that ends with a quarter misses, so many quarters before: what is yet to be learnt, and of
/// what has been learnt that which is not believed yet, so that revisions go on in the same direction for some time.
fn error(seed: u64, company: usize, end: usize, before: usize) -> f64 {
    let mut x = Chance::new(seed, company, 5_000 + end as u64);
    let mut unknown = LATE_NEWS * x.normal();
    let mut path = vec![unknown];
    for _ in 0..before + 2 {
        unknown += NEWS * x.normal();
        path.push(unknown);
    }
    let lags = 0.5 * path[before] + 0.3 * path[before + 1] + 0.2 * path[before + 2];
    lags + HOPE * before as f64 - CAUTION
}

/// An estimate that misses by a share of what comes, or of a part of what is usual where hardly anything comes.
fn missed(comes: f64, usual: f64, by: f64) -> f64 {
    comes + by * comes.abs().max(0.25 * usual.abs())
}

/// By which shares estimates of one year of so many companies miss, from the end of the year back to two years before.
#[cfg(test)]
pub(crate) fn misses(companies: usize, seed: u64) -> Vec<[f64; 8]> {
    (0..companies).map(|company| std::array::from_fn(|before| error(seed, company, 60, before))).collect()
}
