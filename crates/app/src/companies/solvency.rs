//! The tests of a balance sheet one by one, each a figure with what it has to reach.

use crate::{
    AppError, Ctx,
    figures::figure::{Figure, value},
};
use artemon_core::{
    domain::{Day, Kind},
    engine::Context,
    formula::{Unit, Value},
    panel::CompanyAt,
};
use serde::Serialize;
use utoipa::ToSchema;

/// How a test came out.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Outcome {
    /// It reaches what is asked.
    Pass,
    /// It does not.
    Fail,
    /// It says nothing of this kind of company, or too little is known.
    Open,
}

/// A test of the balance sheet.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct SolvencyTest {
    pub group: &'static str,
    pub label: &'static str,
    /// What is asked, in words.
    pub asked: &'static str,
    /// The formula of the figure.
    pub formula: &'static str,
    pub unit: Unit,
    pub figure: Figure,
    /// For a comparison of two years: that of the year before.
    pub before: Option<YearBefore>,
    pub outcome: Outcome,
}

/// The figure of the year before.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct YearBefore {
    pub formula: &'static str,
    pub figure: Figure,
}

/// A test: group, label, what is asked, the figure, the figure that it is held against if it is of the year before, and the formula
/// that says whether it holds.
type Test = (&'static str, &'static str, &'static str, &'static str, Option<&'static str>, &'static str);

const LIQUIDITY: &str = "Due within a year";
const DEBT: &str = "Debt";
const DISTRESS: &str = "Distance from distress";
const STRENGTH: &str = "Nine signs of a strengthening business (Piotroski)";
const CAPITAL: &str = "Capital";

const OPERATING: &[Test] = &[
    (LIQUIDITY, "Current ratio", "at least 1.5", "current_ratio", None, "current_ratio >= 1.5"),
    (LIQUIDITY, "Quick ratio", "at least 1", "quick_ratio", None, "quick_ratio >= 1"),
    (LIQUIDITY, "Current assets less current liabilities", "above nothing", "working_capital", None, "working_capital > 0"),
    (DEBT, "Assets less liabilities", "above nothing", "total_assets - total_liabilities", None, "total_assets > total_liabilities"),
    (DEBT, "Debt to equity", "at most 1", "debt_to_equity", None, "debt_to_equity <= 1"),
    (DEBT, "Net debt in years of EBITDA", "at most 3", "net_debt_to_ebitda", None, "net_debt_to_ebitda <= 3"),
    (DEBT, "Operating income to interest", "at least 4", "interest_cover", None, "interest_cover >= 4"),
    (DISTRESS, "Altman Z, manufacturers", "above 2.99; distress below 1.81", "altman_z", None, "altman_z > 2.99"),
    (DISTRESS, "Altman Z″, others", "above 2.6; distress below 1.1", "altman_z2", None, "altman_z2 > 2.6"),
    (STRENGTH, "Net income", "above nothing", "fy(net_income, 0)", None, "fy(net_income, 0) > 0"),
    (STRENGTH, "Operating cash flow", "above nothing", "fy(operating_cash_flow, 0)", None, "fy(operating_cash_flow, 0) > 0"),
    (
        STRENGTH,
        "Return on opening assets",
        "above the year before",
        "fy(net_income, 0) ÷ fy(total_assets, 1)",
        Some("fy(net_income, 1) ÷ fy(total_assets, 2)"),
        "fy(net_income, 0) ÷ fy(total_assets, 1) > fy(net_income, 1) ÷ fy(total_assets, 2)",
    ),
    (
        STRENGTH,
        "Operating cash flow less net income",
        "above nothing",
        "fy(operating_cash_flow, 0) - fy(net_income, 0)",
        None,
        "fy(operating_cash_flow, 0) > fy(net_income, 0)",
    ),
    (
        STRENGTH,
        "Long-term debt to mean assets",
        "not above the year before",
        "2 * fy(long_term_debt, 0) ÷ (fy(total_assets, 0) + fy(total_assets, 1))",
        Some("2 * fy(long_term_debt, 1) ÷ (fy(total_assets, 1) + fy(total_assets, 2))"),
        "fy(long_term_debt, 0) ÷ (fy(total_assets, 0) + fy(total_assets, 1)) <= \
            fy(long_term_debt, 1) ÷ (fy(total_assets, 1) + fy(total_assets, 2))",
    ),
    (
        STRENGTH,
        "Current ratio",
        "above the year before",
        "fy(current_ratio, 0)",
        Some("fy(current_ratio, 1)"),
        "fy(current_assets, 0) ÷ fy(current_liabilities, 0) > fy(current_assets, 1) ÷ fy(current_liabilities, 1)",
    ),
    (
        STRENGTH,
        "Shares outstanding",
        "no more than the year before",
        "fy(shares_outstanding, 0)",
        Some("fy(shares_outstanding, 1)"),
        "fy(shares_outstanding, 0) <= 1.001 * fy(shares_outstanding, 1)",
    ),
    (
        STRENGTH,
        "Gross margin",
        "above the year before",
        "fy(gross_margin, 0)",
        Some("fy(gross_margin, 1)"),
        "fy(gross_margin, 0) > fy(gross_margin, 1)",
    ),
    (
        STRENGTH,
        "Revenue to opening assets",
        "above the year before",
        "fy(revenue, 0) ÷ fy(total_assets, 1)",
        Some("fy(revenue, 1) ÷ fy(total_assets, 2)"),
        "fy(revenue, 0) ÷ fy(total_assets, 1) > fy(revenue, 1) ÷ fy(total_assets, 2)",
    ),
];

