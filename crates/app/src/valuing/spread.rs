//! The valuations of a company on one axis.

use artemon_core::valuation::{Assumptions, Status, Valuation};
use serde::Serialize;
use utoipa::ToSchema;

/// The valuations of a company on one axis of money.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Spread {
    pub price: f64,
    pub value: f64,
    pub low: f64,
    pub high: f64,
    pub buy_below: f64,
    /// Valuations that count.
    pub kept: Vec<f64>,
    /// Valuations set apart as extremes.
    pub outliers: Vec<f64>,
}

/// The spread of a valuation; `None` where there is no value.
pub(crate) fn spread(v: &Valuation, a: &Assumptions) -> Option<Spread> {
    let cells = |status| v.cells.iter().filter(|c| c.status == status).filter_map(|c| c.value.ok()).collect();
    Some(Spread {
        price: v.price.ok()?,
        value: v.value.ok()?,
        low: v.low.ok()?,
        high: v.high.ok()?,
        buy_below: v.buy_below(a).ok()?,
        kept: cells(Status::Kept),
        outliers: cells(Status::Outlier),
    })
}
