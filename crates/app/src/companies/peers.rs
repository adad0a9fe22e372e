//! The companies of the same industry, and where one stands among them.

use crate::{
    AppError, Ctx,
    figures::{
        compact::{Cells, cells},
        grouping::Grouping,
    },
};
use artemon_core::{
    domain::Day,
    engine::{Context, Section},
    formula::{Better, Unit, Value},
    measures,
    panel::CompanyAt,
    wording::label,
};
use serde::Serialize;
use utoipa::ToSchema;

/// What peers are compared by; the first is their size, by which they are ordered.
pub(super) const COMPARED: [&str; 4] = ["market_cap", "revenue_growth(5)", "operating_margin", "price_to_value"];

/// Peers told at most.
const MOST: usize = 8;

/// In an industry of fewer one is compared with the sector.
const FEWEST: usize = 3;

/// The companies of a group beside one of them.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct PeersAnswer {
    /// The industry, or where that has fewer than three companies the sector.
    pub by: Grouping,
    /// Its name.
    pub group: String,
    /// How many companies of the same kind are in it.
    pub companies: usize,
    /// By what they are compared, and where the company stands.
    pub places: Vec<IndustryPlace>,
    /// The largest of them and the company itself, by size.
    pub rows: Vec<PeerRow>,
}

/// A company's place among its peers by a measure.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct IndustryPlace {
    pub formula: String,
    pub label: String,
    pub unit: Unit,
    /// From 1, the best first: the largest, or the cheapest; null where its figure is undefined.
    pub place: Option<usize>,
    /// Peers of which the figure is known.
    pub of: usize,
}

/// A peer with its figures.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PeerRow {
    pub symbol: String,
    pub name: String,
    #[serde(flatten)]
    pub cells: Cells,
}

/// The peers of a company.
///
/// # Errors
/// An unknown company, a date outside the data.
pub fn peers(ctx: &Ctx, symbol: &str, as_of: Option<Day>) -> Result<PeersAnswer, AppError> {
    let c = ctx.company(symbol, ctx.date(as_of)?)?;
    let section = ctx.section(c.t());
    let peers = Peers::of(&section, &c);
    let mut order = peers.ordered(0);
    // The company itself is told however small it is.
    let own = order.iter().position(|i| peers.places[*i] == peers.own);
    if own.is_some_and(|at| at >= MOST) {
        order.swap(MOST - 1, own.unwrap_or(0));
    }
    let row = |i: &usize| {
        let index = section.members()[peers.places[*i]];
        PeerRow {
            symbol: ctx.snapshot().symbol(index).to_owned(),
            name: ctx.snapshot().company(index).name.clone(),
            cells: cells(peers.columns.iter().map(|column| column[*i].clone()).collect()),
        }
    };
    Ok(PeersAnswer {
        by: peers.by,
        group: peers.by.of(c.company()).to_owned(),
        companies: peers.places.len(),
        places: peers.standing(&section),
        rows: order.iter().take(MOST).map(row).collect(),
    })
}

/// A company's group, and where it stands in it by each of [`COMPARED`].
pub(super) fn places(context: &Context, c: &CompanyAt<'_>) -> (String, Vec<IndustryPlace>) {
    let section = Section::new(context, c.t());
    let peers = Peers::of(&section, c);
    (peers.by.of(c.company()).to_owned(), peers.standing(&section))
}

struct Peers {
    by: Grouping,
    /// The company's own place in the section, past its end for one outside.
    own: usize,
    /// The places of all of the industry.
    places: Vec<usize>,
    /// The figures of each, by measure.
    columns: Vec<Vec<Value>>,
}

impl Peers {
    fn of(section: &Section<'_>, c: &CompanyAt<'_>) -> Peers {
        let snapshot = section.as_of.snapshot;
        let of = |by: Grouping| -> Vec<usize> {
            let alike = |place: &usize| {
                let other = snapshot.company(section.members()[*place]);
                by.of(other) == by.of(c.company()) && other.kind == c.kind()
            };
            (0..section.members().len()).filter(alike).collect()
        };
        let industry = of(Grouping::Industry);
        let (by, places) = if industry.len() < FEWEST { (Grouping::Sector, of(Grouping::Sector)) } else { (Grouping::Industry, industry) };
        let column = |formula: &&str| {
            let Ok(compiled) = section.compile(formula) else { return Vec::new() };
            let column = section.column(&compiled);
            places.iter().map(|place| column.value(*place)).collect()
        };
        Peers { by, own: section.place(c.index).unwrap_or(usize::MAX), columns: COMPARED.iter().map(column).collect(), places }
    }

    /// The company's place by each measure; none of one outside the universe.
    fn standing(&self, section: &Section<'_>) -> Vec<IndustryPlace> {
        let place = |(i, formula): (usize, &&str)| {
            let order = self.ordered(i);
            let known = |at: &&usize| self.columns[i][**at].number().is_ok();
            let mine = order.iter().filter(known).position(|at| self.places[*at] == self.own);
            IndustryPlace {
                formula: (*formula).to_owned(),
                label: label(formula, &section.context().settings().library),
                unit: section.compile(formula).map_or(Unit::Ratio, |f| f.unit),
                place: mine.map(|at| at + 1),
                of: order.iter().filter(known).count(),
            }
        };
        COMPARED.iter().enumerate().map(place).collect()
    }

    /// The peers, the best by a measure first, those of which it is not known last.
    fn ordered(&self, by: usize) -> Vec<usize> {
        let id = COMPARED[by].split('(').next().unwrap_or_default();
        let sign = if measures::find(id).is_some_and(|m| m.better == Better::Lower) { 1.0 } else { -1.0 };
        let mut order: Vec<usize> = (0..self.places.len()).collect();
        let key = |i: &usize| self.columns[by][*i].number().map_or(f64::INFINITY, |v| sign * v);
        order.sort_by(|a, b| key(a).total_cmp(&key(b)));
        order
    }
}
