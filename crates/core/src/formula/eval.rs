//! Runs a plan over many rows of (company, date), node by node, in chunks on all cores.

use super::{
    ast::Operator,
    column::Column,
    compile::Compiled,
    depends::Identity,
    env::{Env, Rows, in_interim, in_span, items, year_dividends, zip},
    figures::{Judgement, ValueField},
    history::History,
    host::{ValueTable, View},
    memo::Memo,
    peers::PeerTable,
    plan::{FiscalStat, FlagPlan, Group, InterimStat, NumPlan, OwnStat, Plan, TextPlan},
    scalar, series,
    spans::{Taken, Within, pinned, year_before},
};
use crate::{
    Num, Why,
    domain::{Day, Span},
    panel::{CompanyAt, CompanyIndex},
};
use rayon::prelude::*;
use std::{collections::HashMap, sync::Arc};

/// Rows that one task works on: few enough that what is read of their filings stays in the processor's cache.
pub(crate) const CHUNK: usize = 32;

/// The most quarters in a row that an acceleration counts.
const QUARTERS_IN_A_ROW: u32 = 24;

pub(super) type Flag = Result<bool, Why>;
/// Answers a formula for every row.
#[must_use]
pub fn evaluate<'a>(view: View<'a>, formula: &Compiled, rows: &[CompanyAt<'a>]) -> Column {
    if rows.is_empty() {
        return formula.plan.no_rows();
    }
    let dates = rows.iter().map(CompanyAt::t).collect();
    Evaluator::for_rows(view, [&formula.plan], &dates, rows).run(&formula.plan, rows)
}

/// Answers several formulas for every row, some companies at a time: what is read of their filings is read once for all.
#[must_use]
pub fn evaluate_all<'a>(view: View<'a>, formulas: &[&Compiled], rows: &[CompanyAt<'a>]) -> Vec<Column> {
    if rows.is_empty() {
        return formulas.iter().map(|f| f.plan.no_rows()).collect();
    }
    let dates = rows.iter().map(CompanyAt::t).collect();
    let evaluator = Evaluator::for_formulas(view, formulas.iter().copied(), &dates, rows);
    let answered = |chunk: &[CompanyAt<'a>]| -> Vec<Column> {
        view.host.go_on();
        let memo = Memo::of_many_companies(chunk.len());
        let env = Env { memo: Some(&memo), ..Env::default() };
        formulas.iter().map(|f| evaluator.column(&f.plan, chunk, env)).collect()
    };
    let chunks: Vec<Vec<Column>> = rows.par_chunks(CHUNK).map(answered).collect();
    let mut columns: Vec<Vec<Column>> = formulas.iter().map(|_| Vec::with_capacity(chunks.len())).collect();
    for chunk in chunks {
        columns.iter_mut().zip(chunk).for_each(|(all, one)| all.push(one));
    }
    columns.into_iter().map(Column::concat).collect()
}

/// What formulas need beside their rows, made ready before the rows are run in parallel.
#[derive(Debug)]
pub struct Evaluator<'a> {
    pub(super) view: View<'a>,
    pub(super) histories: HashMap<Identity, Arc<History>>,
    pub(super) peers: HashMap<(Identity, Group, Day), Arc<PeerTable>>,
    /// The valuations of all companies, where all rows are of one day.
    pub(super) values: Option<(Day, Arc<dyn ValueTable>)>,
    /// The few companies for which histories are made when none are kept; all when empty.
    pub(super) only: Vec<CompanyIndex>,
}

impl<'a> Evaluator<'a> {
    pub(super) fn run(&self, plan: &Plan, rows: Rows<'_, 'a>) -> Column {
        let answered = |chunk: &[CompanyAt<'a>]| {
            self.view.host.go_on();
            self.column(plan, chunk, Env::default())
        };
        Column::concat(rows.par_chunks(CHUNK).map(answered).collect())
    }

    pub(super) fn column(&self, plan: &Plan, rows: Rows<'_, 'a>, env: Env<'_>) -> Column {
        match plan {
            Plan::Number(p, _) => Column::Number(self.num(p, rows, env)),
            Plan::Flag(p) => Column::Flag(self.flag(p, rows, env)),
            Plan::Text(p) => Column::Text(self.text(p, rows)),
        }
    }

