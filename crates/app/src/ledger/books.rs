//! The ledger of a person as it is kept.

use super::securities::listed;
use crate::{AppError, Ctx, dataset::opened::Opened};
use artemon_core::{
    domain::{Currency, Day},
    index_levels::index_levels,
    ledger::{
        Account, AccountKind, Booked, Correction, Event, Ledger, LotRule, OrderState, Security, Told, What, corrections, order_stories,
        told,
    },
    panel::AsOf,
};
use artemon_store::{KeptAccount, KeptEvent, NewEvent};
use serde_json::Value;
use std::{
    borrow::Cow,
    collections::{HashMap, HashSet},
    sync::{Arc, Mutex, OnceLock, PoisonError},
};

/// The ledger of a person, with what it was read from.
#[derive(Debug)]
pub(crate) struct OwnLedger {
    pub(crate) accounts: Vec<KeptAccount>,
    pub(crate) ledger: Ledger,
    /// By which numbers events were written down by hand, and can be removed.
    pub(crate) by_hand: HashSet<u64>,
    end: (i64, i64),
    dataset: Arc<Opened>,
    base: Currency,
    /// What rests on data that were corrected since, once it was asked for.
    corrections: OnceLock<Vec<Correction>>,
    /// What was told last, with the day and the index of which it was asked.
    told: Mutex<Option<ToldOf>>,
}

/// What was told of a day against an index.
#[derive(Debug)]
struct ToldOf {
    day: Day,
    index: Option<String>,
    told: Arc<Told>,
}

impl OwnLedger {
    /// The accounts on a day and the days up to it, against an index.
    pub(crate) fn told(&self, ctx: &Ctx, t: Day, index: Option<&str>) -> Arc<Told> {
        let mut known = self.told.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(of) = known.as_ref().filter(|of| of.day == t && of.index.as_deref() == index) {
            return of.told.clone();
        }
        let levels = |days: &[Day]| index_levels(&ctx.engine, index?, days);
        let made = Arc::new(told(&self.ledger, ctx.engine.as_of(t), &[t], levels));
        *known = Some(ToldOf { day: t, index: index.map(str::to_owned), told: made.clone() });
        made
    }

    /// Entries that rest on data which were corrected since.
    pub(super) fn corrections(&self, ctx: &Ctx) -> &[Correction] {
        self.corrections.get_or_init(|| corrections(&self.ledger, whole_market(ctx)))
    }

    /// The day after which the broker goes on, where simulated accounts have entries of days that the dataset does not have: it begins
    /// again, and they stand still until it has come so far.
    pub(super) fn stands_still_until(&self, ctx: &Ctx) -> Option<Day> {
        let newest = whole_market(ctx).t;
        let simulated = |b: &&Booked| self.ledger.account(&b.event.account).is_some_and(|a| a.account.kind == AccountKind::Simulated);
        self.ledger.journal().iter().rev().find(simulated).map(|b| b.event.date).filter(|last| *last > newest)
    }

    /// Whether an entry can be taken back: it was written down by hand and, in a simulated account, nothing came after it.
    pub(super) fn can_be_taken_back(&self, b: &Booked) -> bool {
        let last = |name: &str| self.ledger.journal().iter().rev().find(|b| *b.event.account == *name).map(|b| b.n);
        let by_hand = |name: &str| self.ledger.account(name).is_some_and(|a| a.account.kind == AccountKind::ByHand);
        self.by_hand.contains(&b.n) && (by_hand(&b.event.account) || last(&b.event.account) == Some(b.n))
    }

    /// The books at the end of a day.
    pub(super) fn at(&self, ctx: &Ctx, t: Day) -> Cow<'_, Ledger> {
        let journal = self.ledger.journal();
        if journal.last().is_none_or(|b| b.event.date <= t) {
            return Cow::Borrowed(&self.ledger);
        }
        let mut then = Ledger::new(self.ledger.accounts().iter().map(|a| a.account.clone()));
        for b in journal.iter().take_while(|b| b.event.date <= t) {
            // It was booked before, on the same books.
            then.book_as(b.n, whole_market(ctx), b.event.clone()).ok();
        }
        Cow::Owned(then)
    }
}

/// What the key of an event begins with that a person wrote down, unlike what the broker did.
pub(super) const BY_HAND: &str = "by hand ";

