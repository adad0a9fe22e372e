//! What the market did in between.

use crate::{
    domain::{Day, Kind},
    engine::{Keep, Section},
    price::price_return,
    stats,
};
use rayon::prelude::*;
use std::convert::Infallible;

/// The median change of the price from an earlier day to that of the section, as a fraction, over all companies but funds that were
/// in the universe of the earlier day; a share that left the exchange counts with its return on leaving. `None` without any.
#[must_use]
pub fn median_return(section: &Section<'_>, from: Day) -> Option<f64> {
    let made = section.derived(&from, &[], || {
        let then = section.as_of.at(from);
        let all = 0..u32::try_from(then.snapshot.company_count()).unwrap_or(u32::MAX);
        let companies = all.into_par_iter().map(|i| then.company(i)).filter(|c| c.kind() != Kind::Fund && c.in_universe());
        let returns: Vec<f64> = companies.filter_map(|c| price_return(&c, section.t()).ok()).collect();
        Ok::<_, Infallible>(MedianReturn(stats::median(&returns)))
    });
    made.map_or(None, |m| m.0)
}

struct MedianReturn(Option<f64>);

impl Keep for MedianReturn {
    fn bytes(&self) -> usize {
        size_of::<MedianReturn>()
    }
}
