//! Whom a screen looks among, with its floors of size and trading.

use super::document::ScreenUniverse;
use crate::{
    Num,
    domain::{Company, Kind},
    engine::Section,
    formula::FormulaError,
    panel::{AsOf, CompanyIndex},
};
use std::collections::HashSet;

/// Companies left out because a floor's figure is undefined for them.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Refused {
    /// How many.
    pub undefined_floor: usize,
}

/// A universe that cannot be formed.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[allow(missing_docs)]
pub enum UniverseError {
    #[error("There is no company with the symbol or ISIN {}. Check the spelling, or look it up under Companies.", .0.join(", "))]
    UnknownSymbols(Vec<String>),
    #[error("There is no index \"{0}\" in the dataset. Choose one of its indexes, or leave the index out.")]
    UnknownIndex(String),
    #[error(transparent)]
    Formula(#[from] FormulaError),
}

/// The places of a universe's companies in a section, in order of symbol.
pub(super) fn places(section: &Section<'_>, universe: &ScreenUniverse) -> Result<(Vec<usize>, Refused), UniverseError> {
    let mut places = section.chosen(&universe.without_floors(), || chosen(section, universe))?;
    let mut refused = Refused::default();
    for (formula, least, most) in floors(universe) {
        let column = section.column(&*section.compile(&formula)?);
        let values: &[Num] = column.numbers().unwrap_or_default();
        refused.undefined_floor += places.iter().filter(|p| values[**p].is_err()).count();
        places.retain(|p| values[*p].is_ok_and(|v| least.is_none_or(|l| v >= l) && most.is_none_or(|m| v <= m)));
    }
    Ok((places, refused))
}

/// The places of those that the universe names, whatever their size and trading.
fn chosen(section: &Section<'_>, universe: &ScreenUniverse) -> Result<Vec<usize>, UniverseError> {
    let view = section.as_of;
    let members =
        universe.index.as_ref().map(|id| view.index_members(id).ok_or_else(|| UniverseError::UnknownIndex(id.clone()))).transpose()?;
    let in_index = |i: CompanyIndex| members.as_ref().is_none_or(|m| m.binary_search(&i).is_ok());
    let symbols = named(view, &universe.symbols)?;
    let wanted =
        |i: CompanyIndex| symbols.as_ref().is_none_or(|s| s.contains(&i)) && in_index(i) && suits(universe, view.snapshot.company(i));
    Ok((0..section.members().len()).filter(|p| wanted(section.members()[*p])).collect())
}

fn named(view: AsOf<'_>, symbols: &[String]) -> Result<Option<HashSet<CompanyIndex>>, UniverseError> {
    if symbols.is_empty() {
        return Ok(None);
    }
    let unknown: Vec<_> = symbols.iter().filter(|s| view.snapshot.find(s).is_none()).cloned().collect();
    if !unknown.is_empty() {
        return Err(UniverseError::UnknownSymbols(unknown));
    }
    Ok(Some(symbols.iter().filter_map(|s| view.snapshot.find(s)).collect()))
}

fn suits(universe: &ScreenUniverse, company: &Company) -> bool {
    let among = |list: &[String], value: &String| list.is_empty() || list.contains(value);
    let kind = if universe.kinds.is_empty() { company.kind != Kind::Fund } else { universe.kinds.contains(&company.kind) };
    kind && among(&universe.countries, &company.country)
        && among(&universe.sectors, &company.sector)
        && among(&universe.industries, &company.industry)
}

/// The floors as formulas with least and most.
fn floors(universe: &ScreenUniverse) -> Vec<(String, Option<f64>, Option<f64>)> {
    let least = |formula: &str, min: Option<f64>| min.map(|m| (formula.to_owned(), Some(m), None));
    let order = universe.order.map(|o| (format!("order_share({})", o.amount), None, Some(o.max_share)));
    let floors = [
        least("price_in_base", universe.min_price),
        least("market_cap", universe.min_market_cap),
        least("average_traded_value(50)", universe.min_traded_value),
        order,
    ];
    floors.into_iter().flatten().collect()
}
