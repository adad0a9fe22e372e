//! Tables as Apache Parquet files, which any query engine reads and writes.

mod columns;
mod prices;
mod read;
mod tables;
mod write;

pub(crate) use prices::read_prices;
pub(crate) use read::ParquetRows;
pub use tables::ParquetFolder;
pub use write::{Cells, Column, write};

/// The first bytes of a file, and its last.
pub(crate) const MAGIC: [u8; 4] = *b"PAR1";
