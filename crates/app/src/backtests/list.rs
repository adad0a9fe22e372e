//! The backtests of a person, settings and outcome side by side.

use super::kept::{BacktestEntry, entry, tried};
use crate::{AppError, Ctx};
use serde::Serialize;
use utoipa::ToSchema;

/// How often a screen was tried.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Tried {
    pub screen: String,
    /// Different settings, deleted ones counted.
    pub variants: usize,
}

/// The backtests of a person.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct BacktestList {
    /// Newest first.
    pub backtests: Vec<BacktestEntry>,
    /// Deleted ones, which can be restored.
    pub deleted: Vec<BacktestEntry>,
    /// How often each screen was tried.
    pub tried: Vec<Tried>,
}

/// The backtests of a person.
///
/// # Errors
/// When they cannot be read.
pub fn backtests(ctx: &Ctx) -> Result<BacktestList, AppError> {
    let all = ctx.home.people.backtests(&ctx.person)?;
    let tried = tried(&all).into_iter().map(|(screen, variants)| Tried { screen, variants }).collect();
    let (mut backtests, mut deleted) = (Vec::new(), Vec::new());
    for kept in all {
        let list = if kept.deleted_at.is_some() { &mut deleted } else { &mut backtests };
        list.push(entry(kept)?);
    }
    Ok(BacktestList { backtests, deleted, tried })
}
