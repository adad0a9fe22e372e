//! An event put into the books: everything is checked before anything changes.

use super::{
    amounts::Sum,
    books::{AccountBooks, Due, Effect, Ledger, OpenOrder},
    event::{AccountKind, At, Good, LotRule, Order, Recorded, Security, SellRule, Side, What},
    lots::{Lot, Position},
};
use crate::domain::{ActionKind, Day};
use rust_decimal::Decimal;
use std::sync::Arc;

/// Why an event cannot be booked: the books would contradict themselves.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum LedgerError {
    #[allow(missing_docs)]
    #[error("there is no account \"{0}\"")]
    UnknownAccount(Arc<str>),
    #[allow(missing_docs)]
    #[error("there is no open order \"{0}\"")]
    UnknownOrder(Arc<str>),
    #[allow(missing_docs)]
    #[error("there is an order \"{0}\" already")]
    OrderTwice(Arc<str>),
    /// More was sold than there is.
    #[error("{account} holds {held} of {security}, and {sold} are to be sold")]
    #[allow(missing_docs)]
    MoreThanHeld { account: Arc<str>, security: Arc<str>, held: Decimal, sold: Decimal },
    #[allow(missing_docs)]
    #[error("{account} holds no {security}")]
    NotHeld { account: Arc<str>, security: Arc<str> },
    /// More was paid than there is.
    #[error("{account} has {cash} in cash, and {paid} are to be paid")]
    #[allow(missing_docs)]
    MoreThanCash { account: Arc<str>, cash: Decimal, paid: Decimal },
    /// More was filled than is left of an order.
    #[error("{left} are left of the order \"{order}\", and {filled} are to be filled")]
    #[allow(missing_docs)]
    MoreThanLeft { order: Arc<str>, left: Decimal, filled: Decimal },
    #[allow(missing_docs)]
    #[error("no such dividend of {0} is due")]
    NotDue(Arc<str>),
    #[allow(missing_docs)]
    #[error("{0} must be above zero")]
    NotPositive(&'static str),
    /// Days go forward.
    #[error("{0} is before {1}, the day of the event before")]
    Backwards(Day, Day),
}

/// An event that is being booked: everything is checked before anything changes.
pub(super) struct Booking<'l> {
    pub(super) ledger: &'l mut Ledger,
    /// The place of the account.
    pub(super) at: usize,
    pub(super) to_base: Option<Decimal>,
    pub(super) n: u64,
    pub(super) date: Day,
}

