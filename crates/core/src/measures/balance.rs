//! Debt, liquidity and the health of the balance sheet.

use super::entry::{Better, Body, Family, Measure};
use crate::formula::{Kinds, Unit};

const fn entry(id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, formula: &'static str) -> Measure {
    Measure::new(Family::Balance, id, label, unit, meaning, Body::Formula(formula))
}

const LIQUIDITY_UNDEFINED: &str = "current items are not known or there are no current liabilities";

pub(super) const MEASURES: &[Measure] = &[
    entry(
        "current_ratio",
        "Current ratio",
        Unit::Ratio,
        "Current assets for one unit of current liabilities.",
        "current_assets ÷ current_liabilities",
    )
    .higher()
    .not_for(Kinds::FINANCIAL_OR_PROPERTY)
    .undefined(LIQUIDITY_UNDEFINED),
    entry(
        "quick_ratio",
        "Quick ratio",
        Unit::Ratio,
        "Cash, short-term investments and receivables for one unit of current liabilities.",
        "(cash + short_term_investments + receivables) ÷ current_liabilities",
    )
    .higher()
    .not_for(Kinds::FINANCIAL_OR_PROPERTY)
    .undefined(LIQUIDITY_UNDEFINED),
    entry(
        "working_capital",
        "Working capital",
        Unit::Money,
        "Current assets less current liabilities.",
        "current_assets - current_liabilities",
    )
    .higher()
    .not_for(Kinds::FINANCIAL),
    entry(
        "debt_to_equity",
        "Debt to equity",
        Unit::Ratio,
        "Interest-bearing debt for one unit of common equity.",
        "(short_term_debt + long_term_debt) ÷ (equity - preferred_equity)",
    )
    .lower()
    .undefined("debt is not known, or common equity is zero or negative"),
    entry(
        "liabilities_to_equity",
        "Liabilities to equity",
        Unit::Ratio,
        "All liabilities for one unit of equity.",
        "total_liabilities ÷ equity",
    )
    .lower()
    .undefined("equity is not known, zero or negative"),
    entry("equity_ratio", "Equity ratio", Unit::Percent, "Equity as a share of total assets.", "equity ÷ total_assets").higher(),
    entry(
        "net_debt",
        "Net debt",
        Unit::Money,
        "Debt less cash and short-term investments.",
        "short_term_debt + long_term_debt - cash - short_term_investments",
    )
    .lower()
    .not_for(Kinds::FINANCIAL),
    entry(
        "net_debt_to_ebitda",
        "Net debt to EBITDA",
        Unit::Ratio,
        "Years of EBITDA that net debt stands for; negative with net cash.",
        "net_debt ÷ ebitda",
    )
    .lower()
    .not_for(Kinds::FINANCIAL)
    .undefined("EBITDA is not known, zero or negative"),
    entry(
        "interest_cover",
        "Interest cover",
        Unit::Ratio,
        "How often operating income pays the interest; \"no debt cost\" is better than every number.",
        "if(else(interest_expense = 0, short_term_debt + long_term_debt = 0), no_debt_cost, operating_income ÷ interest_expense)",
    )
    .higher()
    .not_for(Kinds::FINANCIAL)
    .undefined("interest is not known although there is debt"),
    entry("goodwill_to_equity", "Goodwill to equity", Unit::Ratio, "Goodwill for one unit of equity.", "goodwill ÷ equity").lower(),
    flag(
        "assets_exceed_liabilities",
        "Assets above liabilities",
        "Total assets exceed total liabilities.",
        "total_assets > total_liabilities",
    ),
    flag(
        "current_assets_exceed_current_liabilities",
        "Current assets above current liabilities",
        "What comes due within a year is covered by what becomes cash within a year.",
        "current_assets > current_liabilities",
    )
    .not_for(Kinds::FINANCIAL),
    entry(
        "net_current_assets_per_share",
        "Net current assets a share",
        Unit::PerShare,
        "Current assets less all liabilities and preferred equity, a share.",
        "a_share(current_assets - total_liabilities - preferred_equity, shares_outstanding)",
    )
    .higher(),
    entry(
        "price_to_ncav",
        "P/net current assets",
        Unit::Ratio,
        "Price for one unit of net current assets a share.",
        "price ÷ net_current_assets_per_share",
    )
    .lower()
    .not_for(Kinds::FINANCIAL)
    .undefined("net current assets are zero or negative")
    .source("Graham & Dodd 1934"),
    entry(
        "accruals",
        "Accruals",
        Unit::Percent,
        "Income that did not arrive as cash, as a share of mean total assets.",
        "(net_income - operating_cash_flow) ÷ mean_balance(total_assets)",
    )
    .lower()
    .not_for(Kinds::FINANCIAL),
];

const fn flag(id: &'static str, label: &'static str, meaning: &'static str, formula: &'static str) -> Measure {
    Measure { better: Better::Higher, ..entry(id, label, Unit::Flag, meaning, formula) }
}
