//! Where the price stands: confirmation, never the reason to buy.

use crate::{
    formula::{Body, Family, FlagKernel, Measure, Param, ParamKind, Unit},
    price::{self, Candle},
};

const fn entry(id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, body: Body) -> Measure {
    Measure::new(Family::Price, id, label, unit, meaning, body).undefined("the price history is shorter")
}

const BAND: &[Param] =
    &[Param::sessions(Some("20"), "20"), Param { name: "k", kind: ParamKind::Factor, default: Some("2"), example: "2" }, Param::BARS];
const CHANNEL: &[Param] = &[Param::sessions(Some("126"), "126")];

const fn candle(id: &'static str, label: &'static str, meaning: &'static str, kernel: FlagKernel) -> Measure {
    entry(id, label, Unit::Flag, meaning, Body::Flag(kernel)).params(&[Param::BARS]).source("Nison 1991")
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
    )
    .lower(),
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
    entry("sma", "Moving average", Unit::PerShare, "Mean close of the last n bars.", Body::Number(price::sma))
        .params(&[Param::sessions(None, "200"), Param::BARS]),
    entry(
        "ema",
        "Exponential average",
        Unit::PerShare,
        "Average close in which newer bars weigh more: α = 2 ÷ (n + 1), seeded with the mean of the first n.",
        Body::Number(price::ema),
    )
    .params(&[Param::sessions(None, "50"), Param::BARS]),
    entry(
        "rsi",
        "Relative strength",
        Unit::Rank,
        "How much of the moves of about n bars were rises, 0–100; 50 when nothing moved.",
        Body::Number(price::rsi),
    )
    .params(&[Param::sessions(Some("14"), "14"), Param::BARS])
    .source("Wilder 1978"),
    entry(
        "bollinger_lower",
        "Lower band",
        Unit::PerShare,
        "Mean close of n bars less k population standard deviations.",
        Body::Number(|c, a| price::bollinger(c, a).map(|b| b.0)),
    )
    .params(BAND)
    .source("Bollinger 2001"),
    entry(
        "bollinger_upper",
        "Upper band",
        Unit::PerShare,
        "Mean close of n bars plus k population standard deviations.",
        Body::Number(|c, a| price::bollinger(c, a).map(|b| b.1)),
    )
    .params(BAND)
    .source("Bollinger 2001"),
    entry(
        "bollinger_position",
        "Place in the bands",
        Unit::Ratio,
        "Where the price is between the bands: 0 at the lower, 1 at the upper.",
        Body::Number(price::bollinger_position),
    )
    .params(BAND)
    .undefined("the price history is shorter, or nothing moved")
    .source("Bollinger 2001"),
    entry(
        "atr",
        "Average true range",
        Unit::PerShare,
        "How far the price ranges in a bar, gaps included, by Wilder's smoothing over n bars.",
        Body::Number(price::atr),
    )
    .params(&[Param::sessions(Some("14"), "14"), Param::BARS])
    .source("Wilder 1978"),
    entry(
        "weekly_range",
        "Range of a week",
        Unit::Percent,
        "Highest high less lowest low of the last five sessions, as a share of the price.",
        Body::Number(|c, _| price::weekly_range(c)),
    )
    .lower(),
    entry(
        "beta",
        "Beta",
        Unit::Ratio,
        "How far the price moves when its index moves by one, by monthly returns of five years.",
        Body::Number(price::beta),
    )
    .lower()
    .undefined("fewer than 25 months of prices, or the company belongs to no index with levels over them"),
    entry(
        "trend_smoothness",
        "Smoothness of the trend",
        Unit::Ratio,
        "R² of the logarithm of the price about its line over n sessions; negative when the line falls.",
        Body::Number(price::smoothness),
    )
    .params(&[Param::sessions(Some("252"), "252")])
    .higher(),
    entry(
        "channel_lower",
        "Channel, lower edge",
        Unit::PerShare,
        "The fitted line of n sessions less two standard errors.",
        Body::Number(price::channel_lower),
    )
    .params(CHANNEL),
    entry(
        "channel_upper",
        "Channel, upper edge",
        Unit::PerShare,
        "The fitted line of n sessions plus two standard errors.",
        Body::Number(price::channel_upper),
    )
    .params(CHANNEL),
    entry(
        "channel_position",
        "Place in the channel",
        Unit::Ratio,
        "Where the price is in its channel: 0 at the lower edge, 1 at the upper, beyond when it left it.",
        Body::Number(price::channel_position),
    )
    .params(CHANNEL),
    entry(
        "breakout",
        "Breakout",
        Unit::Flag,
        "A close above the highest of the 126 sessions before, on more than one and a half times the ordinary volume.",
        Body::Flag(price::breakout),
    ),
    entry(
        "gaps_up",
        "Open gaps below",
        Unit::Count,
        "Upward jumps of 1 % or more within n sessions that no later session has closed.",
        Body::Number(|c, a| price::open_gaps(c, a, true)),
    )
    .params(&[Param::sessions(Some("252"), "252")]),
    entry(
        "gaps_down",
        "Open gaps above",
        Unit::Count,
        "Downward jumps of 1 % or more within n sessions that no later session has closed.",
        Body::Number(|c, a| price::open_gaps(c, a, false)),
    )
    .params(&[Param::sessions(Some("252"), "252")]),
    entry(
        "support",
        "Support",
        Unit::PerShare,
        "The nearest price below at which trading turned at least twice in a year.",
        Body::Number(|c, _| price::support(c)),
    )
    .undefined("the price history is shorter than a year, or there is no such price"),
    entry(
        "resistance",
        "Resistance",
        Unit::PerShare,
        "The nearest price above at which trading turned at least twice in a year.",
        Body::Number(|c, _| price::resistance(c)),
    )
    .undefined("the price history is shorter than a year, or there is no such price"),
    entry(
        "near_support",
        "Near support",
        Unit::Flag,
        "The price is within one and a half average true ranges above a price at which trading turned before.",
        Body::Flag(price::near_support),
    ),
    candle("doji", "Doji", "The last bar closed about where it opened.", |c, a| price::candle(c, a, Candle::Doji)),
    candle("hammer", "Hammer", "After a fall, a small body at the top of a long lower shadow.", |c, a| price::candle(c, a, Candle::Hammer)),
    candle("shooting_star", "Shooting star", "After a rise, a small body at the bottom of a long upper shadow.", |c, a| {
        price::candle(c, a, Candle::ShootingStar)
    }),
    candle("bullish_engulfing", "Bullish engulfing", "After a fall, a rising body that covers the falling one before.", |c, a| {
        price::candle(c, a, Candle::BullishEngulfing)
    }),
    candle("bearish_engulfing", "Bearish engulfing", "After a rise, a falling body that covers the rising one before.", |c, a| {
        price::candle(c, a, Candle::BearishEngulfing)
    }),
    candle(
        "morning_star",
        "Morning star",
        "After a fall: a long falling body, a small one below it, a rising one back into the first.",
        |c, a| price::candle(c, a, Candle::StarAfterFall),
    ),
    candle(
        "evening_star",
        "Evening star",
        "After a rise: a long rising body, a small one above it, a falling one back into the first.",
        |c, a| price::candle(c, a, Candle::StarAfterRise),
    ),
    entry(
        "trend_check",
        "Trend check",
        Unit::Count,
        "How many of six signs of a sound upward trend hold: averages in order and rising, price up, strength and height in measure.",
        Body::Number(price::trend_check),
    )
    .params(&[Param::BARS])
    .higher()
    .undefined("the price history is too short for one of the six"),
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
