//! One company from its beginnings: character, books, filings, prices, people.

use crate::{
    analysts, books,
    economy::{Economy, STATES, currency, day},
    filings, insiders,
    names::{INDUSTRIES, Industry, Name},
    prices,
    random::Chance,
    stories::{self, Story},
};
use artemon_core::domain::{Company, Day, Kind, Listing, Record};
use std::sync::Arc;

/// How often a company reports.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Reporting {
    Quarterly,
    HalfYearly,
    Yearly,
}

/// What a company is like.
#[derive(Debug)]
pub(crate) struct Character {
    pub(crate) id: Arc<str>,
    pub(crate) symbol: Arc<str>,
    pub(crate) index: usize,
    pub(crate) seed: u64,
    pub(crate) industry: &'static Industry,
    pub(crate) state: usize,
    pub(crate) reporting: Reporting,
    /// Quality between −1 and 1 at the beginning; it persists and fades.
    pub(crate) quality: f64,
    /// Growth a year towards which sales tend at first.
    pub(crate) growth: f64,
    /// Debt towards which it tends, as a share of invested capital.
    pub(crate) leverage: f64,
    /// Share of income paid out.
    pub(crate) payout: f64,
    /// Share of income spent on buying back shares (negative: shares issued).
    pub(crate) buyback: f64,
    /// Revenue of its first quarter.
    pub(crate) revenue: f64,
    /// Last month of its fiscal year.
    pub(crate) year_end: u32,
    pub(crate) listed_on: Day,
    /// When and with what return it leaves the exchange.
    pub(crate) delisted: Option<(Day, f64)>,
    /// Share of the company in insiders' hands.
    pub(crate) insiders: f64,
    pub(crate) family: bool,
    pub(crate) story: Option<Story>,
    /// Days from period end to the filing.
    pub(crate) filing_days: i32,
}

/// Everything the dataset knows of one company.
pub(crate) fn make(index: usize, name: &Name, seed: u64, economy: &Economy) -> Vec<Record> {
    let c = character(index, name, seed);
    let books = books::keep(&c, economy);
    let market = prices::trade(&c, &books, economy);
    let mut out = vec![Record::Company(record(&c, name)), Record::Listing(listing(&c))];
    filings::file(&c, &books, &market, &mut out);
    analysts::estimate(&c, &books, &market, &mut out);
    insiders::trade(&c, &market, &mut out);
    insiders::own(&c, &mut out);
    market.records(&c, &mut out);
    out
}

fn character(index: usize, name: &Name, seed: u64) -> Character {
    let mut x = Chance::new(seed, index, 10);
    let industry = &INDUSTRIES[name.industry];
    let reporting = match x.below(10) {
        0..7 => Reporting::Quarterly,
        7..9 => Reporting::HalfYearly,
        _ => Reporting::Yearly,
    };
    let quality = (0.45 * x.normal()).clamp(-1.0, 1.0);
    let family = x.happens(0.25);
    let listed_on = if x.happens(0.75) { day((1975 + i32::try_from(x.below(31)).unwrap_or(0), 3, 1)) } else { a_day(&mut x, 2007, 2023) };
    let delisted = x
        .happens(0.18)
        .then(|| (a_day(&mut x, 2009, 2025), if x.happens(0.3) { -1.0 } else { 0.0 }))
        .filter(|d| d.0 > listed_on.plus_months(36));
    let c = Character {
        id: format!("MR{index:05}").into(),
        symbol: name.symbol.as_str().into(),
        index,
        seed,
        industry,
        state: [0, 0, 0, 1, 1, 2][x.below(6)],
        reporting,
        quality,
        growth: 0.035 + 0.035 * quality + 0.025 * x.normal(),
        leverage: (0.32 + 0.17 * x.normal() - 0.1 * quality).clamp(0.0, 0.75),
        payout: if x.happens(0.62) { x.between(0.3, 0.65) } else { 0.0 },
        buyback: if x.happens(0.4) {
            x.between(0.05, 0.35)
        } else if x.happens(0.4) {
            -x.between(0.05, 0.3)
        } else {
            0.0
        },
        revenue: (17.2 + 1.5 * x.normal()).exp(),
        year_end: [12, 12, 12, 12, 6, 9, 3][x.below(7)],
        listed_on,
        delisted,
        insiders: if family { x.between(0.2, 0.6) } else { x.between(0.002, 0.12) },
        family,
        story: None,
        filing_days: 28 + i32::try_from(x.below(45)).unwrap_or(0),
    };
    stories::told(c)
}

fn a_day(x: &mut Chance, from: i32, to: i32) -> Day {
    let year = from + i32::try_from(x.below(usize::try_from(to - from).unwrap_or(0) + 1)).unwrap_or(0);
    let month = u32::try_from(1 + x.below(12)).unwrap_or(1);
    day((year, month, 15))
}

fn record(c: &Character, name: &Name) -> Company {
    let mut x = Chance::new(c.seed, c.index, 11);
    let where_to = ["at home", "in two of the three states", "in all three states"][x.below(3)];
    Company {
        id: c.id.clone(),
        name: name.name.clone(),
        country: STATES[c.state].country.to_owned(),
        sector: c.industry.sector.to_owned(),
        industry: c.industry.name.to_owned(),
        currency: currency(STATES[c.state].currency),
        fiscal_year_end_month: u8::try_from(c.year_end).unwrap_or(12),
        kind: c.industry.kind,
        description: c.story.map_or_else(
            || format!("{} {where_to}. Seat in {}.", c.industry.does, STATES[c.state].name),
            |s| format!("{}. {}", c.industry.does, s.tells()),
        ),
        employees: Some((c.revenue / x.between(30_000.0, 90_000.0) * 4.0).round().max(12.0)),
        founded: Some(c.listed_on.year() - 3 - i32::try_from(x.below(70)).unwrap_or(0)),
        lei: String::new(),
    }
}

fn listing(c: &Character) -> Listing {
    Listing {
        symbol: c.symbol.clone(),
        company_id: c.id.clone(),
        mic: STATES[c.state].mic.to_owned(),
        isin: isin(STATES[c.state].country, c.index),
        currency: currency(STATES[c.state].currency),
        shares_per_unit: 1.0,
        primary: true,
        listed_on: Some(c.listed_on),
        delisted_on: c.delisted.map(|d| d.0),
        delisting_return: c.delisted.map(|d| d.1),
    }
}

/// The one of ten endings that is the check digit.
fn isin(country: &str, index: usize) -> String {
    let body = format!("{country}{:09}", 1000 + index);
    let all = (0..10).map(|d| format!("{body}{d}"));
    all.into_iter().find(|i| artemon_core::domain::is_isin(i)).unwrap_or(body)
}

impl Character {
    pub(crate) fn is_financial(&self) -> bool {
        matches!(self.industry.kind, Kind::Bank | Kind::Insurer)
    }
}
