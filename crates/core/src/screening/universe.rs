//! Whom a screen looks among, with its floors of size and trading.

use super::{
    document::ScreenUniverse,
    ordered::Ordered,
    sets::{Members, those},
};
use crate::{
    domain::{Company, Kind},
    engine::{Keep, Section},
    formula::{Compiled, Fingerprint, FormulaError},
    limits::{COMPARISONS, FORMULAS_IN_ALL},
    panel::{AsOf, CompanyIndex},
};
use std::{
    collections::{BTreeSet, HashSet},
    sync::Arc,
};

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
    #[error("There is no list \"{0}\". Choose one of your lists, or leave the list out.")]
    UnknownList(String),
    #[error("The screen has {0} criteria, columns and keys; {FORMULAS_IN_ALL} are possible in all. Leave some of them out.")]
    TooMany(usize),
    #[error(
        "{0} different things are compared with their past or with peers; {COMPARISONS} are possible at once. Leave some of the formulas out."
    )]
    TooWide(usize),
    #[error(transparent)]
    Formula(#[from] FormulaError),
}

/// The companies that a screen looks among.
#[derive(Debug)]
pub struct Universe {
    /// By place in the section.
    pub(super) members: Members,
    /// Those left out for want of a figure.
    pub refused: Refused,
}

impl Universe {
    /// How many.
    #[must_use]
    pub fn len(&self) -> usize {
        self.members.count_ones(..)
    }

    /// Whether nobody is in it.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.members.is_clear()
    }

    /// Its companies as places in the section, in order of symbol.
    pub fn places(&self) -> impl Iterator<Item = usize> {
        self.members.ones()
    }
}

impl Keep for Universe {
    fn bytes(&self) -> usize {
        self.members.bytes()
    }
}

/// Whom a screen looks among in a section.
pub(super) fn universe(section: &Section<'_>, of: &ScreenUniverse) -> Result<Arc<Universe>, UniverseError> {
    let floors: Vec<(Arc<Compiled>, Option<f64>, Option<f64>)> = floors(of)
        .into_iter()
        .map(|(text, least, most)| Ok((section.compile(&text)?, least, most)))
        .collect::<Result<_, FormulaError>>()?;
    let formulas: Vec<Arc<Compiled>> = floors.iter().map(|(f, ..)| f.clone()).collect();
    let list = of.list.as_ref().map(|name| listed(section, name)).transpose()?;
    section.derived(&(of, list), &formulas, || {
        let mut members = section.derived(&(of.without_floors(), list), &[], || chosen(section, of, list))?.0.clone();
        let mut refused = Refused::default();
        for (formula, least, most) in &floors {
            let known = section.of_column(formula, Fingerprint::NOTHING, Ordered::of);
            refused.undefined_floor += members.intersection_count(&known.unknown);
            let column = section.column(formula);
            let value = |i: usize| column.numbers().and_then(|n| n[i].ok());
            members &= &those(members.len(), |i| value(i).is_some_and(|v| least.is_none_or(|l| v >= l) && most.is_none_or(|m| v <= m)));
        }
        Ok(Universe { members, refused })
    })
}

/// Those whom a universe names, whatever their size and trading.
struct Chosen(Members);

impl Keep for Chosen {
    fn bytes(&self) -> usize {
        self.0.bytes()
    }
}

/// The ids of the companies on a list of the person's.
fn listed<'a>(section: &Section<'a>, name: &str) -> Result<&'a BTreeSet<Arc<str>>, UniverseError> {
    section.context().settings().lists.get(name).ok_or_else(|| UniverseError::UnknownList(name.to_owned()))
}

fn chosen(section: &Section<'_>, universe: &ScreenUniverse, list: Option<&BTreeSet<Arc<str>>>) -> Result<Chosen, UniverseError> {
    let view = section.as_of;
    let members =
        universe.index.as_ref().map(|id| view.index_members(id).ok_or_else(|| UniverseError::UnknownIndex(id.clone()))).transpose()?;
    let in_index = |i: CompanyIndex| members.as_ref().is_none_or(|m| m.binary_search(&i).is_ok());
    let symbols = named(view, &universe.symbols)?;
    let on_list = |i: CompanyIndex| list.is_none_or(|ids| ids.contains(&view.snapshot.company(i).id));
    let named = |i: CompanyIndex| symbols.as_ref().is_none_or(|s| s.contains(&i)) && in_index(i) && on_list(i);
    let wanted = |i: CompanyIndex| named(i) && suits(universe, view.snapshot.company(i));
    Ok(Chosen(those(section.members().len(), |p| wanted(section.members()[p]))))
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

/// The formulas of a universe's floors.
pub(crate) fn floor_formulas(universe: &ScreenUniverse) -> impl Iterator<Item = String> {
    floors(universe).into_iter().map(|(formula, ..)| formula)
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
