//! The catalogue of measures: data in one place, from which help, pickers and documents are generated.
//!
//! One file a family; every entry is a formula over statement items and other measures, or names a kernel.

mod balance;
mod company;
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
mod synonyms;
mod value;

use crate::formula::{self, Catalogue, Compiled, FormulaError, Library, Measure, OwnMeasure};
use std::sync::LazyLock;

pub use synonyms::synonyms;

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
    catalogue().iter()
}

/// The catalogue as formulas are checked with it.
#[must_use]
pub fn catalogue() -> &'static Catalogue {
    static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| Catalogue::new(FAMILIES));
    &CATALOGUE
}

/// Measures of the user's own beside the catalogue.
#[must_use]
pub fn library(own: impl IntoIterator<Item = OwnMeasure>) -> Library {
    Library::new(catalogue(), own)
}

/// Checks a formula of measures that ship.
///
/// # Errors
/// The first mistake, where it is, and what may have been meant.
pub fn compile(text: &str) -> Result<Compiled, FormulaError> {
    formula::compile_in(text, &library([]))
}

/// A formula of the product's own, in which the catalogue's internal words are allowed.
///
/// # Panics
/// When it has a mistake, which the tests of the tables that hold such formulas would show.
pub(crate) fn compile_own(text: &str) -> Compiled {
    formula::compile_internal(text, catalogue()).unwrap_or_else(|e| unreachable!("own formula {text}: {e}"))
}

/// The measure with this id.
#[must_use]
pub fn find(id: &str) -> Option<&'static Measure> {
    catalogue().find(id)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::{Better, Unit};
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
