//! The statements of a company as tables: items and ratios by period, in several forms. Every cell is a formula of the language, so
//! that it means the same as anywhere else and can be opened.

use crate::{
    AppError, Ctx,
    figures::compact::{Cells, cells},
};
use artemon_core::{
    domain::{Day, Item, Period},
    engine::Context,
    formula::{Compiled, Unit, Value},
    measures,
    panel::{CompanyAt, PeriodIndex},
    wording::label,
};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use utoipa::ToSchema;

/// Years or quarters shown at most.
const MOST: u32 = 20;

/// A statement.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Statement {
    Income,
    Balance,
    Cash,
}

/// What its columns are.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StatementPeriod {
    /// Fiscal years, before them the latest twelve months where they are newer.
    Year,
    /// Half-years, of who reports quarters the sums of two; of a company that reports once a year there are none.
    Half,
    /// Quarters; of a company that reports none there are no columns.
    Quarter,
}

/// What its figures are.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StatementForm {
    /// As reported, in the base currency at today's rate; with the ratios that belong to the statement.
    Amount,
    /// For one share, in the base currency.
    PerShare,
    /// As a share of revenue; of a balance sheet as a share of total assets.
    CommonSize,
    /// Against the year before, of a quarter the same quarter of it.
    Growth,
}

/// Which table is wanted.
#[derive(Clone, Copy, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct StatementRequest {
    pub statement: Statement,
    pub period: StatementPeriod,
    pub form: StatementForm,
    /// The date; the newest session when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
}

/// A statement as a table, the newest period first.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct StatementTable {
    /// The periods.
    pub columns: Vec<StatementColumn>,
    /// What the company reports, and what follows from it; what it never reported, or never had, is left out.
    pub rows: Vec<StatementRow>,
}

/// A period.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct StatementColumn {
    /// "2025", "H1 2025", "Q3 2025" or "12 months".
    pub label: String,
    /// Its last day.
    #[schema(value_type = String)]
    pub period_end: Day,
    /// When it was first filed.
    #[schema(value_type = String)]
    pub filed_on: Day,
}

/// An item or a ratio over the periods.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct StatementRow {
    /// The item or measure.
    pub id: String,
    #[allow(missing_docs)]
    pub label: String,
    /// Of its figures in this form.
    pub unit: Unit,
    /// Whether it is a sum of those before it.
    pub total: bool,
    /// What each figure is, by column.
    pub formulas: Vec<String>,
    /// The figures, by column, to six digits.
    #[serde(flatten)]
    pub cells: Cells,
}

/// A line of a statement: what it is, and whether it is a sum.
type Line = (&'static str, bool);

const fn item(id: &'static str) -> Line {
    (id, false)
}

const fn total(id: &'static str) -> Line {
    (id, true)
}

const INCOME: &[Line] = &[
    total("revenue"),
    item("net_interest_income"),
    item("premiums_earned"),
    item("cost_of_revenue"),
    total("gross_profit"),
    item("research_development"),
    item("selling_general_admin"),
    item("loss_provision"),
    item("depreciation_amortization"),
    total("operating_income"),
    item("interest_expense"),
    total("pretax_income"),
    item("income_tax"),
    total("net_income"),
    item("preferred_dividends"),
    item("funds_from_operations"),
    item("eps"),
    item("eps_adjusted"),
    item("shares_diluted"),
    item("gross_margin"),
    item("operating_margin"),
    item("net_margin"),
    item("effective_tax"),
    item("combined_ratio"),
    item("roe"),
    item("roic"),
];

const BALANCE: &[Line] = &[
    item("cash"),
    item("short_term_investments"),
    item("receivables"),
    item("inventory"),
    total("current_assets"),
    item("fixed_assets"),
    item("goodwill"),
    item("intangibles"),
    total("total_assets"),
    item("payables"),
    item("short_term_debt"),
    total("current_liabilities"),
    item("long_term_debt"),
    total("total_liabilities"),
    item("preferred_equity"),
    item("minority_interest"),
    total("equity"),
    item("retained_earnings"),
    item("shares_outstanding"),
    item("net_debt"),
    item("current_ratio"),
    item("quick_ratio"),
    item("debt_to_equity"),
    item("equity_ratio"),
    item("tier1_ratio"),
];

const CASH: &[Line] = &[
    total("operating_cash_flow"),
    item("stock_compensation"),
    item("capital_expenditure"),
    total("free_cash_flow"),
    item("acquisitions"),
    item("dividends_paid"),
    item("shares_repurchased"),
    item("shares_issued"),
    item("net_buyback"),
    item("debt_issued"),
    item("debt_repaid"),
    item("fcf_margin"),
    item("payout"),
    item("dividend_cover"),
];

impl Statement {
    const fn lines(self) -> &'static [Line] {
        match self {
            Statement::Income => INCOME,
            Statement::Balance => BALANCE,
            Statement::Cash => CASH,
        }
    }

    /// Of what its items are a share.
    const fn whole(self) -> &'static str {
        match self {
            Statement::Income | Statement::Cash => "revenue",
            Statement::Balance => "total_assets",
        }
    }
}

