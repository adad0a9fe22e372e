//! Messages: the digest and what alerts say, as plain text and simple HTML, sent through a mail server or put into a folder.

mod digest;
mod letter;
mod queue;
mod send;
mod settings;

pub use digest::preview_digest;
pub(crate) use digest::{END, of_session};
pub use letter::Letter;
pub use queue::{MailEntry, Outbox, end_digest, mail_file, outbox, send_due, try_mails_now};
pub use send::Envelope;
pub use settings::{
    Delivery, DigestEvery, DigestSettings, MailSettings, Security, TopOfScreen, mail_settings, save_mail_settings, test_mail,
};
