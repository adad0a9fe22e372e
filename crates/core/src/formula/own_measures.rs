//! Which measures of the user's own may be kept: each sound, none made of itself, none deleted that others use.

use super::{
    ast::{Expr, Node},
    catalogue::Unit,
    compile::compile_in,
    error::FormulaError,
    functions::{FUNCTIONS, WORDS},
    library::{Library, OwnMeasure},
    parser::parse,
};

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
    /// With a measure added or changed, when it and all that use it are sound.
    ///
    /// # Errors
    /// When they are not.
    pub fn with(&self, new: &OwnMeasure) -> Result<Library, LibraryError> {
        self.check_names(new)?;
        let next = Library::new(self.catalogue(), self.iter().filter(|m| m.id != new.id).chain([new]).cloned());
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
        Ok(Library::new(self.catalogue(), self.iter().filter(|m| m.id != id).cloned()))
    }

    fn check_names(&self, m: &OwnMeasure) -> Result<(), LibraryError> {
        let plain = |b: u8| b.is_ascii_lowercase() || b.is_ascii_digit() || b == b'_';
        if m.id.is_empty() || m.id.len() > 40 || !m.id.bytes().all(plain) || !m.id.as_bytes()[0].is_ascii_lowercase() {
            return Err(LibraryError::BadId(m.id.clone()));
        }
        if self.is_built_in(&m.id) || FUNCTIONS.iter().map(|f| f.name).chain(WORDS.iter().copied()).any(|word| word == m.id) {
            return Err(LibraryError::Taken(m.id.clone()));
        }
        if m.label.trim().is_empty() || m.label.chars().count() > 80 {
            return Err(LibraryError::NoLabel);
        }
        Ok(())
    }

    fn check(&self, m: &OwnMeasure) -> Result<(), LibraryError> {
        let bare = OwnMeasure { unit: None, ..m.clone() };
        let alone = Library::new(self.catalogue(), self.iter().map(|v| if v.id == m.id { bare.clone() } else { v.clone() }));
        let found =
            compile_in(&m.formula, self).and_then(|found| compile_in(&m.id, &alone).map(|_| found)).map_err(LibraryError::Formula)?.unit;
        let typed = |u| matches!(u, Unit::Flag | Unit::Text);
        match m.unit {
            Some(wanted) if wanted != found && (typed(wanted) || typed(found)) => Err(LibraryError::Unit { found, wanted }),
            _ => Ok(()),
        }
    }
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
    use crate::measures;

    fn own(id: &str, formula: &str) -> OwnMeasure {
        OwnMeasure { id: id.to_owned(), label: id.to_owned(), note: String::new(), unit: None, formula: formula.to_owned() }
    }

    #[test]
    fn measures_are_made_of_one_another_but_not_of_themselves() {
        let library = measures::library([]).with(&own("cheap", "pe < 12")).unwrap().with(&own("bargain", "cheap and pb < 1")).unwrap();
        assert_eq!(compile_in("bargain", &library).unwrap().text, compile_in("pe < 12 and pb < 1", &library).unwrap().text);
        let circle = library.with(&own("cheap", "not bargain")).unwrap_err();
        assert_eq!(circle.to_string(), "This measure would be made of itself: cheap → bargain → cheap.");
        assert_eq!(library.without("cheap").unwrap_err().to_string(), "bargain uses it, so it cannot be deleted. Change that first.");
        assert!(library.without("bargain").unwrap().without("cheap").is_ok());
    }

    #[test]
    fn names_have_their_limits() {
        let fits = |m: OwnMeasure| measures::library([]).with(&m).is_ok();
        let named = |id: &str| fits(own(id, "pe"));
        assert!(named(&"a".repeat(40)) && !named(&"a".repeat(41)));
        assert!(named("m2_x") && !named("") && !named("2m") && !named("_m") && !named("m-x") && !named("mX"));
        let labelled = |label: String| fits(OwnMeasure { label, ..own("mine", "pe") });
        assert!(labelled("é".repeat(80)) && !labelled("é".repeat(81)) && !labelled(String::new()));
    }

    #[test]
    fn what_cannot_be_saved_says_why() {
        let said = |m: OwnMeasure| measures::library([]).with(&m).unwrap_err().to_string();
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
