//! Income, cash and margins of the latest twelve months.

use crate::formula::{Body, Family, Kinds, Measure, Unit};

const fn money(id: &'static str, label: &'static str, meaning: &'static str, formula: &'static str) -> Measure {
    Measure::new(Family::Income, id, label, Unit::Money, meaning, Body::Formula(formula))
        .higher()
        .undefined("not filed for any twelve months")
}

const fn margin(id: &'static str, label: &'static str, meaning: &'static str, formula: &'static str) -> Measure {
    Measure::new(Family::Income, id, label, Unit::Percent, meaning, Body::Formula(formula)).higher().undefined("not filed, or no revenue")
}

pub(super) const MEASURES: &[Measure] = &[
    money("revenue", "Revenue", "Sales of the latest twelve months.", "revenue"),
    money("gross_profit", "Gross profit", "Sales less their direct cost.", "gross_profit"),
    money("operating_income", "Operating income", "Income from the business before interest and tax (EBIT).", "operating_income"),
    money("ebitda", "EBITDA", "Operating income before depreciation and amortization.", "operating_income + depreciation_amortization")
        .not_for(Kinds::FINANCIAL),
    money("net_income", "Net income", "What is left for the owners.", "net_income"),
    Measure::new(
        Family::Income,
        "eps",
        "EPS",
        Unit::PerShare,
        "Diluted earnings per share of the latest twelve months.",
        Body::Formula("else(eps_diluted, a_share(net_income - preferred_dividends, else(shares_diluted, shares_outstanding)))"),
    )
    .higher()
    .undefined("neither earnings per share nor net income is filed"),
    money("free_cash_flow", "Free cash flow", "Operating cash flow less capital expenditure.", "operating_cash_flow - capital_expenditure")
        .not_for(Kinds::FINANCIAL),
    money(
        "free_cash_flow_after_sbc",
        "FCF after stock pay",
        "Free cash flow less what was paid in shares.",
        "operating_cash_flow - capital_expenditure - stock_compensation",
    )
    .not_for(Kinds::FINANCIAL),
    margin("gross_margin", "Gross margin", "Gross profit as a share of revenue.", "gross_profit ÷ revenue"),
    margin("operating_margin", "Operating margin", "Operating income as a share of revenue.", "operating_income ÷ revenue"),
    margin("ebitda_margin", "EBITDA margin", "EBITDA as a share of revenue.", "ebitda ÷ revenue").not_for(Kinds::FINANCIAL),
    margin("net_margin", "Net margin", "Net income as a share of revenue.", "net_income ÷ revenue"),
    margin("fcf_margin", "FCF margin", "Free cash flow as a share of revenue.", "free_cash_flow ÷ revenue").not_for(Kinds::FINANCIAL),
    Measure::new(
        Family::Income,
        "effective_tax",
        "Effective tax",
        Unit::Percent,
        "Income tax as a share of pretax income, held between 0 and 50 %.",
        Body::Formula("max(0, min(0.5, income_tax ÷ pretax_income))"),
    )
    .undefined("no pretax income"),
];
