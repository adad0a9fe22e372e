//! `measures`: the catalogue.

use crate::{args::Shared, output::print};

pub(crate) fn run(shared: &Shared) -> anyhow::Result<()> {
    let all = artemon_app::measure_list();
    let rows: Vec<_> = all.iter().map(|m| vec![m.example.clone(), m.label.to_owned(), m.unit.to_string(), m.meaning.to_owned()]).collect();
    print(shared.format, &all, &["measure", "name", "unit", "meaning"], &rows)
}
