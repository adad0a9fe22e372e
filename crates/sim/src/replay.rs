//! A ledger worked from a document: what is entered, and what the broker makes of it session by session.

use crate::broker::{Broker, Session, sell_what_was_bought};
use artemon_core::{
    domain::Day,
    engine::Context,
    index_levels::index_levels,
    ledger::{
        At, AtWord, Entry, Event, Instruction, JournalLine, Ledger, LedgerDocument, LedgerError, Order, Position, Quantity, Recorded,
        Report, Security, Side, Traded, Wanted, What, decimal, reports, sell_rule_of,
    },
    panel::{AsOf, CompanyAt},
};
use rust_decimal::Decimal;
use serde::Serialize;
use std::sync::Arc;

/// Why a document cannot be worked.
#[derive(Debug, thiserror::Error)]
pub enum ReplayError {
    /// No company has the symbol.
    #[error("entry {entry}: no company has the symbol \"{symbol}\"")]
    #[allow(missing_docs)]
    Unknown { entry: usize, symbol: String },
    /// What is entered is not whole.
    #[error("entry {entry}: {problem}")]
    #[allow(missing_docs)]
    Unclear { entry: usize, problem: &'static str },
    /// The books refuse it.
    #[error("entry {entry}: {error}")]
    #[allow(missing_docs)]
    Refused { entry: usize, error: LedgerError },
    /// The broker contradicts the books.
    #[error("{0}: {1}")]
    Broken(Day, LedgerError),
}

/// What came of a document.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct Replayed {
    pub journal: Vec<JournalLine>,
    pub reports: Vec<Report>,
}

/// Works a document, and tells the accounts on the days that it asks for.
///
/// # Errors
/// An entry that names what is not there, or that the books refuse.
pub fn replay(context: &Context, document: &LedgerDocument<Broker>) -> Result<Replayed, ReplayError> {
    let ledger = worked(context, document)?;
    let index = |days: &[Day]| index_levels(context, document.index.as_deref()?, days);
    let reports = reports(&ledger, context.as_of(document.to), &document.report, index);
    Ok(Replayed { journal: ledger.journal().iter().map(JournalLine::of).collect(), reports })
}

/// The ledger at the end of a document.
///
/// # Errors
/// As [`replay`].
pub fn worked(context: &Context, document: &LedgerDocument<Broker>) -> Result<Ledger, ReplayError> {
    let mut ledger = Ledger::new(document.accounts.iter().cloned());
    let market = context.as_of(document.to);
    let Some(first) = document.entries.first().map(|e| e.date) else { return Ok(ledger) };
    let sessions: Vec<Day> = context.snapshot().sessions_after(first).into_iter().collect();
    let mut entries = document.entries.iter().enumerate().peekable();
    let mut before = first;
    for (i, day) in sessions.iter().enumerate().take_while(|(_, d)| **d <= document.to) {
        while let Some((n, entry)) = entries.next_if(|(_, e)| e.date < *day) {
            enter(&mut ledger, market, n + 1, entry)?;
        }
        let session = Session { day: *day, before, next: sessions.get(i + 1).copied() };
        document.broker.work(&mut ledger, market, session).map_err(|e| ReplayError::Broken(*day, e))?;
        before = *day;
    }
    for (n, entry) in entries.filter(|(_, e)| e.date <= document.to) {
        enter(&mut ledger, market, n + 1, entry)?;
    }
    Ok(ledger)
}

/// Enters what is done on a day, after its close.
fn enter(ledger: &mut Ledger, market: AsOf<'_>, n: usize, entry: &Entry) -> Result<(), ReplayError> {
    let market = market.at(entry.date);
    let refused = |error| ReplayError::Refused { entry: n, error };
    let ended = match &entry.what {
        Instruction::Cancel { order } => ledger.order(order).cloned(),
        _ => None,
    };
    let what = Entered { ledger, market, n, entry }.what()?;
    ledger.book(market, Event { date: entry.date, account: entry.account.clone(), what }).map_err(refused)?;
    match ended {
        Some(open) => sell_what_was_bought(ledger, market, entry.date, &entry.account, &open).map_err(refused),
        None => Ok(()),
    }
}

struct Entered<'a, 'b> {
    ledger: &'b Ledger,
    market: AsOf<'a>,
    n: usize,
    entry: &'b Entry,
}

