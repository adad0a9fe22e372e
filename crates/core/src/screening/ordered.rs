//! A formula's answers over a section, prepared for counting: its numbers in order, and who has none for which reason.

use super::{
    histogram::{Axis, Histogram},
    sets::{Members, nobody},
};
use crate::{Why, engine::Keep, formula::Column};

/// The rank of those without a finite number.
const NONE: u32 = u32::MAX;

pub(super) struct Ordered {
    /// The finite numbers, least first.
    sorted: Vec<f64>,
    /// Where in `sorted` each member stands.
    ranks: Vec<u32>,
    /// Who has no answer.
    pub(super) unknown: Members,
    /// The same by reason.
    pub(super) reasons: Vec<(Why, Members)>,
}

impl Ordered {
    #[allow(clippy::cast_possible_truncation)] // places are counted in 32 bits everywhere
    pub(super) fn of(column: &Column) -> Ordered {
        let members = column.len();
        let (mut unknown, mut reasons) = (nobody(members), Vec::<(Why, Members)>::new());
        for (i, why) in (0..members).filter_map(|i| column.why(i).map(|why| (i, why))) {
            unknown.insert(i);
            let at = reasons.iter().position(|(known, _)| *known == why).unwrap_or_else(|| {
                reasons.push((why, nobody(members)));
                reasons.len() - 1
            });
            reasons[at].1.insert(i);
        }
        let numbers = column.numbers().unwrap_or_default();
        let finite = |(i, v): (usize, &Result<f64, Why>)| v.ok().filter(|v| v.is_finite()).map(|v| (v, i));
        let mut pairs: Vec<(f64, usize)> = numbers.iter().enumerate().filter_map(finite).collect();
        pairs.sort_unstable_by(|a, b| a.0.total_cmp(&b.0));
        let mut ranks = vec![NONE; members];
        pairs.iter().enumerate().for_each(|(rank, (_, i))| ranks[*i] = rank as u32);
        Ordered { sorted: pairs.into_iter().map(|(v, _)| v).collect(), ranks, unknown, reasons }
    }

    /// The distribution of some members' numbers, on an axis on which the bounds lie; `None` of no numbers.
    pub(super) fn histogram(&self, of: &Members, bounds: impl Iterator<Item = f64> + Clone) -> Option<Histogram> {
        let mut present = nobody(self.sorted.len());
        of.ones().map(|i| self.ranks[i]).filter(|rank| *rank != NONE).for_each(|rank| present.insert(rank as usize));
        let counted = Counted::new(&present);
        let axis = Axis::over(counted.total(), |k| self.sorted[counted.nth(k)], bounds)?;
        let below = |bin: usize| counted.below(self.sorted.partition_point(|v| axis.bin(*v) < bin));
        Some(axis.histogram(below, counted.total()))
    }
}

impl Keep for Ordered {
    fn bytes(&self) -> usize {
        let sets = self.reasons.iter().map(|(_, set)| set).chain([&self.unknown]).map(Keep::bytes);
        size_of_val(&*self.sorted) + size_of_val(&*self.ranks) + sets.sum::<usize>()
    }
}

/// A set with the counts of its words, so that counting below a place and finding the nth take no walk.
struct Counted<'a> {
    words: &'a [usize],
    /// Members in all words before each, and in all.
    before: Vec<u32>,
}

impl<'a> Counted<'a> {
    fn new(set: &'a Members) -> Counted<'a> {
        let words = set.as_slice();
        let mut before = Vec::with_capacity(words.len() + 1);
        let mut sum = 0;
        before.push(sum);
        for word in words {
            sum += word.count_ones();
            before.push(sum);
        }
        Counted { words, before }
    }

    fn total(&self) -> usize {
        self.before.last().map_or(0, |n| *n as usize)
    }

    /// Members before a place.
    fn below(&self, place: usize) -> usize {
        let (word, bit) = (place / usize::BITS as usize, place % usize::BITS as usize);
        let here = self.words.get(word).map_or(0, |w| (w & ((1 << bit) - 1)).count_ones());
        (self.before[word] + here) as usize
    }

    /// The place of the member before which there are `k`.
    fn nth(&self, k: usize) -> usize {
        let word = self.before.partition_point(|n| *n as usize <= k) - 1;
        let mut rest = self.words[word];
        for _ in self.before[word] as usize..k {
            rest &= rest - 1;
        }
        word * usize::BITS as usize + rest.trailing_zeros() as usize
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::screening::sets::those;

    #[test]
    fn places_and_counts_of_a_set_agree_with_a_walk() {
        let set = those(300, |i| i % 7 == 3 || (120..190).contains(&i));
        let (counted, walk) = (Counted::new(&set), set.ones().collect::<Vec<_>>());
        assert_eq!(counted.total(), walk.len());
        assert_eq!((0..walk.len()).map(|k| counted.nth(k)).collect::<Vec<_>>(), walk);
        for place in 0..=300 {
            assert_eq!(counted.below(place), walk.iter().filter(|w| **w < place).count(), "below {place}");
        }
    }

    /// The same as from the values themselves, for every set of a column with ties, gaps and a number without end.
    #[test]
    fn a_histogram_by_rank_is_that_of_the_values() {
        let value = |i: usize| match i % 11 {
            0 => Err(Why::NoAnswer),
            1 => Ok(f64::INFINITY),
            _ => Ok((i * 37 % 50) as f64 / 4.0 - 3.0),
        };
        let numbers: Vec<Result<f64, Why>> = (0..400).map(value).collect();
        let column = Column::Number(numbers.clone());
        let ordered = Ordered::of(&column);
        assert_eq!(ordered.unknown.count_ones(..), 37);
        for step in 1..40 {
            let set = those(400, |i| i % step == 0 && i % 3 < 2);
            let values = set.ones().filter_map(|i| numbers[i].ok()).filter(|v| v.is_finite()).collect();
            let bounds = [0.5, 4.0 * step as f64];
            assert_eq!(ordered.histogram(&set, bounds.into_iter()), Histogram::of(values, bounds.into_iter()), "every {step}");
        }
        assert_eq!(ordered.histogram(&those(400, |i| i % 11 == 0), [1.0].into_iter()), None);
    }
}
