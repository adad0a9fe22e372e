//! The one place that compiles, evaluates and keeps: the panel with a person's settings, and the cache between them.
//!
//! [`Engine`] is a snapshot of the dataset with its cache; [`Context`] adds whose settings are used. Formulas and valuations
//! ask for what they need through [`crate::formula::Host`], which the context is.

mod cache;
mod cancel;
mod context;
mod days;
mod key;
mod section;
mod settings;

pub use cache::{Cache, Keep};
pub use cancel::{Cancel, Cancelled};
pub use context::{Context, Engine};
pub use section::Section;
pub use settings::{Lists, Settings};
