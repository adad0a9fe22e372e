//! The functions of the formula language: one table, from which the checker, completion, help and explanations come.

use super::plan::{FiscalStat, InterimStat, Math, OwnStat};
use FiscalStat as F;
use OwnStat as O;

/// A function of the language.
#[derive(Clone, Copy, Debug)]
pub struct Function {
    /// As it is written.
    pub name: &'static str,
    /// What it takes, as a message says it.
    pub arguments: &'static str,
    /// What it answers with, in a few words.
    pub meaning: &'static str,
    /// A call as a user would type it.
    pub example: &'static str,
    /// Only formulas of the product's own may use it.
    pub(super) internal: bool,
    pub(super) form: Form,
}

/// What sort of function it is: how its arguments are checked, and which plan it becomes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Form {
    Fiscal(FiscalStat),
    FiscalCount,
    Interim(InterimStat),
    QuarterCount,
    Own(OwnStat),
    Peers { rank: bool },
    Ago { change: bool },
    If,
    Else,
    Defined,
    Extreme { highest: bool },
    Round,
    Math(Math),
    MeanBalance { capital: bool },
    AShare,
}

const fn function(form: Form, name: &'static str, arguments: &'static str, meaning: &'static str, example: &'static str) -> Function {
    Function { name, arguments, meaning, example, internal: false, form }
}

const fn internal(form: Form, name: &'static str, arguments: &'static str, meaning: &'static str) -> Function {
    Function { internal: true, ..function(form, name, arguments, meaning, "") }
}

const fn fy(stat: F, name: &'static str, meaning: &'static str, example: &'static str) -> Function {
    function(Form::Fiscal(stat), name, "a formula of statement items and a number of years", meaning, example)
}

const fn q(stat: InterimStat, name: &'static str, meaning: &'static str, example: &'static str) -> Function {
    function(Form::Interim(stat), name, "a formula of statement items and a number of quarters", meaning, example)
}

const fn h(stat: InterimStat, name: &'static str, meaning: &'static str, example: &'static str) -> Function {
    function(Form::Interim(stat), name, "a formula of statement items and a number of half-years", meaning, example)
}

const fn own(stat: O, name: &'static str, meaning: &'static str, example: &'static str) -> Function {
    function(Form::Own(stat), name, "a formula and a window such as 10y", meaning, example)
}

const fn peers(rank: bool, name: &'static str, meaning: &'static str, example: &'static str) -> Function {
    let arguments = "a formula and a group (sector, industry, country, sector_country, universe)";
    function(Form::Peers { rank }, name, arguments, meaning, example)
}

const fn ago(change: bool, name: &'static str, meaning: &'static str, example: &'static str) -> Function {
    function(Form::Ago { change }, name, "a formula and a period such as 1y", meaning, example)
}

const fn math(of: Math, name: &'static str, meaning: &'static str, example: &'static str) -> Function {
    function(Form::Math(of), name, "one number", meaning, example)
}

const fn extreme(highest: bool, name: &'static str, meaning: &'static str, example: &'static str) -> Function {
    function(Form::Extreme { highest }, name, "one number or more", meaning, example)
}

