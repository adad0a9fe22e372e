//! Signing in. Whatever is wrong, the answer is the same and takes as long: nothing tells whether a name exists.

use super::{
    Visitor, audit,
    invitations::key,
    passphrase,
    persons::Role,
    second_factor::{Code, checked},
    secret::{hash, unguessable},
    sessions::Signed,
};
use crate::{AppError, Ctx, Home};
use artemon_store::{KeptCredential, NewEntry, PersonId};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use utoipa::ToSchema;

/// With what somebody signs in.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct SignIn {
    pub name: String,
    pub passphrase: String,
    /// Of the second factor, or one of its recovery codes; asked for where it is needed.
    #[serde(default)]
    pub code: String,
}

/// Somebody who has signed in.
#[derive(Clone, Debug)]
pub struct SignedIn {
    /// The session to be kept.
    pub signed: Signed,
    /// By which the browser is known from now on, where it was not.
    pub device: Option<String>,
    /// Who it is.
    pub who: Who,
}

/// Who has signed in.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Who {
    pub name: String,
    pub role: Role,
    /// Whether a second factor must be turned on before anything else.
    pub second_factor_first: bool,
}

impl Who {
    fn of(home: &Home, known: &KeptCredential) -> Who {
        let second_factor_first = home.asks_second_factors() && known.second_factor.is_empty();
        Who { name: known.name.clone(), role: Role::of(&known.role), second_factor_first }
    }
}

/// Who is there.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Presence {
    /// Nobody who is not signed in.
    pub who: Option<Who>,
}

/// Who is signed in.
///
/// # Errors
/// When it cannot be read.
pub fn presence(home: &Home, signed: &Signed) -> Result<Presence, AppError> {
    let known = home.people.credential(&signed.person())?;
    Ok(Presence { who: known.map(|k| Who::of(home, &k)) })
}

/// Signs somebody in.
///
/// # Errors
/// A name, passphrase or code that is not right; after too many attempts.
pub fn sign_in(home: &Arc<Home>, visitor: &Visitor, request: &SignIn) -> Result<SignedIn, AppError> {
    let name = key(&request.name);
    let found = home.people.credential_named(&name)?;
    let nobody = PersonId::known("");
    let device = visitor.device.as_deref().map(hash).unwrap_or_default();
    let known = home.people.is_device_of(found.as_ref().map_or(&nobody, |k| &k.person), &device)?;
    home.attempts.sign_in(&name, visitor, known)?;
    let fits = request.passphrase.chars().count() <= passphrase::LONGEST;
    let same = passphrase::is(if fits { &request.passphrase } else { "" }, found.as_ref().map(|k| k.passphrase.as_str()));
    let Some(who) = found.as_ref().filter(|_| same && fits) else {
        let what = if found.is_some() { "a sign-in was refused: passphrase" } else { "a sign-in was refused: name" };
        refused(home, visitor, found.as_ref(), what)?;
        return Err(AppError::WrongCredentials);
    };
    if !who.second_factor.is_empty() {
        if request.code.trim().is_empty() {
            return Err(AppError::CodeNeeded);
        }
        home.attempts.code(who.person.as_str(), visitor, known)?;
        match checked(home, who, &request.code)? {
            Code::Right => {}
            Code::Recovery => note(home, visitor, who, "used a recovery code")?,
            Code::Wrong => {
                refused(home, visitor, Some(who), "a sign-in was refused: code")?;
                return Err(AppError::WrongCredentials);
            }
        }
    }
    admitted(home, visitor, who, known)
}

/// Signs somebody in who has just taken an invitation up; nobody who has a second factor, which is asked for when they sign in.
///
/// # Errors
/// When it cannot be kept.
pub fn signed_in_anew(home: &Arc<Home>, visitor: &Visitor, person: &PersonId) -> Result<Option<SignedIn>, AppError> {
    let who = home.people.credential(person)?.ok_or(AppError::WrongCredentials)?;
    if !who.second_factor.is_empty() {
        return Ok(None);
    }
    admitted(home, visitor, &who, false).map(Some)
}

fn admitted(home: &Arc<Home>, visitor: &Visitor, who: &KeptCredential, known: bool) -> Result<SignedIn, AppError> {
    let device = (!known).then(unguessable);
    if let Some(device) = &device {
        home.people.add_device(&who.person, &hash(device))?;
    }
    note(home, visitor, who, "signed in")?;
    let signed = Signed::new(&who.person, visitor);
    Ok(SignedIn { signed, device, who: Who::of(home, who) })
}

fn note(home: &Home, visitor: &Visitor, who: &KeptCredential, what: &str) -> Result<(), AppError> {
    let entry = NewEntry { person: who.person.as_str(), name: &who.name, what, about: "", address: &visitor.address };
    Ok(home.people.add_entry(&entry)?)
}

/// Writes down that somebody was refused, whoever was named: it takes as long, too. What was typed for a name that nobody has is not
/// kept, since it may be a passphrase.
fn refused(home: &Home, visitor: &Visitor, found: Option<&KeptCredential>, what: &str) -> Result<(), AppError> {
    let (person, name) = found.map_or(("", ""), |who| (who.person.as_str(), who.name.as_str()));
    Ok(home.people.add_entry(&NewEntry { person, name, what, about: "", address: &visitor.address })?)
}

/// Notes that the caller has signed out.
///
/// # Errors
/// When it cannot be kept.
pub fn signed_out(ctx: &Ctx) -> Result<(), AppError> {
    audit::noted(ctx, "signed out", "")
}
