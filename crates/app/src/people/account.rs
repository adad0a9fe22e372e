//! One's own account: who one is, where one is signed in, and the passphrase.

use super::{
    audit::{self, with_entry},
    passphrase,
    persons::Role,
    second_factor::own,
    sessions::{SessionEntry, Signed, sessions},
};
use crate::{AppError, Ctx};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Who one is here.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Account {
    /// Whether others may sign in too; else one is alone on one's own machine, and the rest is empty.
    pub shared: bool,
    #[allow(missing_docs)]
    pub name: String,
    #[allow(missing_docs)]
    pub role: Role,
    /// When the passphrase was chosen, as RFC 3339.
    pub passphrase_at: String,
    /// Whether a code is asked for beside it.
    pub second_factor: bool,
    /// How many recovery codes are left.
    pub recovery_codes: i64,
    /// Where one is signed in, the last seen first.
    pub sessions: Vec<SessionEntry>,
}

/// Another passphrase.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct ChangePassphrase {
    pub now: String,
    pub new: String,
}

/// The passphrase, typed again.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Confirm {
    pub passphrase: String,
}

/// Who the caller is, in the session that asks.
///
/// # Errors
/// When it cannot be read.
pub fn account(ctx: &Ctx, session: Option<&str>) -> Result<Account, AppError> {
    if !ctx.home.is_shared() {
        return Ok(Account {
            shared: false,
            name: String::new(),
            role: Role::Owner,
            passphrase_at: String::new(),
            second_factor: false,
            recovery_codes: 0,
            sessions: Vec::new(),
        });
    }
    let known = own(ctx)?;
    Ok(Account {
        shared: true,
        role: Role::of(&known.role),
        passphrase_at: known.changed_at,
        second_factor: !known.second_factor.is_empty(),
        recovery_codes: ctx.home.people.recovery_codes_left(&ctx.person)?,
        sessions: sessions(&ctx.home, &ctx.person, session.unwrap_or_default())?,
        name: known.name,
    })
}

/// Whether it is the caller's passphrase.
fn check(ctx: &Ctx, typed: &str) -> Result<(), AppError> {
    let known = own(ctx)?;
    ctx.home.attempts.confirm(ctx.person.as_str())?;
    if passphrase::is(typed, Some(&known.passphrase)) {
        return Ok(());
    }
    audit::noted(ctx, "typed a wrong passphrase", "")?;
    Err(AppError::Refused("This is not your passphrase.".to_owned()))
}

/// The caller's session with the passphrase typed again, after which what cannot be undone can be done for ten minutes.
///
/// # Errors
/// A passphrase that is not right; after too many.
pub fn confirm(ctx: &Ctx, signed: &Signed, confirm: &Confirm) -> Result<Signed, AppError> {
    check(ctx, &confirm.passphrase)?;
    Ok(signed.confirmed_now())
}

/// Gives the caller another passphrase. They are signed out everywhere else.
///
/// # Errors
/// A passphrase that is not right, or another that is not good enough.
pub fn change_passphrase(ctx: &Ctx, cookie: &str, change: &ChangePassphrase) -> Result<(), AppError> {
    check(ctx, &change.now)?;
    passphrase::check(&change.new, &own(ctx)?.name)?;
    let kept = passphrase::hash(&change.new)?;
    let but = super::secret::hash(cookie);
    with_entry(ctx, "changed the passphrase", "", |entry| ctx.home.people.change_passphrase(&ctx.person, &kept, &but, entry))
}

/// Ends one of the caller's sessions.
///
/// # Errors
/// When there is none.
pub fn end_session(ctx: &Ctx, id: &str) -> Result<(), AppError> {
    if !ctx.home.people.end_session_of(&ctx.person, id)? {
        return Err(AppError::Missing { what: "This session".to_owned() });
    }
    audit::noted(ctx, "ended a session", "")
}

/// Ends all of the caller's sessions but the one of a cookie.
///
/// # Errors
/// When it cannot be kept.
pub fn sign_out_elsewhere(ctx: &Ctx, cookie: &str) -> Result<(), AppError> {
    ctx.home.people.end_sessions(&ctx.person, &super::secret::hash(cookie))?;
    audit::noted(ctx, "signed out everywhere else", "")
}
