//! Companies with a part to play, so that the guide, the pictures and the tests have characters. `docs/demo-world.md`
//! tells their stories.

use crate::{
    character::{Character, Reporting, Story},
    economy::day,
    quarter::{Quarter, TAX_RATE},
};
use artemon_core::domain::Day;

/// A part with the company that plays it.
#[derive(Debug)]
pub(crate) struct Part {
    pub(crate) story: Story,
    pub(crate) industry: &'static str,
    pub(crate) name: &'static str,
    pub(crate) symbol: &'static str,
    /// What its description says beside what it does.
    pub(crate) tells: &'static str,
    /// Log of price over value towards which it goes over the last eighteen months.
    mispricing: f64,
}

const fn part(
    story: Story,
    industry: &'static str,
    name: &'static str,
    symbol: &'static str,
    mispricing: f64,
    tells: &'static str,
) -> Part {
    Part { story, industry, name, symbol, tells, mispricing }
}

pub(crate) const CAST: &[Part] = &[
    part(
        Story::Steady,
        "Marine equipment",
        "Quillon Ropeworks",
        "QRW",
        -1.15,
        "Orders are booked two years ahead; the shares have drifted down with the market for its customers.",
    ),
    part(
        Story::Trap,
        "Apothecaries",
        "Brackmere Remedies",
        "BKR",
        -0.45,
        "Its oldest licence has run out, and prices have fallen year by year.",
    ),
    part(Story::Issuer, "Reckoning engines", "Tarnholt Tabulators", "TTB", 0.25, "It pays for its growth with new shares."),
    part(
        Story::FamilyBuys,
        "Brewing",
        "Ostwick Maltings",
        "OWM",
        -0.25,
        "The founding family holds the larger part and keeps adding to it.",
    ),
    part(
        Story::Recovered,
        "Ferry lines",
        "Ebbing Sound Ferries",
        "ESF",
        -0.20,
        "Close to its end in 2021, it sold two of its five lines and has earned money since.",
    ),
    part(
        Story::Cluster,
        "Stoves and lamps",
        "Dunmoor Lanterns",
        "DML",
        -0.55,
        "A fire at its main works halved the price in the spring; the works run again.",
    ),
    part(
        Story::Fraud,
        "Signal works",
        "Verrall Beacons",
        "VRB",
        0.20,
        "It reports the fastest growth of its trade; its customers pay later every year.",
    ),
    part(
        Story::Peak,
        "Timber",
        "Larch Haven Sawmills",
        "LHS",
        -0.25,
        "Rebuilding after the floods has sold its timber two seasons ahead, at prices never seen before.",
    ),
    part(
        Story::OneOff,
        "Chandlers",
        "Corrand General Stores",
        "CGS",
        0.0,
        "It sold its old harbour sheds this year for more than its shops earn in three.",
    ),
    part(
        Story::BuysBack,
        "Chart printers",
        "Penhallow Soundings",
        "PHS",
        -0.15,
        "It needs little capital, and spends what it earns on its own shares.",
    ),
    part(
        Story::Hollow,
        "Oilskins and boots",
        "Sandlow Bootmakers",
        "SLB",
        0.0,
        "In 2019 it borrowed to pay its owners nine years of earnings at once.",
    ),
    part(
        Story::Bargain,
        "Weather instruments",
        "Jarrow Point Barometers",
        "JPB",
        -0.95,
        "Its stores and receivables are worth more than all its shares cost; few have heard of it.",
    ),
    part(
        Story::Late,
        "Dredging and piling",
        "Moorfast Breakwaters",
        "MFB",
        -0.20,
        "Its books are late, and the shares of its controlling holder are pledged to a bank.",
    ),
];

impl Story {
    /// The log of price over value that the story adds on a day.
    pub(crate) fn pull(self, date: Day) -> f64 {
        let left = f64::from(crate::World::last_day().days_since(date));
        let span = if self == Story::Cluster { 110.0 } else { 540.0 };
        let mispricing = CAST.iter().find(|p| p.story == self).map_or(0.0, |p| p.mispricing);
        mispricing * (1.0 - left / span).clamp(0.0, 1.0)
    }
}

