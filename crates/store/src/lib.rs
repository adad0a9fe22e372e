//! The dataset on disk: SQLite in WAL mode, one file in the data folder.
//!
//! One writer at a time, inside one transaction; readers go on undisturbed. Daily bars are stored as columnar chunks,
//! everything else as ordinary tables.

mod assumptions;
mod bars;
mod batch;
mod error;
mod imports;
mod items;
mod load_panel;
mod lock;
mod own_measures;
mod rows;
mod schema;
mod store;

pub use assumptions::{KeptOverride, KeptSet};
pub use batch::Batch;
pub use error::StoreError;
pub use imports::{KeptImport, NewImport};
pub use lock::FolderLock;
pub use own_measures::KeptMeasure;
pub use store::{Keys, Selection, Store};
