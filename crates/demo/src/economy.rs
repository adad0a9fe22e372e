//! The three states: currencies, exchanges, the business cycle, moods of the market, rates.

use crate::random::Chance;
use artemon_core::domain::{Currency, Day, FxRate, Rate, RateSeries, Record};
use artemon_sim::sessions::sessions;

/// A state of the federation.
#[derive(Debug)]
pub(crate) struct State {
    pub(crate) country: &'static str,
    pub(crate) name: &'static str,
    pub(crate) currency: &'static str,
    pub(crate) mic: &'static str,
    /// Crowns for one unit of its currency at the beginning.
    pub(crate) crowns: f64,
}

pub(crate) const STATES: [State; 3] = [
    State { country: "XA", name: "Orrin", currency: "ZOC", mic: "ZZOR", crowns: 1.0 },
    State { country: "XB", name: "Calder Sound", currency: "ZCM", mic: "ZZCS", crowns: 1.9 },
    State { country: "XC", name: "the Vesper Isles", currency: "ZVD", mic: "ZZVI", crowns: 0.24 },
];

/// First session with prices.
pub(crate) const FIRST_SESSION: (i32, u32, u32) = (2006, 7, 3);
/// First quarter of the books: the first of this year.
pub(crate) const FIRST_YEAR: i32 = 2004;
/// Quarters of the books, up to the fourth of 2027: the year after the last day is what the feed goes on with.
pub(crate) const QUARTERS: usize = 96;
/// Sessions between two exchange rates.
const RATE_EVERY: usize = 5;

/// What all companies share.
#[derive(Debug)]
pub(crate) struct Economy {
    pub(crate) sessions: Vec<Day>,
    /// Output against trend by quarter of the books: a recession is about −0.1.
    pub(crate) cycle: Vec<f64>,
    /// The log of how dear the market is as a whole, by session.
    pub(crate) mood: Vec<f64>,
    /// Daily common return beside the mood, by session.
    pub(crate) shock: Vec<f64>,
    /// By how much of their gap prices are drawn towards value that day (negative: away from it), by session.
    pub(crate) style: Vec<f64>,
    /// Crowns for one unit of each state's currency, every fifth session.
    crowns: [Vec<f64>; 3],
    seed: u64,
}

impl Economy {
    pub(crate) fn new(seed: u64) -> Economy {
        let sessions = sessions(day(FIRST_SESSION), day(crate::END_OF_FEED));
        let mut chance = Chance::new(seed, 0, 1);
        let cycle = cycle(&mut chance);
        let mood = mood(&sessions, &mut chance);
        let shock = sessions.iter().map(|_| 0.005 * chance.normal()).collect();
        let mut chance = Chance::new(seed, 0, 4);
        let style = sessions.iter().map(|_| 0.024 * chance.normal()).collect();
        let mut chance = Chance::new(seed, 0, 2);
        let crowns = std::array::from_fn(|i| exchange(&STATES[i], sessions.len().div_ceil(RATE_EVERY), &mut chance));
        Economy { sessions, cycle, mood, shock, style, crowns, seed }
    }

    /// Crowns for one unit of a state's currency on a session.
    pub(crate) fn crowns(&self, state: usize, session: usize) -> f64 {
        self.crowns[state][session / RATE_EVERY]
    }

    /// Exchange and interest rates.
    pub(crate) fn records(&self) -> Vec<Record> {
        let mut chance = Chance::new(self.seed, 0, 3);
        let mut out = Vec::new();
        for (state, crowns) in STATES.iter().zip(&self.crowns) {
            self.rates(state, &mut chance, &mut out);
            let dates = self.sessions.iter().step_by(RATE_EVERY);
            let fx = |(date, rate): (&Day, &f64)| {
                Record::Fx(FxRate { date: *date, base: currency(state.currency), quote: currency("ZOC"), rate: *rate })
            };
            out.extend(dates.zip(crowns).filter(|_| state.crowns != 1.0).map(fx));
        }
        out
    }

