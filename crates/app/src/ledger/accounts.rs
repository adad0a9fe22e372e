//! Accounts, and what a person writes down of them.

use super::books::{BY_HAND, booked, kept, own_ledger, whole_market};
use crate::{AppError, Ctx};
use artemon_core::panel::Snapshot;
use artemon_core::{
    domain::{Currency, Day},
    ledger::{AccountKind, LotRule, Recorded, Security, Side, What, decimal},
};
use artemon_store::{KeptAccount, KeptEvent, Landed, Landing, NewDecision, NewEvent};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// An account to be opened.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct NewAccount {
    pub name: String,
    #[schema(value_type = String)]
    pub currency: Currency,
    pub kind: AccountKind,
    #[serde(default)]
    pub lots: LotRule,
    /// What is in it at first, in its currency.
    #[serde(default)]
    pub deposit: f64,
}

/// What was made.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Made {
    pub id: String,
}

/// Opens an account.
///
/// # Errors
/// Without a name of its own, in a currency without rates.
pub fn add_account(ctx: &Ctx, account: &NewAccount) -> Result<Made, AppError> {
    let name = named(&account.name)?;
    let base = ctx.settings().base;
    if whole_market(ctx).fx(account.currency, base).is_none() {
        let problem = format!("the dataset has no rate from {} to {base}", account.currency);
        return Err(refused("The currency", problem));
    }
    let new = KeptAccount {
        id: String::new(),
        name: name.clone(),
        currency: account.currency.to_string(),
        kind: word(account.kind),
        lots: word(account.lots),
    };
    let id = ctx.home.people.add_account(&ctx.person, &new)?.ok_or_else(|| taken(&name))?;
    if account.deposit > 0.0 {
        write_down(ctx, &id, &Entered::Deposit { amount: account.deposit, date: None })?;
    }
    Ok(Made { id })
}

/// As it is written in JSON.
fn word(of: impl Serialize) -> String {
    serde_json::to_value(of).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default()
}

fn named(name: &str) -> Result<String, AppError> {
    let name = name.trim();
    if name.is_empty() || name.chars().count() > 80 {
        return Err(refused("The name", "it has between 1 and 80 letters".to_owned()));
    }
    Ok(name.to_owned())
}

fn taken(name: &str) -> AppError {
    refused(&format!("The name \"{name}\""), "another account has it".to_owned())
}

pub(super) fn refused(what: &str, problem: String) -> AppError {
    AppError::Unusable { what: what.to_owned(), problem }
}

/// Names an account anew.
///
/// # Errors
/// Without a name of its own.
pub fn rename_account(ctx: &Ctx, id: &str, name: &str) -> Result<(), AppError> {
    let name = named(name)?;
    kept_account(ctx, id)?;
    if ctx.home.people.rename_account(&ctx.person, id, &name)? { Ok(()) } else { Err(taken(&name)) }
}

/// Removes an account in which nothing has happened.
///
/// # Errors
/// When something has.
pub fn remove_account(ctx: &Ctx, id: &str) -> Result<(), AppError> {
    let account = kept_account(ctx, id)?;
    if ctx.home.people.remove_account(&ctx.person, id)? {
        return Ok(());
    }
    Err(refused(&format!("The account \"{}\"", account.name), "it has a journal, which is kept".to_owned()))
}

pub(super) fn kept_account(ctx: &Ctx, id: &str) -> Result<KeptAccount, AppError> {
    let found = ctx.home.people.accounts(&ctx.person)?.into_iter().find(|a| a.id == id);
    found.ok_or_else(|| AppError::Missing { what: "The account".to_owned() })
}

