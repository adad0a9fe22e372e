//! Elements as they open and close, where tags may be left open.

use crate::{statement::StatementError, xml::Node};

/// Elements within each other at most.
const DEEPEST: usize = 256;

/// An element that is opened; tags are told apart in capitals.
fn node(tag: &str) -> Node {
    Node { name: tag.to_ascii_uppercase(), ..Node::default() }
}

/// Elements that are open, the outermost first.
#[derive(Debug)]
pub(super) struct Open(Vec<Node>);

impl Open {
    pub(super) fn new() -> Open {
        Open(vec![node("")])
    }

    pub(super) fn open(&mut self, tag: &str) -> Result<(), StatementError> {
        if self.0.len() > DEEPEST {
            return Err(StatementError::Not(format!("its elements are more than {DEEPEST} deep")));
        }
        self.0.push(node(tag));
        Ok(())
    }

    pub(super) fn text(&mut self, text: &str) {
        if let Some(top) = self.0.last_mut() {
            top.text.push_str(text);
        }
    }

    /// The tag of the innermost element.
    pub(super) fn top(&self) -> &str {
        self.0.last().map_or("", |n| &n.name)
    }

    /// Whether an element of a tag is open.
    pub(super) fn has(&self, tag: &str) -> bool {
        self.0.iter().any(|n| n.name == tag)
    }

    /// Closes the innermost element.
    pub(super) fn close(&mut self) {
        if self.0.len() > 1
            && let Some(done) = self.0.pop()
            && let Some(top) = self.0.last_mut()
        {
            top.within.push(done);
        }
    }

    /// Closes the innermost element, which was a leaf without a text: what seemed to be in it stands beside it.
    pub(super) fn close_empty_leaf(&mut self) {
        if let Some(top) = self.0.last_mut() {
            let beside = std::mem::take(&mut top.within);
            self.close();
            if let Some(top) = self.0.last_mut() {
                top.within.extend(beside);
            }
        }
    }

    /// All of it, once everything is closed.
    pub(super) fn whole(mut self) -> Result<Node, StatementError> {
        if self.0.len() > 1 {
            return Err(StatementError::CutOff(format!("the element {} does not end", self.0[1].name)));
        }
        Ok(self.0.pop().unwrap_or_default())
    }
}
