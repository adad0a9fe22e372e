//! What a file of prices says itself, and what its name must say.

use crate::mapped_table::{FixedCell, MappedColumn, Mapping, Sample, for_table};
use artemon_core::domain::{Day, Table};

/// What rows of a file lack.
pub(super) enum Shape {
    /// They are no prices.
    None,
    /// They have no closes but such as are adjusted for what came later.
    AdjustedOnly(String),
    /// The symbol, which is the file's name.
    OfSymbol(Mapping),
    /// The day, which is in the file's name.
    OfDay(Mapping),
    /// Nothing.
    OfBoth(Mapping),
}

/// Whether a file, by its columns and name, is one of several of prices that belong together.
#[must_use]
pub fn looks_like_prices(sample: &Sample) -> bool {
    let path = &sample.table.path;
    let stem = path.file_stem().unwrap_or_default().to_string_lossy();
    matches!(shape(sample, &stem), Shape::OfSymbol(_) | Shape::OfDay(_) | Shape::AdjustedOnly(_))
}

pub(super) fn shape(sample: &Sample, stem: &str) -> Shape {
    let mut mapping = for_table(sample, Table::Prices);
    mapping.columns.retain(|c| !is_adjusted(&c.from));
    let header = |name: &str| sample.headers.iter().find(|h| h.eq_ignore_ascii_case(name));
    if !has(&mapping, "symbol")
        && let Some(isin) = header("isin")
    {
        mapping.columns.push(MappedColumn { column: "symbol".to_owned(), from: isin.clone(), divide: 1.0 });
    }
    let day = day_in(stem);
    let is_dated = has(&mapping, "date");
    if !has(&mapping, "close") {
        let adjusted = sample.headers.iter().find(|h| is_adjusted(h));
        return adjusted.filter(|_| is_dated || day.is_some()).map_or(Shape::None, |h| Shape::AdjustedOnly(h.clone()));
    }
    match (has(&mapping, "symbol"), is_dated, day) {
        (true, true, None) => Shape::OfBoth(mapping),
        (true, true, Some(_)) => Shape::OfDay(mapping),
        (true, false, Some(day)) => {
            mapping.fixed.push(FixedCell { column: "date".to_owned(), value: day.to_string() });
            Shape::OfDay(mapping)
        }
        (false, true, _) => Shape::OfSymbol(mapping),
        _ => Shape::None,
    }
}

fn has(mapping: &Mapping, column: &str) -> bool {
    mapping.columns.iter().any(|c| c.column == column)
}

fn is_adjusted(header: &str) -> bool {
    header.to_lowercase().contains("adj")
}

/// The day in a file's name: YYYY-MM-DD or YYYYMMDD, with no digit beside it.
pub(super) fn day_in(stem: &str) -> Option<Day> {
    let bytes = stem.as_bytes();
    (0..bytes.len()).find_map(|at| {
        if at > 0 && bytes[at - 1].is_ascii_digit() {
            return None;
        }
        [10, 8].into_iter().find_map(|length| {
            let text = stem.get(at..at + length)?;
            if bytes.get(at + length).is_some_and(u8::is_ascii_digit) {
                return None;
            }
            if length == 10 {
                return text.parse().ok();
            }
            let digits = text.bytes().all(|b| b.is_ascii_digit());
            Day::from_ymd(text[..4].parse().ok().filter(|_| digits)?, text[4..6].parse().ok()?, text[6..].parse().ok()?)
        })
    })
}

#[cfg(test)]
mod tests {
    use super::day_in;

    #[test]
    fn days_are_found_in_names() {
        for (name, day) in [
            ("20240411", Some("2024-04-11")),
            ("2024-04-09", Some("2024-04-09")),
            ("eod_20240411_final", Some("2024-04-11")),
            ("prices-2024-04-09-v2", Some("2024-04-09")),
            ("120240411", None),
            ("20241311", None),
            ("KLMR", None),
            ("é20240411", Some("2024-04-11")),
        ] {
            assert_eq!(day_in(name).map(|d| d.to_string()).as_deref(), day, "{name}");
        }
    }
}
