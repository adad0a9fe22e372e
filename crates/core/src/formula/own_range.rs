//! Where today stands in a company's own history.

use super::{
    compile::Compiled,
    env::Env,
    eval::Evaluator,
    host::View,
    plan::{NumPlan, OwnStat, Plan},
    series,
};
use crate::{Num, panel::CompanyAt};

/// Where today stands in a company's own history of a measure.
#[derive(Clone, Copy, Debug, PartialEq, serde::Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OwnRange {
    /// Lowest of the window.
    pub low: f64,
    /// A quarter lies below.
    pub lower_quartile: f64,
    /// Median of the window.
    pub median: f64,
    /// A quarter lies above.
    pub upper_quartile: f64,
    /// Highest of the window.
    pub high: f64,
    /// The value at the date.
    pub today: f64,
    /// Its rank, 0 the lowest ever and 100 the highest.
    pub rank: f64,
    /// How many months, the date included.
    pub months: usize,
}

/// For a formula that is a rank in the own history: the range behind each row's rank. `None` for other formulas.
#[must_use]
pub fn own_ranges<'a>(view: View<'a>, formula: &Compiled, rows: &[CompanyAt<'a>]) -> Option<Vec<Option<OwnRange>>> {
    let Plan::Number(NumPlan::Own { stat: OwnStat::Rank, window, of, body }, _) = &formula.plan else { return None };
    let dates = rows.iter().map(CompanyAt::t).collect();
    let evaluator = Evaluator::for_rows(view, [&formula.plan], &dates, rows);
    let today = evaluator.num(body, rows, Env::default());
    let history = &evaluator.histories[of];
    let range = |(r, today): (&CompanyAt<'_>, Num)| {
        let months = history.window(r.index, r.t().minus(*window), r.t());
        let rank = series::own(OwnStat::Rank, &mut months.clone(), today, window.in_months()).ok()?;
        let (today, mut all) = (today.ok().filter(|v| v.is_finite())?, months);
        all.push(today);
        let at = |p| crate::stats::percentile(&all, p);
        Some(OwnRange {
            low: at(0.0)?,
            lower_quartile: at(0.25)?,
            median: at(0.5)?,
            upper_quartile: at(0.75)?,
            high: at(1.0)?,
            today,
            rank,
            months: all.len(),
        })
    };
    Some(rows.iter().zip(today).map(range).collect())
}
