//! Does a measure tell what follows? Fifths of the universe by it, and what each brought until the next trade session.

use super::{
    BacktestError,
    calendar::Calendar,
    decide::{Among, Chooser, number},
    field::{Growth, Start},
    tested::field,
};
use crate::{
    domain::{Currency, Day},
    engine::{Context, Section, Settings},
    formula::Compiled,
    screening::{Screen, ScreenUniverse},
    stats::{mean, stdev},
};
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// Fewer values than this make no fifths.
const FEWEST: usize = 5;

/// What is asked: the documented JSON form of a value check.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct ValueCheck {
    pub formula: String,
    #[serde(default)]
    pub universe: ScreenUniverse,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub from: Day,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub to: Day,
    /// Months between dates: 1, 3, 6 or 12.
    #[serde(default = "three")]
    pub every: u32,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub base: Currency,
}

const fn three() -> u32 {
    3
}

/// What followed, by fifths from the lowest to the highest value of the measure.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct ValueCheckOutcome {
    pub dates: Vec<FifthsOutcome>,
    /// The mean over the dates.
    pub mean_fifths: [f64; 5],
    /// Highest less lowest fifth.
    pub mean_spread: f64,
    /// mean ÷ (sample standard deviation ÷ √dates); `None` of fewer than two dates.
    pub t_statistic: Option<f64>,
    pub mean_rank_correlation: Option<f64>,
    /// The mean share of the universe for which the measure has no answer.
    pub undefined_share: f64,
}

/// One date.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct FifthsOutcome {
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub decision: Day,
    /// Companies with a value and a return.
    pub n: usize,
    /// The mean return of each fifth.
    pub fifths: [f64; 5],
    pub spread: f64,
    /// Spearman's, of values and returns; `None` where one does not differ.
    pub rank_correlation: Option<f64>,
}

/// Checks a measure. Fifth k of n companies in order of the measure, ties by symbol, is positions ⌊kn/5⌋ to ⌊(k+1)n/5⌋ − 1; the return
/// runs from the session after the date to that after the next, dividends and those that leave the exchange counted. The last date has
/// no next one; dates with fewer than five companies are left out.
///
/// # Errors
/// Settings that cannot be meant; dates without data; a formula that is none, is no number, or has hardly any answers.
pub fn value_check(
    context: &Context,
    asked: &ValueCheck,
    mut progress: impl FnMut(usize, usize),
) -> Result<ValueCheckOutcome, BacktestError> {
    if asked.from >= asked.to {
        return Err(super::SettingsError::Days(asked.from, asked.to).into());
    }
    if !super::INTERVALS.contains(&asked.every) {
        return Err(super::SettingsError::Interval(asked.every).into());
    }
    let context = context.with(Settings { base: asked.base, ..context.settings().clone() });
    let measure = number(&context, &asked.formula)?;
    let calendar = Calendar::new(context.snapshot(), asked.from, asked.to, asked.every)?;
    let screen = Screen { universe: asked.universe.clone(), ..Screen::default() };
    let everyone = Chooser::everyone(&context, &screen)?;
    let (apart, all) = (context.apart(), calendar.rebalances.len());
    let days: Vec<Day> = calendar.rebalances.iter().map(|r| calendar.sessions[r.decision]).collect();
    let formulas: Vec<Arc<Compiled>> = everyone.formulas().iter().cloned().chain([measure.clone()]).collect();
    let mut asked_of = Vec::with_capacity(all);
    for some in days.chunks(Context::days_together(&formulas)) {
        apart.prepare_days(some, &formulas);
        for day in some {
            context.cancel().check();
            progress(asked_of.len(), all);
            let (among, answers) = answers(&context, &apart, &everyone, &measure, *day)?;
            asked_of.push((*day, among, answers));
        }
    }
    let among: Vec<Arc<Among>> = asked_of.iter().map(|(_, among, _)| among.clone()).collect();
    if among.iter().all(|a| a.candidates.is_empty()) {
        return Err(BacktestError::Nobody);
    }
    let field = field(&context, &calendar, &among);
    // The last date has no next one.
    let whole = &asked_of[..all - 1];
    let share = |answers: &[Option<f64>]| 1.0 - answers.iter().flatten().count() as f64 / answers.len().max(1) as f64;
    let undefined: Vec<f64> = whole.iter().map(|(_, _, answers)| share(answers)).collect();
    let dates: Vec<FifthsOutcome> =
        whole.iter().zip(&field.growth).filter_map(|((day, _, answers), growth)| fifths(*day, answers, growth)).collect();
    if dates.is_empty() {
        return Err(BacktestError::NoFifths(asked.formula.clone()));
    }
    let spreads: Vec<f64> = dates.iter().map(|d| d.spread).collect();
    let mean_of = |k: usize| mean(&dates.iter().map(|d| d.fifths[k]).collect::<Vec<_>>()).unwrap_or_default();
    let mean_spread = mean(&spreads).unwrap_or_default();
    Ok(ValueCheckOutcome {
        mean_fifths: std::array::from_fn(mean_of),
        mean_spread,
        t_statistic: stdev(&spreads).filter(|s| *s > 0.0).map(|s| mean_spread / (s / (spreads.len() as f64).sqrt())),
        mean_rank_correlation: mean(&dates.iter().filter_map(|d| d.rank_correlation).collect::<Vec<_>>()),
        undefined_share: mean(&undefined).unwrap_or_default(),
        dates,
    })
}