    pub(super) fn num(&self, plan: &NumPlan, rows: Rows<'_, 'a>, env: Env<'_>) -> Vec<Num> {
        match plan {
            NumPlan::Constant(v) => vec![Ok(*v); rows.len()],
            NumPlan::AssumedTax => vec![Ok(self.view.host.assumed_tax()); rows.len()],
            NumPlan::Item(item) => items(*item, rows, env),
            NumPlan::YearDividend => year_dividends(rows, env),
            NumPlan::Scope { flows, reporting, body } => in_span(rows, env, flows, *reporting, |env| self.num(body, rows, env)),
            NumPlan::Named(name, body) => env.column(&name.formula, rows.len(), || self.num(body, rows, env)),
            NumPlan::Guard(kinds, body) => {
                let values = self.num(body, rows, env);
                zip(rows, values, |r, v| if kinds.has(r.kind()) { Err(Why::NotMeaningful) } else { v })
            }
            NumPlan::Kernel(kernel, args) => rows.iter().map(|r| kernel(r, args)).collect(),
            NumPlan::Value(field) => self.value_numbers(rows, *field),
            NumPlan::Negate(x) => self.num(x, rows, env).into_iter().map(|v| Ok(-scalar::finite(v)?)).collect(),
            NumPlan::Binary(op, a, b) => self.pairs(a, b, rows, env, |x, y| scalar::arithmetic(*op, x, y)),
            NumPlan::If(c, a, b) => self.either(c, rows, env, |rows, env| self.num(a, rows, env), |rows, env| self.num(b, rows, env)),
            NumPlan::Else(a, b) => {
                let first = self.num(a, rows, env);
                instead(first, |v| v.is_err(), rows, env, |rows, env| self.num(b, rows, env))
            }
            NumPlan::Extreme { highest, of } => {
                let columns: Vec<_> = of.iter().map(|p| self.num(p, rows, env)).collect();
                (0..rows.len()).map(|i| scalar::extreme(*highest, columns.iter().map(|c| c[i]))).collect()
            }
            NumPlan::Math(function, x) => self.num(x, rows, env).into_iter().map(|v| scalar::math(*function, v)).collect(),
            NumPlan::Round(x, digits) => self.num(x, rows, env).into_iter().map(|v| scalar::round(v, *digits)).collect(),
            NumPlan::MeanBalance { capital, body } => self.mean_balance(*capital, body, rows, env),
            NumPlan::AShare(x, shares) => self.a_share(x, shares, rows, env),
            NumPlan::Fiscal { stat, n, reporting, body } => {
                let env = Env { reporting: env.reporting || *reporting, ..env };
                self.fiscal(*stat, *n, body, rows, env)
            }
            NumPlan::FiscalCount { n, body } => self.fiscal_count(*n, body, rows, env),
            NumPlan::Interim { stat, n, reporting, body } => {
                let env = Env { reporting: env.reporting || *reporting, ..env };
                self.interim(*stat, *n, body, rows, env)
            }
            NumPlan::QuarterCount { n, body } => {
                let columns: Vec<_> =
                    (0..*n).map(|k| in_interim(Within::Quarter(k), rows, env, |env| self.flag(body, rows, env))).collect();
                counted(&columns, rows.len())
            }
            NumPlan::Own { stat, window, of, body } => {
                let today = self.num(body, rows, env.own_time());
                let history = &self.histories[of];
                if *stat == OwnStat::Median {
                    let middle = |r: &CompanyAt<'a>| history.middle(r.index, r.t().minus(*window), r.t());
                    return zip(rows, today, |r, v| series::own_median(&middle(r), v, window.in_months()));
                }
                let mut months = Vec::new();
                let one = |(r, v): (&CompanyAt<'a>, Num)| {
                    months.clear();
                    history.window_into(&mut months, r.index, r.t().minus(*window), r.t());
                    series::own(*stat, &mut months, v, window.in_months())
                };
                rows.iter().zip(today).map(one).collect()
            }
            NumPlan::Peers { rank, group, of, body } => {
                let values = if *rank { self.num(body, rows, env.own_time()) } else { vec![Err(Why::FewPeers); rows.len()] };
                let table = |r: &CompanyAt<'a>| &self.peers[&(*of, *group, r.t())];
                zip(rows, values, |r, v| if *rank { table(r).rank(*group, r, v) } else { table(r).median(*group, r) })
            }
            NumPlan::Ago { span, change, body } => self.ago(*span, *change, body, rows, env),
        }
    }

