//! What the price did after insiders had bought.

use crate::{
    domain::{Day, InsiderTrade, Kind},
    panel::CompanyAt,
    price::price_return,
    stats,
};
use rayon::prelude::*;
use serde::Serialize;
use std::collections::BTreeMap;

/// What followed a company's purchases within some months.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Followed {
    /// The median return of the price, less the mean of all listed companies over the same days; `None` without purchases.
    pub median: Option<f64>,
    /// After how many purchases so much time has passed.
    pub purchases: usize,
}

/// What followed the purchases of a company's insiders on the open market, outside of plans: from the close known on the day of the
/// filing to the one known so many months later, without dividends, a share that left the exchange with its return on leaving, less
/// the mean of all companies but funds that were listed and traded on that day, each in its own currency. A purchase counts once that
/// day has come.
///
/// Filed at 10, half a year later 12, while two others went from 10 to 11 and from 20 to 20: 20 % less the mean of 20, 10 and 0 is 10 %.
#[must_use]
pub fn followed(c: &CompanyAt<'_>, months: i32) -> Followed {
    let counts = |t: &&InsiderTrade| t.is_purchase() && !t.planned && t.filed_on.plus_months(months) <= c.t();
    let mut means: BTreeMap<Day, Option<f64>> = BTreeMap::new();
    let beyond = |t: &InsiderTrade| {
        let to = t.filed_on.plus_months(months);
        let own = price_return(&c.at(t.filed_on), to).ok()?;
        let mean = means.entry(t.filed_on).or_insert_with(|| mean_return(c, t.filed_on, to));
        Some(own - (*mean)?)
    };
    let beyond: Vec<f64> = c.insider_trades().iter().filter(counts).filter_map(beyond).collect();
    Followed { median: stats::median(&beyond), purchases: beyond.len() }
}

/// The mean return of all companies but funds that are in the universe of a day.
fn mean_return(c: &CompanyAt<'_>, from: Day, to: Day) -> Option<f64> {
    let companies = c.as_of.at(from).universe();
    let returns = companies.par_iter().filter(|other| other.kind() != Kind::Fund).filter_map(|other| price_return(other, to).ok());
    stats::mean(&returns.collect::<Vec<_>>())
}