/// Whom the universe holds on a day, and the measure's answers for them.
fn answers(
    context: &Context,
    apart: &Context,
    everyone: &Chooser,
    measure: &Arc<Compiled>,
    day: Day,
) -> Result<(Arc<Among>, Vec<Option<f64>>), BacktestError> {
    let section = Section::new(apart, day);
    section.prepare(&[measure.clone(), everyone.market_cap.clone()]);
    let among = everyone.among(context, &section)?;
    let column = section.column(measure);
    let numbers = column.numbers().unwrap_or_default();
    let of = |company: &u32| section.place(*company).and_then(|place| numbers[place].ok());
    let answers = among.candidates.iter().map(of).collect();
    Ok((among, answers))
}

fn fifths(decision: Day, answers: &[Option<f64>], growth: &[Growth]) -> Option<FifthsOutcome> {
    let with_return = |(x, g): (&Option<f64>, &Growth)| Some(((*x)?, (g.start != Start::Never).then_some(g.bought - 1.0)?));
    let mut all: Vec<(f64, f64)> = answers.iter().zip(growth).filter_map(with_return).collect();
    let n = all.len();
    if n < FEWEST {
        return None;
    }
    // The order of candidates is that of symbols, and sorting keeps it among equals.
    all.sort_by(|a, b| a.0.total_cmp(&b.0));
    let of = |k: usize| mean(&all[k * n / 5..(k + 1) * n / 5].iter().map(|x| x.1).collect::<Vec<_>>()).unwrap_or_default();
    let fifths: [f64; 5] = std::array::from_fn(of);
    Some(FifthsOutcome { decision, n, fifths, spread: fifths[4] - fifths[0], rank_correlation: spearman(&all) })
}

/// Spearman's rank correlation: Pearson's of the ranks, equal values sharing the mean of theirs.
fn spearman(pairs: &[(f64, f64)]) -> Option<f64> {
    let (x, y) = (ranks(pairs.iter().map(|p| p.0)), ranks(pairs.iter().map(|p| p.1)));
    let (mx, my) = (mean(&x)?, mean(&y)?);
    let sum = |f: &dyn Fn(f64, f64) -> f64| x.iter().zip(&y).map(|(a, b)| f(a - mx, b - my)).sum::<f64>();
    let (xx, yy) = (sum(&|a, _| a * a), sum(&|_, b| b * b));
    (xx > 0.0 && yy > 0.0).then(|| sum(&|a, b| a * b) / (xx * yy).sqrt())
}

#[allow(clippy::float_cmp)]
fn ranks(values: impl Iterator<Item = f64>) -> Vec<f64> {
    let values: Vec<f64> = values.collect();
    let mut order: Vec<usize> = (0..values.len()).collect();
    order.sort_by(|a, b| values[*a].total_cmp(&values[*b]));
    let mut ranks = vec![0.0; values.len()];
    let mut at = 0;
    while at < order.len() {
        let equal = order[at..].iter().take_while(|i| values[**i] == values[order[at]]).count();
        let shared = at as f64 + (equal as f64 - 1.0) / 2.0;
        order[at..at + equal].iter().for_each(|i| ranks[*i] = shared);
        at += equal;
    }
    ranks
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Ranks 0, 1.5, 1.5, 3 against 3, 1, 2, 0: −(1.5 × 1.5 + 0 + 0 + 1.5 × 1.5) ÷ √(4.5 × 5) = −4.5 ÷ 4.743.
    #[test]
    fn rank_correlations_share_ranks_among_equals() {
        let pairs = [(1.0, 9.0), (2.0, 3.0), (2.0, 4.0), (7.0, 1.0)];
        assert!((spearman(&pairs).unwrap() + 4.5 / 22.5_f64.sqrt()).abs() < 1e-12);
        assert_eq!(spearman(&[(1.0, 2.0), (1.0, 3.0)]), None);
    }

    /// Seven companies: fifths of one, one, one, two and two.
    #[test]
    fn fifths_are_cut_by_whole_companies() {
        let grown = |r: f64| Growth { start: Start::Now, bought: 1.0 + r, held: 1.0 + r, in_cash: false };
        let growth: Vec<Growth> = [0.5, 0.1, 0.2, 0.3, 0.4, 0.6, 0.7, 0.9].map(grown).into();
        let answers = [Some(5.0), Some(1.0), Some(2.0), Some(3.0), Some(4.0), Some(6.0), Some(7.0), None];
        let got = fifths("2020-03-31".parse().unwrap(), &answers, &growth).unwrap();
        let want = [0.1, 0.2, 0.35, 0.5, 0.65];
        assert!(got.fifths.iter().zip(want).all(|(a, b)| (a - b).abs() < 1e-12), "{:?}", got.fifths);
        assert_eq!((got.n, got.rank_correlation), (7, Some(1.0)));
    }
}
