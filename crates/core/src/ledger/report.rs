//! The accounts on a day: what they hold, what was gained, what it earned a year, and what the same money would be in an index.

use super::{
    amounts::{Sum, number},
    books::{AccountBooks, Ledger},
    event::Side,
    lots::{Lot, Position},
    results::{YearResult, years},
    returns::{Flow, xirr},
    same_money::{SameMoney, add},
    track::{DayOf, Quotes, Track, days_of, time_weighted, track},
};
use crate::{
    domain::{Currency, Day},
    panel::AsOf,
};
use serde::Serialize;
use std::sync::Arc;

/// All accounts on a day.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct Report {
    pub date: Day,
    pub accounts: Vec<AccountReport>,
    pub total_base: TotalReport,
}

/// All accounts together, in the base currency.
#[derive(Clone, Debug, Default, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct TotalReport {
    pub value: f64,
    pub paid_in: Option<f64>,
    pub realised: Option<f64>,
    pub unrealised: Option<f64>,
    pub income: Option<f64>,
    pub index_value: Option<f64>,
    pub xirr: Option<f64>,
    pub time_weighted_return: Option<f64>,
    pub index_xirr: Option<f64>,
}

/// An account on a day: amounts in its currency, those named `_base` in the base currency at the rates of their days.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct AccountReport {
    pub account: Arc<str>,
    pub currency: Currency,
    pub cash: f64,
    /// By name.
    pub holdings: Vec<HoldingReport>,
    pub value: f64,
    pub paid_in: f64,
    pub realised: f64,
    pub unrealised: f64,
    pub income: f64,
    pub fees: f64,
    pub gain: f64,
    pub xirr: Option<f64>,
    pub time_weighted_return: Option<f64>,
    pub value_base: f64,
    pub paid_in_base: Option<f64>,
    pub realised_base: Option<f64>,
    pub unrealised_base: Option<f64>,
    pub income_base: Option<f64>,
    /// What remains of the gain in the base currency: that of the cash held through changes of the rate.
    pub currency_gain_on_cash_base: Option<f64>,
    pub xirr_base: Option<f64>,
    pub time_weighted_return_base: Option<f64>,
    /// What the account's deposits, less its withdrawals, would be in the index.
    pub index_value_base: Option<f64>,
    pub index_xirr_base: Option<f64>,
    pub closed_or_reduced: Vec<RealisedOf>,
    pub income_by_symbol: Vec<IncomeOf>,
    pub dividends_due: Vec<DueOf>,
    pub open_orders: Vec<OpenOf>,
}

/// A holding.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct HoldingReport {
    /// What tells the security from others.
    #[serde(skip)]
    pub key: Arc<str>,
    pub symbol: Arc<str>,
    pub quantity: f64,
    /// In the currency of the listing or trade.
    pub price: Option<f64>,
    pub value: f64,
    pub cost: f64,
    pub unrealised: f64,
    pub value_base: f64,
    pub cost_base: Option<f64>,
    pub unrealised_base: Option<f64>,
    pub lots: Vec<LotReport>,
    /// What the money of its lots would be in the index.
    pub index_value_base: Option<f64>,
}

/// A lot.
#[derive(Clone, Debug, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct LotReport {
    /// The number of its event.
    #[serde(skip)]
    pub n: u64,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub date: Day,
    pub quantity: f64,
    pub cost: f64,
    pub cost_base: Option<f64>,
}

#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct RealisedOf {
    #[serde(skip)]
    pub key: Arc<str>,
    pub symbol: Arc<str>,
    pub realised: f64,
    pub realised_base: Option<f64>,
}

#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct IncomeOf {
    #[serde(skip)]
    pub key: Arc<str>,
    pub symbol: Arc<str>,
    pub income: f64,
    pub income_base: Option<f64>,
}

#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct DueOf {
    pub symbol: Arc<str>,
    /// In the listing's currency.
    pub amount: f64,
    pub pay_date: Day,
}

#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct OpenOf {
    pub order: Arc<str>,
    pub side: Side,
    pub symbol: Arc<str>,
    pub left: f64,
    pub limit: Option<f64>,
    pub good: String,
}

/// What is told of a day before the returns up to it are known.
struct Seen {
    at: usize,
    day: Day,
    accounts: Vec<AccountReport>,
}

