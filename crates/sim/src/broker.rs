//! The simulated broker: works orders session by session on the bars of the dataset, and books what splits, dividends and delistings
//! do to what is held.
//!
//! A session goes in this order: splits (holdings, then orders); dividends that go ex, for what was held at the close before; dividends
//! paid; orders, in the order in which they were given; delistings; orders that expire. What is given on a day is given after its
//! close and works from the next session on.

use artemon_core::{
    domain::{ActionKind, Day},
    ledger::{AccountBooks, AccountKind, At, Event, Good, Ledger, LedgerError, OpenOrder, Order, Security, SellRule, Side, What, decimal},
    panel::{AsOf, CompanyAt},
};
use rust_decimal::Decimal;
use serde::Deserialize;
use std::{collections::HashMap, sync::Arc};

/// How the broker works.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(deny_unknown_fields, default)]
pub struct Broker {
    /// Between what one buys and sells at, as a fraction of the price: half of it on either side of the open, at market only.
    pub spread: Decimal,
    /// Of a session's volume, as a fraction, that all orders in one security may take together.
    pub share_of_volume: Decimal,
    /// Of the value of each fill, as a fraction.
    pub fee: Decimal,
    /// Of each fill, in the account's currency.
    pub minimum_fee: Decimal,
}

impl Default for Broker {
    fn default() -> Broker {
        let thousandth = Decimal::new(1, 3);
        Broker { spread: thousandth, share_of_volume: Decimal::new(1, 1), fee: thousandth, minimum_fee: Decimal::ONE }
    }
}

/// A session to be worked.
#[derive(Clone, Copy, Debug)]
pub struct Session {
    #[allow(missing_docs)]
    pub day: Day,
    /// The session before.
    pub before: Day,
    /// The session after, where it is known: an order good until a day between the two expires with this one.
    pub next: Option<Day>,
}

impl Broker {
    /// Works a session of all simulated accounts; `market` holds its bars.
    ///
    /// # Errors
    /// When the books would contradict themselves, which is a mistake of the broker's.
    pub fn work(&self, ledger: &mut Ledger, market: AsOf<'_>, session: Session) -> Result<(), LedgerError> {
        let market = market.at(session.day);
        expire(ledger, market, session.before, session, is_over_before)?;
        let mut work = Work { broker: self, ledger, market, session, taken: HashMap::new() };
        work.splits()?;
        work.dividends_due()?;
        work.dividends_paid()?;
        work.orders()?;
        work.delistings()?;
        expire(work.ledger, market, session.day, session, ends_with)
    }

    /// The fee of a fill of this value.
    #[must_use]
    pub fn fee_of(&self, value: Decimal) -> Decimal {
        (value * self.fee).max(self.minimum_fee)
    }

    /// The most whole shares, up to a quantity, that cash pays for with the fee at a price in the account's currency.
    #[must_use]
    pub fn affordable(&self, cash: Decimal, price: Decimal, most: Decimal) -> Decimal {
        let costs = |n: Decimal| n * price + self.fee_of(n * price);
        let guess = (cash / (price * (Decimal::ONE + self.fee))).min((cash - self.minimum_fee) / price).floor();
        let mut n = guess.min(most).max(Decimal::ZERO);
        // Rounding of the division may be off by the last digit.
        while n > Decimal::ZERO && costs(n) > cash {
            n -= Decimal::ONE;
        }
        n
    }
}

/// Whether an order is over before a session begins: its last day has passed. Nothing tells on the day itself whether a session
/// comes before it.
const fn is_over_before(order: &OpenOrder, session: Session) -> bool {
    matches!(order.order.good, Good::Until(day) if day.epoch_days() < session.day.epoch_days())
}

/// Whether an order that worked in a session ends with it.
fn ends_with(order: &OpenOrder, session: Session) -> bool {
    match order.order.good {
        Good::Until(day) => day <= session.day || session.next.is_some_and(|next| day < next),
        Good::Day => true,
        Good::UntilCancelled => false,
    }
}

