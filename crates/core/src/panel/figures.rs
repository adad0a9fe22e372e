//! A column of prices or volumes in little memory: whole numbers of a power of ten where that is exact.

/// The most decimals that are kept as whole numbers.
pub const MAX_DECIMALS: u8 = 6;
const POWERS: [f64; MAX_DECIMALS as usize + 1] = [1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6];

/// Figures that come back to the last bit, as whole numbers of 10^−decimals in half the memory, or as they are.
#[derive(Clone, Debug, PartialEq)]
pub enum Figures {
    /// Whole numbers with this many decimals.
    Whole(u8, Vec<i32>),
    /// Figures that are no such numbers.
    Floats(Vec<f64>),
}

impl Default for Figures {
    fn default() -> Figures {
        Figures::Whole(0, Vec::new())
    }
}

impl Figures {
    /// How many.
    #[must_use]
    pub fn len(&self) -> usize {
        match self {
            Figures::Whole(_, all) => all.len(),
            Figures::Floats(all) => all.len(),
        }
    }

    /// Whether there are none.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }

    /// The figure at a position.
    #[must_use]
    pub fn get(&self, i: usize) -> f64 {
        match self {
            Figures::Whole(decimals, all) => f64::from(all[i]) / POWERS[*decimals as usize],
            Figures::Floats(all) => all[i],
        }
    }

    /// Whether none of them is NaN.
    #[must_use]
    pub fn are_known(&self) -> bool {
        match self {
            Figures::Whole(..) => true,
            Figures::Floats(all) => !all.iter().any(|f| f.is_nan()),
        }
    }

    /// The lowest and the highest figure at some positions.
    #[must_use]
    pub fn ends(&self, at: std::ops::Range<usize>) -> Option<(f64, f64)> {
        match self {
            Figures::Whole(decimals, all) => {
                let (low, high) = (all[at.clone()].iter().min()?, all[at].iter().max()?);
                let power = POWERS[*decimals as usize];
                Some((f64::from(*low) / power, f64::from(*high) / power))
            }
            Figures::Floats(all) => {
                let (low, high) =
                    (all[at.clone()].iter().copied().min_by(f64::total_cmp)?, all[at].iter().copied().max_by(f64::total_cmp)?);
                Some((low, high))
            }
        }
    }

    /// Appends the figures at some positions to `out`.
    pub fn copy_into(&self, at: std::ops::Range<usize>, out: &mut Vec<f64>) {
        match self {
            Figures::Whole(decimals, all) => {
                let power = POWERS[*decimals as usize];
                out.extend(all[at].iter().map(|n| f64::from(*n) / power));
            }
            Figures::Floats(all) => out.extend_from_slice(&all[at]),
        }
    }

    /// Room for so many more.
    pub fn reserve(&mut self, n: usize) {
        match self {
            Figures::Whole(_, all) => all.reserve_exact(n),
            Figures::Floats(all) => all.reserve_exact(n),
        }
    }

    /// Adds a figure.
    pub fn push(&mut self, figure: f64) {
        if let Figures::Whole(own, all) = self {
            if let Some(whole) = scaled(figure, *own) {
                return all.push(whole);
            }
            let finer = (*own + 1..=MAX_DECIMALS).find_map(|d| Some((d, scaled(figure, d)?)));
            if let Some((decimals, whole)) = finer {
                return self.extend_whole(decimals, [whole].into_iter());
            }
        }
        self.floats().push(figure);
    }

    /// Adds whole numbers of 10^−decimals.
    pub fn extend_whole(&mut self, decimals: u8, new: impl ExactSizeIterator<Item = i32> + Clone) {
        let decimals = decimals.min(MAX_DECIMALS);
        if let Figures::Whole(own, all) = self {
            if all.is_empty() {
                *own = decimals;
            }
            if *own == decimals {
                return all.extend(new);
            }
            let finest = decimals.max(*own);
            let room = |by: i32, n: i32| n.checked_mul(by).is_some();
            let factors = factor(*own, finest).zip(factor(decimals, finest));
            if let Some((old, by)) =
                factors.filter(|(old, by)| (*old == 1 || all.iter().all(|n| room(*old, *n))) && new.clone().all(|n| room(*by, n)))
            {
                if old > 1 {
                    all.iter_mut().for_each(|n| *n *= old);
                }
                all.extend(new.map(|n| n * by));
                *own = finest;
                return;
            }
        }
        self.floats().extend(new.map(|n| f64::from(n) / POWERS[decimals as usize]));
    }

