//! Filings from the books: quarters, halves and years as each company reports them, on the split basis of their day.

use crate::{
    character::{Character, Reporting, Story},
    economy::{FIRST_YEAR, QUARTERS, STATES, currency, day, rounded},
    mistakes,
    prices::Traded,
    quarter::{Quarter, TAX_RATE},
    random::Chance,
};
use artemon_core::domain::{Day, Item, ItemKind, Items, Kind, Period, Record, Statement};
use std::ops::Range;

/// Periods of the late company that end from this day on are filed on that one at the earliest.
const LATE_FROM: (i32, u32, u32) = (2025, 9, 1);
const LATE_UNTIL: (i32, u32, u32) = (2026, 9, 14);
/// The share of long-lived assets that can not be touched: licences, charts, software.
const INTANGIBLE: f64 = 0.06;
/// The share of its money that a company with short-term investments keeps in them.
const INVESTED: f64 = 0.4;

/// A filing that a company makes: of which quarters of the books, and when.
#[derive(Clone, Debug)]
pub(crate) struct Due {
    fiscal_year: i32,
    period: Period,
    pub(crate) quarters: Range<usize>,
    end: Day,
    pub(crate) filed_on: Day,
}

/// What a company files, oldest first.
pub(crate) fn due(c: &Character) -> Vec<Due> {
    let mut x = Chance::new(c.seed, c.index, 41);
    let mut out = Vec::new();
    for (fiscal_year, period, quarters) in periods(c) {
        let end = quarter_end(quarters.end - 1);
        let late = if x.happens(0.004) { 70 } else { i32::try_from(x.below(9)).unwrap_or(0) };
        let yearly = if period == Period::FY { 18 } else { 0 };
        let mut filed_on = end.plus_days(c.filing_days + yearly + late);
        if c.story == Some(Story::Late) && end >= day(LATE_FROM) {
            filed_on = filed_on.max(day(LATE_UNTIL));
        }
        let filed_on = crate::calendar::weekday(filed_on);
        // A company brings three years of books when it is listed.
        if c.delisted.is_none_or(|d| filed_on <= d.0) && end >= c.listed_on.plus_months(-36) {
            out.push(Due { fiscal_year, period, quarters, end, filed_on });
        }
    }
    out
}

pub(crate) fn file(c: &Character, books: &[Quarter], market: &Traded, due: Vec<Due>, out: &mut Vec<Record>) {
    let mut x = Chance::new(c.seed, c.index, 40);
    for Due { fiscal_year, period, quarters, end, filed_on } in due {
        let mut items = items(c, &books[quarters], market.split_factor(filed_on));
        let in_crowns = c.crowns_from.is_some_and(|year| fiscal_year >= year);
        if in_crowns {
            convert(&mut items, STATES[c.state].crowns);
        }
        mistakes::in_filing(c, fiscal_year, period, &mut items);
        let source = format!("{}/{fiscal_year}/{period}", c.symbol);
        let row = Statement {
            company_id: c.id.clone(),
            fiscal_year,
            period,
            period_end: end,
            filed_on,
            currency: currency(STATES[if in_crowns { 0 } else { c.state }].currency),
            source,
            items,
        };
        if period == Period::FY && x.happens(0.03) {
            out.extend(restated(&row));
        }
        out.push(Record::Statement(Box::new(row)));
    }
}

/// A correction some months later: a little more cost, hence less income; only the corrected items are filed.
fn restated(row: &Statement) -> Option<Record> {
    let filed_on = row.filed_on.plus_days(140);
    let (income, eps) = (row.items.get(Item::NetIncome)?, row.items.get(Item::EpsDiluted)?);
    let mut items = Items::default();
    items.set(Item::NetIncome, Some((income * 0.97).round()));
    items.set(Item::EpsDiluted, Some(rounded(eps * 0.97, 4)));
    items.set(Item::EpsBasic, row.items.get(Item::EpsBasic).map(|e| rounded(e * 0.97, 4)));
    Some(Record::Statement(Box::new(Statement { filed_on, source: format!("{}/corrected", row.source), items, ..row.clone() })))
}

/// Amounts in another currency.
fn convert(items: &mut Items, rate: f64) {
    for &item in Item::ALL {
        let decimals = match item.kind() {
            ItemKind::Flow | ItemKind::Balance => 0,
            ItemKind::PerShare => 4,
            ItemKind::Shares | ItemKind::Ratio => continue,
        };
        items.set(item, items.get(item).map(|v| rounded(v * rate, decimals)));
    }
}

/// The first day on which a company reports in crowns, where it changed to them.
pub(crate) fn crowns_on(c: &Character, due: &[Due]) -> Option<Day> {
    let from = c.crowns_from?;
    due.iter().filter(|d| d.fiscal_year >= from).map(|d| d.filed_on).min()
}

/// The periods a company reports, with the quarters of the books that each covers.
fn periods(c: &Character) -> Vec<(i32, Period, Range<usize>)> {
    let offset = usize::try_from((c.year_end / 3) % 4).unwrap_or(0);
    let mut out = Vec::new();
    // The first fiscal year ends with the quarter that ends in its last month.
    let first_end = if offset == 0 { 4 } else { offset + 4 };
    for end in (first_end..=QUARTERS + 3).step_by(4) {
        let start = end - 4;
        let year = FIRST_YEAR + i32::try_from((end - 1) / 4).unwrap_or(0);
        let parts: &[(Period, usize, usize)] = match c.reporting {
            Reporting::Quarterly => &[(Period::Q1, 0, 1), (Period::Q2, 1, 2), (Period::Q3, 2, 3), (Period::FY, 0, 4)],
            Reporting::HalfYearly => &[(Period::H1, 0, 2), (Period::FY, 0, 4)],
            Reporting::Yearly => &[(Period::FY, 0, 4)],
        };
        let inside = parts.iter().map(|&(p, a, b)| (year, p, start + a..start + b)).filter(|p| p.2.end <= QUARTERS && p.2.start > 0);
        out.extend(inside);
    }
    out
}

