//! Who moved most, and why.

use super::super::{line::Line, look::Look};
use crate::{companies::Headline, figures::compact::six_digits};
use artemon_core::{
    domain::{Day, News},
    today::{Mover, MovesOver, SectorMove, movers as most, newest_headline, sector_moves, sector_words},
};
use serde::Serialize;
use std::collections::{BTreeMap, HashSet};
use utoipa::ToSchema;

/// Rises and falls that are told, each.
const MOST: usize = 4;

/// Who moved most over some time.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MoverLines {
    pub over: MovesOver,
    /// Sectors most of whose companies moved the same way.
    pub sectors: Vec<SectorLine>,
    /// Companies of other sectors, or against their own.
    pub rises: Vec<MoverLine>,
    pub falls: Vec<MoverLine>,
}

/// A sector that moved together.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct SectorLine {
    #[serde(flatten)]
    pub line: Line,
    pub sector: String,
    /// The median move, as a fraction.
    pub median: f64,
    /// How many of its companies went that way.
    pub says: String,
    /// The headline that most of its companies share, else the newest of them or of the market.
    pub headline: Option<Headline>,
    /// They, the largest move first.
    pub symbols: Vec<String>,
}

/// A company that moved.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MoverLine {
    #[serde(flatten)]
    pub line: Line,
    pub symbol: String,
    pub name: String,
    /// As a fraction.
    pub change: f64,
    /// Its newest headline, of whatever day.
    pub headline: Option<Headline>,
    pub why: String,
}

pub(crate) fn movers(look: &Look<'_>, over: MovesOver) -> MoverLines {
    let together = sector_moves(&look.now, over);
    let told = |m: &Mover| {
        let sector = &look.ctx.snapshot().company(m.company).sector;
        together.iter().any(|s| s.sector == *sector && s.median * m.change > 0.0)
    };
    // Of a sector that is told as one up to all of the largest moves may be.
    let in_sectors: usize = together.iter().map(|s| s.companies.len()).sum();
    let all = most(&look.now, over, MOST + in_sectors);
    let lines = |of: &[Mover]| of.iter().filter(|m| !told(m)).take(MOST).map(|m| mover(look, m, over)).collect();
    MoverLines {
        over,
        rises: lines(&all.rises),
        falls: lines(&all.falls),
        sectors: together.iter().map(|s| sector(look, s, over)).collect(),
    }
}

fn mover(look: &Look<'_>, m: &Mover, over: MovesOver) -> MoverLine {
    let c = look.now.as_of.company(m.company);
    MoverLine {
        line: look.away.line("movers", &c.company().id, &format!("{} {over:?}", look.t())),
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        change: six_digits(m.change),
        headline: newest_headline(&c).map(Headline::from),
        why: look.why(m.company),
    }
}

fn sector(look: &Look<'_>, s: &SectorMove, over: MovesOver) -> SectorLine {
    SectorLine {
        line: look.away.line("movers", &s.sector, &format!("{} {over:?}", look.t())),
        sector: s.sector.clone(),
        median: six_digits(s.median),
        says: sector_words(s),
        headline: headline(look, s, over).map(Headline::from),
        symbols: s.companies.iter().map(|m| look.ctx.snapshot().symbol(m.company).to_owned()).collect(),
    }
}

/// Of the headlines within the time that which most companies of the sector have, else the newest of the market.
fn headline<'a>(look: &Look<'a>, s: &SectorMove, over: MovesOver) -> Option<&'a News> {
    let from = match over {
        MovesOver::Day => look.t().plus_days(-1),
        MovesOver::Week => look.t().plus_days(-7),
        MovesOver::Month => look.t().plus_months(-1),
    };
    let within = |n: &&News| n.published_on().is_some_and(|d: Day| d >= from);
    let mut shared: BTreeMap<&str, (HashSet<u32>, &News)> = BTreeMap::new();
    for m in &s.companies {
        for n in look.now.as_of.company(m.company).news().rev().take_while(within) {
            shared.entry(&n.headline).or_insert((HashSet::new(), n)).0.insert(m.company);
        }
    }
    let most = shared.into_values().max_by_key(|(of, n)| (of.len(), &n.published_at)).filter(|(of, _)| of.len() > 1);
    most.map(|m| m.1).or_else(|| look.now.as_of.market_news().next_back().filter(|n| within(n)))
}
