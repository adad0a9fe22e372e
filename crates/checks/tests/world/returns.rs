//! What a year's return was: of the cheapest against the dearest, of the good among the cheap against the bad.

use crate::made::Made;
use artemon_core::{
    domain::{Day, Item},
    panel::CompanyAt,
    price::total_return,
    stats,
};
use artemon_demo::World;
use rand::SeedableRng;
use rand_chacha::ChaCha8Rng;

/// What came of the companies of the ends of June, a year after.
pub(crate) struct Outcomes {
    /// How far the cheapest fifth by earnings yield led the dearest, by year.
    pub(crate) value: Vec<f64>,
    /// Within the cheapest fifth by P/E, how far the better half by quality led the other.
    pub(crate) quality: Vec<f64>,
    /// How often ten of the cheapest fifth's better half, chosen blindly each year, led all companies over ten years.
    pub(crate) skill: f64,
    /// Of the cheapest tenth by P/E, the share that earned less three years later.
    pub(crate) traps: f64,
    /// The share that left the exchange in a year.
    pub(crate) leaving: f64,
}

fn june(year: i32) -> Day {
    Day::from_ymd(year, 6, 30).unwrap()
}

pub(crate) fn outcomes(made: &Made) -> Outcomes {
    let (mut value, mut quality, mut leaving) = (Vec::new(), Vec::new(), Vec::new());
    let (mut cheap_and_all, mut less) = (Vec::new(), Vec::new());
    for year in 2008..2026 {
        let (from, to) = (june(year), june(year + 1));
        let rows = made.context.as_of(from).universe();
        let returns: Vec<f64> = rows.iter().map(|c| total_return(c, to).unwrap_or(0.0)).collect();
        let of = |part: &[(f64, usize)]| stats::mean(&part.iter().map(|(_, i)| returns[*i]).collect::<Vec<_>>()).unwrap();
        let known = made.known("earnings_yield", &rows);
        let fifth = known.len() / 5;
        let cheapest = &known[known.len() - fifth..];
        value.push(of(cheapest) - of(&known[..fifth]));
        let good = made.column("quality", &rows);
        let mut cheap: Vec<(f64, usize)> = cheapest.iter().filter_map(|(_, i)| Some((good.value(*i).number().ok()?, *i))).collect();
        cheap.sort_by(|a, b| a.0.total_cmp(&b.0));
        let half = cheap.len() / 2;
        // Quality is not known of anybody in the first years.
        quality.extend((half > 0).then(|| of(&cheap[half..]) - of(&cheap[..half])));
        leaving.push(rows.iter().filter(|c| !c.at(to).in_universe()).count() as f64 / rows.len() as f64);
        cheap_and_all.push((cheap[half..].iter().map(|(_, i)| returns[*i]).collect(), stats::mean(&returns).unwrap()));
        less.extend(known[known.len() - fifth / 2..].iter().filter_map(|(_, i)| earns_less(&rows[*i])));
    }
    let mean = |of: &[f64]| stats::mean(of).unwrap();
    Outcomes { skill: skill(&cheap_and_all), traps: mean(&less), leaving: mean(&leaving), value, quality }
}

/// 1 when a share earned less in the twelve months known three years later, or is gone; `None` when that lies ahead.
fn earns_less(c: &CompanyAt<'_>) -> Option<f64> {
    let then = c.at(c.t().plus_months(36));
    let eps = |c: &CompanyAt<'_>| c.year0().ok().and_then(|y| c.item(y, Item::EpsDiluted));
    if then.t() > World::last_day() {
        return None;
    }
    let before = eps(c)? / then.splits_since(c.t());
    Some(f64::from(!then.in_universe() || eps(&then).is_none_or(|now| now < before)))
}

/// The share of a thousand sequences of ten choices a year that beat all companies over the last ten years.
fn skill(years: &[(Vec<f64>, f64)]) -> f64 {
    let last = &years[years.len() - 10..];
    let all: f64 = last.iter().map(|y| 1.0 + y.1).product();
    let mut chance = ChaCha8Rng::seed_from_u64(1);
    let mut led = 0;
    for _ in 0..1000 {
        let year = |(cheap, _): &(Vec<f64>, f64)| {
            1.0 + rand::seq::index::sample(&mut chance, cheap.len(), 10).iter().map(|i| cheap[i]).sum::<f64>() / 10.0
        };
        led += i32::from(last.iter().map(year).product::<f64>() > all);
    }
    f64::from(led) / 1000.0
}
