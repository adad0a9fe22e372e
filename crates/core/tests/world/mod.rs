//! A few rows by hand, and questions to them.
#![allow(dead_code)] // not every suite asks every question

use artemon_core::{
    Num,
    domain::{
        Action, ActionKind, Bar, Company, Currency, Day, Estimate, FxRate, InsiderTrade, Item, Items, Kind, Listing, Metric, Officer,
        Period, Record, Role, Statement,
    },
    engine::{Context, Engine, Settings},
    measures::compile,
    panel::{CompanyAt, PanelBuilder, Snapshot},
};

pub fn day(text: &str) -> Day {
    text.parse().unwrap()
}

pub fn currency(code: &str) -> Currency {
    code.parse().unwrap()
}

/// Rows of one company "C" with the symbol "SYM", reporting and listed in XFA, unless changed.
pub struct World {
    pub company: Company,
    pub listing: Listing,
    pub rows: Vec<Record>,
}

impl World {
    pub fn new() -> World {
        let company = Company {
            id: "C".into(),
            name: "Company".to_owned(),
            country: "XA".to_owned(),
            sector: "Sector".to_owned(),
            industry: "Industry".to_owned(),
            currency: currency("XFA"),
            fiscal_year_end_month: Some(12),
            kind: Kind::Operating,
            description: String::new(),
            employees: None,
            founded: None,
            lei: String::new(),
        };
        let listing = Listing {
            symbol: "SYM".into(),
            company_id: "C".into(),
            mic: String::new(),
            isin: String::new(),
            currency: currency("XFA"),
            shares_per_unit: 1.0,
            primary: true,
            listed_on: None,
            delisted_on: None,
            delisting_return: None,
        };
        World { company, listing, rows: Vec::new() }
    }

    /// A filing: fiscal year, period, its end, the day it was filed, and some items.
    pub fn filed(mut self, (year, period): (i32, Period), end: &str, filed_on: &str, items: &[(Item, f64)]) -> World {
        let mut all = Items::default();
        items.iter().for_each(|(item, value)| all.set(*item, Some(*value)));
        self.rows.push(Record::Statement(Box::new(Statement {
            company_id: "C".into(),
            fiscal_year: year,
            period,
            period_end: day(end),
            filed_on: day(filed_on),
            currency: self.company.currency,
            source: format!("{year}/{period}"),
            items: all,
        })));
        self
    }

    /// A session at one price.
    pub fn price(mut self, on: &str, price: f64) -> World {
        let bar = Bar { date: day(on), open: price, high: price, low: price, close: price, volume: 100.0 };
        self.rows.push(Record::Price { symbol: "SYM".into(), bar });
        self
    }

    /// A session with its volume.
    pub fn traded(mut self, on: Day, price: f64, volume: f64) -> World {
        let bar = Bar { date: on, open: price, high: price, low: price, close: price, volume };
        self.rows.push(Record::Price { symbol: "SYM".into(), bar });
        self
    }

    /// Sessions on the weekdays up to a day, the last price that day's; each trades 100 units.
    pub fn sessions(self, last: &str, prices: &[f64]) -> World {
        let bars: Vec<[f64; 4]> = prices.iter().map(|p| [*p; 4]).collect();
        self.bars(last, &bars)
    }

    /// The same with open, high, low and close.
    pub fn bars(mut self, last: &str, bars: &[[f64; 4]]) -> World {
        let mut days: Vec<Day> = Vec::new();
        let mut on = day(last);
        while days.len() < bars.len() {
            // 1970-01-05 was a Monday.
            days.extend(((on.epoch_days() - 4).rem_euclid(7) < 5).then_some(on));
            on = on.plus_days(-1);
        }
        for (date, [open, high, low, close]) in days.into_iter().rev().zip(bars.iter().copied()) {
            let bar = Bar { date, open, high, low, close, volume: 100.0 };
            self.rows.push(Record::Price { symbol: "SYM".into(), bar });
        }
        self
    }

    pub fn split(self, ex_date: &str, ratio: f64) -> World {
        self.action(ex_date, ActionKind::Split, Some(ratio), None)
    }

    pub fn dividend(self, ex_date: &str, amount: f64) -> World {
        self.action(ex_date, ActionKind::Dividend, None, Some(amount))
    }

    fn action(mut self, ex_date: &str, kind: ActionKind, ratio: Option<f64>, amount: Option<f64>) -> World {
        let ex_date = day(ex_date);
        let action = Action {
            symbol: "SYM".into(),
            ex_date,
            kind,
            ratio,
            amount,
            declared_on: Some(ex_date.plus_days(-20)),
            record_date: None,
            pay_date: Some(ex_date.plus_days(10)),
        };
        self.rows.push(Record::Action(action));
        self
    }

    pub fn fx(mut self, on: &str, base: &str, quote: &str, rate: f64) -> World {
        self.rows.push(Record::Fx(FxRate { date: day(on), base: currency(base), quote: currency(quote), rate }));
        self
    }

    pub fn row(mut self, record: Record) -> World {
        self.rows.push(record);
        self
    }

    pub fn snapshot(&self) -> Snapshot {
        let mut builder = PanelBuilder::default();
        builder.push(Record::Company(self.company.clone()));
        builder.push(Record::Listing(self.listing.clone()));
        self.rows.iter().for_each(|r| builder.push(r.clone()));
        builder.build()
    }

