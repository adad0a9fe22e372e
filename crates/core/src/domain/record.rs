//! The rows of the dataset's tables.

use super::{
    codes::{Currency, Kind, Period, RateSeries, Role, codes},
    day::Day,
    item::Items,
};
use std::sync::Arc;

codes! {
    /// A table of the dataset, in the order in which they are read: what others refer to comes first.
    Table "a table" {
        /// Companies.
        Companies = "companies",
        /// Listings of their shares.
        Listings = "listings",
        /// Filed statements.
        Statements = "statements",
        /// Daily bars.
        Prices = "prices",
        /// Splits and dividends.
        Actions = "actions",
        /// Analysts' estimates.
        Estimates = "estimates",
        /// Trades of insiders.
        InsiderTrades = "insider_trades",
        /// Stakes of insiders and institutions.
        Ownership = "ownership",
        /// Interest and inflation rates.
        Rates = "rates",
        /// Exchange rates.
        Fx = "fx",
        /// Who runs the companies.
        Officers = "officers",
        /// Dated events: results, dividends, meetings.
        Events = "events",
        /// Headlines.
        News = "news",
        /// Indexes.
        Indexes = "indexes",
        /// Who belongs to an index, and when.
        IndexMembers = "index_members",
        /// Levels of indexes.
        IndexLevels = "index_levels",
        /// The user's own tiers, notes, flags and lists.
        Annotations = "annotations",
    }
}

codes! {
    /// What happened to a share.
    ActionKind "a corporate action" {
        /// A split (or reverse split).
        Split = "split",
        /// A regular dividend.
        Dividend = "dividend",
        /// A special dividend.
        SpecialDividend = "special_dividend",
    }
}

codes! {
    /// What analysts estimate.
    Metric "an estimated metric" {
        /// Adjusted earnings per share.
        Eps = "eps",
        /// Revenue.
        Revenue = "revenue",
        /// Operating income.
        Ebit = "ebit",
        /// Growth over the coming years, as a fraction a year.
        LongTermGrowth = "long_term_growth",
        /// The price 12 months ahead.
        PriceTarget = "price_target",
        /// 1 (strongest buy) to 5 (strongest sell).
        Rating = "rating",
    }
}

codes! {
    /// What happens on a date.
    EventKind "a kind of event" {
        /// Results are published.
        Earnings = "earnings",
        /// First day without the dividend.
        ExDividend = "ex_dividend",
        /// The dividend is paid.
        DividendPayment = "dividend_payment",
        /// Shareholders meet.
        Meeting = "meeting",
    }
}

codes! {
    /// What a user put on a company.
    AnnotationKind "a kind of annotation" {
        /// How sound the user holds it to be, as a number from 1.
        Tier = "tier",
        /// A note in the user's words.
        Note = "note",
        /// A flag by name.
        Flag = "flag",
        /// Membership of a list by name.
        List = "list",
    }
}

/// A company. Text fields are empty, numbers `None` where not known.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Company {
    pub id: Arc<str>,
    pub name: String,
    pub country: String,
    pub sector: String,
    pub industry: String,
    /// The reporting currency.
    pub currency: Currency,
    /// 1–12.
    pub fiscal_year_end_month: Option<u8>,
    pub kind: Kind,
    pub description: String,
    pub employees: Option<f64>,
    pub founded: Option<i32>,
    pub lei: String,
}

/// A listing of a company's shares on one exchange.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Listing {
    pub symbol: Arc<str>,
    pub company_id: Arc<str>,
    pub mic: String,
    pub isin: String,
    pub currency: Currency,
    /// Ordinary shares that one traded unit stands for.
    pub shares_per_unit: f64,
    pub primary: bool,
    pub listed_on: Option<Day>,
    pub delisted_on: Option<Day>,
    /// Fraction received on delisting relative to the last close.
    pub delisting_return: Option<f64>,
}

/// One filing of one period.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Statement {
    pub company_id: Arc<str>,
    pub fiscal_year: i32,
    pub period: Period,
    pub period_end: Day,
    pub filed_on: Day,
    pub currency: Currency,
    pub source: String,
    pub items: Items,
}

/// One session of one listing: prices as traded, volume in traded units. All but the close are NaN where they are not known.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Bar {
    pub date: Day,
    pub open: f64,
    pub high: f64,
    pub low: f64,
    pub close: f64,
    pub volume: f64,
}

impl Bar {
    /// Without the zeros that stand for prices of a session without trading: only the close stands.
    #[must_use]
    pub fn traded(self) -> Bar {
        if self.volume == 0.0 && [self.open, self.high, self.low].contains(&0.0) {
            return Bar { open: f64::NAN, high: f64::NAN, low: f64::NAN, ..self };
        }
        self
    }

    /// With the close in place of the prices that are not known: what a session counts by.
    #[must_use]
    pub fn filled(self) -> Bar {
        let known = |price: f64| if price.is_nan() { self.close } else { price };
        Bar { open: known(self.open), high: known(self.high), low: known(self.low), ..self }
    }
}

