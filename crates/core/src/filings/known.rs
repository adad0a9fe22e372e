//! What is known of a company's statements while its filings come in one after the other.

use crate::domain::{Currency, Day, Item, Items, Period, Statement};
use std::collections::BTreeMap;

/// A company's rows, each period's by the day of filing.
#[derive(Clone, Debug, Default)]
pub struct Known {
    rows: BTreeMap<(i32, Period), Vec<Statement>>,
}

/// A period as it was known on a day: of several filings the latest, item by item.
#[derive(Clone, Debug, PartialEq)]
pub struct KnownPeriod {
    /// Its last day, by the newest filing.
    pub period_end: Day,
    /// The items.
    pub items: Items,
}

impl Known {
    /// Adds a row; one of the same period and day is replaced.
    pub fn add(&mut self, row: Statement) {
        let rows = self.rows.entry((row.fiscal_year, row.period)).or_default();
        let at = rows.partition_point(|r| r.filed_on < row.filed_on);
        match rows.get_mut(at) {
            Some(same) if same.filed_on == row.filed_on => *same = row,
            _ => rows.insert(at, row),
        }
    }

    /// A period as known on a day, from figures in one currency: those in another are no basis for comparing or differencing.
    #[must_use]
    pub fn at(&self, fiscal_year: i32, period: Period, day: Day, currency: Currency) -> Option<KnownPeriod> {
        let rows = self.rows.get(&(fiscal_year, period))?;
        let mut known: Option<KnownPeriod> = None;
        for row in rows.iter().filter(|r| r.filed_on <= day && r.currency == currency) {
            let merged = known.get_or_insert_with(|| KnownPeriod { period_end: row.period_end, items: Items::default() });
            merged.period_end = row.period_end;
            row.items.iter().for_each(|(item, value)| merged.items.set(item, Some(value)));
        }
        known
    }

    /// An item of a period as known on a day.
    pub(super) fn item(&self, fiscal_year: i32, period: Period, day: Day, currency: Currency, item: Item) -> Option<f64> {
        self.at(fiscal_year, period, day, currency)?.items.get(item)
    }

    /// The row of a period that was filed on exactly this day.
    pub(super) fn filed_on(&self, fiscal_year: i32, period: Period, day: Day) -> Option<&Statement> {
        self.rows.get(&(fiscal_year, period))?.iter().find(|r| r.filed_on == day)
    }

    /// Whether a period is known on a day, in any currency.
    pub(super) fn has(&self, fiscal_year: i32, period: Period, day: Day) -> bool {
        self.rows.get(&(fiscal_year, period)).is_some_and(|rows| rows.iter().any(|r| r.filed_on <= day))
    }

    /// The label and the last day of the newest fiscal year filed by a day.
    #[must_use]
    pub fn newest_year(&self, day: Day) -> Option<(i32, Day)> {
        let years = self.rows.iter().rev().filter(|((_, period), _)| *period == Period::FY);
        years.flat_map(|(_, rows)| rows.iter().rev()).find(|r| r.filed_on <= day).map(|r| (r.fiscal_year, r.period_end))
    }
}
