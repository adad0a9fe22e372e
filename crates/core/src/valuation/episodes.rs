//! When a share was far under its value, and whether its price met that value later.

use crate::domain::Day;

/// A time that began with the price far under the value of its day.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Episode {
    /// The month's end at which it began.
    pub from: Day,
    /// The value of that day, which the price has to reach.
    pub value: f64,
    /// The first day on which a close reached it.
    pub met: Option<Day>,
}

/// The episodes of a share, oldest first: one begins at the first month's end at which price ÷ value is at most `under` and none is
/// open, and ends with the first close that is not below the value of its beginning. All amounts are on one split basis.
#[must_use]
pub fn episodes(months: &[(Day, f64, f64)], closes: &[(Day, f64)], under: f64) -> Vec<Episode> {
    let mut out: Vec<Episode> = Vec::new();
    for &(from, price, value) in months {
        let open = out.last().is_some_and(|e| e.met.is_none_or(|met| met > from));
        if open || value <= 0.0 || price > under * value {
            continue;
        }
        let after = closes.partition_point(|c| c.0 <= from);
        let met = closes[after..].iter().find(|c| c.1 >= value).map(|c| c.0);
        out.push(Episode { from, value, met });
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day(text: &str) -> Day {
        text.parse().unwrap()
    }

    /// Half of value in January and February is one episode, met in April; cheap again in May, it is still waited for.
    #[test]
    fn an_episode_lasts_until_the_price_meets_its_first_value() {
        let months = [
            (day("2020-01-31"), 50.0, 100.0),
            (day("2020-02-29"), 40.0, 90.0),
            (day("2020-04-30"), 101.0, 110.0),
            (day("2020-05-29"), 60.0, 120.0),
        ];
        let closes = [(day("2020-02-03"), 95.0), (day("2020-04-15"), 100.0), (day("2020-05-29"), 60.0), (day("2020-06-01"), 119.0)];
        let found = episodes(&months, &closes, 0.75);
        let expected = [
            Episode { from: day("2020-01-31"), value: 100.0, met: Some(day("2020-04-15")) },
            Episode { from: day("2020-05-29"), value: 120.0, met: None },
        ];
        assert_eq!(found, expected);
    }

    #[test]
    fn a_share_near_its_value_has_none() {
        let months = [(day("2020-01-31"), 76.0, 100.0), (day("2020-02-28"), 5.0, -3.0)];
        assert_eq!(episodes(&months, &[(day("2020-01-31"), 76.0)], 0.75), []);
    }
}
