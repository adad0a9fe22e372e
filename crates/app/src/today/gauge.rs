//! The market against its own past ten years.

use crate::{AppError, Ctx};
use artemon_core::{
    domain::Day,
    today::{Gauge, gauge, gauge_at, gauge_days, gauge_settings, gauge_words, standing},
};
use serde::Serialize;
use std::{
    collections::HashMap,
    time::{Duration, Instant},
};
use utoipa::ToSchema;

/// How long one asking may compute months that are not kept; at least one is, unless other data has just come.
const PATIENCE: Duration = Duration::from_millis(400);

/// The market now and at month ends.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct GaugeAnswer {
    /// How dear the market is, in a sentence.
    pub sentence: String,
    /// Oldest first, the day asked for last; months that are not known yet are left out.
    pub months: Vec<GaugePoint>,
    /// How many months are still to be computed: ask again.
    pub left: usize,
    /// 0 for the cheapest of the months, 100 for the dearest.
    pub price_to_value_rank: Option<f64>,
    pub pe_rank: Option<f64>,
    /// The middle of the months' median price to earnings.
    pub usual_pe: Option<f64>,
}

/// The market at a date.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, ToSchema)]
pub struct GaugePoint {
    #[allow(missing_docs)]
    #[schema(value_type = String)]
    pub date: Day,
    #[serde(flatten)]
    #[allow(missing_docs)]
    pub gauge: Gauge,
}

/// The market at a date and at the month ends of the ten years before. Months are kept once they are computed; one asking computes
/// some of those that are missing, the newest first.
///
/// # Errors
/// A date outside the data; when what is kept cannot be read.
pub fn market_gauge(ctx: &Ctx, as_of: Option<Day>) -> Result<GaugeAnswer, AppError> {
    let t = ctx.date(as_of)?;
    let days = gauge_days(&ctx.engine, t);
    let known = fill(ctx, &days[..days.len() - 1], PATIENCE)?;
    let now = gauge(&ctx.section(t)).map_err(|e| AppError::formula("price_to_value", e))?;
    let past = days[..days.len() - 1].iter().filter_map(|d| Some(GaugePoint { date: *d, gauge: *known.get(d)? }));
    let months: Vec<GaugePoint> = past.chain([GaugePoint { date: t, gauge: now }]).collect();
    let gauges: Vec<Gauge> = months.iter().map(|m| m.gauge).collect();
    let at = standing(&gauges);
    Ok(GaugeAnswer {
        sentence: gauge_words(&now, &at, gauges.len()),
        left: days.len() - months.len(),
        months,
        price_to_value_rank: at.median_price_to_value_rank,
        pe_rank: at.median_pe_rank,
        usual_pe: at.median_of_median_pe,
    })
}

/// The months that are known once some of the missing ones are computed.
fn fill(ctx: &Ctx, days: &[Day], patience: Duration) -> Result<HashMap<Day, Gauge>, AppError> {
    let settings = gauge_settings(&ctx.engine);
    let kept = ctx.home.store.gauges(&settings)?;
    let read = |(date, body): (&String, &String)| Some((date.parse().ok()?, serde_json::from_str(body).ok()?));
    let mut known: HashMap<Day, Gauge> = kept.iter().filter_map(read).collect();
    let begun = Instant::now();
    for day in days.iter().rev().filter(|d| !kept.contains_key(&d.to_string())) {
        if begun.elapsed() >= patience || ctx.home.is_busy() {
            break;
        }
        let made = gauge_at(&ctx.engine, *day).map_err(|e| AppError::formula("price_to_value", e))?;
        // Beside a running server, which keeps it, it is computed again.
        ctx.home.store.keep_gauge(&settings, &day.to_string(), &serde_json::to_string(&made).unwrap_or_default()).ok();
        known.insert(*day, made);
    }
    Ok(known)
}
