//! Growth over fiscal years, and how steady it was.

use crate::{
    estimates,
    formula::{Body, Family, Kinds, Measure, Param, Unit},
};

const YEARS: &[Param] = &[Param::YEARS];
const COUNT_UNDEFINED: &str = "fewer fiscal years on record than needed";

const fn rate(id: &'static str, label: &'static str, meaning: &'static str, formula: &'static str) -> Measure {
    Measure::new(Family::Growth, id, label, Unit::Percent, meaning, Body::Formula(formula))
        .params(YEARS)
        .higher()
        .undefined("too few fiscal years, or an end is zero or negative")
}

const fn count(id: &'static str, label: &'static str, meaning: &'static str, formula: &'static str) -> Measure {
    Measure::new(Family::Growth, id, label, Unit::Count, meaning, Body::Formula(formula)).params(YEARS).higher().undefined(COUNT_UNDEFINED)
}

pub(super) const MEASURES: &[Measure] = &[
    rate("eps_growth", "EPS growth", "Compound yearly growth of diluted earnings per share over n fiscal years.", "fy_growth(eps, n)"),
    rate("revenue_growth", "Revenue growth", "Compound yearly growth of revenue over n fiscal years.", "fy_growth(revenue, n)"),
    rate("ebit_growth", "EBIT growth", "Compound yearly growth of operating income over n fiscal years.", "fy_growth(operating_income, n)"),
    rate("fcf_growth", "FCF growth", "Compound yearly growth of free cash flow over n fiscal years.", "fy_growth(free_cash_flow, n)")
        .not_for(Kinds::FINANCIAL),
    rate(
        "book_value_growth",
        "Book value growth",
        "Compound yearly growth of common equity a share over n fiscal years.",
        "fy_growth(a_share(equity - preferred_equity, shares_outstanding), n)",
    ),
    rate("eps_trend", "EPS trend", "Fitted log-linear growth of earnings per share over the last n + 1 fiscal years.", "fy_trend(eps, n)")
        .undefined("a year is missing or not profitable"),
    rate("revenue_trend", "Revenue trend", "Fitted log-linear growth of revenue over the last n + 1 fiscal years.", "fy_trend(revenue, n)"),
    Measure::new(
        Family::Growth,
        "eps_trend_fit",
        "EPS trend fit",
        Unit::Ratio,
        "How well the fitted trend describes earnings per share (R², 1 is perfect).",
        Body::Formula("fy_trend_fit(eps, n)"),
    )
    .params(YEARS)
    .higher()
    .undefined("a year is missing or not profitable"),
    Measure::new(
        Family::Growth,
        "eps_steadiness",
        "EPS steadiness",
        Unit::Ratio,
        "1 when earnings per share lie on their fitted line, 0 when they stray by half or more.",
        Body::Formula("fy_steadiness(eps, n)"),
    )
    .params(&[Param { example: "9", ..Param::YEARS }])
    .higher()
    .undefined("a year is missing or not profitable"),
    count(
        "eps_positive_years",
        "Profitable years",
        "How many of the last n fiscal years have earnings per share above zero.",
        "fy_count(eps > 0, n)",
    ),
    count(
        "eps_rising_years",
        "Years of rising EPS",
        "How many of the last n year-on-year comparisons of earnings per share are rises.",
        "fy_rises(eps, n)",
    ),
    count(
        "revenue_rising_years",
        "Years of rising revenue",
        "How many of the last n year-on-year comparisons of revenue are rises.",
        "fy_rises(revenue, n)",
    ),
    rate(
        "dividend_growth",
        "Dividend growth",
        "Compound yearly growth of the regular dividends of a fiscal year over n fiscal years.",
        "fy_growth(dividend_of_year, n)",
    ),
    count(
        "dividend_rising_years",
        "Years of rising dividends",
        "How many of the last n year-on-year comparisons of regular dividends are rises.",
        "fy_rises(dividend_of_year, n)",
    ),
    count(
        "dividend_positive_years",
        "Years with a dividend",
        "How many of the last n fiscal years have a regular dividend.",
        "fy_count(dividend_of_year > 0, n)",
    ),
    count(
        "revenue_positive_years",
        "Years with sales",
        "How many of the last n fiscal years have revenue above zero.",
        "fy_count(revenue > 0, n)",
    ),
    count(
        "book_value_rising_years",
        "Years of rising book value",
        "How many of the last n year-on-year comparisons of common equity a share are rises.",
        "fy_rises(a_share(equity - preferred_equity, shares_outstanding), n)",
    ),
    count(
        "book_value_positive_years",
        "Years of positive book value",
        "How many of the last n fiscal years have common equity above zero.",
        "fy_count(equity - preferred_equity > 0, n)",
    ),
    count(
        "fcf_rising_years",
        "Years of rising free cash",
        "How many of the last n year-on-year comparisons of free cash flow are rises.",
        "fy_rises(free_cash_flow, n)",
    )
    .not_for(Kinds::FINANCIAL),
    Measure::new(
        Family::Growth,
        "long_term_growth",
        "Analysts' long-term growth",
        Unit::Percent,
        "The newest growth of earnings that analysts expect over the coming years.",
        Body::Number(|c, _| Ok(c.estimate(crate::domain::Metric::LongTermGrowth, None)?.mean)),
    )
    .higher()
    .undefined("none published in the last 12 months"),
    count(
        "fcf_positive_years",
        "Years of free cash",
        "How many of the last n fiscal years have free cash flow above zero.",
        "fy_count(free_cash_flow > 0, n)",
    )
    .not_for(Kinds::FINANCIAL),
    Measure::new(
        Family::Growth,
        "analysts_growth",
        "Analysts' growth",
        Unit::Percent,
        "Analysts' newest long-term growth, else the growth to their furthest estimate of earnings.",
        Body::Number(|c, _| estimates::growth(c)),
    )
    .higher()
    .undefined("no estimates in the last 12 months, or a loss"),
];
