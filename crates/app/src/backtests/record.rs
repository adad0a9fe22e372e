//! How good the values have been: worked out in the background, kept until the data or what it is computed with is another.

use crate::{AppError, Ctx};
use artemon_core::{
    calibration::{Calibration, Cell, calibration, calibration_settings},
    stats::median,
    wording::figures::{count, percent, signed},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Under which it is kept beside the market's months.
const PLACE: &str = "calibration";
/// Days of a month in the mean.
const MONTH: f64 = 30.44;
/// The horizon and the band of the sentence: good companies a quarter and more under their value.
const YEARS: i32 = 3;
const BAND: f64 = 0.5;
/// Fewer companies than this mean little.
const FEW: usize = 20;

/// The record of the values.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CalibrationAnswer {
    /// What it says, in a sentence; none before it was worked out.
    pub sentence: Option<String>,
    pub record: Option<Calibration>,
    /// Whether it is of the data as they are now.
    pub is_current: bool,
    /// How far analysts were off, in a sentence; none where there are no estimates.
    pub analysts: Option<String>,
}

/// As it is kept.
#[derive(Serialize, Deserialize)]
struct Kept {
    dataset: String,
    record: Option<Calibration>,
}

/// The record as far as it is worked out.
///
/// # Errors
/// When what is kept cannot be read.
pub fn values_record(ctx: &Ctx) -> Result<CalibrationAnswer, AppError> {
    let kept = ctx.home.store.gauges(&calibration_settings(&ctx.engine))?.remove(PLACE);
    let kept: Option<Kept> = kept.and_then(|text| serde_json::from_str(&text).ok());
    let is_current = kept.as_ref().is_some_and(|k| k.dataset == ctx.dataset.fingerprint());
    let record = kept.and_then(|k| k.record);
    Ok(CalibrationAnswer { sentence: record.as_ref().map(sentence), record, is_current, analysts: analysts(ctx)? })
}

/// Works the record out and keeps it.
pub(super) fn work_out(ctx: &Ctx, progress: &mut dyn FnMut(f64)) -> Result<(), AppError> {
    let kept = Kept { record: calibration(&ctx.engine, progress), dataset: ctx.dataset.fingerprint() };
    let text = serde_json::to_string(&kept).unwrap_or_default();
    Ok(ctx.home.store.keep_gauge(&calibration_settings(&ctx.engine), PLACE, &text)?)
}

/// What became of good companies that were half to three quarters of their value.
fn sentence(record: &Calibration) -> String {
    let of = |c: &&Cell| c.years == YEARS && c.good == Some(true) && (c.from - BAND).abs() < 1e-9;
    let Some(cell) = record.cells.iter().find(of) else { return String::new() };
    let (Some(met), Some(excess)) = (cell.met, cell.median_excess) else {
        return "No good company was half to three quarters of its value long enough ago to say what became of it.".to_owned();
    };
    let between = cell.met_interval.map_or_else(String::new, |i| format!(" (90 % sure: {} to {})", percent(i.low), percent(i.high)));
    let months = cell.median_days.map(|days| count(((f64::from(days) / MONTH).round() as usize).max(1), "month"));
    let after = months.map_or_else(|| "; half of all have not met it yet".to_owned(), |months| format!(", half of all after {months}"));
    let few = if cell.companies < FEW { " These are few companies: it says little." } else { "" };
    format!(
        "Of good companies at half to three quarters of their value, {} met it within three years{between}{after}; in the middle they \
         brought {} against all others.{few}",
        percent(met),
        signed(excess, percent)
    )
}

/// How far analysts' price targets and estimates were off, in the middle of all companies.
fn analysts(ctx: &Ctx) -> Result<Option<String>, AppError> {
    let section = ctx.section(ctx.date(None)?);
    let middle = |formula: &str| {
        let compiled = section.compile(formula).map_err(|e| AppError::formula(formula, e))?;
        let column = section.column(&compiled);
        Ok::<_, AppError>(median(&column.numbers().unwrap_or_default().iter().filter_map(|n| n.ok()).collect::<Vec<_>>()))
    };
    let (target, earnings) = (middle("target_error(3)")?, middle("abs(eps_surprise(1))")?);
    let target = target.map(|x| format!("price targets were off by {} a year later", percent(x)));
    let earnings = earnings.map(|x| format!("the last quarter's earnings by {} of what was estimated", percent(x)));
    let both: Vec<String> = target.into_iter().chain(earnings).collect();
    Ok((!both.is_empty()).then(|| format!("Analysts, in the middle of all companies: {}.", both.join("; "))))
}
