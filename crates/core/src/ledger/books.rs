//! What follows from the journal: cash, positions, open orders, dividends due, what was gained and received.

use super::{
    amounts::Sum,
    booking::{Booking, LedgerError},
    event::{Account, Event, Order, Security, Side},
    lots::Position,
};
use crate::{
    domain::{ActionKind, Day},
    panel::AsOf,
};
use rust_decimal::Decimal;
use std::{
    collections::{BTreeMap, HashSet},
    sync::Arc,
};

/// An order that works.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct OpenOrder {
    /// As it was given; limit and sell rule on the split basis of the books.
    pub order: Order,
    #[allow(missing_docs)]
    pub given_on: Day,
    /// What is left of it.
    pub left: Decimal,
    /// What was filled, on the split basis of the books.
    pub filled: Decimal,
    /// Σ quantity × price of the fills, in the listing's currency.
    pub paid: Decimal,
}

/// A dividend that went ex and is not paid yet.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Due {
    #[allow(missing_docs)]
    pub security: Security,
    #[allow(missing_docs)]
    pub kind: ActionKind,
    /// In the listing's currency.
    pub amount: Decimal,
    #[allow(missing_docs)]
    pub pay_date: Day,
}

/// The books of one account.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct AccountBooks {
    #[allow(missing_docs)]
    pub account: Account,
    #[allow(missing_docs)]
    pub cash: Decimal,
    /// Deposits less withdrawals.
    pub paid_in: Sum,
    /// Gains on what was sold.
    pub realised: Sum,
    /// Dividends and the like.
    pub income: Sum,
    #[allow(missing_docs)]
    pub fees: Decimal,
    /// By what tells securities apart.
    pub positions: BTreeMap<Arc<str>, Position>,
    /// Dividends to be paid, in the order in which they went ex.
    pub due: Vec<Due>,
    /// Gains by security, of all that was ever sold.
    pub realised_of: BTreeMap<Arc<str>, (Security, Sum)>,
    /// Income by security.
    pub income_of: BTreeMap<Arc<str>, (Security, Sum)>,
}

/// An event with what it did.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Booked {
    /// What tells it from others: counted from 1 in the order in which events were written down.
    pub n: u64,
    #[allow(missing_docs)]
    pub event: Event,
    /// From the account's currency to the base currency, on the day; `None` without a rate.
    pub to_base: Option<Decimal>,
    #[allow(missing_docs)]
    pub effect: Effect,
}

/// What an event did.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Effect {
    /// The account's cash after it, where it moved any.
    pub cash: Option<Decimal>,
    /// The gain of a sale.
    pub realised: Option<Sum>,
    /// How much is held after a split, was held before a delisting.
    pub quantity: Option<Decimal>,
    /// What is left of the order.
    pub left: Option<Decimal>,
    /// Of a fill: the side and the security of its order.
    pub filled: Option<(Side, Security)>,
}

/// A journal with the books that follow from it.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Ledger {
    pub(super) accounts: Vec<AccountBooks>,
    /// Those that work, in the order in which they were given.
    pub(super) orders: Vec<(Arc<str>, OpenOrder)>,
    pub(super) given: HashSet<Arc<str>>,
    journal: Vec<Booked>,
    /// The highest number that was given.
    last: u64,
}

impl Ledger {
    /// With these accounts and nothing in them.
    #[must_use]
    pub fn new(accounts: impl IntoIterator<Item = Account>) -> Ledger {
        let books = |account| AccountBooks {
            account,
            cash: Decimal::ZERO,
            paid_in: Sum::default(),
            realised: Sum::default(),
            income: Sum::default(),
            fees: Decimal::ZERO,
            positions: BTreeMap::new(),
            due: Vec::new(),
            realised_of: BTreeMap::new(),
            income_of: BTreeMap::new(),
        };
        Ledger { accounts: accounts.into_iter().map(books).collect(), ..Ledger::default() }
    }

    /// The same, whose next event has the number after this one.
    #[must_use]
    pub fn after(self, last: u64) -> Ledger {
        Ledger { last: last.max(self.last), ..self }
    }

    /// The accounts' books.
    #[must_use]
    pub fn accounts(&self) -> &[AccountBooks] {
        &self.accounts
    }

    /// The books of an account.
    #[must_use]
    pub fn account(&self, name: &str) -> Option<&AccountBooks> {
        self.accounts.iter().find(|a| &*a.account.name == name)
    }

    /// Orders that work with their accounts, in the order in which they were given.
    pub fn orders(&self) -> impl Iterator<Item = (&Arc<str>, &OpenOrder)> {
        self.orders.iter().map(|(account, order)| (account, order))
    }

    /// An order that works, by its name.
    #[must_use]
    pub fn order(&self, name: &str) -> Option<&OpenOrder> {
        self.orders.iter().map(|o| &o.1).find(|o| &*o.order.order == name)
    }

    /// All that happened, oldest first.
    #[must_use]
    pub fn journal(&self) -> &[Booked] {
        &self.journal
    }

    /// Books an event at the rates of its day; nothing changes when it is refused.
    ///
    /// # Errors
    /// When the books would contradict themselves.
    pub fn book(&mut self, market: AsOf<'_>, event: Event) -> Result<&Booked, LedgerError> {
        self.book_as(self.last + 1, market, event)
    }

    /// The same with a number of its own, unlike that of any other.
    ///
    /// # Errors
    /// As [`Ledger::book`].
    pub fn book_as(&mut self, n: u64, market: AsOf<'_>, event: Event) -> Result<&Booked, LedgerError> {
        if let Some(last) = self.journal.last().filter(|b| b.event.date > event.date) {
            return Err(LedgerError::Backwards(event.date, last.event.date));
        }
        let at = self.accounts.iter().position(|a| a.account.name == event.account);
        let at = at.ok_or_else(|| LedgerError::UnknownAccount(event.account.clone()))?;
        let to_base = market.at(event.date).fx(self.accounts[at].account.currency, market.base).map(super::decimal);
        let effect = Booking { ledger: self, at, to_base, n, date: event.date }.book(&event.what)?;
        self.last = self.last.max(n);
        self.journal.push(Booked { n, event, to_base, effect });
        Ok(&self.journal[self.journal.len() - 1])
    }
}
