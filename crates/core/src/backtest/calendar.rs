//! The days of a backtest: its sessions, and those on which it decides and trades.

use super::{BacktestError, document::Backtest};
use crate::{domain::Day, panel::Snapshot};

/// A decision and the session after it, on which it is carried out; both count the sessions of the [`Calendar`].
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Rebalance {
    pub decision: usize,
    pub trade: usize,
}

/// The sessions from the first decision to the end, and the rebalances among them.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct Calendar {
    pub sessions: Vec<Day>,
    pub rebalances: Vec<Rebalance>,
}

impl Calendar {
    /// Of the last session of every so many months from that of the first day, as long as a session follows by the last.
    ///
    /// # Errors
    /// When there is no such session.
    pub fn new(snapshot: &Snapshot, from: Day, to: Day, every: u32) -> Result<Calendar, BacktestError> {
        let none = || BacktestError::NoSessions { from, to, known: snapshot.sessions() };
        let begin = from.month_start();
        let mut sessions = snapshot.sessions_after(begin.plus_days(-1));
        sessions.truncate(sessions.partition_point(|day| *day <= to));
        let in_month = |i: usize| sessions[i].month_index();
        let ends_month = |i: &usize| *i + 1 < sessions.len() && in_month(*i) != in_month(*i + 1);
        let first = (0..sessions.len()).find(ends_month).ok_or_else(none)?;
        // A first month without any session has no decision either.
        if in_month(first) != from.month_index() {
            return Err(none());
        }
        let months = i32::try_from(every).unwrap_or(i32::MAX);
        let due = |i: &usize| (in_month(*i) - from.month_index()) % months == 0;
        let rebalances = (first..sessions.len()).filter(ends_month).filter(due);
        let rebalances = rebalances.map(|i| Rebalance { decision: i - first, trade: i - first + 1 }).collect();
        sessions.drain(..first);
        Ok(Calendar { sessions, rebalances })
    }

    /// Of a backtest.
    pub(super) fn of(snapshot: &Snapshot, settings: &Backtest) -> Result<Calendar, BacktestError> {
        Calendar::new(snapshot, settings.from, settings.to, settings.every)
    }

    /// The last session.
    #[must_use]
    pub fn last(&self) -> usize {
        self.sessions.len() - 1
    }

    /// The session up to which what is bought at the k-th rebalance is held: the next one's trade, or the last.
    pub(super) fn end_of(&self, k: usize) -> usize {
        self.rebalances.get(k + 1).map_or(self.last(), |next| next.trade)
    }

    /// The first session on or after a day.
    pub(super) fn on_or_after(&self, day: Day) -> usize {
        self.sessions.partition_point(|s| *s < day)
    }

    /// The first session and the last one of each calendar month that is over: a last month that still has a weekday left is not.
    pub(super) fn month_ends(&self) -> Vec<usize> {
        let last = self.last();
        let is_end = |i: usize| {
            if i == last { month_is_over(self.sessions[i]) } else { self.sessions[i].month_index() != self.sessions[i + 1].month_index() }
        };
        std::iter::once(0).chain((1..=last).filter(|i| is_end(*i))).collect()
    }

    /// Years from the first session to one.
    pub(super) fn years_to(&self, session: usize) -> f64 {
        f64::from(self.sessions[session].days_since(self.sessions[0])) / DAYS_OF_YEAR
    }
}

/// Days of a year in annual rates.
pub(super) const DAYS_OF_YEAR: f64 = 365.25;

/// Whether only Saturdays and Sundays are left of a day's month.
fn month_is_over(day: Day) -> bool {
    use chrono::Datelike;
    let left = 1..=day.month_end().days_since(day);
    left.into_iter().all(|n| day.plus_days(n).date().weekday().number_from_monday() > 5)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day(text: &str) -> Day {
        text.parse().expect("a day")
    }

    fn ends(days: &[&str]) -> Vec<usize> {
        Calendar { sessions: days.iter().map(|d| day(d)).collect(), rebalances: Vec::new() }.month_ends()
    }

    /// 29 May 2026 is a Friday, and 31 May a Sunday: the month is over with the 29th, with the 28th it is not.
    #[test]
    fn a_last_month_counts_when_no_weekday_is_left_of_it() {
        let before = ["2026-03-31", "2026-04-01", "2026-04-30", "2026-05-04"];
        let with = |last: &'static str| ends(&[&before[..], &[last]].concat());
        assert_eq!(with("2026-05-29"), [0, 2, 4]);
        assert_eq!(with("2026-05-28"), [0, 2]);
        // A later session takes nothing away and moves nothing.
        assert_eq!(ends(&[&before[..], &["2026-05-28", "2026-06-01"]].concat()), [0, 2, 4]);
    }

    #[test]
    fn what_is_bought_last_is_held_to_the_end() {
        let sessions = ["2026-03-31", "2026-04-01", "2026-04-30", "2026-05-04", "2026-05-05"].map(day).to_vec();
        let rebalances = vec![Rebalance { decision: 0, trade: 1 }, Rebalance { decision: 2, trade: 3 }];
        let calendar = Calendar { sessions, rebalances };
        assert_eq!((calendar.end_of(0), calendar.end_of(1)), (3, 4));
        assert_eq!((calendar.on_or_after(day("2026-04-02")), calendar.on_or_after(day("2026-04-30"))), (2, 2));
    }
}
