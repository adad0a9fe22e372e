//! Private addresses: a calendar, and feeds of what entered and left a screen and of insiders' clusters; Atom, RFC 4287.

use super::work::Said;
use crate::{
    AppError, Ctx, Home, documents,
    mail::END,
    people::{hash, noted},
    today::calendar,
};
use artemon_core::{
    alerts::{Condition, Fired, fired},
    domain::Day,
    engine::Cancel,
    screening::Screen,
    today::Followed,
};
use artemon_store::{Firing, NewFiring, moment, unguessable};
use atom_syndication::{Entry, Feed, FixedDateTime, Link, Text};
use chrono::Duration;
use serde::Serialize;
use std::sync::Arc;
use utoipa::ToSchema;

/// What the ids of feeds begin with, among those of alerts.
pub(crate) const FEED: &str = "feed ";
/// How long an address counts.
const DAYS: i64 = 366;
const CALENDAR: &str = "calendar";
const CLUSTERS: &str = "clusters";
const SCREEN: &str = "screen ";
/// Entries of a feed.
const ENTRIES: i64 = 100;

/// An address that anybody who knows it may read.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct PrivateAddress {
    /// "calendar", "clusters", or "screen" with the id of its document.
    pub purpose: String,
    /// In words.
    pub name: String,
    /// The address, told once: when it is made.
    pub address: Option<String>,
    /// When it was made, as RFC 3339; none where there is none, or it has ended.
    pub made_at: Option<String>,
    /// When it ends.
    pub ends_at: Option<String>,
}

/// The private addresses of the person: the calendar, insiders' clusters, and the saved screens.
///
/// # Errors
/// When they cannot be read.
pub fn addresses(ctx: &Ctx) -> Result<Vec<PrivateAddress>, AppError> {
    let screens = documents::documents(ctx, documents::DocumentKind::Screen, false)?;
    let screens = screens.into_iter().map(|d| (format!("{SCREEN}{}", d.id), d.name));
    let all = [(CALENDAR.to_owned(), "Dates ahead".to_owned()), (CLUSTERS.to_owned(), "Insiders who buy together".to_owned())];
    let of = |(purpose, name): (String, String)| {
        let kept = ctx.home.people.address(&ctx.person, &purpose)?;
        let (made_at, ends_at) = kept.map(|k| (k.made_at, k.ends_at)).unzip();
        Ok(PrivateAddress { address: None, purpose, name, made_at, ends_at })
    };
    all.into_iter().chain(screens).map(of).collect()
}

fn link(home: &Home, purpose: &str, token: &str) -> String {
    home.link(&format!("/feeds/{token}.{}", if purpose == CALENDAR { "ics" } else { "atom" }))
}

/// Gives the person a new address for a purpose; the one before leads nowhere any more.
///
/// # Errors
/// A purpose that there is none of; when it cannot be kept.
pub fn renew_address(ctx: &Ctx, purpose: &str) -> Result<PrivateAddress, AppError> {
    let found = addresses(ctx)?.into_iter().find(|a| a.purpose == purpose);
    let known = found.ok_or_else(|| AppError::Missing { what: "This address".to_owned() })?;
    let (token, ends) = (unguessable(), ctx.home.clock.now() + Duration::days(DAYS));
    let ends_at = moment::text(ends);
    ctx.home.people.set_address(&ctx.person, purpose, &hash(&token), &ends_at)?;
    noted(ctx, "made a private address", &known.name)?;
    let made_at = Some(moment::text(ctx.home.clock.now()));
    Ok(PrivateAddress { address: Some(link(&ctx.home, purpose, &token)), made_at, ends_at: Some(ends_at), ..known })
}

/// What an address leads to: its media type and text.
///
/// # Errors
/// An address that leads nowhere.
pub fn read_address(home: &Arc<Home>, token: &str) -> Result<(&'static str, String), AppError> {
    let missing = || AppError::Missing { what: "This address".to_owned() };
    // Those made before they were kept as hashes count until they end.
    let found = home.people.addressed(&hash(token))?.map_or_else(|| home.people.addressed(token), |found| Ok(Some(found)))?;
    let (person, purpose) = found.ok_or_else(missing)?;
    let ctx = home.ctx(&person, Cancel::default())?;
    match purpose.as_str() {
        END => Err(missing()),
        CALENDAR => Ok(("text/calendar; charset=utf-8", calendar(&ctx)?)),
        _ => Ok(("application/atom+xml; charset=utf-8", atom(&ctx, &purpose, token)?)),
    }
}

