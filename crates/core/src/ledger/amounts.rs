//! Decimals, and amounts that are counted in two currencies at once.

use rust_decimal::Decimal;
use std::ops::{Add, AddAssign, Neg, Sub, SubAssign};

/// A price, rate or volume of the dataset as a decimal of about 16 digits; 0 for what is no number.
#[must_use]
pub fn decimal(x: f64) -> Decimal {
    Decimal::try_from(x).unwrap_or_default()
}

/// A decimal as the nearest floating-point number.
#[must_use]
pub fn number(x: Decimal) -> f64 {
    f64::try_from(x).unwrap_or_default()
}

/// An amount in the account's currency, and what it was in the base currency at the rates of its days; the latter is unknown once a rate
/// was missing.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Sum {
    /// In the account's currency.
    pub own: Decimal,
    /// In the base currency.
    pub base: Option<Decimal>,
}

impl Default for Sum {
    fn default() -> Sum {
        Sum { own: Decimal::ZERO, base: Some(Decimal::ZERO) }
    }
}

impl Sum {
    /// An amount at a rate to the base currency.
    #[must_use]
    pub fn at(own: Decimal, to_base: Option<Decimal>) -> Sum {
        Sum { own, base: to_base.map(|rate| own * rate) }
    }

    /// Part ÷ whole of it.
    #[must_use]
    pub fn share(self, part: Decimal, whole: Decimal) -> Sum {
        if part == whole {
            return self;
        }
        let of = |x: Decimal| if whole.is_zero() { Decimal::ZERO } else { x * part / whole };
        Sum { own: of(self.own), base: self.base.map(of) }
    }
}

impl Add for Sum {
    type Output = Sum;
    fn add(self, other: Sum) -> Sum {
        Sum { own: self.own + other.own, base: self.base.zip(other.base).map(|(a, b)| a + b) }
    }
}

impl Neg for Sum {
    type Output = Sum;
    fn neg(self) -> Sum {
        Sum { own: -self.own, base: self.base.map(Neg::neg) }
    }
}

impl Sub for Sum {
    type Output = Sum;
    fn sub(self, other: Sum) -> Sum {
        self + -other
    }
}

impl AddAssign for Sum {
    fn add_assign(&mut self, other: Sum) {
        *self = *self + other;
    }
}

impl SubAssign for Sum {
    fn sub_assign(&mut self, other: Sum) {
        *self = *self - other;
    }
}
