//! What money earned a year.

use crate::domain::Day;

/// Money that went in (above zero) or came out (below) on a day.
pub type Flow = (Day, f64);

/// The yearly rate at which what went in became what came out and is there at the end: Σ flow × (1 + r)^((end − day) ÷ 365) = value.
/// `None` where no rate does, such as before anything went in.
///
/// 1,000 put in and worth 1,100 a year of 365 days later: 10 %. Source: the internal rate of return of dated cash flows.
#[must_use]
pub fn xirr(flows: &[Flow], end: Day, value: f64) -> Option<f64> {
    let scale = flows.iter().map(|f| f.1.abs()).sum::<f64>() + value.abs();
    if scale <= 0.0 || flows.iter().all(|f| f.0 == end) {
        return None;
    }
    // In the logarithm of the growth of a year, within which a rate of −100 % lies infinitely far away.
    let years = |day: Day| f64::from(end.days_since(day)) / 365.0;
    let missing = |growth: f64| flows.iter().map(|(day, amount)| amount * (growth * years(*day)).exp()).sum::<f64>() - value;
    let (low, high) = bracket(&missing)?;
    Some(bisected(&missing, low, high).exp_m1())
}

/// The bounds nearest to no growth between which the sign changes.
fn bracket(f: &impl Fn(f64) -> f64) -> Option<(f64, f64)> {
    const STEP: f64 = 0.05;
    let at_first = f(0.0);
    if at_first == 0.0 {
        return Some((0.0, 0.0));
    }
    // What doubled in a day grows by e^253 a year: the steps become wider.
    let mut edge = 0.0;
    let (mut up, mut down) = (at_first, at_first);
    while edge < 1e6 {
        let next = edge + f64::max(STEP, edge * 0.05);
        let (above, below) = (f(next), f(-next));
        if !above.is_nan() && (above < 0.0) != (up < 0.0) {
            return Some((edge, next));
        }
        if !below.is_nan() && (below < 0.0) != (down < 0.0) {
            return Some((-next, -edge));
        }
        (up, down, edge) = (if above.is_nan() { up } else { above }, if below.is_nan() { down } else { below }, next);
    }
    None
}

fn bisected(f: &impl Fn(f64) -> f64, mut low: f64, mut high: f64) -> f64 {
    let below = f(low) < 0.0;
    for _ in 0..200 {
        let middle = f64::midpoint(low, high);
        if middle <= low || middle >= high {
            break;
        }
        if (f(middle) < 0.0) == below {
            low = middle;
        } else {
            high = middle;
        }
    }
    f64::midpoint(low, high)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day(text: &str) -> Day {
        text.parse().unwrap()
    }

    #[test]
    fn a_year_is_a_year() {
        let put_in = [(day("2022-03-01"), 1_000.0)];
        let rate = |value: f64, end: &str| xirr(&put_in, day(end), value);
        assert!((rate(1_100.0, "2023-03-01").unwrap() - 0.1).abs() < 1e-12);
        assert!((rate(1_210.0, "2024-02-29").unwrap() - 0.1).abs() < 1e-12, "730 days");
        assert!((rate(500.0, "2023-03-01").unwrap() + 0.5).abs() < 1e-12);
        assert_eq!(rate(1_000.0, "2023-03-01"), Some(0.0));
        // Half a day's leap is a rate of many digits, and still one.
        assert!(rate(2_000.0, "2022-03-02").unwrap() > 1e100);
    }

    /// 1,000 in, 600 out after a year, 550 left after two: 1,000 g² = 600 g + 550, g = 0.3 + √0.64 = 1.1.
    #[test]
    fn money_that_comes_out_counts_from_its_day() {
        let flows = [(day("2021-01-01"), 1_000.0), (day("2022-01-01"), -600.0)];
        assert!((xirr(&flows, day("2023-01-01"), 550.0).unwrap() - 0.1).abs() < 1e-12);
    }

    #[test]
    fn nothing_has_no_rate() {
        let put_in = [(day("2022-03-01"), 1_000.0)];
        assert_eq!(xirr(&[], day("2023-03-01"), 0.0), None);
        assert_eq!(xirr(&put_in, day("2022-03-01"), 1_000.0), None, "no time has passed");
        assert_eq!(xirr(&put_in, day("2023-03-01"), 0.0), None, "nothing is left: a loss of all has no rate");
        assert_eq!(xirr(&put_in, day("2023-03-01"), -10.0), None);
    }
}
