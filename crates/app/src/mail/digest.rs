//! What messages say: the digest since the last one, and what alerts said on a session.

use super::{
    letter::{Letter, LetterLine, LetterPart},
    settings::{DigestSettings, MailSettings, TopOfScreen, kept},
};
use crate::{
    AppError, Ctx,
    alerts::Said,
    documents::{self, kind::DocumentKind},
    today::{Named, ScreenLine, TodayAnswer, TodayRequest, today},
};
use artemon_core::{
    domain::Day,
    screening::{self, Screen},
    wording::figures::{amount, count, date, percent},
};
use artemon_store::{NewMail, moment, unguessable};

/// The purpose of the address by which the digest is ended.
pub(crate) const END: &str = "end-digest";

/// It counts as long as there are digests with it; all that it opens is the end of them.
const NEVER: &str = "9999-12-31T00:00:00Z";

/// The messages of a session: what alerts said that are sent by mail, and the digest where it is due.
pub(crate) fn of_session(ctx: &Ctx, session: Day, said: &[Said]) -> Result<Vec<NewMail>, AppError> {
    let settings = kept(ctx)?;
    let mut mails: Vec<NewMail> = alerts(ctx, &settings, session, said).into_iter().collect();
    let last = ctx.home.people.told_upto(&ctx.person, "digest")?.and_then(|d| d.parse().ok());
    if settings.digest.is_due(session, last) {
        let letter = digest(ctx, &settings.digest, since(ctx, &settings.digest, session, last), session)?;
        mails.push(mail(format!("digest {session}"), session, &settings, &letter, settings.digest.due(ctx)));
    }
    Ok(mails)
}

fn mail(key: String, session: Day, settings: &MailSettings, letter: &Letter, due_at: String) -> NewMail {
    NewMail {
        key,
        session: session.to_string(),
        recipient: settings.recipient(),
        subject: letter.subject.clone(),
        text: letter.text(),
        html: letter.html(),
        due_at,
    }
}

/// What alerts said that are sent by mail, in one message.
fn alerts(ctx: &Ctx, settings: &MailSettings, session: Day, said: &[Said]) -> Option<NewMail> {
    let sent: Vec<&Said> = said.iter().filter(|s| s.mail).collect();
    let line =
        |s: &&Said| LetterLine::new(&s.firing.name, format!("{} ({})", s.firing.sentence, s.firing.alert), company(ctx, &s.firing.symbol));
    let letter = Letter {
        subject: match &sent[..] {
            [] => return None,
            [one] => format!("{}: {}", one.firing.name, one.firing.alert),
            all => format!("{} on {}", count(all.len(), "alert"), date(session)),
        },
        intro: format!("With the session of {}:", date(session)),
        parts: vec![LetterPart { title: "Alerts".to_owned(), lines: sent.iter().map(line).collect() }],
        footer: vec![LetterLine::new("Your alerts", "", ctx.home.link("/today/alerts"))],
    };
    let now = moment::text(ctx.home.clock.now());
    Some(mail(format!("alerts {session}"), session, settings, &letter, now))
}

/// The digest as it would be now.
///
/// # Errors
/// When what it tells cannot be computed.
pub fn preview_digest(ctx: &Ctx, settings: &DigestSettings) -> Result<Letter, AppError> {
    let session = ctx.date(None)?;
    digest(ctx, settings, since(ctx, settings, session, None), session)
}

/// Since when a digest tells: since the last one, else for as long as one lies after the other.
fn since(ctx: &Ctx, settings: &DigestSettings, session: Day, last: Option<Day>) -> Day {
    let days = if settings.every == super::DigestEvery::Week { 7 } else { 1 };
    let first = ctx.snapshot().sessions().map_or(session, |s| s.0);
    last.unwrap_or_else(|| session.plus_days(-days)).max(first)
}

fn digest(ctx: &Ctx, settings: &DigestSettings, since: Day, session: Day) -> Result<Letter, AppError> {
    let found = today(ctx, &TodayRequest { as_of: Some(session), since: Some(since), ..TodayRequest::default() })?;
    let part = |title: &str, lines: Vec<LetterLine>| LetterPart { title: title.to_owned(), lines };
    let mut parts = vec![
        part("Under the price you would pay", under(ctx, &found)),
        part(
            "Alerts",
            found
                .alerts
                .said
                .iter()
                .map(|a| LetterLine::new(&a.name, format!("{} ({})", a.says, a.alert), company(ctx, &a.symbol)))
                .collect(),
        ),
    ];
    parts.push(part("Your screens", screens(ctx, settings, &found)));
    for top in &settings.screens {
        parts.extend(top_of_screen(ctx, top, since, session)?);
    }
    parts.extend([
        part("Insiders bought close to each other", clusters(ctx, &found)),
        part("Verdicts that changed", verdicts(ctx, &found)),
        part("New red flags", found.flags.iter().map(|f| LetterLine::new(&f.name, f.flags.join(" "), company(ctx, &f.symbol))).collect()),
        part("Coming up", coming(ctx, &found)),
    ]);
    let first = found.sentence.chars().next().map(|c| c.to_uppercase().chain(found.sentence.chars().skip(1)).collect::<String>());
    Ok(Letter {
        subject: format!("{} \u{2013} {}", date(session), found.sentence),
        intro: format!("{} since {}.", first.unwrap_or_default(), date(since)),
        parts,
        footer: vec![LetterLine::new("Open Today", "", ctx.home.link("/today")), LetterLine::new("End this digest", "", end_link(ctx)?)],
    })
}

