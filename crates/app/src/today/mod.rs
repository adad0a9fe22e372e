//! What happened since one last looked.

mod document;

pub use document::{TodayDocument, today_document};
