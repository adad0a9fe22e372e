//! The XML of versions 2.

use super::tree::Open;
use crate::{
    statement::StatementError,
    xml::{Node, Piece, Xml, XmlError},
};

pub(super) fn tree(text: &str) -> Result<Node, StatementError> {
    let mut xml = Xml::new(text);
    let mut open = Open::new();
    while let Some(piece) = xml.next().map_err(unreadable)? {
        match piece {
            Piece::Open(element) => open.open(element.local_name().as_ref())?,
            Piece::Text(text) => open.text(&text),
            Piece::Close => open.close(),
        }
    }
    open.whole()
}

fn unreadable(e: XmlError) -> StatementError {
    match e {
        XmlError::CutOff(said) => StatementError::CutOff(said),
        XmlError::Wrong(said) => StatementError::Not(said),
    }
}
