//! Growth over the horizon: some years at the scenario's rate, then a straight-line fade to terminal growth.

use super::{Amount, Assumptions};

/// The longest horizon.
pub(super) const MOST_YEARS: usize = 30;

/// What a set says of the years: how many there are, and what becomes of growth and return in them.
#[derive(Clone, Copy, Debug)]
pub struct Course<N> {
    /// N, the years of the horizon.
    pub horizon: u32,
    /// Years at the growth of the scenario.
    pub growth_years: N,
    /// gT, before it is held below the discount rate.
    pub terminal_growth: N,
    /// How far below.
    pub terminal_gap: N,
    /// ω, the part of the last excess return that persists.
    pub persistence: N,
}

impl Course<f64> {
    pub(super) fn of(a: &Assumptions) -> Course<f64> {
        Course {
            horizon: a.horizon,
            growth_years: a.growth_years.into(),
            terminal_growth: a.terminal_growth,
            terminal_gap: a.terminal_gap,
            persistence: a.persistence,
        }
    }
}

/// An amount for each year 1…N, without a heap: millions of them are made at a move of a slider.
#[derive(Clone, Copy, Debug)]
pub struct Path<N> {
    all: [N; MOST_YEARS],
    years: usize,
}

impl<N: Amount> Path<N> {
    /// Year by year from `next`, which is told the year, counted from 1.
    fn of(years: u32, mut next: impl FnMut(u32) -> N) -> Path<N> {
        let mut path = Path { all: [N::of(0.0); MOST_YEARS], years: (years as usize).min(MOST_YEARS) };
        for (t, place) in (1..).zip(&mut path.all[..path.years]) {
            *place = next(t);
        }
        path
    }

    /// The amount at the end of the horizon.
    pub(super) fn at_last(&self) -> N {
        self.last().copied().unwrap_or(N::of(1.0))
    }
}

impl<N> std::ops::Deref for Path<N> {
    type Target = [N];
    fn deref(&self) -> &[N] {
        &self.all[..self.years]
    }
}

/// The multiples of the starting figure in years 1…N: x_t = x_{t−1} (1 + g_t), with g_t = g up to the growth years and
/// g + (gT − g)(t − 5) ÷ (N − 5) after (no fade when N is not longer). Each year is given to `keep`, which answers with what
/// stands for it from then on: itself, or the cell it was written into.
pub fn multiples<N: Amount>(course: &Course<N>, g: N, terminal: N, mut keep: impl FnMut(u32, N) -> N) -> Path<N> {
    let growth_years = course.growth_years;
    let fade = (terminal - g) / (N::of(course.horizon.into()) - growth_years).most(N::of(1.0));
    let mut x = N::of(1.0);
    Path::of(course.horizon, |t| {
        let faded = (N::of(t.into()) - growth_years).most(N::of(0.0));
        x = keep(t, x * (N::of(1.0) + g + fade * faded));
        x
    })
}

/// A discount rate over the horizon.
#[derive(Clone, Copy, Debug)]
pub struct Rate<N> {
    /// A year.
    pub r: N,
    /// Terminal growth gT beside it.
    pub terminal: N,
    /// 1 ÷ (1 + r)^t.
    factors: Path<N>,
}

impl<N: Amount> Rate<N> {
    /// Terminal growth is held the terminal gap below the rate. Each factor is given to `keep`, as the multiples are.
    pub fn new(course: &Course<N>, r: N, mut keep: impl FnMut(u32, N) -> N) -> Rate<N> {
        let a_year = N::of(1.0) / (N::of(1.0) + r);
        let mut discount = N::of(1.0);
        let factors = Path::of(course.horizon, |t| {
            discount = keep(t, discount * a_year);
            discount
        });
        Rate { r, terminal: course.terminal_growth.least(r - course.terminal_gap), factors }
    }

    /// 1 ÷ (1 + r)^t of each year.
    pub(super) fn factors(&self) -> &[N] {
        &self.factors
    }

    /// Year by year: the growth of a figure, the figure and what one unit of that year is worth today.
    pub(super) fn over(&self, path: &[N], start: N) -> impl Iterator<Item = (N, N, N)> {
        let mut before = N::of(1.0);
        path.iter().zip(self.factors()).map(move |(x, discount)| {
            let growth = *x / std::mem::replace(&mut before, *x) - N::of(1.0);
            (growth, start * *x, *discount)
        })
    }

    /// What an amount at the end of the horizon is worth: 1 ÷ (1 + r)^N.
    pub(super) fn at_last(&self) -> N {
        self.factors.at_last()
    }
}

/// What is kept of a number is the number.
pub(super) const fn itself(_: u32, number: f64) -> f64 {
    number
}

/// (1 + r)^N.
pub(super) fn compounded(rate: f64, years: u32) -> f64 {
    (1.0 + rate).powi(years.cast_signed())
}

#[cfg(test)]
mod tests {
    use super::*;

    /// 10 % for five years, then 8.5, 7, 5.5, 4 and 2.5 %.
    #[test]
    fn growth_fades_in_a_straight_line() {
        let m = multiples(&Course::of(&Assumptions::standard()), 0.10, 0.025, itself);
        let rates: Vec<f64> = m.windows(2).map(|w| ((w[1] / w[0] - 1.0) * 1000.0).round() / 10.0).collect();
        assert_eq!(rates, [10.0, 10.0, 10.0, 10.0, 8.5, 7.0, 5.5, 4.0, 2.5]);
        let rate = Rate::new(&Course { horizon: 2, ..Course::of(&Assumptions::standard()) }, 0.1, itself);
        let years: Vec<f64> = rate.over(&[1.1, 1.21], 2.0).flat_map(|(growth, figure, discount)| [growth, figure, discount]).collect();
        let expected = [0.1, 2.2, 1.0 / 1.1, 0.1, 2.42, 1.0 / 1.21];
        assert!(years.iter().zip(expected).all(|(a, b)| (a - b).abs() < 1e-12), "{years:?}");
        assert!((rate.at_last() * 1.21 - 1.0).abs() < 1e-12);
    }
}
