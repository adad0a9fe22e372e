//! What came of each calendar year, in the base currency.

use super::{
    amounts::{Sum, number},
    books::Booked,
    event::What,
    track::{DayOf, time_weighted},
};
use crate::domain::Day;
use rust_decimal::Decimal;
use serde::Serialize;

/// A calendar year of all accounts together, in the base currency.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct YearResult {
    pub year: i32,
    /// At the close of the year before.
    pub start: f64,
    /// Deposits less withdrawals.
    pub paid_in: f64,
    /// At the close of the year, or of the newest day.
    pub end: f64,
    /// End less start less what was paid in.
    pub gain: f64,
    /// Time-weighted return.
    pub time_weighted: Option<f64>,
    /// Of the index, from the last day of the year before, or the first day of the ledger.
    pub index: Option<f64>,
    pub realised: Option<f64>,
    pub income: Option<f64>,
    /// Of trades; they are part of costs and proceeds already.
    pub fees: Option<f64>,
}

/// The years of a ledger, oldest first: from its days, what all accounts were worth on them, and the levels of the index.
#[must_use]
pub fn years(days: &[Day], total: &[DayOf], levels: &[Option<f64>], journal: &[Booked]) -> Vec<YearResult> {
    let mut out: Vec<YearResult> = Vec::new();
    let mut first = 0;
    while first < days.len() {
        let year = days[first].year();
        let end = first + days[first..].partition_point(|d| d.year() == year);
        // The last day of the year before belongs to the growth of the first.
        let from = first.saturating_sub(1);
        let start = if first == 0 { 0.0 } else { total[from].value_base };
        let paid_in: f64 = total[first..end].iter().map(|d| d.flow_base).sum();
        let worth = total[end - 1].value_base;
        let level = |at: usize| levels.get(at).copied().flatten().filter(|l| *l > 0.0);
        out.push(YearResult {
            year,
            start,
            paid_in,
            end: worth,
            gain: worth - start - paid_in,
            time_weighted: time_weighted(&total[from..end], |d| (d.before_base, d.flow_base)),
            index: level(from).zip(level(end - 1)).map(|(then, now)| now / then - 1.0),
            ..of_journal(year, journal)
        });
        first = end;
    }
    out
}

/// What was realised, received and paid in fees in a year.
fn of_journal(year: i32, journal: &[Booked]) -> YearResult {
    let (mut realised, mut income, mut fees) = (Sum::default(), Sum::default(), Sum::default());
    let from = journal.partition_point(|b| b.event.date.year() < year);
    for b in journal[from..].iter().take_while(|b| b.event.date.year() == year) {
        if let Some(gain) = b.effect.realised {
            realised += gain;
        }
        if let Some(received) = received(&b.event.what) {
            income += Sum::at(received, b.to_base);
        }
        fees += Sum::at(fee(&b.event.what), b.to_base);
    }
    let base = |s: Sum| s.base.map(number);
    YearResult { realised: base(realised), income: base(income), fees: base(fees), ..YearResult::default() }
}

/// What was received of a dividend, interest and the like, in the account's currency.
pub(super) fn received(what: &What) -> Option<Decimal> {
    match what {
        What::DividendPaid { amount, rate, .. } => Some(amount * rate),
        What::RecordedIncome { amount, .. } => Some(*amount),
        _ => None,
    }
}

const fn fee(what: &What) -> Decimal {
    match what {
        What::Fill { fee, .. } => *fee,
        What::Recorded(trade) => trade.fee,
        _ => Decimal::ZERO,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// 100 in, 110 at the end of the year; 50 more, which with the 110 become 176 in the next: +10 %, then 160 → 176 = +10 %.
    #[test]
    fn years_go_on_from_the_year_before() {
        let day = |y: i32, m: u32, d: u32| Day::from_ymd(y, m, d).unwrap();
        let of =
            |before_base: f64, flow_base: f64| DayOf { before_base, flow_base, value_base: before_base + flow_base, ..DayOf::default() };
        let days = [day(2023, 11, 1), day(2023, 12, 29), day(2024, 1, 2), day(2024, 12, 31)];
        let total = [of(0.0, 100.0), of(110.0, 0.0), of(110.0, 50.0), of(176.0, 0.0)];
        let levels = [Some(200.0), Some(210.0), Some(208.0), Some(231.0)];
        let found = years(&days, &total, &levels, &[]);
        let near = |a: Option<f64>, b: f64| (a.unwrap() - b).abs() < 1e-12;
        assert_eq!(
            found.iter().map(|y| (y.year, y.start, y.paid_in, y.end, y.gain)).collect::<Vec<_>>(),
            [(2023, 0.0, 100.0, 110.0, 10.0), (2024, 110.0, 50.0, 176.0, 16.0)]
        );
        assert!(found.iter().all(|y| near(y.time_weighted, 0.1)), "{found:?}");
        assert!(near(found[0].index, 0.05) && near(found[1].index, 0.1), "{found:?}");
    }
}
