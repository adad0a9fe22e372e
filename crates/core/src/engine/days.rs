//! Columns of many days made together.

use super::{
    context::{Context, Values},
    key::What,
    section::Members,
};
use crate::{
    domain::Day,
    formula::{Compiled, Depends, evaluate_days},
    valuation::valuations_on,
};
use std::sync::Arc;

/// Days of which columns are made together: few enough to be kept until they are used; of valuations, which are large, fewer.
const DAYS: usize = 24;
const VALUED_DAYS: usize = 4;

impl Context {
    /// How many days are best made ready together for some formulas.
    pub(crate) fn days_together(formulas: &[Arc<Compiled>]) -> usize {
        if formulas.iter().any(|f| f.asks_values()) { VALUED_DAYS } else { DAYS }
    }

    /// Makes ready the universes of some days, which come in order, with those of some formulas' answers that ask for one company alone:
    /// much faster than day after day. The others are answered when they are asked for.
    pub(crate) fn prepare_days(&self, days: &[Day], formulas: &[Arc<Compiled>]) {
        let mut together: Vec<&Compiled> = formulas.iter().map(|f| &**f).filter(|f| f.is_of_one_company()).collect();
        together.sort_by(|a, b| a.text.cmp(&b.text));
        together.dedup_by(|a, b| a.identity == b.identity);
        let Some(last) = days.last() else { return };
        if formulas.iter().any(|f| f.asks_values()) {
            self.prepare_values(days, *last);
        }
        for (day, of) in days.iter().zip(evaluate_days(self.view(*last), &together, days)) {
            self.keep(What::Members(*day), Depends::NOTHING, Arc::new(Members(of.members)));
            for (formula, column) in together.iter().zip(of.columns) {
                self.keep(What::Column(*day, formula.identity), formula.identity.depends, Arc::new(column));
            }
        }
    }

    /// Makes ready the valuations of all companies on some days.
    fn prepare_values(&self, days: &[Day], last: Day) {
        let depends = Depends::VALUATION.and(Depends::QUALITY).and(Depends::SCALE);
        let missing: Vec<Day> = days.iter().copied().filter(|day| self.kept::<Values>(What::Values(*day), depends).is_none()).collect();
        for (day, valuations) in missing.iter().zip(valuations_on(self.view(last), &missing, self.settings().premises())) {
            self.keep(What::Values(*day), depends, Arc::new(Values { valuations: Arc::new(valuations) }));
        }
    }
}
