//! The account of a backtest, session by session: what is bought, held, paid out and sold.

use super::{
    calendar::Calendar,
    decide::Decision,
    document::{Backtest, Exit},
    exits::Exits,
    priced::{Entry, Priced, Prices},
    weights::{after_costs, weights},
};
use crate::{domain::Day, panel::CompanyIndex};
use serde::{Deserialize, Serialize};
use std::{
    collections::{BTreeMap, HashSet},
    sync::Arc,
};

/// Why something was traded, and what ended a pick.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub enum Reason {
    Rebalance,
    /// Bought late, at the first close after the trade session.
    FirstClose,
    Gain,
    AtValue,
    Months,
    Delisted,
    /// The backtest ended.
    End,
}

/// A purchase or sale.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Trade {
    pub session: usize,
    pub company: CompanyIndex,
    /// In the base currency, a sale negative.
    pub amount: f64,
    pub why: Reason,
}

/// A company bought at one rebalance, until that is ended: by the next one, by its exit, or with the backtest.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Pick {
    pub company: CompanyIndex,
    /// The rebalance, counted from 0.
    pub rebalance: usize,
    pub from: usize,
    pub to: usize,
    /// What was put in, without costs.
    pub start: f64,
    /// What it came to, without costs.
    pub end: f64,
    pub ended_by: Reason,
}

/// A pick that could not be bought on its day.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Note {
    pub rebalance: usize,
    pub company: CompanyIndex,
    /// When it was bought, or why it was not.
    pub entry: Entry,
}

/// All that happened.
#[derive(Debug, Default)]
#[allow(missing_docs)]
pub struct Story {
    /// The value at each session's close.
    pub curve: Vec<f64>,
    /// The cash of each session's close, and how many companies are held.
    pub cash: Vec<f64>,
    pub held: Vec<usize>,
    pub trades: Vec<Trade>,
    /// What was paid for those that left the exchange: session, company, amount.
    pub payouts: Vec<(usize, CompanyIndex, f64)>,
    pub picks: Vec<Pick>,
    pub notes: Vec<Note>,
    pub cost_paid: f64,
    /// After each trade session: who is held, or waits to be bought.
    pub portfolios: Vec<Vec<CompanyIndex>>,
    /// What was bought and sold at each session with trades, with the value before; the first trade session is not among them.
    pub turned: Vec<(f64, f64)>,
}

/// A holding.
#[derive(Clone, Debug)]
struct Held {
    priced: Arc<Priced>,
    units: f64,
    pick: usize,
    /// What its pick was decided upon, for exits by months.
    months_due: Option<usize>,
    /// The session from which on it is to be sold, and why.
    due: Option<(usize, Reason)>,
}

impl Held {
    fn value(&self, session: usize) -> f64 {
        self.units * self.priced.unit(session)
    }
}

/// A purchase that waits for its first close.
#[derive(Clone, Debug)]
struct Waiting {
    company: CompanyIndex,
    priced: Arc<Priced>,
    amount: f64,
    session: usize,
    rebalance: usize,
}

/// The account while it runs.
pub(super) struct Account<'r> {
    settings: &'r Backtest,
    calendar: &'r Calendar,
    decisions: &'r [Arc<Decision>],
    prices: &'r Prices<'r>,
    exits: Exits<'r>,
    cash: f64,
    held: BTreeMap<CompanyIndex, Held>,
    waiting: Vec<Waiting>,
    known: BTreeMap<CompanyIndex, Option<Arc<Priced>>>,
    /// Sold in the running session.
    sold_now: HashSet<CompanyIndex>,
    story: Story,
}

