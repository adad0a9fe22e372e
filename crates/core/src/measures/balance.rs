//! Debt, liquidity and the health of the balance sheet.

use crate::{
    domain::Kind,
    formula::{Better, Body, Family, Kinds, Measure, Unit},
};

const fn entry(id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, formula: &'static str) -> Measure {
    Measure::new(Family::Balance, id, label, unit, meaning, Body::Formula(formula))
}

const LIQUIDITY_UNDEFINED: &str = "current items are not known or there are no current liabilities";

pub(super) const MEASURES: &[Measure] = &[
    entry(
        "current_ratio",
        "Current ratio",
        Unit::Ratio,
        "Current assets divided by current liabilities.",
        "current_assets ÷ current_liabilities",
    )
    .higher()
    .not_for(Kinds::FINANCIAL_OR_PROPERTY)
    .undefined(LIQUIDITY_UNDEFINED),
    entry(
        "quick_ratio",
        "Quick ratio",
        Unit::Ratio,
        "Cash, short-term investments and receivables divided by current liabilities.",
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
        "Interest-bearing debt divided by common equity.",
        "(short_term_debt + long_term_debt) ÷ (equity - preferred_equity)",
    )
    .lower()
    .undefined("debt is not known, or common equity is zero or negative"),
    entry(
        "liabilities_to_equity",
        "Liabilities to equity",
        Unit::Ratio,
        "All liabilities divided by equity.",
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
        "How many times operating income covers the interest; \"no debt cost\" is better than every number.",
        "if(else(interest_expense = 0, short_term_debt + long_term_debt = 0), no_debt_cost, operating_income ÷ interest_expense)",
    )
    .higher()
    .not_for(Kinds::FINANCIAL)
    .undefined("interest is not known although there is debt"),
    entry("goodwill_to_equity", "Goodwill to equity", Unit::Ratio, "Goodwill divided by equity.", "goodwill ÷ equity").lower(),
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
        "Price divided by net current assets a share.",
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
    entry(
        "altman_z",
        "Altman Z",
        Unit::Ratio,
        "Distance from distress of a manufacturer: below 1.81 distress, above 2.99 safe.",
        "1.2 * ((current_assets - current_liabilities) ÷ total_assets) + 1.4 * (retained_earnings ÷ total_assets) \
            + 3.3 * (operating_income ÷ total_assets) + 0.6 * (market_cap ÷ total_liabilities) + revenue ÷ total_assets",
    )
    .higher()
    .not_for(NO_ALTMAN)
    .source("Altman 1968"),
    entry(
        "altman_z2",
        "Altman Z″",
        Unit::Ratio,
        "Distance from distress of a company that is no manufacturer: below 1.1 distress, above 2.6 safe.",
        "6.56 * ((current_assets - current_liabilities) ÷ total_assets) + 3.26 * (retained_earnings ÷ total_assets) \
            + 6.72 * (operating_income ÷ total_assets) + 1.05 * (equity ÷ total_liabilities)",
    )
    .higher()
    .not_for(NO_ALTMAN)
    .source("Altman 1995"),
    entry(
        "piotroski_f",
        "Piotroski F",
        Unit::Count,
        "How many of nine signs of a strengthening business hold: profit, cash, leverage, liquidity, dilution, margin and turnover.",
        PIOTROSKI,
    )
    .higher()
    .not_for(Kinds::FINANCIAL)
    .undefined("an input of one of the nine tests is missing")
    .source("Piotroski 2000"),
    entry(
        "beneish_m",
        "Beneish M",
        Unit::Ratio,
        "How much the accounts look like those of companies that flattered theirs: above −1.78 warns.",
        BENEISH,
    )
    .lower()
    .not_for(NO_BENEISH)
    .undefined("one of its eight indices is")
    .source("Beneish 1999"),
];

/// Altman's measures mean nothing where a balance sheet is a business of its own.
const NO_ALTMAN: Kinds = Kinds::of(&[Kind::Bank, Kind::Insurer, Kind::Property, Kind::Fund]);
const NO_BENEISH: Kinds = Kinds::of(&[Kind::Bank, Kind::Insurer, Kind::Fund]);

/// The nine tests of Piotroski 2000, one point each; the years are fy0, fy0 − 1 and fy0 − 2.
const PIOTROSKI: &str = "if(fy(net_income, 0) > 0, 1, 0) \
    + if(fy(operating_cash_flow, 0) > 0, 1, 0) \
    + if(fy(net_income, 0) ÷ fy(total_assets, 1) > fy(net_income, 1) ÷ fy(total_assets, 2), 1, 0) \
    + if(fy(operating_cash_flow, 0) > fy(net_income, 0), 1, 0) \
    + if(fy(long_term_debt, 0) ÷ (fy(total_assets, 0) + fy(total_assets, 1)) <= \
        fy(long_term_debt, 1) ÷ (fy(total_assets, 1) + fy(total_assets, 2)), 1, 0) \
    + if(fy(current_assets, 0) ÷ fy(current_liabilities, 0) > fy(current_assets, 1) ÷ fy(current_liabilities, 1), 1, 0) \
    + if(fy(shares_outstanding, 0) <= 1.001 * fy(shares_outstanding, 1), 1, 0) \
    + if(fy(gross_margin, 0) > fy(gross_margin, 1), 1, 0) \
    + if(fy(revenue, 0) ÷ fy(total_assets, 1) > fy(revenue, 1) ÷ fy(total_assets, 2), 1, 0)";

/// Beneish 1999 on the newest fiscal year and the one before: days' sales in receivables, gross margin, asset quality,
/// sales growth, depreciation, overheads, accruals, leverage. Rounding to twelve decimals keeps a sum's last digits from
/// passing for other assets where there are none.
const BENEISH: &str = "-4.84 \
    + 0.92 * (fy(receivables, 0) ÷ fy(revenue, 0) ÷ (fy(receivables, 1) ÷ fy(revenue, 1))) \
    + 0.528 * (fy(gross_margin, 1) ÷ fy(gross_margin, 0)) \
    + 0.404 * (round((fy(total_assets, 0) - fy(current_assets, 0) - fy(fixed_assets, 0)) ÷ fy(total_assets, 0), 12) ÷ \
        round((fy(total_assets, 1) - fy(current_assets, 1) - fy(fixed_assets, 1)) ÷ fy(total_assets, 1), 12)) \
    + 0.892 * (fy(revenue, 0) ÷ fy(revenue, 1)) \
    + 0.115 * (fy(depreciation_amortization, 1) ÷ (fy(depreciation_amortization, 1) + fy(fixed_assets, 1)) ÷ \
        (fy(depreciation_amortization, 0) ÷ (fy(depreciation_amortization, 0) + fy(fixed_assets, 0)))) \
    - 0.172 * (fy(selling_general_admin, 0) ÷ fy(revenue, 0) ÷ (fy(selling_general_admin, 1) ÷ fy(revenue, 1))) \
    + 4.679 * ((fy(net_income, 0) - fy(operating_cash_flow, 0)) ÷ fy(total_assets, 0)) \
    - 0.327 * ((fy(long_term_debt, 0) + fy(current_liabilities, 0)) ÷ fy(total_assets, 0) ÷ \
        ((fy(long_term_debt, 1) + fy(current_liabilities, 1)) ÷ fy(total_assets, 1)))";

const fn flag(id: &'static str, label: &'static str, meaning: &'static str, formula: &'static str) -> Measure {
    Measure { better: Better::Higher, ..entry(id, label, Unit::Flag, meaning, formula) }
}