    fn pairs(&self, a: &NumPlan, b: &NumPlan, rows: Rows<'_, 'a>, env: Env<'_>, rule: impl Fn(Num, Num) -> Num) -> Vec<Num> {
        let (a, b) = (self.num(a, rows, env), self.num(b, rows, env));
        a.into_iter().zip(b).map(|(x, y)| rule(x, y)).collect()
    }

    /// One of two answers by a condition, each computed only for the rows that ask for it.
    fn either<T: Clone>(
        &self,
        condition: &FlagPlan,
        rows: Rows<'_, 'a>,
        env: Env<'_>,
        yes: impl FnOnce(Rows<'_, 'a>, Env<'_>) -> Vec<Result<T, Why>>,
        no: impl FnOnce(Rows<'_, 'a>, Env<'_>) -> Vec<Result<T, Why>>,
    ) -> Vec<Result<T, Why>> {
        let asked = self.flag(condition, rows, env);
        let blank: Vec<Result<T, Why>> = asked.iter().map(|a| Err(a.err().unwrap_or(Why::NoAnswer))).collect();
        let mut at = asked.iter();
        let with_yes = instead(blank, |_| at.next() == Some(&Ok(true)), rows, env, yes);
        let mut at = asked.iter();
        instead(with_yes, |_| at.next() == Some(&Ok(false)), rows, env, no)
    }

    pub(super) fn flag(&self, plan: &FlagPlan, rows: Rows<'_, 'a>, env: Env<'_>) -> Vec<Flag> {
        match plan {
            FlagPlan::Constant(b) => vec![Ok(*b); rows.len()],
            FlagPlan::Scope { flows, reporting, body } => in_span(rows, env, flows, *reporting, |env| self.flag(body, rows, env)),
            FlagPlan::Named(_, body) => self.flag(body, rows, env),
            FlagPlan::Guard(kinds, body) => {
                let values = self.flag(body, rows, env);
                zip(rows, values, |r, v| if kinds.has(r.kind()) { Err(Why::NotMeaningful) } else { v })
            }
            FlagPlan::Kernel(kernel, args) => rows.iter().map(|r| kernel(r, args)).collect(),
            FlagPlan::Compare(op, a, b) => {
                let (a, b) = (self.num(a, rows, env), self.num(b, rows, env));
                a.into_iter().zip(b).map(|(x, y)| scalar::compare(*op, x, y)).collect()
            }
            FlagPlan::TextEqual { equal, left, right } => {
                let (a, b) = (self.text(left, rows), self.text(right, rows));
                a.into_iter().zip(b).map(|(x, y)| Ok((x? == y?) == *equal)).collect()
            }
            FlagPlan::Not(x) => self.flag(x, rows, env).into_iter().map(|v| v.map(|b| !b)).collect(),
            FlagPlan::Logic { and, left, right } => {
                let (a, b) = (self.flag(left, rows, env), self.flag(right, rows, env));
                let rule = if *and { scalar::and } else { scalar::or };
                a.into_iter().zip(b).map(|(x, y)| rule(x, y)).collect()
            }
            FlagPlan::OneOf(x, options) => {
                let x = self.num(x, rows, env);
                let options: Vec<_> = options.iter().map(|o| self.num(o, rows, env)).collect();
                (0..rows.len()).map(|i| scalar::one_of(&x[i], options.iter().map(|o| o[i]))).collect()
            }
            FlagPlan::TextOneOf(x, options) => {
                let x = self.text(x, rows);
                let options: Vec<_> = options.iter().map(|o| self.text(o, rows)).collect();
                (0..rows.len()).map(|i| scalar::one_of(&x[i], options.iter().map(|o| o[i].clone()))).collect()
            }
            FlagPlan::If(c, a, b) => self.either(c, rows, env, |rows, env| self.flag(a, rows, env), |rows, env| self.flag(b, rows, env)),
            FlagPlan::Else(a, b) => {
                let first = self.flag(a, rows, env);
                instead(first, |v| v.is_err(), rows, env, |rows, env| self.flag(b, rows, env))
            }
            FlagPlan::Defined(x) => match &**x {
                Plan::Number(p, _) => self.num(p, rows, env).into_iter().map(|v| Ok(v.is_ok())).collect(),
                Plan::Flag(p) => self.flag(p, rows, env).into_iter().map(|v| Ok(v.is_ok())).collect(),
                Plan::Text(p) => self.text(p, rows).into_iter().map(|v| Ok(v.is_ok())).collect(),
            },
            FlagPlan::Ago { span, body } => {
                let then: Vec<_> = rows.iter().map(|r| r.at(r.t().minus(*span))).collect();
                self.flag(body, &then, Env::default())
            }
        }
    }

    pub(super) fn text(&self, plan: &TextPlan, rows: Rows<'_, 'a>) -> Vec<Result<Arc<str>, Why>> {
        match plan {
            TextPlan::Constant(t) => vec![Ok(t.clone()); rows.len()],
            TextPlan::Kernel(kernel, args) => rows.iter().map(|r| kernel(r, args)).collect(),
            TextPlan::Judgement(word) => self.value_words(rows, *word),
        }
    }

    /// The valuations of the day, where all rows are of it.
    fn values_of(&self, rows: Rows<'_, 'a>) -> Option<&dyn ValueTable> {
        let (day, table) = self.values.as_ref()?;
        rows.iter().all(|r| r.t() == *day).then_some(&**table)
    }

    fn value_numbers(&self, rows: Rows<'_, 'a>, field: ValueField) -> Vec<Num> {
        match self.values_of(rows).filter(|_| !field.is_range()) {
            Some(table) => rows.iter().map(|r| table.number(r, field)).collect(),
            None => self.view.host.value_numbers(&self.sheet(rows), field),
        }
    }

    fn value_words(&self, rows: Rows<'_, 'a>, word: Judgement) -> Vec<Result<Arc<str>, Why>> {
        match self.values_of(rows) {
            Some(table) => rows.iter().map(|r| table.word(r, word)).collect(),
            None => self.view.host.value_words(&self.sheet(rows), word),
        }
    }

    /// Mean of closing and opening balance of the span; closing alone where there is no opening.
    fn mean_balance(&self, capital: bool, body: &NumPlan, rows: Rows<'_, 'a>, env: Env<'_>) -> Vec<Num> {
        let Some(spans) = env.spans else { return vec![Err(Why::NoAnswer); rows.len()] };
        let closing = env.by_state(rows.len(), |i| spans[i].and_then(|taken| pinned(taken.end)));
        let opening = env.by_state(rows.len(), |i| spans[i].and_then(|taken| pinned(year_before(&rows[i], taken.end))));
        let at = |spans: &[Result<Taken, Why>]| self.num(body, rows, Env { spans: Some(spans), within: Within::Elsewhere, ..env });
        let positive = |v: f64| if capital && v <= 0.0 { Err(Why::NotPositive) } else { Ok(v) };
        let mean = |(close, open): (Num, Num)| match (close, open) {
            (Ok(c), Ok(o)) => Ok(f64::midpoint(positive(c)?, positive(o)?)),
            (c, _) => positive(c?),
        };
        at(&closing).into_iter().zip(at(&opening)).map(mean).collect()
    }

    /// An amount a traded unit in the listing's currency: amount × shares per unit ÷ ordinary shares.
    fn a_share(&self, x: &NumPlan, shares: &NumPlan, rows: Rows<'_, 'a>, env: Env<'_>) -> Vec<Num> {
        let amounts = self.num(x, rows, Env { reporting: true, ..env });
        let shares = self.num(shares, rows, env);
        let one = |r: &CompanyAt<'a>, (amount, shares): (Num, Num)| {
            let each = scalar::arithmetic(Operator::DivideByPositive, amount, shares)? * r.shares_per_unit();
            if env.reporting { Ok(each) } else { Ok(each * r.reporting_to_listing()?) }
        };
        zip(rows, amounts.into_iter().zip(shares).collect(), one)
    }

    fn fiscal(&self, stat: FiscalStat, n: u32, body: &NumPlan, rows: Rows<'_, 'a>, env: Env<'_>) -> Vec<Num> {
        use FiscalStat::{At, Growth, Rises, Slope, Steadiness, Trend, TrendFit};
        let years: Vec<u32> = match stat {
            At => vec![n],
            Growth => vec![0, n],
            Rises | Slope | Trend | TrendFit | Steadiness => (0..=n).collect(),
            _ => (0..n).collect(),
        };
        let columns: Vec<_> = years.iter().map(|k| self.in_year(*k, rows, env, |env| self.num(body, rows, env))).collect();
        let one = |i: usize| {
            let values: Vec<f64> = columns.iter().map(|c| c[i]).collect::<Result<_, _>>()?;
            match stat {
                Growth => growth(values[0], values[1], n),
                _ => series::fiscal(stat, &values),
            }
        };
        (0..rows.len()).map(one).collect()
    }

    fn fiscal_count(&self, n: u32, body: &FlagPlan, rows: Rows<'_, 'a>, env: Env<'_>) -> Vec<Num> {
        let columns: Vec<_> = (0..n).map(|k| self.in_year(k, rows, env, |env| self.flag(body, rows, env))).collect();
        counted(&columns, rows.len())
    }

    fn interim(&self, stat: InterimStat, n: u32, body: &NumPlan, rows: Rows<'_, 'a>, env: Env<'_>) -> Vec<Num> {
        let at = |k: u32| in_interim(Within::Quarter(k), rows, env, |env| self.num(body, rows, env));
        let half = |k: u32| in_interim(Within::Half(k), rows, env, |env| self.num(body, rows, env));
        match stat {
            InterimStat::Half => half(n),
            InterimStat::HalfYoy => half(n).into_iter().zip(half(n + 2)).map(|(x, y)| series::on_year_before(x, y)).collect(),
            InterimStat::At => at(n),
            InterimStat::Yoy => at(n).into_iter().zip(at(n + 4)).map(|(x, y)| series::on_year_before(x, y)).collect(),
            InterimStat::Average => {
                let columns: Vec<_> = (0..n).map(at).collect();
                let mean = |i: usize| {
                    let values: Vec<f64> = columns.iter().map(|c| c[i]).collect::<Result<_, _>>()?;
                    crate::stats::mean(&values).ok_or(Why::HistoryTooShort)
                };
                (0..rows.len()).map(mean).collect()
            }
            InterimStat::Acceleration => {
                let columns: Vec<_> = (0..QUARTERS_IN_A_ROW + 5).map(at).collect();
                let rate = |i: usize, k: usize| series::on_year_before(columns[k][i], columns[k + 4][i]);
                (0..rows.len()).map(|i| series::in_a_row((0..=QUARTERS_IN_A_ROW as usize).map(|k| rate(i, k)))).collect()
            }
        }
    }

    pub(super) fn in_year<T>(&self, k: u32, rows: Rows<'_, 'a>, env: Env<'_>, run: impl FnOnce(Env<'_>) -> T) -> T {
        let spans = env.by_state(rows.len(), |i| rows[i].year(k).and_then(|p| pinned(Some(p))));
        run(Env { spans: Some(&spans), within: Within::Year(k), ..env })
    }