impl Booking<'_> {
    pub(super) fn book(mut self, what: &What) -> Result<Effect, LedgerError> {
        Ok(match what {
            What::Deposit { amount } => self.deposit(*amount)?,
            What::Withdrawal { amount } => self.withdraw(*amount)?,
            What::Order(order) => self.order(order)?,
            What::Fill { order, quantity, price, rate, fee } => self.fill(order, *quantity, *price, *rate, *fee)?,
            What::OrderAdjusted { order, ratio, left, limit } => self.adjust(order, *ratio, *left, *limit)?,
            What::OrderCancelled { order, left, .. } => Effect { left: Some(*left), ..self.close(order)? },
            What::OrderExpired { order } => self.close(order)?,
            What::Split { security, ratio } => self.split(security, *ratio)?,
            What::DividendDue { security, kind, quantity, per_share, pay_date } => {
                let due = Due { security: security.clone(), kind: *kind, amount: quantity * per_share, pay_date: *pay_date };
                self.books().due.push(due);
                Effect::default()
            }
            What::DividendPaid { security, kind, amount, rate } => self.paid(security, *kind, *amount, *rate)?,
            What::Delisted { security, price, rate } => self.delisted(security, *price, *rate)?,
            What::Recorded(trade) => self.recorded(trade)?,
            What::RecordedIncome { security, amount } => {
                self.receive(security, *amount);
                self.cash()
            }
            What::RecordedPrice { security, price } => self.price(security, *price)?,
            What::CapitalReturned { security, amount } => self.capital_returned(security, *amount)?,
            What::OrderChanged { order, limit, left, good } => self.change(order, *limit, *left, *good)?,
        })
    }

    fn cash(&mut self) -> Effect {
        Effect { cash: Some(self.books().cash), ..Effect::default() }
    }

    fn books(&mut self) -> &mut AccountBooks {
        &mut self.ledger.accounts[self.at]
    }

    fn sum(&self, own: Decimal) -> Sum {
        Sum::at(own, self.to_base)
    }

    fn deposit(&mut self, amount: Decimal) -> Result<Effect, LedgerError> {
        above_zero(amount, "a deposit")?;
        let sum = self.sum(amount);
        let books = self.books();
        books.cash += amount;
        books.paid_in += sum;
        Ok(self.cash())
    }

    fn withdraw(&mut self, amount: Decimal) -> Result<Effect, LedgerError> {
        above_zero(amount, "a withdrawal")?;
        self.can_pay(amount)?;
        let sum = self.sum(amount);
        let books = self.books();
        books.cash -= amount;
        books.paid_in -= sum;
        Ok(self.cash())
    }

    /// An account that is kept by hand may go below zero.
    fn can_pay(&mut self, paid: Decimal) -> Result<(), LedgerError> {
        let books = self.books();
        if books.account.kind == AccountKind::ByHand || books.cash >= paid {
            return Ok(());
        }
        Err(LedgerError::MoreThanCash { account: books.account.name.clone(), cash: books.cash, paid })
    }

    fn order(&mut self, order: &Order) -> Result<Effect, LedgerError> {
        above_zero(order.quantity, "the quantity of an order")?;
        if let At::Limit(limit) = order.at {
            above_zero(limit, "a limit")?;
        }
        if !self.ledger.given.insert(order.order.clone()) {
            return Err(LedgerError::OrderTwice(order.order.clone()));
        }
        let account = self.books().account.name.clone();
        let (filled, paid) = (Decimal::ZERO, Decimal::ZERO);
        let open = OpenOrder { order: order.clone(), given_on: self.date, left: order.quantity, filled, paid };
        self.ledger.orders.push((account, open));
        Ok(Effect::default())
    }

    fn place(&mut self, order: &Arc<str>) -> Result<usize, LedgerError> {
        let name = self.books().account.name.clone();
        let found = self.ledger.orders.iter().position(|(account, o)| *account == name && o.order.order == *order);
        found.ok_or_else(|| LedgerError::UnknownOrder(order.clone()))
    }

    fn fill(&mut self, order: &Arc<str>, quantity: Decimal, price: Decimal, rate: Decimal, fee: Decimal) -> Result<Effect, LedgerError> {
        above_zero(quantity, "a fill")?;
        let place = self.place(order)?;
        let open = &self.ledger.orders[place].1;
        if quantity > open.left {
            return Err(LedgerError::MoreThanLeft { order: order.clone(), left: open.left, filled: quantity });
        }
        let given = open.order.clone();
        let value = quantity * price * rate;
        let realised = match given.side {
            Side::Buy => {
                self.can_pay(value + fee)?;
                self.bought(&given.security, quantity, value, fee);
                None
            }
            Side::Sell => Some(self.sold(&given.security, quantity, &given.lots, value, fee)?),
        };
        let open = &mut self.ledger.orders[place].1;
        open.left -= quantity;
        open.filled += quantity;
        open.paid += quantity * price;
        let left = open.left;
        if left.is_zero() {
            self.ledger.orders.remove(place);
        }
        Ok(Effect { realised, left: Some(left), filled: Some((given.side, given.security)), ..self.cash() })
    }

    fn bought(&mut self, security: &Security, quantity: Decimal, value: Decimal, fee: Decimal) {
        let lot = Lot { event: self.n, date: self.date, quantity, cost: self.sum(value + fee) };
        let books = self.books();
        books.cash -= value + fee;
        books.fees += fee;
        let rule = books.account.lots;
        let empty = || Position { security: security.clone(), lots: Vec::new(), recorded: None };
        books.positions.entry(security.key().clone()).or_insert_with(empty).buy(rule, lot);
    }

    /// Takes what is sold from the lots; gives what was gained.
    fn sold(&mut self, security: &Security, quantity: Decimal, lots: &[u64], value: Decimal, fee: Decimal) -> Result<Sum, LedgerError> {
        let proceeds = self.sum(value - fee);
        let books = self.books();
        let named = if books.account.lots == LotRule::Average { &[] } else { lots };
        let held = books.positions.get(security.key()).map_or(Decimal::ZERO, Position::quantity);
        if quantity > held {
            let (account, security) = (books.account.name.clone(), security.name().clone());
            return Err(LedgerError::MoreThanHeld { account, security, held, sold: quantity });
        }
        let Some(position) = books.positions.get_mut(security.key()) else { return Ok(Sum::default()) };
        let gain = proceeds - position.sell(quantity, named);
        if position.lots.is_empty() {
            books.positions.remove(security.key());
        }
        books.cash += value - fee;
        books.fees += fee;
        books.realised += gain;
        books.realised_of.entry(security.key().clone()).or_insert_with(|| (security.clone(), Sum::default())).1 += gain;
        Ok(gain)
    }

    fn adjust(&mut self, order: &Arc<str>, ratio: Decimal, left: Decimal, limit: Option<Decimal>) -> Result<Effect, LedgerError> {
        above_zero(ratio, "the ratio of a split")?;
        let place = self.place(order)?;
        let open = &mut self.ledger.orders[place].1;
        open.left = left;
        open.filled *= ratio;
        if let Some(limit) = limit {
            open.order.at = At::Limit(limit);
        }
        if let Some((SellRule::Price(price), _)) = &mut open.order.sell_rule {
            *price /= ratio;
        }
        Ok(Effect { left: Some(left), ..Effect::default() })
    }

    /// It keeps its place among the orders.
    fn change(&mut self, order: &Arc<str>, limit: Option<Decimal>, left: Decimal, good: Good) -> Result<Effect, LedgerError> {
        above_zero(left, "the quantity of an order")?;
        if let Some(limit) = limit {
            above_zero(limit, "a limit")?;
        }
        let place = self.place(order)?;
        let open = &mut self.ledger.orders[place].1;
        open.order.at = limit.map_or(At::Market, At::Limit);
        (open.left, open.order.good) = (left, good);
        Ok(Effect { left: Some(left), ..Effect::default() })
    }

    fn close(&mut self, order: &Arc<str>) -> Result<Effect, LedgerError> {
        let place = self.place(order)?;
        let (_, open) = self.ledger.orders.remove(place);
        Ok(Effect { left: Some(open.left), ..Effect::default() })
    }

    fn split(&mut self, security: &Security, ratio: Decimal) -> Result<Effect, LedgerError> {
        above_zero(ratio, "the ratio of a split")?;
        let position = self.books().positions.get_mut(security.key());
        let quantity = position.map(|p| {
            p.split(ratio);
            p.quantity()
        });
        Ok(Effect { quantity, ..Effect::default() })
    }

    fn receive(&mut self, security: &Security, amount: Decimal) {
        let sum = self.sum(amount);
        let books = self.books();
        books.cash += amount;
        books.income += sum;
        books.income_of.entry(security.key().clone()).or_insert_with(|| (security.clone(), Sum::default())).1 += sum;
    }

    fn paid(&mut self, security: &Security, kind: ActionKind, amount: Decimal, rate: Decimal) -> Result<Effect, LedgerError> {
        let books = self.books();
        let due = books.due.iter().position(|d| d.security.key() == security.key() && d.kind == kind && d.amount == amount);
        let due = due.ok_or_else(|| LedgerError::NotDue(security.name().clone()))?;
        books.due.remove(due);
        self.receive(security, amount * rate);
        Ok(self.cash())
    }

    fn delisted(&mut self, security: &Security, price: Decimal, rate: Decimal) -> Result<Effect, LedgerError> {
        let quantity = self.books().positions.get(security.key()).map_or(Decimal::ZERO, Position::quantity);
        let realised = self.sold(security, quantity, &[], quantity * price * rate, Decimal::ZERO)?;
        Ok(Effect { realised: Some(realised), quantity: Some(quantity), ..self.cash() })
    }

    fn recorded(&mut self, trade: &Recorded) -> Result<Effect, LedgerError> {
        above_zero(trade.quantity, "the quantity of a trade")?;
        let realised = match trade.side {
            Side::Buy => {
                self.can_pay(trade.value() + trade.fee)?;
                self.bought(&trade.security, trade.quantity, trade.value(), trade.fee);
                None
            }
            Side::Sell => Some(self.sold(&trade.security, trade.quantity, &trade.lots, trade.value(), trade.fee)?),
        };
        if let Some(position) = self.books().positions.get_mut(trade.security.key()) {
            position.recorded = Some((trade.price, trade.multiplier, trade.currency));
        }
        Ok(Effect { realised, ..self.cash() })
    }

    /// What comes back above the cost is a gain.
    fn capital_returned(&mut self, security: &Security, amount: Decimal) -> Result<Effect, LedgerError> {
        above_zero(amount, "a return of capital")?;
        let returned = self.sum(amount);
        let account = self.books().account.name.clone();
        let not_held = || LedgerError::NotHeld { account, security: security.name().clone() };
        let position = self.books().positions.get_mut(security.key()).ok_or_else(not_held)?;
        let gain = returned - position.make_cheaper(returned);
        let books = self.books();
        books.cash += amount;
        books.realised += gain;
        if !gain.own.is_zero() {
            books.realised_of.entry(security.key().clone()).or_insert_with(|| (security.clone(), Sum::default())).1 += gain;
        }
        Ok(Effect { realised: Some(gain), ..self.cash() })
    }

    fn price(&mut self, security: &Security, price: Decimal) -> Result<Effect, LedgerError> {
        let account = self.books().account.name.clone();
        let refused = || LedgerError::NotHeld { account, security: security.name().clone() };
        let position = self.books().positions.get_mut(security.key()).ok_or_else(refused)?;
        if let Some(recorded) = &mut position.recorded {
            recorded.0 = price;
        }
        Ok(Effect::default())
    }
}

fn above_zero(x: Decimal, what: &'static str) -> Result<(), LedgerError> {
    if x > Decimal::ZERO { Ok(()) } else { Err(LedgerError::NotPositive(what)) }
}
