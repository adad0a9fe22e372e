//! One table from any CSV file: its columns are mapped to those of the dataset, its dates and numbers brought into the
//! dataset's form. What was guessed is shown before it is used.

mod convert;
mod guess;
mod mapping;
mod read;
mod sample;

pub(crate) use convert::{date, number};
pub use guess::{for_table, guess};
pub(crate) use guess::{guess_dates, guess_decimal};
pub use mapping::{DateOrder, DecimalMark, FixedCell, MappedColumn, Mapping};
pub use read::{PreviewRow, preview, read};
pub use sample::Sample;
pub(crate) use sample::delimiter;
