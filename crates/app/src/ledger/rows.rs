//! The rows of the place: accounts, holdings, orders, what was sold, lines of the journal.

use super::decisions::BoughtFor;
use crate::{Ctx, figures::compact::six_digits};
use artemon_core::{
    domain::Day,
    formula::{Column, Value},
    ledger::{
        AccountReport, Booked, HoldingReport, Ledger, LotReport, OrderState, OrderStory, RealisedOf, Side, WealthDay, event_says, number,
        order_stories,
    },
    panel::{CompanyAt, CompanyIndex},
};
use artemon_store::KeptAccount;
use serde::Serialize;
use std::collections::{BTreeSet, HashMap};
use utoipa::ToSchema;

/// Points of the chart of wealth at most.
const POINTS: usize = 400;

/// An account.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct AccountRow {
    pub id: String,
    pub name: String,
    pub currency: String,
    pub by_hand: bool,
    pub average: bool,
    pub cash: f64,
    pub value: f64,
    pub paid_in: f64,
    pub gain: f64,
    pub realised: f64,
    pub unrealised: f64,
    pub income: f64,
    pub fees: f64,
    /// A year, once there is one.
    pub xirr: Option<f64>,
    /// In all.
    pub time_weighted_return: Option<f64>,
    pub value_base: f64,
    pub index_value_base: Option<f64>,
    /// Of dividends that went ex and are not paid yet.
    pub due: usize,
}

/// A holding: amounts in the account's currency, prices in that of the listing or trade.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct HoldingRow {
    pub account: String,
    /// Empty of what is on no exchange of the dataset.
    pub symbol: String,
    pub name: String,
    pub sector: String,
    /// Of the price.
    pub price_currency: String,
    pub currency: String,
    pub quantity: f64,
    pub price: Option<f64>,
    pub cost: f64,
    pub value: f64,
    pub gain: f64,
    /// Of the cost, as a fraction.
    pub gain_share: Option<f64>,
    pub value_base: f64,
    /// What its money would be in the index, in the base currency.
    pub index_value_base: Option<f64>,
    /// Its worth and income less that, in the base currency.
    pub ahead_of_index_base: Option<f64>,
    /// Of all holdings and cash.
    pub weight: f64,
    /// Of what it cost a share, in the account's currency.
    pub cost_a_share: f64,
    #[schema(value_type = String)]
    pub since: Day,
    pub income: f64,
    pub lots: Vec<LotReport>,
    /// As of the day; none of what cannot be valued.
    pub intrinsic_value: Option<f64>,
    pub buy_below: Option<f64>,
    pub verdict: Option<String>,
    pub red_flags: Option<f64>,
    /// The decision to buy it, where one was written down, and the first line of its thesis.
    pub decision: Option<String>,
    pub thesis: String,
    /// What it was thought to be worth then.
    pub value_then: Option<f64>,
    /// It is to be looked at again.
    pub review_due: bool,
}

/// An order.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct OrderRow {
    pub order: String,
    pub account: String,
    pub symbol: String,
    pub name: String,
    pub side: Side,
    pub state: OrderState,
    /// None at market.
    pub limit: Option<f64>,
    /// Of limit and price.
    pub price_currency: String,
    pub quantity: f64,
    pub filled: f64,
    pub left: f64,
    /// Of what was filled, on average.
    pub price: Option<f64>,
    /// The last close.
    pub last: Option<f64>,
    #[schema(value_type = String)]
    pub given_on: Day,
    pub good: String,
    #[schema(value_type = Option<String>)]
    pub ended_on: Option<Day>,
    pub why: Option<String>,
    pub linked_to: Option<String>,
}

/// What was sold, with what came of it, in the account's currency.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ClosedRow {
    pub account: String,
    pub symbol: String,
    pub name: String,
    pub currency: String,
    pub realised: f64,
    pub income: f64,
    /// Whether some is still held.
    pub held: bool,
    /// The decision to buy it, where one was written down, and what was learnt from it.
    pub decision: Option<String>,
    pub lesson: String,
}

/// All that is held on a day, in the base currency.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct WealthPoint {
    #[schema(value_type = String)]
    pub date: Day,
    pub value: f64,
    pub paid_in: f64,
    pub index: Option<f64>,
}

/// A line of the journal.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct JournalRow {
    pub n: u64,
    #[schema(value_type = String)]
    pub date: Day,
    pub account: String,
    pub says: String,
    /// The account's, after it.
    pub cash: Option<f64>,
    /// Whether it was written down by hand and can be taken back.
    pub by_hand: bool,
    /// What the dataset says of it now, where it was corrected since.
    pub corrected: Option<String>,
}