/// What a person writes down. Amounts are in the account's currency; days are those of accounts kept by hand, the newest session when
/// absent.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(tag = "do", rename_all = "snake_case", deny_unknown_fields)]
#[allow(missing_docs)]
pub enum Entered {
    Deposit {
        amount: f64,
        #[serde(default)]
        #[schema(value_type = Option<String>)]
        date: Option<Day>,
    },
    Withdraw {
        amount: f64,
        #[serde(default)]
        #[schema(value_type = Option<String>)]
        date: Option<Day>,
    },
    Trade(EnteredTrade),
    Income {
        what: String,
        amount: f64,
        #[serde(default)]
        #[schema(value_type = Option<String>)]
        date: Option<Day>,
    },
    /// So many shares for one.
    Split {
        what: String,
        ratio: f64,
        #[serde(default)]
        #[schema(value_type = Option<String>)]
        date: Option<Day>,
    },
    /// Part of what was paid comes back.
    ReturnOfCapital {
        what: String,
        amount: f64,
        #[serde(default)]
        #[schema(value_type = Option<String>)]
        date: Option<Day>,
    },
    Price {
        what: String,
        price: f64,
        #[serde(default)]
        #[schema(value_type = Option<String>)]
        date: Option<Day>,
    },
}

/// A trade that was made elsewhere.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct EnteredTrade {
    pub side: Side,
    /// A symbol, ISIN or id of the dataset; or what it is called, where it is on no exchange of it.
    pub what: String,
    pub quantity: f64,
    /// Of one, in the currency of the trade.
    pub price: f64,
    /// What the price is of.
    #[serde(default = "one")]
    pub multiplier: f64,
    /// Of the trade; that of the listing or account when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub currency: Option<Currency>,
    #[serde(default)]
    pub fee: f64,
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub date: Option<Day>,
    /// Of a sale: the purchases whose lots go first.
    #[serde(default)]
    pub lots: Vec<u64>,
}

const fn one() -> f64 {
    1.0
}

/// Larger figures are a slip of the hand, and would not fit into the books once they are multiplied.
const MOST: f64 = 1e12;

/// A figure as it is entered.
///
/// # Errors
/// One that is too large or no number.
pub(super) fn entered_figure(name: &str, x: f64) -> Result<Decimal, AppError> {
    if x.abs() <= MOST { Ok(decimal(x)) } else { Err(refused(&format!("The {name}"), "it is larger than a million millions".to_owned())) }
}

/// Writes something down, and gives its number in the journal.
///
/// # Errors
/// What contradicts the books, lies outside the data, or does not belong into such an account.
pub fn write_down(ctx: &Ctx, account: &str, entered: &Entered) -> Result<u64, AppError> {
    let account = kept_account(ctx, account)?;
    let by_hand = account.kind == "by_hand";
    if !by_hand && !matches!(entered, Entered::Deposit { .. } | Entered::Withdraw { .. }) {
        let problem = "it is simulated: what happens in it comes from orders".to_owned();
        return Err(refused(&format!("The account \"{}\"", account.name), problem));
    }
    let today = ctx.date(None)?;
    let figure = entered_figure;
    let (date, what) = match entered {
        Entered::Deposit { amount, date } => (date, What::Deposit { amount: figure("amount", *amount)? }),
        Entered::Withdraw { amount, date } => (date, What::Withdrawal { amount: figure("amount", *amount)? }),
        Entered::Trade(trade) => (&trade.date, What::Recorded(recorded(ctx, &account, trade, trade.date.unwrap_or(today))?)),
        Entered::Income { what, amount, date } => {
            (date, What::RecordedIncome { security: security(ctx, what), amount: figure("amount", *amount)? })
        }
        Entered::Split { what, ratio, date } => (date, What::Split { security: security(ctx, what), ratio: figure("ratio", *ratio)? }),
        Entered::ReturnOfCapital { what, amount, date } => {
            (date, What::CapitalReturned { security: security(ctx, what), amount: figure("amount", *amount)? })
        }
        Entered::Price { what, price, date } => {
            (date, What::RecordedPrice { security: security(ctx, what), price: figure("price", *price)? })
        }
    };
    let date = date.unwrap_or(today);
    ctx.date(Some(date))?;
    if !by_hand && date != today {
        let problem = format!("what is done with a simulated account is done on the newest session, {today}");
        return Err(refused(&format!("The day {date}"), problem));
    }
    if date > today {
        return Err(refused(&format!("The day {date}"), format!("the newest session is {today}")));
    }
    add(ctx, &account, date, &[what])
}

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