/// Ends orders of simulated accounts that were given before a session, on a day; each by its sell rule.
fn expire(
    ledger: &mut Ledger,
    market: AsOf<'_>,
    date: Day,
    session: Session,
    over: fn(&OpenOrder, Session) -> bool,
) -> Result<(), LedgerError> {
    let ended: Vec<(Arc<str>, OpenOrder)> = ledger
        .orders()
        .filter(|(account, o)| is_simulated(ledger, account) && o.given_on < session.day && over(o, session))
        .map(|(account, o)| (account.clone(), o.clone()))
        .collect();
    for (account, open) in ended {
        // Something may have been entered since then.
        let date = ledger.journal().last().map_or(date, |b| b.event.date.max(date));
        ledger.book(market, Event { date, account: account.clone(), what: What::OrderExpired { order: open.order.order.clone() } })?;
        sell_what_was_bought(ledger, market, date, &account, &open)?;
    }
    Ok(())
}

fn is_simulated(ledger: &Ledger, account: &str) -> bool {
    ledger.account(account).is_some_and(|a| a.account.kind == AccountKind::Simulated)
}

/// Gives the order that a purchase's sell rule asks for, for what was bought, once the purchase has ended.
///
/// # Errors
/// When the books would contradict themselves.
pub fn sell_what_was_bought(
    ledger: &mut Ledger,
    market: AsOf<'_>,
    date: Day,
    account: &Arc<str>,
    bought: &OpenOrder,
) -> Result<(), LedgerError> {
    let Some(order) = sale_of_what_was_bought(bought) else { return Ok(()) };
    ledger.book(market, Event { date, account: account.clone(), what: What::Order(order) }).map(drop)
}

/// The sale that a purchase's sell rule asks for, for what was bought of it; none without a rule or before anything was bought.
#[must_use]
pub fn sale_of_what_was_bought(bought: &OpenOrder) -> Option<Order> {
    let (rule, good) = bought.order.sell_rule.filter(|_| bought.filled > Decimal::ZERO)?;
    let limit = match rule {
        SellRule::Price(price) => price,
        SellRule::Gain(gain) => bought.paid / bought.filled * (Decimal::ONE + gain),
    };
    Some(Order {
        order: format!("{}-sell", bought.order.order).into(),
        side: Side::Sell,
        security: bought.order.security.clone(),
        at: At::Limit(limit),
        quantity: bought.filled,
        good,
        linked_to: Some(bought.order.order.clone()),
        sell_rule: None,
        lots: Vec::new(),
    })
}

struct Work<'a, 'b> {
    broker: &'b Broker,
    ledger: &'b mut Ledger,
    market: AsOf<'a>,
    session: Session,
    /// What orders have taken of each company's volume.
    taken: HashMap<Arc<str>, Decimal>,
}

