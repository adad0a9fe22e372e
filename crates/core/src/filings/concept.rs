//! Which item of a statement a concept serves: `concepts.csv`, the one table, and what a person mapped by hand.

use super::fact::FactUnit;
use crate::domain::{Item, Kind};
use std::{collections::HashMap, sync::LazyLock};

/// A standard taxonomy.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Taxonomy {
    /// Generally accepted accounting principles of the United States.
    UsGaap,
    /// International Financial Reporting Standards.
    Ifrs,
}

/// What a fact may be about.
#[derive(Clone, Debug, PartialEq)]
pub struct Concept {
    /// Its name as a report gives it: `us-gaap:Assets`; of a company's own concept the name alone.
    pub name: String,
    /// What it means here.
    pub role: Role,
}

/// What a concept means here.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Role {
    /// It serves items, by its place in the table.
    Mapped(ConceptId),
    /// Standard, and of no use here.
    Unmapped,
    /// It describes the document.
    Document(CoverFact),
    /// The company's own.
    Own(Option<OwnConcept>),
}

/// How a person mapped a company's own concept.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct OwnConcept {
    /// The item.
    pub item: Item,
    /// Whether what is stated counts the other way.
    pub negated: bool,
}

/// What a fact says about its document.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum CoverFact {
    /// Its type; the filer's identity is that of this fact.
    Type,
    /// The last day that it covers.
    PeriodEnd,
    /// The label of its fiscal year.
    FiscalYear,
    /// Its fiscal period.
    FiscalPeriod,
    /// The newest count of shares.
    Shares,
    /// Anything else.
    Other,
}

/// The place of a concept in the table.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct ConceptId(u16);

/// In which kind of unit a concept is counted.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum UnitKind {
    /// Money.
    Monetary,
    /// Money a share.
    PerShare,
    /// Shares.
    Shares,
    /// A plain number.
    Pure,
}

impl UnitKind {
    pub(super) const fn fits(self, unit: FactUnit) -> bool {
        matches!(
            (self, unit),
            (UnitKind::Monetary, FactUnit::Money(_))
                | (UnitKind::PerShare, FactUnit::PerShare(_))
                | (UnitKind::Shares, FactUnit::Shares)
                | (UnitKind::Pure, FactUnit::Pure)
        )
    }
}

/// A concept of the table.
#[derive(Debug)]
pub(super) struct TableConcept {
    pub(super) name: &'static str,
    pub(super) instant: bool,
    pub(super) unit: UnitKind,
    /// The items that it serves, each for companies of one kind or for all.
    uses: Vec<(Item, Option<Kind>)>,
}

/// One way to come to an item.
#[derive(Debug)]
pub(super) struct Alternative {
    pub(super) kind: Option<Kind>,
    pub(super) members: Vec<Member>,
}

/// A concept in a sum.
#[derive(Clone, Copy, Debug)]
pub(super) struct Member {
    pub(super) concept: ConceptId,
    pub(super) negated: bool,
    /// Without it there is no sum; another counts as none where it is absent.
    pub(super) needed: bool,
}

/// The table.
#[derive(Debug)]
pub(super) struct Table {
    concepts: Vec<TableConcept>,
    by_name: [HashMap<&'static str, ConceptId>; 2],
    /// Of each item, in the order in which they are tried.
    alternatives: HashMap<Item, Vec<Alternative>>,
    /// Unit and whether it is of a day, of each item: of concepts that a person maps.
    items: HashMap<Item, (UnitKind, bool)>,
}

static TABLE: LazyLock<Table> = LazyLock::new(|| Table::read(include_str!("concepts.csv")));

pub(super) fn table() -> &'static Table {
    &TABLE
}

impl Table {
    /// Reads the table, whose cells hold no quotation marks.
    ///
    /// # Panics
    /// When a line cannot be understood: the table is part of the program.
    #[allow(clippy::expect_used)]
    fn read(text: &'static str) -> Table {
        let mut table = Table { concepts: Vec::new(), by_name: Default::default(), alternatives: HashMap::new(), items: HashMap::new() };
        let mut last = ("", "", "");
        for line in text.lines().skip(1) {
            let cells: Vec<&'static str> = line.split(',').collect();
            let &[taxonomy, item, alternative, concept, sign, needed, period, _, unit, kind] = cells.as_slice() else {
                panic!("ten cells: {line}");
            };
            let unit = unit_kind(unit).expect("a kind of unit");
            let item_code = item;
            let item: Item = item.parse().expect("an item");
            table.items.insert(item, (unit, period == "instant"));
            if concept.is_empty() {
                continue;
            }
            let kind = (!kind.is_empty()).then(|| kind.parse::<Kind>().expect("a kind of company"));
            let concept = table.concept(Taxonomy::of(taxonomy).expect("a taxonomy"), concept, period == "instant", unit, (item, kind));
            let ways = table.alternatives.entry(item).or_default();
            if last != (taxonomy, item_code, alternative) {
                ways.push(Alternative { kind, members: Vec::new() });
                last = (taxonomy, item_code, alternative);
            }
            let member = Member { concept, negated: sign == "-1", needed: needed == "yes" };
            ways.last_mut().expect("just made").members.push(member);
        }
        table
    }

