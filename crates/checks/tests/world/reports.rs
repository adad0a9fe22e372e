//! What companies' reports brought: leaps of the price, and how far estimates had been from them.

use crate::made::Made;
use artemon_core::{
    domain::{Day, Item, Metric, Period},
    panel::CompanyAt,
    stats,
};

/// A move of the close in one session beyond this is a leap.
const LEAP: f64 = 0.15;
/// Errors of estimates count as at most this share, as profits near nothing make them boundless.
const WIDEST: f64 = 1.0;

pub(crate) struct Reports {
    /// The share of reports on whose day the price leapt.
    pub(crate) leaps: f64,
    /// Estimates of a year's earnings a year before its end over what came of them, less one: the mean, and the share within 30 %.
    pub(crate) too_high: f64,
    pub(crate) within: f64,
}

pub(crate) fn reports(made: &Made, last: Day) -> Reports {
    let (mut moves, mut errors) = (Vec::new(), Vec::new());
    for c in made.context.as_of(last).companies() {
        moves.extend(c.known_periods().filter_map(|p| move_on(&c, c.first_filed(p))));
        errors.extend(c.known_periods().filter_map(|p| error(&c, p)));
    }
    let share = |of: &[f64], met: fn(f64) -> bool| of.iter().filter(|v| met(**v)).count() as f64 / of.len() as f64;
    Reports {
        leaps: share(&moves, |m| m.abs() > LEAP),
        too_high: stats::mean(&errors.iter().map(|e| e.clamp(-WIDEST, WIDEST)).collect::<Vec<_>>()).unwrap(),
        within: share(&errors, |e| e.abs() <= 0.3),
    }
}

/// The move of the close on a session.
fn move_on(c: &CompanyAt<'_>, day: Day) -> Option<f64> {
    let bars = c.bars();
    let i = bars.upto(day).checked_sub(1).filter(|i| *i > 0 && bars.dates()[*i] == day)?;
    Some(bars.close(i) / bars.close(i - 1) - 1.0)
}

/// How much too high the estimate of a fiscal year was a year before its end, where enough was earned to tell.
fn error(c: &CompanyAt<'_>, period: artemon_core::panel::PeriodIndex) -> Option<f64> {
    let (year, Period::FY) = c.label(period) else { return None };
    let then = c.at(c.period_end(period).plus_months(-12));
    let expected = then.estimate(Metric::Eps, Some(year)).ok()?.mean / c.splits_since(then.t());
    let (came, before) = (c.item(period, Item::EpsAdjusted)?, c.item(c.find_period(year - 1, Period::FY)?, Item::EpsAdjusted)?);
    (came > 0.25 * before.abs()).then_some(expected / came - 1.0)
}
