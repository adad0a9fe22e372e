//! The statistics of plain numbers against their definitions, written out the slow way.
#![allow(clippy::unwrap_used, clippy::cast_precision_loss)]

use artemon_core::{
    domain::Day,
    formula::History,
    stats::{Middle, line, mean, median, percentile, percentile_among, percentile_of_sorted, rank, stdev},
};
use proptest::prelude::*;

fn close(a: f64, b: f64) -> bool {
    (a - b).abs() <= 1e-9 * (1.0 + a.abs().max(b.abs()))
}

fn numbers(least: usize) -> impl Strategy<Value = Vec<f64>> {
    // Few different values, so that ties are common.
    prop::collection::vec(prop_oneof![(-20i32..20).prop_map(f64::from), -1e3..1e3], least..60)
}

proptest! {
    /// Linear interpolation between the order statistics at p × (n − 1).
    #[test]
    fn percentiles_are_those_of_the_sorted_values(values in numbers(1), p in 0.0..=1.0f64) {
        let mut sorted = values.clone();
        sorted.sort_by(f64::total_cmp);
        let at = p * (sorted.len() - 1) as f64;
        let (low, high) = (at.floor() as usize, at.ceil() as usize);
        let expected = sorted[low] + (sorted[high] - sorted[low]) * (at - low as f64);
        prop_assert!(close(percentile(&values, p).unwrap(), expected));
        prop_assert!(close(percentile_of_sorted(&sorted, p).unwrap(), expected));
        prop_assert!(close(percentile_among(&mut values.clone(), p).unwrap(), expected));
        prop_assert_eq!(median(&values), percentile(&values, 0.5));
    }

    /// The median with one more value follows from those about the middle.
    #[test]
    fn a_middle_gives_the_median_with_one_more(values in numbers(0), more in -25.0..25.0f64) {
        let middle = Middle::of(&mut values.clone());
        prop_assert_eq!(middle.median(), median(&values));
        for x in [more, values.first().copied().unwrap_or(more)] {
            let with: Vec<f64> = values.iter().copied().chain([x]).collect();
            prop_assert_eq!(Some(middle.median_with(x)), median(&with));
        }
    }

    #[test]
    fn mean_and_deviation_follow_their_definitions(values in numbers(2)) {
        let n = values.len() as f64;
        let m = values.iter().sum::<f64>() / n;
        // Σ(x − y)² over all pairs is 2n times the sum of squares about the mean.
        let pairs: f64 = values.iter().flat_map(|x| values.iter().map(move |y| (x - y).powi(2))).sum();
        prop_assert!(close(mean(&values).unwrap(), m));
        prop_assert!(close(stdev(&values).unwrap().powi(2), pairs / (2.0 * n) / (n - 1.0)));
    }

    /// Half of those equal count as below.
    #[test]
    fn a_rank_counts_who_is_below(values in numbers(2), at in any::<prop::sample::Index>()) {
        let x = *at.get(&values);
        let below = values.iter().filter(|v| **v < x).count() as f64;
        let equal = values.iter().filter(|v| **v == x).count() as f64 - 1.0;
        let expected = 100.0 * (below + equal / 2.0) / (values.len() - 1) as f64;
        let found = rank(x, values.iter().copied()).unwrap();
        prop_assert!(close(found, expected) && (0.0..=100.0).contains(&found));
    }

    /// No other line has a smaller sum of squares, and r² says what share of the swings it explains.
    #[test]
    fn a_line_is_the_best_one(values in numbers(2), tilt in -0.5..0.5f64, lift in -5.0..5.0f64) {
        let fitted = line(&values).unwrap();
        let off = |slope: f64, intercept: f64| -> f64 {
            values.iter().enumerate().map(|(i, y)| (y - intercept - slope * i as f64).powi(2)).sum()
        };
        prop_assert!(close(fitted.ssr, off(fitted.slope, fitted.intercept)));
        prop_assert!(fitted.ssr <= off(fitted.slope + tilt, fitted.intercept + lift) + 1e-6);
        prop_assert!((0.0..=1.0 + 1e-9).contains(&fitted.r2));
    }

    /// A window of a history holds the defined months after its beginning and before the month of the date.
    #[test]
    fn a_window_is_the_months_between(
        months in prop::collection::vec(prop::option::of(-50.0..50.0f64), 1..80),
        from in 0i32..100,
        length in 0i32..60,
    ) {
        let start: Day = "2010-01-29".parse().unwrap();
        let days: Vec<Day> = (0i32..).map(|i| start.plus_months(i)).take(months.len()).collect();
        // A second company, so that windows do not run into their neighbours.
        let other = (vec![start], vec![vec![Some(1e9)]]);
        let own = (days.clone(), vec![months.clone()]);
        let history = &History::together(&[(0, own), (2, other)], 3, 1, Day::MIN)[0];
        let (after, before) = (start.plus_months(from - 10), start.plus_months(from - 10 + length));
        let in_window = |d: &Day| *d > after && d.month_index() < before.month_index();
        let expected: Vec<f64> = days.iter().zip(&months).filter(|(d, _)| in_window(d)).filter_map(|(_, v)| *v).collect();
        prop_assert_eq!(history.middle(0, after, before).median(), median(&expected));
        prop_assert_eq!(history.middle(0, after, before), Middle::of(&mut expected.clone()), "kept");
        prop_assert_eq!(history.window(0, after, before), expected);
        prop_assert_eq!(history.window(1, Day::MIN, "2060-01-01".parse().unwrap()), Vec::<f64>::new());
    }
}

#[test]
fn nothing_has_no_statistics() {
    assert_eq!((mean(&[]), median(&[]), stdev(&[1.0]), rank(1.0, [1.0].into_iter())), (None, None, None, None));
    assert!(line(&[3.0]).is_none() && percentile_of_sorted(&[], 0.5).is_none());
    assert_eq!((median(&[4.0]), median(&[1.0, 2.0])), (Some(4.0), Some(1.5)));
}
