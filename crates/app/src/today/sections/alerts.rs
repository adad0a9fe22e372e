//! What the person's alerts said.

use super::super::{line::Line, look::Look};
use crate::AppError;
use artemon_core::domain::Day;
use serde::Serialize;
use utoipa::ToSchema;

/// Lines at most.
const MOST: i64 = 200;

/// What alerts said since.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct AlertLines {
    /// The newest session first.
    pub said: Vec<AlertLine>,
    /// How much they said in all.
    pub count: usize,
}

/// What an alert said on a session.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct AlertLine {
    #[serde(flatten)]
    pub line: Line,
    #[schema(value_type = String)]
    pub session: Day,
    /// The alert's document and name.
    pub alert_id: String,
    pub alert: String,
    /// Empty where it is about no single company.
    pub symbol: String,
    pub name: String,
    pub says: String,
}

pub(crate) fn alerts(look: &Look<'_>) -> Result<AlertLines, AppError> {
    let (ctx, after, upto) = (look.ctx, look.since().to_string(), look.t().to_string());
    let said = ctx.home.people.firings(&ctx.person, &after, &upto, MOST)?;
    let line = |f: artemon_store::Firing| {
        Some(AlertLine {
            line: look.away.line("alerts", &format!("{}/{}", f.alert_id, f.company_id), &f.session),
            session: f.session.parse().ok()?,
            alert_id: f.alert_id,
            alert: f.alert,
            symbol: f.symbol,
            name: f.name,
            says: f.sentence,
        })
    };
    let count = ctx.home.people.firings_count(&ctx.person, &after, &upto)?;
    Ok(AlertLines { said: said.into_iter().filter_map(line).collect(), count })
}
