//! Measures that the user wrote: each a name for a formula, which others may use.

use super::{
    ast::{Expr, Node},
    check::{Checked, Compiled, compile_in},
    error::FormulaError,
    parser::parse,
    plan::Unit,
};
use crate::{domain::Item, measures};
use rustc_hash::FxHashMap;
use serde::{Deserialize, Serialize};
use std::{
    collections::BTreeMap,
    sync::{Arc, Mutex, PoisonError},
};

/// A measure of the user's own.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct OwnMeasure {
    /// The name in formulas: small letters, digits and `_`.
    pub id: String,
    /// The name in lists.
    pub label: String,
    /// In the user's words.
    #[serde(default)]
    pub note: String,
    /// What its answers are; as the formula says when absent.
    #[serde(default)]
    pub unit: Option<Unit>,
    /// The formula.
    pub formula: String,
}

/// The user's measures by id, and the formulas that were checked with them.
#[derive(Debug, Default)]
pub struct Library {
    measures: BTreeMap<String, OwnMeasure>,
    /// What was typed → what it means: a screen whose bound is dragged asks for the same formulas again and again.
    compiled: Mutex<FxHashMap<String, Arc<Compiled>>>,
}

/// The measures that are being put in place, and how many were put in all.
#[derive(Default)]
pub(super) struct Inside {
    names: Vec<String>,
    in_all: usize,
}

/// The most measures of the user's own within one formula.
const MOST: usize = 1_000;

/// How many checked formulas are kept.
const COMPILED: usize = 500;

/// Why a measure cannot be saved.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum LibraryError {
    /// The id is not one.
    #[error("\"{0}\" cannot be a measure's name: use small letters, digits and _, beginning with a letter, 40 at most.")]
    BadId(String),
    /// The product's own measure, item or function has the id.
    #[error("\"{0}\" is the name of a built-in measure, item or function. Choose another.")]
    Taken(String),
    /// No name for lists.
    #[error("The measure needs a name for lists, 80 letters at most.")]
    NoLabel,
    /// The formula's answers are not of the unit.
    #[error("The formula answers with a {found}, so its unit cannot be {wanted}.")]
    Unit {
        /// What the formula gives.
        found: Unit,
        /// What was asked for.
        wanted: Unit,
    },
    /// A mistake in the formula.
    #[error("{0}")]
    Formula(FormulaError),
    /// Other measures use it.
    #[error("{} {} it, so it cannot be deleted. Change {} first.", .0.join(", "), if .0.len() == 1 { "uses" } else { "use" }, if .0.len() == 1 { "that" } else { "those" })]
    InUse(Vec<String>),
}

impl Library {
    /// From measures as they were kept.
    #[must_use]
    pub fn new(measures: impl IntoIterator<Item = OwnMeasure>) -> Library {
        Library { measures: measures.into_iter().map(|m| (m.id.clone(), m)).collect(), compiled: Mutex::default() }
    }

    /// All, by id.
    pub fn iter(&self) -> impl Iterator<Item = &OwnMeasure> {
        self.measures.values()
    }

    /// The measure with this id.
    #[must_use]
    pub fn get(&self, id: &str) -> Option<&OwnMeasure> {
        self.measures.get(id)
    }

    /// With a measure added or changed, when it and all that use it are sound.
    ///
    /// # Errors
    /// When they are not.
    pub fn with(&self, new: &OwnMeasure) -> Result<Library, LibraryError> {
        check_names(new)?;
        let next = Library::new(self.iter().filter(|m| m.id != new.id).chain([new]).cloned());
        for measure in next.iter().filter(|m| m.id == new.id || uses(m, &new.id)) {
            next.check(measure)?;
        }
        Ok(next)
    }

    /// Without a measure that no other uses.
    ///
    /// # Errors
    /// When others use it.
    pub fn without(&self, id: &str) -> Result<Library, LibraryError> {
        let users: Vec<String> = self.iter().filter(|m| m.id != id && uses(m, id)).map(|m| m.id.clone()).collect();
        if !users.is_empty() {
            return Err(LibraryError::InUse(users));
        }
        Ok(Library::new(self.iter().filter(|m| m.id != id).cloned()))
    }

    /// Checks a formula as its user types it, unless that was done before.
    ///
    /// # Errors
    /// The first mistake, where it is, and what may have been meant.
    pub fn compile(&self, text: &str) -> Result<Arc<Compiled>, FormulaError> {
        let kept = || self.compiled.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(known) = kept().get(text) {
            return Ok(known.clone());
        }
        let made = Arc::new(compile_in(text, self)?);
        let mut kept = kept();
        if kept.len() >= COMPILED {
            kept.clear();
        }
        kept.insert(text.to_owned(), made.clone());
        Ok(made)
    }

    fn check(&self, m: &OwnMeasure) -> Result<(), LibraryError> {
        let bare = OwnMeasure { unit: None, ..m.clone() };
        let alone = Library::new(self.iter().map(|v| if v.id == m.id { bare.clone() } else { v.clone() }));
        let found =
            compile_in(&m.formula, self).and_then(|found| compile_in(&m.id, &alone).map(|_| found)).map_err(LibraryError::Formula)?.unit;
        let typed = |u| matches!(u, Unit::Flag | Unit::Text);
        match m.unit {
            Some(wanted) if wanted != found && (typed(wanted) || typed(found)) => Err(LibraryError::Unit { found, wanted }),
            _ => Ok(()),
        }
    }