fn quarter_end(q: usize) -> Day {
    let months = i32::try_from(q * 3 + 2).unwrap_or(0);
    day((FIRST_YEAR, 1, 1)).plus_months(months).month_end()
}

fn items(c: &Character, quarters: &[Quarter], split: f64) -> Items {
    let sum = |f: fn(&Quarter) -> f64| quarters.iter().map(f).sum::<f64>();
    let end = &quarters[quarters.len() - 1];
    let mut items = Items::default();
    let mut set = |item, v: f64| items.set(item, Some(v));
    let income = sum(Quarter::net_income);
    let common = income - sum(|q| q.preferred_dividends);
    let invested = if c.keeps_investments() { (end.cash * INVESTED).round() } else { 0.0 };
    let shares = (sum(|q| q.shares) / quarters.len() as f64).round() * split;
    let one_off = (sum(|q| q.one_off) * (1.0 - TAX_RATE) - sum(|q| q.written_off)).round();
    set(Item::Revenue, sum(|q| q.revenue));
    set(Item::PretaxIncome, sum(Quarter::pretax));
    set(Item::IncomeTax, sum(|q| q.tax));
    set(Item::NetIncome, income);
    set(Item::EpsBasic, rounded(common / shares, 4));
    set(Item::EpsDiluted, rounded(common / (shares * 1.01), 4));
    set(Item::EpsAdjusted, rounded((common - one_off) / (shares * 1.01), 4));
    set(Item::SharesBasic, shares);
    set(Item::SharesDiluted, (shares * 1.01).round());
    set(Item::SharesOutstanding, (end.shares * split).round());
    set(Item::Cash, end.cash - invested);
    if invested > 0.0 {
        set(Item::ShortTermInvestments, invested);
    }
    if end.preferred > 0.0 {
        set(Item::PreferredEquity, end.preferred);
        set(Item::PreferredDividends, sum(|q| q.preferred_dividends));
    }
    if end.minority > 0.0 {
        set(Item::MinorityInterest, end.minority);
    }
    let intangibles = if c.industry.kind == Kind::Operating { (end.fixed * INTANGIBLE).round() } else { 0.0 };
    set(Item::FixedAssets, end.fixed - intangibles);
    if intangibles > 0.0 {
        set(Item::Intangibles, intangibles);
    }
    set(Item::TotalAssets, end.total_assets());
    set(Item::TotalLiabilities, end.total_liabilities());
    set(Item::Equity, end.equity);
    set(Item::RetainedEarnings, end.retained);
    set(Item::OperatingCashFlow, sum(|q| q.operating_cash));
    set(Item::CapitalExpenditure, sum(|q| q.capex));
    set(Item::DividendsPaid, sum(|q| q.dividends + q.special + q.preferred_dividends));
    set(Item::Acquisitions, sum(|q| q.acquired));
    set(Item::SharesIssued, sum(|q| q.issued));
    set(Item::SharesRepurchased, sum(|q| q.repurchased));
    set(Item::StockCompensation, sum(|q| q.stock_pay));
    by_kind(c.industry.kind, quarters, income, &mut items);
    items
}

/// Items that only some kinds of company file.
fn by_kind(kind: Kind, quarters: &[Quarter], income: f64, items: &mut Items) {
    let sum = |f: fn(&Quarter) -> f64| quarters.iter().map(f).sum::<f64>();
    let end = &quarters[quarters.len() - 1];
    let mut set = |item, v: f64| items.set(item, Some(v));
    match kind {
        Kind::Bank => {
            set(Item::NetInterestIncome, (sum(|q| q.revenue) * 0.7).round());
            set(Item::LossProvision, (sum(|q| q.cost) * 0.4).round());
            set(Item::Tier1Ratio, rounded((end.equity / (end.total_assets() * 0.62)).clamp(0.05, 0.25), 4));
            return;
        }
        Kind::Insurer => {
            set(Item::PremiumsEarned, (sum(|q| q.revenue) * 0.9).round());
            set(Item::CombinedRatio, rounded(1.0 - sum(Quarter::operating_income) / sum(|q| q.revenue), 4));
            return;
        }
        Kind::Property => set(Item::FundsFromOperations, income + sum(|q| q.depreciation)),
        _ => {}
    }
    set(Item::CostOfRevenue, sum(|q| q.cost));
    set(Item::GrossProfit, sum(|q| q.revenue - q.cost));
    set(Item::ResearchDevelopment, sum(|q| q.research));
    set(Item::SellingGeneralAdmin, sum(|q| q.selling));
    set(Item::OperatingIncome, sum(Quarter::operating_income));
    set(Item::DepreciationAmortization, sum(|q| q.depreciation));
    set(Item::InterestExpense, sum(|q| q.interest));
    set(Item::Receivables, end.receivables);
    set(Item::Inventory, end.inventory);
    set(Item::CurrentAssets, end.current_assets());
    set(Item::Goodwill, end.goodwill);
    set(Item::Payables, end.payables);
    set(Item::ShortTermDebt, end.short_debt);
    set(Item::CurrentLiabilities, end.payables + end.short_debt);
    set(Item::LongTermDebt, end.long_debt);
    set(Item::DebtIssued, sum(|q| q.debt_issued));
    set(Item::DebtRepaid, sum(|q| q.debt_repaid));
}
