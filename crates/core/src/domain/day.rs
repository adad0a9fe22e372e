//! Calendar days and spans of time.

use chrono::NaiveDate;
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use std::{fmt, str::FromStr};

/// A calendar day, stored as days since 1970-01-01.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Day(i32);

impl Day {
    /// Before every day of any dataset.
    pub const MIN: Day = Day(i32::MIN);
    /// After every day of any dataset.
    pub const MAX: Day = Day(i32::MAX);

    /// The day `days` after 1970-01-01.
    #[must_use]
    pub const fn from_epoch_days(days: i32) -> Day {
        Day(days)
    }

    /// Days since 1970-01-01.
    #[must_use]
    pub const fn epoch_days(self) -> i32 {
        self.0
    }

    /// The day of a year, month (1–12) and day of month; `None` where the calendar has no such day.
    #[must_use]
    pub fn from_ymd(year: i32, month: u32, day: u32) -> Option<Day> {
        NaiveDate::from_ymd_opt(year, month, day).map(Day::from)
    }

    /// As a chrono date.
    #[must_use]
    pub fn date(self) -> NaiveDate {
        NaiveDate::from_epoch_days(self.0).unwrap_or(if self.0 < 0 { NaiveDate::MIN } else { NaiveDate::MAX })
    }

    /// `n` days later (earlier when negative).
    #[must_use]
    pub const fn plus_days(self, n: i32) -> Day {
        Day(self.0.saturating_add(n))
    }

    /// The same day `n` months later (earlier when negative), or the last day of that month where it has no such day.
    #[must_use]
    pub fn plus_months(self, n: i32) -> Day {
        if self == Day::MIN || self == Day::MAX {
            return self;
        }
        let (year, month, day) = self.civil();
        let months = year.saturating_mul(12).saturating_add(month - 1).saturating_add(n);
        let (year, month) = (months.div_euclid(12), months.rem_euclid(12) + 1);
        Day::from_civil(year, month, day.min(month_length(year, month)))
    }

    /// Year, month (1–12) and day of the proleptic Gregorian calendar, by arithmetic on days counted from a 1 March:
    /// histories ask for millions of these.
    fn civil(self) -> (i32, i32, i32) {
        let z = self.0 + DAYS_TO_EPOCH;
        let era = z.div_euclid(DAYS_IN_ERA);
        let in_era = z.rem_euclid(DAYS_IN_ERA);
        let year_in_era = (in_era - in_era / 1460 + in_era / 36_524 - in_era / 146_096) / 365;
        let in_year = in_era - (365 * year_in_era + year_in_era / 4 - year_in_era / 100);
        let from_march = (5 * in_year + 2) / 153;
        let day = in_year - (153 * from_march + 2) / 5 + 1;
        let month = if from_march < 10 { from_march + 3 } else { from_march - 9 };
        (year_in_era + era * 400 + i32::from(month <= 2), month, day)
    }

    fn from_civil(year: i32, month: i32, day: i32) -> Day {
        let year = year - i32::from(month <= 2);
        let era = year.div_euclid(400);
        let year_in_era = year.rem_euclid(400);
        let from_march = if month > 2 { month - 3 } else { month + 9 };
        let in_year = (153 * from_march + 2) / 5 + day - 1;
        let in_era = year_in_era * 365 + year_in_era / 4 - year_in_era / 100 + in_year;
        Day(era * DAYS_IN_ERA + in_era - DAYS_TO_EPOCH)
    }

    /// This day minus a span, by the rule of [`Day::plus_months`] for months and years.
    #[must_use]
    pub fn minus(self, span: Span) -> Day {
        let n = i32::try_from(span.count).unwrap_or(i32::MAX / 12);
        match span.unit {
            SpanUnit::Days => self.plus_days(-n),
            SpanUnit::Weeks => self.plus_days(-7 * n),
            SpanUnit::Months => self.plus_months(-n),
            SpanUnit::Years => self.plus_months(-12 * n),
        }
    }

    /// Months since year 0: equal for two days of one calendar month, one apart for neighbours.
    #[must_use]
    pub fn month_index(self) -> i32 {
        let (year, month, _) = self.civil();
        year * 12 + month - 1
    }

    /// The calendar year.
    #[must_use]
    pub fn year(self) -> i32 {
        self.civil().0
    }

    /// The days of its calendar year.
    #[must_use]
    pub fn whole_year(self) -> std::ops::RangeInclusive<Day> {
        let year = self.year();
        Day::from_civil(year, 1, 1)..=Day::from_civil(year, 12, 31)
    }

    /// Whether it is a Friday, on which a week of trading ends.
    #[must_use]
    pub fn is_friday(self) -> bool {
        // 1970-01-01 was a Thursday.
        self.0.rem_euclid(7) == 1
    }

    /// The first day of the calendar month.
    #[must_use]
    pub fn month_start(self) -> Day {
        let (year, month, _) = self.civil();
        Day::from_civil(year, month, 1)
    }

    /// The last day of the calendar month.
    #[must_use]
    pub fn month_end(self) -> Day {
        let (year, month, _) = self.civil();
        Day::from_civil(year, month, month_length(year, month))
    }

