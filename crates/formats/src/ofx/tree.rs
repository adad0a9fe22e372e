//! Elements within elements.

use crate::statement::StatementError;

/// Elements within each other at most.
const DEEPEST: usize = 256;

/// An element: with text, or with others in it.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub(super) struct Node {
    pub(super) tag: String,
    pub(super) text: String,
    pub(super) within: Vec<Node>,
}

impl Node {
    pub(super) fn new(tag: &str) -> Node {
        Node { tag: tag.to_ascii_uppercase(), ..Node::default() }
    }

    /// The first element of a tag directly within.
    pub(super) fn child(&self, tag: &str) -> Option<&Node> {
        self.within.iter().find(|n| n.tag == tag)
    }

    /// The first element of a tag anywhere within.
    pub(super) fn find(&self, tag: &str) -> Option<&Node> {
        self.child(tag).or_else(|| self.within.iter().find_map(|n| n.find(tag)))
    }

    /// The trimmed text of the first element of a tag anywhere within; empty where there is none.
    pub(super) fn text_of(&self, tag: &str) -> &str {
        self.find(tag).map_or("", |n| n.text.trim())
    }

    /// All elements of a tag anywhere within, outermost first.
    pub(super) fn all<'n>(&'n self, tag: &str, out: &mut Vec<&'n Node>) {
        for n in &self.within {
            if n.tag == tag {
                out.push(n);
            } else {
                n.all(tag, out);
            }
        }
    }
}

/// Elements that are open, the outermost first.
#[derive(Debug)]
pub(super) struct Open(Vec<Node>);

impl Open {
    pub(super) fn new() -> Open {
        Open(vec![Node::new("")])
    }

    pub(super) fn open(&mut self, tag: &str) -> Result<(), StatementError> {
        if self.0.len() > DEEPEST {
            return Err(StatementError::Not(format!("its elements are more than {DEEPEST} deep")));
        }
        self.0.push(Node::new(tag));
        Ok(())
    }

    pub(super) fn text(&mut self, text: &str) {
        if let Some(top) = self.0.last_mut() {
            top.text.push_str(text);
        }
    }

    /// The tag of the innermost element.
    pub(super) fn top(&self) -> &str {
        self.0.last().map_or("", |n| &n.tag)
    }

    /// Whether an element of a tag is open.
    pub(super) fn has(&self, tag: &str) -> bool {
        self.0.iter().any(|n| n.tag == tag)
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
            return Err(StatementError::CutOff(format!("the element {} does not end", self.0[1].tag)));
        }
        Ok(self.0.pop().unwrap_or_default())
    }
}
