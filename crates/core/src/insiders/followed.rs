//! What the price did after insiders had bought.

use crate::{
    domain::{Day, InsiderTrade},
    panel::CompanyAt,
    price::price_return,
    stats,
};
use serde::Serialize;

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
/// what `market` brought over the same months, each company in its own currency. A purchase counts once that day has come.
///
/// Filed at 10, half a year later 12, while two others went from 10 to 11 and from 20 to 20: 20 % less the mean of 20, 10 and 0 is 10 %.
pub fn followed(c: &CompanyAt<'_>, months: i32, market: impl Fn(Day) -> Option<f64>) -> Followed {
    let counts = |t: &&InsiderTrade| t.is_purchase() && !t.planned && t.filed_on.plus_months(months) <= c.t();
    let beyond = |t: &InsiderTrade| {
        let own = price_return(&c.at(t.filed_on), t.filed_on.plus_months(months)).ok()?;
        Some(own - market(t.filed_on)?)
    };
    let beyond: Vec<f64> = c.insider_trades().filter(counts).filter_map(beyond).collect();
    Followed { median: stats::median(&beyond), purchases: beyond.len() }
}
