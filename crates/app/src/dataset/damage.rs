//! What was set aside because it is damaged on the disk, in words.

use super::opened::Opened;
use artemon_core::{
    domain::Table,
    plausibility::{Check, Finding},
};
use artemon_store::SetAside;
use serde::Serialize;
use utoipa::ToSchema;

/// Rows that are not as they were written.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Damage {
    /// In which table.
    #[schema(value_type = String)]
    pub table: Table,
    /// The company whose they are, by symbol or id; none where they are of a currency, an index or the market.
    pub company: Option<String>,
    /// What is set aside, and what to do.
    pub sentence: String,
}

/// What is set aside, company by company.
pub(crate) fn damages(dataset: &Opened) -> Vec<Damage> {
    dataset.aside.iter().map(|aside| Damage { table: aside.table, company: company(dataset, aside), sentence: said(aside) }).collect()
}

/// The same as doubts about the companies that are known.
pub(super) fn findings(dataset: &Opened) -> Vec<Finding> {
    let snapshot = dataset.engine.snapshot();
    let Some((_, last)) = snapshot.sessions() else { return Vec::new() };
    let one = |aside: &SetAside| {
        let company = snapshot.find(aside.company.as_ref()?)?;
        Some(Finding { company, check: Check::Damaged, table: aside.table, on: last, fiscal_year: None, item: None, sentence: said(aside) })
    };
    dataset.aside.iter().filter_map(one).collect()
}

fn company(dataset: &Opened, aside: &SetAside) -> Option<String> {
    let id = aside.company.as_ref()?;
    let snapshot = dataset.engine.snapshot();
    Some(snapshot.find(id).map_or_else(|| id.clone(), |company| snapshot.symbol(company).to_owned()))
}

pub(crate) fn said(aside: &SetAside) -> String {
    let what = aside.table.code().replace('_', " ");
    let SetAside { owner, company, .. } = aside;
    match (company, owner.as_str()) {
        (Some(_), owner) => format!(
            "The {what} of {owner} are damaged on the disk. All figures of the company are set aside, since they could be wrong; import it again."
        ),
        (None, "") => format!("The {what} of the market as a whole are damaged on the disk and are set aside; import them again."),
        (None, owner) => format!("The {what} of {owner} are damaged on the disk and are set aside; import them again."),
    }
}
