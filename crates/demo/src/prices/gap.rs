//! How prices stray from value and come back to it.

use crate::{
    character::{Character, Ending},
    economy::Economy,
    filings::Due,
    quarter::Quarter,
    random::Chance,
};
use artemon_core::domain::Day;

/// The share of the gap between price and value that closes in a session, and of passing noise.
const CLOSES: f64 = 0.0006;
const PASSES: f64 = 0.05;
/// The share of what moved all prices that is gone after a session.
const COMMON_PASSES: f64 = 0.02;
/// Daily noise that passes and that lasts, as logs, of a usual company; and the log of its revenue in a quarter.
const USUAL_NOISE: f64 = 0.0133;
const LASTING: f64 = 0.0046;
const USUAL_REVENUE: f64 = 17.2;
/// The share of reports that surprise, by how much (the deviation of a log), and the share of these that go the way of earnings.
const SURPRISES: f64 = 0.07;
const LEAP: f64 = 0.13;
const AS_EARNED: f64 = 0.7;
/// How momentum persists, and its daily impulse.
const MOMENTUM: f64 = 0.985;
const DRIFT: f64 = 0.00005;
/// What goes out of fashion in a session: what is dear is sought after for some years, and what is cheap in others.
const FASHION_PASSES: f64 = 0.004;

/// By how much a price is away from value, as a log, from session to session.
#[derive(Debug)]
pub(super) struct Gap {
    /// Daily noise that passes.
    pub(super) noise: f64,
    lasting: f64,
    beta: f64,
    /// What closes slowly.
    pub(super) slow: f64,
    drift: f64,
    passing: f64,
    common: f64,
    fashion: f64,
}

impl Gap {
    pub(super) fn new(c: &Character, x: &mut Chance) -> Gap {
        // Small companies swing more.
        let small = -0.1 * (c.revenue.ln() - USUAL_REVENUE).clamp(-3.0, 3.0);
        let noise = USUAL_NOISE * (0.66 * x.normal() + small - 0.2 * c.quality).exp().clamp(0.44, 4.0);
        let lasting = LASTING * (noise / USUAL_NOISE).powf(0.35);
        let beta = 0.6 + 0.5 * c.industry.cyclicality + 0.1 * x.normal();
        Gap { noise, lasting, beta, slow: 0.2 * x.normal(), drift: 0.0, passing: 0.0, common: 0.0, fashion: 0.0 }
    }

    /// A session goes by: the gap closes slowly, faster when the market as a whole turns to the cheap, and widens when it turns from
    /// them; a little momentum; what a report brought; and noise that is gone within weeks.
    pub(super) fn go_on(&mut self, q: &Quarter, economy: &Economy, session: usize, leap: f64, x: &mut Chance) {
        self.drift = MOMENTUM * self.drift + DRIFT * x.normal();
        let closing = closes(q) + 0.5 * economy.style[session];
        self.slow += -closing * self.slow + strays(q) * (self.drift + self.lasting * x.normal()) + leap;
        self.fashion += -FASHION_PASSES * self.fashion + economy.style[session];
        self.passing += -PASSES * self.passing + self.noise * x.normal();
        self.common += -COMMON_PASSES * self.common + self.beta * economy.shock[session];
    }

    /// All of it, for a company that is so dear.
    pub(super) fn total(&self, dearness: f64, economy: &Economy, session: usize) -> f64 {
        self.slow + self.passing + self.common + self.fashion * dearness + self.beta.min(1.4) * economy.mood[session]
    }
}

/// How far prices stray from value: those of good companies, which many follow, less than others.
pub(super) fn strays(q: &Quarter) -> f64 {
    (-1.1 * q.quality).exp().clamp(0.3, 1.0)
}

/// The share of the gap between price and value that closes in a session: the good are recognised in the end, the bad may stay cheap.
fn closes(q: &Quarter) -> f64 {
    CLOSES * (1.8 * q.quality).exp().clamp(0.2, 5.0)
}

/// Reports that surprise: their days, and by what they move the price, as logs. Mostly the way that the margin went in a year.
pub(super) fn leaps(c: &Character, books: &[Quarter], due: &[Due]) -> Vec<(Day, f64)> {
    let mut x = Chance::new(c.seed, c.index, 33);
    let traded = due.iter().filter(|d| c.trades_on(d.filed_on));
    let mut leap = |d: &Due| {
        let (surprises, size, as_earned) = (x.happens(SURPRISES), LEAP * x.normal().abs().min(2.8), x.happens(AS_EARNED));
        let (now, before) = (&books[d.quarters.end - 1], &books[d.quarters.end.saturating_sub(5)]);
        let better = now.net_income() / now.revenue > before.net_income() / before.revenue;
        surprises.then_some((d.filed_on, if better == as_earned { size } else { -size }))
    };
    traded.filter_map(&mut leap).collect()
}

/// Those that are going to fail slide for as long as they lose ground, and half a year before.
pub(super) fn failing(c: &Character, date: Day) -> f64 {
    match c.delisted {
        Some((end, Ending::Failure)) => {
            let days = 180.0 + 91.0 * c.dying as f64;
            -1.2 * (1.0 - f64::from(end.days_since(date)) / days).clamp(0.0, 1.0)
        }
        _ => 0.0,
    }
}
