//! Somebody leaves a shared server.

use super::{audit::with_entry, persons::person};
use crate::{AppError, Ctx};
use artemon_store::{Departed, PersonId};
use serde::{Deserialize, Serialize};
use std::fs;
use utoipa::ToSchema;

/// What becomes of what somebody leaves behind.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Leave {
    /// Who gets screens, lists, columns, measures, assumption sets, forecasts, notes and backtests: the id of a person. Without one
    /// everything is deleted. The ledger and decisions are deleted either way: they are a record of one's own.
    #[serde(default)]
    pub hand_over_to: Option<String>,
}

/// Somebody has left.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Left {
    pub name: String,
}

/// Removes somebody, who can be the caller. It cannot be undone.
///
/// # Errors
/// When there is no such person, or would be no owner.
pub fn remove_person(ctx: &Ctx, id: &str, leave: &Leave) -> Result<Left, AppError> {
    let (gone, _, name) = person(ctx, id)?;
    let heir = leave.hand_over_to.as_deref().map(|id| person(ctx, id)).transpose()?;
    let about = heir.as_ref().map_or_else(|| name.clone(), |heir| format!("{name}; what others can work with went to {}", heir.2));
    ctx.home.workshop.give_up_all(&gone);
    let heir = heir.map(|heir| heir.0);
    let done = with_entry(ctx, "removed", &about, |entry| ctx.home.people.remove_person(&gone, heir.as_ref(), entry))?;
    match done {
        Departed::Gone => {
            forget(ctx, &gone);
            Ok(Left { name })
        }
        Departed::Missing => Err(AppError::Missing { what: "This person, or the one who takes over,".to_owned() }),
        Departed::LastOwner => {
            Err(AppError::Refused("Somebody must look after the server. Make another person an owner first.".to_owned()))
        }
    }
}

/// Removes the caller.
///
/// # Errors
/// As [`remove_person`].
pub fn leave(ctx: &Ctx, leave: &Leave) -> Result<Left, AppError> {
    remove_person(ctx, ctx.person.as_str(), leave)
}

/// What is kept of them in memory and beside the databases.
fn forget(ctx: &Ctx, gone: &PersonId) {
    ctx.home.forget_people();
    fs::remove_dir_all(ctx.home.folder().join("uploads").join(gone.as_str())).ok();
}