/// A period as formulas name it.
#[derive(Clone, Copy)]
pub(super) enum At {
    TwelveMonths,
    Year(u32),
    Half(u32),
    Quarter(u32),
}

impl At {
    /// A formula over this period.
    pub(super) fn of(self, x: &str) -> String {
        match self {
            At::TwelveMonths => x.to_owned(),
            At::Year(k) => format!("fy({x}, {k})"),
            At::Half(k) => format!("h({x}, {k})"),
            At::Quarter(k) => format!("q({x}, {k})"),
        }
    }

    /// Its growth on the year before; twelve months have none of their own.
    pub(super) fn growth(self, x: &str) -> Option<String> {
        match self {
            At::TwelveMonths => None,
            At::Year(k) => Some(format!("fy({x}, {k}) ÷ fy({x}, {}) - 1", k + 1)),
            At::Half(k) => Some(format!("h_yoy({x}, {k})")),
            At::Quarter(k) => Some(format!("q_yoy({x}, {k})")),
        }
    }
}

impl At {
    /// The period that ends with it; none when it is not known.
    pub(super) fn period(self, c: &CompanyAt<'_>) -> Option<PeriodIndex> {
        match self {
            At::TwelveMonths => c.newest_period().ok().filter(|p| c.label(*p).1 != Period::FY),
            At::Year(k) => c.year(k).ok(),
            At::Half(k) => c.half_end(c.half_back(k).ok()?),
            At::Quarter(k) => c.quarter_end(c.quarter_back(k).ok()?),
        }
    }

    /// Which of the quarters it is, counted back from the newest.
    pub(super) const fn quarter(self) -> Option<u32> {
        if let At::Quarter(k) = self { Some(k) } else { None }
    }
}