/// A split or a dividend.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Action {
    pub symbol: Arc<str>,
    pub ex_date: Day,
    pub kind: ActionKind,
    /// New shares for one old, for a split.
    pub ratio: Option<f64>,
    /// Per traded unit in the listing's currency, for a dividend.
    pub amount: Option<f64>,
    pub declared_on: Option<Day>,
    pub record_date: Option<Day>,
    pub pay_date: Option<Day>,
}

/// Analysts' mean estimate of one metric.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Estimate {
    pub company_id: Arc<str>,
    pub published_on: Day,
    pub metric: Metric,
    pub fiscal_year: Option<i32>,
    pub period: Option<Period>,
    pub mean: f64,
    pub low: Option<f64>,
    pub high: Option<f64>,
    pub analysts: Option<f64>,
}

/// A trade of an insider as filed.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct InsiderTrade {
    pub company_id: Arc<str>,
    pub filing_id: String,
    pub filed_on: Day,
    pub traded_on: Day,
    pub insider_id: Arc<str>,
    pub insider_name: Arc<str>,
    /// `None` where the filing does not say.
    pub role: Option<Role>,
    /// Transaction code of the public ownership filings (P purchase, S sale, …).
    pub code: Arc<str>,
    pub acquired: bool,
    pub shares: f64,
    /// Of one share; `None` where only a footnote tells.
    pub price: Option<f64>,
    pub currency: Currency,
    pub shares_after: Option<f64>,
    pub direct: bool,
    /// Made under a pre-arranged trading plan.
    pub planned: bool,
    /// The day an amendment replaced it; it counts until then.
    pub superseded_on: Option<Day>,
}

impl InsiderTrade {
    /// Shares × price, in its currency.
    #[must_use]
    pub fn amount(&self) -> Option<f64> {
        self.price.map(|price| self.shares * price)
    }

    /// Whether it is known on a day: filed by then, and not superseded yet.
    #[must_use]
    pub fn is_known(&self, day: Day) -> bool {
        self.filed_on <= day && self.superseded_on.is_none_or(|superseded| day < superseded)
    }

    /// Whether it is an open-market purchase (code P, acquired).
    #[must_use]
    pub fn is_purchase(&self) -> bool {
        self.acquired && &*self.code == "P"
    }

    /// Whether it is an open-market sale (code S, disposed of).
    #[must_use]
    pub fn is_sale(&self) -> bool {
        !self.acquired && &*self.code == "S"
    }
}

/// Who owns a company, as fractions of its shares.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Ownership {
    pub company_id: Arc<str>,
    pub as_of: Day,
    pub filed_on: Day,
    pub insiders: Option<f64>,
    pub controlling: Option<f64>,
    pub institutions: Option<f64>,
    pub pledged: Option<f64>,
}

/// An interest or inflation rate, as a fraction.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Rate {
    pub date: Day,
    pub currency: Currency,
    pub series: RateSeries,
    pub value: f64,
}

/// An exchange rate: `rate` quote units for one base unit.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct FxRate {
    pub date: Day,
    pub base: Currency,
    pub quote: Currency,
    pub rate: f64,
}

/// Who held an office, and when.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Officer {
    pub company_id: Arc<str>,
    pub name: String,
    /// A role of the dataset such as `chief_executive`, or another in words.
    pub role: String,
    pub since: Option<Day>,
    pub until: Option<Day>,
    pub birth_year: Option<i32>,
}

/// A dated event.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Event {
    pub company_id: Arc<str>,
    pub date: Day,
    pub kind: EventKind,
    pub confirmed: bool,
    /// The day on which it became known, where that is said.
    pub announced_on: Option<Day>,
}

impl Event {
    /// Days before its date from which an event is known that does not say since when.
    const KNOWN_AHEAD: i32 = 30;

    /// The day from which it is known.
    #[must_use]
    pub fn known_on(&self) -> Day {
        self.announced_on.unwrap_or_else(|| self.date.plus_days(-Event::KNOWN_AHEAD))
    }
}

/// A headline.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct News {
    /// `None` for the market as a whole.
    pub company_id: Option<Arc<str>>,
    /// RFC 3339, as given.
    pub published_at: String,
    pub headline: String,
    pub summary: String,
    pub source: String,
}

impl News {
    /// The day on which it was published, by its own clock.
    #[must_use]
    pub fn published_on(&self) -> Option<Day> {
        self.published_at.get(..10)?.parse().ok()
    }
}

/// An index.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Index {
    pub id: Arc<str>,
    pub name: String,
    pub currency: Currency,
}

/// Membership of an index: from ≤ t < to.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct IndexMember {
    pub index_id: Arc<str>,
    pub company_id: Arc<str>,
    pub from: Day,
    pub to: Option<Day>,
}

/// The level of an index, dividends reinvested.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct IndexLevel {
    pub index_id: Arc<str>,
    pub date: Day,
    pub level: f64,
}

