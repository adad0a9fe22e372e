//! A world of one seed, with what is asked of it.

use artemon_core::{
    domain::{Day, Kind, Record},
    engine::{Context, Engine, Settings},
    formula::{Column, Value},
    measures::compile,
    panel::{CompanyAt, PanelBuilder},
};
use artemon_demo::World;

pub(crate) struct Made {
    pub(crate) context: Context,
}

impl Made {
    pub(crate) fn of(seed: u64) -> Made {
        let mut builder = PanelBuilder::default();
        let take = |r: Record| {
            builder.push(r);
            Ok::<(), ()>(())
        };
        World { seed, ..World::default() }.make(take).unwrap();
        Made { context: Engine::new(builder.build()).context(Settings::standard(World::base_currency()).into()) }
    }

    /// The operating companies of a day.
    pub(crate) fn operating(&self, t: Day) -> Vec<CompanyAt<'_>> {
        let mut rows = self.context.as_of(t).universe();
        rows.retain(|c| c.kind() == Kind::Operating);
        rows
    }

    pub(crate) fn column(&self, formula: &str, rows: &[CompanyAt<'_>]) -> Column {
        self.context.evaluate(&compile(formula).unwrap(), rows)
    }

    /// The defined values of a formula in order of size, each with its row.
    pub(crate) fn known(&self, formula: &str, rows: &[CompanyAt<'_>]) -> Vec<(f64, usize)> {
        let all = self.column(formula, rows);
        let mut known: Vec<(f64, usize)> = (0..rows.len()).filter_map(|i| Some((all.value(i).number().ok()?, i))).collect();
        known.sort_by(|a, b| a.0.total_cmp(&b.0));
        known
    }

    /// The defined values of a formula, in order of size.
    pub(crate) fn sorted(&self, formula: &str, rows: &[CompanyAt<'_>]) -> Vec<f64> {
        self.known(formula, rows).into_iter().map(|k| k.0).collect()
    }

    /// The share of those for which it is known that meet a condition.
    pub(crate) fn share(&self, condition: &str, rows: &[CompanyAt<'_>]) -> f64 {
        let all = self.column(condition, rows);
        let known = (0..rows.len()).filter(|i| all.value(*i).why().is_none()).count();
        self.count(condition, rows) as f64 / known.max(1) as f64
    }

    pub(crate) fn count(&self, condition: &str, rows: &[CompanyAt<'_>]) -> usize {
        let all = self.column(condition, rows);
        (0..rows.len()).filter(|i| all.value(*i) == Value::Flag(true)).count()
    }
}
