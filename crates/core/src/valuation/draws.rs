//! How sure one can be: the value under many draws of what cannot be known.

use super::{
    Assumptions, Inputs, Scenario,
    models::{Company, Model},
    scenario,
};
use crate::{
    Num, Why,
    domain::Kind,
    formula::{View, evaluate},
    measures::compile,
    panel::CompanyAt,
    stats,
};
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution, StandardNormal};

/// How far the required return may be off, a year.
const RETURN_OFF: f64 = 0.01;
/// Years of own multiples, and the fewest months of them.
const YEARS: i32 = 10;
const LEAST_MONTHS: usize = 60;
/// The ends at which the history of multiples is cut.
const CUT: (f64, f64) = (0.10, 0.90);
/// Attempts to draw within the cut before the nearest end is taken.
const ATTEMPTS: usize = 64;

/// The value of a company under draws of growth, required return and exit multiple.
#[derive(Clone, Debug, PartialEq)]
pub struct Draws {
    /// P5, P25, P50, P75 and P95.
    pub percentiles: [f64; 5],
    /// The share of draws above the price.
    pub chance_undervalued: Num,
    /// The values at the worst and at the best corner: every draw lies between them.
    pub corners: (f64, f64),
}

/// The own multiples of ten years: the median's logarithm, the spread of logarithms, and the ends of the cut.
#[derive(Clone, Copy, Debug)]
struct Multiples {
    middle: f64,
    spread: f64,
    cut: (f64, f64),
}

/// Draws g from a triangle (lowest, weighted mean and highest scenario), r evenly within a point of the required return,
/// X from a lognormal with the median and spread of the own P/E of ten years, cut at its 10th and 90th percentile, within the exit
/// bounds (fixed where the history is too short); the value is the mean of models 1 and 2, where defined. The same
/// company, date and assumptions draw the same. Model 2 is left out where another stands in its place.
///
/// # Errors
/// When neither model has a value at the corners, or no scenario is defined.
pub fn draws<'a>(view: View<'a>, c: &CompanyAt<'a>, inputs: &Inputs, a: &Assumptions) -> Result<Draws, Why> {
    let cash_means_something = !matches!(inputs.kind, Kind::Bank | Kind::Insurer | Kind::Property);
    let models = [Some(Model::EarningsMultiple), cash_means_something.then_some(Model::OwnerCashFlow)];
    let counting = |(s, g): (Scenario, Num)| Some((a.scenario_weight(s), g.ok()?)).filter(|(weight, _)| *weight > 0.0);
    let growth: Vec<(f64, f64)> = scenario::growths(inputs, a).into_iter().filter_map(counting).collect();
    let ends = growth.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), g| (low.min(g.1), high.max(g.1)));
    let weight: f64 = growth.iter().map(|g| g.0).sum();
    if weight <= 0.0 {
        return Err(Why::TooLittle);
    }
    let mode = growth.iter().map(|g| g.0 * g.1).sum::<f64>() / weight;
    let (r, multiples) = (a.required_return(inputs)?, own_multiples(view, c));
    let mut company = Company::new(inputs, a)?;
    let mut worth = |g: f64, r: f64, x: f64| {
        company.assume(r, x);
        let values = models.iter().flatten().filter_map(|m| company.worth(*m, g).ok());
        let (n, sum) = values.fold((0.0, 0.0), |(n, sum), v| (n + 1.0, sum + v));
        if n > 0.0 { Ok(sum / n) } else { Err(Why::TooLittle) }
    };
    let within = |x: f64| x.clamp(a.exit_pe.0, a.exit_pe.1);
    let exits = multiples.map_or((inputs.exit_pe(a), inputs.exit_pe(a)), |m| (within(m.cut.0), within(m.cut.1)));
    let corners = (worth(ends.0, r + RETURN_OFF, exits.0)?, worth(ends.1, r - RETURN_OFF, exits.1)?);
    let mut chance = ChaCha8Rng::seed_from_u64(seed(c, a));
    let mut all = Vec::with_capacity(a.draws as usize);
    for _ in 0..a.draws {
        let g = triangular(chance.random(), ends, mode);
        let off = RETURN_OFF * (2.0 * chance.random::<f64>() - 1.0);
        let x = multiples.map_or(exits.0, |m| within(multiple(&mut chance, &m)));
        all.push(worth(g, r + off, x)?);
    }
    let at = |p| stats::percentile(&all, p).ok_or(Why::TooLittle);
    #[allow(clippy::cast_precision_loss)]
    let above = |price: f64| all.iter().filter(|v| **v > price).count() as f64 / all.len() as f64;
    Ok(Draws { percentiles: [at(0.05)?, at(0.25)?, at(0.5)?, at(0.75)?, at(0.95)?], chance_undervalued: inputs.price.map(above), corners })
}

