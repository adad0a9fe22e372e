//! Who can sign in, and as what.

use super::{
    audit::{noted, with_entry},
    invitations::InvitationEntry,
};
use crate::{AppError, Ctx, Home};
use artemon_store::PersonId;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// As what somebody is here.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Role {
    /// Brings data, keeps copies, and says who may sign in.
    Owner,
    /// Works with what is there.
    Member,
}

impl Role {
    /// As it is kept.
    #[must_use]
    pub const fn code(self) -> &'static str {
        match self {
            Role::Owner => "owner",
            Role::Member => "member",
        }
    }

    pub(super) fn of(code: &str) -> Role {
        if code == Role::Owner.code() { Role::Owner } else { Role::Member }
    }
}

/// Everybody who can sign in, and who is invited.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Persons {
    /// By name.
    pub persons: Vec<PersonEntry>,
    /// The newest first.
    pub invitations: Vec<InvitationEntry>,
}

/// Somebody who can sign in.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PersonEntry {
    pub id: String,
    pub name: String,
    pub role: Role,
    /// Since when, as RFC 3339.
    pub joined_at: String,
    /// When they were seen last; none who is not signed in.
    pub seen_at: Option<String>,
    /// Whether a code is asked for beside the passphrase.
    pub second_factor: bool,
    /// Whether it is the caller.
    pub me: bool,
}

/// What somebody is to be.
#[derive(Clone, Copy, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct RoleChange {
    pub role: Role,
}

/// Everybody who can sign in, by name, and the invitations.
///
/// # Errors
/// When they cannot be read.
pub fn persons(ctx: &Ctx) -> Result<Persons, AppError> {
    let people = &ctx.home.people;
    let mut persons = Vec::new();
    for k in people.credentials()? {
        persons.push(PersonEntry {
            seen_at: people.sessions(&k.person)?.into_iter().next().map(|s| s.seen_at),
            id: k.person.as_str().to_owned(),
            name: k.name,
            role: Role::of(&k.role),
            joined_at: k.joined_at,
            second_factor: !k.second_factor.is_empty(),
            me: k.person == ctx.person,
        });
    }
    Ok(Persons { persons, invitations: people.invitations()?.into_iter().map(InvitationEntry::from).collect() })
}

/// As what a person is here; none who cannot sign in.
fn role_of(home: &Home, person: &PersonId) -> Result<Option<Role>, AppError> {
    Ok(home.people.credential(person)?.map(|k| Role::of(&k.role)))
}

/// Refuses a person who must be an `owner` and is not, or who must have a `second_factor` and has none.
///
/// # Errors
/// When it is so; when it cannot be read.
pub fn admit(home: &Home, person: &PersonId, owner: bool, second_factor: bool) -> Result<(), AppError> {
    let known = home.people.credential(person)?.ok_or(AppError::NotSignedIn)?;
    if second_factor && home.asks_second_factors() && known.second_factor.is_empty() {
        return Err(AppError::SecondFactorFirst);
    }
    if owner && Role::of(&known.role) != Role::Owner {
        return Err(AppError::NotAllowed { what: "This is for owners of the server; ask one".to_owned() });
    }
    Ok(())
}

/// Whether the caller looks after what is everybody's. A person alone on their machine does.
pub(crate) fn is_owner(ctx: &Ctx) -> Result<bool, AppError> {
    Ok(!ctx.home.is_shared() || role_of(&ctx.home, &ctx.person)? == Some(Role::Owner))
}

/// Somebody who can sign in, by id: with role and name.
pub(super) fn person(ctx: &Ctx, id: &str) -> Result<(PersonId, Role, String), AppError> {
    let found = ctx.home.people.credentials()?.into_iter().find(|k| k.person.as_str() == id);
    let found = found.ok_or_else(|| AppError::Missing { what: "This person".to_owned() })?;
    Ok((found.person, Role::of(&found.role), found.name))
}

/// Signs somebody out everywhere.
///
/// # Errors
/// When there is no such person.
pub fn sign_person_out(ctx: &Ctx, id: &str) -> Result<(), AppError> {
    let (person, _, name) = person(ctx, id)?;
    ctx.home.people.end_sessions(&person, "")?;
    noted(ctx, "signed out everywhere", &name)
}

/// Makes somebody an owner or a member.
///
/// # Errors
/// When there is no such person, or would be no owner.
pub fn change_role(ctx: &Ctx, id: &str, change: RoleChange) -> Result<(), AppError> {
    let (person, _, name) = person(ctx, id)?;
    let what = match change.role {
        Role::Owner => "made an owner of",
        Role::Member => "made a member of",
    };
    let done = with_entry(ctx, what, &name, |entry| ctx.home.people.change_role(&person, change.role.code(), entry))?;
    let sentence = "Somebody must look after the server. Make another person an owner first.";
    if done { Ok(()) } else { Err(AppError::Refused(sentence.to_owned())) }
}
