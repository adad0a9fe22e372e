//! Double-entry books, quarter by quarter, in whole units: every balance sheet balances, cash flow ties to cash, and
//! equity rolls forward.

mod course;
mod finance;
mod trading;

use crate::{
    character::Character,
    economy::{Economy, QUARTERS},
    quarter::{Quarter, TAX_RATE},
    random::Chance,
    stories,
};
use artemon_core::domain::Kind;
use course::Course;
use finance::finance;
use trading::{QUALITY_IN_MARGIN, acquire, normal_operating, spend, trade};

/// Turns of usual earnings that are paid for a unit of growth a year, for one of quality, and for one of past growth, which many
/// believe will go on.
const FOR_GROWTH: f64 = 80.0;
const FOR_QUALITY: f64 = 6.2;
const FOR_PAST: f64 = 4.0;

/// The books of one company from its first quarter to the last.
pub(crate) fn keep(c: &Character, economy: &Economy) -> Vec<Quarter> {
    let mut x = Chance::new(c.seed, c.index, 20);
    let swing = x.between(0.0, 0.12);
    let phase = x.below(4);
    let season = std::array::from_fn(|q| 1.0 + swing * if (q + phase).is_multiple_of(4) { 1.0 } else { -1.0 / 3.0 });
    let mut course = Course {
        quality: c.quality,
        believed: c.quality,
        growth: c.growth,
        unseen: 0.0,
        margin_shift: 0.0,
        gross_shift: 0.0,
        later: 1.0,
        season,
    };
    let mut books: Vec<Quarter> = vec![opening(c, &mut x)];
    for q in 1..QUARTERS {
        course.go_on(c, q, books[q - 1].revenue, &mut x);
        let mut next = quarter(c, &books[q - 1], &course, q, economy, &mut x);
        next.appeal += FOR_PAST * grown(&books, &next);
        books.push(next);
    }
    books
}

/// Usual earnings' growth a year over five years, within bounds; none while there is no such past or no profit.
fn grown(books: &[Quarter], now: &Quarter) -> f64 {
    let before = books.len().checked_sub(20).map_or(0.0, |i| books[i].normal_eps);
    if before <= 0.0 || now.normal_eps <= 0.0 { 0.0 } else { ((now.normal_eps / before).powf(0.2) - 1.0).clamp(-0.15, 0.25) }
}

fn opening(c: &Character, x: &mut Chance) -> Quarter {
    let revenue = c.revenue.round();
    let year = 4.0 * revenue;
    let capital = year * c.capital;
    let debt = if c.is_financial() { 0.0 } else { (capital * c.leverage).round() };
    let receivables = (year * c.working[0]).round();
    let inventory = if c.industry.gross_margin < 1.0 { (year * c.working[1]).round() } else { 0.0 };
    let payables = (year * c.working[2]).round();
    let entrusted = match c.industry.kind {
        Kind::Bank => (capital * 9.0).round(),
        Kind::Insurer => (capital * 2.5).round(),
        _ => 0.0,
    };
    let cash = (year * x.between(0.03, 0.08)).round() + entrusted;
    let fixed = (capital - receivables - inventory + payables).max(capital * 0.3).round();
    let equity = cash + receivables + inventory + fixed - payables - debt - entrusted;
    let short_debt = (debt * 0.2).round();
    Quarter {
        revenue,
        cash,
        receivables,
        inventory,
        fixed,
        payables,
        short_debt,
        long_debt: debt - short_debt,
        equity,
        retained: (equity * 0.6).round(),
        shares: (year / x.between(6.0, 40.0)).round().max(500_000.0),
        preferred: if c.preferred { (0.12 * equity.max(0.0)).round() } else { 0.0 },
        entrusted,
        ..Quarter::default()
    }
}

fn quarter(c: &Character, last: &Quarter, course: &Course, q: usize, economy: &Economy, x: &mut Chance) -> Quarter {
    let mut now = Quarter { shares: last.shares, preferred: last.preferred, ..Quarter::default() };
    trade(c, last, course, q, economy, x, &mut now);
    stories::happen(c, q, &mut now);
    spend(c, last, course, x, &mut now);
    acquire(c, last, q, x, &mut now);
    finance(c, last, q, x, &mut now);
    now.normal_operating = 4.0 * normal_operating(c, course, &now, q);
    let normal_income = (now.normal_operating - 4.0 * now.interest) * (1.0 - TAX_RATE) * (1.0 - c.minority) - 4.0 * now.preferred_dividends;
    now.normal_eps = normal_income / now.shares;
    now.outlook = course.growth;
    now.quality = seen(course, &now);
    now.believed = course.believed;
    now.appeal = FOR_GROWTH * (course.growth + course.unseen) + FOR_QUALITY * course.believed;
    now
}

/// Quality as those outside can see it: in margins, growth and debt.
fn seen(course: &Course, now: &Quarter) -> f64 {
    let debt = now.short_debt + now.long_debt;
    let owed = debt / (debt + now.equity.max(0.0)).max(1.0);
    course.quality + course.margin_shift / QUALITY_IN_MARGIN + 5.0 * (course.growth - 0.05) - 0.7 * (owed - 0.3)
}
