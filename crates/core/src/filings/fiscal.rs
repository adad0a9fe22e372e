//! Fiscal periods from the days that facts state.

use super::{fact::Span, sort::commonest};
use crate::domain::{Day, Period};

/// Days within which a period ends its fiscal year: years of 52 or 53 weeks end near the end of the month.
const NEAR_YEAR_END: i32 = 10;
/// Days within which a period ends a quarter.
const NEAR_QUARTER_END: f64 = 12.0;
/// Days of a quarter.
const QUARTER: f64 = 91.3;

/// When a company's fiscal years end.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct FiscalCalendar {
    /// The month, 1–12.
    pub end_month: u8,
}

/// How long a duration is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub(super) enum Length {
    Quarter,
    Half,
    NineMonths,
    Year,
}

/// What a fact's span covers of a fiscal year.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub(super) enum Part {
    /// A period that a row may have.
    Row(Period),
    /// The first six months of a company that reports quarters.
    SixMonths,
    /// The first nine months.
    NineMonths,
}

/// A part of the fiscal year that ends, by the calendar of the company, in this calendar year.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub(super) struct FiscalPart {
    pub(super) year: i32,
    pub(super) part: Part,
}

impl Length {
    pub(super) fn of(first: Day, last: Day) -> Option<Length> {
        match last.days_since(first) + 1 {
            80..=100 => Some(Length::Quarter),
            170..=195 => Some(Length::Half),
            260..=285 => Some(Length::NineMonths),
            350..=380 => Some(Length::Year),
            _ => None,
        }
    }
}

impl FiscalCalendar {
    /// The calendar in which most of some twelve months end; a day up to the 10th belongs to the month before.
    #[must_use]
    pub fn of_years(ends: impl IntoIterator<Item = Day>) -> Option<FiscalCalendar> {
        let month = |day: Day| u8::try_from(day.plus_days(-NEAR_YEAR_END).month_index().rem_euclid(12) + 1).ok();
        commonest(ends.into_iter().filter_map(month)).map(|end_month| FiscalCalendar { end_month })
    }

    fn year_end(self, year: i32) -> Day {
        Day::from_ymd(year, u32::from(self.end_month.clamp(1, 12)), 1).map_or(Day::MAX, Day::month_end)
    }

    /// The calendar year in which the fiscal year that holds a day ends.
    #[must_use]
    pub fn year_of(self, day: Day) -> i32 {
        let year = day.year();
        let ends = (year - 1..=year + 1).find(|y| day.days_since(self.year_end(*y)) <= NEAR_YEAR_END);
        ends.unwrap_or(year)
    }

    /// How many quarters of its fiscal year are over at the end of a day; `None` where none ends near it.
    pub(super) fn quarters(self, day: Day) -> Option<(i32, u8)> {
        let year = self.year_of(day);
        let left = f64::from(self.year_end(year).days_since(day));
        if left.abs() <= f64::from(NEAR_YEAR_END) {
            return Some((year, 4));
        }
        (1..=3_u8).find(|k| (left - QUARTER * f64::from(*k)).abs() <= NEAR_QUARTER_END).map(|k| (year, 4 - k))
    }

    /// What a span covers; `None` where it is no fiscal period.
    pub(super) fn part(self, span: Span, quarterly: impl Fn(i32) -> bool) -> Option<FiscalPart> {
        let (last, length) = match span {
            Span::Instant(day) => (day, None),
            Span::Duration(first, last) => (last, Some(Length::of(first, last)?)),
            Span::Forever => return None,
        };
        let (year, quarters) = self.quarters(last)?;
        let mid_year = || if quarterly(year) { None } else { Some(Part::Row(Period::H1)) };
        let part = match (length, quarters) {
            (Some(Length::Year) | None, 4) => Part::Row(Period::FY),
            (Some(Length::Half), 4) => Part::Row(Period::H2),
            (Some(Length::Half), 2) => mid_year().unwrap_or(Part::SixMonths),
            (None, 2) => mid_year().unwrap_or(Part::Row(Period::Q2)),
            (Some(Length::NineMonths), 3) => Part::NineMonths,
            (Some(Length::Quarter), n) | (None, n) => Part::Row(Period::quarter(n)),
            _ => return None,
        };
        Some(FiscalPart { year, part })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day(text: &str) -> Day {
        text.parse().unwrap()
    }

    fn part(month: u8, first: &str, last: &str, quarterly: bool) -> Option<(i32, Part)> {
        let span = if first.is_empty() { Span::Instant(day(last)) } else { Span::Duration(day(first), day(last)) };
        FiscalCalendar { end_month: month }.part(span, |_| quarterly).map(|p| (p.year, p.part))
    }

    #[test]
    fn periods_follow_from_the_month_in_which_the_year_ends() {
        use Part::{NineMonths, Row, SixMonths};
        for (month, first, last, quarterly, expected) in [
            (12, "2024-01-01", "2024-03-31", true, Some((2024, Row(Period::Q1)))),
            (12, "2024-01-01", "2024-06-30", true, Some((2024, SixMonths))),
            (12, "2024-01-01", "2024-06-30", false, Some((2024, Row(Period::H1)))),
            (12, "2024-07-01", "2024-12-31", false, Some((2024, Row(Period::H2)))),
            (12, "2024-01-01", "2024-09-30", true, Some((2024, NineMonths))),
            (12, "", "2024-09-30", true, Some((2024, Row(Period::Q3)))),
            (12, "", "2024-06-30", false, Some((2024, Row(Period::H1)))),
            // A year of 53 weeks to the Saturday by 31 January.
            (1, "2023-01-29", "2024-02-03", true, Some((2024, Row(Period::FY)))),
            (1, "2024-02-04", "2024-05-04", true, Some((2025, Row(Period::Q1)))),
            (6, "2023-07-01", "2024-06-30", true, Some((2024, Row(Period::FY)))),
            (6, "", "2023-12-31", false, Some((2024, Row(Period::H1)))),
            // Four and a half months; a year from April for a company whose year ends in December.
            (12, "2024-01-01", "2024-05-15", true, None),
            (12, "2023-04-01", "2024-03-31", true, None),
            (12, "", "2024-08-01", true, None),
        ] {
            assert_eq!(part(month, first, last, quarterly), expected, "{month} {first} {last}");
        }
    }

    #[test]
    fn the_month_follows_from_the_years() {
        let of = |ends: &[&str]| FiscalCalendar::of_years(ends.iter().map(|d| day(d))).map(|c| c.end_month);
        assert_eq!(of(&["2022-12-31", "2023-12-31"]), Some(12));
        assert_eq!(of(&["2023-01-28", "2024-02-03", "2025-02-01"]), Some(1));
        assert_eq!(of(&["2024-06-30", "2023-06-30", "2024-12-31"]), Some(6));
        assert_eq!(of(&[]), None);
    }

    #[test]
    fn a_day_shortly_after_the_month_belongs_to_the_year_before() {
        let december = FiscalCalendar { end_month: 12 };
        assert_eq!(december.year_of(day("2025-01-04")), 2024);
        assert_eq!(december.year_of(day("2025-01-11")), 2025);
        assert_eq!(FiscalCalendar { end_month: 2 }.year_of(day("2024-02-29")), 2024);
    }
}
