//! With each session that comes: the broker works the simulated accounts, once.

use super::{
    books::{booked, kept, whole_market},
    terms::ledger_terms,
};
use crate::{AppError, Ctx, Home, ports::Broker};
use artemon_core::{
    domain::Day,
    engine::Cancel,
    ledger::{AccountKind, Ledger},
};
use artemon_sim::broker::{self, Session};
use artemon_store::Landing;
use std::{sync::Arc, time::Instant};

/// Works the sessions that came since the last time, for everybody. A session's events land with the mark that it was worked, or not at
/// all; what fails is tried again with the next change or start.
pub(crate) fn work_sessions(home: &Arc<Home>) {
    for person in home.people.persons().unwrap_or_default() {
        let done = home.ctx(&person, Cancel::default()).and_then(|ctx| work_for(&ctx, &ledger_terms(&ctx)?.broker()));
        if let Err(e) = done {
            tracing::warn!("the broker did not work: {}", e.for_log());
        }
    }
}

/// # Errors
/// When the ledger cannot be read or written, or the broker contradicts the books.
fn work_for(ctx: &Ctx, broker: &dyn Broker) -> Result<(), AppError> {
    let Some((_, newest)) = ctx.snapshot().sessions() else { return Ok(()) };
    let people = &ctx.home.people;
    let _one = ctx.home.booking();
    let accounts = people.accounts(&ctx.person)?;
    let worked = people.broker_worked(&ctx.person)?.and_then(|s| s.parse::<Day>().ok());
    let Some(mut before) = worked.filter(|w| *w <= newest && accounts.iter().any(|a| a.kind == "simulated")) else {
        // At first, and after a dataset that begins again, nothing is worked of the past.
        people.land(&ctx.person, &Landing { worked: Some(&newest.to_string()), ..Landing::default() })?;
        return Ok(());
    };
    let sessions = ctx.snapshot().sessions_after(before);
    if sessions.is_empty() {
        return Ok(());
    }
    let begun = Instant::now();
    let market = whole_market(ctx);
    let events = people.ledger_events(&ctx.person)?;
    let last = people.journal_end(&ctx.person)?.0.cast_unsigned();
    let mut ledger = booked(market, &accounts, &events, |a| a.kind == AccountKind::Simulated)?.after(last);
    // After a dataset that begins again nothing happens until it has come beyond what happened before.
    let stands_still = ledger.journal().last().map(|b| b.event.date);
    for (i, day) in sessions.iter().enumerate() {
        if stands_still.is_some_and(|last| last >= *day) {
            before = *day;
            continue;
        }
        let known = ledger.journal().len();
        let session = Session { day: *day, before, next: sessions.get(i + 1).copied() };
        broker.work(&mut ledger, market, session).map_err(|e| AppError::Unusable { what: "The ledger".to_owned(), problem: e })?;
        let new: Vec<_> = ledger.journal()[known..]
            .iter()
            .enumerate()
            .filter_map(|(n, b)| {
                let account = accounts.iter().find(|a| a.name == *b.event.account)?;
                Some(kept(&account.id, b.event.date, &b.event.what, format!("session {day} {n}")))
            })
            .collect();
        people.land(&ctx.person, &Landing { events: &new, worked: Some(&day.to_string()), ..Landing::default() })?;
        before = *day;
    }
    tracing::info!("the broker worked {} sessions in {} ms", sessions.len(), begun.elapsed().as_millis());
    Ok(())
}

impl Broker for broker::Broker {
    fn work(&self, ledger: &mut Ledger, market: artemon_core::panel::AsOf<'_>, session: Session) -> Result<(), String> {
        broker::Broker::work(self, ledger, market, session).map_err(|e| e.to_string())
    }
}
