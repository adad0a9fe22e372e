//! The page between two days as a document.

use crate::{AppError, Ctx};
use artemon_core::{
    screening::Screen,
    today::{Asked, Report, ReportError, report},
};
use serde::Serialize;

/// What was asked, and what happened.
#[derive(Debug, Serialize)]
#[allow(missing_docs)]
pub struct TodayDocument {
    pub today: Asked,
    pub result: Report,
}

/// What happened between two days to companies and in screens, which come with the names by which they are asked for.
///
/// # Errors
/// A company that is not known, days outside the data or in the wrong order, a screen that cannot be run.
pub fn today_document(ctx: &Ctx, asked: Asked, screens: &[(String, Screen)]) -> Result<TodayDocument, AppError> {
    ctx.date(Some(asked.last_visit))?;
    ctx.date(Some(asked.today))?;
    if asked.last_visit >= asked.today {
        let problem = format!("it is not before {}", asked.today);
        return Err(AppError::Unusable { what: format!("The last visit, {}", asked.last_visit), problem });
    }
    let result = report(&ctx.engine, &asked, screens).map_err(|e| match e {
        ReportError::Unknown(symbol) => ctx.unknown(vec![symbol]),
        other => AppError::Unusable { what: "The document".to_owned(), problem: other.to_string() },
    })?;
    Ok(TodayDocument { today: asked, result })
}
