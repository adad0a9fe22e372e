//! The catalogue of measures: data in one place, from which help, pickers and documents are generated.
//!
//! One file a family; every entry is a formula over statement items and other measures, or names a kernel.

mod balance;
mod company;
mod entry;
mod growth;
mod income;
mod insiders;
mod multiples;
mod owners_cash;
mod price;
mod quality;
mod quarters;
mod returns;
mod size;
mod value;

pub use entry::{Better, Body, Family, Measure, Param, ParamKind};

use std::{collections::HashMap, sync::LazyLock};

const FAMILIES: [&[Measure]; 13] = [
    company::MEASURES,
    size::MEASURES,
    multiples::MEASURES,
    income::MEASURES,
    returns::MEASURES,
    growth::MEASURES,
    quarters::MEASURES,
    balance::MEASURES,
    owners_cash::MEASURES,
    insiders::MEASURES,
    price::MEASURES,
    value::MEASURES,
    quality::MEASURES,
];

/// Every measure, family by family.
pub fn all() -> impl Iterator<Item = &'static Measure> {
    FAMILIES.into_iter().flatten()
}

/// The measure with this id.
#[must_use]
pub fn find(id: &str) -> Option<&'static Measure> {
    static BY_ID: LazyLock<HashMap<&str, &Measure>> = LazyLock::new(|| all().map(|m| (m.id, m)).collect());
    BY_ID.get(id).copied()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::{Unit, compile};
    use std::collections::HashSet;

    /// Every entry is complete, unique and compiles to the type its unit says; compiling ends, so there is no cycle.
    #[test]
    fn the_catalogue_is_sound() {
        let mut ids = HashSet::new();
        for m in all() {
            assert!(ids.insert(m.id), "{} twice", m.id);
            assert!(m.meaning.ends_with('.') && m.label.len() > 2 && m.undefined.len() > 5, "{} is incomplete", m.id);
            let compiled = compile(&m.example()).unwrap_or_else(|e| panic!("{}: {e}", m.id));
            assert_eq!(compiled.unit, m.unit, "{}", m.id);
            let typed = matches!(m.unit, Unit::Flag | Unit::Text);
            assert!(!(typed && m.better == Better::Lower), "{}", m.id);
        }
        assert!(ids.len() >= 150, "only {} measures", ids.len());
    }
}
