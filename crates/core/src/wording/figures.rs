//! Figures within a sentence: short, with the signs and spaces of print.

use crate::domain::Day;

/// A fraction as a percentage: "8.1 %" below ten percent, "12 %" above.
#[must_use]
pub fn percent(x: f64) -> String {
    format!("{}\u{202f}%", decimals(x * 100.0, usize::from(x.abs() < 0.0995)))
}

/// A multiple: "14.2"; "any number of" when there is no end to it.
#[must_use]
pub fn times(x: f64) -> String {
    if x.is_infinite() { "any number of".to_owned() } else { decimals(x, 1) }
}

/// An amount a share: three digits or more.
#[must_use]
pub fn amount(x: f64) -> String {
    let digits = match x.abs() {
        x if x >= 100.0 => 0,
        x if x >= 10.0 => 1,
        _ => 2,
    };
    decimals(x, digits)
}

/// A count, or an amount of money in whole units: "9,984".
#[must_use]
pub fn whole(x: f64) -> String {
    let digits = decimals(x.abs(), 0);
    let groups: Vec<&str> = digits.as_bytes().rchunks(3).rev().map(|g| std::str::from_utf8(g).unwrap_or_default()).collect();
    format!("{}{}", if x <= -0.5 { "−" } else { "" }, groups.join(","))
}

/// A price as it is quoted: two decimals, four digits of what costs less than one.
#[must_use]
pub fn quoted(x: f64) -> String {
    decimals(x, if x.abs() >= 1.0 { 2 } else { 4 })
}

/// A change: with its sign, "+5" or "−16".
#[must_use]
pub fn signed(x: f64, write: impl Fn(f64) -> String) -> String {
    let text = write(x.abs());
    let is_nothing = !text.bytes().any(|b| (b'1'..=b'9').contains(&b));
    match x {
        _ if is_nothing => text,
        x if x < 0.0 => format!("−{text}"),
        _ => format!("+{text}"),
    }
}

/// A day: "8 Jun 2026".
#[must_use]
pub fn date(day: Day) -> String {
    day.date().format("%-d %b %Y").to_string()
}

/// "one filing", "3 filings": a count with what is counted.
#[must_use]
pub fn count(n: usize, what: &str) -> String {
    if n == 1 { format!("one {what}") } else { format!("{n} {what}s") }
}

/// "first", "twelfth", "23rd": a place in words up to the twelfth.
#[must_use]
pub fn ordinal(n: usize) -> String {
    const WORDS: [&str; 12] =
        ["first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth", "eleventh", "twelfth"];
    let ending = match (n % 10, n % 100) {
        (_, 11..=13) => "th",
        (1, _) => "st",
        (2, _) => "nd",
        (3, _) => "rd",
        _ => "th",
    };
    n.checked_sub(1).and_then(|i| WORDS.get(i)).map_or_else(|| format!("{n}{ending}"), |w| (*w).to_owned())
}

/// "no", "two", "13": a number in words up to twelve.
#[must_use]
pub fn in_words(n: usize) -> String {
    const WORDS: [&str; 13] = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"];
    WORDS.get(n).map_or_else(|| n.to_string(), |w| (*w).to_owned())
}

fn decimals(x: f64, digits: usize) -> String {
    format!("{x:.digits$}").replace('-', "−")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn figures_are_as_long_as_they_need_to_be() {
        assert_eq!([0.0812, 0.0996, -0.123].map(percent), ["8.1\u{202f}%", "10\u{202f}%", "−12\u{202f}%"]);
        assert_eq!([4.0, 31.46, 182.4].map(amount), ["4.00", "31.5", "182"]);
        assert_eq!([5.2, -15.6, 0.001].map(|x| signed(x, amount)), ["+5.20", "−15.6", "0.00"]);
        assert_eq!((times(f64::INFINITY), times(14.24)), ("any number of".to_owned(), "14.2".to_owned()));
        assert_eq!([1, 12, 13, 21, 42, 103, 111].map(ordinal), ["first", "twelfth", "13th", "21st", "42nd", "103rd", "111th"]);
        assert_eq!([0, 2, 13].map(in_words), ["no", "two", "13"]);
        assert_eq!((count(1, "filing"), count(3, "filing")), ("one filing".to_owned(), "3 filings".to_owned()));
    }
}