impl<'r> Account<'r> {
    pub(super) fn new(
        settings: &'r Backtest,
        calendar: &'r Calendar,
        decisions: &'r [Arc<Decision>],
        prices: &'r Prices<'r>,
        exits: Exits<'r>,
    ) -> Account<'r> {
        let (held, waiting, known) = (BTreeMap::new(), Vec::new(), BTreeMap::new());
        let story = Story::default();
        Account { settings, calendar, decisions, prices, exits, cash: 1.0, held, waiting, known, sold_now: HashSet::new(), story }
    }

    /// Runs over all sessions.
    pub(super) fn run(mut self) -> Story {
        let last = self.calendar.last();
        let mut next = 0;
        for s in 0..=last {
            self.sold_now.clear();
            self.pay_out(s);
            self.sell_due(s);
            if self.calendar.rebalances.get(next).is_some_and(|r| r.trade == s) {
                self.rebalance(next);
                next += 1;
            }
            self.buy_waiting(s);
            self.close(s);
        }
        let ends: Vec<(usize, f64)> = self.held.values().map(|h| (h.pick, h.value(last))).collect();
        ends.into_iter().for_each(|(pick, end)| self.end_pick(pick, last, end, Reason::End));
        self.story
    }

    fn day(&self, session: usize) -> Day {
        self.calendar.sessions[session]
    }

    fn priced(&mut self, company: CompanyIndex) -> Option<Arc<Priced>> {
        let prices = self.prices;
        self.known.entry(company).or_insert_with(|| prices.of(company).map(Arc::new)).clone()
    }

    fn set_aside(&self) -> f64 {
        self.waiting.iter().map(|w| w.amount).sum()
    }

    fn value(&self, session: usize) -> f64 {
        self.cash + self.set_aside() + self.held.values().map(|h| h.value(session)).sum::<f64>()
    }

    /// Those that left the exchange pay their last close with its return, free of cost.
    fn pay_out(&mut self, s: usize) {
        let leaving: Vec<CompanyIndex> = self.held.iter().filter(|(_, h)| h.priced.left_by(s)).map(|(i, _)| *i).collect();
        for company in leaving {
            let Some(h) = self.held.remove(&company) else { continue };
            let paid = h.value(s) * h.priced.left().map_or(1.0, |left| left.1);
            self.cash += paid;
            self.story.payouts.push((s, company, paid));
            self.end_pick(h.pick, s, paid, Reason::Delisted);
        }
    }

    /// Sells what its exit rule wants sold, where it has a price.
    fn sell_due(&mut self, s: usize) {
        let is_due = |h: &Held| h.due.filter(|(from, _)| *from <= s && h.priced.trades_on(s)).map(|due| due.1);
        let due: Vec<(CompanyIndex, Reason)> = self.held.iter().filter_map(|(i, h)| Some((*i, is_due(h)?))).collect();
        if due.is_empty() {
            return;
        }
        let (before, mut sold) = (self.value(s), 0.0);
        for (company, why) in due {
            let Some(h) = self.held.remove(&company) else { continue };
            let amount = h.value(s);
            sold += amount;
            self.pay(amount * self.settings.cost());
            self.cash += amount;
            self.trade(s, company, -amount, why);
            self.end_pick(h.pick, s, amount, why);
            self.sold_now.insert(company);
        }
        self.story.turned.push((sold, before));
    }

    fn pay(&mut self, cost: f64) {
        self.cash -= cost;
        self.story.cost_paid += cost;
    }

    fn trade(&mut self, session: usize, company: CompanyIndex, amount: f64, why: Reason) {
        if amount != 0.0 {
            self.story.trades.push(Trade { session, company, amount, why });
        }
    }

    fn end_pick(&mut self, pick: usize, to: usize, end: f64, ended_by: Reason) {
        let pick = &mut self.story.picks[pick];
        (pick.to, pick.end, pick.ended_by) = (to, end, ended_by);
    }

    fn begin_pick(&mut self, company: CompanyIndex, rebalance: usize, from: usize, start: f64) -> usize {
        self.story.picks.push(Pick { company, rebalance, from, to: from, start, end: start, ended_by: Reason::End });
        self.story.picks.len() - 1
    }

    fn rebalance(&mut self, k: usize) {
        match self.settings.exit {
            // With nothing left nothing can be bought.
            _ if self.value(self.calendar.rebalances[k].trade) <= 0.0 => {}
            Exit::Rebalance => self.rebalance_all(k),
            Exit::Each(_) => self.fill_places(k),
        }
        let mut portfolio: Vec<CompanyIndex> = self.held.keys().copied().chain(self.waiting.iter().map(|w| w.company)).collect();
        portfolio.sort_unstable();
        self.story.portfolios.push(portfolio);
    }

    /// The picks of a decision that can be bought, with how that begins; of the others it is noted why not. Those that are held count
    /// as bought at once.
    fn bought(&mut self, k: usize, picks: Vec<CompanyIndex>) -> Vec<(CompanyIndex, Arc<Priced>, usize)> {
        let trade = self.calendar.rebalances[k].trade;
        let decision = &self.decisions[k];
        let weighed = self.settings.weights == super::Weights::MarketCap;
        let mut out = Vec::with_capacity(picks.len());
        for company in picks.into_iter().filter(|i| !weighed || decision.cap(*i).is_some()) {
            let Some(priced) = self.priced(company) else {
                self.story.notes.push(Note { rebalance: k, company, entry: Entry::NoPrice });
                continue;
            };
            if self.held.contains_key(&company) {
                out.push((company, priced, trade));
                continue;
            }
            let entry = priced.entry(trade, &self.calendar.sessions);
            if entry != Entry::At(trade) {
                self.story.notes.push(Note { rebalance: k, company, entry });
            }
            if let Entry::At(session) = entry {
                out.push((company, priced, session));
            }
        }
        out
    }

    fn weights_of(&self, k: usize, companies: impl Iterator<Item = CompanyIndex>) -> Vec<f64> {
        let caps: Vec<Option<f64>> = companies.map(|i| self.decisions[k].cap(i)).collect();
        weights(self.settings.weights, &caps, self.settings.max_weight)
    }

    /// Everything is traded to its weight, or sold.
    fn rebalance_all(&mut self, k: usize) {
        let (s, cost) = (self.calendar.rebalances[k].trade, self.settings.cost());
        let picks = self.decisions[k].picks().take(self.settings.places()).collect();
        let bought = self.bought(k, picks);
        let weights = self.weights_of(k, bought.iter().map(|b| b.0));
        let before = self.value(s);
        let held_of = |company: CompanyIndex| self.held.get(&company).map_or(0.0, |h| h.value(s));
        let wanted: HashSet<CompanyIndex> = bought.iter().map(|b| b.0).collect();
        let sold: Vec<(CompanyIndex, f64)> = self.held.iter().filter(|(i, _)| !wanted.contains(i)).map(|(i, h)| (*i, h.value(s))).collect();
        let pairs: Vec<(f64, f64)> = bought.iter().zip(&weights).map(|(b, w)| (*w, held_of(b.0))).collect();
        let gone = sold.iter().map(|(_, value)| (0.0, *value));
        let left = after_costs(before, cost, &pairs.iter().copied().chain(gone));
        let old = std::mem::take(&mut self.held);
        for h in old.values() {
            self.end_pick(h.pick, s, h.value(s), Reason::Rebalance);
        }
        for (company, value) in &sold {
            self.trade(s, *company, -value, Reason::Rebalance);
        }
        let mut turned = sold.iter().map(|(_, value)| value).sum::<f64>();
        self.cash = left;
        for ((company, priced, session), (weight, held)) in bought.into_iter().zip(pairs) {
            let amount = weight * left;
            turned += (amount - held).abs();
            self.cash -= amount;
            if session > s {
                self.waiting.push(Waiting { company, priced, amount, session, rebalance: k });
                continue;
            }
            self.trade(s, company, amount - held, Reason::Rebalance);
            self.hold(company, priced, amount, s, k);
        }
        self.round_off(before);
        self.story.cost_paid += before - left;
        if k > 0 {
            self.story.turned.push((turned, before));
        }
    }

    /// What is held stays; free places are filled with the highest picks that are not held.
    fn fill_places(&mut self, k: usize) {
        let (s, cost) = (self.calendar.rebalances[k].trade, self.settings.cost());
        let free = self.settings.places().saturating_sub(self.held.len());
        let new = |i: &CompanyIndex| !self.held.contains_key(i) && !self.sold_now.contains(i);
        let picks = self.decisions[k].picks().filter(new).take(free).collect();
        let bought = self.bought(k, picks);
        let all = self.weights_of(k, self.held.keys().copied().chain(bought.iter().map(|b| b.0)));
        let weights = &all[self.held.len()..];
        let (before, sum) = (self.value(s), weights.iter().sum::<f64>());
        if sum <= 0.0 {
            return;
        }
        let whole = (before / (1.0 + cost * sum)).min(self.cash / ((1.0 + cost) * sum));
        let mut turned = 0.0;
        for ((company, priced, session), weight) in bought.into_iter().zip(weights) {
            let amount = weight * whole;
            turned += amount;
            self.cash -= amount;
            self.pay(amount * cost);
            if session > s {
                self.waiting.push(Waiting { company, priced, amount, session, rebalance: k });
                continue;
            }
            self.trade(s, company, amount, Reason::Rebalance);
            self.hold(company, priced, amount, s, k);
        }
        self.round_off(before);
        if k > 0 {
            self.story.turned.push((turned, before));
        }
    }

    /// A rounding error of a value is no cash.
    fn round_off(&mut self, value: f64) {
        if self.cash.abs() < 1e-12 * value {
            self.cash = 0.0;
        }
    }

    fn hold(&mut self, company: CompanyIndex, priced: Arc<Priced>, amount: f64, s: usize, rebalance: usize) {
        let pick = self.begin_pick(company, rebalance, s, amount);
        let units = amount / priced.unit(s);
        let months = self.settings.exit.rule().and_then(|rule| rule.months);
        let decided = self.day(self.calendar.rebalances[rebalance].decision);
        let due = months.map(|m| self.calendar.on_or_after(decided.plus_months(i32::try_from(m).unwrap_or(i32::MAX))));
        self.held.insert(company, Held { priced, units, pick, months_due: due, due: None });
    }

    fn buy_waiting(&mut self, s: usize) {
        let (now, later) = std::mem::take(&mut self.waiting).into_iter().partition(|w| w.session <= s);
        self.waiting = later;
        let now: Vec<Waiting> = now;
        for w in now {
            self.trade(s, w.company, w.amount, Reason::FirstClose);
            self.hold(w.company, w.priced, w.amount, s, w.rebalance);
        }
    }

    /// The session's close: what it is all worth, and what is to be sold at a later one.
    fn close(&mut self, s: usize) {
        self.story.curve.push(self.value(s));
        self.story.cash.push(self.cash + self.set_aside());
        self.story.held.push(self.held.len());
        let Some(rule) = self.settings.exit.rule() else { return };
        for (company, h) in self.held.iter_mut().filter(|(_, h)| h.due.is_none()) {
            let gained = h.value(s) / self.story.picks[h.pick].start - 1.0;
            h.due = if rule.gain.is_some_and(|gain| gained >= gain) {
                Some((s + 1, Reason::Gain))
            } else if rule.at_value && h.priced.trades_on(s) && self.exits.at_value(*company, s) {
                Some((s + 1, Reason::AtValue))
            } else {
                h.months_due.filter(|due| *due <= s + 1).map(|due| (due, Reason::Months))
            };
        }
    }
}
