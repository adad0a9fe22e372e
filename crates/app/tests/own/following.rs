//! What follows a person from day to day: what is new, alerts said once, messages that arrive.

use crate::{
    mail_server::{MailServer, Manners},
    now,
};
use artemon_app::{
    AlertLine, AppError, Delivery, DigestEvery, DigestSettings, DocumentFile, FeedRequest, Home, MailSettings, Options, PutAway, PutLine,
    Security, TodayRequest, TopOfScreen, add_document, addresses, alerts, calendar, delete_document, end_digest, look, make_demo,
    next_sessions, outbox, preview_digest, put_away, read_address, renew_address, save_mail_settings, seen_all, today, try_mails_now,
    unseen_alerts,
};
use serde_json::{Value, json};
use std::{path::Path, sync::Arc};
use tempfile::TempDir;

fn open(folder: &Path) -> Arc<Home> {
    Home::open(Options { folder: folder.to_owned(), ..Options::default() }).unwrap()
}

fn demo() -> (TempDir, Arc<Home>) {
    let folder = tempfile::tempdir().unwrap();
    make_demo(folder.path(), Some(60), false).unwrap();
    let home = open(folder.path());
    // The first look at the data: from now on sessions are worked out.
    artemon_app::warm_up(&home);
    (folder, home)
}

fn keep(home: &Arc<Home>, kind: &str, name: &str, body: &Value) -> Result<String, AppError> {
    let file: DocumentFile = serde_json::from_value(json!({ "kind": kind, "name": name, "body": body })).unwrap();
    add_document(&now(home), file).map(|e| e.id)
}

/// Everybody of the demo world on a list.
fn follow_all(home: &Arc<Home>) -> String {
    let id = keep(home, "list", "All", &json!({})).unwrap();
    let screen = artemon_core::screening::Screen::default();
    let symbols: Vec<String> = artemon_app::whole_screen(&now(home), &screen).unwrap().rows.into_iter().map(|r| r.symbol).collect();
    artemon_app::add_members(&now(home), &id, &artemon_app::AddMembers { symbols, from: String::new(), own: Vec::new() }).unwrap();
    id
}

fn sessions(home: &Arc<Home>, sessions: usize) {
    next_sessions(&now(home), FeedRequest { sessions }).unwrap();
}

fn said(home: &Arc<Home>) -> Vec<(String, String, String)> {
    let request = TodayRequest { since: Some("2026-06-01".parse().unwrap()), ..TodayRequest::default() };
    let line = |a: AlertLine| (a.session.to_string(), a.alert, a.symbol);
    today(&now(home), &request).unwrap().alerts.said.into_iter().map(line).collect()
}

fn often() -> Value {
    json!({ "what": { "kind": "formula", "formula": "change(1d) > 0" } })
}

/// Each session says a thing once, whether it comes alone or with others; what was there before the alert is not said.
#[test]
fn alerts_say_what_became_true_once() {
    let (folder, home) = demo();
    follow_all(&home);
    keep(&home, "alert", "Rises", &often()).unwrap();
    keep(&home, "alert", "One rise", &json!({ "what": often()["what"], "repeat": "once" })).unwrap();
    assert!(said(&home).is_empty());
    sessions(&home, 1);
    let first = said(&home);
    assert!(first.iter().any(|s| s.1 == "Rises") && first.iter().any(|s| s.1 == "One rise"));
    assert_eq!(unseen_alerts(&now(&home)).unwrap(), first.len());
    sessions(&home, 3);
    let all = said(&home);
    let days = |alert: &str| all.iter().filter(|s| s.1 == alert).map(|s| s.0.as_str()).collect::<std::collections::BTreeSet<_>>().len();
    assert_eq!((days("Rises"), days("One rise")), (4, 1), "four sessions, three of which came together");
    // A start works out nothing again.
    drop(home);
    let home = open(folder.path());
    artemon_app::warm_up(&home);
    assert_eq!(said(&home), all);
}

