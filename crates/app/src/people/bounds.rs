//! What one person may keep and ask for on a server of several, so that there is room for the others.

use crate::{AppError, Ctx};
use artemon_store::WAITING;

/// Bytes of documents with all their versions.
const BYTES: i64 = 200 << 20;
/// Documents of a kind, and backtests that wait.
const DOCUMENTS: usize = 2_000;
const BACKTESTS: usize = 20;

/// Refuses another version where what is kept takes too much room.
///
/// # Errors
/// Then.
pub(crate) fn room_for_a_version(ctx: &Ctx) -> Result<(), AppError> {
    if !ctx.home.is_shared() || ctx.home.people.bytes_of_documents(&ctx.person)? < BYTES {
        return Ok(());
    }
    let sentence = "What you keep takes as much room as one person may take. Save everything, and ask an owner for a new account.";
    Err(AppError::Refused(sentence.to_owned()))
}

/// Refuses another document where there are too many.
///
/// # Errors
/// Then.
pub(crate) fn room_for_a_document(ctx: &Ctx, kind: &str) -> Result<(), AppError> {
    if ctx.home.is_shared() && ctx.home.people.documents(&ctx.person, kind, false)?.len() >= DOCUMENTS {
        return Err(AppError::Refused(format!("You have {DOCUMENTS} of these. Delete some that are not needed any more.")));
    }
    Ok(())
}

/// Refuses another backtest where too many wait.
///
/// # Errors
/// Then.
pub(crate) fn room_for_a_backtest(ctx: &Ctx) -> Result<(), AppError> {
    let waiting = ctx.home.people.backtests(&ctx.person)?.iter().filter(|b| b.state == WAITING && b.deleted_at.is_none()).count();
    if ctx.home.is_shared() && waiting >= BACKTESTS {
        return Err(AppError::Busy { what: format!("{BACKTESTS} of your backtests wait already") });
    }
    Ok(())
}
