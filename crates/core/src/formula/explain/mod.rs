//! Any value opens: into the formula, its inputs with period, day of filing and source, and the rules applied.

mod evidence;
mod explanation;
mod filed;
mod opener;
mod text;

pub use explanation::{Explanation, Filing};
pub use opener::explain;
