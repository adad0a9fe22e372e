//! The way to a value as its model tells it, once, whoever listens.

/// Hears of the years that count and of what stands beside them: together they are the value.
pub trait Account<N> {
    /// What grows year by year, and what counts of it.
    fn headed(&mut self, figure: &'static str, amount: &'static str);

    /// A year: by how much the figure grows, the figure, what counts of it, and what one unit of that year is worth today.
    fn year(&mut self, growth: N, figure: N, amount: N, discount: N);

    /// What counts beside the years, as of today.
    fn part(&mut self, words: &'static str, amount: N);
}

/// Only what it all comes to: millions of values are made at a move of a slider.
#[derive(Default)]
pub(super) struct Total(pub(super) f64);

impl Account<f64> for Total {
    fn headed(&mut self, _: &'static str, _: &'static str) {}

    fn year(&mut self, _: f64, _: f64, amount: f64, discount: f64) {
        self.0 += amount * discount;
    }

    fn part(&mut self, _: &'static str, amount: f64) {
        self.0 += amount;
    }
}
