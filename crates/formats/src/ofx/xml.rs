//! The XML of versions 2.

use super::tree::{Node, Open};
use crate::statement::StatementError;
use quick_xml::{Reader, events::Event};

pub(super) fn tree(text: &str) -> Result<Node, StatementError> {
    let mut reader = Reader::from_str(text);
    let mut open = Open::new();
    let not = |e: &dyn std::fmt::Display| StatementError::Not(e.to_string());
    loop {
        match reader.read_event().map_err(|e| ended(&e))? {
            Event::Start(e) => open.open(e.name().as_ref())?,
            Event::Empty(e) => {
                open.open(e.name().as_ref())?;
                open.close();
            }
            Event::End(_) => open.close(),
            Event::Text(e) => open.text(&e),
            Event::CData(e) => open.text(&e),
            Event::GeneralRef(e) => {
                let entity: &str = &e;
                let of = match e.resolve_char_ref().map_err(|e| not(&e))? {
                    Some(c) => c.to_string(),
                    None => quick_xml::escape::resolve_predefined_entity(entity)
                        .ok_or_else(|| StatementError::Not(format!("it uses the entity \"{entity}\", which is refused")))?
                        .to_owned(),
                };
                open.text(&of);
            }
            // A bare name is passed over; nothing is ever declared or fetched.
            Event::DocType(e) if e.contains(['[', '!']) => {
                return Err(StatementError::Not("it declares entities or elements of its own, which is refused".to_owned()));
            }
            Event::Eof => return open.whole(),
            _ => {}
        }
    }
}

fn ended(e: &quick_xml::Error) -> StatementError {
    match e {
        quick_xml::Error::Syntax(_) | quick_xml::Error::IllFormed(_) => StatementError::CutOff(e.to_string()),
        _ => StatementError::Not(e.to_string()),
    }
}