    fn concept(&mut self, taxonomy: Taxonomy, name: &'static str, instant: bool, unit: UnitKind, of: (Item, Option<Kind>)) -> ConceptId {
        let next = ConceptId(u16::try_from(self.concepts.len()).unwrap_or(u16::MAX));
        let id = *self.by_name[taxonomy as usize].entry(name).or_insert(next);
        if id == next {
            self.concepts.push(TableConcept { name, instant, unit, uses: Vec::new() });
        }
        self.concepts[usize::from(id.0)].uses.push(of);
        id
    }

    pub(super) fn get(&self, id: ConceptId) -> &TableConcept {
        &self.concepts[usize::from(id.0)]
    }

    pub(super) fn alternatives(&self, item: Item) -> &[Alternative] {
        self.alternatives.get(&item).map_or(&[], Vec::as_slice)
    }

    /// How an item is counted, and whether it is of a day.
    pub(super) fn item(&self, item: Item) -> (UnitKind, bool) {
        self.items.get(&item).copied().unwrap_or((UnitKind::Monetary, false))
    }

    pub(super) fn find(&self, taxonomy: Taxonomy, name: &str) -> Option<ConceptId> {
        self.by_name[taxonomy as usize].get(name).copied()
    }
}

impl TableConcept {
    /// Whether some item of a company of this kind takes it.
    pub(super) fn serves(&self, kind: Kind) -> bool {
        self.items(kind).next().is_some()
    }

    /// The items of a company of this kind that it serves.
    pub(super) fn items(&self, kind: Kind) -> impl Iterator<Item = Item> + '_ {
        self.uses.iter().filter(move |(_, k)| k.is_none_or(|k| k == kind)).map(|(item, _)| *item)
    }
}

fn unit_kind(text: &str) -> Option<UnitKind> {
    Some(match text {
        "monetary" => UnitKind::Monetary,
        "per_share" => UnitKind::PerShare,
        "shares" => UnitKind::Shares,
        "pure" => UnitKind::Pure,
        _ => return None,
    })
}

impl Taxonomy {
    /// The taxonomy of a prefix as reports give it.
    #[must_use]
    pub fn of(prefix: &str) -> Option<Taxonomy> {
        match prefix {
            "us-gaap" => Some(Taxonomy::UsGaap),
            "ifrs-full" => Some(Taxonomy::Ifrs),
            _ => None,
        }
    }

    /// Its usual prefix.
    #[must_use]
    pub const fn prefix(self) -> &'static str {
        match self {
            Taxonomy::UsGaap => "us-gaap",
            Taxonomy::Ifrs => "ifrs-full",
        }
    }
}

/// The concept that by itself is an item, as it counts here: the first such in the table.
#[must_use]
pub fn concept_of(item: Item, taxonomy: Taxonomy) -> Option<&'static str> {
    let alone = |a: &&Alternative| matches!(a.members[..], [Member { negated: false, .. }]);
    let of_taxonomy = |a: &Alternative| {
        let name = table().get(a.members[0].concept).name;
        (table().find(taxonomy, name) == Some(a.members[0].concept)).then_some(name)
    };
    table().alternatives(item).iter().filter(alone).find_map(of_taxonomy)
}

/// How an item is counted, and whether it is of a day rather than of a span.
#[must_use]
pub fn counted(item: Item) -> (UnitKind, bool) {
    table().item(item)
}

impl Concept {
    /// A concept of a standard taxonomy.
    #[must_use]
    pub fn standard(taxonomy: Taxonomy, name: &str) -> Concept {
        let role = table().find(taxonomy, name).map_or(Role::Unmapped, Role::Mapped);
        Concept { name: format!("{}:{name}", taxonomy.prefix()), role }
    }

    /// A concept of the document's cover.
    #[must_use]
    pub fn cover(name: &str) -> Concept {
        let fact = match name {
            "DocumentType" => CoverFact::Type,
            "DocumentPeriodEndDate" => CoverFact::PeriodEnd,
            "DocumentFiscalYearFocus" => CoverFact::FiscalYear,
            "DocumentFiscalPeriodFocus" => CoverFact::FiscalPeriod,
            "EntityCommonStockSharesOutstanding" => CoverFact::Shares,
            _ => CoverFact::Other,
        };
        Concept { name: format!("dei:{name}"), role: Role::Document(fact) }
    }

