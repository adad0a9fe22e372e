//! Events that land in the journal: only together, and only where the books allow them.

use super::books::{BY_HAND, booked, kept, refused, whole_market};
use crate::{AppError, Ctx};
use artemon_core::{domain::Day, ledger::What};
use artemon_store::{KeptAccount, KeptEvent, Landed, Landing, NewDecision, NewEvent};

/// Adds events of a day where they belong, if the books allow them there and everything after them; gives the number of the first.
pub(super) fn add(ctx: &Ctx, account: &KeptAccount, date: Day, what: &[What]) -> Result<u64, AppError> {
    add_with(ctx, account, date, what, None)
}

/// The same with the decision that is carried out, which lands with them.
pub(super) fn add_with(
    ctx: &Ctx,
    account: &KeptAccount,
    date: Day,
    what: &[What],
    decision: Option<&NewDecision>,
) -> Result<u64, AppError> {
    let _one = ctx.home.booking();
    let first = ctx.home.people.journal_end(&ctx.person)?.0 + 1;
    let new: Vec<NewEvent> = (first..).zip(what).map(|(n, what)| kept(&account.id, date, what, format!("{BY_HAND}{n}"))).collect();
    land(ctx, Landing { events: &new, decision, ..Landing::default() }).map(|landed| landed.first.cast_unsigned())
}

/// Lands events if the books allow them. Whoever calls holds the right to book.
pub(super) fn land(ctx: &Ctx, landing: Landing<'_>) -> Result<Landed, AppError> {
    let people = &ctx.home.people;
    check(ctx, &people.accounts(&ctx.person)?, &with(ctx, landing.events)?)?;
    // The broker begins with the session after the first entry.
    let begun = people.broker_worked(&ctx.person)?.is_some();
    let newest = whole_market(ctx).t.to_string();
    let worked = (!begun).then_some(newest.as_str());
    Ok(people.land(&ctx.person, &Landing { worked, ..landing })?)
}

/// The journal as it would be with some events more.
pub(super) fn with(ctx: &Ctx, new: &[NewEvent]) -> Result<Vec<KeptEvent>, AppError> {
    let people = &ctx.home.people;
    let mut events = people.ledger_events(&ctx.person)?;
    let first = people.journal_end(&ctx.person)?.0 + 1;
    let as_kept = |(n, e): (i64, &NewEvent)| {
        let NewEvent { account_id, date, body, key } = e.clone();
        KeptEvent { n, account_id, date, body, key }
    };
    events.extend((first..).zip(new).map(as_kept));
    events.sort_by(|a, b| (&a.date, a.n).cmp(&(&b.date, b.n)));
    Ok(events)
}

/// Whether a journal books.
pub(super) fn check(ctx: &Ctx, accounts: &[KeptAccount], events: &[KeptEvent]) -> Result<(), AppError> {
    let books = |e| match e {
        AppError::Unusable { problem, .. } => {
            let problem = problem.split_once(": ").map_or(problem.clone(), |(_, p)| p.to_owned());
            refused("The entry", problem)
        }
        other => other,
    };
    booked(whole_market(ctx), accounts, events, |_| true).map(drop).map_err(books)
}