    /// Looks at the company as of a day, with XFA as the base currency.
    pub fn at<T>(&self, t: &str, look: impl FnOnce(&CompanyAt<'_>) -> T) -> T {
        look(&self.context().as_of(day(t)).company(0))
    }

    /// The rows with the Standard set and XFA as the base currency.
    pub fn context(&self) -> Context {
        Engine::new(self.snapshot()).context(Settings::standard(currency("XFA")).into())
    }

    /// The number that a formula gives as of a day.
    pub fn ask(&self, formula: &str, t: &str) -> Num {
        let context = self.context();
        context.evaluate(&compile(formula).unwrap(), &[context.as_of(day(t)).company(0)]).value(0).number()
    }
}

/// A mean estimate of a metric, of a fiscal year where it has one.
pub fn estimate(published_on: &str, metric: Metric, fiscal_year: Option<i32>, mean: f64) -> Record {
    Record::Estimate(Estimate {
        company_id: "C".into(),
        published_on: day(published_on),
        metric,
        fiscal_year,
        period: None,
        mean,
        low: None,
        high: None,
        analysts: None,
    })
}

/// An officer in a role from a day on, until another where it is known.
pub fn officer(name: &str, role: &str, since: &str, until: Option<&str>) -> Record {
    Record::Officer(Officer {
        company_id: "C".into(),
        name: name.to_owned(),
        role: role.to_owned(),
        since: Some(day(since)),
        until: until.map(day),
        birth_year: None,
    })
}

/// A trade of 100 shares at 10, filed two days later.
pub fn trade(insider: &str, on: &str, bought: bool) -> InsiderTrade {
    let traded_on = day(on);
    InsiderTrade {
        company_id: "C".into(),
        filing_id: format!("{insider}-{on}-{bought}"),
        filed_on: traded_on.plus_days(2),
        traded_on,
        insider_id: insider.into(),
        insider_name: insider.into(),
        role: Some(Role::Director),
        code: if bought { "P" } else { "S" }.into(),
        acquired: bought,
        shares: 100.0,
        price: Some(10.0),
        currency: currency("XFA"),
        shares_after: None,
        direct: true,
        planned: false,
        superseded_on: None,
    }
}

/// Companies of one sector with a price on each of some days.
pub fn sector(name: &str, days: &[&str], prices: &[&[f64]]) -> Context {
    sector_of(name, days, prices, &[])
}

/// The same, of which the first are of these kinds.
pub fn sector_of(name: &str, days: &[&str], prices: &[&[f64]], kinds: &[Kind]) -> Context {
    let template = World::new();
    let mut builder = PanelBuilder::default();
    for (i, prices) in prices.iter().enumerate() {
        let symbol = format!("C{i}");
        let (id, sector) = (symbol.as_str().into(), name.to_owned());
        let kind = kinds.get(i).copied().unwrap_or(Kind::Operating);
        builder.push(Record::Company(Company { id, sector, kind, ..template.company.clone() }));
        let (company_id, listed) = (symbol.as_str().into(), symbol.as_str().into());
        builder.push(Record::Listing(Listing { symbol: listed, company_id, ..template.listing.clone() }));
        for (on, price) in days.iter().zip(*prices) {
            let bar = Bar { date: day(on), open: *price, high: *price, low: *price, close: *price, volume: 100.0 };
            builder.push(Record::Price { symbol: symbol.as_str().into(), bar });
        }
    }
    Engine::new(builder.build()).context(Settings::standard(currency("XFA")).into())
}

/// One of several companies that reported for 2023 on 20 February 2024 and traded at one price on 29 February and 1 March.
pub struct Peer<'t> {
    pub symbol: &'t str,
    pub sector: &'t str,
    pub kind: Kind,
    pub price: f64,
    pub revenue: Option<f64>,
}

/// Several companies, with the Standard set and XFA as the base currency.
pub fn peers<'t>(all: impl IntoIterator<Item = Peer<'t>>) -> Context {
    let template = World::new();
    let mut builder = PanelBuilder::default();
    for Peer { symbol, sector, kind, price, revenue } in all {
        let (id, sector) = (symbol.into(), sector.to_owned());
        builder.push(Record::Company(Company { id, sector, kind, ..template.company.clone() }));
        builder.push(Record::Listing(Listing { symbol: symbol.into(), company_id: symbol.into(), ..template.listing.clone() }));
        for on in ["2024-02-29", "2024-03-01"] {
            let bar = Bar { date: day(on), open: price, high: price, low: price, close: price, volume: 100.0 };
            builder.push(Record::Price { symbol: symbol.into(), bar });
        }
        let mut items = Items::default();
        items.set(Item::Revenue, revenue);
        items.set(Item::NetIncome, Some(1.0));
        builder.push(Record::Statement(Box::new(Statement {
            company_id: symbol.into(),
            fiscal_year: 2023,
            period: Period::FY,
            period_end: day("2023-12-31"),
            filed_on: day("2024-02-20"),
            currency: template.company.currency,
            source: String::new(),
            items,
        })));
    }
    Engine::new(builder.build()).context(Settings::standard(currency("XFA")).into())
}

/// Whether a figure is this number, to the last few bits.
#[track_caller]
pub fn assert_is(got: Num, want: f64) {
    assert!(got.is_ok_and(|v| (v - want).abs() <= 1e-12 * want.abs().max(1.0)), "got {got:?}, want {want}");
}
