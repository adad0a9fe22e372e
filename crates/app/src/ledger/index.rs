//! The index that the same money is compared with.

use crate::{AppError, Ctx};
use artemon_core::domain::{Currency, Day};

/// The id of the index that one compares with: the one asked for, or the broadest.
///
/// # Errors
/// An unknown index.
pub(crate) fn index_compared(ctx: &Ctx, t: Day, asked: Option<&str>) -> Result<Option<String>, AppError> {
    let Some(asked) = asked else { return Ok(broadest(ctx, t)) };
    let known = ctx.snapshot().indexes().any(|i| i.0 == asked);
    if known { Ok(Some(asked.to_owned())) } else { Err(AppError::Missing { what: format!("The index \"{asked}\"") }) }
}

/// The index in the base currency that has the most members.
fn broadest(ctx: &Ctx, t: Day) -> Option<String> {
    let members = |id: &str| ctx.engine.as_of(t).index_members(id).map_or(0, |m| m.len());
    let of = |(id, _, currency): (&str, &str, Currency)| (currency == ctx.settings().base, members(id), std::cmp::Reverse(id.to_owned()));
    ctx.snapshot().indexes().map(of).max().map(|(.., id)| id.0)
}
