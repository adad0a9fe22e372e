//! Bytes to the dataset's rows and back. One folder a format.

pub mod data_package;
mod problem;

pub use problem::{BadCell, ReadError, ReadReport, WriteError};
