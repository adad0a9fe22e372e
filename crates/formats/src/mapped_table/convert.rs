//! Cells as a file writes them → cells as the dataset writes them.

use super::mapping::{DateOrder, DecimalMark};
use artemon_core::domain::Day;

const MONTHS: [&str; 12] =
    ["january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november", "december"];

/// A date in the dataset's form; `None` when it is none in this order.
pub(crate) fn date(text: &str, order: DateOrder) -> Option<String> {
    day(text, order).map(|day| day.to_string())
}

/// A day as files write it: in figures in the given order, or with the month in words; a time of midnight may follow.
pub(crate) fn day(text: &str, order: DateOrder) -> Option<Day> {
    let text = text.trim();
    if text.contains(|c: char| c.is_alphabetic() && c != 'T' && c != 'Z') {
        return in_words(text);
    }
    let [a, b, c] = parts(without_midnight(text)?)?;
    let (year, month, day) = match order {
        DateOrder::YearMonthDay => (a, b, c),
        DateOrder::DayMonthYear => (c, b, a),
        DateOrder::MonthDayYear => (c, a, b),
        DateOrder::Ask => return None,
    };
    let year = if year < 100 { year + if year < 70 { 2000 } else { 1900 } } else { year };
    Day::from_ymd(year.cast_signed(), month, day)
}

/// The last day of a month that is written without a day: 2024-03, Mar 2024.
pub(crate) fn month_end(text: &str) -> Option<Day> {
    let text = text.trim();
    let mut words = text.split([' ', '-', '/', '.']).filter(|w| !w.is_empty());
    let (first, second, none) = (words.next()?, words.next()?, words.next().is_none());
    let (year, month) = match (first.len(), month_number(first)) {
        (_, Some(month)) => (second, month),
        (4, None) => (first, month_number(second).or_else(|| second.parse().ok())?),
        _ => return None,
    };
    let is_year = year.len() == 4 && year.bytes().all(|b| b.is_ascii_digit());
    let day = Day::from_ymd(year.parse().ok().filter(|_| is_year && none)?, month, 1)?;
    Some(day.month_end())
}

/// 18 March 2024, March 18, 2024, 18-Mar-2024.
fn in_words(text: &str) -> Option<Day> {
    let words: Vec<&str> = text.split([' ', '-', ',', '.', '/']).filter(|w| !w.is_empty()).collect();
    let (day, month, year) = match words.as_slice() {
        [a, b, c] if month_number(b).is_some() => (a, month_number(b)?, c),
        [a, b, c] => (b, month_number(a)?, c),
        _ => return None,
    };
    let year: i32 = year.parse().ok().filter(|_| year.len() == 4)?;
    Day::from_ymd(year, month, day.parse().ok()?)
}

pub(super) fn month_number(word: &str) -> Option<u32> {
    let word = word.to_lowercase();
    let at = MONTHS.iter().position(|m| *m == word || word.len() == 3 && m.starts_with(&word))?;
    u32::try_from(at + 1).ok()
}

/// The day without a time, which must be midnight where there is one.
fn without_midnight(text: &str) -> Option<&str> {
    let Some((day, time)) = text.split_once(['T', ' ']) else { return Some(text) };
    let time = time.trim().trim_end_matches(['Z', 'z']);
    time.bytes().all(|b| matches!(b, b'0' | b':' | b'.' | b'+')).then_some(day)
}

/// The three numbers of a date, in the order in which they stand.
pub(super) fn parts(day: &str) -> Option<[u32; 3]> {
    if day.len() == 8 && day.bytes().all(|b| b.is_ascii_digit()) {
        return Some([day[..4].parse().ok()?, day[4..6].parse().ok()?, day[6..].parse().ok()?]);
    }
    let mut numbers = day.split(['-', '/', '.']).map(str::parse::<u32>);
    let three = [numbers.next()?.ok()?, numbers.next()?.ok()?, numbers.next()?.ok()?];
    numbers.next().is_none().then_some(three)
}

const fn is_space(c: char) -> bool {
    matches!(c, ' ' | '\'' | '\u{2019}' | '\u{a0}' | '\u{202f}' | '\u{2009}')
}

/// A number in the dataset's form; `None` when it is none. Thousands are told apart in threes, or not at all.
pub(crate) fn number(text: &str, decimal: DecimalMark, divide: f64) -> Option<String> {
    let (mark, grouping) = match decimal {
        DecimalMark::Point => ('.', ','),
        DecimalMark::Comma => (',', '.'),
    };
    let (text, percent) = text.strip_suffix('%').map_or((text, false), |t| (t.trim_end(), true));
    let (text, brackets) = text.strip_prefix('(').and_then(|t| t.strip_suffix(')')).map_or((text, false), |t| (t, true));
    let (text, minus) = text.strip_prefix(['-', '\u{2212}']).map_or((text, false), |t| (t.trim_start(), true));
    let text = text.strip_prefix('+').unwrap_or(text);
    let (number, exponent) = text.find(['e', 'E']).map_or((text, ""), |at| text.split_at(at));
    let (whole, fraction) = number.split_once(mark).unwrap_or((number, ""));
    let plain = format!("{}{}{fraction}{exponent}", grouped(whole, grouping)?, if number.contains(mark) { "." } else { "" });
    if !fraction.bytes().all(|b| b.is_ascii_digit()) || plain.starts_with('.') && fraction.is_empty() || brackets && minus {
        return None;
    }
    let value: f64 = plain.parse().ok().filter(|v: &f64| v.is_finite())?;
    let divide = if percent { divide * 100.0 } else { divide };
    let sign = if brackets || minus { "-" } else { "" };
    #[allow(clippy::float_cmp)] // exactly one: nothing to divide
    if divide == 1.0 {
        return Some(format!("{sign}{plain}"));
    }
    Some(divided(&plain, divide).unwrap_or(value / divide)).map(|v| format!("{sign}{v}"))
}

