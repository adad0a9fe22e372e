//! Doubts about the data: figures that may be right but look like mistakes. They land, are listed, and stand beside the
//! figure. One file a check.

mod accounts;
mod filings;
mod prices;

use crate::{
    domain::{Day, Item, Table},
    panel::{AsOf, CompanyAt, CompanyIndex},
};
use rayon::prelude::*;
use serde::Serialize;

/// Findings of one check that are kept of one company.
const MOST: usize = 12;

/// What a check looks for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Check {
    /// Assets are not liabilities and equity.
    Balance,
    /// Earnings per share are not income over shares.
    EarningsPerShare,
    /// Revenue jumps as if its unit had changed.
    Units,
    /// Quarters or years are missing between others.
    MissingPeriods,
    /// A period was first filed very late.
    LateFiling,
    /// A price moves by half in a day without a reason.
    PriceJump,
    /// No prices for weeks.
    PriceGap,
    /// Its rows are not as they were written: something on the disk is damaged.
    Damaged,
}

/// A doubt.
#[derive(Clone, Debug, PartialEq)]
pub struct Finding {
    /// Whose data.
    pub company: CompanyIndex,
    /// What was looked for.
    pub check: Check,
    /// The table in which it shows.
    pub table: Table,
    /// The day: a period's end or a session.
    pub on: Day,
    /// The fiscal year, for statements.
    pub fiscal_year: Option<i32>,
    /// The item it concerns most, for statements.
    pub item: Option<Item>,
    /// What was found, with its figures.
    pub sentence: String,
}

/// A finding before its company is put to it.
struct Doubt {
    on: Day,
    fiscal_year: Option<i32>,
    item: Option<Item>,
    sentence: String,
}

/// A check: what it looks for, where, and how.
type Entry = (Check, Table, fn(&CompanyAt<'_>) -> Vec<Doubt>);

const CHECKS: &[Entry] = &[
    (Check::Balance, Table::Statements, accounts::balance),
    (Check::EarningsPerShare, Table::Statements, accounts::earnings_per_share),
    (Check::Units, Table::Statements, accounts::units),
    (Check::MissingPeriods, Table::Statements, filings::missing),
    (Check::LateFiling, Table::Statements, filings::late),
    (Check::PriceJump, Table::Prices, prices::jumps),
    (Check::PriceGap, Table::Prices, prices::gaps),
];

/// The findings about all companies as of a view, by company and check.
#[must_use]
pub fn findings(view: AsOf<'_>) -> Vec<Finding> {
    let companies: Vec<_> = view.companies().collect();
    companies.par_iter().flat_map_iter(of_company).collect()
}

fn of_company(c: &CompanyAt<'_>) -> Vec<Finding> {
    let company = c.index;
    let one = |&(check, table, run): &Entry| {
        let with_company =
            move |d: Doubt| Finding { company, check, table, on: d.on, fiscal_year: d.fiscal_year, item: d.item, sentence: d.sentence };
        run(c).into_iter().rev().take(MOST).map(with_company)
    };
    CHECKS.iter().flat_map(one).collect()
}

/// A number for a sentence: no more digits than one reads.
fn short(x: f64) -> String {
    let size = x.abs();
    let (scaled, unit) = match size {
        s if s >= 1e9 => (x / 1e9, " bn"),
        s if s >= 1e6 => (x / 1e6, " m"),
        _ => (x, ""),
    };
    let digits = if scaled.abs() >= 100.0 { 0 } else { 2 };
    format!("{scaled:.digits$}{unit}").replace('-', "−")
}
