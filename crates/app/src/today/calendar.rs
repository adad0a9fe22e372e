//! Dates ahead as a calendar that any program reads: iCalendar, RFC 5545.

use super::followed::followed;
use crate::{
    AppError, Ctx,
    ledger::{OwnDate, own_dates},
};
use artemon_core::{
    domain::Day,
    today::{Coming, coming, event_words},
    wording::figures::amount,
};
use icalendar::{Calendar, Component, Event, EventLike, Property};

/// Days ahead: dates are known a month before.
const DAYS: i32 = 92;

/// The dates ahead of all companies that the person follows: results, meetings, ex-dates and payments of dividends; and the person's own:
/// decisions to look at again, orders that end.
///
/// # Errors
/// When there is no data.
pub fn calendar(ctx: &Ctx) -> Result<String, AppError> {
    let t = ctx.date(None)?;
    let all = coming(&ctx.engine, t, DAYS, followed(ctx, &[]).into_keys());
    let mut calendar = Calendar::empty();
    calendar.append_property(Property::new("VERSION", "2.0"));
    calendar.append_property(Property::new("PRODID", "-//Artemon//Dates ahead//EN"));
    calendar.append_property(Property::new("CALSCALE", "GREGORIAN"));
    calendar.name("Artemon");
    for c in &all {
        calendar.push(event(ctx, t, c));
    }
    for own in own_dates(ctx, t, DAYS)? {
        calendar.push(own_event(ctx, t, &own));
    }
    Ok(calendar.done().to_string())
}

fn event(ctx: &Ctx, t: Day, c: &Coming) -> Event {
    let company = ctx.engine.as_of(t).company(c.company);
    let paid = c.amount.map(|a| format!(" {} {}", amount(a), company.listing_currency())).unwrap_or_default();
    let expected = if c.confirmed == Some(false) { " (expected)" } else { "" };
    let mut event = Event::new();
    event
        .uid(&format!("{}-{}-{}@artemon.invalid", company.company().id, c.kind, c.date))
        .summary(&format!("{}: {}{paid}{expected}", company.company().name, event_words(c.kind)))
        .description(&format!("{} ({})", company.company().name, company.symbol()))
        .url(&ctx.home.link(&format!("/companies/{}", company.symbol())))
        .starts(c.date.date())
        .append_property(Property::new("TRANSP", "TRANSPARENT"));
    event.done()
}

fn own_event(ctx: &Ctx, t: Day, own: &OwnDate) -> Event {
    let company = ctx.engine.as_of(t).company(own.company);
    let mut event = Event::new();
    event
        .uid(&format!("{}-{}-{}@artemon.invalid", company.company().id, own.what.replace(' ', "-"), own.date))
        .summary(&format!("{}: {}", company.company().name, own.what))
        .description(&format!("{} ({})", company.company().name, company.symbol()))
        .url(&ctx.home.link("/ledger"))
        .starts(own.date.date())
        .append_property(Property::new("TRANSP", "TRANSPARENT"));
    event.done()
}