    /// A company's own concept.
    #[must_use]
    pub fn own(name: &str, mapped: Option<OwnConcept>) -> Concept {
        Concept { name: name.to_owned(), role: Role::Own(mapped) }
    }

    /// A standard concept by the usual prefix of its taxonomy; one of a taxonomy without items serves none.
    #[must_use]
    pub fn prefixed(prefix: &str, name: &str) -> Concept {
        match (prefix, Taxonomy::of(prefix)) {
            (_, Some(taxonomy)) => Concept::standard(taxonomy, name),
            ("dei", None) => Concept::cover(name),
            _ => Concept { name: format!("{prefix}:{name}"), role: Role::Unmapped },
        }
    }

    /// A concept by its namespace, any year's; a company's own one where the namespace is none of the standards'.
    #[must_use]
    pub fn named(namespace: &str, name: &str, mapped: impl FnOnce() -> Option<OwnConcept>) -> Concept {
        match standard(namespace) {
            Some(Standard::Taxonomy(taxonomy)) => Concept::standard(taxonomy, name),
            Some(Standard::Cover) => Concept::cover(name),
            None => Concept::own(name, mapped()),
        }
    }

    /// In which kind of unit it is counted; `None` where it serves no item.
    #[must_use]
    pub fn unit(&self) -> Option<UnitKind> {
        match self.role {
            Role::Mapped(id) => Some(table().get(id).unit),
            Role::Own(Some(own)) => Some(table().item(own.item).0),
            _ => None,
        }
    }

    /// Whether it is a company's total assets, by which currency and balance sheets are told.
    pub(super) fn is_total_assets(&self) -> bool {
        matches!(self.role, Role::Mapped(id) if table().get(id).name == "Assets")
    }
}

enum Standard {
    Taxonomy(Taxonomy),
    Cover,
}

/// The standard behind a namespace; a company's own where it is none of them.
fn standard(namespace: &str) -> Option<Standard> {
    let address = namespace.strip_prefix("http://").or_else(|| namespace.strip_prefix("https://"))?;
    let (place, rest) = address.split_once('/')?;
    let year = |text: &str| {
        let parts: Vec<&str> = text.split('-').collect();
        let digits = |p: &&str, n: usize| p.len() == n && p.bytes().all(|b| b.is_ascii_digit());
        match parts.as_slice() {
            [y] => digits(y, 4),
            [y, m, d] => digits(y, 4) && digits(m, 2) && digits(d, 2),
            _ => false,
        }
    };
    match (place, rest.split('/').collect::<Vec<_>>().as_slice()) {
        ("fasb.org" | "xbrl.us", ["us-gaap", date]) if year(date) => Some(Standard::Taxonomy(Taxonomy::UsGaap)),
        ("xbrl.ifrs.org", ["taxonomy", date, "ifrs-full"]) if year(date) => Some(Standard::Taxonomy(Taxonomy::Ifrs)),
        ("xbrl.sec.gov" | "xbrl.us", ["dei", date]) if year(date) => Some(Standard::Cover),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_line_of_the_table_is_an_alternative_with_a_needed_concept() {
        let table = table();
        assert_eq!(table.concepts.len(), table.by_name[0].len() + table.by_name[1].len());
        for &item in Item::ALL {
            assert!(table.items.contains_key(&item), "{item} has no unit");
            for way in table.alternatives(item) {
                assert!(way.members.iter().any(|m| m.needed), "{item}");
                let (unit, instant) = table.item(item);
                assert!(way.members.iter().all(|m| table.get(m.concept).unit == unit && table.get(m.concept).instant == instant), "{item}");
            }
        }
        let revenue = table.alternatives(Item::Revenue);
        assert_eq!(table.get(revenue[0].members[0].concept).name, "Revenues");
        assert_eq!(revenue[5].members.len(), 2);
    }

    #[test]
    fn standards_are_known_by_their_namespace_of_any_year() {
        for (namespace, name) in [
            ("http://fasb.org/us-gaap/2024", "us-gaap:Assets"),
            ("http://fasb.org/us-gaap/2013-01-31", "us-gaap:Assets"),
            ("http://xbrl.us/us-gaap/2009-01-31", "us-gaap:Assets"),
            ("https://xbrl.ifrs.org/taxonomy/2023-03-23/ifrs-full", "ifrs-full:Assets"),
            ("http://xbrl.sec.gov/dei/2024", "dei:Assets"),
            ("http://mill.example/us-gaap/2024", "Assets"),
            ("http://fasb.org/us-gaap/latest", "Assets"),
            ("http://fasb.org.example/us-gaap/2024", "Assets"),
        ] {
            assert_eq!(Concept::named(namespace, "Assets", || None).name, name, "{namespace}");
        }
    }
}