const BANK: &[Test] = &[
    (CAPITAL, "Equity to assets", "at least 6 %", "equity_ratio", None, "equity_ratio >= 6%"),
    (CAPITAL, "Tier 1 capital ratio", "at least 10.5 %", "tier1_ratio", None, "tier1_ratio >= 10.5%"),
    (
        CAPITAL,
        "Loss provision to net interest income",
        "at most 30 %",
        "loss_provision ÷ net_interest_income",
        None,
        "loss_provision ÷ net_interest_income <= 30%",
    ),
];

const INSURER: &[Test] = &[
    (CAPITAL, "Equity to assets", "at least 10 %", "equity_ratio", None, "equity_ratio >= 10%"),
    (CAPITAL, "Combined ratio", "below 100 %", "combined_ratio", None, "combined_ratio < 1"),
    (CAPITAL, "Debt to equity", "at most 0.5", "debt_to_equity", None, "debt_to_equity <= 0.5"),
];

const PROPERTY: &[Test] = &[
    (
        DEBT,
        "Debt to assets",
        "at most 50 %",
        "(short_term_debt + long_term_debt) ÷ total_assets",
        None,
        "(short_term_debt + long_term_debt) ÷ total_assets <= 50%",
    ),
    (DEBT, "Operating income to interest", "at least 2", "interest_cover", None, "interest_cover >= 2"),
    (
        DEBT,
        "Debt in years of funds from operations",
        "at most 10",
        "(short_term_debt + long_term_debt) ÷ funds_from_operations",
        None,
        "(short_term_debt + long_term_debt) ÷ funds_from_operations <= 10",
    ),
];

const HOLDING: &[Test] = &[
    (DEBT, "Assets less liabilities", "above nothing", "total_assets - total_liabilities", None, "total_assets > total_liabilities"),
    (DEBT, "Equity to assets", "at least 50 %", "equity_ratio", None, "equity_ratio >= 50%"),
    (DEBT, "Debt to equity", "at most 0.5", "debt_to_equity", None, "debt_to_equity <= 0.5"),
    (DEBT, "Net income", "above nothing", "fy(net_income, 0)", None, "fy(net_income, 0) > 0"),
    (DEBT, "Operating cash flow", "above nothing", "fy(operating_cash_flow, 0)", None, "fy(operating_cash_flow, 0) > 0"),
];

const fn tests(kind: Kind) -> &'static [Test] {
    match kind {
        Kind::Bank => BANK,
        Kind::Insurer => INSURER,
        Kind::Property => PROPERTY,
        Kind::Fund => &[],
        Kind::Holding => HOLDING,
        Kind::Operating => OPERATING,
    }
}

/// The tests of the balance sheet that mean something for the kind of a company; a fund has none.
///
/// # Errors
/// An unknown company, a date outside the data.
pub fn solvency(ctx: &Ctx, symbol: &str, as_of: Option<Day>) -> Result<Vec<SolvencyTest>, AppError> {
    let c = ctx.company(symbol, ctx.date(as_of)?)?;
    Ok(tests(c.kind()).iter().filter_map(|test| tested(&ctx.engine, &c, *test)).collect())
}

fn tested(context: &Context, c: &CompanyAt<'_>, (group, label, asked, formula, before, holds): Test) -> Option<SolvencyTest> {
    let figure = |formula: &str| value(context, c, formula).map(Figure::from);
    let outcome = match value(context, c, holds) {
        Some(Value::Flag(true)) => Outcome::Pass,
        Some(Value::Flag(false)) => Outcome::Fail,
        _ => Outcome::Open,
    };
    Some(SolvencyTest {
        group,
        label,
        asked,
        formula,
        unit: context.compile(formula).ok()?.unit,
        figure: figure(formula)?,
        before: before.and_then(|formula| Some(YearBefore { formula, figure: figure(formula)? })),
        outcome,
    })
}
