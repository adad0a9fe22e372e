//! Numbers as people type them, and as sentences carry them.

use crate::formula::Unit;

/// Why a text is no number.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("\"{text}\" is not a number. Write it like 1,250.5 or 1.2m{}.", if *.percent { ", or 12 for 12 %" } else { "" })]
pub struct NumberError {
    text: String,
    percent: bool,
}

/// Larger amounts by their short names.
const SCALES: [(&str, f64); 5] = [("k", 1e3), ("m", 1e6), ("mn", 1e6), ("bn", 1e9), ("b", 1e9)];

/// A number as typed, `None` for an empty text. Percentages are typed as such where the unit is one: "12" and "12 %" are 0.12.
/// Thousands may be separated by commas, points, spaces or apostrophes; a single separator before exactly three digits
/// separates thousands where it is a comma (1,200 is twelve hundred) and decimals where it is a point (1.200 is 1.2), and a
/// number that begins with a zero has decimals (0,125).
///
/// # Errors
/// When it is none.
pub fn read_number(text: &str, unit: Unit) -> Result<Option<f64>, NumberError> {
    let percent = unit == Unit::Percent;
    let error = || NumberError { text: text.trim().to_owned(), percent };
    let plain: String = text.trim().replace(['\u{2212}', '\u{2013}'], "-").to_lowercase();
    let plain: String = plain.chars().filter(|c| !c.is_whitespace() && !matches!(c, '\'' | '\u{2019}' | '_')).collect();
    if plain.is_empty() {
        return Ok(None);
    }
    let (plain, is_percent) = plain.strip_suffix('%').map_or((plain.as_str(), percent), |rest| (rest, true));
    let digits_end = plain.rfind(|c: char| c.is_ascii_digit()).map_or(0, |at| at + 1);
    let (digits, suffix) = plain.split_at(digits_end);
    let scale = match suffix {
        "" => 1.0,
        other => SCALES.iter().find(|s| s.0 == other).ok_or_else(error)?.1,
    };
    let (sign, digits) = digits.strip_prefix('-').map_or((1.0, digits.strip_prefix('+').unwrap_or(digits)), |rest| (-1.0, rest));
    let value: f64 = unseparated(digits).and_then(|d| d.parse().ok()).ok_or_else(error)?;
    // Through text once more, so that 12 % is 0.12 and not a bit beside it.
    let hundredth = |v: f64| format!("{:.12e}", v / 100.0).parse().unwrap_or(v / 100.0);
    let value = if is_percent { hundredth(value) } else { value };
    Ok(Some(sign * value * scale).filter(|v| v.is_finite())).and_then(|v| v.map_or_else(|| Err(error()), |v| Ok(Some(v))))
}

/// The digits with a decimal point and nothing else between them; `None` where separators stand as in no number.
fn unseparated(digits: &str) -> Option<String> {
    if digits.is_empty() || !digits.chars().all(|c| c.is_ascii_digit() || matches!(c, '.' | ',')) {
        return None;
    }
    let (points, commas) = (digits.matches('.').count(), digits.matches(',').count());
    let decimal = match (points, commas) {
        (0, 0) => None,
        (1, 0) => Some('.'),
        (0, 1) => Some(',').filter(|_| !groups(digits, ',') || digits.starts_with('0')),
        (_, 0) | (0, _) => None,
        _ => digits.chars().rev().find(|c| matches!(c, '.' | ',')),
    };
    let (whole, fraction) = decimal.and_then(|d| digits.rsplit_once(d)).unwrap_or((digits, ""));
    let grouped = whole.chars().find(|c| matches!(c, '.' | ','));
    let sound = grouped.is_none_or(|g| Some(g) != decimal && groups(whole, g)) && fraction.chars().all(|c| c.is_ascii_digit());
    let whole: String = whole.chars().filter(char::is_ascii_digit).collect();
    (sound && !(whole.is_empty() && fraction.is_empty())).then(|| format!("{whole}.{fraction}"))
}

/// Whether digits are in groups of three, but for the first which is shorter.
fn groups(digits: &str, separator: char) -> bool {
    let mut parts = digits.split(separator);
    let first = parts.next().unwrap_or_default();
    (1..=3).contains(&first.len())
        && first.bytes().all(|b| b.is_ascii_digit())
        && parts.all(|p| p.len() == 3 && p.bytes().all(|b| b.is_ascii_digit()))
}

/// A number in its unit as a sentence carries it: as many decimals as it has, six digits at most, thousands separated by
/// commas. [`read_number`] reads it back.
#[must_use]
pub fn write_number(x: f64, unit: Unit) -> String {
    match unit {
        Unit::Percent => format!("{}\u{202f}%", digits(x * 100.0)),
        Unit::Money | Unit::Count | Unit::Ratio if x.abs() >= 1e9 => format!("{}\u{202f}bn", digits(x / 1e9)),
        Unit::Money | Unit::Count | Unit::Ratio if x.abs() >= 1e6 => format!("{}\u{202f}m", digits(x / 1e6)),
        #[allow(clippy::cast_possible_truncation)]
        Unit::Date => crate::domain::Day::from_epoch_days(x as i32).to_string(),
        _ => digits(x),
    }
}