/// Every function.
pub const FUNCTIONS: &[Function] = &[
    fy(F::At, "fy", "x of k fiscal years ago, 0 the newest", "fy(revenue, 3)"),
    fy(F::Average, "fy_average", "mean of the last n fiscal years", "fy_average(roe, 5)"),
    fy(F::Median, "fy_median", "median of the last n fiscal years", "fy_median(net_margin, 5)"),
    fy(F::Low, "fy_low", "lowest of the last n fiscal years", "fy_low(eps, 10)"),
    fy(F::High, "fy_high", "highest of the last n fiscal years", "fy_high(net_margin, 5)"),
    fy(F::Stdev, "fy_stdev", "standard deviation over the last n fiscal years", "fy_stdev(gross_margin, 5)"),
    fy(F::Sum, "fy_sum", "sum of the last n fiscal years", "fy_sum(free_cash_flow, 3)"),
    fy(F::Growth, "fy_growth", "compound growth a year over n fiscal years", "fy_growth(revenue, 5)"),
    fy(F::Trend, "fy_trend", "growth a year of the line through n + 1 fiscal years", "fy_trend(eps, 5)"),
    fy(F::TrendFit, "fy_trend_fit", "how well that line fits, 0 to 1", "fy_trend_fit(eps, 9)"),
    fy(F::Steadiness, "fy_steadiness", "how little n + 1 fiscal years stray from their line, 0 to 1", "fy_steadiness(eps, 9)"),
    fy(F::Slope, "fy_slope", "change a year of the straight line through n + 1 fiscal years", "fy_slope(net_margin, 5)"),
    fy(F::Rises, "fy_rises", "how many of n comparisons with the year before are rises", "fy_rises(eps, 5)"),
    function(
        Form::FiscalCount,
        "fy_count",
        "a condition and a number of years",
        "in how many of the last n fiscal years a condition holds",
        "fy_count(eps > 0, 10)",
    ),
    q(InterimStat::At, "q", "x of the k-th newest quarter, 0 the newest", "q(revenue, 0)"),
    q(InterimStat::Yoy, "q_yoy", "the k-th newest quarter against the same quarter a year before", "q_yoy(eps, 0)"),
    q(InterimStat::Average, "q_average", "mean of the newest n quarters", "q_average(gross_margin, 4)"),
    h(InterimStat::Half, "h", "x of the k-th newest half-year, 0 the newest", "h(revenue, 0)"),
    h(InterimStat::HalfYoy, "h_yoy", "the k-th newest half-year against the same one a year before", "h_yoy(eps, 0)"),
    Function { internal: true, ..q(InterimStat::Acceleration, "q_acceleration", "quarters in a row of rising growth", "") },
    function(
        Form::QuarterCount,
        "q_count",
        "a condition and a number of quarters",
        "in how many of the newest n quarters a condition holds",
        "q_count(eps > 0, 8)",
    ),
    own(O::Rank, "own_rank", "place in its own history, 0 the lowest and 100 the highest", "own_rank(pe, 10y)"),
    own(O::Median, "own_median", "median of its own history", "own_median(pe, 10y)"),
    own(O::Mean, "own_mean", "mean of its own history", "own_mean(pe, 10y)"),
    own(O::Stdev, "own_stdev", "standard deviation of its own history", "own_stdev(pe, 10y)"),
    own(O::Low, "own_low", "lowest of its own history", "own_low(pb, 10y)"),
    own(O::High, "own_high", "highest of its own history", "own_high(pb, 10y)"),
    own(O::Z, "own_z", "distance from its own mean, in standard deviations", "own_z(ev_ebit, 5y)"),
    peers(true, "rank_in", "place among its peers, 0 the lowest and 100 the highest", "rank_in(roe, sector)"),
    peers(false, "median_in", "median of its peers", "median_in(pe, industry)"),
    ago(false, "ago", "the same at an earlier date", "ago(pe, 1y)"),
    ago(true, "change_of", "change since an earlier date", "change_of(roic, 1y)"),
    function(Form::If, "if", "a condition and two answers", "one of two answers, by a condition", "if(net_margin > 0, pe, pb)"),
    function(
        Form::Else,
        "else",
        "a formula and what stands in where it is undefined",
        "x, or what stands in where x is undefined",
        "else(dividend_yield, 0)",
    ),
    function(Form::Defined, "defined", "one formula", "whether x is defined", "defined(pe)"),
    extreme(false, "min", "the smallest", "min(pe, 40)"),
    extreme(true, "max", "the largest", "max(net_margin, 0)"),
    function(Form::Round, "round", "a number and, if wanted, how many decimals", "x rounded to n decimals", "round(pe, 1)"),
    math(Math::Abs, "abs", "x without its sign", "abs(net_buyback)"),
    math(Math::Sqrt, "sqrt", "square root", "sqrt(pe * pb)"),
    math(Math::Ln, "ln", "natural logarithm", "ln(market_cap)"),
    math(Math::Exp, "exp", "e to the power of x", "exp(net_margin)"),
    internal(Form::MeanBalance { capital: false }, "mean_balance", "one formula", "mean of opening and closing balance"),
    internal(Form::MeanBalance { capital: true }, "mean_capital", "one formula", "the same of capital, which must be positive"),
    internal(Form::AShare, "a_share", "an amount and a number of shares", "an amount for one traded unit"),
];

/// The words of the language that are no functions.
pub const WORDS: &[&str] = &[
    "and",
    "or",
    "not",
    "between",
    "in",
    "true",
    "false",
    "ytd",
    "day",
    "week",
    "month",
    "sector",
    "industry",
    "country",
    "sector_country",
    "universe",
];

/// Those that a user may write.
pub fn functions() -> impl Iterator<Item = &'static Function> {
    FUNCTIONS.iter().filter(|f| !f.internal)
}

/// The function of a name, where it may be written.
pub(super) fn find(name: &str, internal: bool) -> Option<&'static Function> {
    FUNCTIONS.iter().find(|f| f.name == name && (internal || !f.internal))
}

/// The name of a function of a form.
pub(super) fn name_of(form: Form) -> &'static str {
    FUNCTIONS.iter().find(|f| f.form == form).map_or("", |f| f.name)
}