    /// Monthly rates: inflation, and bonds above it.
    fn rates(&self, state: &State, chance: &mut Chance, out: &mut Vec<Record>) {
        let mut inflation = 0.022;
        let mut date = day(FIRST_SESSION).month_end();
        let mut quarter = 10.0;
        while date <= day(crate::END_OF_FEED) {
            let output = self.cycle[(quarter as usize).min(QUARTERS - 1)];
            inflation += 0.05 * (0.023 + 0.12 * output - inflation) + 0.0011 * chance.normal();
            inflation = f64::max(inflation, 0.001);
            let government = inflation + 0.012 + 0.06 * output.max(-0.1);
            let best = government + 0.009 - 0.05 * output.min(0.0);
            for (series, value) in
                [(RateSeries::Inflation, inflation), (RateSeries::Government10yYield, government), (RateSeries::AaaCorporateYield, best)]
            {
                out.push(Record::Rate(Rate { date, currency: currency(state.currency), series, value: rounded(value.max(0.002), 5) }));
            }
            date = date.plus_days(1).month_end();
            quarter += 1.0 / 3.0;
        }
    }

    /// The first day of a quarter of the books.
    pub(crate) fn first_day(quarter: usize) -> Day {
        day((FIRST_YEAR, 1, 1)).plus_months(i32::try_from(quarter * 3).unwrap_or(0))
    }

    /// The quarter of the books in which a day lies.
    pub(crate) fn quarter_of(day: Day) -> usize {
        let months = day.month_index() - FIRST_YEAR * 12;
        usize::try_from(months / 3).unwrap_or(0).min(QUARTERS - 1)
    }
}

/// Exchange rates against the crown: a slow walk that is drawn back.
fn exchange(state: &State, steps: usize, chance: &mut Chance) -> Vec<f64> {
    let mut drift: f64 = 0.0;
    let mut step = || {
        drift = 0.995 * drift + 0.008 * chance.normal();
        if state.crowns == 1.0 { 1.0 } else { rounded(state.crowns * drift.exp(), 5) }
    };
    (0..steps).map(|_| step()).collect()
}

/// Two recessions (2009 and 2020–21) about a gentle wave, and a slow year (2018).
fn cycle(chance: &mut Chance) -> Vec<f64> {
    let dip = |q: f64, centre: f64, width: f64, depth: f64| -depth * (-((q - centre) / width).powi(2)).exp();
    let at = |q: usize| {
        let q = q as f64;
        0.006 * (q / 6.5).sin() + dip(q, 57.5, 2.5, 0.013) + dip(q, 20.0, 2.2, 0.072) + dip(q, 69.5, 1.8, 0.07) + 0.004 * chance.normal()
    };
    (0..QUARTERS).map(at).collect()
}

/// A slow walk with one panic, a gloomy stretch, and three of good cheer.
fn mood(sessions: &[Day], chance: &mut Chance) -> Vec<f64> {
    let panic = day((2008, 11, 20));
    let gloom = day((2020, 11, 12));
    let mut walk = 0.0;
    let at = |d: &Day| {
        walk = 0.998 * walk + 0.0015 * chance.normal();
        let fall = |from: Day, depth: f64, slow: f64, back: f64| {
            let days = f64::from(d.days_since(from));
            if days < 0.0 { -depth * (days / slow).exp() } else { -depth * (-days / back).exp() }
        };
        let cheer = |around: (i32, u32, u32), by: f64| by * (-(f64::from(d.days_since(day(around))) / 300.0).powi(2)).exp();
        walk + cheer((2016, 12, 5), 0.02)
            + cheer((2019, 12, 2), 0.03)
            + cheer((2026, 5, 4), 0.05)
            + fall(panic, 0.46, 45.0, 260.0)
            + fall(gloom, 0.30, 14.0, 150.0)
    };
    sessions.iter().map(at).collect()
}

pub(crate) fn currency(code: &str) -> Currency {
    code.parse().unwrap_or_else(|_| unreachable!("{code} is a currency code"))
}

pub(crate) fn day((year, month, day): (i32, u32, u32)) -> Day {
    Day::from_ymd(year, month, day).unwrap_or_else(|| unreachable!("a day of the calendar"))
}

/// Rounded to so many decimals.
pub(crate) fn rounded(x: f64, decimals: i32) -> f64 {
    let scale = 10f64.powi(decimals);
    // Nothing has no sign.
    (x * scale).round() / scale + 0.0
}