/// A decimal number divided exactly, as far as it is a number of at most 28 figures.
fn divided(plain: &str, divide: f64) -> Option<f64> {
    let by = rust_decimal::Decimal::try_from(divide).ok()?;
    let value: rust_decimal::Decimal = plain.parse().ok()?;
    value.checked_div(by)?.normalize().to_string().parse().ok()
}

/// The digits of a whole number whose thousands may be told apart, in threes and all by the same mark.
fn grouped(whole: &str, grouping: char) -> Option<String> {
    let marks: Vec<char> = whole.chars().filter(|c| *c == grouping || is_space(*c)).collect();
    let Some(mark) = marks.first() else { return whole.bytes().all(|b| b.is_ascii_digit()).then(|| whole.to_owned()) };
    let mut groups = whole.split(*mark);
    let first = groups.next()?;
    let digits = |g: &str| g.bytes().all(|b| b.is_ascii_digit());
    let sound = (1..=3).contains(&first.len()) && digits(first) && groups.all(|g| g.len() == 3 && digits(g));
    sound.then(|| whole.chars().filter(|c| c != mark).collect())
}

/// A flag in the dataset's form.
pub(super) fn flag(text: &str) -> Option<String> {
    let flag = match text.to_lowercase().as_str() {
        "true" | "yes" | "y" | "1" => true,
        "false" | "no" | "n" | "0" => false,
        _ => return None,
    };
    Some(flag.to_string())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn dates_of_every_order_come_out_as_iso() {
        for (text, order) in [
            ("2024-06-30", DateOrder::YearMonthDay),
            ("20240630", DateOrder::YearMonthDay),
            ("2024-06-30T00:00:00", DateOrder::YearMonthDay),
            ("2024-06-30 00:00:00Z", DateOrder::YearMonthDay),
            ("30.6.2024", DateOrder::DayMonthYear),
            ("30/06/24", DateOrder::DayMonthYear),
            ("6/30/2024", DateOrder::MonthDayYear),
            ("30 June 2024", DateOrder::YearMonthDay),
            ("30-Jun-2024", DateOrder::MonthDayYear),
            ("June 30, 2024", DateOrder::YearMonthDay),
        ] {
            assert_eq!(date(text, order).as_deref(), Some("2024-06-30"), "{text}");
        }
        for none in ["30.6.2024", "yesterday", "2024-06-30T08:00:00", "31 June 2024", "30 Juno 2024"] {
            assert_eq!(date(none, DateOrder::MonthDayYear), None, "{none}");
        }
        for month in ["2024-06", "Jun 2024", "June 2024", "2024-Jun"] {
            assert_eq!(month_end(month).map(|d| d.to_string()).as_deref(), Some("2024-06-30"), "{month}");
        }
        assert_eq!((month_end("2024"), month_end("06-24"), month_end("2024-13"), month_end("2024-06-30")), (None, None, None, None));
    }

    #[test]
    fn numbers_keep_their_value_whatever_their_marks() {
        let point = |t| number(t, DecimalMark::Point, 1.0);
        let comma = |t| number(t, DecimalMark::Comma, 1.0);
        assert_eq!(point("1,234.50").as_deref(), Some("1234.50"));
        assert_eq!(comma("1.234,50").as_deref(), Some("1234.50"));
        assert_eq!(comma("1\u{202f}234,5").as_deref(), Some("1234.5"));
        assert_eq!(point("1'234'567").as_deref(), Some("1234567"));
        assert_eq!(point("(12.5)").as_deref(), Some("-12.5"));
        assert_eq!(point("\u{2212}3").as_deref(), Some("-3"));
        assert_eq!(point("12.5 %").as_deref(), Some("0.125"));
        assert_eq!(point("1.5e3").as_deref(), Some("1.5e3"));
        assert_eq!(number("250", DecimalMark::Point, 100.0).as_deref(), Some("2.5"));
        assert_eq!(number("4.21", DecimalMark::Point, 100.0).as_deref(), Some("0.0421"), "divided exactly");
        for none in ["n/a", "NaN", "1.2K", "1,23", "12,34,567", "1,234'567", "1.2.3", "--1", "(-1)", ".", "1 23"] {
            assert_eq!(point(none), None, "{none}");
        }
    }
}
