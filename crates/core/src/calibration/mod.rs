//! How good have the values been? At each quarter's last session every valued company is placed by its price to value and its quality,
//! and followed: did the price meet that value, and what did the share bring against all others?
//!
//! `placed.rs` finds the places and what followed, `cells.rs` counts them, `chance.rs` asks the same of the chance of being under value.

mod cells;
mod chance;
mod placed;

pub use cells::{Cell, Interval};
pub use chance::ChanceCell;
pub use placed::{BANDS, HORIZONS};

use crate::{domain::Day, engine::Context, formula::Fingerprint};
use serde::{Deserialize, Serialize};

/// The record of the values.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Calibration {
    /// The first and the last day on which companies were placed, and the day up to which they were followed.
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub first: Day,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub last: Day,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub followed_to: Day,
    pub dates: usize,
    /// The quality from which on a company counts as good, 0–100.
    pub least_quality: f64,
    /// By horizon, by quality, by band.
    pub cells: Vec<Cell>,
    /// Of how many companies the chance of being under value was drawn.
    pub drawn_of: usize,
    pub chances: Vec<ChanceCell>,
}

/// By what all that the record is computed with is known: equal for equal settings.
#[must_use]
pub fn calibration_settings(context: &Context) -> String {
    let formulas: Vec<_> = ["price_to_value", "verdict"].iter().filter_map(|f| context.compile(f).ok()).collect();
    let least = context.settings().assumptions.least_quality;
    format!("{:?}", Fingerprint::of(&("calibration", env!("CARGO_PKG_VERSION"), least, context.settings_of(&formulas))))
}

/// Works the record out under a context's settings; `progress` hears how much is done, 0 to 1. `None` where nothing was ever valued.
#[must_use]
pub fn calibration(context: &Context, progress: &mut dyn FnMut(f64)) -> Option<Calibration> {
    let days = placed::quarter_ends(context);
    let (followed_to, first) = (context.snapshot().sessions()?.1, *days.first()?);
    let least_quality = context.settings().assumptions.least_quality;
    let placed = placed::placed(context, &days, &mut |share| progress(0.6 * share));
    if placed.is_empty() {
        return None;
    }
    let cells = cells::cells(&placed, &days, followed_to, least_quality);
    progress(0.7);
    let (chances, drawn_of) = chance::chances(context, &days, followed_to, &mut |share| progress(0.7 + 0.3 * share));
    let of_days = |pick: fn(usize, usize) -> usize| placed.iter().map(|p| p.day).reduce(pick).map_or(first, |day| days[day]);
    Some(Calibration {
        first: of_days(usize::min),
        last: of_days(usize::max),
        followed_to,
        dates: days.len(),
        least_quality,
        cells,
        drawn_of,
        chances,
    })
}
