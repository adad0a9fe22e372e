//! The Tabular Data Package: a folder with `datapackage.json` and one UTF-8 CSV file a table.

mod columns;
mod fields;
mod read;
mod rows;
mod write;

pub use read::{Known, read};
pub use write::PackageWriter;
