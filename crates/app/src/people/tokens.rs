//! Access tokens: what a script may do in one's name, and for how long.

use super::{
    audit::with_entry,
    secret::{hash, unguessable},
};
use crate::{AppError, Ctx, Home, names::check_name};
use artemon_store::{KeptToken, PersonId, moment};
use chrono::{Duration, Utc};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// By which a token is known for one wherever it turns up.
const PREFIX: &str = "artemon_";
/// Days that a token lasts at most, tokens of a person, and the longest name.
const DAYS: i64 = 366;
const MOST: usize = 50;
const LONGEST_NAME: usize = 80;
/// How often it is kept that a token was used.
const USED_EVERY: Duration = Duration::minutes(5);

/// What a script may do.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Scope {
    /// Read whatever one can read, and have figures worked out.
    Read,
    /// Change what is one's own: screens, lists, notes, the ledger.
    Write,
    /// Bring data, which takes an owner.
    Data,
}

impl Scope {
    const ALL: [Scope; 3] = [Scope::Read, Scope::Write, Scope::Data];

    const fn code(self) -> &'static str {
        match self {
            Scope::Read => "read",
            Scope::Write => "write",
            Scope::Data => "data",
        }
    }
}

/// A token to be made.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewToken {
    /// What it is for.
    pub name: String,
    /// What it may do.
    pub scopes: Vec<Scope>,
    /// For how many days, 1 to 366.
    pub days: i64,
}

/// A token as it was made. It is told this once.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TokenMade {
    /// Sent as `Authorization: Bearer …`.
    pub token: String,
    pub entry: TokenEntry,
}

/// A token in a list.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TokenEntry {
    pub id: String,
    pub name: String,
    pub scopes: Vec<Scope>,
    /// As RFC 3339.
    pub made_at: String,
    pub ends_at: String,
    pub used_at: Option<String>,
    /// Whether it does not count any more.
    pub ended: bool,
}

fn entry(t: KeptToken) -> TokenEntry {
    let ended = moment::read(&t.ends_at).is_none_or(|end| end <= Utc::now());
    TokenEntry { id: t.id, name: t.name, scopes: scopes(&t.scopes), made_at: t.made_at, ends_at: t.ends_at, used_at: t.used_at, ended }
}

fn scopes(text: &str) -> Vec<Scope> {
    text.split(' ').filter_map(|code| Scope::ALL.into_iter().find(|scope| scope.code() == code)).collect()
}

/// The caller's tokens, the newest first.
///
/// # Errors
/// When they cannot be read.
pub fn tokens(ctx: &Ctx) -> Result<Vec<TokenEntry>, AppError> {
    Ok(ctx.home.people.tokens(&ctx.person)?.into_iter().map(entry).collect())
}

/// Makes a token for a script of the caller's.
///
/// # Errors
/// A name that is none; no scope; a time that is too long; too many tokens.
pub fn make_token(ctx: &Ctx, new: &NewToken) -> Result<TokenMade, AppError> {
    let unusable = |what: &str, problem: String| AppError::Unusable { what: what.to_owned(), problem };
    check_name(&new.name, LONGEST_NAME).map_err(|problem| unusable("The name", problem))?;
    if new.scopes.is_empty() {
        return Err(unusable("The token", "it may do nothing; choose what it is for".to_owned()));
    }
    if !(1..=DAYS).contains(&new.days) {
        return Err(unusable("The time", format!("a token lasts from 1 to {DAYS} days")));
    }
    if ctx.home.people.tokens(&ctx.person)?.len() >= MOST {
        return Err(AppError::Refused(format!("You have {MOST} tokens. End some that are not needed any more.")));
    }
    let (token, now) = (format!("{PREFIX}{}", unguessable()), Utc::now());
    let codes: Vec<&str> = Scope::ALL.into_iter().filter(|scope| new.scopes.contains(scope)).map(Scope::code).collect();
    let kept = KeptToken {
        hash: hash(&token),
        id: uuid::Uuid::new_v4().to_string(),
        person: ctx.person.clone(),
        name: new.name.trim().to_owned(),
        scopes: codes.join(" "),
        made_at: moment::text(now),
        ends_at: moment::text(now + Duration::days(new.days)),
        used_at: None,
    };
    with_entry(ctx, "made an access token", &format!("{}: {}", kept.name, codes.join(", ")), |e| ctx.home.people.add_token(&kept, e))?;
    Ok(TokenMade { token, entry: entry(kept) })
}

/// Ends a token of the caller's for good.
///
/// # Errors
/// When there is none.
pub fn end_token(ctx: &Ctx, id: &str) -> Result<(), AppError> {
    let missing = || AppError::Missing { what: "This token".to_owned() };
    let name = ctx.home.people.tokens(&ctx.person)?.into_iter().find(|t| t.id == id).ok_or_else(missing)?.name;
    let gone = with_entry(ctx, "ended an access token", &name, |entry| ctx.home.people.end_token(&ctx.person, id, entry))?;
    if gone { Ok(()) } else { Err(missing()) }
}

/// In whose name a token speaks, and what it may do; nothing where it does not count.
///
/// # Errors
/// When it cannot be read.
pub fn token_holder(home: &Home, token: &str) -> Result<Option<(PersonId, Vec<Scope>)>, AppError> {
    let Some(found) = home.people.token(&hash(token))? else { return Ok(None) };
    let now = Utc::now();
    let used = found.used_at.as_deref().and_then(moment::read);
    if used.is_none_or(|used| now - used > USED_EVERY) {
        home.people.keep_token_used(&found.hash, &moment::text(now))?;
    }
    Ok(Some((found.person, scopes(&found.scopes))))
}
