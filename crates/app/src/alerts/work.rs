//! With each session that comes: what became true is kept once, with the messages that say it.

use super::{
    body::{AlertBody, Repeat},
    feeds,
    listed::{Alert, all, said},
};
use crate::{AppError, Ctx, Home, ledger::work_sessions, mail};
use artemon_core::{alerts::fired, domain::Day, engine::Cancel};
use artemon_store::NewFiring;
use std::{
    collections::{BTreeSet, HashSet},
    sync::Arc,
    time::Instant,
};

/// Sessions that are looked at one by one; of more that come at once the earlier ones are looked at as one.
const ONE_BY_ONE: usize = 22;

/// The data is another: what its sessions say is worked out, messages that are due are sent, and every open page is told. What fails
/// here is tried again with the next change or start; the data has landed whatever happens.
pub(crate) fn data_changed(home: &Arc<Home>) {
    work_sessions(home);
    let begun = Instant::now();
    if let Err(e) = work_out_sessions(home) {
        tracing::warn!("alerts were not worked out: {}", e.for_log());
    }
    tracing::info!("alerts worked out in {:?}", begun.elapsed());
    if let Err(e) = mail::send_due(home) {
        tracing::warn!("messages were not sent: {}", e.for_log());
    }
    home.tell_news();
}

/// Works out, for everybody, the sessions that came since the last time. A session is kept with all that it says, or not at all; what
/// it says it says once, however often it is worked out.
///
/// # Errors
/// When what is kept cannot be read or written.
fn work_out_sessions(home: &Arc<Home>) -> Result<(), AppError> {
    for person in home.people.persons()? {
        work_out_for(&home.ctx(&person, Cancel::default())?)?;
    }
    Ok(())
}

fn work_out_for(ctx: &Ctx) -> Result<(), AppError> {
    let people = &ctx.home.people;
    let Some((_, newest)) = ctx.snapshot().sessions() else { return Ok(()) };
    let last = people.worked(&ctx.person)?.and_then(|s| s.parse::<Day>().ok());
    let Some(mut before) = last.filter(|last| *last <= newest) else {
        // At first, and after a dataset that begins again, nothing is told of the past.
        return Ok(people.keep_session(&ctx.person, &newest.to_string(), &[], &[])?);
    };
    let sessions = ctx.snapshot().sessions_after(before);
    let alerts = all(ctx)?;
    for session in &sessions[sessions.len().saturating_sub(ONE_BY_ONE)..] {
        let said = session_says(ctx, &alerts, (before, *session))?;
        let fed = feeds::of_session(ctx, (before, *session))?;
        let mails = mail::of_session(ctx, *session, &said)?;
        let firings: Vec<NewFiring> = said.into_iter().chain(fed).map(|s| s.firing).collect();
        people.keep_session(&ctx.person, &session.to_string(), &firings, &mails)?;
        before = *session;
    }
    Ok(())
}

/// What an alert says on a session.
pub(crate) struct Said {
    pub(crate) firing: NewFiring,
    /// Whether it is sent by mail.
    pub(crate) mail: bool,
}

/// What became true from one session to the next. An alert that cannot be worked out says nothing; it is named where alerts are listed.
fn session_says(ctx: &Ctx, alerts: &[Alert], span: (Day, Day)) -> Result<Vec<Said>, AppError> {
    let ended: HashSet<String> = said(ctx)?.into_keys().collect();
    let waits = |a: &&Alert| a.body.as_ref().is_ok_and(|b| !b.paused && (b.repeat != Repeat::Once || !ended.contains(&a.id)));
    let mut all = Vec::new();
    for alert in alerts.iter().filter(waits) {
        let Ok(body) = &alert.body else { continue };
        all.extend(says(ctx, alert, body, span).unwrap_or_default());
    }
    Ok(all)
}

fn says(ctx: &Ctx, alert: &Alert, body: &AlertBody, (before, at): (Day, Day)) -> Result<Vec<Said>, AppError> {
    let screen = body.screen(ctx)?;
    let companies = body.companies(ctx, at)?;
    let found = fired(&ctx.engine, &body.condition(ctx, screen.as_ref())?, (before, at), &companies)?;
    let mut seen = BTreeSet::new();
    let said = found.into_iter().filter(|f| seen.insert(f.company)).map(|f| Said {
        mail: body.mail,
        firing: NewFiring {
            alert_id: alert.id.clone(),
            session: at.to_string(),
            company_id: ctx.snapshot().company(f.company).id.to_string(),
            symbol: ctx.snapshot().symbol(f.company).to_owned(),
            name: ctx.snapshot().company(f.company).name.clone(),
            alert: alert.name.clone(),
            sentence: f.sentence,
        },
    });
    Ok(said.collect())
}