/// What a story does to one quarter's books before the rest of them is kept.
pub(crate) fn happen(c: &Character, q: usize, now: &mut Quarter) {
    match c.story {
        // The harbour sheds are sold in the first quarter of 2026.
        Some(Story::OneOff) if q == QUARTER_2026 => now.one_off = (now.revenue * 1.1).round(),
        Some(Story::OneOff) => now.one_off = 0.0,
        // An issue every spring.
        Some(Story::Issuer) if q % 4 == 1 => now.issued = (now.revenue * 0.35).round(),
        // Nine years of earnings at once in 2019, and all that is earned ever since.
        Some(Story::Hollow) if q == QUARTER_2019 => now.special = (36.0 * now.net_income().max(0.0)).round(),
        Some(Story::Hollow) if q > QUARTER_2019 => now.special = (0.85 * now.net_income().max(0.0)).round(),
        _ => {}
    }
    if c.story == Some(Story::OneOff) {
        now.tax = (now.pretax().max(0.0) * TAX_RATE).round();
    }
}

/// Quarters of the books.
const QUARTER_2019: usize = 60;
const QUARTER_2026: usize = 88;

/// The part of a company, by its position.
pub(crate) fn part_of(index: usize) -> Option<&'static Part> {
    CAST.get(index)
}

/// Gives the first companies their parts.
pub(crate) fn told(c: Character) -> Character {
    let Some(part) = part_of(c.index) else { return c };
    let c = Character {
        story: Some(part.story),
        listed_on: day((1988, 3, 1)),
        delisted: None,
        reporting: Reporting::Quarterly,
        state: 0,
        abroad: false,
        year_end: 12,
        revenue: c.revenue.clamp(3e7, 9e7),
        acquirer: 0.0,
        preferred: false,
        family: false,
        insiders: c.insiders.min(0.08),
        silent: false,
        unknown_officers: false,
        ..c
    };
    match part.story {
        Story::Steady => Character { quality: 0.9, growth: 0.07, leverage: 0.10, payout: 0.35, buyback: 0.15, ..c },
        Story::Trap => Character { quality: 0.2, growth: -0.01, leverage: 0.45, payout: 0.5, buyback: 0.0, ..c },
        Story::Issuer => Character { quality: -0.1, growth: 0.10, leverage: 0.3, payout: 0.0, buyback: -0.6, ..c },
        Story::FamilyBuys => {
            Character { quality: 0.45, growth: 0.05, leverage: 0.15, payout: 0.4, buyback: 0.0, family: true, insiders: 0.46, ..c }
        }
        Story::Recovered => Character { quality: 0.25, growth: 0.04, leverage: 0.4, payout: 0.0, buyback: 0.0, ..c },
        Story::Cluster => Character { quality: 0.4, growth: 0.05, leverage: 0.2, payout: 0.3, buyback: 0.1, ..c },
        Story::Fraud => Character { quality: 0.3, growth: 0.16, leverage: 0.4, payout: 0.0, buyback: -0.2, ..c },
        Story::Peak => Character { quality: 0.1, growth: 0.02, leverage: 0.25, payout: 0.3, buyback: 0.0, ..c },
        Story::OneOff => Character { quality: 0.0, growth: 0.02, leverage: 0.3, payout: 0.4, buyback: 0.0, ..c },
        Story::BuysBack => Character { quality: 0.8, growth: 0.04, leverage: 0.1, payout: 0.1, buyback: 0.85, ..c },
        Story::Hollow => Character { quality: 0.6, growth: 0.03, leverage: 0.75, payout: 0.6, buyback: 0.0, capital: 0.5, ..c },
        Story::Bargain => Character {
            quality: -0.35,
            growth: 0.0,
            leverage: 0.0,
            payout: 0.0,
            buyback: 0.0,
            revenue: 4e6,
            working: [0.24, 0.24, 0.09],
            capital: 0.55,
            wobble: 0.5,
            ..c
        },
        Story::Late => {
            Character { quality: -0.1, growth: 0.0, leverage: 0.6, payout: 0.0, buyback: 0.0, family: true, insiders: 0.38, ..c }
        }
    }
}
