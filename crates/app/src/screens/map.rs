//! The companies that pass a screen as marks on a map of any two measures, their size and tint by others.

use super::rows::{ScreenList, listed};
use crate::{AppError, Ctx, figures::compact::six_digits};
use artemon_core::{engine::Section, formula::Unit, stats, wording::label};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Most marks of a map.
const MOST: usize = 10_000;

/// What is to be seen on the map.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MapRequest {
    /// Whose marks.
    pub list: ScreenList,
    /// A formula with a number for its answer, to the right.
    pub x: String,
    /// One upwards.
    pub y: String,
    /// One for the size of the marks.
    #[serde(default)]
    pub size: Option<String>,
    /// One for their tint.
    #[serde(default)]
    pub tint: Option<String>,
}

/// A map.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MapAnswer {
    pub x: MapAxis,
    pub y: MapAxis,
    pub size: Option<MapAxis>,
    pub tint: Option<MapAxis>,
    /// In the screen's order; those without a place are left out.
    pub marks: Vec<MapMark>,
    /// Companies without a place, since one of the two measures is undefined.
    pub without: usize,
}

/// What is measured along an axis.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MapAxis {
    pub formula: String,
    pub label: String,
    pub unit: Unit,
    /// Over the marks.
    pub median: Option<f64>,
}

/// A company, with its figures to six digits.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MapMark {
    pub symbol: String,
    pub name: String,
    pub x: f64,
    pub y: f64,
    pub size: Option<f64>,
    pub tint: Option<f64>,
}

/// The numbers of a formula, by place in the section.
struct Measured {
    axis: MapAxis,
    numbers: Vec<Option<f64>>,
}

/// A map of the companies listed.
///
/// # Errors
/// A mistake in a formula, or one whose answer is no number; as [`super::screen_rows`].
pub fn screen_map(ctx: &Ctx, request: &MapRequest) -> Result<MapAnswer, AppError> {
    let section = ctx.section(ctx.date(request.list.screen.as_of)?);
    let places: Vec<usize> = listed(&request.list, &section)?.into_iter().take(MOST).collect();
    let measured = |formula: &String| measured(formula, &places, &section);
    let (mut x, mut y) = (measured(&request.x)?, measured(&request.y)?);
    let mut size = request.size.as_ref().map(measured).transpose()?;
    let mut tint = request.tint.as_ref().map(measured).transpose()?;
    let mark = |i: usize| {
        let index = section.members()[places[i]];
        let other = |of: &Option<Measured>| of.as_ref().and_then(|m| m.numbers[i]).map(six_digits);
        Some(MapMark {
            symbol: ctx.snapshot().symbol(index).to_owned(),
            name: ctx.snapshot().company(index).name.clone(),
            x: six_digits(x.numbers[i]?),
            y: six_digits(y.numbers[i]?),
            size: other(&size),
            tint: other(&tint),
        })
    };
    let marks: Vec<MapMark> = (0..places.len()).filter_map(mark).collect();
    let middle = |of: fn(&MapMark) -> Option<f64>| stats::median(&marks.iter().filter_map(of).collect::<Vec<_>>());
    x.axis.median = middle(|m| Some(m.x));
    y.axis.median = middle(|m| Some(m.y));
    size.iter_mut().for_each(|m| m.axis.median = middle(|m| m.size));
    tint.iter_mut().for_each(|m| m.axis.median = middle(|m| m.tint));
    let without = places.len() - marks.len();
    Ok(MapAnswer { x: x.axis, y: y.axis, size: size.map(|m| m.axis), tint: tint.map(|m| m.axis), marks, without })
}

fn measured(formula: &str, places: &[usize], section: &Section<'_>) -> Result<Measured, AppError> {
    let compiled = section.compile(formula).map_err(|e| AppError::formula(formula, e))?;
    if matches!(compiled.unit, Unit::Text | Unit::Flag) {
        let problem = "its answer is no number, so that it has no place on an axis; choose a measure that is one".to_owned();
        return Err(AppError::Unusable { what: format!("The measure {formula}"), problem });
    }
    let column = section.column(&compiled);
    let numbers = places.iter().map(|place| column.value(*place).number().ok()).collect();
    let label = label(formula, &section.context().settings().library);
    Ok(Measured { axis: MapAxis { formula: formula.to_owned(), label, unit: compiled.unit, median: None }, numbers })
}
