//! Figures, formulas and criteria in words, and numbers as people type them. One place, so that browser and terminal say the
//! same.

mod criterion;
mod difference;
pub mod figures;
mod formula;
mod number;
mod worth;

pub use criterion::{Sentence, read_criterion, sentence};
pub use difference::differences;
pub use formula::label;
pub use number::{NumberError, read_number, write_number};
pub use worth::against_value;
