//! Columns of many days made together.

use super::{context::Context, key::What, section::Members};
use crate::{
    domain::Day,
    formula::{Compiled, Depends, evaluate_days},
};
use std::sync::Arc;

impl Context {
    /// Makes ready the universes of some days, which come in order, with those of some formulas' answers that ask for one company alone:
    /// much faster than day after day. The others are answered when they are asked for.
    pub(crate) fn prepare_days(&self, days: &[Day], formulas: &[Arc<Compiled>]) {
        let mut together: Vec<&Compiled> = formulas.iter().map(|f| &**f).filter(|f| f.is_of_one_company()).collect();
        together.sort_by(|a, b| a.text.cmp(&b.text));
        together.dedup_by(|a, b| a.identity == b.identity);
        let Some(last) = days.last() else { return };
        for (day, of) in days.iter().zip(evaluate_days(self.view(*last), &together, days)) {
            self.keep(What::Members(*day), Depends::NOTHING, Arc::new(Members(of.members)));
            for (formula, column) in together.iter().zip(of.columns) {
                self.keep(What::Column(*day, formula.identity), formula.identity.depends, Arc::new(column));
            }
        }
    }
}