    /// Days from `earlier` to this day.
    #[must_use]
    pub const fn days_since(self, earlier: Day) -> i32 {
        self.0 - earlier.0
    }
}

/// Days in 400 years, and from 0000-03-01 to 1970-01-01.
const DAYS_IN_ERA: i32 = 146_097;
const DAYS_TO_EPOCH: i32 = 719_468;

const fn month_length(year: i32, month: i32) -> i32 {
    match month {
        2 if year % 4 == 0 && (year % 100 != 0 || year % 400 == 0) => 29,
        2 => 28,
        4 | 6 | 9 | 11 => 30,
        _ => 31,
    }
}

impl From<NaiveDate> for Day {
    fn from(d: NaiveDate) -> Day {
        Day(d.to_epoch_days())
    }
}

impl FromStr for Day {
    type Err = chrono::ParseError;
    fn from_str(s: &str) -> Result<Day, Self::Err> {
        NaiveDate::parse_from_str(s, "%Y-%m-%d").map(Day::from)
    }
}

impl fmt::Display for Day {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let (year, month, day) = self.civil();
        if !(0..=9999).contains(&year) {
            return self.date().fmt(f);
        }
        // Millions of days are written into files.
        let digit = |n: i32| b'0' + u8::try_from(n % 10).unwrap_or_default();
        let text = [
            digit(year / 1000),
            digit(year / 100),
            digit(year / 10),
            digit(year),
            b'-',
            digit(month / 10),
            digit(month),
            b'-',
            digit(day / 10),
            digit(day),
        ];
        f.write_str(std::str::from_utf8(&text).map_err(|_| fmt::Error)?)
    }
}

impl fmt::Debug for Day {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        fmt::Display::fmt(self, f)
    }
}

impl Serialize for Day {
    fn serialize<S: Serializer>(&self, s: S) -> Result<S::Ok, S::Error> {
        s.collect_str(self)
    }
}

impl<'de> Deserialize<'de> for Day {
    fn deserialize<D: Deserializer<'de>>(d: D) -> Result<Day, D::Error> {
        let text = String::deserialize(d)?;
        text.parse().map_err(|_| serde::de::Error::custom(format!("\"{text}\" is not a date like 2024-06-30")))
    }
}

/// A span of time as formulas write it: `5d`, `3w`, `6m`, `10y`.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Span {
    /// How many units.
    pub count: u32,
    /// The unit.
    pub unit: SpanUnit,
}

/// The unit of a [`Span`].
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum SpanUnit {
    /// Calendar days.
    Days,
    /// Seven days.
    Weeks,
    /// Calendar months.
    Months,
    /// Calendar years.
    Years,
}

impl Span {
    /// A span of whole years.
    #[must_use]
    pub const fn years(count: u32) -> Span {
        Span { count, unit: SpanUnit::Years }
    }

    /// A span of whole months.
    #[must_use]
    pub const fn months(count: u32) -> Span {
        Span { count, unit: SpanUnit::Months }
    }

    /// Length in calendar months; days and weeks count by 30.4375 days a month.
    #[must_use]
    pub fn in_months(self) -> f64 {
        let n = f64::from(self.count);
        match self.unit {
            SpanUnit::Days => n / 30.4375,
            SpanUnit::Weeks => n * 7.0 / 30.4375,
            SpanUnit::Months => n,
            SpanUnit::Years => n * 12.0,
        }
    }
}

impl fmt::Display for Span {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let unit = match self.unit {
            SpanUnit::Days => 'd',
            SpanUnit::Weeks => 'w',
            SpanUnit::Months => 'm',
            SpanUnit::Years => 'y',
        };
        write!(f, "{}{unit}", self.count)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The calendar agrees with chrono's over the years of any dataset.
    #[test]
    fn the_calendar_is_the_usual_one() {
        use chrono::{Datelike, Months};
        for days in (-40_000..40_000).step_by(13) {
            let (day, date) = (Day::from_epoch_days(days), Day::from_epoch_days(days).date());
            assert_eq!((day.year(), day.month_index()), (date.year(), date.year() * 12 + date.month0().cast_signed()));
            assert_eq!(day.to_string(), date.to_string());
            for n in [1u32, 12, 15, 121] {
                assert_eq!(day.plus_months(n.cast_signed()).date(), date.checked_add_months(Months::new(n)).unwrap());
                assert_eq!(day.plus_months(-n.cast_signed()).date(), date.checked_sub_months(Months::new(n)).unwrap());
            }
        }
    }

    #[test]
    fn months_end_where_the_earlier_month_ends() {
        let day = |s: &str| s.parse::<Day>().unwrap();
        assert_eq!(day("2024-03-31").plus_months(-1), day("2024-02-29"));
        assert_eq!(day("2024-02-29").minus(Span::years(1)), day("2023-02-28"));
        assert_eq!(day("2024-02-10").month_end(), day("2024-02-29"));
        assert_eq!(day("2024-01-01").month_index() - day("2023-12-31").month_index(), 1);
    }
}
