//! What is doubtful about the data.

use super::opened::Opened;
use crate::{AppError, Ctx};
use artemon_core::{
    domain::{Day, Table},
    plausibility::{Check, Finding},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Rows of a page when not asked for otherwise.
const ROWS: usize = 100;

/// Which findings.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct FindingsRequest {
    /// Only of this company.
    #[serde(default)]
    pub symbol: Option<String>,
    /// Only of this check, by its name.
    #[serde(default)]
    pub check: Option<String>,
    #[serde(default)]
    pub offset: usize,
    #[serde(default)]
    pub rows: Option<usize>,
}

/// A page of findings.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Findings {
    pub findings: usize,
    pub rows: Vec<FindingAnswer>,
}

/// A doubt about the data.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FindingAnswer {
    pub symbol: String,
    pub name: String,
    pub check: Check,
    #[schema(value_type = String)]
    pub table: Table,
    #[schema(value_type = String)]
    pub on: Day,
    pub fiscal_year: Option<i32>,
    /// The item it concerns most.
    pub item: Option<String>,
    pub sentence: String,
}

/// Doubts about the data.
///
/// # Errors
/// An unknown company.
pub fn findings_list(ctx: &Ctx, request: &FindingsRequest) -> Result<Findings, AppError> {
    let findings = ctx.dataset.findings();
    let company = request.symbol.as_ref().map(|s| ctx.find(s)).transpose()?;
    let is_check = |c: Check| request.check.as_ref().is_none_or(|name| serde_json::to_value(c).is_ok_and(|v| v == name.as_str()));
    let found: Vec<_> = findings.0.iter().filter(|f| company.is_none_or(|c| c == f.company) && is_check(f.check)).collect();
    let rows = found.iter().skip(request.offset).take(request.rows.unwrap_or(ROWS)).map(|f| answer(&ctx.dataset, f)).collect();
    Ok(Findings { findings: found.len(), rows })
}

/// The doubts about a company that concern what was known at a day.
pub(crate) fn doubts_at(dataset: &Opened, company: u32, t: Day) -> Vec<FindingAnswer> {
    dataset.findings().0.iter().filter(|f| f.company == company && f.on <= t).map(|f| answer(dataset, f)).collect()
}

fn answer(dataset: &Opened, f: &Finding) -> FindingAnswer {
    FindingAnswer {
        symbol: dataset.engine.snapshot().symbol(f.company).to_owned(),
        name: dataset.engine.snapshot().company(f.company).name.clone(),
        check: f.check,
        table: f.table,
        on: f.on,
        fiscal_year: f.fiscal_year,
        item: f.item.map(|i| i.code().to_owned()),
        sentence: f.sentence.clone(),
    }
}
