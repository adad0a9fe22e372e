//! What was set aside because it is damaged on the disk, in words.

use super::opened::Opened;
use artemon_core::{
    domain::Table,
    plausibility::{Check, Finding},
};
use artemon_store::SetAside;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// What is damaged of one company, currency, index or of the market.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Damage {
    /// The company whose rows they are, by symbol or id; none where they are of a currency, an index or the market.
    pub company: Option<String>,
    /// In which tables.
    #[schema(value_type = Vec<String>)]
    pub tables: Vec<Table>,
    /// What is set aside, and what to do.
    pub sentence: String,
}

/// Of how many it is told what is damaged: more than anybody reads.
const TOLD: usize = 200;

/// How many companies, currencies and indexes are set aside, and what of the first of them is damaged.
pub(crate) fn damages(dataset: &Opened) -> (usize, Vec<Damage>) {
    let mut all: BTreeMap<(Option<String>, String), Vec<Table>> = BTreeMap::new();
    for aside in &dataset.aside {
        let company = company(dataset, aside);
        let owner = company.clone().unwrap_or_else(|| aside.owner.clone());
        all.entry((company, owner)).or_default().push(aside.table);
    }
    let told = |((company, owner), mut tables): ((Option<String>, String), Vec<Table>)| {
        tables.dedup();
        Damage { sentence: sentence(&owner, company.is_some(), &tables), company, tables }
    };
    (all.len(), all.into_iter().take(TOLD).map(told).collect())
}

/// The same as doubts about the companies that are known.
pub(super) fn findings(dataset: &Opened) -> Vec<Finding> {
    let snapshot = dataset.engine.snapshot();
    let Some((_, last)) = snapshot.sessions() else { return Vec::new() };
    let one = |aside: &SetAside| {
        let company = snapshot.find(aside.company.as_ref()?)?;
        let sentence = sentence(snapshot.symbol(company), true, &[aside.table]);
        Some(Finding { company, check: Check::Damaged, table: aside.table, on: last, fiscal_year: None, item: None, sentence })
    };
    dataset.aside.iter().filter_map(one).collect()
}

fn company(dataset: &Opened, aside: &SetAside) -> Option<String> {
    let id = aside.company.as_ref()?;
    let snapshot = dataset.engine.snapshot();
    Some(snapshot.find(id).map_or_else(|| id.clone(), |company| snapshot.symbol(company).to_owned()))
}

pub(crate) fn said(aside: &SetAside) -> String {
    sentence(&aside.owner, aside.company.is_some(), &[aside.table])
}

fn sentence(owner: &str, is_company: bool, tables: &[Table]) -> String {
    let whose = if owner.is_empty() { "The market as a whole" } else { owner };
    let names = tables.iter().map(|t| t.code().replace('_', " ")).collect::<Vec<_>>().join(", ");
    let what = if is_company { "all its figures are set aside, since they could be wrong" } else { "they are set aside" };
    format!("{whose}: rows under {names} are damaged on the disk, so {what}. Import them again.")
}
