//! What the dataset holds, where from, and what is doubtful about it.

use super::{
    damage::damages,
    first_data::{FirstData, first_data},
};
use crate::{AppError, Ctx};
use artemon_core::{
    domain::{Day, Table},
    panel::TableCoverage,
    plausibility::Check,
};
use serde::{Deserialize, Serialize};
use std::{
    cmp::Ordering,
    collections::{BTreeMap, HashMap},
};
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
    /// How far it is on its way to a market that can be screened.
    pub first: FirstData,
    /// Of how many companies, currencies and indexes something is damaged and was set aside.
    pub damaged: usize,
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
    /// In which order the rows come; by symbol when empty.
    #[serde(default)]
    pub order: Vec<HoldingsOrder>,
    #[serde(default)]
    pub offset: usize,
    #[serde(default)]
    pub rows: Option<usize>,
}

/// One key of an order of companies.
#[derive(Clone, Copy, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct HoldingsOrder {
    pub by: HoldingsKey,
    #[serde(default)]
    pub descending: bool,
}

/// What companies are compared by.
#[derive(Clone, Copy, Debug, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum HoldingsKey {
    Name,
    Filings,
    Sessions,
    Estimates,
    NewestFiling,
    Source,
    Doubts,
}

impl HoldingsKey {
    fn compare(self, a: &HoldingsRow, b: &HoldingsRow) -> Ordering {
        match self {
            HoldingsKey::Name => a.name.to_lowercase().cmp(&b.name.to_lowercase()),
            HoldingsKey::Filings => a.statements.rows.cmp(&b.statements.rows),
            HoldingsKey::Sessions => a.prices.rows.cmp(&b.prices.rows),
            HoldingsKey::Estimates => a.estimates.cmp(&b.estimates),
            HoldingsKey::NewestFiling => a.newest_filing.cmp(&b.newest_filing),
            HoldingsKey::Source => a.source.cmp(&b.source),
            HoldingsKey::Doubts => a.findings.cmp(&b.findings),
        }
    }
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
        folder: ctx.home.folder_shown(),
        tables: ctx.dataset.coverage(),
        findings: counts.into_iter().map(|(check, findings)| CheckCount { check, findings }).collect(),
        first: first_data(ctx),
        damaged: damages(&ctx.dataset).0,
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
    let mut doubts: HashMap<u32, usize> = HashMap::new();
    ctx.dataset.findings().0.iter().for_each(|f| *doubts.entry(f.company).or_default() += 1);
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
            findings: doubts.get(&i).copied().unwrap_or(0),
        }
    };
    let (companies, wanted) = (found.len(), request.rows.unwrap_or(ROWS));
    if request.order.is_empty() {
        return Holdings { companies, rows: found.iter().skip(request.offset).take(wanted).map(row).collect() };
    }
    let mut all: Vec<HoldingsRow> = found.iter().map(row).collect();
    all.sort_by(|a, b| {
        let by_key = request.order.iter().map(|o| if o.descending { o.by.compare(b, a) } else { o.by.compare(a, b) });
        by_key.fold(Ordering::Equal, Ordering::then)
    });
    Holdings { companies, rows: all.into_iter().skip(request.offset).take(wanted).collect() }
}
