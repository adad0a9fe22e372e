//! The universe at one date with the columns computed over it: kept between runs, so that a moved bound computes nothing.

use super::{cache::Keep, context::Context, key::What};
use crate::{
    domain::Day,
    formula::{Column, Compiled, Depends, Fingerprint, FormulaError},
    panel::{AsOf, CompanyAt, CompanyIndex},
};
use std::{
    any::TypeId,
    fmt::Debug,
    sync::{Arc, OnceLock},
};

/// The universe at one date. Places count its members from 0 in order of symbol.
#[derive(Debug)]
pub struct Section<'a> {
    context: &'a Context,
    /// What was known at the date.
    pub as_of: AsOf<'a>,
    members: Arc<Members>,
    rows: OnceLock<Vec<CompanyAt<'a>>>,
}

/// The positions in the snapshot of those in the universe, in order of symbol.
#[derive(Debug)]
pub(super) struct Members(pub(super) Vec<CompanyIndex>);

impl<'a> Section<'a> {
    /// That of a date.
    #[must_use]
    pub fn new(context: &'a Context, t: Day) -> Section<'a> {
        let (as_of, rows) = (context.as_of(t), OnceLock::new());
        let members = context.kept_or_made(What::Members(t), Depends::NOTHING, || {
            let found = as_of.universe();
            let members = Members(found.iter().map(|c| c.index).collect());
            // They are at hand for whoever asks first.
            rows.set(found).ok();
            members
        });
        Section { context, as_of, members, rows }
    }

    /// The date.
    #[must_use]
    pub const fn t(&self) -> Day {
        self.as_of.t
    }

    /// Whose it is.
    #[must_use]
    pub const fn context(&self) -> &'a Context {
        self.context
    }

    /// The positions of the members in the snapshot.
    #[must_use]
    pub fn members(&self) -> &[CompanyIndex] {
        &self.members.0
    }

    /// The members as of the date.
    pub fn rows(&self) -> &[CompanyAt<'a>] {
        use rayon::prelude::*;
        self.rows.get_or_init(|| self.members.0.par_iter().map(|i| self.as_of.company(*i)).collect())
    }

    /// The place of a company, if it is in the universe.
    #[must_use]
    pub fn place(&self, company: CompanyIndex) -> Option<usize> {
        self.members.0.binary_search(&company).ok()
    }

    /// Something made of the members and of formulas' answers for them: kept under its type, what is told of it, and the
    /// formulas.
    pub(crate) fn derived<T: Keep, E>(
        &self,
        told: &dyn Debug,
        formulas: &[Arc<Compiled>],
        make: impl FnOnce() -> Result<T, E>,
    ) -> Result<Arc<T>, E> {
        self.context.derived(self.t(), told, formulas, make)
    }

    /// Something made of one formula's answers: kept under its type, the formula, and what is told of it.
    pub(crate) fn of_column<T: Keep>(&self, formula: &Compiled, told: Fingerprint, make: impl FnOnce(&Column) -> T) -> Arc<T> {
        let what = What::OfColumn(TypeId::of::<T>(), self.t(), formula.identity, told);
        self.context.kept_or_made(what, formula.identity.depends, || make(&self.column(formula)))
    }

    /// Checks a formula as its user types it.
    ///
    /// # Errors
    /// The first mistake, where it is, and what may have been meant.
    pub fn compile(&self, formula: &str) -> Result<Arc<Compiled>, FormulaError> {
        self.context.compile(formula)
    }

    fn what(&self, formula: &Compiled) -> What {
        What::Column(self.t(), formula.identity)
    }

    fn kept(&self, formula: &Compiled) -> Option<Arc<Column>> {
        self.context.kept(self.what(formula), formula.identity.depends)
    }

    /// Answers those of some formulas that are not kept, together: faster than one after the other.
    pub fn prepare(&self, formulas: &[Arc<Compiled>]) {
        let missing: Vec<&Compiled> = formulas.iter().map(|f| &**f).filter(|f| self.kept(f).is_none()).collect();
        let Some((first, others)) = missing.split_first().filter(|(_, others)| !others.is_empty()) else { return };
        // Whoever asks for the same at the same time waits for the first, and finds the others.
        self.context.kept_or_made(self.what(first), first.identity.depends, || {
            let mut columns = self.context.evaluate_all(&missing, self.rows()).into_iter();
            let own = columns.next().unwrap_or(Column::Number(Vec::new()));
            others.iter().zip(columns).for_each(|(f, column)| self.context.keep(self.what(f), f.identity.depends, Arc::new(column)));
            own
        });
    }

    /// A formula's answers for all members, by place.
    #[must_use]
    pub fn column(&self, formula: &Compiled) -> Arc<Column> {
        let made = || self.context.evaluate(formula, self.rows());
        self.context.kept_or_made(self.what(formula), formula.identity.depends, made)
    }
}

impl Keep for Members {
    fn bytes(&self) -> usize {
        size_of_val(&*self.0)
    }
}

impl Keep for Column {
    fn bytes(&self) -> usize {
        match self {
            Column::Number(all) => size_of_val(&**all),
            Column::Flag(all) => size_of_val(&**all),
            Column::Text(all) => size_of_val(&**all),
        }
    }
}
