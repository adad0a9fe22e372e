//! A fact as a filing states it.

use super::{concept::Concept, outcome::Outcome};
use crate::domain::{Currency, Day};
use rust_decimal::Decimal;
use std::{fmt, sync::Arc};

/// One stated figure or text.
#[derive(Clone, Debug)]
pub struct Fact {
    /// What it is about.
    pub concept: Arc<Concept>,
    /// Whose it is: scheme and identifier. `None` where the form has one filer only.
    pub entity: Option<Arc<str>>,
    /// For which day or time.
    pub span: Span,
    /// In what it is counted.
    pub unit: FactUnit,
    /// Whether it is of a part of the company only.
    pub dimensioned: bool,
    /// What is stated.
    pub value: FactValue,
    /// What the reader itself found that keeps it from being used.
    pub refused: Option<Outcome>,
}

/// The day or the time of a fact.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Span {
    /// At the end of a day.
    Instant(Day),
    /// From the first day to the last, both included.
    Duration(Day, Day),
    /// Always, or not said.
    Forever,
}

impl fmt::Display for Span {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Span::Instant(day) => day.fmt(f),
            Span::Duration(first, last) => write!(f, "{first} to {last}"),
            Span::Forever => f.write_str("always"),
        }
    }
}

/// In what a figure is counted.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum FactUnit {
    /// Money.
    Money(Currency),
    /// Money a share.
    PerShare(Currency),
    /// Shares.
    Shares,
    /// A plain number, or no unit at all.
    Pure,
    /// Anything else.
    Other,
}

impl FactUnit {
    /// A unit as the regulators' bulk forms name it: a currency, `XXX/shares`, `shares` or `pure`.
    #[must_use]
    pub fn named(name: &str) -> FactUnit {
        match name {
            "shares" => FactUnit::Shares,
            "pure" => FactUnit::Pure,
            _ => match name.strip_suffix("/shares") {
                Some(currency) => currency.parse().map_or(FactUnit::Other, FactUnit::PerShare),
                None => name.parse().map_or(FactUnit::Other, FactUnit::Money),
            },
        }
    }
}

/// What is stated.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum FactValue {
    /// That nothing is stated.
    Nil,
    /// A text; kept only of facts about the document.
    Text(String),
    /// A number.
    Number(Figure),
}

/// A number and how exact it is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Figure {
    /// The number, in whole units.
    pub value: Decimal,
    /// How exact it is.
    pub exactness: Exactness,
}

/// How exact a figure is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Exactness {
    /// Exact.
    Exact,
    /// Rounded to this many decimals; −3 is thousands.
    Decimals(i32),
    /// Not said, as in the regulators' bulk sets.
    Unstated,
}

/// The largest amount that is believed.
const LARGEST: Decimal = Decimal::from_parts(2_808_348_672, 232_830_643, 0, false, 0);

/// A number as filings write it: a decimal, an exponent allowed. `None` where it is none or lies beyond ±10¹⁸.
#[must_use]
pub fn number(text: &str) -> Option<Decimal> {
    let text = text.trim();
    let plain = text.strip_prefix('+').filter(|rest| !rest.starts_with(['+', '-'])).unwrap_or(text);
    // Hundreds of digits are no amount; zeros in front of and decimals far behind the point are.
    if plain.len() > 400 || plain.contains('_') {
        return None;
    }
    let value = match plain.find(['e', 'E']) {
        Some(_) => Decimal::from_scientific(plain).ok()?,
        None => plain.parse::<Decimal>().ok()?,
    };
    (value.abs() <= LARGEST).then_some(value)
}

impl Figure {
    /// Half a unit of the last figure that is exact: the number lies within this of what is stated.
    #[must_use]
    pub fn half_unit(&self) -> Decimal {
        match self.exactness {
            Exactness::Decimals(d) if d >= 0 => Decimal::new(5, d.unsigned_abs().min(20) + 1),
            Exactness::Decimals(d) => Decimal::new(5 * 10_i64.pow(d.unsigned_abs().min(18) - 1), 0),
            Exactness::Exact | Exactness::Unstated => Decimal::ZERO,
        }
    }
}

impl Exactness {
    /// Which of two is more exact.
    pub(super) fn rank(self) -> i32 {
        match self {
            Exactness::Exact => i32::MAX,
            Exactness::Decimals(d) => d,
            Exactness::Unstated => i32::MIN,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_are_decimals_up_to_a_quintillion() {
        for (text, value) in
            [("12.50", "12.5"), ("-3", "-3"), ("+7", "7"), (" 1e6 ", "1000000"), ("1.5E-2", "0.015"), ("1000000000000000000", "1e18")]
        {
            let expected = Decimal::from_scientific(value).or_else(|_| value.parse()).unwrap();
            assert_eq!(number(text), Some(expected), "{text}");
        }
        for text in ["", "n/a", "1,000", "--1", "+-1", "1_000", "NaN", "1000000000000000001", "1e400", &"9".repeat(400)] {
            assert_eq!(number(text), None, "{text}");
        }
    }

    #[test]
    fn half_a_unit_follows_from_the_decimals() {
        let half = |exactness| Figure { value: Decimal::ONE, exactness }.half_unit().normalize().to_string();
        assert_eq!(half(Exactness::Decimals(-3)), "500");
        assert_eq!(half(Exactness::Decimals(2)), "0.005");
        assert_eq!(half(Exactness::Exact), "0");
    }
}
