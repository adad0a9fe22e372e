//! What the dataset holds, where from, and what is doubtful about it.

use crate::{AppError, Ctx};
use artemon_core::{
    domain::{Day, Table},
    panel::TableCoverage,
    plausibility::Check,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Imports listed.
const IMPORTS: i64 = 40;
/// Rows of a page when not asked for otherwise.
const ROWS: usize = 100;

/// The dataset as a whole.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct DataAnswer {
    pub name: String,
    pub folder: String,
    pub tables: Vec<TableCoverage>,
    /// Doubts by check.
    pub findings: Vec<CheckCount>,
    /// Imports that have ended, newest first.
    pub imports: Vec<ImportEntry>,
}

/// How many doubts of a check.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CheckCount {
    pub check: Check,
    pub findings: usize,
}

/// An import that has ended.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ImportEntry {
    pub id: i32,
    pub title: String,
    pub finished_at: String,
    /// "done", "refused" or "cancelled".
    pub outcome: String,
    pub message: String,
    pub rows: i64,
    pub bad_rows: i64,
}

/// A page of companies with what is there of each.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Holdings {
    pub companies: usize,
    pub rows: Vec<HoldingsRow>,
}

/// What is there of one company.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct HoldingsRow {
    pub symbol: String,
    pub name: String,
    pub statements: ExtentAnswer,
    pub prices: ExtentAnswer,
    pub estimates: usize,
    pub insider_trades: usize,
    #[schema(value_type = Option<String>)]
    pub newest_filing: Option<Day>,
    pub source: String,
    pub findings: usize,
}

/// Rows with their first and last day.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ExtentAnswer {
    pub rows: usize,
    #[schema(value_type = Option<String>)]
    pub first: Option<Day>,
    #[schema(value_type = Option<String>)]
    pub last: Option<Day>,
}

/// Which page of companies.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct HoldingsRequest {
    /// Part of a name or symbol.
    #[serde(default)]
    pub text: String,
    #[serde(default)]
    pub offset: usize,
    #[serde(default)]
    pub rows: Option<usize>,
}

/// What the dataset holds.
///
/// # Errors
/// When the kept imports cannot be read.
pub fn data(ctx: &Ctx) -> Result<DataAnswer, AppError> {
    let mut counts: BTreeMap<Check, usize> = BTreeMap::new();
    ctx.dataset.findings().0.iter().for_each(|f| *counts.entry(f.check).or_default() += 1);
    let imports = ctx.home.store.kept_imports(IMPORTS)?.into_iter().map(|i| ImportEntry {
        id: i.id,
        title: i.title,
        finished_at: i.finished_at,
        outcome: i.outcome,
        message: i.message,
        rows: i.row_count,
        bad_rows: i.bad_rows,
    });
    Ok(DataAnswer {
        name: ctx.dataset.name.clone(),
        folder: ctx.home.folder().display().to_string(),
        tables: ctx.dataset.coverage(),
        findings: counts.into_iter().map(|(check, findings)| CheckCount { check, findings }).collect(),
        imports: imports.collect(),
    })
}

/// The report of an import as CSV.
///
/// # Errors
/// When there is none of this number.
pub fn import_report(ctx: &Ctx, id: i32) -> Result<String, AppError> {
    let missing = || AppError::Missing { what: format!("Report {id}") };
    ctx.home.store.import_report(id)?.ok_or_else(missing)
}

/// The companies with what is there of each.
#[must_use]
pub fn holdings(ctx: &Ctx, request: &HoldingsRequest) -> Holdings {
    let snapshot = ctx.snapshot();
    let all_findings = ctx.dataset.findings();
    let wanted = request.text.trim().to_lowercase();
    let matches = |i: &u32| {
        wanted.is_empty()
            || snapshot.symbol(*i).to_lowercase().starts_with(&wanted)
            || snapshot.company(*i).name.to_lowercase().contains(&wanted)
    };
    let all = 0..u32::try_from(snapshot.company_count()).unwrap_or(u32::MAX);
    let found: Vec<u32> = all.filter(matches).collect();
    let row = |&i: &u32| {
        let extent = |table| {
            let e = snapshot.extent(i, table);
            ExtentAnswer { rows: e.rows, first: e.days.map(|d| d.0), last: e.days.map(|d| d.1) }
        };
        let newest = snapshot.newest_filing(i);
        HoldingsRow {
            symbol: snapshot.symbol(i).to_owned(),
            name: snapshot.company(i).name.clone(),
            statements: extent(Table::Statements),
            prices: extent(Table::Prices),
            estimates: extent(Table::Estimates).rows,
            insider_trades: extent(Table::InsiderTrades).rows,
            newest_filing: newest.map(|n| n.0),
            source: newest.map(|n| n.1.to_owned()).unwrap_or_default(),
            findings: all_findings.0.iter().filter(|f| f.company == i).count(),
        }
    };
    let rows = found.iter().skip(request.offset).take(request.rows.unwrap_or(ROWS)).map(row).collect();
    Holdings { companies: found.len(), rows }
}
