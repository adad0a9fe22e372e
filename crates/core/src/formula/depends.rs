//! What an answer depends on beside the panel, and what it is known by where answers are kept.

use std::{
    fmt::{self, Debug, Write},
    hash::{DefaultHasher, Hash, Hasher},
};

/// A set of assumptions on which answers may depend: what is kept under it stays right whatever else is changed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Depends(u16);

impl Depends {
    /// Nothing but the panel and the base currency.
    pub const NOTHING: Depends = Depends(0);
    /// The tax rate where none can be computed.
    pub const TAX: Depends = Depends(1);
    /// What starting figures of a valuation are.
    pub const START: Depends = Depends(1 << 1);
    /// How a value follows from the starting figures.
    pub const VALUE: Depends = Depends(1 << 2);
    /// What is assumed of single companies.
    pub const OVERRIDES: Depends = Depends(1 << 3);
    /// When a filing is overdue.
    pub const QUALITY: Depends = Depends(1 << 4);
    /// How the components of quality count.
    pub const SCALE: Depends = Depends(1 << 8);
    /// What is required of price and quality.
    pub const VERDICT: Depends = Depends(1 << 5);
    /// The years of the multiple range.
    pub const RANGE: Depends = Depends(1 << 6);
    /// How often values are drawn.
    pub const DRAWS: Depends = Depends(1 << 7);
    /// All that makes an intrinsic value.
    pub const VALUATION: Depends = Depends::TAX.and(Depends::START).and(Depends::VALUE).and(Depends::OVERRIDES);

    /// Each assumption or group of them by itself.
    pub const EACH: [Depends; 9] = [
        Depends::TAX,
        Depends::START,
        Depends::VALUE,
        Depends::OVERRIDES,
        Depends::QUALITY,
        Depends::SCALE,
        Depends::VERDICT,
        Depends::RANGE,
        Depends::DRAWS,
    ];

    /// Both sets.
    #[must_use]
    pub const fn and(self, other: Depends) -> Depends {
        Depends(self.0 | other.0)
    }

    /// Whether all of another set is in it.
    #[must_use]
    pub const fn has(self, other: Depends) -> bool {
        self.0 & other.0 == other.0
    }
}

/// What a plan's answers are known by: equal for equal plans, which give equal answers under equal assumptions.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Identity {
    plan: Fingerprint,
    /// The assumptions on which the answers depend.
    pub depends: Depends,
}

impl Identity {
    pub(super) fn of(plan: &dyn Debug, depends: Depends) -> Identity {
        Identity { plan: Fingerprint::of(plan), depends }
    }
}

/// 128 bits of all that a value says of itself: two that differ anywhere differ here but for a chance of one in 2¹²⁸.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Fingerprint([u64; 2]);

impl Fingerprint {
    /// Of nothing.
    pub const NOTHING: Fingerprint = Fingerprint([0; 2]);

    /// Of a value whose `Debug` names every field, as the derived one does.
    #[must_use]
    pub fn of(value: &dyn Debug) -> Fingerprint {
        let mut hashers = Hashers([DefaultHasher::new(), DefaultHasher::new()]);
        1u8.hash(&mut hashers.0[1]);
        // Writing into a hasher cannot fail.
        write!(hashers, "{value:?}").ok();
        Fingerprint(hashers.0.map(|h| h.finish()))
    }
}

struct Hashers([DefaultHasher; 2]);

impl fmt::Write for Hashers {
    fn write_str(&mut self, text: &str) -> fmt::Result {
        self.0.iter_mut().for_each(|h| h.write(text.as_bytes()));
        Ok(())
    }
}
