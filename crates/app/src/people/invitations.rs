//! Links that let somebody choose a passphrase: somebody new, or somebody who has lost theirs.

use super::{
    Visitor,
    audit::with_entry,
    passphrase,
    persons::Role,
    secret::{hash, unguessable},
};
use crate::{
    AppError, Ctx, Home,
    names::{check_name, check_no_path},
};
use artemon_core::limits::fits;
use artemon_store::{Joined, Joining, KeptInvitation, NewEntry, PersonId, moment};
use chrono::{Duration, Utc};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use utoipa::ToSchema;

/// How long an invitation can be taken up, in days, and a link back in, in hours.
const DAYS: i64 = 7;
const HOURS: i64 = 24;
/// Invitations that may be open at once.
const OPEN: usize = 100;
/// The longest name of a person, and the longest note.
const LONGEST_NAME: usize = 40;
const LONGEST_NOTE: usize = 80;

/// Whom to invite.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Invite {
    /// As what.
    pub role: Role,
    /// For whom, in one's own words.
    #[serde(default)]
    pub note: String,
}

/// An invitation as it was made. The link is told this once.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Invitation {
    /// Whoever has it may take it up, once.
    pub link: String,
    /// Until when, as RFC 3339.
    pub ends_at: String,
}

/// An invitation that was not taken up yet.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct InvitationEntry {
    pub id: String,
    pub role: Role,
    /// For whom.
    pub note: String,
    /// Whether it lets somebody back in who is known.
    pub way_back: bool,
    pub made_at: String,
    pub ends_at: String,
}

impl From<KeptInvitation> for InvitationEntry {
    fn from(i: KeptInvitation) -> InvitationEntry {
        let (role, way_back) = (Role::of(&i.role), i.person.is_some());
        InvitationEntry { id: i.id, role, note: i.note, way_back, made_at: i.made_at, ends_at: i.ends_at }
    }
}

/// How somebody takes an invitation up.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Join {
    /// What stands in the link.
    pub token: String,
    /// By which others know them, and with which they sign in. Of somebody who comes back it stays as it was.
    pub name: String,
    #[allow(missing_docs)]
    pub passphrase: String,
}

/// Invites somebody.
///
/// # Errors
/// A note that is too long; too many invitations; when it cannot be kept.
pub fn invite(ctx: &Ctx, invite: &Invite) -> Result<Invitation, AppError> {
    fits(&invite.note, LONGEST_NOTE).map_err(|problem| AppError::Unusable { what: "The note".to_owned(), problem })?;
    if ctx.home.people.invitations()?.len() >= OPEN {
        return Err(AppError::Refused(format!("{OPEN} invitations are open. Withdraw some that are not needed any more.")));
    }
    made(ctx, invite.role, None, invite.note.trim(), Duration::days(DAYS))
}

/// What somebody has lost beside the passphrase.
#[derive(Clone, Copy, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WayBack {
    /// The second factor with its recovery codes, too: else it is still asked for.
    #[serde(default)]
    pub second_factor_lost: bool,
}

/// Lets somebody who has lost the passphrase choose another. Whoever makes the link knows that it is them.
///
/// # Errors
/// When there is no such person; when it cannot be kept.
pub fn way_back(ctx: &Ctx, person: &str, way: WayBack) -> Result<Invitation, AppError> {
    let known = super::persons::person(ctx, person)?;
    made(ctx, known.1, Some((known.0, way.second_factor_lost)), &known.2, Duration::hours(HOURS))
}

/// What stands in the link comes after a #, which browsers send to no server and write into no log.
fn path(token: &str) -> String {
    format!("/join#{token}")
}

fn made(ctx: &Ctx, role: Role, person: Option<(PersonId, bool)>, note: &str, within: Duration) -> Result<Invitation, AppError> {
    let what = match person {
        Some((_, true)) => "made a link back in without the second factor",
        Some((_, false)) => "made a link back in",
        None => "invited",
    };
    let (token, kept) = kept(role, person, note, Some(ctx.person.clone()), within);
    with_entry(ctx, what, note, |entry| ctx.home.people.add_invitation(&kept, entry))?;
    Ok(Invitation { link: ctx.home.link(&path(&token)), ends_at: kept.ends_at })
}

