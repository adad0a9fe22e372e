//! Tables turned on their side: items stand in rows, and each column of values becomes a row.

use super::{
    mapping::Turned,
    rows::{From, Rows, converted},
    sample::texts,
};
use crate::{
    problem::ReadError,
    table_rows::Place,
    tables::{CellKind, columns},
};
use csv::ByteRecord;

impl Rows<'_> {
    /// Takes all rows of a table that is turned on its side; each of its columns with a value makes a row, which then waits.
    pub(super) fn turn(&mut self, turned: &Turned, first: Place) -> Result<(), ReadError> {
        let table = columns(self.mapping.table);
        let at = |header: &str| self.headers.iter().position(|h| h == header).unwrap_or(usize::MAX);
        let labels = at(&turned.labels);
        let places: Vec<usize> = turned.columns.iter().map(|c| at(&c.from)).collect();
        let mut values: Vec<Vec<Option<String>>> = vec![vec![None; table.len()]; places.len()];
        let mut next = Some(first);
        while next.is_some() {
            let row = texts(&self.record);
            let label = row.get(labels).map_or("", String::as_str);
            let of_label = turned.rows.iter().filter(|r| !label.is_empty() && r.label == label);
            for (taken, column) in of_label.filter_map(|r| Some((r, table.iter().position(|c| c.name == r.column)?))) {
                for (place, values) in places.iter().zip(&mut values) {
                    let cell = row.get(*place).map_or("", String::as_str);
                    if !cell.is_empty() && cell != "-" {
                        let typed = self.typed.get(*place).copied().unwrap_or(false);
                        values[column] = Some(self.turned_cell(cell, taken.divide, typed));
                    }
                }
            }
            next = self.source.next(&mut self.record, &mut self.typed)?;
        }
        for (column, values) in turned.columns.iter().zip(values).filter(|(_, values)| values.iter().any(Option::is_some)) {
            let fixed = |name: &str| column.fixed.iter().find(|f| f.column == name).map(|f| f.value.clone());
            let cell = |(i, value): (usize, Option<String>)| {
                let everywhere = if let From::Fixed(value) = &self.sources[i] { Some(value.clone()) } else { None };
                value.or_else(|| fixed(table[i].name)).or(everywhere).unwrap_or_default()
            };
            let row: Vec<String> = values.into_iter().enumerate().map(cell).collect();
            self.waiting.push_back((first, ByteRecord::from(row)));
        }
        Ok(())
    }

    /// A value of a turned table in the dataset's form, its sign turned over where it counts the other way; as it stands where it is none.
    fn turned_cell(&self, cell: &str, divide: f64, typed: bool) -> String {
        let number = converted(cell.as_bytes(), CellKind::Number, divide.abs(), typed, self.mapping);
        match number {
            None => cell.to_owned(),
            Some(number) if divide > 0.0 => number,
            Some(number) => number.strip_prefix('-').map_or_else(|| format!("-{number}"), str::to_owned),
        }
    }
}
