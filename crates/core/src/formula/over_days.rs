//! Formulas answered for everybody at many days, one company after the other: what is read of a company stays at hand from one day to
//! the next, which is several times as fast as one day after the other.

use super::{
    column::Column,
    compile::Compiled,
    env::Env,
    eval::Evaluator,
    host::View,
    memo::Memo,
    plan::{NumPlan, Part, TextPlan},
};
use crate::{
    domain::Day,
    panel::{CompanyAt, CompanyIndex},
};
use rayon::prelude::*;

/// The universe of a day with formulas' answers, in order of symbol.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct OfDay {
    pub members: Vec<CompanyIndex>,
    /// By formula.
    pub columns: Vec<Column>,
}

impl Compiled {
    /// Whether an answer asks for nothing of other companies of its day, whom it would have to wait for.
    #[must_use]
    pub fn is_of_one_company(&self) -> bool {
        alone(self.plan.part())
    }
}

impl Compiled {
    /// Whether an answer asks what companies are worth.
    #[must_use]
    pub(crate) fn asks_values(&self) -> bool {
        valued(self.plan.part())
    }
}

fn alone(part: Part<'_>) -> bool {
    let asks_others = is_valued(part) || matches!(part, Part::Number(NumPlan::Peers { .. }));
    !asks_others && part.parts().into_iter().all(alone)
}

fn valued(part: Part<'_>) -> bool {
    is_valued(part) || part.parts().into_iter().any(valued)
}

fn is_valued(part: Part<'_>) -> bool {
    match part {
        Part::Text(TextPlan::Judgement(_)) => true,
        Part::Number(NumPlan::Value(field)) => !field.is_range(),
        _ => false,
    }
}

/// Answers formulas, each of one company alone, for the universes of some days, which come in order.
#[must_use]
pub fn evaluate_days<'a>(view: View<'a>, formulas: &[&Compiled], days: &[Day]) -> Vec<OfDay> {
    let Some((first, last)) = days.first().zip(days.last()) else { return Vec::new() };
    let view = view.at(*last);
    let evaluator = Evaluator::for_any_day(view, formulas.iter().map(|f| &f.plan), *first);
    let answered = |c: CompanyAt<'a>| {
        view.host.go_on();
        let rows: Vec<CompanyAt<'a>> = c.rows_on(days).into_iter().filter(CompanyAt::in_universe).collect();
        let memo = Memo::of_one_company(&rows);
        let env = Env { memo: Some(&memo), ..Env::default() };
        let columns: Vec<Column> = formulas.iter().map(|f| evaluator.column(&f.plan, &rows, env)).collect();
        (c.index, rows.iter().map(CompanyAt::t).collect::<Vec<Day>>(), columns)
    };
    let companies: Vec<CompanyAt<'a>> = view.as_of.companies().collect();
    let all: Vec<(CompanyIndex, Vec<Day>, Vec<Column>)> = companies.into_par_iter().map(answered).collect();
    let members = |day: &Day| all.iter().filter(|(_, of, _)| of.binary_search(day).is_ok()).map(|(index, ..)| *index).collect();
    let column = |f: usize, day: &Day| {
        let mut out = formulas[f].plan.no_rows();
        for (_, of, columns) in &all {
            if let Ok(row) = of.binary_search(day) {
                out.push_of(&columns[f], row);
            }
        }
        out
    };
    let of_day = |day: &Day| OfDay { members: members(day), columns: (0..formulas.len()).map(|f| column(f, day)).collect() };
    days.par_iter().map(of_day).collect()
}
