//! The record of the values against one made by hand: one company, one quarter, one day at a time.

use super::{context, records};
use artemon_core::{
    calibration::{BANDS, HORIZONS, calibration},
    domain::{Day, Kind},
    engine::Context,
    panel::CompanyAt,
    price::total_return,
    stats::median,
    valuation::draws,
};
use std::collections::{BTreeMap, BTreeSet};

/// What became of a company placed at a quarter's end: whether the price met its value, by horizon, and its return.
struct ByHand {
    day: Day,
    symbol: String,
    band: usize,
    good: bool,
    met: [bool; HORIZONS.len()],
    excess: [Option<f64>; HORIZONS.len()],
}

fn quarter_ends(context: &Context) -> Vec<Day> {
    let sessions = context.snapshot().sessions_after(Day::MIN);
    let ends = sessions.windows(2).filter(|w| w[0].month_index() != w[1].month_index()).map(|w| w[0]);
    ends.filter(|d| ["03", "06", "09", "12"].contains(&&d.to_string()[5..7])).collect()
}

/// Whether a close from the day after to the end, or what was paid on leaving, is at the value.
fn meets(c: &CompanyAt<'_>, day: Day, to: Day, value: f64, rises: bool) -> bool {
    let there = |price: f64| if rises { price >= value } else { price <= value };
    let bars = c.bars();
    let at_a_close = (0..bars.len()).any(|i| bars.dates()[i] > day && bars.dates()[i] <= to && there(bars.close(i)));
    let left = c.listing().and_then(|l| Some((l.delisted_on?, l.delisting_return.unwrap_or(0.0))));
    at_a_close || left.is_some_and(|(on, paid)| on > day && on <= to && there(bars.last_close().unwrap() * (1.0 + paid)))
}

fn placed_by_hand(context: &Context) -> Vec<ByHand> {
    let last = context.snapshot().sessions().unwrap().1;
    let least = context.settings().assumptions.least_quality;
    let mut out = Vec::new();
    for day in quarter_ends(context) {
        let to = HORIZONS.map(|years| day.plus_months(12 * years));
        let universe: Vec<_> = context.as_of(day).universe().into_iter().filter(|c| c.kind() != Kind::Fund).collect();
        let middle = to.map(|to| median(&universe.iter().filter_map(|c| total_return(c, to).ok()).collect::<Vec<_>>()));
        for c in universe {
            let valuation = context.value_company(day, c.index).valuation;
            let (Ok(price), Ok(value)) = (valuation.price, valuation.value) else { continue };
            if value <= 0.0 {
                continue;
            }
            let later = c.at(last);
            let wanted = value / later.splits_since(day);
            let excess = |h: usize| (to[h] <= last).then(|| Some(total_return(&c, to[h]).ok()? - middle[h]?)).flatten();
            out.push(ByHand {
                day,
                symbol: c.symbol().to_owned(),
                band: BANDS.iter().filter(|end| price / value >= **end).count(),
                good: valuation.quality.score.is_ok_and(|q| q >= least),
                met: to.map(|to| meets(&later, day, to, wanted, price < value)),
                excess: std::array::from_fn(excess),
            });
        }
    }
    out
}

#[test]
fn what_followed_is_what_followed_by_hand() {
    let context = context(records().iter());
    let got = calibration(&context, &mut |_| {}).unwrap();
    let by_hand = placed_by_hand(&context);
    let last = got.followed_to;
    assert_eq!(got.cells.len(), HORIZONS.len() * 3 * BANDS.len());
    let mut counted = 0;
    for cell in &got.cells {
        let h = HORIZONS.iter().position(|h| *h == cell.years).unwrap();
        let band = BANDS.iter().position(|end| cell.to.unwrap_or(f64::INFINITY) == *end).unwrap();
        let of: Vec<&ByHand> = by_hand
            .iter()
            .filter(|p| p.band == band && cell.good.is_none_or(|good| p.good == good) && p.day.plus_months(12 * cell.years) <= last)
            .collect();
        let met = of.iter().filter(|p| p.met[h]).count();
        assert_eq!((cell.episodes, cell.companies), (of.len(), of.iter().map(|p| &p.symbol).collect::<BTreeSet<_>>().len()), "{cell:?}");
        assert_eq!(cell.met, (!of.is_empty()).then(|| met as f64 / of.len() as f64), "{cell:?}");
        let excess = median(&of.iter().filter_map(|p| p.excess[h]).collect::<Vec<_>>());
        assert!(cell.median_excess == excess || (cell.median_excess.unwrap() - excess.unwrap()).abs() < 1e-12, "{cell:?}: {excess:?}");
        assert!(cell.met_interval.is_none_or(|i| i.low <= cell.met.unwrap() && cell.met.unwrap() <= i.high), "{cell:?}");
        counted += of.len();
    }
    assert!(counted > 5_000, "{counted} quarters of companies were compared");
}

/// Those given a high chance of being under value and those given a low one are told apart, each company once in a band.
#[test]
fn chances_are_counted_by_what_was_given() {
    let context = context(records().iter());
    let got = calibration(&context, &mut |_| {}).unwrap();
    let all: usize = got.chances.iter().map(|c| c.episodes).sum();
    assert!(all > 500 && got.drawn_of <= 40, "{all} chances of {} companies", got.drawn_of);
    // What was given on one day by the measure itself is in the band in which it is counted.
    let mut by_hand: BTreeMap<usize, usize> = BTreeMap::new();
    for day in quarter_ends(&context).into_iter().filter(|d| d.plus_months(36) <= got.followed_to) {
        for c in context.as_of(day).universe().into_iter().filter(|c| c.kind() != Kind::Fund) {
            let valued = context.value_company(day, c.index);
            let drawn = draws(context.view(day), &c, &valued.inputs, &valued.assumptions);
            if let Ok(chance) = drawn.and_then(|d| d.chance_undervalued) {
                *by_hand.entry(((chance * 10.0) as usize).min(9)).or_default() += 1;
            }
        }
    }
    // With fewer draws a chance may fall on the other side of a border.
    for (band, cell) in got.chances.iter().enumerate() {
        let want = by_hand.get(&band).copied().unwrap_or_default();
        assert!(cell.episodes.abs_diff(want) <= all / 25, "band {band}: {} and {want}", cell.episodes);
    }
}
