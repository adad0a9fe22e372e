//! Short codes of the trade: currencies, kinds of company, periods, roles.

use serde::{Deserialize, Deserializer, Serialize, Serializer};
use std::{fmt, str::FromStr};

/// A currency by its three-letter code (ISO 4217, user-assigned codes included).
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Currency([u8; 3]);

impl Currency {
    /// The code as text.
    #[must_use]
    pub fn as_str(&self) -> &str {
        std::str::from_utf8(&self.0).unwrap_or("???")
    }
}

impl FromStr for Currency {
    type Err = CodeError;
    fn from_str(s: &str) -> Result<Self, CodeError> {
        match s.as_bytes() {
            &[a, b, c] if [a, b, c].iter().all(u8::is_ascii_uppercase) => Ok(Currency([a, b, c])),
            _ => Err(CodeError { text: s.to_owned(), expected: "a three-letter currency code such as ZOC".to_owned() }),
        }
    }
}

impl fmt::Display for Currency {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.as_str())
    }
}

impl fmt::Debug for Currency {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.as_str())
    }
}

impl Serialize for Currency {
    fn serialize<S: Serializer>(&self, s: S) -> Result<S::Ok, S::Error> {
        s.serialize_str(self.as_str())
    }
}

impl<'de> Deserialize<'de> for Currency {
    fn deserialize<D: Deserializer<'de>>(d: D) -> Result<Self, D::Error> {
        String::deserialize(d)?.parse().map_err(serde::de::Error::custom)
    }
}

/// A code that is not one of those known.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("\"{text}\" is not {expected}")]
pub struct CodeError {
    /// What was written.
    pub text: String,
    /// What would have been right.
    pub expected: String,
}

/// An enumeration of codes: parsed, printed and serialised as the dataset writes them.
macro_rules! codes {
    ($(#[$doc:meta])* $name:ident $what:literal { $($(#[$vdoc:meta])* $variant:ident = $code:literal),+ $(,)? }) => {
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
        #[repr(u8)]
        pub enum $name { $($(#[$vdoc])* $variant),+ }

        impl $name {
            /// Every value, in order.
            pub const ALL: &'static [$name] = &[$($name::$variant),+];

            /// The code as the dataset writes it.
            #[must_use]
            pub const fn code(self) -> &'static str {
                match self { $($name::$variant => $code),+ }
            }
        }

        impl ::std::str::FromStr for $name {
            type Err = $crate::domain::CodeError;
            fn from_str(s: &str) -> Result<Self, $crate::domain::CodeError> {
                match s {
                    $($code => Ok($name::$variant),)+
                    _ => Err($crate::domain::CodeError { text: s.to_owned(), expected: format!(concat!($what, " ({})"), [$($code),+].join(", ")) }),
                }
            }
        }

        impl ::std::fmt::Display for $name {
            fn fmt(&self, f: &mut ::std::fmt::Formatter<'_>) -> ::std::fmt::Result { f.write_str(self.code()) }
        }

        impl ::serde::Serialize for $name {
            fn serialize<S: ::serde::Serializer>(&self, s: S) -> Result<S::Ok, S::Error> { s.serialize_str(self.code()) }
        }

        impl<'de> ::serde::Deserialize<'de> for $name {
            fn deserialize<D: ::serde::Deserializer<'de>>(d: D) -> Result<Self, D::Error> {
                let text = <String as ::serde::Deserialize>::deserialize(d)?;
                text.parse().map_err(::serde::de::Error::custom)
            }
        }
    };
}
pub(crate) use codes;

codes! {
    /// What sort of business a company is; some measures mean nothing for some kinds.
    Kind "a kind of company" {
        /// Makes or sells things or services.
        Operating = "operating",
        /// Takes deposits and lends.
        Bank = "bank",
        /// Insures.
        Insurer = "insurer",
        /// Owns and lets property.
        Property = "property",
        /// Holds stakes in others.
        Holding = "holding",
        /// A fund: worth what it holds.
        Fund = "fund",
    }
}

codes! {
    /// The part of a fiscal year that a statement covers.
    Period "a period" {
        /// First quarter alone.
        Q1 = "Q1",
        /// Second quarter alone.
        Q2 = "Q2",
        /// First half alone.
        H1 = "H1",
        /// Third quarter alone.
        Q3 = "Q3",
        /// Fourth quarter alone.
        Q4 = "Q4",
        /// Second half alone.
        H2 = "H2",
        /// The whole fiscal year.
        FY = "FY",
    }
}

codes! {
    /// What an insider is to the company.
    Role "an insider's role" {
        /// Chief executive.
        ChiefExecutive = "chief_executive",
        /// Chief of finance.
        ChiefFinancial = "chief_financial",
        /// Another officer.
        Officer = "officer",
        /// A director.
        Director = "director",
        /// Holds a large stake.
        LargeHolder = "large_holder",
        /// Controls the company.
        ControllingHolder = "controlling_holder",
    }
}

impl Role {
    /// Whether it is the chief executive or of finance.
    #[must_use]
    pub const fn is_chief(self) -> bool {
        matches!(self, Role::ChiefExecutive | Role::ChiefFinancial)
    }
}

impl Period {
    /// The quarter of this number, 1–4.
    #[must_use]
    pub const fn quarter(number: u8) -> Period {
        match number {
            1 => Period::Q1,
            2 => Period::Q2,
            3 => Period::Q3,
            _ => Period::Q4,
        }
    }
}

codes! {
    /// How long a bar of prices is.
    BarSize "a size of bars" {
        /// One session.
        Day = "day",
        /// A week, to its Friday or last session.
        Week = "week",
        /// A calendar month.
        Month = "month",
    }
}

codes! {
    /// A series of interest or inflation rates.
    RateSeries "a series of rates" {
        /// Yield of AAA corporate bonds.
        AaaCorporateYield = "aaa_corporate_yield",
        /// Yield of ten-year government bonds.
        Government10yYield = "government_10y_yield",
        /// Inflation over twelve months.
        Inflation = "inflation",
    }
}

/// Whether `text` is an ISIN: twelve characters of which the last is the check digit (ISO 6166, Luhn over the expanded digits).
#[must_use]
pub fn is_isin(text: &str) -> bool {
    let b = text.as_bytes();
    if b.len() != 12 || !b[..2].iter().all(u8::is_ascii_uppercase) || !b[11].is_ascii_digit() {
        return false;
    }
    let mut digits = Vec::with_capacity(24);
    for &c in b {
        match c {
            b'0'..=b'9' => digits.push(u32::from(c - b'0')),
            b'A'..=b'Z' => {
                let n = u32::from(c - b'A') + 10;
                digits.extend([n / 10, n % 10]);
            }
            _ => return false,
        }
    }
    let sum: u32 = digits.iter().rev().enumerate().map(|(i, &d)| if i % 2 == 1 { (2 * d) / 10 + (2 * d) % 10 } else { d }).sum();
    sum.is_multiple_of(10)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_isin_needs_its_check_digit() {
        assert!(is_isin("XA0000010008"));
        assert!(!is_isin("XA0000010009"));
        assert!(!is_isin("XA000001000"));
    }
}
