//! What the market pays for earnings, sales, cash and capital. Lower multiples are cheaper.

use crate::{
    estimates,
    formula::{Body, Family, Kinds, Measure, Param, Unit},
    price,
};

const fn multiple(id: &'static str, label: &'static str, meaning: &'static str, formula: &'static str) -> Measure {
    Measure::new(Family::Multiples, id, label, Unit::Ratio, meaning, Body::Formula(formula))
        .lower()
        .undefined("what the price is divided by is not known, zero or negative")
}

const fn share(id: &'static str, label: &'static str, meaning: &'static str, formula: &'static str) -> Measure {
    Measure::new(Family::Multiples, id, label, Unit::Percent, meaning, Body::Formula(formula)).higher()
}

pub(super) const MEASURES: &[Measure] = &[
    multiple("pe", "P/E", "Price divided by the last twelve months' diluted earnings.", "price ÷ eps"),
    multiple("pe_adjusted", "P/E, adjusted", "Price divided by the company's own comparable earnings.", "price ÷ eps_adjusted"),
    Measure::new(
        Family::Multiples,
        "pe_forward",
        "P/E, forward",
        Unit::Ratio,
        "Price divided by the earnings that analysts expect over the next twelve months.",
        Body::Number(estimates::pe_forward),
    )
    .lower()
    .undefined("no estimates in the last 12 months, or a loss is expected"),
    multiple("pb", "P/B", "Market value divided by common equity.", "market_cap ÷ (equity - preferred_equity)"),
    multiple(
        "ptb",
        "P/tangible book",
        "Market value divided by common equity without goodwill and intangibles.",
        "market_cap ÷ (equity - preferred_equity - goodwill - intangibles)",
    ),
    multiple("ps", "P/S", "Market value divided by the last twelve months' sales.", "market_cap ÷ revenue"),
    multiple("pfcf", "P/FCF", "Market value divided by free cash flow.", "market_cap ÷ free_cash_flow").not_for(Kinds::FINANCIAL),
    multiple("pffo", "P/FFO", "Market value divided by a property company's funds from operations.", "market_cap ÷ funds_from_operations"),
    multiple("ev_ebit", "EV/EBIT", "Enterprise value divided by operating income.", "enterprise_value ÷ operating_income")
        .not_for(Kinds::FINANCIAL),
    multiple("ev_ebitda", "EV/EBITDA", "Enterprise value divided by operating income before depreciation.", "enterprise_value ÷ ebitda")
        .not_for(Kinds::FINANCIAL),
    multiple("ev_sales", "EV/sales", "Enterprise value divided by sales.", "enterprise_value ÷ revenue").not_for(Kinds::FINANCIAL),
    multiple("ev_fcf", "EV/FCF", "Enterprise value divided by free cash flow.", "enterprise_value ÷ free_cash_flow")
        .not_for(Kinds::FINANCIAL),
    multiple(
        "ev_ebit_forward",
        "EV/EBIT, forward",
        "Enterprise value divided by the operating income that analysts expect over the next twelve months.",
        "enterprise_value ÷ forward_ebit",
    )
    .not_for(Kinds::FINANCIAL),
    multiple(
        "peg",
        "PEG",
        "P/E for one point of expected growth: the analysts' long-term growth, else that of the last five years.",
        "pe ÷ (100 * else(long_term_growth, eps_growth(5)))",
    )
    .undefined("P/E is, or no growth is expected"),
    share(
        "earnings_yield",
        "Earnings yield",
        "Earnings of the last twelve months as a share of the price; defined for losses.",
        "eps ÷ price",
    ),
    share("ebit_yield", "EBIT yield", "Operating income as a share of enterprise value.", "operating_income ÷ enterprise_value")
        .not_for(Kinds::FINANCIAL)
        .undefined("net cash is above market value"),
    share("fcf_yield", "FCF yield", "Free cash flow as a share of market value.", "free_cash_flow ÷ market_cap").not_for(Kinds::FINANCIAL),
    share(
        "fcf_yield_average",
        "FCF yield, mean of n years",
        "Mean free cash flow of the last n fiscal years as a share of market value.",
        "fy_average(free_cash_flow, n) ÷ market_cap",
    )
    .params(&[Param { example: "3", ..Param::YEARS }])
    .not_for(Kinds::FINANCIAL),
    Measure::new(
        Family::Multiples,
        "dividend_yield",
        "Dividend yield",
        Unit::Percent,
        "Regular dividends of about a year as a share of the price.",
        Body::Number(price::dividend_yield),
    )
    .higher()
    .undefined("the dataset has no dividends at all"),
    share(
        "buyback_yield",
        "Buyback yield",
        "Shares bought back less shares issued, as a share of market value.",
        "(shares_repurchased - shares_issued) ÷ market_cap",
    ),
    share("owner_yield", "Owner yield", "Dividends and net buybacks as a share of market value.", "dividend_yield + buyback_yield"),
];
