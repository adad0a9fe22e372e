//! The trading calendar of the invented exchanges: Monday to Friday but for a few fixed holidays.

use artemon_core::domain::Day;

/// 1970-01-01 was a Thursday: with Monday as 0 its weekday is 3.
const WEEKDAY_OF_EPOCH: i32 = 3;
/// Closed every year: month and day.
const HOLIDAYS: [(u32, u32); 5] = [(1, 1), (5, 1), (9, 21), (12, 25), (12, 26)];

/// Whether the exchanges are open on a day.
#[must_use]
pub fn is_session(day: Day) -> bool {
    let weekday = (day.epoch_days() + WEEKDAY_OF_EPOCH).rem_euclid(7);
    weekday < 5 && !HOLIDAYS.iter().any(|&(m, d)| Day::from_ymd(day.year(), m, d) == Some(day))
}

/// The sessions from `first` to `last`, both included.
#[must_use]
pub fn sessions(first: Day, last: Day) -> Vec<Day> {
    (first.epoch_days()..=last.epoch_days()).map(Day::from_epoch_days).filter(|d| is_session(*d)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn weekends_and_holidays_are_closed() {
        let open = |s: &str| is_session(s.parse().unwrap());
        assert!(open("2026-06-30") && !open("2026-06-28") && !open("2025-12-25") && open("2025-12-24"));
    }
}
