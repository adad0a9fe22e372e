//! A mail server of one's own machine that speaks as much SMTP (RFC 5321) as a message needs, and remembers what it was told.

use std::{
    io::{BufRead, BufReader, Write},
    net::{TcpListener, TcpStream},
    sync::{Arc, Mutex, PoisonError},
};

/// What the server does when it is asked.
#[derive(Clone, Copy, Default)]
pub struct Manners {
    /// Who may send, as `AUTH PLAIN` says it; anybody when empty.
    pub credentials: &'static str,
    /// Refuses every recipient.
    pub refuses: bool,
}

/// It listens until the test ends.
pub struct MailServer {
    pub port: u16,
    heard: Arc<Mutex<Vec<String>>>,
    taken: Arc<Mutex<Vec<String>>>,
}

impl MailServer {
    pub fn start(manners: Manners) -> MailServer {
        let listener = TcpListener::bind("127.0.0.1:0").unwrap();
        let port = listener.local_addr().unwrap().port();
        let (heard, taken) = (Arc::<Mutex<Vec<String>>>::default(), Arc::<Mutex<Vec<String>>>::default());
        let (hears, takes) = (heard.clone(), taken.clone());
        std::thread::spawn(move || {
            for stream in listener.incoming().flatten() {
                // A client that goes away in the middle is none of its business.
                talk(&stream, manners, &hears, &takes).ok();
            }
        });
        MailServer { port, heard, taken }
    }

    /// The commands of all clients, in their order.
    pub fn heard(&self) -> Vec<String> {
        self.heard.lock().unwrap_or_else(PoisonError::into_inner).clone()
    }

    /// The messages taken.
    pub fn taken(&self) -> Vec<String> {
        self.taken.lock().unwrap_or_else(PoisonError::into_inner).clone()
    }
}

fn talk(stream: &TcpStream, manners: Manners, heard: &Mutex<Vec<String>>, taken: &Mutex<Vec<String>>) -> std::io::Result<()> {
    let (mut lines, mut out) = (BufReader::new(stream).lines(), stream);
    let mut say = |answer: &str| write!(out, "{answer}\r\n");
    say("220 stand-in")?;
    while let Some(line) = lines.next().transpose()? {
        heard.lock().unwrap_or_else(PoisonError::into_inner).push(line.clone());
        match line.split([' ', ':']).next().unwrap_or_default().to_uppercase().as_str() {
            "EHLO" if manners.credentials.is_empty() => say("250 stand-in")?,
            "EHLO" => say("250-stand-in\r\n250 AUTH PLAIN")?,
            "AUTH" if line == format!("AUTH PLAIN {}", manners.credentials) => say("235 welcome")?,
            "AUTH" => say("535 5.7.8 credentials are not known")?,
            "RCPT" if manners.refuses => say("550 5.1.1 nobody of this name here")?,
            "DATA" => {
                say("354 go on")?;
                let message: Vec<String> = lines.by_ref().map_while(Result::ok).take_while(|l| l != ".").collect();
                taken.lock().unwrap_or_else(PoisonError::into_inner).push(message.join("\n"));
                say("250 taken")?;
            }
            "QUIT" => return say("221 goodbye"),
            _ => say("250 well")?,
        }
    }
    Ok(())
}