fn atom(ctx: &Ctx, purpose: &str, token: &str) -> Result<String, AppError> {
    let name = addresses(ctx)?.into_iter().find(|a| a.purpose == purpose).map_or_else(|| purpose.to_owned(), |a| a.name);
    let said = ctx.home.people.firings_of(&ctx.person, &format!("{FEED}{purpose}"), ENTRIES)?;
    let newest = said.first().and_then(|f| time(&f.fired_at)).unwrap_or_default();
    let own = Link {
        href: link(&ctx.home, purpose, token),
        rel: "self".to_owned(),
        mime_type: Some("application/atom+xml".to_owned()),
        ..Link::default()
    };
    let feed = Feed {
        id: format!("tag:artemon.invalid,2026:{}", purpose.replace(' ', "/")),
        title: Text::plain(name),
        updated: newest,
        authors: vec![atom_syndication::Person { name: "Artemon".to_owned(), ..Default::default() }],
        links: vec![own],
        entries: said.iter().map(|f| entry(ctx, purpose, f)).collect(),
        ..Feed::default()
    };
    Ok(feed.to_string())
}

fn entry(ctx: &Ctx, purpose: &str, f: &Firing) -> Entry {
    Entry {
        id: format!("tag:artemon.invalid,2026:{}/{}/{}", purpose.replace(' ', "/"), f.session, f.company_id),
        title: Text::plain(format!("{} ({})", f.name, f.symbol)),
        updated: time(&f.fired_at).unwrap_or_default(),
        links: vec![Link { href: ctx.home.link(&format!("/companies/{}", f.symbol)), rel: "alternate".to_owned(), ..Link::default() }],
        summary: Some(Text::plain(format!("{} {}", f.session, f.sentence))),
        ..Entry::default()
    }
}

fn time(text: &str) -> Option<FixedDateTime> {
    chrono::DateTime::parse_from_rfc3339(text).ok()
}

/// What a session brings to the feeds that have an address.
pub(super) fn of_session(ctx: &Ctx, (before, at): (Day, Day)) -> Result<Vec<Said>, AppError> {
    let mut all = Vec::new();
    for address in addresses(ctx)?.into_iter().filter(|a| a.made_at.is_some() && a.purpose != CALENDAR) {
        let found = match address.purpose.strip_prefix(SCREEN) {
            None => everybody_s_clusters(ctx, (before, at)),
            Some(id) => of_screen(ctx, id, (before, at)).unwrap_or_default(),
        };
        all.extend(found.into_iter().map(|f| said(ctx, &address, at, f)));
    }
    Ok(all)
}

fn said(ctx: &Ctx, address: &PrivateAddress, at: Day, f: Fired) -> Said {
    Said {
        mail: false,
        firing: NewFiring {
            alert_id: format!("{FEED}{}", address.purpose),
            session: at.to_string(),
            company_id: ctx.snapshot().company(f.company).id.to_string(),
            symbol: ctx.snapshot().symbol(f.company).to_owned(),
            name: ctx.snapshot().company(f.company).name.clone(),
            alert: address.name.clone(),
            sentence: f.sentence,
        },
    }
}

fn everybody_s_clusters(ctx: &Ctx, span: (Day, Day)) -> Vec<Fired> {
    let section = ctx.section(span.1);
    let trading = section.rows().iter().filter(|c| c.has_insider_trades());
    let all: Vec<Followed> = trading.map(|c| Followed { company: c.index, typed: None }).collect();
    fired(&ctx.engine, &Condition::Cluster, span, &all).unwrap_or_default()
}

fn of_screen(ctx: &Ctx, id: &str, span: (Day, Day)) -> Result<Vec<Fired>, AppError> {
    let found = documents::document(ctx, id, None)?;
    let screen = Screen { as_of: None, name: found.entry.name.clone(), ..documents::screen_of(&found)? };
    let condition = Condition::Screen { screen: &screen, entered: true, left: true };
    Ok(fired(&ctx.engine, &condition, span, &[])?)
}
