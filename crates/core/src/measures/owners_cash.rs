//! Where the cash goes: dividends, buybacks, new shares.

use crate::{
    formula::{Body, Family, Kinds, Measure, Param, Unit},
    price,
};

const YEARS: &[Param] = &[Param::YEARS];

const fn entry(id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, formula: &'static str) -> Measure {
    Measure::new(Family::OwnersCash, id, label, unit, meaning, Body::Formula(formula))
}

pub(super) const MEASURES: &[Measure] = &[
    entry(
        "payout",
        "Payout",
        Unit::Percent,
        "Dividends paid as a share of net income to common shareholders.",
        "dividends_paid ÷ (net_income - preferred_dividends)",
    )
    .undefined("no income to pay from"),
    entry(
        "fcf_after_dividends",
        "FCF after dividends",
        Unit::Money,
        "Free cash flow less dividends paid.",
        "free_cash_flow - dividends_paid",
    )
    .higher()
    .not_for(Kinds::FINANCIAL),
    entry("dividend_cover", "Dividend cover", Unit::Ratio, "Free cash flow divided by dividends paid.", "free_cash_flow ÷ dividends_paid")
        .higher()
        .not_for(Kinds::FINANCIAL)
        .undefined("no dividend paid"),
    Measure::new(
        Family::OwnersCash,
        "dividend_years",
        "Years of dividends",
        Unit::Count,
        "Fiscal years from the newest backwards with a regular dividend.",
        Body::Number(price::dividend_years),
    )
    .higher()
    .undefined("the dataset has no dividends at all, or no fiscal year is known"),
    entry("net_buyback", "Net buyback", Unit::Money, "Shares bought back less shares issued.", "shares_repurchased - shares_issued")
        .higher(),
    entry(
        "share_count_growth",
        "Growth of shares",
        Unit::Percent,
        "Compound yearly growth of split-adjusted shares outstanding over n fiscal years.",
        "fy_growth(shares_outstanding, n)",
    )
    .params(YEARS)
    .lower(),
    entry(
        "buyback_years",
        "Years of net buybacks",
        Unit::Count,
        "Fiscal years of the last n in which more shares were bought back than issued.",
        "fy_count(net_buyback > 0, n)",
    )
    .params(YEARS)
    .higher()
    .undefined("fewer fiscal years on record than needed"),
    entry(
        "repurchase_years",
        "Years of repurchases",
        Unit::Count,
        "Fiscal years of the last n with shares bought back.",
        "fy_count(shares_repurchased > 0, n)",
    )
    .params(YEARS)
    .higher()
    .undefined("fewer fiscal years on record than needed"),
    entry(
        "cash_conversion",
        "Cash conversion",
        Unit::Ratio,
        "Free cash flow divided by net income over n fiscal years.",
        "fy_sum(free_cash_flow, n) ÷ fy_sum(net_income, n)",
    )
    .params(&[Param { example: "3", ..Param::YEARS }])
    .higher()
    .not_for(Kinds::FINANCIAL)
    .undefined("too few fiscal years, or no net income over them"),
];
