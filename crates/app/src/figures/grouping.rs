//! Companies in groups, with the middle of each.

use super::compact::six_digits;
use artemon_core::{domain::Company, panel::Snapshot, stats};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// What companies are grouped by.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Grouping {
    Sector,
    Industry,
    Country,
}

/// The middle of each column over all rows, and over those of each group.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Medians {
    /// Of all rows, by column, to six digits; null where the column has no numbers.
    pub all: Vec<Option<f64>>,
    /// Of each group, by name; none without a grouping.
    pub groups: Vec<GroupMedians>,
}

/// A group of companies, with the median of each column.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct GroupMedians {
    /// As the companies say it.
    pub name: String,
    /// How many there are in it.
    pub companies: usize,
    /// By column, to six digits; null where the column has no numbers here.
    pub medians: Vec<Option<f64>>,
}

impl Grouping {
    /// The group that a company is in.
    pub(crate) fn of(self, company: &Company) -> &str {
        match self {
            Grouping::Sector => &company.sector,
            Grouping::Industry => &company.industry,
            Grouping::Country => &company.country,
        }
    }

    /// Puts the rows of each group together, groups by name; within a group their order stays.
    pub(crate) fn arrange<T>(self, snapshot: &Snapshot, rows: &mut [T], company: impl Fn(&T) -> u32) {
        rows.sort_by(|a, b| self.of(snapshot.company(company(a))).cmp(self.of(snapshot.company(company(b)))));
    }
}

impl Medians {
    /// The medians of what `numbers` gives for a row.
    pub(crate) fn of<T>(
        grouping: Option<Grouping>,
        snapshot: &Snapshot,
        rows: &[T],
        company: impl Fn(&T) -> u32,
        numbers: impl Fn(&T) -> Vec<Option<f64>>,
    ) -> Medians {
        let numbers: Vec<Vec<Option<f64>>> = rows.iter().map(numbers).collect();
        let mut groups: BTreeMap<&str, Vec<&[Option<f64>]>> = BTreeMap::new();
        if let Some(by) = grouping {
            for (row, numbers) in rows.iter().zip(&numbers) {
                groups.entry(by.of(snapshot.company(company(row)))).or_default().push(numbers);
            }
        }
        let of_group = |(name, rows): (&str, Vec<&[Option<f64>]>)| GroupMedians {
            name: name.to_owned(),
            companies: rows.len(),
            medians: middles(&rows),
        };
        Medians { all: middles(&numbers), groups: groups.into_iter().map(of_group).collect() }
    }
}

/// The median of each column.
fn middles<R: AsRef<[Option<f64>]>>(rows: &[R]) -> Vec<Option<f64>> {
    let known = |column: usize| rows.iter().filter_map(|r| r.as_ref()[column]).collect::<Vec<f64>>();
    let columns = 0..rows.first().map_or(0, |r| r.as_ref().len());
    columns.map(|column| stats::median(&known(column)).map(six_digits)).collect()
}
