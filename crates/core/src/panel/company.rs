//! Everything in the dataset about one company, sorted for lookups by date.

use super::{
    bars::{BarColumns, Bars},
    statements::{PeriodIndex, Statements},
};
use crate::domain::{
    Action, ActionKind, Bar, Company, Currency, Day, Estimate, Event, InsiderTrade, Listing, Metric, News, Officer, Ownership, Period,
    Role, Statement,
};
use std::{collections::HashMap, ops::Deref, sync::Arc};

/// An estimate with the day on which it was published.
#[derive(Clone, Copy, Debug)]
#[allow(missing_docs)]
pub struct EstimateRow {
    pub published_on: Day,
    pub metric: Metric,
    pub fiscal_year: Option<i32>,
    /// The part of the fiscal year; `None` for the whole year and for metrics without one.
    pub period: Option<Period>,
    pub mean: f64,
    pub low: Option<f64>,
    pub high: Option<f64>,
    pub analysts: Option<f64>,
}

/// Who owned the company on a day, as fractions of its shares.
#[derive(Clone, Copy, Debug)]
#[allow(missing_docs)]
pub struct OwnershipRow {
    pub as_of: Day,
    pub filed_on: Day,
    pub insiders: Option<f64>,
    pub controlling: Option<f64>,
    pub institutions: Option<f64>,
    /// Of the controlling holders' shares.
    pub pledged: Option<f64>,
}

/// A trade of an insider on the open market and of no plan: what the measures of conviction are made of. Short, since
/// they are asked of every company.
#[derive(Clone, Copy, Debug)]
#[allow(missing_docs)]
pub struct OpenTrade {
    pub filed_on: Day,
    /// It counts until then.
    pub superseded_on: Option<Day>,
    pub traded_on: Day,
    /// Bought, or else sold.
    pub bought: bool,
    pub role: Option<Role>,
    /// Which of the company's insiders.
    pub insider: u32,
    pub currency: Currency,
    /// Shares × price, in that currency, where the price is known.
    pub amount: Option<f64>,
}

/// A split with the product of all ratios up to and including its own.
#[derive(Clone, Copy, Debug)]
pub(super) struct Split {
    pub(super) ex_date: Day,
    pub(super) cumulative: f64,
}

#[derive(Clone, Copy, Debug)]
pub(super) struct DividendRow {
    pub(super) ex_date: Day,
    pub(super) amount: f64,
    pub(super) special: bool,
    pub(super) declared_on: Option<Day>,
    pub(super) pay_date: Option<Day>,
}

/// The raw rows of one company, as they come in.
#[derive(Clone, Debug, Default)]
pub(super) struct RawCompany {
    pub(super) listings: Vec<Listing>,
    /// In boxes as they come: large rows that are sorted.
    #[allow(clippy::vec_box)]
    pub(super) statements: Vec<Box<Statement>>,
    /// Bars pushed one by one, and all at once.
    pub(super) bars: Vec<Bar>,
    pub(super) columns: BarColumns,
    pub(super) actions: Vec<Action>,
    pub(super) estimates: Vec<Estimate>,
    pub(super) trades: Vec<InsiderTrade>,
    pub(super) ownership: Vec<Ownership>,
    pub(super) officers: Vec<Officer>,
    pub(super) events: Vec<Event>,
    pub(super) news: Vec<News>,
}

/// A company's bars, and all else that is known of it, shared while only bars are added.
#[derive(Clone, Debug)]
pub(super) struct CompanyPanel {
    pub(super) facts: Arc<Facts>,
    /// Tells these facts from all others in a line of snapshots; given by the snapshot.
    pub(super) facts_id: u64,
    pub(super) bars: Bars,
}

#[derive(Debug)]
pub(super) struct Facts {
    pub(super) company: Company,
    pub(super) listing: Option<Listing>,
    /// Its other listings: those elsewhere, and earlier ones.
    pub(super) other_listings: Vec<Listing>,
    pub(super) splits: Vec<Split>,
    pub(super) dividends: Vec<DividendRow>,
    pub(super) statements: Statements,
    pub(super) estimates: Vec<EstimateRow>,
    pub(super) trades: Vec<InsiderTrade>,
    /// Those on the open market, in the same order.
    pub(super) open_trades: Vec<OpenTrade>,
    /// Days by which a trade was filed before it was made, at most: 0 where the dates are in order.
    pub(super) filed_ahead: i32,
    pub(super) ownership: Vec<OwnershipRow>,
    pub(super) officers: Vec<Officer>,
    /// When each chief executive took office and left it.
    pub(super) chiefs: Vec<(Day, Option<Day>)>,
    pub(super) events: Vec<Event>,
    pub(super) news: Vec<News>,
}

impl Deref for CompanyPanel {
    type Target = Facts;
    fn deref(&self) -> &Facts {
        &self.facts
    }
}

impl CompanyPanel {
    /// The currency in which it reports as of a day on which this is its newest period.
    pub(super) fn reporting(&self, t: Day, newest: Option<PeriodIndex>) -> Currency {
        newest.and_then(|p| self.statements.currency(t, p)).unwrap_or(self.company.currency)
    }