    /// Adds the figures of another column.
    pub fn extend(&mut self, other: &Figures) {
        match other {
            Figures::Whole(decimals, all) => self.extend_whole(*decimals, all.iter().copied()),
            Figures::Floats(all) => all.iter().for_each(|v| self.push(*v)),
        }
    }

    /// As floats from here on.
    fn floats(&mut self) -> &mut Vec<f64> {
        if let Figures::Whole(..) = self {
            *self = Figures::Floats((0..self.len()).map(|i| self.get(i)).collect());
        }
        match self {
            Figures::Floats(all) => all,
            Figures::Whole(..) => unreachable!("made floats just now"),
        }
    }
}

/// What numbers are multiplied by to have more decimals. The quotients stay equal: both are the number nearest to the
/// same one.
fn factor(from: u8, to: u8) -> Option<i32> {
    10i32.checked_pow(u32::from(to - from))
}

/// The figure as a whole number of 10^−decimals, if it comes back exactly.
#[must_use]
#[allow(clippy::cast_possible_truncation, clippy::float_cmp)]
pub fn scaled(figure: f64, decimals: u8) -> Option<i32> {
    let scale = POWERS[decimals as usize];
    let exact = figure * scale;
    let whole = (exact + 0.5f64.copysign(exact)) as i32;
    (f64::from(whole) / scale == figure && (whole != 0 || figure.is_sign_positive())).then_some(whole)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// As whole numbers as long as six decimals and 31 bits hold them, in as few decimals as that takes.
    #[test]
    fn figures_are_whole_numbers_where_that_is_exact() {
        let column = |figures: &[f64]| {
            let mut out = Figures::default();
            figures.iter().for_each(|f| out.push(*f));
            out
        };
        assert_eq!(column(&[61.34, 2.5]), Figures::Whole(2, vec![6134, 250]));
        assert_eq!(column(&[3.0, -0.000_001]), Figures::Whole(6, vec![3_000_000, -1]));
        assert_eq!(column(&[2_147_483_647.0]), Figures::Whole(0, vec![i32::MAX]));
        for odd in [0.000_000_1, 2_147_483_648.0, -0.0, 1.0 / 3.0, f64::INFINITY] {
            assert_eq!(column(&[1.5, odd]), Figures::Floats(vec![1.5, odd]));
        }
        // Finer by a factor for which there is no room.
        assert_eq!(column(&[2_000_000_000.0, 0.5]), Figures::Floats(vec![2e9, 0.5]));
        assert_eq!((scaled(-61.34, 2), scaled(61.345, 2), scaled(-0.5, 0)), (Some(-6134), None, None));
    }

    proptest! {
        /// However prices of differing decimals, huge ones and odd ones come together, each comes back to the last bit.
        #[test]
        fn figures_come_back(parts in prop::collection::vec((0u8..=6, prop::collection::vec(any::<i32>(), 1..4), any::<f64>()), 1..6)) {
            let (mut column, mut want) = (Figures::default(), Vec::new());
            for (decimals, wholes, odd) in parts {
                column.extend_whole(decimals, wholes.iter().copied());
                want.extend(wholes.iter().map(|n| f64::from(*n) / POWERS[decimals as usize]));
                if wholes[0] % 3 == 0 {
                    column.push(odd);
                    want.push(odd);
                }
            }
            let mut other = Figures::default();
            other.extend(&column);
            let bits = |c: &Figures| (0..c.len()).map(|i| c.get(i).to_bits()).collect::<Vec<_>>();
            prop_assert_eq!(bits(&column), want.iter().map(|v: &f64| v.to_bits()).collect::<Vec<_>>());
            prop_assert_eq!(bits(&other), bits(&column));
            for at in [0..want.len(), 1..want.len(), 0..want.len() - 1, 0..0] {
                let (mut copied, part) = (Vec::new(), &want[at.clone()]);
                column.copy_into(at.clone(), &mut copied);
                prop_assert_eq!(&copied, part);
                let ends = part.iter().copied().min_by(f64::total_cmp).zip(part.iter().copied().max_by(f64::total_cmp));
                prop_assert_eq!(column.ends(at), ends);
            }
        }
    }
}
