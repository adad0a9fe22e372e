//! Cells as a file writes them → cells as the dataset writes them.

use super::mapping::{DateOrder, DecimalMark};
use artemon_core::domain::Day;

/// A date in the dataset's form; `None` when it is none in this order.
pub(crate) fn date(text: &str, order: DateOrder) -> Option<String> {
    let day = text.split(['T', ' ']).next().unwrap_or_default();
    let parts = parts(day)?;
    let [a, b, c] = parts;
    let (year, month, day) = match order {
        DateOrder::YearMonthDay => (a, b, c),
        DateOrder::DayMonthYear => (c, b, a),
        DateOrder::MonthDayYear => (c, a, b),
    };
    let year = if year < 100 { year + if year < 70 { 2000 } else { 1900 } } else { year };
    Some(Day::from_ymd(year.cast_signed(), month, day)?.to_string())
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

/// A number in the dataset's form; `None` when it is none.
pub(crate) fn number(text: &str, decimal: DecimalMark, divide: f64) -> Option<String> {
    let (mark, grouping) = match decimal {
        DecimalMark::Point => ('.', ','),
        DecimalMark::Comma => (',', '.'),
    };
    let (text, percent) = text.strip_suffix('%').map_or((text, false), |t| (t.trim_end(), true));
    let (text, negative) = text.strip_prefix('(').and_then(|t| t.strip_suffix(')')).map_or((text, false), |t| (t, true));
    let is_space = |c: char| c.is_whitespace() || matches!(c, '\'' | '\u{2019}' | '\u{a0}' | '\u{202f}' | '\u{2009}');
    let plain: String = text
        .chars()
        .filter(|c| !is_space(*c) && *c != grouping)
        .map(|c| {
            if c == mark {
                '.'
            } else if c == '\u{2212}' {
                '-'
            } else {
                c
            }
        })
        .collect();
    let value: f64 = plain.parse().ok().filter(|v: &f64| v.is_finite())?;
    let divide = if percent { divide * 100.0 } else { divide };
    #[allow(clippy::float_cmp)] // exactly one: nothing to divide
    if divide == 1.0 && !negative { Some(plain) } else { Some((if negative { -value } else { value } / divide).to_string()) }
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
            ("30.6.2024", DateOrder::DayMonthYear),
            ("30/06/24", DateOrder::DayMonthYear),
            ("6/30/2024", DateOrder::MonthDayYear),
        ] {
            assert_eq!(date(text, order).as_deref(), Some("2024-06-30"), "{text}");
        }
        assert_eq!(date("30.6.2024", DateOrder::MonthDayYear), None);
        assert_eq!(date("yesterday", DateOrder::YearMonthDay), None);
    }

    #[test]
    fn numbers_keep_their_value_whatever_their_marks() {
        let point = |t| number(t, DecimalMark::Point, 1.0);
        let comma = |t| number(t, DecimalMark::Comma, 1.0);
        assert_eq!(point("1,234.50").as_deref(), Some("1234.50"));
        assert_eq!(comma("1.234,50").as_deref(), Some("1234.50"));
        assert_eq!(comma("1\u{202f}234,5").as_deref(), Some("1234.5"));
        assert_eq!(point("(12.5)").as_deref(), Some("-12.5"));
        assert_eq!(point("\u{2212}3").as_deref(), Some("-3"));
        assert_eq!(point("12.5 %").as_deref(), Some("0.125"));
        assert_eq!(number("250", DecimalMark::Point, 100.0).as_deref(), Some("2.5"));
        assert_eq!(point("n/a"), None);
        assert_eq!(point("NaN"), None);
    }
}
