//! Prices that jump or stop.

use super::{Doubt, short};
use crate::{domain::Day, panel::CompanyAt};

/// The share of the price beyond which a day's move needs a reason.
const JUMP: f64 = 0.5;
/// Weekdays without a price beyond which there is a gap.
const GAP: i32 = 10;

/// A close more than 50 % away from the one before, with no split (prices are on one basis) and no dividend that day.
pub(super) fn jumps(c: &CompanyAt<'_>) -> Vec<Doubt> {
    let bars = c.bars();
    let mut out = Vec::new();
    for i in 1..bars.len() {
        let (before, now) = (bars.close(i - 1), bars.close(i));
        let move_ = now / before - 1.0;
        if move_.abs() <= JUMP {
            continue;
        }
        let on = bars.dates()[i];
        let paid = c.dividends().is_ok_and(|mut all| all.any(|d| d.ex_date == on));
        if !paid {
            let percent = format!("{:+.0}", move_ * 100.0).replace('-', "−");
            let sentence =
                format!("The price went from {} to {} ({percent} %) on {on}, with no split or dividend.", short(before), short(now));
            out.push(Doubt { on, fiscal_year: None, item: None, sentence });
        }
    }
    out
}

/// More than ten weekdays between two sessions.
pub(super) fn gaps(c: &CompanyAt<'_>) -> Vec<Doubt> {
    let one = |w: &[Day]| {
        let missing = weekdays_between(w[0], w[1]);
        (missing > GAP).then(|| Doubt {
            on: w[1],
            fiscal_year: None,
            item: None,
            sentence: format!("No prices between {} and {}: {missing} weekdays.", w[0], w[1]),
        })
    };
    c.bars().dates().windows(2).filter_map(one).collect()
}

/// Mondays to Fridays strictly between two days.
fn weekdays_between(from: Day, to: Day) -> i32 {
    // Days since a Monday: 1970-01-05.
    let upto = |d: i32| {
        let (weeks, rest) = (d.div_euclid(7), d.rem_euclid(7));
        weeks * 5 + rest.min(5)
    };
    let monday = |d: Day| d.epoch_days() - 4;
    upto(monday(to)) - upto(monday(from) + 1)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn weekdays_are_counted_between_the_days() {
        let day = |text: &str| text.parse::<Day>().unwrap();
        assert_eq!(weekdays_between(day("2024-06-07"), day("2024-06-10")), 0, "Friday to Monday");
        assert_eq!(weekdays_between(day("2024-06-03"), day("2024-06-07")), 3, "Monday to Friday");
        assert_eq!(weekdays_between(day("2024-06-01"), day("2024-06-30")), 20, "a month");
    }
}