/// The accounts on some days, oldest first. `index` gives the levels of the index on some days, in the base currency.
#[must_use]
pub fn reports(ledger: &Ledger, market: AsOf<'_>, wanted: &[Day], index: impl Fn(&[Day]) -> Option<Vec<Option<f64>>>) -> Vec<Report> {
    told(ledger, market, wanted, index).reports
}

/// What is told of a ledger.
#[derive(Clone, Debug, Default)]
#[allow(missing_docs)]
pub struct Told {
    pub reports: Vec<Report>,
    /// Day by day.
    pub wealth: Vec<WealthDay>,
    pub years: Vec<YearResult>,
}

/// All accounts at the end of a day, in the base currency.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct WealthDay {
    pub day: Day,
    pub value: f64,
    /// Deposits less withdrawals up to the day, at the rates of theirs.
    pub paid_in: f64,
    /// The same money in the index.
    pub index: Option<f64>,
}

/// The accounts on some days, and day by day what they were worth.
#[must_use]
pub fn told(ledger: &Ledger, market: AsOf<'_>, wanted: &[Day], index: impl Fn(&[Day]) -> Option<Vec<Option<f64>>>) -> Told {
    let days = days_of(ledger, market, wanted);
    let levels = index(&days).unwrap_or_else(|| vec![None; days.len()]);
    let mut same_money = SameMoney::default();
    let (mut seen, mut told): (Vec<Seen>, usize) = (Vec::new(), 0);
    let found = track(ledger, market, &days, |at, books, quotes| {
        for booked in &books.journal()[told..] {
            same_money.follow(booked, books, levels[at]);
        }
        told = books.journal().len();
        if wanted.contains(&days[at]) {
            let when = When { at, day: days[at], level: levels[at] };
            let accounts = books.accounts().iter().map(|a| account(a, books, quotes, when, &same_money)).collect();
            seen.push(Seen { at, day: days[at], accounts });
        }
    });
    let reports = seen.into_iter().map(|seen| with_returns(seen, &found, &levels)).collect();
    let years = years(&found.days, &found.total, &levels, ledger.journal());
    Told { reports, wealth: wealth(&found, &levels), years }
}

fn wealth(track: &Track, levels: &[Option<f64>]) -> Vec<WealthDay> {
    let (mut paid_in, mut units) = (0.0, Some(0.0));
    let day = |((day, of), level): ((&Day, &DayOf), &Option<f64>)| {
        paid_in += of.flow_base;
        if of.flow_base != 0.0 {
            add(&mut units, level.filter(|l| *l > 0.0).map(|level| of.flow_base / level));
        }
        WealthDay { day: *day, value: of.value_base, paid_in, index: units.zip(*level).map(|(units, level)| units * level) }
    };
    track.days.iter().zip(&track.total).zip(levels).map(day).collect()
}

/// The day that is told.
#[derive(Clone, Copy)]
struct When {
    at: usize,
    day: Day,
    level: Option<f64>,
}

fn account(books: &AccountBooks, ledger: &Ledger, quotes: &Quotes<'_>, when: When, same_money: &SameMoney) -> AccountReport {
    let level = when.level;
    let currency = books.account.currency;
    let name = &books.account.name;
    let mut holdings: Vec<HoldingReport> =
        books.positions.values().map(|p| holding(p, quotes, currency, when, same_money.of_holding(p, level))).collect();
    holdings.sort_by(|a, b| a.symbol.cmp(&b.symbol));
    let unrealised = holdings.iter().map(|h| h.unrealised).sum();
    let value = number(books.cash) + holdings.iter().map(|h| h.value).sum::<f64>();
    let base = |s: Sum| s.base.map(number);
    let mut realised: Vec<RealisedOf> = books
        .realised_of
        .values()
        .map(|(s, sum)| RealisedOf { key: s.key().clone(), symbol: s.name().clone(), realised: number(sum.own), realised_base: base(*sum) })
        .collect();
    realised.sort_by(|a, b| a.symbol.cmp(&b.symbol));
    let mut income: Vec<IncomeOf> = books
        .income_of
        .values()
        .map(|(s, sum)| IncomeOf { key: s.key().clone(), symbol: s.name().clone(), income: number(sum.own), income_base: base(*sum) })
        .collect();
    income.sort_by(|a, b| a.symbol.cmp(&b.symbol));
    let due = books.due.iter().map(|d| DueOf { symbol: d.security.name().clone(), amount: number(d.amount), pay_date: d.pay_date });
    let open = ledger.orders().filter(|(account, _)| *account == name).map(|(_, o)| OpenOf {
        order: o.order.order.clone(),
        side: o.order.side,
        symbol: o.order.security.name().clone(),
        left: number(o.left),
        limit: o.order.at.limit().map(number),
        good: o.order.good.to_string(),
    });
    let unrealised_base = holdings.iter().map(|h| h.unrealised_base).sum();
    AccountReport {
        account: name.clone(),
        currency,
        cash: number(books.cash),
        value,
        paid_in: number(books.paid_in.own),
        realised: number(books.realised.own),
        unrealised,
        income: number(books.income.own),
        fees: number(books.fees),
        gain: value - number(books.paid_in.own),
        xirr: None,
        time_weighted_return: None,
        value_base: 0.0,
        paid_in_base: base(books.paid_in),
        realised_base: base(books.realised),
        unrealised_base,
        income_base: base(books.income),
        currency_gain_on_cash_base: None,
        xirr_base: None,
        time_weighted_return_base: None,
        index_value_base: same_money.of_deposits(name, level),
        index_xirr_base: None,
        holdings,
        closed_or_reduced: realised,
        income_by_symbol: income,
        dividends_due: due.collect(),
        open_orders: open.collect(),
    }
}

