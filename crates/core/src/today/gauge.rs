//! The market against its own past.

use super::lows::is_new_low;
use crate::{
    domain::{Day, Kind},
    engine::{Context, Keep, Section},
    formula::{Column, Fingerprint, FormulaError},
    panel::CompanyAt,
    stats,
};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// The market at a date: all companies but funds, each figure over those of which it is defined.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Gauge {
    /// Median price ÷ value.
    pub median_price_to_value: Option<f64>,
    /// The share of companies that are priced under their value, by more than the fair band, as a fraction.
    pub share_under_value: Option<f64>,
    /// Median price ÷ earnings.
    pub median_pe: Option<f64>,
    /// The share of companies whose price is above its mean of 200 sessions, as a fraction.
    pub share_above_sma200: Option<f64>,
    /// How many made a new low of 52 weeks in their newest session.
    pub new_52w_lows: usize,
    /// How many companies there are.
    pub companies: usize,
}

/// Where a month stands among the months before it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct GaugeStanding {
    /// 0 for the cheapest month, 100 for the dearest by price to value.
    pub median_price_to_value_rank: Option<f64>,
    /// The same by price to earnings.
    pub median_pe_rank: Option<f64>,
    /// The middle of the months' price to earnings.
    pub median_of_median_pe: Option<f64>,
}

/// Years of the past with which the market is compared.
const YEARS: i32 = 10;

/// By what all that a gauge is computed with is known: equal for equal settings.
#[must_use]
pub fn gauge_settings(context: &Context) -> String {
    let formulas: Vec<_> = FORMULAS.iter().filter_map(|f| context.compile(f).ok()).collect();
    let under = context.settings().assumptions.fair_band;
    format!("{:?}", Fingerprint::of(&(env!("CARGO_PKG_VERSION"), under, context.settings_of(&formulas))))
}

const FORMULAS: [&str; 3] = ["price_to_value", "pe", "price > sma(200)"];

/// The gauge of a section.
///
/// # Errors
/// Never with the shipped measures.
pub fn gauge(section: &Section<'_>) -> Result<Gauge, FormulaError> {
    let [to_value, pe, above] = FORMULAS;
    let formulas = [section.compile(to_value)?, section.compile(pe)?, section.compile(above)?];
    section.prepare(&formulas);
    let under = 1.0 - section.context().settings().assumptions.fair_band;
    Ok(of_columns(section, &formulas.each_ref().map(|f| section.column(f)), under))
}

/// The gauge of a date of which nothing else is wanted: nothing is kept but the answer.
///
/// # Errors
/// As [`gauge`].
pub fn gauge_at(context: &Context, t: Day) -> Result<Gauge, FormulaError> {
    let apart = context.apart();
    gauge(&Section::new(&apart, t))
}

fn of_columns(section: &Section<'_>, columns: &[Arc<Column>; 3], under: f64) -> Gauge {
    let rows = section.rows();
    let counts = |c: &&CompanyAt<'_>| c.kind() != Kind::Fund;
    let numbers = |column: &Column| -> Vec<f64> {
        let Column::Number(all) = column else { return Vec::new() };
        rows.iter().zip(all).filter(|(c, _)| counts(c)).filter_map(|(_, x)| (*x).ok()).collect()
    };
    let to_value = numbers(&columns[0]);
    let above = {
        let Column::Flag(all) = &*columns[2] else { unreachable!("a comparison is a flag") };
        rows.iter().zip(all).filter(|(c, _)| counts(c)).filter_map(|(_, x)| (*x).ok()).collect::<Vec<bool>>()
    };
    Gauge {
        median_price_to_value: stats::median(&to_value),
        share_under_value: share(to_value.iter().map(|x| *x < under)),
        median_pe: stats::median(&numbers(&columns[1])),
        share_above_sma200: share(above.into_iter()),
        new_52w_lows: rows.par_iter().filter(counts).filter(|c| is_new_low(c) == Some(true)).count(),
        companies: rows.iter().filter(counts).count(),
    }
}

#[allow(clippy::cast_precision_loss)]
fn share(holds: impl ExactSizeIterator<Item = bool>) -> Option<f64> {
    let n = holds.len();
    (n > 0).then(|| holds.filter(|h| *h).count() as f64 / n as f64)
}

/// The days at which the market is looked at for a date, oldest first: the last session of each calendar month of ten years, and the
/// date. A session is a day on which any company traded.
#[must_use]
pub fn gauge_days(context: &Context, t: Day) -> Vec<Day> {
    let ends = context.engine().whole(|| MonthEnds(context.snapshot().month_ends()));
    let from = t.plus_months(-12 * YEARS);
    let of_past = ends.0.iter().filter(|d| **d > from && d.month_index() < t.month_index());
    of_past.copied().chain([t]).collect()
}

struct MonthEnds(Vec<Day>);

impl Keep for MonthEnds {
    fn bytes(&self) -> usize {
        size_of_val(&*self.0)
    }
}

/// Where the last of some months stands among them all.
#[must_use]
pub fn standing(months: &[Gauge]) -> GaugeStanding {
    let rank = |of: fn(&Gauge) -> Option<f64>| stats::rank(months.last().and_then(of)?, months.iter().filter_map(of));
    let pe: Vec<f64> = months.iter().filter_map(|m| m.median_pe).collect();
    GaugeStanding {
        median_price_to_value_rank: rank(|m| m.median_price_to_value),
        median_pe_rank: rank(|m| m.median_pe),
        median_of_median_pe: stats::median(&pe),
    }
}