/// The address by which one click ends the digest.
pub(crate) fn end_link(ctx: &Ctx) -> Result<String, AppError> {
    let people = &ctx.home.people;
    let token = match people.address(&ctx.person, END)? {
        Some(known) => known.token,
        None => {
            let token = unguessable();
            people.set_address(&ctx.person, END, &token, NEVER)?;
            token
        }
    };
    Ok(ctx.home.link(&format!("/end/{token}")))
}

fn company(ctx: &Ctx, symbol: &str) -> String {
    if symbol.is_empty() { String::new() } else { ctx.home.link(&format!("/companies/{symbol}")) }
}

fn under(ctx: &Ctx, found: &TodayAnswer) -> Vec<LetterLine> {
    let line = |u: &crate::today::UnderLine| {
        LetterLine::new(&u.name, format!("{} {}; {}", amount(u.price), u.currency, u.says), company(ctx, &u.symbol))
    };
    found.under.iter().filter(|u| u.new).map(line).collect()
}

fn clusters(ctx: &Ctx, found: &TodayAnswer) -> Vec<LetterLine> {
    let of_company = |i: &crate::today::InsiderLine| i.of_company.map(|x| format!(" ({} of the company)", percent(x))).unwrap_or_default();
    let line = |i: &crate::today::InsiderLine| LetterLine::new(&i.name, format!("{}{}", i.says, of_company(i)), company(ctx, &i.symbol));
    found.insiders.companies.iter().filter(|i| i.cluster).map(line).collect()
}

fn verdicts(ctx: &Ctx, found: &TodayAnswer) -> Vec<LetterLine> {
    let line = |v: &crate::today::VerdictLine| {
        let before = v.before.map(|b| format!("{b} → ")).unwrap_or_default();
        LetterLine::new(&v.name, format!("{before}{}. {}", v.after, v.says), company(ctx, &v.symbol))
    };
    found.verdicts.iter().map(line).collect()
}

fn coming(ctx: &Ctx, found: &TodayAnswer) -> Vec<LetterLine> {
    let line = |c: &crate::today::ComingLine| {
        let paid = c.amount.map(|a| format!(" {} {}", amount(a), c.currency)).unwrap_or_default();
        LetterLine::new(&c.name, format!("{}{paid} on {}", c.what, date(c.date)), company(ctx, &c.symbol))
    };
    found.coming.iter().map(line).collect()
}

/// How many companies a screen's line names of those that entered, and of those that left.
const NAMED: usize = 8;

/// The screens that changed. One whose first companies are told anyway is left to them.
fn screens(ctx: &Ctx, settings: &DigestSettings, found: &TodayAnswer) -> Vec<LetterLine> {
    let names = |word: &str, all: &[Named]| {
        let mut named: Vec<String> = all.iter().take(NAMED).map(|n| n.name.clone()).collect();
        if all.len() > NAMED {
            named.push(format!("{} more", all.len() - NAMED));
        }
        if named.is_empty() { String::new() } else { format!("{word}: {}", named.join(", ")) }
    };
    let line = |s: &ScreenLine| {
        let told = [names("in", &s.entered), names("out", &s.left)];
        let told: Vec<&str> = told.iter().map(String::as_str).filter(|t| !t.is_empty()).collect();
        LetterLine::new(&s.name, told.join("; "), ctx.home.link(&format!("/screens?doc={}", s.id)))
    };
    let changed = |s: &&ScreenLine| !s.entered.is_empty() || !s.left.is_empty();
    let first_told = |s: &ScreenLine| settings.screens.iter().any(|t| t.screen == s.id);
    found.screens.iter().filter(changed).filter(|s| !first_told(s)).map(line).collect()
}

/// Who entered and left the first companies of a screen; nothing where nobody did.
fn top_of_screen(ctx: &Ctx, top: &TopOfScreen, since: Day, session: Day) -> Result<Option<LetterPart>, AppError> {
    let Ok(found) = documents::document(ctx, &top.screen, None) else { return Ok(None) };
    if found.entry.kind != DocumentKind::Screen || found.entry.deleted_at.is_some() {
        return Ok(None);
    }
    let screen = Screen { as_of: None, limit: Some(top.top), ..documents::screen_of(&found)? };
    let title = format!("The first {} of {}", top.top, found.entry.name);
    let link = |i: u32| company(ctx, ctx.snapshot().symbol(i));
    let name = |i: u32| ctx.snapshot().company(i).name.clone();
    let lines = match screening::changes(&screen, &ctx.section(since), &ctx.section(session)) {
        Err(problem) => vec![LetterLine::new("", format!("It cannot be run: {problem}"), "")],
        Ok(changes) => {
            let came = changes.entered.iter().map(|c| LetterLine::new(name(c.company), "entered", link(c.company)));
            came.chain(changes.left.iter().map(|c| LetterLine::new(name(c.company), "left", link(c.company)))).collect()
        }
    };
    Ok(Some(LetterPart { title, lines }))
}