/// The ledger of the person as it is kept; read again when the journal, the accounts or the dataset are others.
///
/// # Errors
/// When it cannot be read.
pub(crate) fn own_ledger(ctx: &Ctx) -> Result<Arc<OwnLedger>, AppError> {
    let people = &ctx.home.people;
    let (accounts, end, base) = (people.accounts(&ctx.person)?, people.journal_end(&ctx.person)?, ctx.settings().base);
    let known = || ctx.home.ledgers.lock().unwrap_or_else(PoisonError::into_inner);
    let same = |k: &&Arc<OwnLedger>| k.end == end && k.base == base && k.accounts == accounts && Arc::ptr_eq(&k.dataset, &ctx.dataset);
    if let Some(known) = known().get(&ctx.person).filter(same) {
        return Ok(known.clone());
    }
    let events = people.ledger_events(&ctx.person)?;
    let market = whole_market(ctx);
    let ledger = booked(market, &accounts, &events, |_| true)?;
    let by_hand = events.iter().filter(|e| e.key.starts_with(BY_HAND)).map(|e| e.n.cast_unsigned()).collect();
    let own = Arc::new(OwnLedger {
        accounts,
        ledger,
        by_hand,
        end,
        dataset: ctx.dataset.clone(),
        base,
        corrections: OnceLock::new(),
        told: Mutex::default(),
    });
    known().insert(ctx.person.clone(), own.clone());
    Ok(own)
}

/// Where each order stands on a day, and whether something of it was filled.
pub(crate) fn order_states(ctx: &Ctx, t: Day) -> Result<HashMap<String, (OrderState, bool)>, AppError> {
    let own = own_ledger(ctx)?;
    let known = own.ledger.journal().partition_point(|b| b.event.date <= t);
    let stories = order_stories(&own.ledger.journal()[..known]);
    Ok(stories.into_iter().map(|s| (s.order.order.to_string(), (s.state, !s.filled.is_zero()))).collect())
}

/// The market on the newest session, whatever date is looked at.
pub(super) fn whole_market(ctx: &Ctx) -> AsOf<'_> {
    ctx.engine.as_of(ctx.snapshot().sessions().map_or(Day::MAX, |s| s.1))
}

/// The ledger of the accounts that are wanted.
pub(super) fn booked(
    market: AsOf<'_>,
    accounts: &[KeptAccount],
    events: &[KeptEvent],
    wanted: impl Fn(&Account) -> bool,
) -> Result<Ledger, AppError> {
    let known: Vec<(&str, Account)> = accounts.iter().map(|a| Ok((a.id.as_str(), account(a)?))).collect::<Result<Vec<_>, AppError>>()?;
    let mut ledger = Ledger::new(known.iter().map(|k| &k.1).filter(|a| wanted(a)).cloned());
    for kept in events {
        let Some((_, account)) = known.iter().find(|k| k.0 == kept.account_id && wanted(&k.1)) else { continue };
        let event = event(market, kept, &account.name)?;
        ledger.book_as(kept.n.cast_unsigned(), market, event).map_err(|e| broken(&format!("event {}: {e}", kept.n)))?;
    }
    Ok(ledger)
}

/// An event as it is kept. A security that the dataset has by now is matched with it, whatever it was when this was written.
pub(super) fn event(market: AsOf<'_>, kept: &KeptEvent, account: &str) -> Result<Event, AppError> {
    let unreadable = |e: serde_json::Error| broken(&format!("an event cannot be read: {e}"));
    let what: What = if kept.body.contains("\"what\":") {
        let mut body: Value = serde_json::from_str(&kept.body).map_err(unreadable)?;
        if let Some(Security::Listed { company, symbol }) = body["what"].as_str().and_then(|name| listed(market.snapshot, name)) {
            body["company"] = company.as_ref().into();
            body["symbol"] = symbol.as_ref().into();
        }
        serde_json::from_value(body).map_err(unreadable)?
    } else {
        serde_json::from_str(&kept.body).map_err(unreadable)?
    };
    Ok(Event { date: day(&kept.date)?, account: account.into(), what })
}

fn account(kept: &KeptAccount) -> Result<Account, AppError> {
    let currency = kept.currency.parse().map_err(|_| broken(&format!("the currency of {} is {}", kept.name, kept.currency)))?;
    let kind = if kept.kind == "by_hand" { AccountKind::ByHand } else { AccountKind::Simulated };
    let lots = if kept.lots == "average" { LotRule::Average } else { LotRule::FirstInFirstOut };
    Ok(Account { name: kept.name.as_str().into(), currency, kind, lots })
}

fn day(text: &str) -> Result<Day, AppError> {
    text.parse().map_err(|_| broken(&format!("\"{text}\" is no day")))
}

fn broken(problem: &str) -> AppError {
    AppError::Unusable { what: "The ledger as it is kept".to_owned(), problem: problem.to_owned() }
}

/// An event as it is kept.
pub(super) fn kept(account_id: &str, date: Day, what: &What, key: String) -> NewEvent {
    let body = serde_json::to_string(what).unwrap_or_default();
    NewEvent { account_id: account_id.to_owned(), date: date.to_string(), body, key }
}

/// An account by its id.
pub(super) fn kept_account(ctx: &Ctx, id: &str) -> Result<KeptAccount, AppError> {
    let found = ctx.home.people.accounts(&ctx.person)?.into_iter().find(|a| a.id == id);
    found.ok_or_else(|| AppError::Missing { what: "The account".to_owned() })
}

pub(super) fn refused(what: &str, problem: String) -> AppError {
    AppError::Unusable { what: what.to_owned(), problem }
}
