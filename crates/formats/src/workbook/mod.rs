//! Workbooks of sheets: the tables of the dataset come in from them and go out into them.

mod read;
mod write;

pub(crate) use read::{ENTRY, SheetRows};
pub use read::{Sheet, sheets};
pub use write::WorkbookWriter;

use artemon_core::domain::Table;

/// The table that a sheet is called like; a table that does not fit one sheet goes on in others: `prices (2)`.
#[must_use]
pub fn table_of(sheet: &str) -> Option<Table> {
    let name = sheet.trim().to_lowercase();
    let part = |rest: &str| rest.strip_suffix(')').is_some_and(|n| n.parse::<u32>().is_ok());
    let name = name.split_once(" (").filter(|(_, rest)| part(rest)).map_or(name.as_str(), |(table, _)| table);
    name.parse().ok()
}

/// The name of the nth sheet of a table.
fn sheet_of(table: Table, nth: usize) -> String {
    if nth == 1 { table.code().to_owned() } else { format!("{table} ({nth})") }
}

#[cfg(test)]
mod tests {
    use super::{sheet_of, table_of};
    use artemon_core::domain::Table;

    #[test]
    fn sheets_are_called_like_their_tables() {
        for table in Table::ALL {
            assert_eq!((table_of(&sheet_of(*table, 1)), table_of(&sheet_of(*table, 12))), (Some(*table), Some(*table)));
        }
        assert_eq!(table_of(" Prices "), Some(Table::Prices));
        assert_eq!(["prices 2024", "prices (old)", "notes", ""].map(table_of), [None; 4]);
    }
}
