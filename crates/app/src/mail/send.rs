//! The border to whatever takes messages: a mail server, or the folder that stands in for one.

use super::settings::{Delivery, MailSettings, Security};
use crate::ports::Mail;
use artemon_sim::outbox;
use lettre::{
    Message, SmtpTransport, Transport,
    message::{Mailbox, MultiPart, header},
    transport::smtp::{
        authentication::Credentials,
        client::{Tls, TlsParameters},
    },
};
use std::{
    path::{Path, PathBuf},
    time::Duration,
};

/// How long a mail server may take to answer.
const PATIENCE: Duration = Duration::from_secs(20);

/// A message with where it goes.
#[derive(Clone, Debug)]
pub struct Envelope {
    /// The same for the same message, however often it is sent.
    pub id: String,
    #[allow(missing_docs)]
    pub from: String,
    #[allow(missing_docs)]
    pub to: String,
    #[allow(missing_docs)]
    pub subject: String,
    #[allow(missing_docs)]
    pub text: String,
    #[allow(missing_docs)]
    pub html: String,
    /// The address by which the person ends such messages.
    pub end: Option<String>,
}

/// What takes the messages of a person.
pub(super) fn port(folder: &Path, settings: &MailSettings) -> Box<dyn Mail> {
    match &settings.delivery {
        Delivery::Outbox => Box::new(OutboxFolder(folder.join("outbox"))),
        smtp @ Delivery::Smtp { .. } => Box::new(MailServer(smtp.clone())),
    }
}

/// The folder that stands in for a mail server.
#[derive(Debug)]
struct OutboxFolder(PathBuf);

impl Mail for OutboxFolder {
    fn send(&self, message: &Envelope) -> Result<(), String> {
        let bytes = formatted(message)?.formatted();
        outbox::deliver(&self.0, &message.id, &bytes).map(drop).map_err(|e| format!("the outbox cannot be written: {e}"))
    }
}

/// A mail server.
#[derive(Debug)]
struct MailServer(Delivery);

impl Mail for MailServer {
    fn send(&self, message: &Envelope) -> Result<(), String> {
        let Delivery::Smtp { host, port, security, user, password } = &self.0 else { return Err("no mail server is set".to_owned()) };
        let broken = |e: &dyn std::fmt::Display| format!("{host}:{port} does not take it: {e}");
        let tls = || TlsParameters::new(host.clone()).map_err(|e| broken(&e));
        let tls = match security {
            Security::Tls => Tls::Wrapper(tls()?),
            Security::Starttls => Tls::Required(tls()?),
            Security::None => Tls::None,
        };
        let mut transport = SmtpTransport::builder_dangerous(host.as_str()).port(*port).tls(tls).timeout(Some(PATIENCE));
        if !user.is_empty() {
            transport = transport.credentials(Credentials::new(user.clone(), password.clone().unwrap_or_default()));
        }
        transport.build().send(&formatted(message)?).map(drop).map_err(|e| broken(&e))
    }
}

/// The message as mail programs read it. Its id follows from what it is, so that one sent twice is seen to be the same.
pub(super) fn formatted(m: &Envelope) -> Result<Message, String> {
    let address = |text: &str| text.parse::<Mailbox>().map_err(|_| format!("\"{text}\" is not an address"));
    let mut builder = Message::builder()
        .from(address(&m.from)?)
        .to(address(&m.to)?)
        .subject(&m.subject)
        .message_id(Some(format!("<{}@artemon.invalid>", m.id.replace(' ', "-"))));
    if let Some(end) = &m.end {
        builder = builder.header(Unsubscribe(format!("<{end}>"))).header(UnsubscribePost);
    }
    let body = MultiPart::alternative_plain_html(m.text.clone(), m.html.clone());
    builder.multipart(body).map_err(|e| format!("the message cannot be written: {e}"))
}

/// List-Unsubscribe, RFC 2369.
#[derive(Clone)]
struct Unsubscribe(String);

impl header::Header for Unsubscribe {
    fn name() -> header::HeaderName {
        header::HeaderName::new_from_ascii_str("List-Unsubscribe")
    }

    fn parse(text: &str) -> Result<Self, Box<dyn std::error::Error + Send + Sync>> {
        Ok(Unsubscribe(text.to_owned()))
    }

    fn display(&self) -> header::HeaderValue {
        header::HeaderValue::new(Self::name(), self.0.clone())
    }
}

/// List-Unsubscribe-Post, RFC 8058: one click ends it.
#[derive(Clone)]
struct UnsubscribePost;

impl header::Header for UnsubscribePost {
    fn name() -> header::HeaderName {
        header::HeaderName::new_from_ascii_str("List-Unsubscribe-Post")
    }

    fn parse(_: &str) -> Result<Self, Box<dyn std::error::Error + Send + Sync>> {
        Ok(UnsubscribePost)
    }

    fn display(&self) -> header::HeaderValue {
        header::HeaderValue::new(Self::name(), "List-Unsubscribe=One-Click".to_owned())
    }
}
