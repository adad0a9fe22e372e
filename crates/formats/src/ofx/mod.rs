//! Statements in OFX, versions 1 (SGML, where leaves need not be closed) and 2 (XML).

mod decode;
mod read;
mod sgml;
mod tree;
mod xml;

use crate::statement::{Statement, StatementError};

/// Whether a file begins as one of these does.
#[must_use]
pub fn is_ofx(bytes: &[u8]) -> bool {
    let head = String::from_utf8_lossy(&bytes[..bytes.len().min(2_000)]).to_ascii_uppercase();
    head.contains("OFXHEADER") || head.contains("<OFX>")
}

/// All statements of a file.
///
/// # Errors
/// A file that is none, cut off, or has a value that cannot be meant.
pub fn read(bytes: &[u8]) -> Result<Vec<Statement>, StatementError> {
    let text = decode::text(bytes)?;
    let root = if text.trim_start().starts_with("<?xml") || text.contains("<?OFX") { xml::tree(&text)? } else { sgml::tree(&text)? };
    read::statements(&root)
}
