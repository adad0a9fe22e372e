//! Where messages go, how they get there, and when the digest is made.

use super::{
    letter::Letter,
    send::{self, Envelope},
};
use crate::{AppError, Ctx, people::is_owner};
use artemon_core::domain::Day;
use artemon_store::{PersonId, moment};
use chrono::{DateTime, Local, NaiveTime, TimeZone, Utc};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The preference that holds it.
const KEY: &str = "mail";
/// Companies of a screen's top at most, and screens of a digest.
const MOST_TOP: usize = 100;
const MOST_SCREENS: usize = 20;

/// How messages reach the person.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct MailSettings {
    /// The address of the person; none is needed for the outbox.
    pub to: String,
    /// The address that messages come from.
    pub from: String,
    /// How they get there.
    pub delivery: Delivery,
    /// When the digest is made.
    pub digest: DigestSettings,
}

/// How messages get there.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, tag = "kind", rename_all = "snake_case")]
pub enum Delivery {
    /// Into the folder `outbox` of the data folder, as files.
    #[default]
    Outbox,
    /// Through a mail server.
    Smtp {
        #[allow(missing_docs)]
        host: String,
        #[allow(missing_docs)]
        port: u16,
        /// How the connection is kept private.
        security: Security,
        /// None where the server asks for none.
        #[serde(default)]
        user: String,
        /// It is taken, never told: one that is absent stays as it was.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        password: Option<String>,
    },
}

/// How a connection is kept private.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Security {
    /// Encrypted from the start.
    #[default]
    Tls,
    /// Encrypted after the greeting.
    Starttls,
    /// Not at all: for a server on this machine.
    None,
}

/// When the digest is made, and of what.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct DigestSettings {
    /// How often.
    pub every: DigestEvery,
    /// At which time of day it is sent, like 07:00.
    pub at: String,
    /// The screens of which the top is told.
    pub screens: Vec<TopOfScreen>,
}

/// How often a digest is made.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DigestEvery {
    /// Never.
    #[default]
    Never,
    /// With each session.
    Session,
    /// With the last session of a week: that of Friday, or the first after it.
    Week,
}

/// The top of a screen.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct TopOfScreen {
    /// The id of its document.
    pub screen: String,
    /// How many of its first companies.
    pub top: usize,
}

impl Default for DigestSettings {
    fn default() -> DigestSettings {
        DigestSettings { every: DigestEvery::Never, at: "07:00".to_owned(), screens: Vec::new() }
    }
}

impl DigestSettings {
    fn time(&self) -> Option<NaiveTime> {
        NaiveTime::parse_from_str(&self.at, "%H:%M").ok()
    }

    /// When a message made now is sent: at the next time of day. A simulated session is no evening: its digest is sent at once.
    pub(super) fn due(&self, ctx: &Ctx) -> String {
        let now = ctx.home.clock.now();
        let due = if ctx.is_simulated() { now } else { self.time().map_or(now, |time| next(time, now)) };
        moment::text(due)
    }

    /// Whether a digest is made with a session, after one that told up to another.
    pub(super) fn is_due(&self, session: Day, last: Option<Day>) -> bool {
        match self.every {
            DigestEvery::Never => false,
            DigestEvery::Session => last.is_none_or(|last| session > last),
            // Some Friday lies after the last digest and not after the session.
            DigestEvery::Week => {
                let from = last.unwrap_or_else(|| session.plus_days(-1));
                (from.epoch_days() + 1..=session.epoch_days()).any(|d| Day::from_epoch_days(d).is_friday())
            }
        }
    }
}

/// The first moment after now at which it is such a time here.
fn next(time: NaiveTime, now: DateTime<Utc>) -> DateTime<Utc> {
    let here = now.with_timezone(&Local).date_naive();
    let at = |days: u64| Local.from_local_datetime(&(here + chrono::Days::new(days)).and_time(time)).earliest();
    [0, 1, 2].into_iter().filter_map(at).map(|t| t.to_utc()).find(|t| *t > now).unwrap_or(now)
}

