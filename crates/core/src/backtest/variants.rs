//! Does it hold, or was it a knife's edge? The same backtest with one thing changed at a time.

use super::{
    BacktestError,
    calendar::Calendar,
    decide::Chooser,
    document::{Backtest, MOST_HELD},
    outcome::Outcome,
    run::run,
};
use crate::{
    domain::Day,
    engine::{Context, Settings},
    formula::{Compiled, Unit},
    screening::{Criterion, Screen},
    wording::sentence,
};
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// Portfolios of these sizes are tried.
const SIZES: [usize; 4] = [5, 10, 20, 30];
/// By how much each threshold is moved.
const MOVED: f64 = 0.2;

/// What a backtest came to with one thing changed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct VariantOutcome {
    /// What is changed: "as it is", "when", "how many", "costs" or "threshold".
    pub group: String,
    /// The change in words.
    pub change: String,
    pub annualised_return: f64,
    pub excess: f64,
    pub max_drawdown: f64,
    /// Where it falls among random portfolios of its own sizes.
    pub percentile: f64,
    pub average_held: f64,
}

/// One thing changed.
struct Variant {
    group: &'static str,
    change: String,
    settings: Backtest,
    screen: Screen,
}

/// The backtest as it is, then rebalanced one and two months later, with 5, 10, 20 and 30 companies, at twice the cost, and with each
/// threshold a fifth higher and lower. Those that cannot be run are left out.
///
/// # Errors
/// When the backtest as it is cannot be run.
pub fn variants(
    context: &Context,
    settings: &Backtest,
    screen: &Screen,
    progress: &mut dyn FnMut(usize, usize),
) -> Result<Vec<VariantOutcome>, BacktestError> {
    let all = changed(context, settings, screen);
    decide_together(context, &all)?;
    let mut out = Vec::with_capacity(all.len());
    for (done, variant) in all.iter().enumerate() {
        progress(done, all.len());
        match run(context, &variant.settings, &variant.screen, &mut |_| {}) {
            Ok(outcome) => out.push(told(variant, &outcome)),
            Err(e) if done == 0 => return Err(e),
            Err(_) => {}
        }
    }
    Ok(out)
}

fn told(variant: &Variant, outcome: &Outcome) -> VariantOutcome {
    VariantOutcome {
        group: variant.group.to_owned(),
        change: variant.change.clone(),
        annualised_return: outcome.annualised_return,
        excess: outcome.excess,
        max_drawdown: outcome.max_drawdown,
        percentile: outcome.luck.percentile,
        average_held: outcome.average_held,
    }
}

/// Takes the decisions of one day for all that decide on it, while its columns are at hand: another threshold costs next to nothing then.
fn decide_together(context: &Context, all: &[Variant]) -> Result<(), BacktestError> {
    let Some(as_it_is) = all.first() else { return Ok(()) };
    let context = context.with(Settings { base: as_it_is.settings.base, ..context.settings().clone() });
    let apart = context.apart();
    let calendar = Calendar::of(context.snapshot(), &as_it_is.settings)?;
    let same_days = all.iter().filter(|v| v.settings.from == as_it_is.settings.from);
    let choosers: Vec<Chooser> = same_days.filter_map(|v| Chooser::new(&context, &v.settings, &v.screen).ok()).collect();
    let formulas: Vec<Arc<Compiled>> = choosers.iter().flat_map(|c| c.formulas().iter().cloned()).collect();
    let days: Vec<Day> = calendar.rebalances.iter().map(|r| calendar.sessions[r.decision]).collect();
    for some in days.chunks(Context::days_together(&formulas)) {
        apart.prepare_days(some, &formulas);
        for (day, chooser) in some.iter().flat_map(|day| choosers.iter().map(move |chooser| (*day, chooser))) {
            context.cancel().check();
            chooser.decision(&context, &apart, day)?;
        }
    }
    Ok(())
}

fn changed(context: &Context, settings: &Backtest, screen: &Screen) -> Vec<Variant> {
    let of = |group, change: String, settings: Backtest| Variant { group, change, settings, screen: screen.clone() };
    let mut out = vec![of("as it is", "as it is".to_owned(), settings.clone())];
    for months in [1, 2] {
        let change = format!("rebalanced {}", if months == 1 { "a month later" } else { "two months later" });
        out.push(of("when", change, Backtest { from: settings.from.month_start().plus_months(months), ..settings.clone() }));
    }
    for top in SIZES.into_iter().filter(|top| *top != settings.top.unwrap_or(MOST_HELD)) {
        out.push(of("how many", format!("the first {top}"), Backtest { top: Some(top), ..settings.clone() }));
    }
    out.push(of("costs", "at twice the cost".to_owned(), Backtest { cost_bps: settings.cost_bps * 2.0, ..settings.clone() }));
    let places = screen.blocks.iter().enumerate().flat_map(|(b, block)| (0..block.criteria.len()).map(move |c| (b, c)));
    for (b, c) in places.filter(|(b, c)| screen.blocks[*b].criteria[*c].enabled) {
        let unit = context.compile(&screen.blocks[b].criteria[c].formula).ok().map(|f| f.unit);
        for moved in moved(&screen.blocks[b].criteria[c], unit) {
            let said = sentence(&moved, unit, &context.settings().library);
            let mut variant = of("threshold", format!("{} {}", said.what, said.bound), settings.clone());
            variant.screen.blocks[b].criteria[c] = moved;
            out.push(variant);
        }
    }
    out
}

/// A criterion with each of its bounds a fifth lower and higher, of counts by one at least; a bound of nothing stays.
fn moved(criterion: &Criterion, unit: Option<Unit>) -> Vec<Criterion> {
    let step = |b: f64| if unit == Some(Unit::Count) { (b.abs() * MOVED).round().max(1.0) } else { b.abs() * MOVED };
    let to = |bound: Option<f64>| bound.filter(|b| *b != 0.0).into_iter().flat_map(move |b| [b - step(b), b + step(b)]);
    let mins = to(criterion.min).map(|min| Criterion { min: Some(min), ..criterion.clone() });
    mins.chain(to(criterion.max).map(|max| Criterion { max: Some(max), ..criterion.clone() })).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    /// 0.2 becomes 0.16 and 0.24; four years become three and five; nothing stays nothing, and an open end open.
    #[test]
    fn thresholds_are_moved_by_a_fifth() {
        let bounds = |min, max, unit| -> Vec<(Option<f64>, Option<f64>)> {
            moved(&Criterion { min, max, ..Criterion::default() }, Some(unit)).into_iter().map(|c| (c.min, c.max)).collect()
        };
        assert_eq!(bounds(Some(4.0), None, Unit::Count), [(Some(3.0), None), (Some(5.0), None)]);
        assert_eq!(bounds(Some(0.0), Some(-10.0), Unit::Ratio), [(Some(0.0), Some(-12.0)), (Some(0.0), Some(-8.0))]);
        assert_eq!(bounds(None, None, Unit::Flag), []);
    }
}
