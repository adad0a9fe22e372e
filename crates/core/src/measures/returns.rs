//! Returns on the capital at work.

use crate::formula::{Body, Family, Kinds, Measure, Unit};

const fn entry(id: &'static str, label: &'static str, meaning: &'static str, formula: &'static str) -> Measure {
    Measure::new(Family::Returns, id, label, Unit::Percent, meaning, Body::Formula(formula))
        .higher()
        .undefined("the capital at either end is not known, zero or negative")
}

pub(super) const MEASURES: &[Measure] = &[
    entry(
        "roe",
        "Return on equity",
        "Income for common shareholders on their mean capital over the twelve months.",
        "(net_income - preferred_dividends) ÷ mean_capital(equity - preferred_equity)",
    ),
    entry("roa", "Return on assets", "Net income on the mean total assets.", "net_income ÷ mean_balance(total_assets)"),
    entry(
        "roic",
        "Return on invested capital",
        "Operating income after tax on the mean capital that owners and lenders have put to work.",
        "operating_income * (1 - else(effective_tax, assumed_tax)) ÷ mean_capital(short_term_debt + long_term_debt + equity + minority_interest - cash - short_term_investments)",
    )
    .not_for(Kinds::FINANCIAL_OR_PROPERTY),
    entry(
        "roce",
        "Return on capital employed",
        "Operating income on total assets less current liabilities.",
        "operating_income ÷ (total_assets - current_liabilities)",
    )
    .not_for(Kinds::FINANCIAL),
];