#[test]
fn an_alert_that_cannot_be_meant_is_refused_and_one_that_no_longer_can_is_named() {
    let (_folder, home) = demo();
    let refused = |body: Value| keep(&home, "alert", "A", &body).unwrap_err().to_string();
    assert!(refused(json!({ "what": { "kind": "formula", "formula": "pe" } })).contains("neither true nor false"));
    assert!(refused(json!({ "what": { "kind": "formula", "formula": "nosuch > 1" } })).contains("nosuch"));
    assert!(refused(json!({ "what": { "kind": "dates", "days": 90 } })).contains("14 days"));
    assert!(
        refused(json!({ "what": { "kind": "screen", "screen": "none", "entered": true, "left": false } })).contains("screen of the alert")
    );
    let list = follow_all(&home);
    keep(&home, "alert", "Rises", &json!({ "what": often()["what"], "of": { "kind": "list", "list": list } })).unwrap();
    delete_document(&now(&home), &list).unwrap();
    let listed = alerts(&now(&home)).unwrap();
    assert_eq!(listed[0].problem.as_deref(), Some("This list does not exist."));
    // It says nothing, and hinders no session.
    sessions(&home, 1);
    assert!(said(&home).is_empty());
}

#[test]
fn what_was_put_away_comes_back_when_it_says_something_else() {
    let (_folder, home) = demo();
    follow_all(&home);
    let page = || today(&now(&home), &TodayRequest { since: Some("2026-06-01".parse().unwrap()), ..TodayRequest::default() }).unwrap();
    let line = page().insiders.companies[0].line.clone();
    let put = |state: Option<&str>| PutAway { lines: vec![PutLine { key: line.key.clone(), state: state.map(str::to_owned) }] };
    put_away(&now(&home), put(Some(&line.state))).unwrap();
    assert!(page().insiders.companies[0].line.away);
    put_away(&now(&home), put(Some("another state"))).unwrap();
    assert!(!page().insiders.companies[0].line.away, "it says something else than what was put away");
    put_away(&now(&home), put(Some(&line.state))).unwrap();
    put_away(&now(&home), put(None)).unwrap();
    assert!(!page().insiders.companies[0].line.away, "taken back");
}

#[test]
fn once_all_is_seen_nothing_is_new_until_a_session_comes() {
    let (_folder, home) = demo();
    follow_all(&home);
    let first = look(&now(&home)).unwrap();
    assert!(today(&now(&home), &TodayRequest::default()).unwrap().since == first.since);
    seen_all(&now(&home)).unwrap();
    let quiet = today(&now(&home), &TodayRequest::default()).unwrap();
    assert!(quiet.quiet && quiet.since == quiet.as_of, "{}", quiet.sentence);
    sessions(&home, 1);
    let next = today(&now(&home), &TodayRequest::default()).unwrap();
    assert_eq!(next.since, quiet.as_of);
    let wrong = TodayRequest { since: Some("2027-01-01".parse().unwrap()), ..TodayRequest::default() };
    assert!(today(&now(&home), &wrong).unwrap_err().to_string().contains("choose an earlier day"));
}

fn with_digest(every: DigestEvery) -> MailSettings {
    let mut settings = MailSettings { to: "me@example.org".to_owned(), ..MailSettings::default() };
    settings.digest.every = every;
    settings
}

/// What the subject counts is named below it: a screen that changed with who entered and left it, once.
#[test]
fn the_digest_names_who_entered_and_left_a_screen() {
    let (_folder, home) = demo();
    let id = keep(&home, "screen", "Rose", &json!({ "blocks": [{ "criteria": [{ "formula": "change(1d)", "min": 0 }] }] })).unwrap();
    sessions(&home, 1);
    let mut digest = with_digest(DigestEvery::Session).digest;
    let part = |digest: &DigestSettings, title: &str| {
        preview_digest(&now(&home), digest).unwrap().parts.into_iter().find(|p| p.title == title).map(|p| p.lines).unwrap_or_default()
    };
    let line = &part(&digest, "Your screens")[0];
    assert_eq!(line.head, "Rose");
    assert!(line.text.starts_with("in: ") && line.text.contains("; out: ") && line.text.ends_with(" more"), "{}", line.text);
    assert!(line.link.ends_with(&format!("/screens?doc={id}")));
    digest.screens = vec![TopOfScreen { screen: id, top: 10 }];
    assert!(part(&digest, "Your screens").is_empty());
    assert!(part(&digest, "The first 10 of Rose").len() > 1);
}

