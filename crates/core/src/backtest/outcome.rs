//! The result of a backtest in its documented form.

use super::account::Reason;
use crate::domain::Day;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// What came of a backtest. Returns are fractions, amounts in units of the 1 that it begins with, in the base currency.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(as = BacktestOutcome))]
#[allow(missing_docs)]
pub struct Outcome {
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub first: Day,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub last: Day,
    pub sessions: usize,
    pub rebalances: Vec<RebalanceOutcome>,
    pub total_return: f64,
    pub annualised_return: f64,
    pub benchmark_total_return: f64,
    pub benchmark_annualised_return: f64,
    /// Annualised, less the benchmark's.
    pub excess: f64,
    pub annual_volatility: Option<f64>,
    pub benchmark_volatility: Option<f64>,
    pub max_drawdown: f64,
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>))]
    pub drawdown_from: Option<Day>,
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>))]
    pub drawdown_to: Option<Day>,
    pub benchmark_max_drawdown: f64,
    pub sharpe: Option<f64>,
    pub sortino: Option<f64>,
    /// The mean yield of ten-year government bonds in the base currency, 0 where there is none.
    pub risk_free: f64,
    pub share_of_months_beating: Option<f64>,
    pub share_of_picks_beating: Option<f64>,
    /// Half of what was bought and sold, of the value before, a year.
    pub turnover_a_year: f64,
    pub average_held: f64,
    pub cost_paid: f64,
    /// The share of sessions at whose close nothing is held.
    pub time_in_cash: f64,
    /// The mean share of cash.
    pub average_cash: f64,
    pub by_year: BTreeMap<String, f64>,
    pub benchmark_by_year: BTreeMap<String, f64>,
    pub warnings: Warnings,
    pub warning_figures: WarningFigures,
    /// What to know before the curve is believed, in sentences.
    pub said: Vec<String>,
    /// The first session, month ends and the last session.
    pub curve: Vec<CurvePoint>,
    /// The same day by day.
    pub daily: Daily,
    /// Annual excess return over the three, and five, years before each month's end.
    pub rolling_3: Vec<DayValue>,
    pub rolling_5: Vec<DayValue>,
    pub trades: Vec<TradeOutcome>,
    pub payouts: Vec<Payout>,
    pub notes: Vec<NoteOutcome>,
    pub picks: Vec<PickOutcome>,
    /// Money by symbol, costs not taken off.
    pub gain_by_company: BTreeMap<String, f64>,
    pub best_picks: Vec<PickOutcome>,
    pub worst_picks: Vec<PickOutcome>,
    pub benchmark_index: Option<BenchmarkIndex>,
    /// How many companies each decision had to choose from.
    pub candidates: Vec<usize>,
    pub luck: LuckOutcome,
    /// `None` of fewer than two months.
    pub bootstrap: Option<Bootstrap>,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct RebalanceOutcome {
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub decision: Day,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub trade: Day,
    /// Symbols held, or waiting to be bought, after it.
    pub holdings: Vec<String>,
}

#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs, clippy::struct_excessive_bools)]
pub struct Warnings {
    /// Fewer than 20 rebalances.
    pub few_rebalances: bool,
    /// Fewer than 5 held on average.
    pub few_held: bool,
    /// One company made more than a quarter of the gain.
    pub one_pick: bool,
    /// One year made more than half of it.
    pub one_year: bool,
    /// Missing data left out more than 20 % of the universe.
    pub undefined_data: bool,
}

#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct WarningFigures {
    pub rebalances: usize,
    pub top_company: Option<String>,
    pub top_company_share_of_gain: Option<f64>,
    pub top_year: Option<String>,
    pub top_year_share_of_gain: Option<f64>,
    pub undefined_share: Option<f64>,
}

#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct CurvePoint {
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub date: Day,
    pub value: f64,
    pub benchmark: f64,
}

/// Day by day, in columns.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Daily {
    #[cfg_attr(feature = "openapi", schema(value_type = Vec<String>))]
    pub dates: Vec<Day>,
    pub value: Vec<f64>,
    pub benchmark: Vec<f64>,
    /// The share of cash.
    pub cash: Vec<f64>,
}

#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct DayValue {
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub date: Day,
    pub value: f64,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct TradeOutcome {
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub date: Day,
    pub symbol: String,
    /// In the base currency, a sale negative.
    pub amount: f64,
    /// The close as it was seen that day, in the listing's currency.
    pub price: f64,
    pub why: Reason,
}

/// What was paid for one that left the exchange.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Payout {
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub date: Day,
    pub symbol: String,
    pub amount: f64,
}

/// A pick that had no price on its day.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct NoteOutcome {
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub date: Day,
    pub symbol: String,
    pub what: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>))]
    pub on: Option<Day>,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct PickOutcome {
    pub symbol: String,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub decision: Day,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub from: Day,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub to: Day,
    pub start: f64,
    pub end: f64,
    pub ended_by: Reason,
    #[serde(rename = "return")]
    pub returned: f64,
    pub benchmark_return: f64,
    pub beat: bool,
}

/// The index that a backtest is compared with.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct BenchmarkIndex {
    pub index: String,
    /// Its levels follow from its members.
    pub derived: bool,
    pub level_at_first: f64,
    pub level_at_last: f64,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub first_date: Day,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct LuckOutcome {
    pub draws: usize,
    /// How many companies are held, or wait to be bought, after each trade session.
    pub portfolio_sizes: Vec<usize>,
    /// Where the total return falls among those of the random portfolios.
    pub percentile: f64,
    pub total_return_quantiles: Vec<Quantile>,
    pub mean_total_return: f64,
    /// How many random portfolios came to an annual return over the benchmark between two ends, from the lowest to the highest.
    pub histogram: Vec<Bin>,
    /// Quantiles 5, 25, 50, 75 and 95 % of the value at each trade session but the first, and at the end.
    pub fan: Vec<FanPoint>,
    /// What the best of so many tries shows by chance, as an annual return over the benchmark: of 1, 2, 3, … tries.
    pub best_of: Vec<f64>,
}

#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Quantile {
    pub quantile: f64,
    pub value: f64,
}

#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Bin {
    pub low: f64,
    pub high: f64,
    pub count: usize,
}

#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct FanPoint {
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub date: Day,
    pub values: Vec<f64>,
}

#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Bootstrap {
    pub months: usize,
    pub resamples: usize,
    /// The annual excess return below which a twentieth of the resamples falls, and above which another.
    pub low: f64,
    pub high: f64,
}