impl<'a> Work<'a, '_> {
    fn book(&mut self, account: &Arc<str>, what: What) -> Result<(), LedgerError> {
        self.ledger.book(self.market, Event { date: self.session.day, account: account.clone(), what }).map(drop)
    }

    fn company(&self, security: &Security) -> Option<CompanyAt<'a>> {
        match security {
            Security::Listed { company, .. } => self.market.snapshot.find(company).map(|i| self.market.company(i)),
            Security::Other { .. } => None,
        }
    }

    /// Whether a day lies after the session before and not after this one.
    fn has_come(&self, day: Day) -> bool {
        day > self.session.before && day <= self.session.day
    }

    fn simulated(&self) -> impl Iterator<Item = &AccountBooks> {
        self.ledger.accounts().iter().filter(|a| a.account.kind == AccountKind::Simulated)
    }

    /// What simulated accounts hold of companies, by symbol, with how much.
    fn held(&self) -> Vec<(Arc<str>, Security, CompanyAt<'a>, Decimal)> {
        let mut all = Vec::new();
        for account in self.simulated() {
            let first = all.len();
            for p in account.positions.values() {
                if let Some(c) = self.company(&p.security) {
                    all.push((account.account.name.clone(), p.security.clone(), c, p.quantity()));
                }
            }
            all[first..].sort_by(|a: &(_, Security, _, _), b| a.1.name().cmp(b.1.name()));
        }
        all
    }

    fn open(&self) -> Vec<(Arc<str>, OpenOrder)> {
        let works = |(account, o): &(&Arc<str>, &OpenOrder)| is_simulated(self.ledger, account) && o.given_on < self.session.day;
        self.ledger.orders().filter(works).map(|(account, o)| (account.clone(), o.clone())).collect()
    }

    fn splits(&mut self) -> Result<(), LedgerError> {
        for (account, security, c, _) in self.held() {
            for (_, ratio) in c.splits().filter(|(ex, _)| self.has_come(*ex)).collect::<Vec<_>>() {
                self.book(&account, What::Split { security: security.clone(), ratio: decimal(ratio) })?;
            }
        }
        for (account, open) in self.open() {
            let Some(c) = self.company(&open.order.security) else { continue };
            for (_, ratio) in c.splits().filter(|(ex, _)| self.has_come(*ex)).collect::<Vec<_>>() {
                self.split_order(&account, &open.order.order, decimal(ratio))?;
            }
        }
        Ok(())
    }

    fn split_order(&mut self, account: &Arc<str>, order: &Arc<str>, ratio: Decimal) -> Result<(), LedgerError> {
        let Some(open) = self.ledger.order(order).cloned() else { return Ok(()) };
        let whole = open.order.side == Side::Buy;
        let left = if whole { (open.left * ratio).floor() } else { open.left * ratio };
        let limit = open.order.at.limit().map(|limit| limit / ratio);
        let adjusted = What::OrderAdjusted { order: order.clone(), ratio, left, limit };
        if left > Decimal::ZERO {
            return self.book(account, adjusted);
        }
        // What was bought of it stays, on the new basis.
        let why = "nothing left after the split".to_owned();
        let bought = OpenOrder { filled: open.filled * ratio, ..open };
        self.book(account, What::OrderCancelled { order: order.clone(), left, why })?;
        sell_what_was_bought(self.ledger, self.market, self.session.day, account, &bought)
    }

    /// What was held at the close before: nothing was traded yet in this session.
    fn dividends_due(&mut self) -> Result<(), LedgerError> {
        for (account, security, c, quantity) in self.held() {
            let Ok(all) = c.dividends() else { continue };
            for d in all.filter(|d| self.has_come(d.ex_date)).collect::<Vec<_>>() {
                let kind = if d.special { ActionKind::SpecialDividend } else { ActionKind::Dividend };
                let pay_date = d.pay_date.unwrap_or(d.ex_date);
                let (security, per_share) = (security.clone(), decimal(d.amount));
                self.book(&account, What::DividendDue { security, kind, quantity, per_share, pay_date })?;
            }
        }
        Ok(())
    }

    fn dividends_paid(&mut self) -> Result<(), LedgerError> {
        let paid = |a: &AccountBooks| {
            let due = a.due.iter().filter(|d| d.pay_date <= self.session.day).cloned();
            due.map(|d| (a.account.name.clone(), d)).collect::<Vec<_>>()
        };
        for (account, due) in self.simulated().flat_map(paid).collect::<Vec<_>>() {
            // One without a rate waits for it.
            let Some(rate) = self.rate(&account, &due.security) else { continue };
            let paid = What::DividendPaid { security: due.security, kind: due.kind, amount: due.amount, rate };
            self.book(&account, paid)?;
        }
        Ok(())
    }

    /// From the currency of a listing to that of an account.
    fn rate(&self, account: &str, security: &Security) -> Option<Decimal> {
        let to = self.ledger.account(account)?.account.currency;
        self.market.fx(self.company(security)?.listing_currency(), to).map(decimal)
    }

    fn orders(&mut self) -> Result<(), LedgerError> {
        for (account, open) in self.open() {
            if let Some((quantity, price, rate)) = self.filled(&account, &open) {
                let fee = self.broker.fee_of(quantity * price * rate);
                let order = open.order.order.clone();
                self.book(&account, What::Fill { order, quantity, price, rate, fee })?;
                *self.taken.entry(open.order.security.key().clone()).or_default() += quantity;
                if quantity == open.left {
                    let (filled, paid) = (open.filled + quantity, open.paid + quantity * price);
                    let bought = OpenOrder { filled, paid, ..open };
                    sell_what_was_bought(self.ledger, self.market, self.session.day, &account, &bought)?;
                }
            }
        }
        Ok(())
    }

    /// How much of an order is filled in this session, at what price and rate.
    fn filled(&self, account: &Arc<str>, open: &OpenOrder) -> Option<(Decimal, Decimal, Decimal)> {
        let c = self.company(&open.order.security)?;
        let bars = c.bars();
        let last = bars.len().checked_sub(1).filter(|_| bars.last_date() == Some(self.session.day))?;
        let price = self.price(open, decimal(bars.open(last)), decimal(bars.low(last)), decimal(bars.high(last)))?;
        // Without a price above zero nothing is bought or sold.
        let rate = self.rate(account, &open.order.security).filter(|rate| price * rate > Decimal::ZERO)?;
        let taken = self.taken.get(open.order.security.key()).copied().unwrap_or_default();
        let room = (self.broker.share_of_volume * decimal(bars.volume(last))).floor() - taken;
        let books = self.ledger.account(account)?;
        let most = match open.order.side {
            Side::Buy => self.broker.affordable(books.cash, price * rate, open.left.min(room)),
            Side::Sell => {
                let held = books.positions.get(open.order.security.key())?.quantity();
                open.left.min(room).min(held)
            }
        };
        (most > Decimal::ZERO).then_some((most, price, rate))
    }

    /// At what price an order trades in the session, if at all: a limit at the open where that is better.
    fn price(&self, open: &OpenOrder, opening: Decimal, low: Decimal, high: Decimal) -> Option<Decimal> {
        let half = self.broker.spread / Decimal::TWO;
        match (open.order.side, open.order.at) {
            (Side::Buy, At::Market) => Some(opening * (Decimal::ONE + half)),
            (Side::Sell, At::Market) => Some(opening * (Decimal::ONE - half)),
            (Side::Buy, At::Limit(limit)) => (low <= limit).then(|| limit.min(opening)),
            (Side::Sell, At::Limit(limit)) => (high >= limit).then(|| limit.max(opening)),
        }
    }

    fn delistings(&mut self) -> Result<(), LedgerError> {
        let left = |c: &CompanyAt<'_>| c.listing().and_then(|l| l.delisted_on).is_some_and(|d| d <= self.session.day);
        let gone: Vec<_> = self.open().into_iter().filter(|(_, o)| self.company(&o.order.security).is_some_and(|c| left(&c))).collect();
        let held: Vec<_> = self.held().into_iter().filter(|h| left(&h.2)).collect();
        for (account, open) in gone {
            self.book(&account, What::OrderCancelled { order: open.order.order, left: open.left, why: "delisted".to_owned() })?;
        }
        for (account, security, c, _) in held {
            let (Ok(close), Some(rate)) = (c.price(), self.rate(&account, &security)) else { continue };
            let on_leaving = c.listing().and_then(|l| l.delisting_return).unwrap_or_default();
            let price = decimal(close) * (Decimal::ONE + decimal(on_leaving));
            self.book(&account, What::Delisted { security, price, rate })?;
        }
        Ok(())
    }
}