pub(super) fn line(b: &Booked, by_hand: bool, corrected: Option<&str>) -> JournalRow {
    let (date, account) = (b.event.date, b.event.account.to_string());
    JournalRow {
        n: b.n,
        date,
        account,
        says: event_says(b),
        cash: b.effect.cash.map(number),
        by_hand,
        corrected: corrected.map(str::to_owned),
    }
}

/// One that is new has nothing in it yet.
pub(super) fn account_row(kept: &KeptAccount, report: Option<&AccountReport>, is_a_year: bool) -> AccountRow {
    let of = |figure: fn(&AccountReport) -> f64| report.map_or(0.0, figure);
    AccountRow {
        id: kept.id.clone(),
        name: kept.name.clone(),
        currency: kept.currency.clone(),
        by_hand: kept.kind == "by_hand",
        average: kept.lots == "average",
        cash: of(|r| r.cash),
        value: of(|r| r.value),
        paid_in: of(|r| r.paid_in),
        gain: of(|r| r.gain),
        realised: of(|r| r.realised),
        unrealised: of(|r| r.unrealised),
        income: of(|r| r.income),
        fees: of(|r| r.fees),
        xirr: report.and_then(|r| r.xirr).filter(|_| is_a_year),
        time_weighted_return: report.and_then(|r| r.time_weighted_return),
        value_base: of(|r| r.value_base),
        index_value_base: report.and_then(|r| r.index_value_base),
        due: report.map_or(0, |r| r.dividends_due.len()),
    }
}

pub(super) struct Look<'a> {
    pub(super) ctx: &'a Ctx,
    pub(super) t: Day,
    pub(super) whole: f64,
    /// What is said today of each company that is held.
    pub(super) said: HashMap<CompanyIndex, Said>,
    pub(super) bought_for: HashMap<CompanyIndex, BoughtFor>,
}

/// What is said of a company.
#[derive(Clone, Debug, Default)]
pub(super) struct Said {
    intrinsic_value: Option<f64>,
    buy_below: Option<f64>,
    red_flags: Option<f64>,
    verdict: Option<String>,
}

/// What is said of the companies that are held, each formula answered for all at once.
pub(super) fn said(ctx: &Ctx, t: Day, accounts: &[AccountReport]) -> HashMap<CompanyIndex, Said> {
    let held: BTreeSet<CompanyIndex> = accounts.iter().flat_map(|a| &a.holdings).filter_map(|h| ctx.snapshot().find(&h.key)).collect();
    let rows: Vec<CompanyAt<'_>> = held.iter().map(|i| ctx.engine.as_of(t).company(*i)).collect();
    let of = |formula: &str| ctx.engine.compile(formula).ok().map(|f| ctx.engine.evaluate(&f, &rows));
    let columns = ["intrinsic_value", "buy_below", "red_flags"].map(of);
    let verdicts = of("verdict");
    let figure = |column: &Option<Column>, row: usize| column.as_ref().and_then(|c| c.value(row).number().ok()).map(six_digits);
    let verdict = |row: usize| match verdicts.as_ref()?.value(row) {
        Value::Text(text) => Some(text.to_string()),
        _ => None,
    };
    let said = |(row, index): (usize, CompanyIndex)| {
        let [intrinsic_value, buy_below, red_flags] = [0, 1, 2].map(|i: usize| figure(&columns[i], row));
        (index, Said { intrinsic_value, buy_below, red_flags, verdict: verdict(row) })
    };
    held.into_iter().enumerate().map(said).collect()
}