/// P/E at the month ends of ten years, the date included.
fn own_multiples<'a>(view: View<'a>, c: &CompanyAt<'a>) -> Option<Multiples> {
    let from = c.t().plus_months(-12 * YEARS);
    let month_start = c.t().month_end().plus_months(-1).month_end();
    let mut rows: Vec<CompanyAt<'a>> = c.month_rows(from).into_iter().filter(|m| m.t() <= month_start).collect();
    rows.push(*c);
    let column = evaluate(view, &compile("pe").ok()?, &rows);
    let known: Vec<f64> = (0..rows.len()).filter_map(|i| column.value(i).number().ok()).collect();
    if known.len() < LEAST_MONTHS {
        return None;
    }
    let logs: Vec<f64> = known.iter().map(|v| v.ln()).collect();
    Some(Multiples {
        middle: stats::median(&known)?.ln(),
        spread: stats::stdev(&logs)?,
        cut: (stats::percentile(&known, CUT.0)?, stats::percentile(&known, CUT.1)?),
    })
}

fn multiple(chance: &mut ChaCha8Rng, m: &Multiples) -> f64 {
    let mut last = m.middle.exp();
    for _ in 0..ATTEMPTS {
        let z: f64 = StandardNormal.sample(chance);
        last = (m.middle + m.spread * z).exp();
        if (m.cut.0..=m.cut.1).contains(&last) {
            return last;
        }
    }
    last.clamp(m.cut.0, m.cut.1)
}

/// The point of a triangle below which the share `u` lies.
fn triangular(u: f64, (low, high): (f64, f64), mode: f64) -> f64 {
    let width = high - low;
    if width <= 0.0 {
        return low;
    }
    let at_mode = (mode - low) / width;
    if u < at_mode { low + (u * width * (mode - low)).sqrt() } else { high - ((1.0 - u) * width * (high - mode)).sqrt() }
}

/// FNV-1a of company, date and assumptions: the same on every machine.
fn seed(c: &CompanyAt<'_>, a: &Assumptions) -> u64 {
    let text = format!("{}|{}|{}", c.company().id, c.t(), a.seed());
    text.bytes().fold(0xCBF2_9CE4_8422_2325, |hash, byte| (hash ^ u64::from(byte)).wrapping_mul(0x0100_0000_01B3))
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Where the cut is far away the logarithms are normal with the middle and spread given; where it is near, nothing is
    /// beyond it.
    #[test]
    fn multiples_are_drawn_around_their_middle() {
        let mut chance = ChaCha8Rng::seed_from_u64(5);
        let wide = Multiples { middle: 10f64.ln(), spread: 0.2, cut: (1e-9, 1e9) };
        let logs: Vec<f64> = (0..20_000).map(|_| multiple(&mut chance, &wide).ln()).collect();
        // The mean of 20,000 strays by 0.2 ÷ √20,000 = 0.0014.
        assert!((stats::mean(&logs).unwrap() - wide.middle).abs() < 0.006);
        assert!((stats::stdev(&logs).unwrap() - 0.2).abs() < 0.005);
        let narrow = Multiples { cut: (9.0, 11.0), ..wide };
        assert!((0..2_000).all(|_| (9.0..=11.0).contains(&multiple(&mut chance, &narrow))));
    }
}
