//! Who owned a company over time, and what its insiders traded.

use super::trades::{TradeRow, trade};
use crate::{AppError, Ctx};
use artemon_core::{
    domain::Day,
    insiders::{self, Cluster},
};
use serde::Serialize;
use utoipa::ToSchema;

/// Trades shown at most, the newest.
const TRADES: usize = 500;

/// Stakes over time, trades, and when several bought at once.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Owners {
    /// Oldest first.
    pub stakes: Vec<StakePoint>,
    /// Newest filing first.
    pub trades: Vec<TradeRow>,
    /// Oldest first.
    pub clusters: Vec<Cluster>,
}

/// Who owned how much on a day, as fractions of the shares.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct StakePoint {
    #[schema(value_type = String)]
    pub as_of: Day,
    pub insiders: Option<f64>,
    pub controlling: Option<f64>,
    pub institutions: Option<f64>,
    /// Of the controlling holders' shares.
    pub pledged: Option<f64>,
}

/// The owners of a company, as filed by a date.
///
/// # Errors
/// An unknown company, a date outside the data.
pub fn owners(ctx: &Ctx, symbol: &str, as_of: Option<Day>) -> Result<Owners, AppError> {
    let c = ctx.company(symbol, ctx.date(as_of)?)?;
    let mut stakes: Vec<StakePoint> = c
        .ownership()
        .map(|o| StakePoint {
            as_of: o.as_of,
            insiders: o.insiders,
            controlling: o.controlling,
            institutions: o.institutions,
            pledged: o.pledged,
        })
        .collect();
    stakes.sort_by_key(|s| s.as_of);
    Ok(Owners { stakes, trades: c.insider_trades().rev().take(TRADES).map(|t| trade(&c, t)).collect(), clusters: insiders::clusters(&c) })
}
