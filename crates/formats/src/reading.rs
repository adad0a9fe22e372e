//! What every reader has in common: where its rows go, how far it is, what it reports.

use crate::problem::{BadCell, ReadError, ReadReport};
use artemon_core::domain::{Record, Table};
use std::ops::ControlFlow;

/// Rows between two reports of progress.
const TICK: u64 = 8_192;
/// Bad cells that a report keeps in full.
const MAX_REPORTED: usize = 1000;

/// How far a reader is.
#[derive(Clone, Copy, Debug)]
pub struct Progress {
    /// Rows so far, bad ones included.
    pub rows: u64,
    /// Bytes so far.
    pub bytes: u64,
    /// Bytes of all files.
    pub bytes_in_all: u64,
    /// The table being read.
    pub table: Table,
}

impl Progress {
    pub(crate) const fn at(self, byte: u64) -> Progress {
        Progress { bytes: self.bytes + byte, ..self }
    }
}

/// Where rows go.
pub trait Reading {
    /// Takes one good row.
    ///
    /// # Errors
    /// When it cannot be taken; reading ends.
    fn row(&mut self, record: Record) -> Result<(), Box<dyn std::error::Error + Send + Sync>>;

    /// Hears how far reading is; may end it.
    fn progress(&mut self, progress: Progress) -> ControlFlow<()> {
        let _ = progress;
        ControlFlow::Continue(())
    }
}

/// Any function that takes rows.
impl<F: FnMut(Record) -> Result<(), Box<dyn std::error::Error + Send + Sync>>> Reading for F {
    fn row(&mut self, record: Record) -> Result<(), Box<dyn std::error::Error + Send + Sync>> {
        self(record)
    }
}

/// Passes rows on and keeps the report.
pub(crate) struct Take<'r> {
    reading: &'r mut dyn Reading,
    pub(crate) report: ReadReport,
    pub(crate) progress: Progress,
}

impl<'r> Take<'r> {
    pub(crate) fn new(reading: &'r mut dyn Reading) -> Take<'r> {
        let progress = Progress { rows: 0, bytes: 0, bytes_in_all: 0, table: Table::Companies };
        Take { reading, report: ReadReport::default(), progress }
    }

    pub(crate) fn good(&mut self, record: Record, now: Progress) -> Result<(), ReadError> {
        self.reading.row(record).map_err(ReadError::Taking)?;
        self.progress.rows += 1;
        if self.progress.rows.is_multiple_of(TICK) && self.reading.progress(Progress { rows: self.progress.rows, ..now }).is_break() {
            return Err(ReadError::Cancelled);
        }
        Ok(())
    }

    /// Says how far it is, whatever the number of rows.
    pub(crate) fn tell(&mut self) -> Result<(), ReadError> {
        if self.reading.progress(self.progress).is_break() { Err(ReadError::Cancelled) } else { Ok(()) }
    }

    pub(crate) fn bad(&mut self, cell: BadCell) {
        self.progress.rows += 1;
        self.report.bad_rows += 1;
        if self.report.bad.len() < MAX_REPORTED {
            self.report.bad.push(cell);
        }
    }

    pub(crate) fn finished_file(&mut self, size: u64) {
        self.progress.bytes += size;
    }
}