/// What a user put on a company.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Annotation {
    pub company_id: Arc<str>,
    pub kind: AnnotationKind,
    /// The list or flag; empty for tiers and notes.
    pub name: String,
    /// The tier, the note, the reason.
    pub value: String,
    pub noted_on: Option<Day>,
}

/// A row of any table.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum Record {
    Company(Company),
    Listing(Listing),
    Statement(Box<Statement>),
    Price { symbol: Arc<str>, bar: Bar },
    Action(Action),
    Estimate(Estimate),
    InsiderTrade(Box<InsiderTrade>),
    Ownership(Ownership),
    Rate(Rate),
    Fx(FxRate),
    Officer(Officer),
    Event(Event),
    News(Box<News>),
    Index(Index),
    IndexMember(IndexMember),
    IndexLevel(IndexLevel),
    Annotation(Box<Annotation>),
}

impl Record {
    /// The first day as of which anything is another for it; `None` when that may be any day.
    #[must_use]
    pub fn known_from(&self) -> Option<Day> {
        match self {
            Record::Statement(s) => Some(s.filed_on),
            Record::Price { bar, .. } => Some(bar.date),
            Record::Action(a) => Some(a.declared_on.map_or(a.ex_date, |d| d.min(a.ex_date))),
            Record::Estimate(e) => Some(e.published_on),
            Record::InsiderTrade(t) => Some(t.filed_on),
            Record::Ownership(o) => Some(o.filed_on),
            Record::Rate(r) => Some(r.date),
            Record::Fx(f) => Some(f.date),
            // Nothing is computed from dates that lie ahead.
            Record::Event(e) => Some(e.date),
            Record::News(n) => n.published_on(),
            Record::IndexLevel(l) => Some(l.date),
            Record::Officer(_) | Record::IndexMember(_) | Record::Company(_) | Record::Listing(_) | Record::Index(_) => None,
            Record::Annotation(_) => Some(Day::MAX),
        }
    }

    /// The table it belongs to.
    #[must_use]
    pub const fn table(&self) -> Table {
        match self {
            Record::Company(_) => Table::Companies,
            Record::Listing(_) => Table::Listings,
            Record::Statement(_) => Table::Statements,
            Record::Price { .. } => Table::Prices,
            Record::Action(_) => Table::Actions,
            Record::Estimate(_) => Table::Estimates,
            Record::InsiderTrade(_) => Table::InsiderTrades,
            Record::Ownership(_) => Table::Ownership,
            Record::Rate(_) => Table::Rates,
            Record::Fx(_) => Table::Fx,
            Record::Officer(_) => Table::Officers,
            Record::Event(_) => Table::Events,
            Record::News(_) => Table::News,
            Record::Index(_) => Table::Indexes,
            Record::IndexMember(_) => Table::IndexMembers,
            Record::IndexLevel(_) => Table::IndexLevels,
            Record::Annotation(_) => Table::Annotations,
        }
    }

    /// The company that the row belongs to by its id, if it belongs to one by id.
    #[must_use]
    pub const fn company_id(&self) -> Option<&Arc<str>> {
        match self {
            Record::Company(x) => Some(&x.id),
            Record::Listing(x) => Some(&x.company_id),
            Record::Statement(x) => Some(&x.company_id),
            Record::Estimate(x) => Some(&x.company_id),
            Record::InsiderTrade(x) => Some(&x.company_id),
            Record::Ownership(x) => Some(&x.company_id),
            Record::Officer(x) => Some(&x.company_id),
            Record::Event(x) => Some(&x.company_id),
            Record::News(x) => x.company_id.as_ref(),
            Record::IndexMember(x) => Some(&x.company_id),
            Record::Annotation(x) => Some(&x.company_id),
            Record::Price { .. } | Record::Action(_) | Record::Rate(_) | Record::Fx(_) | Record::Index(_) | Record::IndexLevel(_) => None,
        }
    }

    /// The listing that the row belongs to, if it belongs to one.
    #[must_use]
    pub const fn symbol(&self) -> Option<&Arc<str>> {
        match self {
            Record::Price { symbol, .. } => Some(symbol),
            Record::Action(x) => Some(&x.symbol),
            _ => None,
        }
    }

    /// The day on which the row became known; `None` for rows that are of no day.
    #[must_use]
    pub fn known_on(&self) -> Option<Day> {
        match self {
            Record::Company(_) | Record::Listing(_) | Record::Index(_) => None,
            Record::Statement(x) => Some(x.filed_on),
            Record::Price { bar, .. } => Some(bar.date),
            Record::Action(x) => Some(x.ex_date),
            Record::Estimate(x) => Some(x.published_on),
            Record::InsiderTrade(x) => Some(x.filed_on),
            Record::Ownership(x) => Some(x.filed_on),
            Record::Rate(x) => Some(x.date),
            Record::Fx(x) => Some(x.date),
            Record::Officer(x) => x.since,
            Record::Event(x) => Some(x.date),
            Record::News(x) => x.published_on(),
            Record::IndexMember(x) => Some(x.from),
            Record::IndexLevel(x) => Some(x.date),
            Record::Annotation(x) => x.noted_on,
        }
    }
}
