//! The companies that pass a screen as small charts of price over value.

use super::rows::{ScreenList, listed};
use crate::{
    AppError, Ctx,
    companies::months::{MonthPoint, months},
    figures::compact::six_digits,
};
use artemon_core::{domain::Day, wording::against_value};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Most tiles of one answer, and most months of a tile.
const MOST: usize = 60;
const MOST_MONTHS: u32 = 240;

/// Which tiles are wanted.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WallRequest {
    /// All companies.
    pub list: ScreenList,
    /// The first of them, from 0.
    #[serde(default)]
    pub offset: usize,
    /// How many; 60 at most.
    pub rows: usize,
    /// Months of each chart; 240 at most.
    pub months: u32,
}

/// Some tiles of the companies that pass a screen.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct WallAnswer {
    /// Companies that pass, all tiles together.
    pub survivors: usize,
    /// Those wanted, in the screen's order.
    pub rows: Vec<Tile>,
}

/// A company's price over its value, month by month, to six digits.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Tile {
    pub symbol: String,
    pub name: String,
    pub industry: String,
    pub currency: String,
    /// Price against value in words; none without a value.
    pub against_value: Option<&'static str>,
    /// What to pay at most.
    pub buy_below: Option<f64>,
    pub red_flags: usize,
    #[schema(value_type = Option<String>)]
    pub first: Option<Day>,
    #[schema(value_type = Option<String>)]
    pub last: Option<Day>,
    /// The last price of each month, oldest first.
    pub prices: Vec<f64>,
    pub values: Vec<Option<f64>>,
    /// The middle half of the valuations.
    pub low: Vec<Option<f64>>,
    pub high: Vec<Option<f64>>,
}

/// Tiles of the companies listed.
///
/// # Errors
/// As [`super::screen_rows`].
pub fn screen_wall(ctx: &Ctx, request: &WallRequest) -> Result<WallAnswer, AppError> {
    let section = ctx.section(ctx.date(request.list.screen.as_of)?);
    let survivors = listed(&request.list, &section)?;
    let page: Vec<u32> =
        survivors.iter().skip(request.offset).take(request.rows.min(MOST)).map(|place| section.members()[*place]).collect();
    let valuations = ctx.engine.valuations(section.t());
    let span = i32::try_from(request.months.min(MOST_MONTHS)).unwrap_or(0);
    let tile = |index: &u32| {
        let c = section.as_of.company(*index);
        let points = months(&ctx.engine, &c, span);
        let worth = &valuations[*index as usize];
        let to_value = worth.price.ok().zip(worth.value.ok()).filter(|(_, value)| *value > 0.0).map(|(price, value)| price / value);
        let all = |of: fn(&MonthPoint) -> Option<f64>| points.iter().map(|m| of(m).map(six_digits)).collect();
        Tile {
            symbol: c.symbol().to_owned(),
            name: c.company().name.clone(),
            industry: c.company().industry.clone(),
            currency: c.listing_currency().to_string(),
            against_value: to_value.map(against_value),
            buy_below: worth.buy_below(&ctx.settings().assumptions).ok().map(six_digits),
            red_flags: worth.quality.red_flags(),
            first: points.first().map(|m| m.date),
            last: points.last().map(|m| m.date),
            prices: points.iter().map(|m| six_digits(m.price)).collect(),
            values: all(|m| m.value),
            low: all(|m| m.low),
            high: all(|m| m.high),
        }
    };
    Ok(WallAnswer { survivors: survivors.len(), rows: page.par_iter().map(tile).collect() })
}