impl MailSettings {
    fn check(&self) -> Result<(), AppError> {
        let refused = |what: &str, problem: &str| Err(AppError::Unusable { what: what.to_owned(), problem: problem.to_owned() });
        for (what, address) in [("Your address", &self.to), ("The sender's address", &self.from)] {
            if !address.is_empty() && address.parse::<lettre::message::Mailbox>().is_err() {
                return refused(what, &format!("\"{address}\" is not an address; write it like you@example.org"));
            }
        }
        if let Delivery::Smtp { host, port, .. } = &self.delivery {
            if host.trim().is_empty() || host.contains(char::is_whitespace) || *port == 0 {
                return refused("The mail server", "it needs a name and a port, like mail.example.org and 465");
            }
            if self.to.is_empty() || self.from.is_empty() {
                return refused("The mail server", "give the address that messages go to and the one that they come from");
            }
        }
        if self.digest.time().is_none() {
            return refused("The time of the digest", "write it like 07:00");
        }
        if self.digest.screens.len() > MOST_SCREENS || self.digest.screens.iter().any(|s| s.top == 0 || s.top > MOST_TOP) {
            return refused("The digest", "it tells the first 1 to 100 companies of up to 20 screens");
        }
        Ok(())
    }

    /// Where messages go: the outbox needs no address.
    pub(super) fn recipient(&self) -> String {
        if self.to.is_empty() { "you@localhost".to_owned() } else { self.to.clone() }
    }

    pub(super) fn sender(&self) -> String {
        if self.from.is_empty() { "artemon@localhost".to_owned() } else { self.from.clone() }
    }
}

/// How messages reach a person, without the password; of members without what owners have set up.
///
/// # Errors
/// When it cannot be read.
pub fn mail_settings(ctx: &Ctx) -> Result<MailSettings, AppError> {
    let mut settings = kept(ctx)?;
    if !is_owner(ctx)? {
        // How the owner's mail is sent is told to nobody else.
        (settings.delivery, settings.from) = (Delivery::Outbox, String::new());
    }
    if let Delivery::Smtp { password, .. } = &mut settings.delivery {
        *password = None;
    }
    Ok(settings)
}

/// The same with the password. Members of a shared server are reached as the first owner has set it up: nobody else says which
/// machines the server speaks to.
pub(super) fn kept(ctx: &Ctx) -> Result<MailSettings, AppError> {
    let read = |person: &PersonId| {
        let kept = ctx.home.people.preference(person, KEY)?;
        Ok::<MailSettings, AppError>(kept.and_then(|text| serde_json::from_str(&text).ok()).unwrap_or_default())
    };
    let own = read(&ctx.person)?;
    if is_owner(ctx)? {
        return Ok(own);
    }
    let MailSettings { from, delivery, .. } = read(&ctx.home.local())?;
    Ok(MailSettings { from, delivery, ..own })
}

/// The same as somebody may set it: members say nothing of servers and senders.
fn as_allowed(ctx: &Ctx, settings: MailSettings, now: &MailSettings) -> Result<MailSettings, AppError> {
    if is_owner(ctx)? {
        return Ok(with_password(settings, now));
    }
    Ok(MailSettings { from: now.from.clone(), delivery: now.delivery.clone(), ..settings })
}

/// Keeps how messages reach the person. A password that is absent stays as it was.
///
/// # Errors
/// Addresses, servers and times that cannot be meant; when it cannot be kept.
pub fn save_mail_settings(ctx: &Ctx, settings: MailSettings) -> Result<(), AppError> {
    settings.check()?;
    let settings = as_allowed(ctx, settings, &kept(ctx)?)?;
    Ok(ctx.home.people.prefer(&ctx.person, KEY, &serde_json::to_string(&settings).unwrap_or_default())?)
}

