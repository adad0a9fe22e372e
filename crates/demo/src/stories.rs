//! Companies with a part to play, so that the guide, the pictures and the tests have characters.

use crate::{
    company::{Character, Reporting},
    economy::day,
};
use artemon_core::domain::Kind;

/// A scripted part.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Story {
    /// Earns more almost every year and has fallen to its yearly low all the same.
    SteadyAtLow,
    /// Looks cheap and earns it: margins sink year by year.
    Trap,
    /// Issues shares every year.
    Issuer,
    /// The founding family buys quarter after quarter.
    FamilyBuys,
    /// Nearly went under and has come back.
    Recovered,
    /// Insiders bought in a cluster after a fall.
    Cluster,
}

const CAST: [Story; 6] = [Story::SteadyAtLow, Story::Trap, Story::Issuer, Story::FamilyBuys, Story::Recovered, Story::Cluster];

impl Story {
    /// What the company's description says of it.
    pub(crate) const fn tells(self) -> &'static str {
        match self {
            Story::SteadyAtLow => "Orders are booked two years ahead; the shares have drifted down with the market for its customers.",
            Story::Trap => "Its oldest licence has run out and prices have fallen year by year",
            Story::Issuer => "It pays for its growth with new shares.",
            Story::FamilyBuys => "The founding family holds the larger part and keeps adding to it.",
            Story::Recovered => "Close to its end in 2021, it sold two of its five lines and has earned money since.",
            Story::Cluster => "A fire at its main works halved the price in the spring; the works run again.",
        }
    }

    /// Log mispricing added on the way to the last day.
    pub(crate) const fn mispricing(self) -> f64 {
        match self {
            Story::SteadyAtLow => -0.42,
            Story::Trap => -0.30,
            Story::Issuer => 0.25,
            Story::FamilyBuys => -0.25,
            Story::Recovered => -0.20,
            Story::Cluster => -0.55,
        }
    }
}

/// Gives the first companies of operating kind their parts.
pub(crate) fn told(c: Character) -> Character {
    let Some(&story) = CAST.get(c.index) else { return c };
    if c.industry.kind != Kind::Operating {
        return c;
    }
    let c = Character {
        story: Some(story),
        listed_on: day((1988, 3, 1)),
        delisted: None,
        reporting: Reporting::Quarterly,
        state: 0,
        year_end: 12,
        revenue: c.revenue.max(3e7),
        ..c
    };
    match story {
        Story::SteadyAtLow => Character { quality: 0.75, growth: 0.07, leverage: 0.10, payout: 0.35, buyback: 0.15, ..c },
        Story::Trap => Character { quality: 0.2, growth: -0.01, leverage: 0.45, payout: 0.5, buyback: 0.0, ..c },
        Story::Issuer => Character { quality: -0.1, growth: 0.10, leverage: 0.3, payout: 0.0, buyback: -0.6, ..c },
        Story::FamilyBuys => {
            Character { quality: 0.45, growth: 0.05, leverage: 0.15, payout: 0.4, buyback: 0.0, family: true, insiders: 0.46, ..c }
        }
        Story::Recovered => Character { quality: 0.25, growth: 0.04, leverage: 0.4, payout: 0.0, buyback: 0.0, ..c },
        Story::Cluster => Character { quality: 0.4, growth: 0.05, leverage: 0.2, payout: 0.3, buyback: 0.1, ..c },
    }
}
