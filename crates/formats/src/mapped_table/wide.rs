//! Files in which several columns hold values: each filled cell becomes a row.

use super::{
    mapping::{Dated, Wide},
    rows::{Rows, converted},
};
use crate::{
    problem::{BadCell, ReadError},
    table_rows::Place,
    tables::{CellKind, columns},
};
use artemon_core::domain::Day;
use csv::ByteRecord;
use rust_decimal::{Decimal, RoundingStrategy};

/// How files of rates write that a value is not known.
const NOT_KNOWN: [&str; 6] = ["N/A", "NA", "n/a", "NaN", "-", "."];
/// What to do about a level that is none.
const REMEDY: &str = "Correct the cell, or leave it empty.";

impl Rows<'_> {
    /// The next filled column of values of the row that is spread.
    pub(super) fn spread(&mut self) -> Result<Option<Place>, ReadError> {
        let (Some(wide), Some((place, mut at))) = (&self.mapping.wide, self.spread.take()) else { return Ok(None) };
        while let Some(column) = wide.columns.get(at) {
            at += 1;
            let source = self.headers.iter().position(|h| *h == column.from).unwrap_or(usize::MAX);
            let cell = String::from_utf8_lossy(self.record.get(source).unwrap_or_default()).trim().to_owned();
            if cell.is_empty() || NOT_KNOWN.contains(&cell.as_str()) {
                self.not_known += 1;
                continue;
            }
            let typed = self.typed.get(source).copied().unwrap_or(false);
            let converted = converted(cell.as_bytes(), CellKind::Number, wide.divide, typed, self.mapping);
            if wide.yearly_change {
                self.level(at - 1, source, place, &cell, converted);
                continue;
            }
            let row = self.of_value(wide, at - 1, &converted.unwrap_or(cell));
            self.value_at = Some(source);
            self.mapped = row;
            self.spread = Some((place, at));
            return Ok(Some(place));
        }
        Ok(None)
    }

    /// The row of one value.
    fn of_value(&self, wide: &Wide, at: usize, value: &str) -> ByteRecord {
        let table = columns(self.mapping.table);
        let fixed = |name: &str| wide.columns[at].fixed.iter().find(|f| f.column == name).map(|f| f.value.as_bytes());
        let cells = table
            .iter()
            .zip(&self.mapped)
            .map(|(column, cell)| if column.name == wide.value { value.as_bytes() } else { fixed(column.name).unwrap_or(cell) });
        cells.collect()
    }

    /// Keeps a level of a price index by its month.
    fn level(&mut self, at: usize, source: usize, place: Place, cell: &str, converted: Option<String>) {
        let date = columns(self.mapping.table).iter().position(|c| c.name == "date").and_then(|i| self.mapped.get(i));
        let month = date.and_then(|d| std::str::from_utf8(d).ok()?.parse::<Day>().ok());
        // The written month, whatever its values are dated by.
        let back = if self.mapping.wide.as_ref().is_some_and(|w| w.dated == Dated::NextMonthEnd) { -1 } else { 0 };
        match (month, converted.and_then(|c| c.parse::<Decimal>().ok())) {
            (Some(month), Some(level)) => self.levels[at].push((month.month_index() + back, level, place)),
            _ => self.bad.push(BadCell::at(&self.file, place.line, &self.header(source), cell, "a level of its month", REMEDY)),
        }
    }

    /// The changes over twelve months of all levels.
    pub(super) fn changes(&mut self) {
        let Some(wide) = &self.mapping.wide else { return };
        let date = columns(self.mapping.table).iter().position(|c| c.name == "date");
        for at in 0..self.levels.len() {
            let mut levels = std::mem::take(&mut self.levels[at]);
            levels.sort_by_key(|l| l.0);
            for (month, level, place) in &levels {
                let before = levels.binary_search_by_key(&(month - 12), |l| l.0).ok().map(|i| levels[i].1);
                let Some(before) = before.filter(|b| *b > Decimal::ZERO && *level > Decimal::ZERO) else { continue };
                let change = (level / before - Decimal::ONE).round_dp_with_strategy(6, RoundingStrategy::MidpointNearestEven);
                let day = dated(month_start(*month), wide.dated);
                let row = self.of_value(wide, at, &change.normalize().to_string());
                let row = row.iter().enumerate().map(|(i, c)| if Some(i) == date { day.to_string().into_bytes() } else { c.to_owned() });
                self.waiting.push_back((*place, row.collect()));
            }
        }
    }
}

fn month_start(index: i32) -> Day {
    Day::from_ymd(index.div_euclid(12), u32::try_from(index.rem_euclid(12) + 1).unwrap_or(1), 1).unwrap_or(Day::MIN)
}

/// The day by which a value is known.
pub(super) fn dated(day: Day, how: Dated) -> Day {
    match how {
        Dated::Day => day,
        Dated::MonthEnd => day.month_end(),
        Dated::NextMonthEnd => day.month_start().plus_months(1).month_end(),
    }
}
