//! Messages that wait and those that were sent.

use super::{
    digest::{END, end_link},
    send::{self, Envelope, formatted},
    settings::{DigestEvery, kept, save_mail_settings},
};
use crate::{AppError, Ctx, Home};
use artemon_core::engine::Cancel;
use artemon_store::{KeptMail, moment};
use chrono::Duration;
use serde::Serialize;
use std::sync::Arc;
use utoipa::ToSchema;

/// Pauses after failures, in minutes; the last one for all further ones.
const PAUSES: [i64; 6] = [1, 5, 15, 60, 240, 720];
/// Messages that are listed.
const LISTED: i64 = 200;

/// A message with what became of it.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MailEntry {
    pub id: String,
    pub subject: String,
    pub recipient: String,
    pub made_at: String,
    pub sent_at: Option<String>,
    pub attempts: i32,
    /// When it is tried next.
    pub next_at: Option<String>,
    /// Why the last attempt failed.
    pub problem: String,
    pub text: String,
    pub html: String,
}

/// The messages of a person.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Outbox {
    /// The newest first.
    pub mails: Vec<MailEntry>,
    /// How many wait because they could not be sent, and why the last could not.
    pub failing: usize,
    #[allow(missing_docs)]
    pub problem: String,
    /// The folder into which they are put, where that is how they are delivered.
    pub folder: Option<String>,
}

/// The messages of the person, the newest first.
///
/// # Errors
/// When they cannot be read.
pub fn outbox(ctx: &Ctx) -> Result<Outbox, AppError> {
    let mails: Vec<MailEntry> = ctx.home.people.mails(&ctx.person, LISTED)?.into_iter().map(entry).collect();
    let failing: Vec<&MailEntry> = mails.iter().filter(|m| m.sent_at.is_none() && !m.problem.is_empty()).collect();
    let in_folder = kept(ctx)?.delivery == super::Delivery::Outbox;
    Ok(Outbox {
        failing: failing.len(),
        problem: failing.first().map(|m| m.problem.clone()).unwrap_or_default(),
        folder: in_folder.then(|| "outbox".to_owned()),
        mails,
    })
}

fn entry(m: KeptMail) -> MailEntry {
    MailEntry {
        id: m.id,
        subject: m.subject,
        recipient: m.recipient,
        made_at: m.made_at,
        sent_at: m.sent_at,
        attempts: m.attempts,
        next_at: m.next_at,
        problem: m.problem,
        text: m.text,
        html: m.html,
    }
}

/// A message as a file that mail programs open.
///
/// # Errors
/// When there is none.
pub fn mail_file(ctx: &Ctx, id: &str) -> Result<Vec<u8>, AppError> {
    let found = ctx.home.people.mail(&ctx.person, id)?.ok_or_else(|| AppError::Missing { what: "This message".to_owned() })?;
    let message = formatted(&envelope(ctx, found)?);
    message.map(|m| m.formatted()).map_err(|problem| AppError::Unusable { what: "The message".to_owned(), problem })
}

fn envelope(ctx: &Ctx, m: KeptMail) -> Result<Envelope, AppError> {
    let end = if m.key.starts_with("digest") { Some(end_link(ctx)?) } else { None };
    Ok(Envelope { id: m.key, from: kept(ctx)?.sender(), to: m.recipient, subject: m.subject, text: m.text, html: m.html, end })
}

/// All messages that wait are tried again now.
///
/// # Errors
/// When it cannot be kept.
pub fn try_mails_now(ctx: &Ctx) -> Result<(), AppError> {
    ctx.home.people.try_mails_now(&ctx.person)?;
    send_due(&ctx.home)
}

/// Sends the messages that are due. One that is not taken waits, longer each time. What is delivered twice, because the machine stopped
/// in between, has the same id.
///
/// # Errors
/// When what waits cannot be read or what became of it cannot be kept.
pub fn send_due(home: &Arc<Home>) -> Result<(), AppError> {
    // One at a time: what is being sent is not due for another.
    let _one = home.sending();
    let now = home.clock.now();
    for mail in home.people.due_mails(&moment::text(now))? {
        let Some(person) = home.people.persons()?.into_iter().find(|p| p.as_str() == mail.person) else { continue };
        let ctx = home.ctx(&person, Cancel::default())?;
        let (id, attempts) = (mail.id.clone(), mail.attempts);
        let settings = kept(&ctx)?;
        match send::port(home.folder(), &settings).send(&envelope(&ctx, mail)?) {
            Ok(()) => home.people.mail_sent(&id)?,
            Err(problem) => {
                let pause = PAUSES[usize::try_from(attempts).unwrap_or(0).min(PAUSES.len() - 1)];
                let next = moment::text(now + Duration::minutes(pause));
                home.people.mail_failed(&id, &problem, &next)?;
            }
        }
    }
    Ok(())
}

/// Ends the digest of whoever's address it is, by one click; says whether there was anything to end.
///
/// # Errors
/// When it cannot be kept; an address that leads nowhere.
pub fn end_digest(home: &Arc<Home>, token: &str) -> Result<bool, AppError> {
    let missing = || AppError::Missing { what: "This address".to_owned() };
    let (person, purpose) = home.people.addressed(token)?.ok_or_else(missing)?;
    if purpose != END {
        return Err(missing());
    }
    let ctx = home.ctx(&person, Cancel::default())?;
    let mut settings = kept(&ctx)?;
    let ended = settings.digest.every != DigestEvery::Never;
    settings.digest.every = DigestEvery::Never;
    save_mail_settings(&ctx, settings)?;
    Ok(ended)
}
