//! When an alert would have said something, before it is saved.

use super::body::AlertBody;
use crate::{AppError, Ctx};
use artemon_core::{
    alerts::{LookedAt, past},
    domain::Day,
};
use serde::Serialize;
use utoipa::ToSchema;

/// Years that one looks back.
const YEARS: i32 = 5;
/// Times that are named.
const NAMED: usize = 60;

/// When an alert would have said something.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct AlertPreview {
    /// What it waits for, and of whom.
    pub says: String,
    /// How many companies it looks at today.
    pub companies: usize,
    /// What would have become true; none where nothing is known of the past.
    pub past: Option<PastFirings>,
}

/// What would have become true in the past.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PastFirings {
    #[schema(value_type = String)]
    pub from: Day,
    /// How often it was looked at.
    pub step: LookedAt,
    /// How many times in all, and in each year, the newest first.
    pub count: usize,
    pub years: Vec<FiringsOfYear>,
    /// The newest of them.
    pub fired: Vec<PastFiring>,
}

/// How many times in a year.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FiringsOfYear {
    pub year: i32,
    pub count: usize,
}

/// Something that would have become true.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PastFiring {
    #[schema(value_type = String)]
    pub date: Day,
    pub symbol: String,
    pub name: String,
}

/// When an alert would have said something in the last five years.
///
/// # Errors
/// An alert that cannot be meant.
pub fn preview_alert(ctx: &Ctx, body: &AlertBody) -> Result<AlertPreview, AppError> {
    body.check(ctx)?;
    let t = ctx.date(None)?;
    let screen = body.screen(ctx)?;
    let companies = body.companies(ctx, t)?;
    let found = past(&ctx.engine, &body.condition(ctx, screen.as_ref())?, t, YEARS, &companies)?;
    Ok(AlertPreview {
        says: body.in_words(ctx),
        companies: companies.len(),
        past: found.map(|p| {
            let name = |(date, i): &(Day, u32)| PastFiring {
                date: *date,
                symbol: ctx.snapshot().symbol(*i).to_owned(),
                name: ctx.snapshot().company(*i).name.clone(),
            };
            let of_year = |year: i32| FiringsOfYear { year, count: p.fired.iter().filter(|f| f.0.year() == year).count() };
            PastFirings {
                from: p.from,
                step: p.step,
                count: p.fired.len(),
                years: (p.from.year()..=t.year()).rev().map(of_year).collect(),
                fired: p.fired.iter().take(NAMED).map(name).collect(),
            }
        }),
    })
}
