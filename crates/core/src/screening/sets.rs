//! Sets of a section's members, a bit each, and counts of how many of several sets a member is in.

use crate::engine::Keep;
use fixedbitset::FixedBitSet;

/// Members of a section, by place.
pub(super) type Members = FixedBitSet;

/// Nobody of so many.
pub(super) fn nobody(members: usize) -> Members {
    FixedBitSet::with_capacity(members)
}

/// All of so many.
pub(super) fn everybody(members: usize) -> Members {
    let mut all = nobody(members);
    all.insert_range(..);
    all
}

/// Those for whom something holds.
pub(super) fn those(members: usize, holds: impl Fn(usize) -> bool) -> Members {
    let mut out = nobody(members);
    (0..members).filter(|i| holds(*i)).for_each(|i| out.insert(i));
    out
}

impl Keep for Members {
    fn bytes(&self) -> usize {
        size_of_val(self.as_slice())
    }
}

/// In how many of the sets added each member is, in binary: one set for each digit, the lowest first.
pub(super) struct Tally {
    digits: Vec<Members>,
    members: usize,
}

impl Tally {
    pub(super) const fn new(members: usize) -> Tally {
        Tally { digits: Vec::new(), members }
    }

    /// Adds one for everybody in a set, carrying from digit to digit.
    pub(super) fn add(&mut self, set: &Members) {
        let mut carry = set.clone();
        for digit in &mut self.digits {
            let both = &*digit & &carry;
            *digit ^= &carry;
            carry = both;
        }
        if !carry.is_clear() {
            self.digits.push(carry);
        }
    }

    /// Those who are in this many sets or more.
    pub(super) fn at_least(&self, k: usize) -> Members {
        if k >> self.digits.len() > 0 {
            return nobody(self.members);
        }
        // Compared from the lowest digit up: a higher digit that differs decides anew.
        let mut out = everybody(self.members);
        for (place, digit) in self.digits.iter().enumerate() {
            if k >> place & 1 == 1 {
                out &= digit;
            } else {
                out |= digit;
            }
        }
        out
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Against counting one by one, with more sets than three digits hold and thresholds beyond all.
    #[test]
    fn a_tally_counts_as_one_would_by_hand() {
        let set = |k: usize| those(200, |i| (i * 7 + k * 13).is_multiple_of(k + 2));
        let mut tally = Tally::new(200);
        for added in 0..=11 {
            for k in 0..=13 {
                let by_hand = those(200, |i| (0..added).filter(|s| set(*s).contains(i)).count() >= k);
                assert_eq!(tally.at_least(k), by_hand, "{k} or more of {added}");
            }
            tally.add(&set(added));
        }
    }
}