/// A row: its id and label, whether it is a sum, and the formula of each column.
pub(super) type TableLine = (&'static str, String, bool, Vec<String>);

/// A table of formulas by period, each of which can be opened.
pub(super) fn table(context: &Context, c: &CompanyAt<'_>, columns: &[At], lines: impl IntoIterator<Item = TableLine>) -> StatementTable {
    let of_line = |(id, label, total, formulas): TableLine| {
        let (unit, values) = answered(context, c, &formulas)?;
        Some(StatementRow { id: id.to_owned(), label, unit, total, formulas, cells: cells(values) })
    };
    StatementTable {
        rows: lines.into_iter().filter_map(of_line).collect(),
        columns: columns.iter().filter_map(|at| column(c, *at)).collect(),
    }
}

fn column(c: &CompanyAt<'_>, at: At) -> Option<StatementColumn> {
    let p = at.period(c)?;
    Some(StatementColumn { label: name(c, at, p), period_end: c.period_end(p), filed_on: c.first_filed(p) })
}

/// The answers of formulas with the unit of the first; none when one of them has a mistake, or there is none.
fn answered(context: &Context, c: &CompanyAt<'_>, formulas: &[String]) -> Option<(Unit, Vec<Value>)> {
    let compiled: Vec<Arc<Compiled>> = formulas.iter().map(|f| context.compile(f)).collect::<Result<_, _>>().ok()?;
    let all: Vec<&Compiled> = compiled.iter().map(|f| &**f).collect();
    let columns = context.evaluate_all(&all, &[*c]);
    Some((all.first()?.unit, columns.iter().map(|column| column.value(0)).collect()))
}

/// A statement of a company.
///
/// # Errors
/// An unknown company, a date outside the data.
pub fn statement(ctx: &Ctx, symbol: &str, request: StatementRequest) -> Result<StatementTable, AppError> {
    let c = ctx.company(symbol, ctx.date(request.as_of)?)?;
    let mut periods = periods(&c, request.period);
    if request.form == StatementForm::Growth {
        periods.retain(|at| !matches!(at, At::TwelveMonths));
    }
    let lines = request.statement.lines().iter().filter_map(|line| row(&ctx.engine, &c, request, *line, &periods));
    Ok(StatementTable { rows: lines.collect(), columns: periods.iter().filter_map(|at| column(&c, *at)).collect() })
}

/// The periods that are known, the newest first.
fn periods(c: &CompanyAt<'_>, period: StatementPeriod) -> Vec<At> {
    let known = |at: fn(u32) -> At| (0..MOST).map(at).take_while(|at| at.period(c).is_some());
    match period {
        StatementPeriod::Quarter if reports(c, &QUARTERS) => known(At::Quarter).collect(),
        StatementPeriod::Half if reports(c, &QUARTERS) || reports(c, &HALVES) => known(At::Half).collect(),
        StatementPeriod::Quarter | StatementPeriod::Half => Vec::new(),
        StatementPeriod::Year => {
            let newest = Some(At::TwelveMonths).filter(|at| at.period(c).is_some());
            newest.into_iter().chain(known(At::Year)).collect()
        }
    }
}

const HALVES: [Period; 2] = [Period::H1, Period::H2];
const QUARTERS: [Period; 4] = [Period::Q1, Period::Q2, Period::Q3, Period::Q4];

/// Whether it reports quarters by themselves.
pub(super) fn reports_quarters(c: &CompanyAt<'_>) -> bool {
    reports(c, &QUARTERS)
}

/// Whether any of such periods was reported by itself.
fn reports(c: &CompanyAt<'_>, periods: &[Period]) -> bool {
    c.known_periods().any(|p| periods.contains(&c.label(p).1))
}

fn name(c: &CompanyAt<'_>, at: At, p: PeriodIndex) -> String {
    match at {
        At::TwelveMonths => "12 months".to_owned(),
        At::Year(_) => c.label(p).0.to_string(),
        At::Half(k) => c.half_back(k).map(|(year, half)| format!("H{half} {year}")).unwrap_or_default(),
        At::Quarter(k) => c.quarter_back(k).map(|(year, quarter)| format!("Q{quarter} {year}")).unwrap_or_default(),
    }
}

/// A measure's label, or an item's name.
pub(super) fn called(id: &str, context: &Context) -> String {
    let Some(item) = id.parse::<Item>().ok().filter(|_| measures::find(id).is_none()) else {
        return label(id, &context.settings().library);
    };
    let name = item.label();
    format!("{}{}", name[..1].to_uppercase(), &name[1..])
}

/// A line in the form asked for; none where it has no such form, or the company nothing of it.
fn row(context: &Context, c: &CompanyAt<'_>, request: StatementRequest, (id, total): Line, periods: &[At]) -> Option<StatementRow> {
    let plain = context.compile(id).ok()?;
    let amount = plain.unit == Unit::Money;
    let formula = |at: At| match request.form {
        StatementForm::Amount => Some(at.of(id)),
        StatementForm::PerShare => Some(at.of(&format!("{id} ÷ else(shares_diluted, shares_outstanding)"))).filter(|_| amount),
        StatementForm::CommonSize => Some(at.of(&format!("{id} ÷ {}", request.statement.whole()))).filter(|_| amount),
        StatementForm::Growth => at.growth(id).filter(|_| amount || plain.unit == Unit::PerShare || plain.unit == Unit::Count),
    };
    let formulas: Vec<String> = periods.iter().map(|at| formula(*at)).collect::<Option<_>>()?;
    let (_, values) = answered(context, c, &formulas)?;
    if values.iter().all(|v| v.number().is_err() || v.number() == Ok(0.0)) {
        return None;
    }
    let unit = match request.form {
        StatementForm::Amount => plain.unit,
        StatementForm::PerShare => Unit::PerShare,
        StatementForm::CommonSize | StatementForm::Growth => Unit::Percent,
    };
    Some(StatementRow { id: id.to_owned(), label: called(id, context), unit, total, formulas, cells: cells(values) })
}
