//! Sales and what they cost, the money that is tied up for them, and purchases of other companies.

use super::course::Course;
use crate::{
    character::{Character, Fate, Story},
    economy::Economy,
    quarter::{Quarter, TAX_RATE},
    random::Chance,
    regimes,
};
use artemon_core::domain::Kind;

/// What a fall of output by one part in a hundred takes from the margin of a usual company.
const CYCLE_IN_MARGIN: f64 = 0.85;
/// The share of a stray margin that nobody counts on.
const COMES_BACK: f64 = 0.6;
/// The share of losses that is saved by cuts.
const CUT: f64 = 0.5;
/// What a unit of quality adds to margin.
pub(super) const QUALITY_IN_MARGIN: f64 = 0.109;
/// Interest a year on debt.
const DEBT_RATE: f64 = 0.0234;
/// Fixed preferred dividends of a quarter.
const PREFERRED_RATE: f64 = 0.06;
/// Margin below which purchases have not paid.
const POOR_MARGIN: f64 = 0.02;
/// What a purchased company costs above its net assets.
const GOODWILL_SHARE: f64 = 0.6;

/// Share of revenue left after operating cost in a usual quarter.
fn usual_margin(c: &Character, course: &Course) -> f64 {
    let usual = match c.industry.kind {
        Kind::Bank => 0.32,
        Kind::Insurer => 0.09,
        Kind::Property => 0.45,
        Kind::Holding | Kind::Fund => 0.55,
        Kind::Operating => 0.036 + 0.22 * (c.industry.gross_margin - 0.2),
    };
    let margin = usual + (QUALITY_IN_MARGIN + 0.15 * (usual - 0.05).max(0.0)) * course.quality + course.margin_shift;
    // Who loses money cuts what it can.
    margin - CUT * margin.min(0.0)
}

/// Of a quarter.
pub(super) fn normal_operating(c: &Character, course: &Course, now: &Quarter, q: usize) -> f64 {
    let revenue = now.revenue / course.season[q % 4];
    // What margins have strayed from their mean will come back to it in part.
    revenue * (usual_margin(c, course) - COMES_BACK * course.margin_shift + regimes::margin_shift(c.industry.name, q))
}

/// How far a company goes along with the cycle: makers of what can wait far more than those of what is needed every day.
fn swings(c: &Character) -> f64 {
    c.industry.cyclicality.powf(3.0)
}

/// Sales and their cost.
pub(super) fn trade(c: &Character, last: &Quarter, course: &Course, q: usize, economy: &Economy, x: &mut Chance, now: &mut Quarter) {
    let season = course.season[q % 4] / course.season[(q + 3) % 4];
    let cycle = 1.0 + swings(c) * (economy.cycle[q] - economy.cycle[q - 1]) * 1.6;
    let steady = if c.story == Some(Story::Steady) { 0.2 } else { 1.0 };
    let growth = (1.0 + course.growth).powf(0.25) * cycle.powf(steady) * (0.016 * steady * x.normal()).exp();
    now.revenue = (last.revenue * season * growth).round().max(1000.0);
    let decreed = regimes::margin_shift(c.industry.name, q);
    let margin =
        usual_margin(c, course) + decreed + steady * (swings(c) * economy.cycle[q] * CYCLE_IN_MARGIN + 0.008 * c.wobble * x.normal());
    let gross = (c.industry.gross_margin
        + 0.05 * course.quality
        + course.margin_shift
        + steady * course.gross_shift
        + 0.3 * steady * economy.cycle[q] * swings(c))
    .clamp((margin.max(0.02) + 0.02).min(0.9), 0.97);
    now.cost = if c.industry.gross_margin < 1.0 { (now.revenue * (1.0 - gross)).round() } else { (now.revenue * 0.2).round() };
    let gross = now.revenue - now.cost;
    let operating = (now.revenue * margin).round();
    now.research = if c.industry.sector == "Technology" || c.industry.sector == "Health" { (gross * 0.12).round() } else { 0.0 };
    now.selling = gross - now.research - operating;
    now.depreciation = (last.fixed * if c.industry.kind == Kind::Property { 0.006 } else { 0.022 }).round();
    now.interest = ((last.short_debt + last.long_debt) * DEBT_RATE / 4.0).round();
    now.one_off = if x.happens(0.012) { (now.revenue * x.between(-0.25, 0.35)).round() } else { 0.0 };
    now.written_off = written_off(last, margin, x);
    now.goodwill = last.goodwill - now.written_off;
    now.tax = ((now.pretax() + now.written_off).max(0.0) * TAX_RATE).round();
    now.minority_income = (c.minority * (now.pretax() + now.written_off - now.tax).max(0.0)).round();
    now.minority = last.minority + now.minority_income;
    now.stock_pay = (now.revenue * 0.002 * (1.0 + course.quality.max(0.0))).round();
}

/// Goodwill is written off when what was bought does not earn what it cost, and now and then of a sudden.
fn written_off(last: &Quarter, margin: f64, x: &mut Chance) -> f64 {
    let due = x.happens(if margin < POOR_MARGIN { 0.2 } else { 0.006 });
    let lost = x.between(0.4, 0.9);
    if due { (lost * last.goodwill).round() } else { 0.0 }
}

/// Working capital and investment; operating cash flow follows.
pub(super) fn spend(c: &Character, last: &Quarter, course: &Course, x: &mut Chance, now: &mut Quarter) {
    let year = 4.0 * now.revenue;
    now.receivables = (0.7 * last.receivables + 0.3 * year * c.working[0] * course.later * (1.0 + 0.05 * x.normal())).round();
    now.inventory = if c.industry.gross_margin < 1.0 { (0.7 * last.inventory + 0.3 * year * c.working[1]).round() } else { 0.0 };
    now.payables = (0.7 * last.payables + 0.3 * year * c.working[2]).round();
    // Works are renewed in leaps.
    let leap = if x.happens(0.1) { x.between(3.5, 9.0) } else { 0.52 };
    now.capex = (now.depreciation * (1.0 + 7.5 * course.growth.clamp(-0.08, 0.2)) * leap * (1.0 + 0.2 * x.normal()).max(0.2)).round();
    now.fixed = last.fixed - now.depreciation + now.capex;
    let working = (now.receivables - last.receivables) + (now.inventory - last.inventory) - (now.payables - last.payables);
    now.entrusted = (last.entrusted * (1.0 + course.growth / 4.0)).round();
    let earned = now.net_income() + now.minority_income + now.written_off;
    now.operating_cash = earned + now.depreciation + now.stock_pay - working + (now.entrusted - last.entrusted);
}

/// Every few years an acquirer buys another company, with cash and debt.
pub(super) fn acquire(c: &Character, last: &Quarter, q: usize, x: &mut Chance, now: &mut Quarter) {
    let often = if c.fate == Fate::RollsUp { 0.16 } else { 0.05 };
    let due = c.acquirer > 0.0 && x.happens(often) && q > 8;
    if due && now.net_income() > 0.0 {
        now.acquired = (c.acquirer * 4.0 * now.revenue * 0.46).round();
        let goodwill = (now.acquired * GOODWILL_SHARE).round();
        now.goodwill += goodwill;
        now.fixed += now.acquired - goodwill;
    }
    now.preferred_dividends = (last.preferred * PREFERRED_RATE / 4.0).round();
}
