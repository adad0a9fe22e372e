//! When a price reached its value, asked for as an account goes along.

use super::calendar::Calendar;
use crate::{
    engine::Context,
    formula::{Column, Compiled},
    panel::CompanyIndex,
};
use fixedbitset::FixedBitSet;
use std::{collections::HashMap, sync::Arc};

/// Sessions of a company that are answered together.
const TOGETHER: usize = 64;

/// The answers, each from what was known at its session.
pub(super) struct Exits<'r> {
    context: &'r Context,
    calendar: &'r Calendar,
    formula: Option<Arc<Compiled>>,
    known: HashMap<(CompanyIndex, usize), FixedBitSet>,
}

impl<'r> Exits<'r> {
    pub(super) fn new(context: &'r Context, calendar: &'r Calendar) -> Exits<'r> {
        let formula = context.compile("price >= intrinsic_value").ok();
        Exits { context, calendar, formula, known: HashMap::new() }
    }

    /// Whether the price is at its value or above it; what is undefined is not.
    pub(super) fn at_value(&mut self, company: CompanyIndex, session: usize) -> bool {
        let batch = session / TOGETHER;
        let answers = self
            .known
            .entry((company, batch))
            .or_insert_with(|| answers(self.context, self.calendar, self.formula.as_deref(), company, batch));
        answers.contains(session % TOGETHER)
    }
}

fn answers(context: &Context, calendar: &Calendar, formula: Option<&Compiled>, company: CompanyIndex, batch: usize) -> FixedBitSet {
    let first = batch * TOGETHER;
    let days = &calendar.sessions[first..calendar.sessions.len().min(first + TOGETHER)];
    let rows: Vec<_> = days.iter().map(|day| context.as_of(*day).company(company)).collect();
    let mut out = FixedBitSet::with_capacity(TOGETHER);
    if let Some(Column::Flag(all)) = formula.map(|f| context.evaluate(f, &rows)) {
        all.iter().enumerate().filter(|(_, reached)| **reached == Ok(true)).for_each(|(i, _)| out.insert(i));
    }
    out
}
