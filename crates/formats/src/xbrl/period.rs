//! Days and spans as the forms of XBRL write them.

use artemon_core::{domain::Day, filings::Span};

/// The day of a date, a time of day and a time zone allowed, and whether it is the midnight at its start.
fn moment(text: &str) -> Option<(Day, bool)> {
    let text = text.trim();
    let day = text.get(..10)?.parse().ok()?;
    let rest = text.get(10..)?;
    let zone =
        |rest: &str| rest.is_empty() || rest == "Z" || (rest.len() == 6 && rest.starts_with(['+', '-']) && rest.as_bytes()[3] == b':');
    let Some(time) = rest.strip_prefix('T') else { return zone(rest).then_some((day, false)) };
    let clock: String = time.chars().take_while(|c| c.is_ascii_digit() || matches!(c, ':' | '.')).collect();
    let whole = clock.split('.').next().unwrap_or_default();
    let parts: Vec<u32> = whole.split(':').map(|p| p.parse().ok()).collect::<Option<_>>()?;
    let &[hour, minute, second] = parts.as_slice() else { return None };
    let fits = hour <= 24 && minute < 60 && second <= 60 && zone(&time[clock.len()..]);
    fits.then_some((day, hour == 0 && minute == 0 && second == 0))
}

/// The first day of a period that begins then.
pub(crate) fn first_day(text: &str) -> Option<Day> {
    moment(text).map(|(day, _)| day)
}

/// The last day of a period that ends then: midnight is the end of the day before.
pub(crate) fn last_day(text: &str) -> Option<Day> {
    moment(text).map(|(day, midnight)| if midnight { day.plus_days(-1) } else { day })
}

/// A span from its two dates as XBRL 2.1 writes them.
pub(crate) fn duration(start: &str, end: &str) -> Option<Span> {
    let (first, last) = (first_day(start)?, last_day(end)?);
    (first <= last).then_some(Span::Duration(first, last))
}

/// A span as OIM writes it: two moments with a slash between, one moment, or, in CSV, one of the short forms `2024`, `2024Q1`, `2024H2`,
/// `2024-06`, `2024-06-30`, `2024-01-01..2024-06-30`, each with `@start` or `@end` for one of its ends.
pub(crate) fn oim_span(text: &str) -> Option<Span> {
    let text = text.trim();
    if let Some((start, end)) = text.split_once('/') {
        return duration(start, end);
    }
    if text.contains('T') {
        return last_day(text).map(Span::Instant);
    }
    let (period, at) = text.split_once('@').map_or((text, None), |(period, at)| (period, Some(at)));
    let (first, last) = match period.split_once("..") {
        Some((first, last)) => (short(first)?.0, short(last)?.1),
        None => short(period)?,
    };
    match at {
        None if first <= last => Some(Span::Duration(first, last)),
        Some("start") => Some(Span::Instant(first.plus_days(-1))),
        Some("end") => Some(Span::Instant(last)),
        _ => None,
    }
}

/// First and last day of a year, half, quarter, month or day.
fn short(text: &str) -> Option<(Day, Day)> {
    let (year, rest) = (text.get(..4)?.parse().ok()?, text.get(4..)?);
    let months = |first: u32, count: i32| {
        let first = Day::from_ymd(year, first, 1)?;
        Some((first, first.plus_months(count).plus_days(-1)))
    };
    match rest.trim_start_matches('-').as_bytes() {
        [] => months(1, 12),
        [b'H', n @ b'1'..=b'2'] => months(1 + 6 * u32::from(n - b'1'), 6),
        [b'Q', n @ b'1'..=b'4'] => months(1 + 3 * u32::from(n - b'1'), 3),
        [a, b] if a.is_ascii_digit() && b.is_ascii_digit() => months(u32::from(a - b'0') * 10 + u32::from(b - b'0'), 1),
        _ => text.parse().ok().map(|day: Day| (day, day)),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day(text: &str) -> Day {
        text.parse().unwrap()
    }

    #[test]
    fn a_period_that_ends_at_midnight_ends_the_day_before() {
        assert_eq!(last_day("2024-12-31"), Some(day("2024-12-31")));
        assert_eq!(last_day("2025-01-01T00:00:00"), Some(day("2024-12-31")));
        assert_eq!(last_day("2024-12-31T23:59:59Z"), Some(day("2024-12-31")));
        assert_eq!(last_day("2024-12-31+01:00"), Some(day("2024-12-31")));
        assert_eq!(first_day("2024-01-01T00:00:00"), Some(day("2024-01-01")));
        for bad in ["", "2024-02-30", "2024-12-31T", "2024-12-31T25:00:00", "soon", "2024-12-31x", "é024-12-311"] {
            assert_eq!(last_day(bad), None, "{bad}");
        }
        assert_eq!(duration("2024-12-31", "2024-01-01"), None);
    }

    #[test]
    fn short_forms_name_years_halves_quarters_months_and_days() {
        for (text, first, last) in [
            ("2024-01-01T00:00:00/2025-01-01T00:00:00", "2024-01-01", "2024-12-31"),
            ("2024", "2024-01-01", "2024-12-31"),
            ("2024H2", "2024-07-01", "2024-12-31"),
            ("2024-Q3", "2024-07-01", "2024-09-30"),
            ("2024-02", "2024-02-01", "2024-02-29"),
            ("2024-02-29", "2024-02-29", "2024-02-29"),
            ("2024-02..2024-04", "2024-02-01", "2024-04-30"),
        ] {
            assert_eq!(oim_span(text), Some(Span::Duration(day(first), day(last))), "{text}");
        }
        for (text, at) in [("2024@end", "2024-12-31"), ("2024Q2@start", "2024-03-31"), ("2025-01-01T00:00:00", "2024-12-31")] {
            assert_eq!(oim_span(text), Some(Span::Instant(day(at))), "{text}");
        }
        for bad in ["", "2024Q5", "24", "2024@middle", "2024-06-30..2024-01-01", "2024-13"] {
            assert_eq!(oim_span(bad), None, "{bad}");
        }
    }
}
