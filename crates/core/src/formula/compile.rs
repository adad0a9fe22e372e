//! From a text to a checked formula.

use super::{
    ast::Expr,
    catalogue::{Catalogue, Kinds, Unit},
    check::{Checker, scoped},
    depends::Identity,
    error::FormulaError,
    library::{Inside, Library},
    parser::parse,
    plan::Plan,
};
use std::collections::HashSet;

/// A checked formula.
#[derive(Clone, Debug)]
pub struct Compiled {
    /// Canonical text: equal for equal formulas.
    pub text: String,
    /// What its answers are.
    pub unit: Unit,
    /// Doubts that do not prevent an answer.
    pub warnings: Vec<String>,
    /// What its answers are known by.
    pub identity: Identity,
    pub(super) plan: Plan,
    /// Between two filings its answers stay ([`super::plan::Part::is_pure`]).
    pub(super) of_filings: bool,
}

impl Compiled {
    fn new(expr: &Expr, plan: Plan, warnings: Vec<String>) -> Compiled {
        let (unit, part) = (plan.unit(), plan.part());
        Compiled { text: expr.to_string(), unit, warnings, identity: part.identity(), of_filings: part.is_pure(), plan }
    }

    /// How many different things formulas compare with their own history or with peers: each is a table of months or companies.
    pub fn comparisons<'c>(all: impl IntoIterator<Item = &'c Compiled>) -> usize {
        let mut compared = HashSet::new();
        all.into_iter().for_each(|one| one.plan.part().compared(&mut compared));
        compared.len()
    }
}

/// Parses and checks a formula as a user types it, who may have measures of their own.
///
/// # Errors
/// The first mistake, where it is, and what may have been meant.
pub fn compile_in(text: &str, library: &Library) -> Result<Compiled, FormulaError> {
    let expr = library.expand(parse(text)?, &mut Inside::default())?;
    let mut checker = Checker::of_user(library);
    let plan = checker.check(&expr)?;
    Ok(Compiled::new(&expr, plan, checker.warnings))
}

/// Compiles a formula of the product's own, where the catalogue's internal words are allowed.
pub(crate) fn compile_internal(text: &str, catalogue: &Catalogue) -> Result<Compiled, FormulaError> {
    let expr = parse(text)?;
    let mut checker = Checker::of_product(catalogue);
    let plan = scoped(checker.check(&expr)?, Kinds::NONE);
    Ok(Compiled::new(&expr, plan, Vec::new()))
}