    fn ago(&self, span: Span, change: bool, body: &NumPlan, rows: Rows<'_, 'a>, env: Env<'_>) -> Vec<Num> {
        let then: Vec<_> = rows.iter().map(|r| r.at(r.t().minus(span))).collect();
        let before = self.num(body, &then, Env::default());
        if !change {
            return before;
        }
        let now = self.num(body, rows, env.own_time());
        now.into_iter().zip(before).map(|(a, b)| scalar::arithmetic(Operator::Subtract, a, b)).collect()
    }
}

/// How many columns are true in each row; undefined when one is.
fn counted(columns: &[Vec<Flag>], rows: usize) -> Vec<Num> {
    let one = |i: usize| columns.iter().try_fold(0.0, |sum, c| Ok(sum + f64::from(u8::from(c[i]?))));
    (0..rows).map(one).collect()
}

fn growth(x0: f64, xn: f64, n: u32) -> Num {
    if x0 <= 0.0 || xn <= 0.0 {
        return Err(Why::NotPositive);
    }
    scalar::checked((x0 / xn).powf(1.0 / f64::from(n)) - 1.0)
}

/// Replaces the answers that `wanting` picks (asked in order of rows) by those that `run` gives for their rows.
fn instead<'a, T>(
    mut answers: Vec<T>,
    wanting: impl FnMut(&T) -> bool,
    rows: Rows<'_, 'a>,
    env: Env<'_>,
    run: impl FnOnce(Rows<'_, 'a>, Env<'_>) -> Vec<T>,
) -> Vec<T> {
    let wanted: Vec<bool> = answers.iter().map(wanting).collect();
    let picked: Vec<usize> = (0..rows.len()).filter(|i| wanted[*i]).collect();
    if picked.len() == rows.len() {
        return run(rows, env);
    }
    if !picked.is_empty() {
        let some: Vec<_> = picked.iter().map(|i| rows[*i]).collect();
        let spans: Option<Vec<_>> = env.spans.map(|spans| picked.iter().map(|i| spans[*i]).collect());
        let given = run(&some, Env { spans: spans.as_deref(), ..env });
        picked.into_iter().zip(given).for_each(|(i, answer)| answers[i] = answer);
    }
    answers
}
