//! Companies by their price to value at past quarters' ends, and what followed.

use crate::{
    domain::{Day, Kind},
    engine::Context,
    panel::{CompanyAt, CompanyIndex, Field},
    price::total_return,
    stats::median,
    valuation::{Valued, valued_on},
};
use rayon::prelude::*;

/// Bands of price to value by their upper ends; the last has none.
pub const BANDS: [f64; 6] = [0.5, 0.75, 0.9, 1.1, 1.5, f64::INFINITY];
/// Years after which it is looked at what became of a price.
pub const HORIZONS: [i32; 4] = [1, 2, 3, 5];
/// Companies that are worked on between two words of progress.
const TOGETHER: usize = 512;
/// Closes whose extremes are looked at at once.
const BLOCK: usize = 64;

/// A company at a quarter's end, with what followed.
#[derive(Clone, Debug)]
pub(super) struct Placed {
    pub(super) company: CompanyIndex,
    /// Which of the days.
    pub(super) day: usize,
    pub(super) band: usize,
    /// 0–100, where it is known.
    pub(super) quality: Option<f64>,
    /// Days until the price met the value.
    pub(super) met: Option<i32>,
    /// It left the exchange without meeting its value: it never will.
    pub(super) never: bool,
    /// Total return over each horizon less the median of all companies' over the same days.
    pub(super) excess: [Option<f64>; HORIZONS.len()],
}

/// The last session of each quarter, oldest first; not of the running one.
pub(super) fn quarter_ends(context: &Context) -> Vec<Day> {
    let ends = context.snapshot().month_ends();
    let quarter = |day: &Day| (day.month_index() + 1) % 3 == 0;
    let over = ends.len().saturating_sub(1);
    ends[..over].iter().copied().filter(quarter).collect()
}

/// The band of a ratio.
pub(super) fn band(price_to_value: f64) -> usize {
    BANDS.iter().position(|end| price_to_value < *end).unwrap_or(BANDS.len() - 1)
}

/// Every valued company of the universe of each day.
pub(super) fn placed(context: &Context, days: &[Day], progress: &mut dyn FnMut(f64)) -> Vec<Placed> {
    let Some(last) = context.snapshot().sessions().map(|s| s.1) else { return Vec::new() };
    let companies: Vec<CompanyIndex> = context.as_of(last).companies().filter(|c| c.kind() != Kind::Fund).map(|c| c.index).collect();
    let mut all: Vec<Followed> = Vec::with_capacity(companies.len());
    for some in companies.chunks(TOGETHER) {
        context.cancel().check();
        progress(all.len() as f64 / companies.len() as f64);
        let valued = valued_on(context.view(last), days, some, context.settings().premises());
        all.par_extend(some.par_iter().zip(valued).map(|(company, of)| followed(&context.as_of(last).company(*company), days, &of)));
    }
    let medians = medians(&all, days.len());
    let against = |(day, horizon): (usize, usize), own: Option<f64>| Some(own? - medians[day][horizon]?);
    let with_excess = |of: &Followed| -> Vec<Placed> {
        let one = |p: &Placed| Placed { excess: std::array::from_fn(|h| against((p.day, h), p.excess[h])), ..p.clone() };
        of.placed.iter().map(one).collect()
    };
    all.iter().flat_map(with_excess).collect()
}

/// What followed of a company: where it is placed, with its own returns in the place of excess ones, and its returns on every day.
struct Followed {
    placed: Vec<Placed>,
    returns: Vec<(usize, [Option<f64>; HORIZONS.len()])>,
}

/// The median return of all companies by day and horizon.
fn medians(all: &[Followed], days: usize) -> Vec<[Option<f64>; HORIZONS.len()]> {
    let mut returns: Vec<[Vec<f64>; HORIZONS.len()]> = (0..days).map(|_| Default::default()).collect();
    for (day, own) in all.iter().flat_map(|of| &of.returns) {
        own.iter().enumerate().filter_map(|(h, r)| Some((h, (*r)?))).for_each(|(h, r)| returns[*day][h].push(r));
    }
    returns.par_iter().map(|of_day| std::array::from_fn(|h| median(&of_day[h]))).collect()
}

fn followed(c: &CompanyAt<'_>, days: &[Day], valued: &[Valued]) -> Followed {
    let last = c.t();
    let closes = Closes::of(c);
    let mut out = Followed { placed: Vec::new(), returns: Vec::with_capacity(valued.len()) };
    for v in valued {
        let day = days[v.day];
        let then = c.at(day);
        let returned = |years: i32| {
            let to = day.plus_months(12 * years);
            (to <= last).then(|| total_return(&then, to).ok()).flatten()
        };
        let returns = HORIZONS.map(returned);
        out.returns.push((v.day, returns));
        let Some((price, value)) = v.price.zip(v.value).filter(|(price, value)| *price > 0.0 && *value > 0.0) else { continue };
        let wanted = value / c.splits_since(day);
        let met = closes.first_at(day, wanted, price < value).map(|met| met.days_since(day));
        let (met, never) = closes.at_the_end(c, day, wanted, price < value, met);
        out.placed.push(Placed {
            company: c.index,
            day: v.day,
            band: band(price / value),
            quality: v.quality,
            met,
            never,
            excess: returns,
        });
    }
    out
}

/// The closes of a company on one split basis, with the extremes of blocks of them.
struct Closes<'a> {
    dates: &'a [Day],
    closes: Vec<f64>,
    blocks: Vec<(f64, f64)>,
}

impl<'a> Closes<'a> {
    fn of(c: &CompanyAt<'a>) -> Closes<'a> {
        let bars = c.bars();
        let closes = bars.series(Field::Close, 0..bars.len());
        let ends = |some: &[f64]| some.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), x| (low.min(*x), high.max(*x)));
        Closes { dates: bars.dates(), blocks: closes.chunks(BLOCK).map(ends).collect(), closes }
    }

    /// The first day after one on which a close is at a price: not under it where one waits for a rise, else not above it.
    fn first_at(&self, after: Day, wanted: f64, rises: bool) -> Option<Day> {
        let is_there = |close: f64| if rises { close >= wanted } else { close <= wanted };
        let mut at = self.dates.partition_point(|d| *d <= after);
        while at < self.closes.len() {
            let (low, high) = self.blocks[at / BLOCK];
            let end = (at / BLOCK + 1) * BLOCK;
            if at % BLOCK == 0 && !is_there(if rises { high } else { low }) {
                at = end;
                continue;
            }
            let found = self.closes[at..end.min(self.closes.len())].iter().position(|close| is_there(*close));
            if let Some(found) = found {
                return Some(self.dates[at + found]);
            }
            at = end;
        }
        None
    }

    /// Of one that left the exchange: what it paid meets the value or nothing ever will.
    fn at_the_end(&self, c: &CompanyAt<'_>, day: Day, wanted: f64, rises: bool, met: Option<i32>) -> (Option<i32>, bool) {
        let left = c
            .listing()
            .and_then(|l| l.delisted_on.filter(|left| *left <= c.t()).map(|left| (left, l.delisting_return.unwrap_or_default())));
        let Some((left, returned)) = left.filter(|_| met.is_none()) else { return (met, false) };
        let paid = self.closes.last().copied().unwrap_or_default() * (1.0 + returned);
        let meets = if rises { paid >= wanted } else { paid <= wanted };
        if meets { (Some(left.days_since(day)), false) } else { (None, true) }
    }
}