impl<'a> Look<'a> {
    fn company(&self, key: &str) -> Option<CompanyAt<'a>> {
        self.ctx.snapshot().find(key).map(|i| self.ctx.engine.as_of(self.t).company(i))
    }

    fn name(&self, c: Option<&CompanyAt<'_>>, otherwise: &str) -> String {
        c.map_or_else(|| otherwise.to_owned(), |c| c.company().name.clone())
    }

    pub(super) fn holding(&self, a: &AccountReport, h: &HoldingReport) -> HoldingRow {
        let c = self.company(&h.key);
        let said = c.as_ref().and_then(|c| self.said.get(&c.index)).cloned().unwrap_or_default();
        let why = c.as_ref().and_then(|c| self.bought_for.get(&c.index));
        let received = a.income_by_symbol.iter().find(|i| i.key == h.key);
        let (income, income_base) = received.map_or((0.0, 0.0), |i| (i.income, i.income_base.unwrap_or_default()));
        HoldingRow {
            account: a.account.to_string(),
            symbol: c.as_ref().map_or_else(String::new, |c| c.symbol().to_owned()),
            name: self.name(c.as_ref(), &h.symbol),
            sector: c.as_ref().map_or_else(String::new, |c| c.company().sector.clone()),
            price_currency: c.as_ref().map_or_else(|| a.currency.to_string(), |c| c.listing_currency().to_string()),
            currency: a.currency.to_string(),
            quantity: h.quantity,
            price: h.price,
            cost: h.cost,
            value: h.value,
            gain: h.unrealised,
            gain_share: (h.cost > 0.0).then(|| h.unrealised / h.cost),
            value_base: h.value_base,
            index_value_base: h.index_value_base,
            ahead_of_index_base: h.index_value_base.map(|index| h.value_base + income_base - index),
            weight: if self.whole > 0.0 { h.value_base / self.whole } else { 0.0 },
            cost_a_share: if h.quantity > 0.0 { h.cost / h.quantity } else { 0.0 },
            since: h.lots.first().map_or(self.t, |l| l.date),
            income,
            lots: h.lots.clone(),
            intrinsic_value: said.intrinsic_value,
            buy_below: said.buy_below,
            red_flags: said.red_flags,
            verdict: said.verdict,
            thesis: why.map_or_else(String::new, |w| w.thesis.clone()),
            value_then: why.and_then(|w| w.value_then),
            review_due: why.is_some_and(|w| w.due),
            decision: why.map(|w| w.decision.clone()),
        }
    }

    fn order(&self, story: OrderStory) -> OrderRow {
        let c = self.company(story.order.security.key());
        let filled = number(story.filled);
        OrderRow {
            order: story.order.order.to_string(),
            account: story.account.to_string(),
            symbol: c.as_ref().map_or_else(|| story.order.security.name().to_string(), |c| c.symbol().to_owned()),
            name: self.name(c.as_ref(), story.order.security.name()),
            side: story.order.side,
            state: story.state,
            limit: story.order.at.limit().map(number),
            price_currency: c.as_ref().map_or_else(String::new, |c| c.listing_currency().to_string()),
            quantity: filled + number(story.left),
            filled,
            left: number(story.left),
            price: (filled > 0.0).then(|| number(story.paid) / filled),
            last: c.as_ref().and_then(|c| c.price().ok()),
            given_on: story.given_on,
            good: story.order.good.to_string(),
            ended_on: story.ended_on,
            why: story.why,
            linked_to: story.order.linked_to.as_ref().map(ToString::to_string),
        }
    }
}

/// Those that work first, then the newest.
pub(super) fn orders(look: &Look<'_>, ledger: &Ledger, t: Day) -> Vec<OrderRow> {
    let end = ledger.journal().partition_point(|b| b.event.date <= t);
    let mut all: Vec<OrderRow> = order_stories(&ledger.journal()[..end]).into_iter().rev().map(|s| look.order(s)).collect();
    all.sort_by_key(|o| !matches!(o.state, OrderState::Open | OrderState::Partly));
    all
}

pub(super) fn closed(look: &Look<'_>, a: &AccountReport) -> Vec<ClosedRow> {
    let row = |r: &RealisedOf| {
        let c = look.company(&r.key);
        let why = c.as_ref().and_then(|c| look.bought_for.get(&c.index));
        ClosedRow {
            account: a.account.to_string(),
            symbol: c.as_ref().map_or_else(String::new, |c| c.symbol().to_owned()),
            name: look.name(c.as_ref(), &r.symbol),
            currency: a.currency.to_string(),
            realised: r.realised,
            income: a.income_by_symbol.iter().find(|i| i.symbol == r.symbol).map_or(0.0, |i| i.income),
            held: a.holdings.iter().any(|h| h.symbol == r.symbol),
            decision: why.map(|w| w.decision.clone()),
            lesson: why.map_or_else(String::new, |w| w.lesson.clone()),
        }
    };
    a.closed_or_reduced.iter().map(row).collect()
}

/// At most so many days from the first on which something was paid in, the last one among them.
pub(super) fn thinned(all: &[WealthDay]) -> Vec<WealthPoint> {
    let all = &all[all.iter().position(|w| w.paid_in > 0.0).unwrap_or_default()..];
    let step = all.len().div_ceil(POINTS).max(1);
    let point = |w: &WealthDay| WealthPoint {
        date: w.day,
        value: six_digits(w.value),
        paid_in: six_digits(w.paid_in),
        index: w.index.map(six_digits),
    };
    all.iter().rev().step_by(step).map(point).collect::<Vec<_>>().into_iter().rev().collect()
}
