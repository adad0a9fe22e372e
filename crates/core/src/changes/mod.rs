//! Why a figure moved between two dates: each cause's fair part of the change.
//!
//! What a value is computed from falls into groups of causes ([`Cause`]). A mixture takes each group whole from one date or the
//! other ([`mixture`]); the parts are what each group adds on average over all orders of change ([`shapley`]).

mod mixture;
mod shapley;
mod value;
mod words;

pub use mixture::Cause;
pub use shapley::{Share, shares};
pub use value::{ChangedFigure, Part, ValueChange, ValuePoint, value_change};