/// One message a session, in the outbox as a file with text, HTML and the way to end it; one click ends it.
#[test]
fn the_digest_comes_with_each_session_until_one_click_ends_it() {
    let (folder, home) = demo();
    follow_all(&home);
    keep(&home, "alert", "Rises", &json!({ "what": often()["what"], "mail": true })).unwrap();
    save_mail_settings(&now(&home), with_digest(DigestEvery::Session)).unwrap();
    let shown = preview_digest(&now(&home), &with_digest(DigestEvery::Session).digest).unwrap();
    assert!(outbox(&now(&home)).unwrap().mails.is_empty(), "a preview sends nothing");
    assert!(shown.text().lines().all(|l| l.chars().count() <= 76 || l.contains("http")));
    sessions(&home, 2);
    let sent = outbox(&now(&home)).unwrap();
    assert_eq!(sent.mails.len(), 4, "an alert and a digest for each session");
    let digests: Vec<&str> = sent.mails.iter().map(|m| m.subject.as_str()).filter(|s| s.contains('\u{2013}')).collect();
    assert!(digests[0].starts_with("2 Jul 2026") && digests[1].starts_with("1 Jul 2026"), "the newest session first: {digests:?}");
    assert!(sent.mails.iter().all(|m| m.sent_at.is_some() && m.recipient == "me@example.org"));
    let files: Vec<String> =
        std::fs::read_dir(folder.path().join("outbox")).unwrap().map(|f| f.unwrap().file_name().into_string().unwrap()).collect();
    assert_eq!(files.len(), 4);
    let digest = files.iter().find(|f| f.starts_with("digest")).unwrap();
    let eml = std::fs::read_to_string(folder.path().join("outbox").join(digest)).unwrap();
    let has = |line: &str| assert!(eml.contains(line), "{line} is missing in\n{eml}");
    ["Message-ID: <digest-2026-07-", "To: me@example.org", "multipart/alternative", "text/plain", "text/html", "List-Unsubscribe-Post"]
        .into_iter()
        .for_each(has);
    let end = eml.lines().find_map(|l| l.strip_prefix("List-Unsubscribe: <")).unwrap().trim_end_matches('>');
    let token = end.rsplit('/').next().unwrap().to_owned();
    assert!(end_digest(&home, &token).unwrap() && !end_digest(&home, &token).unwrap());
    sessions(&home, 1);
    assert_eq!(outbox(&now(&home)).unwrap().mails.len(), 5, "the alert alone");
    assert!(end_digest(&home, "guessed").is_err());
}

/// A server that cannot be reached keeps nobody waiting and loses nothing: what waits is told, and goes out once there is a way.
#[test]
fn what_cannot_be_sent_waits_and_is_told() {
    let (_folder, home) = demo();
    follow_all(&home);
    let nobody_listens = std::net::TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap().port();
    let smtp = Delivery::Smtp {
        host: "127.0.0.1".to_owned(),
        port: nobody_listens,
        security: Security::None,
        user: String::new(),
        password: None,
    };
    let settings = MailSettings { from: "artemon@example.org".to_owned(), delivery: smtp, ..with_digest(DigestEvery::Session) };
    save_mail_settings(&now(&home), settings).unwrap();
    sessions(&home, 1);
    let waiting = outbox(&now(&home)).unwrap();
    assert_eq!((waiting.failing, waiting.mails[0].attempts), (1, 1));
    assert!(waiting.problem.contains(&format!("127.0.0.1:{nobody_listens} does not take it")), "{}", waiting.problem);
    let pause = |at: &str, made: &str| {
        let time = |t: &str| chrono::DateTime::parse_from_rfc3339(t).unwrap();
        (time(at) - time(made)).num_seconds()
    };
    let first = &waiting.mails[0];
    assert!((55..=75).contains(&pause(first.next_at.as_ref().unwrap(), &first.made_at)), "a minute later");
    try_mails_now(&now(&home)).unwrap();
    let second = outbox(&now(&home)).unwrap().mails.remove(0);
    assert_eq!(second.attempts, 2);
    assert!(pause(second.next_at.as_ref().unwrap(), &second.made_at) >= 295, "then five");
    save_mail_settings(&now(&home), with_digest(DigestEvery::Session)).unwrap();
    try_mails_now(&now(&home)).unwrap();
    let sent = outbox(&now(&home)).unwrap();
    assert_eq!((sent.failing, sent.mails.len()), (0, 1));
}

