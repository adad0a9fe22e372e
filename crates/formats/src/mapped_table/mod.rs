//! One table from any file of rows: its columns are mapped to those of the dataset, its dates and numbers brought into the
//! dataset's form. What was guessed is shown before it is used.

mod convert;
mod guess;
mod guess_turned;
mod mapping;
mod read;
mod rows;
mod sample;
mod turned;
mod wide;

pub(crate) use convert::{date, month_end, number};
pub use guess::{for_table, guess};
pub(crate) use guess::{guess_dates, guess_decimal};
pub use guess_turned::for_turned;
pub use mapping::{DateOrder, Dated, DecimalMark, FixedCell, LabelledRow, MappedColumn, Mapping, Turned, Wide, WideColumn};
pub(crate) use read::each_row;
pub use read::{PreviewRow, preview, read};
pub use sample::Sample;
pub(crate) use sample::delimiter;