/// Takes back what was written down by hand; what was built on it must stand without it.
///
/// # Errors
/// What was not written down by hand, or what the books need.
pub fn take_back(ctx: &Ctx, n: u64) -> Result<(), AppError> {
    let people = &ctx.home.people;
    let own = own_ledger(ctx)?;
    if !own.by_hand.contains(&n) {
        return Err(AppError::Missing { what: "An entry by hand of this number".to_owned() });
    }
    let _one = ctx.home.booking();
    let mut events = people.ledger_events(&ctx.person)?;
    let gone = events.iter().position(|e| e.n.cast_unsigned() == n).map(|at| events.remove(at));
    let gone = gone.ok_or_else(|| AppError::Missing { what: "An entry by hand of this number".to_owned() })?;
    let simulated = own.accounts.iter().any(|a| a.id == gone.account_id && a.kind == "simulated");
    let last = events.iter().filter(|e| e.account_id == gone.account_id).map(|e| e.n).max().unwrap_or(0);
    if simulated && gone.n < last {
        let problem = "the account went on since then; what happened in a simulated account stays".to_owned();
        return Err(refused("The entry", problem));
    }
    check(ctx, &own.accounts, &events)?;
    people.remove_events(&ctx.person, &[gone.n])?;
    Ok(())
}

/// A security by symbol, ISIN or id; as it is called where the dataset does not have it.
pub(super) fn security(ctx: &Ctx, text: &str) -> Security {
    listed(ctx.snapshot(), text).unwrap_or_else(|| Security::Other { what: text.trim().into() })
}

/// A security of the dataset by symbol, ISIN or id, or by one that stands in parentheses behind its name.
pub(super) fn listed(snapshot: &Snapshot, text: &str) -> Option<Security> {
    let within = || text.trim().strip_suffix(')')?.rsplit_once('(').map(|(_, key)| key);
    let found = snapshot.find(text.trim()).or_else(|| snapshot.find(within()?))?;
    Some(Security::Listed { company: snapshot.company(found).id.clone(), symbol: snapshot.symbol(found).into() })
}

fn recorded(ctx: &Ctx, account: &KeptAccount, trade: &EnteredTrade, date: Day) -> Result<Recorded, AppError> {
    if trade.what.trim().is_empty() {
        return Err(refused("The trade", "it says nothing of what was traded".to_owned()));
    }
    let own: Currency = account.currency.parse().map_err(|_| refused("The account", "its currency is not known".to_owned()))?;
    let listing = ctx.snapshot().find(&trade.what).map(|i| ctx.engine.as_of(date).company(i).listing_currency());
    let currency = trade.currency.or(listing).unwrap_or(own);
    let rate = ctx.engine.as_of(date).fx(currency, own);
    let rate = rate.ok_or_else(|| refused("The trade", format!("the dataset has no rate from {currency} to {own} on {date}")))?;
    for (name, x) in [("quantity", trade.quantity), ("price", trade.price), ("multiplier", trade.multiplier)] {
        if x <= 0.0 {
            return Err(refused("The trade", format!("its {name} is not above zero")));
        }
    }
    entered_figure("value", trade.quantity * trade.price * trade.multiplier * rate)?;
    if trade.fee < 0.0 {
        return Err(refused("The trade", "its fee is below zero".to_owned()));
    }
    Ok(Recorded {
        side: trade.side,
        security: security(ctx, &trade.what),
        quantity: entered_figure("quantity", trade.quantity)?,
        price: entered_figure("price", trade.price)?,
        multiplier: entered_figure("multiplier", trade.multiplier)?,
        currency,
        rate: decimal(rate),
        fee: entered_figure("fee", trade.fee)?,
        lots: trade.lots.clone(),
    })
}