fn kept(role: Role, person: Option<(PersonId, bool)>, note: &str, made_by: Option<PersonId>, within: Duration) -> (String, KeptInvitation) {
    let (person, second_factor_lost) = person.map_or((None, false), |(person, lost)| (Some(person), lost));
    let (token, now) = (unguessable(), Utc::now());
    let kept = KeptInvitation {
        hash: hash(&token),
        id: uuid::Uuid::new_v4().to_string(),
        person,
        role: role.code().to_owned(),
        second_factor_lost,
        note: note.to_owned(),
        made_by,
        made_at: moment::text(now),
        ends_at: moment::text(now + within),
    };
    (token, kept)
}

/// The link by which the first owner comes in, whose is all that the person at this machine has; none where somebody can sign in.
///
/// # Errors
/// When it cannot be kept.
pub fn first_owner(home: &Home) -> Result<Option<String>, AppError> {
    if !home.people.credentials()?.is_empty() {
        return Ok(None);
    }
    let path = at_the_terminal(home, Role::Owner, None, "the first owner")?;
    Ok(Some(home.link(&path)))
}

/// The path of a link that is made at the terminal: for somebody new, or for somebody who is known by name.
///
/// # Errors
/// A name that nobody has; when it cannot be kept.
pub fn at_the_terminal(home: &Home, role: Role, known: Option<(&str, WayBack)>, note: &str) -> Result<String, AppError> {
    let way = known.map(|known| known.1).unwrap_or_default();
    let known = match known {
        Some((name, _)) => {
            let found = home.people.credential_named(&key(name))?;
            Some(found.ok_or_else(|| AppError::Missing { what: format!("A person named \"{name}\"") })?)
        }
        None => None,
    };
    let role = known.as_ref().map_or(role, |k| Role::of(&k.role));
    let what = if known.is_some() { "made a link back in" } else { "invited" };
    let within = if known.is_some() { Duration::hours(HOURS) } else { Duration::days(DAYS) };
    let note = known.as_ref().map_or(note, |k| &k.name);
    let (token, kept) = kept(role, known.as_ref().map(|k| (k.person.clone(), way.second_factor_lost)), note, None, within);
    home.people.add_invitation(&kept, &NewEntry { what, about: note, ..NewEntry::default() })?;
    Ok(path(&token))
}

/// What a link leads to: whether somebody new comes in, and as what.
///
/// # Errors
/// A link that leads nowhere; after too many of them.
pub fn invitation(home: &Arc<Home>, visitor: &Visitor, token: &str) -> Result<InvitationEntry, AppError> {
    home.attempts.come_in(visitor)?;
    Ok(home.people.invitation(&hash(token))?.ok_or_else(ended)?.into())
}

fn ended() -> AppError {
    AppError::Missing { what: "This invitation".to_owned() }
}

/// Takes an invitation up: whoever did can sign in then.
///
/// # Errors
/// A link that leads nowhere; a name or a passphrase that cannot be used. The invitation stays then.
pub fn join(home: &Arc<Home>, visitor: &Visitor, join: &Join) -> Result<PersonId, AppError> {
    home.attempts.come_in(visitor)?;
    let hashed = hash(&join.token);
    let invitation = home.people.invitation(&hashed)?.ok_or_else(ended)?;
    let name = if invitation.person.is_some() { invitation.note.clone() } else { join.name.trim().to_owned() };
    let unusable = |problem| AppError::Unusable { what: "The name".to_owned(), problem };
    check_name(&name, LONGEST_NAME).and_then(|()| check_no_path(&name)).map_err(unusable)?;
    passphrase::check(&join.passphrase, &name)?;
    let kept = passphrase::hash(&join.passphrase)?;
    let joining = Joining { hash: &hashed, name: &name, key: &key(&name), passphrase: &kept, address: &visitor.address };
    match home.people.join(&joining)? {
        Joined::As(person) => Ok(person),
        Joined::NameTaken => Err(unusable("somebody else has it; choose another".to_owned())),
        Joined::Ended => Err(ended()),
    }
}

/// A name as it is compared.
pub(super) fn key(name: &str) -> String {
    name.trim().to_lowercase()
}

/// Withdraws an invitation.
///
/// # Errors
/// When there is none.
pub fn withdraw_invitation(ctx: &Ctx, id: &str) -> Result<(), AppError> {
    let gone = with_entry(ctx, "withdrew an invitation", "", |entry| ctx.home.people.withdraw_invitation(id, entry))?;
    if gone { Ok(()) } else { Err(AppError::Missing { what: "This invitation".to_owned() }) }
}