    /// The tree with the user's measures put in place of their names.
    pub(super) fn expand(&self, e: Expr, inside: &mut Inside) -> Checked<Expr> {
        let at = e.at;
        let mut one = |x: Expr| self.expand(x, inside);
        let mut boxed = |x: Box<Expr>| one(*x).map(Box::new);
        let node = match e.node {
            Node::Name(name) => match self.get(&name).filter(|_| !is_built_in(&name)) {
                Some(own) => self.expanded(own, e.at, inside)?,
                None => Node::Name(name),
            },
            Node::Call(name, args) => Node::Call(name, args.into_iter().map(one).collect::<Checked<_>>()?),
            Node::Negate(x) => Node::Negate(boxed(x)?),
            Node::Not(x) => Node::Not(boxed(x)?),
            Node::Binary(op, a, b) => Node::Binary(op, boxed(a)?, boxed(b)?),
            Node::Between(x, low, high) => Node::Between(boxed(x)?, boxed(low)?, boxed(high)?),
            Node::In(x, options) => {
                let x = boxed(x)?;
                Node::In(x, options.into_iter().map(|o| self.expand(o, inside)).collect::<Checked<_>>()?)
            }
            leaf => leaf,
        };
        Ok(Expr { node, at })
    }

    fn expanded(&self, own: &OwnMeasure, at: super::Position, inside: &mut Inside) -> Checked<Node> {
        if let Some(first) = inside.names.iter().position(|n| *n == own.id) {
            let circle = inside.names[first..].iter().chain([&own.id]).map(String::as_str).collect::<Vec<_>>().join(" → ");
            return Err(FormulaError::new(at, format!("This measure would be made of itself: {circle}.")));
        }
        inside.names.push(own.id.clone());
        inside.in_all += 1;
        if inside.in_all > MOST {
            return Err(FormulaError::new(at, "Your measures use one another more often than can be computed at once."));
        }
        let said = |e: FormulaError| FormulaError { position: at, message: format!("In your measure {}: {}", own.id, e.message), ..e };
        let body = parse(&own.formula).map_err(said)?;
        let circle = |e: FormulaError| FormulaError { position: at, ..e };
        let body = self.expand(body, inside).map_err(circle)?;
        inside.names.pop();
        Ok(Node::Own { id: own.id.clone(), unit: own.unit, body: Box::new(body) })
    }
}

fn check_names(m: &OwnMeasure) -> Result<(), LibraryError> {
    let plain = |b: u8| b.is_ascii_lowercase() || b.is_ascii_digit() || b == b'_';
    if m.id.is_empty() || m.id.len() > 40 || !m.id.bytes().all(plain) || !m.id.as_bytes()[0].is_ascii_lowercase() {
        return Err(LibraryError::BadId(m.id.clone()));
    }
    if is_built_in(&m.id) || super::check::FUNCTIONS.split_whitespace().chain(super::check::WORDS.split_whitespace()).any(|f| f == m.id) {
        return Err(LibraryError::Taken(m.id.clone()));
    }
    if m.label.trim().is_empty() || m.label.chars().count() > 80 {
        return Err(LibraryError::NoLabel);
    }
    Ok(())
}

fn is_built_in(name: &str) -> bool {
    measures::find(name).is_some() || name.parse::<Item>().is_ok()
}

/// Whether a measure's formula names another.
fn uses(m: &OwnMeasure, id: &str) -> bool {
    fn names(e: &Expr, id: &str) -> bool {
        match &e.node {
            Node::Name(n) => n == id,
            Node::Call(_, args) => args.iter().any(|a| names(a, id)),
            Node::Negate(x) | Node::Not(x) | Node::Own { body: x, .. } => names(x, id),
            Node::Binary(_, a, b) => names(a, id) || names(b, id),
            Node::Between(x, a, b) => names(x, id) || names(a, id) || names(b, id),
            Node::In(x, options) => names(x, id) || options.iter().any(|o| names(o, id)),
            _ => false,
        }
    }
    parse(&m.formula).is_ok_and(|e| names(&e, id))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn own(id: &str, formula: &str) -> OwnMeasure {
        OwnMeasure { id: id.to_owned(), label: id.to_owned(), note: String::new(), unit: None, formula: formula.to_owned() }
    }

    #[test]
    fn measures_are_made_of_one_another_but_not_of_themselves() {
        let library = Library::default().with(&own("cheap", "pe < 12")).unwrap().with(&own("bargain", "cheap and pb < 1")).unwrap();
        assert_eq!(compile_in("bargain", &library).unwrap().text, compile_in("pe < 12 and pb < 1", &library).unwrap().text);
        let circle = library.with(&own("cheap", "not bargain")).unwrap_err();
        assert_eq!(circle.to_string(), "This measure would be made of itself: cheap → bargain → cheap.");
        assert_eq!(library.without("cheap").unwrap_err().to_string(), "bargain uses it, so it cannot be deleted. Change that first.");
        assert!(library.without("bargain").unwrap().without("cheap").is_ok());
    }

    #[test]
    fn what_cannot_be_saved_says_why() {
        let said = |m: OwnMeasure| Library::default().with(&m).unwrap_err().to_string();
        let all = [
            said(own("Pe2", "pe")),
            said(own("pe", "pb")),
            said(own("own_rank", "pb")),
            said(OwnMeasure { label: " ".to_owned(), ..own("mine", "pb") }),
            said(OwnMeasure { unit: Some(Unit::Money), ..own("mine", "pe < 12") }),
            said(own("mine", "pe <")),
            said(own("mine", "revenu")),
        ];
        insta::assert_snapshot!(all.join("\n"));
    }
}
