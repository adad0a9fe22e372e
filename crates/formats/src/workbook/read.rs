//! Sheets of a workbook as rows. Memory follows the cells that there are, whatever size a sheet says it has.

use crate::{
    ReadError,
    archive::Archive,
    filings::file_name,
    table_rows::{Place, TableFile, TableRows},
};
use calamine::{Data, DataRef, Reader, SheetType, SheetVisible, Xlsx, XlsxError, open_workbook};
use csv::ByteRecord;
use std::{fs::File, io::BufReader, path::Path};

/// The entries by which an archive is told to be a workbook.
pub(crate) const ENTRY: &str = "xl/workbook.xml";
/// The most columns that are read of a row.
const MOST_COLUMNS: usize = 1_024;

/// A sheet of a workbook.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Sheet {
    /// Its name.
    pub name: String,
    /// Whether a person who opens the workbook sees it.
    pub is_visible: bool,
}

/// The sheets of a workbook that hold cells, in its order.
///
/// # Errors
/// A file that is no workbook, or a hostile one.
pub fn sheets(path: &Path) -> Result<Vec<Sheet>, ReadError> {
    let workbook = open(path)?;
    let with_cells = workbook.sheets_metadata().iter().filter(|s| s.typ == SheetType::WorkSheet);
    Ok(with_cells.map(|s| Sheet { name: s.name.clone(), is_visible: s.visible == SheetVisible::Visible }).collect())
}

fn open(path: &Path) -> Result<Xlsx<BufReader<File>>, ReadError> {
    Archive::open(path)?.check()?;
    open_workbook(path).map_err(|e: XlsxError| unusable(path, &e))
}

fn unusable(path: &Path, e: &XlsxError) -> ReadError {
    ReadError::Unusable { file: file_name(path), problem: format!("it is not a complete workbook ({e})") }
}

/// A cell in the text of its sheet.
struct SheetCell {
    row: u32,
    column: u32,
    typed: bool,
    end: usize,
}

/// The cells of a sheet, row by row.
pub(crate) struct SheetRows {
    text: String,
    cells: Vec<SheetCell>,
    at: usize,
}

impl SheetRows {
    pub(crate) fn open(table: &TableFile) -> Result<SheetRows, ReadError> {
        let mut workbook = open(&table.path)?;
        let sheet = match &table.sheet {
            Some(sheet) => sheet.clone(),
            None => sheets(&table.path)?.into_iter().find(|s| s.is_visible).map(|s| s.name).unwrap_or_default(),
        };
        let problem = |e: XlsxError| unusable(&table.path, &e);
        let mut reader = workbook.worksheet_cells_reader(&sheet).map_err(problem)?;
        let mut rows = SheetRows { text: String::new(), cells: Vec::new(), at: 0 };
        while let Some(cell) = reader.next_cell_with_formula().map_err(problem)? {
            let (row, column) = cell.pos;
            if column as usize >= MOST_COLUMNS {
                continue;
            }
            let typed = match (&cell.value, &cell.formula) {
                // What a formula comes to is not stored by programs that do not calculate.
                (DataRef::Empty, Some(formula)) => {
                    rows.text.extend(["=", formula.trim_start_matches('=')]);
                    false
                }
                (DataRef::Empty, None) => continue,
                (value, _) => write(value, &mut rows.text),
            };
            rows.cells.push(SheetCell { row, column, typed, end: rows.text.len() });
        }
        // Rows may be written in any order.
        if !rows.cells.is_sorted_by_key(|c| (c.row, c.column)) {
            return Err(ReadError::Unusable {
                file: table.name(),
                problem: "its cells are out of order; save the workbook anew".to_owned(),
            });
        }
        Ok(rows)
    }
}

/// Writes a value as text; whether it is a number or a date in the dataset's form.
fn write(value: &DataRef<'_>, out: &mut String) -> bool {
    match value {
        DataRef::Int(n) => out.push_str(&n.to_string()),
        DataRef::Float(n) => out.push_str(&n.to_string()),
        DataRef::DateTime(moment) if moment.is_datetime() => {
            let (year, month, day, hour, minute, second, _) = moment.to_ymd_hms_milli();
            out.push_str(&format!("{year:04}-{month:02}-{day:02}"));
            if (hour, minute, second) != (0, 0, 0) {
                out.push_str(&format!("T{hour:02}:{minute:02}:{second:02}Z"));
            }
        }
        DataRef::DateTimeIso(text) => out.push_str(text.strip_suffix("T00:00:00").unwrap_or(text)),
        DataRef::String(text) => return plain(text, out),
        DataRef::SharedString(text) => return plain(text, out),
        other => {
            out.push_str(&Data::from(other.clone()).to_string().to_uppercase());
            return false;
        }
    }
    true
}

/// Text without the spaces around it, hard ones too.
fn plain(text: &str, out: &mut String) -> bool {
    out.push_str(text.trim());
    false
}

impl TableRows for SheetRows {
    fn next(&mut self, row: &mut ByteRecord, typed: &mut Vec<bool>) -> Result<Option<Place>, ReadError> {
        row.clear();
        typed.clear();
        let Some(first) = self.cells.get(self.at) else { return Ok(None) };
        let number = first.row;
        while let Some(cell) = self.cells.get(self.at).filter(|c| c.row == number) {
            while typed.len() < cell.column as usize {
                row.push_field(b"");
                typed.push(false);
            }
            let start = self.at.checked_sub(1).map_or(0, |before| self.cells[before].end);
            row.push_field(&self.text.as_bytes()[start..cell.end]);
            typed.push(cell.typed);
            self.at += 1;
        }
        Ok(Some(Place { line: u64::from(number) + 1, byte: 0 }))
    }
}
