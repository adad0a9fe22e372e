//! What fell upon whole industries in one week: decrees, harvests, inventions; with the headline of that week.

use crate::economy::day;
use artemon_core::domain::{Day, News, Record};

/// A change of the rules for some industries.
#[derive(Debug)]
pub(crate) struct Regime {
    pub(crate) industries: &'static [&'static str],
    /// The Monday of its week.
    from: (i32, u32, u32),
    /// What it does to the log of the price within the week, beyond what earnings will show.
    shock: f64,
    /// What it does to margins at once, as a share of sales; it fades over four years.
    margin: f64,
    headline: &'static str,
    summary: &'static str,
}

pub(crate) const REGIMES: &[Regime] = &[
    Regime {
        industries: &["Lamp oil"],
        from: (2012, 3, 12),
        shock: -0.26,
        margin: -0.035,
        headline: "Orrin caps the price of lamp oil",
        summary: "The council fixes the price of lamp and heating oil for four winters. All makers fall within the week.",
    },
    Regime {
        industries: &["Fisheries", "Kelp foods"],
        from: (2014, 9, 8),
        shock: -0.14,
        margin: -0.018,
        headline: "Catches halved on the Calder banks",
        summary: "The three states agree on quotas for ten years after two poor seasons.",
    },
    Regime {
        industries: &["Tide mills"],
        from: (2016, 5, 9),
        shock: 0.18,
        margin: 0.03,
        headline: "Towns to take tidal current first",
        summary: "Grid keepers must buy from tide mills before all others, at a price fixed for fifteen years.",
    },
    Regime {
        industries: &["Banks"],
        from: (2018, 2, 5),
        shock: -0.16,
        margin: -0.04,
        headline: "Banks must hold a third more capital",
        summary: "The Reach's overseers raise the least share of capital in steps until 2021.",
    },
    Regime {
        industries: &["Reckoning engines", "Signal works"],
        from: (2021, 6, 14),
        shock: 0.17,
        margin: 0.02,
        headline: "All harbours to report by machine",
        summary: "From 2023 every berth must send its ship movements by signal; makers speak of full order books.",
    },
    Regime {
        industries: &["Timber", "Glassworks"],
        from: (2024, 4, 15),
        shock: 0.12,
        margin: 0.05,
        headline: "Orrin rebuilds its flooded quarters",
        summary: "Timber and glass are sold two seasons ahead; prices are the highest in thirty years.",
    },
    Regime {
        industries: &["Packet post"],
        from: (2025, 10, 13),
        shock: -0.20,
        margin: -0.03,
        headline: "Packet post loses its sole right",
        summary: "Anyone may carry letters between the states from the new year.",
    },
];

/// News of the market as a whole that moved all prices.
const MARKET: &[((i32, u32, u32), &str, &str)] = &[
    ((2008, 10, 6), "Run on the Merchant Houses", "Two lenders close their doors; the exchanges fall for the fifth day."),
    (
        (2008, 11, 20),
        "Panic on the three exchanges",
        "Holders sell at any price; the Reach 300 has lost more than a third since midsummer.",
    ),
    ((2009, 6, 15), "Trade of the Reach shrinks by a tenth", "Fewer ships have called in every harbour for three quarters in a row."),
    ((2010, 4, 12), "Freight rises again", "Harbour dues show the first growth in two years."),
    ((2020, 3, 23), "Harbours shut against the grey fever", "Ships wait in quarantine; the exchanges lose a quarter within three weeks."),
    ((2021, 2, 8), "Quarantine ends", "All three states open their harbours again."),
    ((2023, 1, 16), "Prices rise by the fastest pace in a decade", "Rates on bonds follow."),
    ((2025, 5, 19), "A quiet spring on the exchanges", "Turnover is the lowest in six years."),
    ((2026, 6, 29), "The Reach 300 ends the half-year little changed", "Marine equipment is out of favour, timber dearer than ever."),
    ((2026, 11, 9), "Freight rates slip", "Owners lay up ships earlier than usual this winter."),
    ((2027, 3, 15), "Signal works lead a rising market", "Harbour orders come in faster than gear can be built."),
];

fn news((date, headline, summary): (Day, &str, &str)) -> Record {
    Record::News(Box::new(News {
        company_id: None,
        published_at: format!("{date}T07:30:00Z"),
        headline: headline.to_owned(),
        summary: summary.to_owned(),
        source: "The Reach Gazette".to_owned(),
    }))
}

/// The headlines of the market and of whole industries.
pub(crate) fn headlines() -> impl Iterator<Item = Record> {
    let regimes = REGIMES.iter().map(|r| (day(r.from), r.headline, r.summary));
    regimes.chain(MARKET.iter().map(|&(d, h, s)| (day(d), h, s))).map(news)
}

/// The log of the price that regimes have added to an industry by a day: within a week, then fading as earnings show it.
pub(crate) fn price_shock(industry: &str, date: Day) -> f64 {
    let one = |r: &Regime| {
        let days = f64::from(date.days_since(day(r.from)));
        if days < 0.0 { 0.0 } else { r.shock * ((days + 1.0) / 5.0).min(1.0) * (-days / 900.0).exp() }
    };
    of(industry).map(one).sum()
}

/// What regimes add to the margin of an industry in a quarter of the books.
pub(crate) fn margin_shift(industry: &str, quarter: usize) -> f64 {
    let one = |r: &Regime| {
        let from = crate::economy::Economy::quarter_of(day(r.from));
        if quarter <= from { 0.0 } else { r.margin * (-((quarter - from) as f64) / 16.0).exp() }
    };
    of(industry).map(one).sum()
}

fn of(industry: &str) -> impl Iterator<Item = &'static Regime> {
    REGIMES.iter().filter(move |r| r.industries.contains(&industry))
}
