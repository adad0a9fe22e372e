//! What the dataset holds, and for which years: about the data itself, not as of any date.

use super::{company::CompanyPanel, snapshot::Snapshot};
use crate::domain::{Day, Table};
use serde::Serialize;
use std::collections::{BTreeMap, BTreeSet};

/// What is there of one table.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TableCoverage {
    /// The table.
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub table: Table,
    /// Its rows.
    pub rows: usize,
    /// Companies that have rows; 0 for tables that belong to none.
    pub companies: usize,
    /// The oldest day.
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>))]
    pub first: Option<Day>,
    /// The newest day.
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>))]
    pub last: Option<Day>,
    /// By calendar year: companies with rows of that year, or rows for tables that belong to none.
    #[cfg_attr(feature = "openapi", schema(value_type = BTreeMap<String, usize>))]
    pub years: BTreeMap<i32, usize>,
}

/// What is there of one table for one company.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Extent {
    /// Its rows.
    pub rows: usize,
    /// The oldest and the newest day.
    pub days: Option<(Day, Day)>,
}

impl TableCoverage {
    const fn new(table: Table) -> TableCoverage {
        TableCoverage { table, rows: 0, companies: 0, first: None, last: None, years: BTreeMap::new() }
    }

    fn add(&mut self, extent: Extent) {
        self.rows += extent.rows;
        if let Some((first, last)) = extent.days {
            self.first = Some(self.first.map_or(first, |d| d.min(first)));
            self.last = Some(self.last.map_or(last, |d| d.max(last)));
        }
    }
}

/// Tables of which a company has rows, with their days.
const OF_COMPANIES: [Table; 9] = [
    Table::Statements,
    Table::Prices,
    Table::Actions,
    Table::Estimates,
    Table::InsiderTrades,
    Table::Ownership,
    Table::Officers,
    Table::Events,
    Table::News,
];

impl CompanyPanel {
    /// The days of a company's rows in a table, in no order.
    fn days(&self, table: Table) -> Vec<Day> {
        match table {
            Table::Statements => self.statements.filed_days().to_vec(),
            Table::Prices => self.bars.dates().to_vec(),
            Table::Actions => self.splits.iter().map(|s| s.ex_date).chain(self.dividends.iter().map(|d| d.ex_date)).collect(),
            Table::Estimates => self.estimates.iter().map(|e| e.published_on).collect(),
            Table::InsiderTrades => self.trades.iter().map(|t| t.filed_on).collect(),
            Table::Ownership => self.ownership.iter().map(|o| o.as_of).collect(),
            Table::Officers => self.officers.iter().filter_map(|o| o.since).collect(),
            Table::Events => self.events.iter().map(|e| e.date).collect(),
            Table::News => self.news.iter().filter_map(crate::domain::News::published_on).collect(),
            _ => Vec::new(),
        }
    }
}

fn extent(days: &[Day]) -> Extent {
    Extent { rows: days.len(), days: days.iter().min().copied().zip(days.iter().max().copied()) }
}

impl Snapshot {
    /// What is there of each table, the annotations left out.
    #[must_use]
    pub fn coverage(&self) -> Vec<TableCoverage> {
        use rayon::prelude::*;
        let mut out = vec![
            TableCoverage { rows: self.companies.len(), companies: self.companies.len(), ..TableCoverage::new(Table::Companies) },
            TableCoverage {
                rows: self.companies.iter().filter(|c| c.listing.is_some()).count(),
                companies: self.companies.iter().filter(|c| c.listing.is_some()).count(),
                ..TableCoverage::new(Table::Listings)
            },
        ];
        out.extend(OF_COMPANIES.par_iter().map(|&table| self.table_coverage(table)).collect::<Vec<_>>());
        out.extend(self.shared_coverage());
        out
    }

    fn table_coverage(&self, table: Table) -> TableCoverage {
        let mut out = TableCoverage::new(table);
        for company in &self.companies {
            let days = company.days(table);
            let years: BTreeSet<i32> = match table {
                // Sessions are many and in order: a look at each month is enough.
                Table::Prices => company.bars.month_ends().iter().map(|i| company.bars.dates()[*i as usize].year()).collect(),
                _ => days.iter().map(|d| d.year()).collect(),
            };
            out.companies += usize::from(!days.is_empty());
            out.add(extent(&days));
            years.into_iter().for_each(|y| *out.years.entry(y).or_default() += 1);
        }
        out
    }

    fn shared_coverage(&self) -> Vec<TableCoverage> {
        let of = |table, days: Vec<Day>| {
            let mut out = TableCoverage::new(table);
            out.add(extent(&days));
            days.iter().for_each(|d| *out.years.entry(d.year()).or_default() += 1);
            out
        };
        let (fx, rates) = (self.shared.market.fx_days().collect(), self.shared.market.rate_days().collect());
        let members = self.shared.indexes.values().flat_map(|i| i.member_days()).collect();
        let levels = self.shared.indexes.values().flat_map(|i| i.level_days()).collect();
        vec![
            of(Table::Rates, rates),
            of(Table::Fx, fx),
            TableCoverage { rows: self.shared.indexes.len(), ..TableCoverage::new(Table::Indexes) },
            of(Table::IndexMembers, members),
            of(Table::IndexLevels, levels),
        ]
    }

    /// What is there of a table for the company at a position.
    #[must_use]
    pub fn extent(&self, company: super::CompanyIndex, table: Table) -> Extent {
        extent(&self.companies[company as usize].days(table))
    }

    /// The newest filing of the company at a position: its day and its source.
    #[must_use]
    pub fn newest_filing(&self, company: super::CompanyIndex) -> Option<(Day, &str)> {
        self.companies[company as usize].statements.newest_filing()
    }

    /// The last bar of a listing, and whether a bar equals the one that is there.
    #[must_use]
    pub fn bar_standing(&self, company: super::CompanyIndex, bar: &crate::domain::Bar) -> BarStanding {
        let bars = &self.companies[company as usize].bars;
        match bars.dates().last() {
            Some(last) if bar.date > *last => BarStanding::Later,
            _ if bars.has(bar) => BarStanding::Same,
            _ => BarStanding::Other,
        }
    }
}

/// How a bar relates to those that are there.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum BarStanding {
    /// After the last one.
    Later,
    /// Equal to the one of its day.
    Same,
    /// A change.
    Other,
}
