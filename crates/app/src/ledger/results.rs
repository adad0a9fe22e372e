//! What came of it: year by year, by sector, by the screen from which companies came; and income, received and ahead.

use super::{
    books::{own_ledger, whole_market},
    decisions::{origins, read},
    index::index_compared,
};
use crate::{AppError, Ctx, LedgerRequest, figures::compact::six_digits};
use artemon_core::{
    domain::Day,
    ledger::{AccountReport, IncomeLine, Sureness, YearResult, income_calendar},
    panel::CompanyIndex,
};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Results of all accounts together, in the base currency.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ResultsAnswer {
    #[schema(value_type = String)]
    pub as_of: Day,
    pub base: String,
    pub index: Option<String>,
    /// The newest first.
    pub years: Vec<YearResult>,
    /// The greatest gain first.
    pub sectors: Vec<GroupResult>,
    pub screens: Vec<GroupResult>,
    /// By month, oldest first: two years back and one ahead.
    pub income: Vec<IncomeMonth>,
    pub income_lines: Vec<IncomeRow>,
}

/// What came of some securities.
#[derive(Clone, Debug, Default, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct GroupResult {
    pub name: String,
    /// Companies and other securities among them.
    pub count: usize,
    /// Of what is still held.
    pub worth: f64,
    pub realised: f64,
    pub unrealised: f64,
    pub income: f64,
    /// All three together.
    pub gain: f64,
    /// A rate was missing, so that something is left out.
    pub partly: bool,
}

/// Income of a calendar month.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct IncomeMonth {
    /// The first of the month.
    #[schema(value_type = String)]
    pub month: Day,
    pub received: f64,
    pub declared: f64,
    pub expected: f64,
}

/// Income of a day.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct IncomeRow {
    #[schema(value_type = String)]
    pub date: Day,
    pub account: String,
    /// Empty of what is on no exchange of the dataset.
    pub symbol: String,
    pub name: String,
    pub amount: f64,
    pub currency: String,
    pub sureness: Sureness,
}

/// Months of income shown before and after the day's.
const BEFORE: i32 = 23;
const AHEAD: i32 = 12;

/// What came of the ledger as of a day.
///
/// # Errors
/// A day outside the data, an unknown index; when the ledger cannot be read.
pub fn ledger_results(ctx: &Ctx, request: &LedgerRequest) -> Result<ResultsAnswer, AppError> {
    let t = ctx.date(request.as_of)?;
    let own = own_ledger(ctx)?;
    let index = index_compared(ctx, t, request.index.as_deref())?;
    let told = own.told(ctx, t, index.as_deref());
    let accounts = told.reports.first().map_or(&[][..], |r| &r.accounts);
    let decisions = read(ctx, t)?;
    let from = origins(&decisions);
    let company = |key: &str| ctx.snapshot().find(key);
    let sector = |i: Option<CompanyIndex>| i.map_or("not in the dataset".to_owned(), |i| ctx.snapshot().company(i).sector.clone());
    let screen = |i: Option<CompanyIndex>| i.and_then(|i| from.get(&i)).map_or("no screen named".to_owned(), |s| (*s).to_owned());
    let lines = income_calendar(&own.at(ctx, t), ctx.engine.as_of(t));
    Ok(ResultsAnswer {
        as_of: t,
        base: ctx.settings().base.to_string(),
        years: told.years.iter().rev().cloned().collect(),
        sectors: grouped(accounts, |key| sector(company(key))),
        screens: grouped(accounts, |key| screen(company(key))),
        income: months(&lines, t),
        income_lines: lines.iter().rev().filter(|l| l.date > t.plus_months(-12)).map(|l| row(ctx, l)).collect(),
        index,
    })
}

/// Gains by what securities have in common.
fn grouped(accounts: &[AccountReport], group: impl Fn(&str) -> String) -> Vec<GroupResult> {
    let mut all: BTreeMap<String, (GroupResult, Vec<&str>)> = BTreeMap::new();
    fn known(of: &mut GroupResult, amount: Option<f64>) -> f64 {
        of.partly |= amount.is_none();
        amount.unwrap_or_default()
    }
    for a in accounts {
        for h in &a.holdings {
            let (of, keys) = all.entry(group(&h.key)).or_default();
            of.worth += h.value_base;
            of.unrealised += known(of, h.unrealised_base);
            keys.push(&h.key);
        }
        for r in &a.closed_or_reduced {
            let (of, keys) = all.entry(group(&r.key)).or_default();
            of.realised += known(of, r.realised_base);
            keys.push(&r.key);
        }
        for i in &a.income_by_symbol {
            let (of, keys) = all.entry(group(&i.key)).or_default();
            of.income += known(of, i.income_base);
            keys.push(&i.key);
        }
    }
    let whole = |(name, (of, mut keys)): (String, (GroupResult, Vec<&str>))| {
        keys.sort_unstable();
        keys.dedup();
        GroupResult { name, count: keys.len(), gain: of.realised + of.unrealised + of.income, ..of }
    };
    let mut all: Vec<GroupResult> = all.into_iter().map(whole).collect();
    all.sort_by(|a, b| b.gain.total_cmp(&a.gain));
    all
}

fn months(lines: &[IncomeLine], t: Day) -> Vec<IncomeMonth> {
    let first = t.month_start().plus_months(-BEFORE);
    let empty = |m: i32| IncomeMonth { month: first.plus_months(m), received: 0.0, declared: 0.0, expected: 0.0 };
    let mut all: Vec<IncomeMonth> = (0..=BEFORE + AHEAD).map(empty).collect();
    for line in lines {
        let at = usize::try_from(line.date.month_index() - first.month_index());
        let Some(month) = at.ok().and_then(|at| all.get_mut(at)) else { continue };
        let amount = line.amount_base.unwrap_or_default();
        match line.sureness {
            Sureness::Received => month.received += amount,
            Sureness::Declared => month.declared += amount,
            Sureness::Expected => month.expected += amount,
        }
    }
    all
}

fn row(ctx: &Ctx, line: &IncomeLine) -> IncomeRow {
    let c = ctx.snapshot().find(line.security.key()).map(|i| whole_market(ctx).company(i));
    IncomeRow {
        date: line.date,
        account: line.account.to_string(),
        symbol: c.as_ref().map_or_else(String::new, |c| c.symbol().to_owned()),
        name: c.as_ref().map_or_else(|| line.security.name().to_string(), |c| c.company().name.clone()),
        amount: six_digits(line.amount),
        currency: line.currency.to_string(),
        sureness: line.sureness,
    }
}
