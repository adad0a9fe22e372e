//! Measures that the user wrote: each a name for a formula, put in place of that name before the check.

use super::{
    ast::{Expr, Node},
    catalogue::{Catalogue, Unit},
    depends::Fingerprint,
    error::{Checked, FormulaError},
    parser::parse,
};
use crate::domain::Item;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

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

/// The user's measures by id, beside those that ship.
#[derive(Clone, Debug)]
pub struct Library {
    catalogue: &'static Catalogue,
    measures: BTreeMap<String, OwnMeasure>,
    fingerprint: Fingerprint,
}

/// The measures that are being put in place, and how many were put in all.
#[derive(Default)]
pub(super) struct Inside {
    names: Vec<String>,
    in_all: usize,
}

/// The most measures of the user's own within one formula.
const MOST: usize = 1_000;

impl Library {
    /// The user's measures beside the catalogue.
    #[must_use]
    pub fn new(catalogue: &'static Catalogue, measures: impl IntoIterator<Item = OwnMeasure>) -> Library {
        let measures: BTreeMap<String, OwnMeasure> = measures.into_iter().map(|m| (m.id.clone(), m)).collect();
        Library { catalogue, fingerprint: Fingerprint::of(&measures), measures }
    }

    /// The measures that ship.
    #[must_use]
    pub const fn catalogue(&self) -> &'static Catalogue {
        self.catalogue
    }

    /// Equal for equal measures of the user's own.
    #[must_use]
    pub const fn fingerprint(&self) -> Fingerprint {
        self.fingerprint
    }

    /// Whether a name is that of a measure or item that ships.
    pub(super) fn is_built_in(&self, name: &str) -> bool {
        self.catalogue.find(name).is_some() || name.parse::<Item>().is_ok()
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

    /// The tree with the user's measures put in place of their names.
    pub(super) fn expand(&self, e: Expr, inside: &mut Inside) -> Checked<Expr> {
        let at = e.at;
        let mut one = |x: Expr| self.expand(x, inside);
        let mut boxed = |x: Box<Expr>| one(*x).map(Box::new);
        let node = match e.node {
            Node::Name(name) => match self.get(&name).filter(|_| !self.is_built_in(&name)) {
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
