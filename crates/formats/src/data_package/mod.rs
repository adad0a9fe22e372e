//! The Tabular Data Package: `datapackage.json` and one UTF-8 CSV file a table, in a folder or in a zip.

mod descriptor;
mod read;
mod source;
mod write;

pub(crate) use read::csv_error;
pub use read::{read, read_tables};
pub use write::{FolderWriter, ZipPackageWriter};
