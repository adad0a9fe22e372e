//! Where the price stands: confirmation, never the reason to buy.

use super::entry::{Body, Family, Measure, Param, ParamKind};
use crate::{formula::Unit, price};

const fn entry(id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, body: Body) -> Measure {
    Measure::new(Family::Price, id, label, unit, meaning, body).undefined("the price history is shorter")
}

pub(super) const MEASURES: &[Measure] = &[
    entry(
        "change",
        "Price change",
        Unit::Percent,
        "Change of the price over a period, without dividends; days count sessions.",
        Body::Number(price::change),
    )
    .params(&[Param { name: "period", kind: ParamKind::Period, default: None, example: "1y" }]),
    entry("high_52w", "52-week high", Unit::PerShare, "Highest price of the last 52 weeks.", Body::Number(|c, _| price::high_52w(c))),
    entry("low_52w", "52-week low", Unit::PerShare, "Lowest price of the last 52 weeks.", Body::Number(|c, _| price::low_52w(c))),
    entry(
        "from_high_52w",
        "From 52-week high",
        Unit::Percent,
        "How far the price is from its 52-week high.",
        Body::Number(|c, _| Ok(c.price()? / price::high_52w(c)? - 1.0)),
    ),
    entry(
        "from_low_52w",
        "From 52-week low",
        Unit::Percent,
        "How far the price is above its 52-week low.",
        Body::Number(|c, _| Ok(c.price()? / price::low_52w(c)? - 1.0)),
    ),
    entry(
        "midpoint_52w",
        "52-week middle",
        Unit::PerShare,
        "Half-way between the 52-week high and low.",
        Body::Number(|c, _| Ok(f64::midpoint(price::high_52w(c)?, price::low_52w(c)?))),
    ),
    entry(
        "at_low_52w",
        "At its yearly low",
        Unit::Flag,
        "The 52-week low fell within the last n sessions, or the price is at most 3 % above it.",
        Body::Flag(price::at_low_52w),
    )
    .params(&[Param::sessions(None, "10")]),
    entry("sma", "Moving average", Unit::PerShare, "Mean close of the last n sessions.", Body::Number(price::sma))
        .params(&[Param::sessions(None, "200")]),
    entry(
        "volatility",
        "Volatility",
        Unit::Percent,
        "Yearly standard deviation of daily log returns over n sessions.",
        Body::Number(price::volatility),
    )
    .params(&[Param::sessions(Some("63"), "63")])
    .lower(),
    entry(
        "drawdown",
        "Drawdown",
        Unit::Percent,
        "How far the price is below the highest close of five years.",
        Body::Number(|c, _| price::drawdown(c)),
    )
    .higher(),
];
