//! Growth over the horizon: some years at the scenario's rate, then a straight-line fade to terminal growth.

use super::Assumptions;

/// Terminal growth gT, held the terminal gap below the discount rate.
fn terminal_growth(a: &Assumptions, rate: f64) -> f64 {
    a.terminal_growth.min(rate - a.terminal_gap)
}

/// The longest horizon.
pub(super) const MOST_YEARS: usize = 30;

/// The multiples of a starting figure in years 1…N, without a heap: millions of them are made at a move of a slider.
#[derive(Clone, Copy, Debug)]
pub(super) struct Path {
    all: [f64; MOST_YEARS],
    years: usize,
}

impl Path {
    /// The multiple at the end of the horizon.
    pub(super) fn at_last(&self) -> f64 {
        self.last().copied().unwrap_or(1.0)
    }
}

impl std::ops::Deref for Path {
    type Target = [f64];
    fn deref(&self) -> &[f64] {
        &self.all[..self.years]
    }
}

/// The multiples of the starting figure in years 1…N: x_t = x_{t−1} (1 + g_t), with g_t = g up to the growth years and
/// g + (gT − g)(t − 5) ÷ (N − 5) after (no fade when N is not longer).
pub(super) fn multiples(a: &Assumptions, g: f64, terminal: f64) -> Path {
    let fade_years = f64::from(a.horizon.saturating_sub(a.growth_years).max(1));
    let fade = (terminal - g) / fade_years;
    let mut path = Path { all: [0.0; MOST_YEARS], years: (a.horizon as usize).min(MOST_YEARS) };
    let mut x = 1.0;
    for (t, place) in (1..).zip(&mut path.all[..path.years]) {
        let faded = f64::from(u32::saturating_sub(t, a.growth_years));
        x *= 1.0 + g + fade * faded;
        *place = x;
    }
    path
}

/// A discount rate over the horizon.
#[derive(Clone, Copy, Debug)]
pub(super) struct Rate {
    /// A year.
    pub(super) r: f64,
    /// Terminal growth gT beside it.
    pub(super) terminal: f64,
    /// 1 ÷ (1 + r)^t.
    factors: Path,
}

impl Rate {
    pub(super) fn new(a: &Assumptions, r: f64) -> Rate {
        let mut factors = Path { all: [0.0; MOST_YEARS], years: (a.horizon as usize).min(MOST_YEARS) };
        let (mut discount, a_year) = (1.0, 1.0 / (1.0 + r));
        for place in &mut factors.all[..factors.years] {
            discount *= a_year;
            *place = discount;
        }
        Rate { r, terminal: terminal_growth(a, r), factors }
    }

    /// 1 ÷ (1 + r)^t of each year.
    pub(super) fn factors(&self) -> &[f64] {
        &self.factors
    }

    /// Year by year: the growth of a figure, the figure and what one unit of that year is worth today.
    pub(super) fn over(&self, path: &[f64], start: f64) -> impl Iterator<Item = (f64, f64, f64)> {
        let before = std::iter::once(&1.0).chain(path);
        path.iter().zip(before).zip(self.factors()).map(move |((x, before), discount)| (x / before - 1.0, start * x, *discount))
    }

    /// What an amount at the end of the horizon is worth: 1 ÷ (1 + r)^N.
    pub(super) fn at_last(&self) -> f64 {
        self.factors().last().copied().unwrap_or(1.0)
    }
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
        let m = multiples(&Assumptions::standard(), 0.10, 0.025);
        let rates: Vec<f64> = m.windows(2).map(|w| ((w[1] / w[0] - 1.0) * 1000.0).round() / 10.0).collect();
        assert_eq!(rates, [10.0, 10.0, 10.0, 10.0, 8.5, 7.0, 5.5, 4.0, 2.5]);
        let rate = Rate::new(&Assumptions { horizon: 2, ..Assumptions::standard() }, 0.1);
        let years: Vec<f64> = rate.over(&[1.1, 1.21], 2.0).flat_map(|(growth, figure, discount)| [growth, figure, discount]).collect();
        let expected = [0.1, 2.2, 1.0 / 1.1, 0.1, 2.42, 1.0 / 1.21];
        assert!(years.iter().zip(expected).all(|(a, b)| (a - b).abs() < 1e-12), "{years:?}");
        assert!((rate.at_last() * 1.21 - 1.0).abs() < 1e-12);
    }
}
