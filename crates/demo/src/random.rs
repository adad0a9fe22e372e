//! Reproducible chance: one generator a purpose, so that a change in one part of the world leaves the others alone.

use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution, StandardNormal};

/// A stream of chance.
#[derive(Clone, Debug)]
pub(crate) struct Chance(ChaCha8Rng);

impl Chance {
    /// The stream of one purpose of one company.
    pub(crate) fn new(seed: u64, company: usize, purpose: u64) -> Chance {
        let mixed = seed.wrapping_mul(0x9E37_79B9_7F4A_7C15)
            ^ (company as u64).wrapping_mul(0xD1B5_4A32_D192_ED03)
            ^ purpose.wrapping_mul(0x94D0_49BB_1331_11EB);
        Chance(ChaCha8Rng::seed_from_u64(mixed))
    }

    /// A standard normal number.
    pub(crate) fn normal(&mut self) -> f64 {
        StandardNormal.sample(&mut self.0)
    }

    /// Evenly from `low` to `high`.
    pub(crate) fn between(&mut self, low: f64, high: f64) -> f64 {
        low + (high - low) * self.0.random::<f64>()
    }

    /// True with probability `p`.
    pub(crate) fn happens(&mut self, p: f64) -> bool {
        self.0.random::<f64>() < p
    }

    /// A whole number below `n`.
    pub(crate) fn below(&mut self, n: usize) -> usize {
        self.0.random_range(0..n.max(1))
    }
}
