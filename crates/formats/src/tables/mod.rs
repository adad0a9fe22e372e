//! The tables of the dataset as rows of cells: what every tabular format shares.

mod cells;
mod check;
mod columns;
mod fields;
mod odd_codes;
mod parse;

pub use cells::{Block, BlockWriter};
pub(crate) use check::Checker;
pub use check::Known;
pub use columns::{CellKind, Column, columns, required};
pub(crate) use fields::{CellError, Fields};
pub(crate) use parse::{bar_problem, parse};

use std::{cell::Cell, io::Read, rc::Rc};

/// The most bytes that one record of a file may have: more is no table but a missing quotation mark or a trap.
pub(crate) const MAX_RECORD: u64 = 4 << 20;

/// A reader that refuses to go on when one record needs more than [`MAX_RECORD`] bytes, so that memory stays bounded.
pub(crate) struct Bounded<R> {
    inner: R,
    since_record: Rc<Cell<u64>>,
}

impl<R: Read> Bounded<R> {
    /// The reader, and the count to set to 0 at each record.
    pub(crate) fn new(inner: R) -> (Bounded<R>, Rc<Cell<u64>>) {
        let count = Rc::new(Cell::new(0));
        (Bounded { inner, since_record: count.clone() }, count)
    }
}

impl<R: Read> Read for Bounded<R> {
    fn read(&mut self, buffer: &mut [u8]) -> std::io::Result<usize> {
        let n = self.inner.read(buffer)?;
        self.since_record.set(self.since_record.get() + n as u64);
        if self.since_record.get() > MAX_RECORD + buffer.len() as u64 {
            return Err(std::io::Error::new(
                std::io::ErrorKind::InvalidData,
                "one row is longer than 4 MB; look for a missing quotation mark",
            ));
        }
        Ok(n)
    }
}