fn holding(p: &Position, quotes: &Quotes<'_>, account: Currency, when: When, index_value: Option<f64>) -> HoldingReport {
    let (quantity, cost) = (number(p.quantity()), p.cost());
    let own = number(cost.own);
    let value = quotes.price(p, account, when.at, when.day).map_or(own, |price| quantity * price);
    let value_base = value * quotes.to_base(account, when.day).unwrap_or_default();
    let cost_base = cost.base.map(number);
    let lot = |l: &Lot| LotReport {
        n: l.event,
        date: l.date,
        quantity: number(l.quantity),
        cost: number(l.cost.own),
        cost_base: l.cost.base.map(number),
    };
    HoldingReport {
        key: p.security.key().clone(),
        symbol: p.security.name().clone(),
        quantity,
        price: quotes.quoted(p, when.at).map(|q| q.1),
        value,
        cost: own,
        unrealised: value - own,
        value_base,
        cost_base,
        unrealised_base: cost_base.map(|cost| value_base - cost),
        lots: p.lots.iter().map(lot).collect(),
        index_value_base: index_value,
    }
}

/// Adds what follows from the days before.
fn with_returns(seen: Seen, track: &Track, levels: &[Option<f64>]) -> Report {
    let Seen { at, day, mut accounts } = seen;
    for (a, days) in accounts.iter_mut().zip(&track.accounts) {
        let days = &days[..=at];
        let now = days[at];
        let flows = |of: fn(&DayOf) -> f64| flows(&track.days, days, of);
        a.value_base = now.value_base;
        a.currency_gain_on_cash_base =
            (|| Some(now.value_base - a.paid_in_base? - a.realised_base? - a.unrealised_base? - a.income_base?))();
        a.xirr = xirr(&flows(|d| d.flow), day, a.value);
        a.xirr_base = xirr(&flows(|d| d.flow_base), day, now.value_base);
        a.index_xirr_base = a.index_value_base.and_then(|value| xirr(&flows(|d| d.flow_base), day, value));
        a.time_weighted_return = time_weighted(days, |d| (d.before, d.flow));
        a.time_weighted_return_base = time_weighted(days, |d| (d.before_base, d.flow_base));
    }
    let total = &track.total[..=at];
    let flows = flows(&track.days, total, |d| d.flow_base);
    let sum = |of: fn(&AccountReport) -> Option<f64>| accounts.iter().map(of).sum::<Option<f64>>();
    let index_value = levels[at].and_then(|_| sum(|a| a.index_value_base.or((a.paid_in == 0.0).then_some(0.0))));
    let total_base = TotalReport {
        value: total[at].value_base,
        paid_in: sum(|a| a.paid_in_base),
        realised: sum(|a| a.realised_base),
        unrealised: sum(|a| a.unrealised_base),
        income: sum(|a| a.income_base),
        index_value,
        xirr: xirr(&flows, day, total[at].value_base),
        time_weighted_return: time_weighted(total, |d| (d.before_base, d.flow_base)),
        index_xirr: index_value.and_then(|value| xirr(&flows, day, value)),
    };
    Report { date: day, accounts, total_base }
}

fn flows(days: &[Day], of: &[DayOf], flow: impl Fn(&DayOf) -> f64) -> Vec<Flow> {
    days.iter().zip(of).map(|(day, d)| (*day, flow(d))).filter(|f| f.1 != 0.0).collect()
}
