//! Who moved most, and sectors that moved together.

use crate::{
    domain::{Kind, News},
    engine::Section,
    formula::Column,
    panel::{CompanyAt, CompanyIndex},
    stats,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Over how long moves are looked at.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub enum MovesOver {
    Day,
    Week,
    Month,
}

impl MovesOver {
    /// All of them, the shortest first.
    pub const ALL: [MovesOver; 3] = [MovesOver::Day, MovesOver::Week, MovesOver::Month];

    const fn formula(self) -> &'static str {
        match self {
            MovesOver::Day => "change(1d)",
            MovesOver::Week => "change(1w)",
            MovesOver::Month => "change(1m)",
        }
    }

    /// The least median move of a sector that is told as one.
    const fn together(self) -> f64 {
        match self {
            MovesOver::Day => 0.025,
            MovesOver::Week => 0.05,
            MovesOver::Month => 0.08,
        }
    }
}

/// A company that moved.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Mover {
    pub company: CompanyIndex,
    /// As a fraction of the price before.
    pub change: f64,
}

/// Who rose and fell most.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Movers {
    /// The largest rise first.
    pub rises: Vec<Mover>,
    /// The largest fall first.
    pub falls: Vec<Mover>,
}

/// A sector most of whose companies moved the same way.
#[derive(Clone, Debug, PartialEq)]
pub struct SectorMove {
    /// Its name.
    pub sector: String,
    /// The median move of its companies.
    pub median: f64,
    /// How many of them traded.
    pub traded: usize,
    /// How many moved the way of the median.
    pub same_way: usize,
    /// They, the largest move first.
    pub companies: Vec<Mover>,
}

/// The fewest companies of a sector that say something of it.
const FEWEST: usize = 5;
/// The least share of them that move the same way.
const SAME_WAY: f64 = 0.7;

/// The companies but funds that rose and fell most, so many of each.
#[must_use]
pub fn movers(section: &Section<'_>, over: MovesOver, count: usize) -> Movers {
    let mut all = moved(section, over);
    all.sort_by(|a, b| b.change.total_cmp(&a.change).then(a.company.cmp(&b.company)));
    let rises = all.iter().filter(|m| m.change > 0.0).take(count).copied().collect();
    all.sort_by(|a, b| a.change.total_cmp(&b.change).then(a.company.cmp(&b.company)));
    let falls = all.iter().filter(|m| m.change < 0.0).take(count).copied().collect();
    Movers { rises, falls }
}

/// The sectors that moved together: at least five of their companies traded in the last session, their median move is far enough, and
/// seven in ten of them went the same way. The largest move first.
#[must_use]
pub fn sector_moves(section: &Section<'_>, over: MovesOver) -> Vec<SectorMove> {
    let last = section.rows().iter().filter_map(|c| c.bars().last_date()).max();
    let mut sectors: BTreeMap<&str, Vec<Mover>> = BTreeMap::new();
    for m in moved(section, over) {
        let c = section.as_of.company(m.company);
        if !c.company().sector.is_empty() && c.bars().last_date() == last {
            sectors.entry(&c.company().sector).or_default().push(m);
        }
    }
    let mut together: Vec<SectorMove> = sectors.into_iter().filter_map(|(sector, all)| sector_move(sector, all, over)).collect();
    together.sort_by(|a, b| b.median.abs().total_cmp(&a.median.abs()));
    together
}

fn sector_move(sector: &str, mut all: Vec<Mover>, over: MovesOver) -> Option<SectorMove> {
    let median = stats::median(&all.iter().map(|m| m.change).collect::<Vec<_>>())?;
    let same_way = all.iter().filter(|m| m.change * median > 0.0).count();
    #[allow(clippy::cast_precision_loss)]
    let share = same_way as f64 / all.len() as f64;
    all.sort_by(|a, b| b.change.abs().total_cmp(&a.change.abs()).then(a.company.cmp(&b.company)));
    (all.len() >= FEWEST && median.abs() > over.together() && share >= SAME_WAY).then(|| SectorMove {
        sector: sector.to_owned(),
        median,
        traded: all.len(),
        same_way,
        companies: all,
    })
}

/// All members but funds of which the move is known, by symbol.
fn moved(section: &Section<'_>, over: MovesOver) -> Vec<Mover> {
    let Ok(formula) = section.compile(over.formula()) else { return Vec::new() };
    let Column::Number(changes) = &*section.column(&formula) else { return Vec::new() };
    let known = section.rows().iter().zip(changes).filter(|(c, _)| c.kind() != Kind::Fund);
    known.filter_map(|(c, change)| Some(Mover { company: c.index, change: (*change).ok()? })).collect()
}

/// The newest headline of a company.
#[must_use]
pub fn newest_headline<'a>(c: &CompanyAt<'a>) -> Option<&'a News> {
    c.news().next_back()
}
