//! Names, deletes, restores and ends backtests.

use super::{
    ask::named,
    kept::{BacktestState, ended, kept, missing},
    work::Wanted,
};
use crate::{AppError, Ctx, people::noted};
use artemon_core::screening::Screen;
use artemon_store::WAITING;

/// Deletes a backtest until it is restored, or restores it. Deleted ones still count as tries.
///
/// # Errors
/// When there is none.
pub fn delete_backtest(ctx: &Ctx, id: &str, deleted: bool) -> Result<(), AppError> {
    if deleted {
        cancel_backtest(ctx, id)?;
    }
    let name = kept(ctx, id)?.name;
    if !ctx.home.people.delete_backtest(&ctx.person, id, deleted)? {
        return Err(missing());
    }
    if deleted { noted(ctx, "deleted", &format!("backtest {name}")) } else { Ok(()) }
}

/// Names a backtest.
///
/// # Errors
/// When there is none; a name that is none.
pub fn name_backtest(ctx: &Ctx, id: &str, name: &str) -> Result<(), AppError> {
    if name.trim().is_empty() {
        let problem = "it must have between 1 and 80 characters, in one line".to_owned();
        return Err(AppError::Unusable { what: "The name".to_owned(), problem });
    }
    let name = named(name, &Screen::default())?;
    if ctx.home.people.name_backtest(&ctx.person, id, &name)? { Ok(()) } else { Err(missing()) }
}

/// Ends a backtest that waits or runs, or the trying of its variants; one that is over stays as it is.
///
/// # Errors
/// When there is none.
pub fn cancel_backtest(ctx: &Ctx, id: &str) -> Result<(), AppError> {
    let found = kept(ctx, id)?;
    ctx.home.workshop.do_without(&Wanted::Variants(id.to_owned()));
    if found.state == WAITING {
        ctx.home.people.end_backtest(&ctx.person, id, &ended(BacktestState::Cancelled, ""))?;
    }
    ctx.home.workshop.give_up(&ctx.person, id);
    Ok(())
}
