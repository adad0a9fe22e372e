//! What formulas need beside the panel: whoever computes with them provides it.

use super::{
    catalogue::Unit,
    compile::Compiled,
    depends::Identity,
    figures::{Judgement, ValueField},
    from_filings::FromFilings,
    history::History,
};
use crate::{
    Num, Why,
    domain::Day,
    panel::{AsOf, CompanyAt, CompanyIndex, FilingState},
};
use std::{fmt::Debug, sync::Arc};

/// The panel at a date, with what formulas need beside it.
#[derive(Clone, Copy, Debug)]
pub struct View<'a> {
    /// What was known.
    pub as_of: AsOf<'a>,
    /// What is assumed, and what was computed before.
    pub host: &'a dyn Host,
}

impl<'a> View<'a> {
    /// The same at another date.
    #[must_use]
    pub fn at(self, t: Day) -> View<'a> {
        View { as_of: self.as_of.at(t), ..self }
    }
}

/// How far back a history goes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Reach {
    /// As far as it was first asked for.
    Asked,
    /// To the first session of all.
    Beginning,
}

/// Histories made together, each with what it is known by.
pub type MadeHistories = Vec<(Identity, Reach, Arc<History>)>;

/// Assumptions, valuations, and what is kept between computations.
pub trait Host: Send + Sync + Debug {
    /// The tax rate where none can be computed.
    fn assumed_tax(&self) -> f64;

    /// The formulas that a valuation starts from: whoever asks for values asks for these too.
    fn value_formulas(&self) -> &'static [Compiled];

    /// The valuations of all companies at a date.
    fn values(&self, as_of: AsOf<'_>) -> Arc<dyn ValueTable>;

    /// A figure of the valuations of some rows.
    fn value_numbers(&self, rows: &dyn Answers<'_>, field: ValueField) -> Vec<Num>;

    /// A word of the valuations of some rows.
    fn value_words(&self, rows: &dyn Answers<'_>, word: Judgement) -> Vec<Result<Arc<str>, Why>>;

    /// What one company's value was made of: names, units and figures.
    fn value_parts(&self, as_of: AsOf<'_>, company: CompanyIndex) -> Vec<(&'static str, Unit, Num)>;

    /// A history that is kept.
    fn history(&self, of: &Identity, reach: Reach) -> Option<Arc<History>>;

    /// A history made for an earlier month, and up to which day it is still right.
    fn history_before(&self, of: &Identity, reach: Reach) -> Option<(Arc<History>, Day)>;

    /// The first of some histories, made together with the others and kept unless somebody else makes it at this moment.
    fn history_or_make(&self, of: &Identity, reach: Reach, make: &mut dyn FnMut() -> MadeHistories) -> Arc<History>;

    /// Figures that follow from filings alone, as kept.
    fn filed(&self, set: &'static FromFilings, state: FilingState) -> Option<Arc<[Num]>>;

    /// Keeps such figures.
    fn keep_filed(&self, set: &'static FromFilings, state: FilingState, figures: Arc<[Num]>);

    /// Called now and then during long computations; does not return when nobody waits for the answer any more.
    fn go_on(&self);
}

/// Some rows that answer formulas of the product's own.
pub trait Answers<'a> {
    /// The rows.
    fn rows(&self) -> &[CompanyAt<'a>];
    /// The answers of a number formula; amounts in the reporting currency.
    fn reporting_numbers(&self, formula: &Compiled) -> Vec<Num>;
    /// The answers of a number formula.
    fn numbers(&self, formula: &Compiled) -> Vec<Num>;
    /// The answers of a condition.
    fn flags(&self, formula: &Compiled) -> Vec<Result<bool, Why>>;
}

/// The valuations of all companies at one date.
pub trait ValueTable: Send + Sync + Debug {
    /// A figure.
    fn number(&self, row: &CompanyAt<'_>, field: ValueField) -> Num;
    /// A word.
    fn word(&self, row: &CompanyAt<'_>, word: Judgement) -> Result<Arc<str>, Why>;
}