fn through(port: u16, security: Security, password: Option<&str>) -> MailSettings {
    let (host, user) = ("127.0.0.1".to_owned(), password.map_or_else(String::new, |_| "me".to_owned()));
    let delivery = Delivery::Smtp { host, port, security, user, password: password.map(str::to_owned) };
    MailSettings { from: "artemon@example.org".to_owned(), delivery, ..with_digest(DigestEvery::Session) }
}

/// What the mail server hears of a message, and that it takes it once.
#[test]
fn a_mail_server_takes_each_message_once() {
    let (_folder, home) = demo();
    follow_all(&home);
    let server = MailServer::start(Manners::default());
    save_mail_settings(&now(&home), through(server.port, Security::None, None)).unwrap();
    sessions(&home, 2);
    try_mails_now(&now(&home)).unwrap();
    let sent = outbox(&now(&home)).unwrap();
    assert_eq!((sent.failing, sent.mails.len()), (0, 2));
    assert!(sent.mails.iter().all(|m| m.sent_at.is_some() && m.attempts == 1));
    let heard = server.heard();
    let times = |command: &str| heard.iter().filter(|l| l.starts_with(command)).count();
    assert_eq!(["MAIL FROM:<artemon@example.org>", "RCPT TO:<me@example.org>", "DATA"].map(times), [2; 3], "{heard:?}");
    let [first, second] = &server.taken()[..] else { panic!("{:?}", server.taken()) };
    assert!(first.contains("Message-ID: <digest-2026-07-01@artemon.invalid>"), "{first}");
    assert!(second.contains("Message-ID: <digest-2026-07-02@artemon.invalid>"), "{second}");
    assert!(first.contains("multipart/alternative") && first.contains("List-Unsubscribe: <http"));
}

/// A wrong password, a server without encryption where it is asked for, and one that knows no such recipient: the message waits, the
/// reason is told without the password, nothing goes out in the clear; put right, it is sent.
#[test]
fn a_refusal_of_the_mail_server_is_told_and_the_message_waits() {
    let (_folder, home) = demo();
    follow_all(&home);
    // What RFC 4616 makes of the user "me" with the password "right".
    let server = MailServer::start(Manners { credentials: "AG1lAHJpZ2h0", ..Manners::default() });
    save_mail_settings(&now(&home), through(server.port, Security::None, Some("wrong"))).unwrap();
    sessions(&home, 1);
    let refused = || {
        let waiting = outbox(&now(&home)).unwrap();
        assert_eq!((waiting.failing, waiting.mails.len()), (1, 1));
        waiting.problem
    };
    let problem = refused();
    assert!(problem.contains("535") && problem.contains("credentials are not known") && !problem.contains("wrong"), "{problem}");

    let again = |settings: MailSettings| {
        save_mail_settings(&now(&home), settings).unwrap();
        try_mails_now(&now(&home)).unwrap();
    };
    let heard = server.heard().len();
    again(through(server.port, Security::Starttls, Some("right")));
    assert!(refused().contains(&format!("127.0.0.1:{} does not take it", server.port)));
    let clear: Vec<String> = server.heard().split_off(heard);
    assert!(clear.iter().all(|l| l.starts_with("EHLO") || l.starts_with("QUIT")), "nothing is said without encryption: {clear:?}");

    let nobody = MailServer::start(Manners { refuses: true, ..Manners::default() });
    again(through(nobody.port, Security::None, None));
    assert!(refused().contains("nobody of this name here"));
    assert!(server.taken().is_empty() && nobody.taken().is_empty());

    again(through(server.port, Security::None, Some("right")));
    let sent = outbox(&now(&home)).unwrap();
    assert_eq!((sent.failing, server.taken().len()), (0, 1));
}