fn digits(x: f64) -> String {
    let size = x.abs();
    let places = if size >= 1e5 || size == 0.0 { 0 } else { (5.0 - size.log10().floor()).clamp(0.0, 9.0) as usize };
    let text = format!("{size:.places$}");
    let (whole, fraction) = text.split_once('.').unwrap_or((&text, ""));
    let fraction = fraction.trim_end_matches('0');
    let mut grouped = String::new();
    for (i, digit) in whole.chars().enumerate() {
        if i > 0 && (whole.len() - i).is_multiple_of(3) {
            grouped.push(',');
        }
        grouped.push(digit);
    }
    let minus = if x < 0.0 && text.bytes().any(|b| (b'1'..=b'9').contains(&b)) { "\u{2212}" } else { "" };
    if fraction.is_empty() { format!("{minus}{grouped}") } else { format!("{minus}{grouped}.{fraction}") }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn read(text: &str) -> Option<f64> {
        read_number(text, Unit::Ratio).unwrap_or_else(|e| panic!("{e}"))
    }

    #[test]
    fn both_separators_and_short_names_are_understood() {
        let typed = [
            ("20,000", 20_000.0),
            ("1,200", 1_200.0),
            ("1,200.5", 1_200.5),
            ("1.200,5", 1_200.5),
            ("1.234.567", 1_234_567.0),
            ("1,234,567", 1_234_567.0),
            ("1,5", 1.5),
            ("1.5", 1.5),
            ("1.200", 1.2),
            ("0,125", 0.125),
            (".5", 0.5),
            ("-3", -3.0),
            ("\u{2212}0.25", -0.25),
            ("1 250 000", 1_250_000.0),
            ("1'250", 1_250.0),
            ("2.5k", 2_500.0),
            ("1,5 m", 1_500_000.0),
            ("3bn", 3e9),
            ("12%", 0.12),
        ];
        for (text, expected) in typed {
            assert_eq!(read(text), Some(expected), "{text}");
        }
        assert_eq!(read("  "), None);
    }

    #[test]
    fn percentages_are_typed_as_such() {
        let read = |text| read_number(text, Unit::Percent).unwrap().unwrap();
        assert_eq!(["12", "12 %", "12.5", "-3", "0,5"].map(read), [0.12, 0.12, 0.125, -0.03, 0.005]);
    }

    #[test]
    fn what_is_no_number_is_said() {
        for text in ["abc", "1..2", "1,2,3", "12,34,567", "1.2.3", "12x", "--1", "%", "1,2.3,4", "1e400", "-", "1,20.5,000"] {
            assert!(read_number(text, Unit::Ratio).is_err(), "{text}: {:?}", read_number(text, Unit::Ratio));
        }
        let said = [read_number("12 apples", Unit::Ratio), read_number("a lot", Unit::Percent)].map(|r| r.unwrap_err().to_string());
        insta::assert_snapshot!(said.join("\n"), @r#"
        "12 apples" is not a number. Write it like 1,250.5 or 1.2m.
        "a lot" is not a number. Write it like 1,250.5 or 1.2m, or 12 for 12 %.
        "#);
    }

    #[test]
    fn numbers_are_written_as_short_as_they_are() {
        let written = |x, unit| write_number(x, unit);
        let all = [
            written(1_200.0, Unit::Ratio),
            written(20_000.0, Unit::Count),
            written(0.125, Unit::Percent),
            written(-0.03, Unit::Percent),
            written(4.0, Unit::Count),
            written(0.1, Unit::Ratio),
            written(1_250.5, Unit::PerShare),
            written(2.5e6, Unit::Money),
            written(1.2e10, Unit::Money),
            written(0.0, Unit::Ratio),
            written(1.0 / 3.0, Unit::Ratio),
            written(19_000.0, Unit::Date),
        ];
        insta::assert_snapshot!(all.join(" | ").replace('\u{202f}', " "), @"1,200 | 20,000 | 12.5 % | −3 % | 4 | 0.1 | 1,250.5 | 2.5 m | 12 bn | 0 | 0.333333 | 2022-01-08");
    }

    proptest! {
        /// What a sentence says can be typed.
        #[test]
        fn what_is_written_is_read_back(x in -1e12..1e12f64, small in -1.0..1.0f64, percent in any::<bool>()) {
            let unit = if percent { Unit::Percent } else { Unit::Money };
            for x in [x, small] {
                let back = read_number(&write_number(x, unit), unit).unwrap().unwrap();
                prop_assert!((back - x).abs() <= 1e-5 * x.abs() + 1e-9, "{x} {} {back}", write_number(x, unit));
            }
        }
    }
}