impl<'a> Entered<'a, '_> {
    fn what(&self) -> Result<What, ReplayError> {
        let side = self.entry.what.side().unwrap_or(Side::Buy);
        match &self.entry.what {
            Instruction::Deposit { amount } => Ok(What::Deposit { amount: *amount }),
            Instruction::Withdraw { amount } => Ok(What::Withdrawal { amount: *amount }),
            Instruction::Buy(wanted) | Instruction::Sell(wanted) => self.order(side, wanted).map(What::Order),
            Instruction::Cancel { order } => {
                let left = self.ledger.order(order).map(|o| o.left).unwrap_or_default();
                Ok(What::OrderCancelled { order: order.clone(), left, why: "by hand".to_owned() })
            }
            Instruction::RecordBuy(traded) | Instruction::RecordSell(traded) => self.recorded(side, traded).map(What::Recorded),
            Instruction::RecordIncome { what, amount } => Ok(What::RecordedIncome { security: other(what), amount: *amount }),
            Instruction::RecordPrice { what, price } => Ok(What::RecordedPrice { security: other(what), price: *price }),
        }
    }

    fn unclear(&self, problem: &'static str) -> ReplayError {
        ReplayError::Unclear { entry: self.n, problem }
    }

    fn order(&self, side: Side, wanted: &Wanted) -> Result<Order, ReplayError> {
        let unknown = || ReplayError::Unknown { entry: self.n, symbol: wanted.symbol.clone() };
        let c = self.market.snapshot.find(&wanted.symbol).map(|i| self.market.company(i)).ok_or_else(unknown)?;
        let at = match (wanted.at, wanted.limit) {
            (AtWord::Market, _) => At::Market,
            (AtWord::Limit, Some(limit)) => At::Limit(limit),
            (AtWord::Limit, None) => return Err(self.unclear("an order at a limit needs one")),
        };
        Ok(Order {
            order: wanted.order.clone(),
            side,
            security: Security::Listed { company: c.company().id.clone(), symbol: c.symbol().into() },
            at,
            quantity: self.quantity(wanted, &c, at)?,
            good: wanted.good,
            linked_to: None,
            sell_rule: wanted.sell_rule.as_ref().and_then(sell_rule_of),
            lots: wanted.lots.clone(),
        })
    }

    /// As it is told; all that is held; or what an amount of the account's currency comes to at the limit or the last close.
    fn quantity(&self, wanted: &Wanted, c: &CompanyAt<'a>, at: At) -> Result<Decimal, ReplayError> {
        let account = self.ledger.account(&self.entry.account);
        match (wanted.quantity, wanted.amount) {
            (Some(Quantity::Of(n)), _) => Ok(n),
            (Some(Quantity::All), _) => {
                let held = account.and_then(|a| a.positions.get(&c.company().id)).map(Position::quantity);
                held.ok_or_else(|| self.unclear("nothing of it is held"))
            }
            (None, Some(amount)) => {
                let rate = account.and_then(|a| self.market.fx(a.account.currency, c.listing_currency()));
                let price = at.limit().or_else(|| c.price().ok().map(decimal)).filter(|p| *p > Decimal::ZERO);
                let (Some(rate), Some(price)) = (rate, price) else {
                    return Err(self.unclear("the amount comes to no quantity without a rate and a price"));
                };
                Ok((amount * decimal(rate) / price).floor())
            }
            (None, None) => Err(self.unclear("an order needs a quantity or an amount")),
        }
    }

    fn recorded(&self, side: Side, traded: &Traded) -> Result<Recorded, ReplayError> {
        let own = self.ledger.account(&self.entry.account).map(|a| a.account.currency);
        let currency = traded.currency.or(own).ok_or_else(|| self.unclear("there is no such account"))?;
        let rate = own.and_then(|own| self.market.fx(currency, own)).ok_or_else(|| self.unclear("there is no rate to its currency"))?;
        Ok(Recorded {
            side,
            security: other(&traded.what),
            quantity: traded.quantity,
            price: traded.price,
            multiplier: traded.multiplier.unwrap_or(Decimal::ONE),
            currency,
            rate: decimal(rate),
            fee: traded.fee.unwrap_or_default(),
            lots: traded.lots.clone(),
        })
    }
}

fn other(what: &Arc<str>) -> Security {
    Security::Other { what: what.clone() }
}
