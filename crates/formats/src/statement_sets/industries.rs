//! Sector, industry and kind of a company by its number in the standard industrial classification: `industries.csv`, the one table.

use artemon_core::domain::Kind;
use std::sync::LazyLock;

/// A line of business.
#[derive(Debug)]
pub(super) struct Industry {
    from: u16,
    to: u16,
    pub(super) sector: String,
    pub(super) name: String,
    pub(super) kind: Kind,
}

static INDUSTRIES: LazyLock<Vec<Industry>> = LazyLock::new(|| read(include_str!("industries.csv")));

/// # Panics
/// When a line cannot be understood: the table is part of the program.
#[allow(clippy::expect_used)]
fn read(text: &str) -> Vec<Industry> {
    let mut csv = csv::Reader::from_reader(text.as_bytes());
    let line = |record: csv::StringRecord| Industry {
        from: record[0].parse().expect("a number"),
        to: record[1].parse().expect("a number"),
        sector: record[2].to_owned(),
        name: record[3].to_owned(),
        kind: record[4].parse().expect("a kind of company"),
    };
    csv.records().map(|record| line(record.expect("five cells"))).collect()
}

/// The line of business of a number: of several ranges that hold it the narrowest.
pub(super) fn industry(sic: &str) -> Option<&'static Industry> {
    let number: u16 = sic.trim().parse().ok()?;
    INDUSTRIES.iter().filter(|i| (i.from..=i.to).contains(&number)).min_by_key(|i| i.to - i.from)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_narrowest_range_counts() {
        let of = |sic| industry(sic).map(|i| (i.sector.as_str(), i.name.as_str(), i.kind));
        assert_eq!(of("3630"), Some(("Consumer Goods", "Household Appliances", Kind::Operating)));
        assert_eq!(of("6022"), Some(("Finance", "Banks", Kind::Bank)));
        assert_eq!(of("0100"), Some(("Consumer Goods", "Farming and Fishing", Kind::Operating)));
        assert_eq!((of(""), of("9999"), of("x")), (None, None, None));
        assert!(INDUSTRIES.iter().all(|i| i.from <= i.to && !i.sector.is_empty() && !i.name.is_empty()));
    }
}