/// RFC 5545: lines of at most 75 octets that end with CRLF, folded with a blank; the parts in order; every event with its id, stamp and
/// day, each id once.
#[test]
fn the_calendar_is_one() {
    let (_folder, home) = demo();
    follow_all(&home);
    let text = calendar(&now(&home)).unwrap();
    assert!(text.ends_with("END:VCALENDAR\r\n") && text.starts_with("BEGIN:VCALENDAR\r\n"));
    assert!(text.split("\r\n").all(|l| l.len() <= 75 && !l.contains(['\n', '\r'])));
    let unfolded = text.replace("\r\n ", "");
    let events: Vec<&str> = unfolded.split("BEGIN:VEVENT\r\n").skip(1).filter_map(|e| e.split_once("END:VEVENT")).map(|e| e.0).collect();
    assert!(!events.is_empty());
    let of = |event: &str, name: &str| event.lines().filter(|l| l.split([':', ';']).next() == Some(name)).count();
    for event in &events {
        assert_eq!(["UID", "DTSTAMP", "DTSTART", "SUMMARY"].map(|n| of(event, n)), [1; 4], "{event}");
        assert_eq!(of(event, "DTEND"), 0, "a day ends with itself: {event}");
        assert!(event.contains("DTSTART;VALUE=DATE:2026"), "{event}");
    }
    let ids: std::collections::BTreeSet<&str> = events.iter().filter_map(|e| e.lines().find(|l| l.starts_with("UID:"))).collect();
    assert_eq!(ids.len(), events.len());
    let read = icalendar::parser::read_calendar(&unfolded).unwrap();
    assert_eq!(read.components.len(), events.len(), "another reader finds as many");
}

/// RFC 4287: a feed with id, title, author and date, entries with theirs; under an address that nobody can guess, until it is renewed.
#[test]
fn a_screen_is_a_feed_under_an_address_of_its_own() {
    let (_folder, home) = demo();
    let body = json!({ "blocks": [{ "criteria": [{ "formula": "change(1d)", "min": 0 }] }] });
    let id = keep(&home, "screen", "Rose", &body).unwrap();
    let purpose = format!("screen {id}");
    assert!(addresses(&now(&home)).unwrap().iter().all(|a| a.address.is_none() && a.made_at.is_none()));
    let made = renew_address(&now(&home), &purpose).unwrap().address.unwrap();
    let token = |address: &str| address.rsplit('/').next().unwrap().trim_end_matches(".atom").to_owned();
    sessions(&home, 2);
    let listed = addresses(&now(&home)).unwrap().into_iter().find(|a| a.purpose == purpose).unwrap();
    assert!(listed.address.is_none() && listed.made_at < listed.ends_at, "it is told once: {listed:?}");
    let kept = std::fs::read(home.folder().join("people.sqlite-wal")).unwrap();
    assert!(!kept.windows(64).any(|bytes| bytes == token(&made).as_bytes()), "and kept as a hash");
    let (kind, text) = read_address(&home, &token(&made)).unwrap();
    assert!(kind.starts_with("application/atom+xml"));
    let feed = text.parse::<atom_syndication::Feed>().unwrap();
    assert_eq!((feed.title.as_str(), feed.authors.len()), ("Rose", 1));
    assert!(feed.entries.len() > 5 && feed.entries.iter().all(|e| e.summary.is_some() && e.updated <= feed.updated));
    let ids: std::collections::BTreeSet<&str> = feed.entries.iter().map(|e| e.id.as_str()).collect();
    assert_eq!(ids.len(), feed.entries.len());
    assert!(said(&home).is_empty(), "a feed is no alert");
    let renewed = renew_address(&now(&home), &purpose).unwrap().address.unwrap();
    assert!(read_address(&home, &token(&made)).is_err(), "the address before leads nowhere");
    assert!(read_address(&home, &token(&renewed)).is_ok());
    assert!(renew_address(&now(&home), "anything").is_err());
}