fn with_password(mut settings: MailSettings, before: &MailSettings) -> MailSettings {
    if let (Delivery::Smtp { password, host, .. }, Delivery::Smtp { password: known, host: told, .. }) =
        (&mut settings.delivery, &before.delivery)
        && password.is_none()
        // No other machine is told it.
        && host == told
    {
        password.clone_from(known);
    }
    settings
}

/// Sends a short message now, to try the settings; nothing is kept.
///
/// # Errors
/// What the mail server said, as a sentence.
pub fn test_mail(ctx: &Ctx, settings: MailSettings) -> Result<(), AppError> {
    settings.check()?;
    let settings = as_allowed(ctx, settings, &kept(ctx)?)?;
    let letter = Letter {
        subject: "Artemon can reach you".to_owned(),
        intro: "This message was sent to try your settings.".to_owned(),
        parts: Vec::new(),
        footer: Vec::new(),
    };
    let envelope = Envelope {
        id: "test".to_owned(),
        from: settings.sender(),
        to: settings.recipient(),
        subject: letter.subject.clone(),
        text: letter.text(),
        html: letter.html(),
        end: None,
    };
    send::port(ctx.home.folder(), &settings)
        .send(&envelope)
        .map_err(|problem| AppError::Unusable { what: "The mail server".to_owned(), problem })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day(text: &str) -> Day {
        text.parse().unwrap()
    }

    /// 26 June 2026 is a Friday.
    #[test]
    fn a_weekly_digest_comes_with_friday_or_the_first_session_after_it() {
        let weekly = DigestSettings { every: DigestEvery::Week, ..DigestSettings::default() };
        let last = Some(day("2026-06-19"));
        assert!(!weekly.is_due(day("2026-06-25"), last) && weekly.is_due(day("2026-06-26"), last));
        assert!(weekly.is_due(day("2026-06-29"), last), "Friday was a holiday");
        assert!(!weekly.is_due(day("2026-06-29"), Some(day("2026-06-26"))));
        let each = DigestSettings { every: DigestEvery::Session, ..DigestSettings::default() };
        assert!(each.is_due(day("2026-06-26"), Some(day("2026-06-25"))) && !each.is_due(day("2026-06-26"), Some(day("2026-06-26"))));
    }

    #[test]
    fn what_cannot_be_meant_is_refused_with_what_to_do() {
        let smtp =
            |host: &str| Delivery::Smtp { host: host.to_owned(), port: 465, security: Security::Tls, user: String::new(), password: None };
        let of = |to: &str, delivery, at: &str| MailSettings {
            to: to.to_owned(),
            from: "artemon@example.org".to_owned(),
            delivery,
            digest: DigestSettings { at: at.to_owned(), ..DigestSettings::default() },
        };
        let said = |s: MailSettings| s.check().unwrap_err().to_string();
        assert!(said(of("nobody", Delivery::Outbox, "07:00")).contains("is not an address"));
        assert!(said(of("me@example.org", smtp(""), "07:00")).contains("needs a name and a port"));
        assert!(said(of("", smtp("mail.example.org"), "07:00")).contains("the address that messages go to"));
        assert!(said(of("me@example.org", Delivery::Outbox, "7 o'clock")).contains("07:00"));
        assert!(of("me@example.org", smtp("mail.example.org"), "18:30").check().is_ok());
    }

    #[test]
    fn a_password_stays_until_another_is_given() {
        let smtp = |password: Option<&str>| MailSettings {
            delivery: Delivery::Smtp {
                host: "mail.example.org".to_owned(),
                port: 465,
                security: Security::Tls,
                user: "me".to_owned(),
                password: password.map(str::to_owned),
            },
            ..MailSettings::default()
        };
        assert_eq!(with_password(smtp(None), &smtp(Some("old"))), smtp(Some("old")));
        assert_eq!(with_password(smtp(Some("new")), &smtp(Some("old"))), smtp(Some("new")));
    }
}