    pub(super) fn new(company: Company, mut raw: RawCompany) -> CompanyPanel {
        let bars = raw.take_bars();
        raw.officers.sort_by(|a, b| (a.since, &a.name, &a.role).cmp(&(b.since, &b.name, &b.role)));
        raw.events.sort_by_key(|e| (e.date, e.kind));
        raw.news.sort_by(|a, b| a.published_at.cmp(&b.published_at).then_with(|| a.headline.cmp(&b.headline)));
        let trades = distinct_trades(raw.trades);
        let (mut primary, other_listings): (Vec<Listing>, Vec<Listing>) = raw.listings.into_iter().partition(|l| l.primary);
        primary.truncate(1);
        let facts = Facts {
            company,
            listing: primary.pop(),
            other_listings,
            splits: splits(&raw.actions),
            dividends: dividends(&raw.actions),
            statements: Statements::new(raw.statements),
            estimates: estimates(&raw.estimates),
            open_trades: open_trades(&trades),
            filed_ahead: trades.iter().map(|t| t.traded_on.days_since(t.filed_on)).fold(0, i32::max),
            trades,
            ownership: ownership(&raw.ownership),
            chiefs: chiefs(&raw.officers),
            officers: raw.officers,
            events: raw.events,
            news: raw.news,
        };
        CompanyPanel { facts: Arc::new(facts), facts_id: 0, bars }
    }

    /// The product of the ratios of all splits up to a day.
    pub(super) fn split_product(&self, t: Day) -> f64 {
        let known = self.splits.partition_point(|s| s.ex_date <= t);
        known.checked_sub(1).map_or(1.0, |i| self.splits[i].cumulative)
    }
}

fn chiefs(officers: &[Officer]) -> Vec<(Day, Option<Day>)> {
    let chiefs = officers.iter().filter(|o| o.role == Role::ChiefExecutive.code());
    chiefs.filter_map(|o| Some((o.since?, o.until))).collect()
}

fn splits(actions: &[Action]) -> Vec<Split> {
    let mut rows: Vec<_> =
        actions.iter().filter(|a| a.kind == ActionKind::Split).filter_map(|a| Some((a.ex_date, a.ratio.filter(|r| *r > 0.0)?))).collect();
    rows.sort_by_key(|r| r.0);
    let mut product = 1.0;
    let grow = |(ex_date, ratio)| {
        product *= ratio;
        Split { ex_date, cumulative: product }
    };
    rows.into_iter().map(grow).collect()
}

fn dividends(actions: &[Action]) -> Vec<DividendRow> {
    let row = |a: &Action| {
        let special = match a.kind {
            ActionKind::Split => return None,
            ActionKind::Dividend => false,
            ActionKind::SpecialDividend => true,
        };
        Some(DividendRow { ex_date: a.ex_date, amount: a.amount?, special, declared_on: a.declared_on, pay_date: a.pay_date })
    };
    let mut rows: Vec<_> = actions.iter().filter_map(row).collect();
    rows.sort_by_key(|r| r.ex_date);
    rows
}

fn estimates(rows: &[Estimate]) -> Vec<EstimateRow> {
    let mut out: Vec<_> = rows
        .iter()
        .map(|e| EstimateRow {
            published_on: e.published_on,
            metric: e.metric,
            fiscal_year: e.fiscal_year,
            period: e.period.filter(|p| *p != Period::FY),
            mean: e.mean,
            low: e.low,
            high: e.high,
            analysts: e.analysts,
        })
        .collect();
    out.sort_by_key(|e| (e.published_on, e.metric, e.fiscal_year, e.period));
    out
}

fn ownership(rows: &[Ownership]) -> Vec<OwnershipRow> {
    let mut out: Vec<_> = rows
        .iter()
        .map(|o| OwnershipRow {
            as_of: o.as_of,
            filed_on: o.filed_on,
            insiders: o.insiders,
            controlling: o.controlling,
            institutions: o.institutions,
            pledged: o.pledged,
        })
        .collect();
    out.sort_by_key(|o| (o.as_of, o.filed_on));
    out
}

fn open_trades(trades: &[InsiderTrade]) -> Vec<OpenTrade> {
    let mut insiders: HashMap<&str, u32> = HashMap::new();
    let one = |t| open_trade(t, &mut insiders);
    trades.iter().filter_map(one).collect()
}

fn open_trade<'t>(t: &'t InsiderTrade, insiders: &mut HashMap<&'t str, u32>) -> Option<OpenTrade> {
    let bought = t.is_purchase();
    if t.planned || !(bought || t.is_sale()) {
        return None;
    }
    let next = u32::try_from(insiders.len()).unwrap_or(u32::MAX);
    let insider = *insiders.entry(&t.insider_id).or_insert(next);
    let (filed_on, superseded_on) = (t.filed_on, t.superseded_on);
    Some(OpenTrade {
        filed_on,
        superseded_on,
        traded_on: t.traded_on,
        bought,
        role: t.role,
        insider,
        currency: t.currency,
        amount: t.amount(),
    })
}

/// Rows equal in insider, day, code, shares and price count once, from the earliest filing (rule 1).
fn distinct_trades(mut trades: Vec<InsiderTrade>) -> Vec<InsiderTrade> {
    // Prices are not negative: those that are not known come first.
    let price = |t: &InsiderTrade| t.price.unwrap_or(-1.0);
    let same = |a: &InsiderTrade, b: &InsiderTrade| {
        (&a.insider_id, a.traded_on, &a.code) == (&b.insider_id, b.traded_on, &b.code)
            && a.shares.total_cmp(&b.shares).is_eq()
            && price(a).total_cmp(&price(b)).is_eq()
    };
    trades.sort_by(|a, b| {
        (&a.insider_id, a.traded_on, &a.code)
            .cmp(&(&b.insider_id, b.traded_on, &b.code))
            .then(a.shares.total_cmp(&b.shares))
            .then(price(a).total_cmp(&price(b)))
            .then(a.filed_on.cmp(&b.filed_on))
            .then(a.filing_id.cmp(&b.filing_id))
    });
    trades.dedup_by(|later, first| same(later, first));
    trades.sort_by(|a, b| (a.filed_on, a.traded_on, &a.filing_id).cmp(&(b.filed_on, b.traded_on, &b.filing_id)));
    trades
}
