//! Runs a plan over many rows of (company, date), node by node, in chunks on all cores.

use super::{
    ast::Operator,
    check::Compiled,
    column::Column,
    memo::{Memo, Within},
    peers::PeerTable,
    plan::{FiscalStat, FlagPlan, Judgement, NumPlan, OwnStat, Part, Plan, QuarterStat, TextPlan},
    scalar, series,
};
use crate::{
    Num, Why,
    domain::{Day, Item, ItemKind},
    panel::{AsOf, CompanyAt, CompanyIndex, FlowSpan, History, Months, PeriodIndex},
    valuation::{self, Start, Valuation, What},
};
use rayon::prelude::*;
use std::{
    collections::{BTreeSet, HashMap},
    sync::Arc,
};

/// Rows that one task works on: few enough that what is read of their filings stays in the processor's cache.
const CHUNK: usize = 64;

/// The most quarters in a row that an acceleration counts.
const QUARTERS_IN_A_ROW: u32 = 24;

/// For at most so many companies a missing history is made for them alone.
const FEW: usize = 8;
/// Histories begin so many months before they must: another date asked for next mostly needs no more.
const SPARE_MONTHS: i32 = 12;
/// Rows that are looked through for that.
const MOST_ROWS: usize = 512;

type Flag = Result<bool, Why>;
type Rows<'r, 'a> = &'r [CompanyAt<'a>];

/// Answers a formula for every row.
#[must_use]
pub fn evaluate(formula: &Compiled, rows: &[CompanyAt<'_>]) -> Column {
    let Some(first) = rows.first() else { return Column::Number(Vec::new()) };
    let dates = rows.iter().map(CompanyAt::t).collect();
    Evaluator::for_rows(first.view, [&formula.plan], &dates, rows).run(&formula.plan, rows)
}

/// Answers several formulas for every row, some companies at a time: what is read of their filings is read once for all.
#[must_use]
pub fn evaluate_all(formulas: &[&Compiled], rows: &[CompanyAt<'_>]) -> Vec<Column> {
    let Some(first) = rows.first() else { return formulas.iter().map(|_| Column::Number(Vec::new())).collect() };
    let dates = rows.iter().map(CompanyAt::t).collect();
    let evaluator = Evaluator::for_formulas(first.view, formulas.iter().copied(), &dates, rows);
    let answered = |chunk: &[CompanyAt<'_>]| -> Vec<Column> {
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

/// Where today stands in a company's own history of a measure.
#[derive(Clone, Copy, Debug, PartialEq, serde::Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OwnRange {
    /// Lowest of the window.
    pub low: f64,
    /// A quarter lies below.
    pub lower_quartile: f64,
    /// Median of the window.
    pub median: f64,
    /// A quarter lies above.
    pub upper_quartile: f64,
    /// Highest of the window.
    pub high: f64,
    /// The value at the date.
    pub today: f64,
    /// Its rank, 0 the lowest ever and 100 the highest.
    pub rank: f64,
    /// How many months, the date included.
    pub months: usize,
}

/// For a formula that is a rank in the own history: the range behind each row's rank. `None` for other formulas.
#[must_use]
pub fn own_ranges(formula: &Compiled, rows: &[CompanyAt<'_>]) -> Option<Vec<Option<OwnRange>>> {
    let Plan::Number(NumPlan::Own { stat: OwnStat::Rank, window, key, body }, _) = &formula.plan else { return None };
    let first = rows.first()?;
    let dates = rows.iter().map(CompanyAt::t).collect();
    let evaluator = Evaluator::for_rows(first.view, [&formula.plan], &dates, rows);
    let today = evaluator.num(body, rows, Env::default());
    let history = &evaluator.histories[key];
    let range = |(r, today): (&CompanyAt<'_>, Num)| {
        let months: Vec<f64> = history.window(r.index, r.t().minus(*window), r.t()).collect();
        let rank = series::own(OwnStat::Rank, months.clone(), today, window.in_months()).ok()?;
        let (today, mut all) = (today.ok().filter(|v| v.is_finite())?, months);
        all.push(today);
        let at = |p| crate::stats::percentile(&all, p);
        Some(OwnRange {
            low: at(0.0)?,
            lower_quartile: at(0.25)?,
            median: at(0.5)?,
            upper_quartile: at(0.75)?,
            high: at(1.0)?,
            today,
            rank,
            months: all.len(),
        })
    };
    Some(rows.iter().zip(today).map(range).collect())
}

/// What formulas need beside their rows, made ready before the rows are run in parallel.
#[derive(Debug)]
pub struct Evaluator<'a> {
    view: AsOf<'a>,
    histories: HashMap<String, Arc<History>>,
    peers: HashMap<(String, Day), Arc<PeerTable>>,
    valuations: Option<(Day, Arc<Vec<Valuation>>)>,
    /// The few companies for which histories are made when none are kept; all when empty.
    only: Vec<CompanyIndex>,
}

/// The twelve months (or the fiscal year) in which a row's items are read.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Taken {
    pub(super) span: FlowSpan,
    pub(super) end: Option<PeriodIndex>,
    /// Balances are those of the span's end, not the newest known.
    pub(super) pinned: bool,
}

#[derive(Clone, Copy, Default)]
pub(super) struct Env<'e> {
    pub(super) spans: Option<&'e [Result<Taken, Why>]>,
    /// What those spans are.
    pub(super) within: Within,
    /// Amounts stay in the reporting currency: the answer does not depend on it.
    pub(super) reporting: bool,
    /// Figures read before for the same rows.
    pub(super) memo: Option<&'e Memo>,
}

/// A chunk of rows of which several formulas are asked: what they share is computed once.
pub(crate) struct Sheet<'s, 'a> {
    evaluator: &'s Evaluator<'a>,
    pub(crate) rows: &'s [CompanyAt<'a>],
    memo: Memo,
}

impl Sheet<'_, '_> {
    fn env(&self) -> Env<'_> {
        Env { memo: Some(&self.memo), ..Env::default() }
    }

    /// Answers a number formula; amounts in the reporting currency.
    pub(crate) fn reporting_numbers(&self, formula: &Compiled) -> Vec<Num> {
        self.numbers_in(formula, Env { reporting: true, ..self.env() })
    }

    /// Answers a number formula.
    pub(crate) fn numbers(&self, formula: &Compiled) -> Vec<Num> {
        self.numbers_in(formula, self.env())
    }

    fn numbers_in(&self, formula: &Compiled, env: Env<'_>) -> Vec<Num> {
        match &formula.plan {
            Plan::Number(p, _) => self.evaluator.num(p, self.rows, env),
            _ => vec![Err(Why::NoAnswer); self.rows.len()],
        }
    }

    /// Answers a condition.
    pub(crate) fn flags(&self, formula: &Compiled) -> Vec<Flag> {
        match &formula.plan {
            Plan::Flag(p) => self.evaluator.flag(p, self.rows, self.env()),
            _ => vec![Err(Why::NoAnswer); self.rows.len()],
        }
    }
}

impl<'a> Evaluator<'a> {
    /// Makes ready what these formulas need at these dates, for a few rows or (when there are none) for all companies.
    pub(crate) fn for_formulas<'f>(
        view: AsOf<'a>,
        formulas: impl IntoIterator<Item = &'f Compiled>,
        dates: &BTreeSet<Day>,
        rows: Rows<'_, 'a>,
    ) -> Evaluator<'a> {
        Evaluator::for_rows(view, formulas.into_iter().map(|f| &f.plan), dates, rows)
    }

    fn prepared<'p>(view: AsOf<'a>, plans: impl IntoIterator<Item = &'p Plan>, dates: &BTreeSet<Day>) -> Evaluator<'a> {
        Evaluator::for_rows(view, plans, dates, &[])
    }

    /// As [`Evaluator::prepared`], for a few rows: histories that are not kept are made for their companies alone.
    pub(super) fn for_rows<'p>(
        view: AsOf<'a>,
        plans: impl IntoIterator<Item = &'p Plan>,
        dates: &BTreeSet<Day>,
        rows: Rows<'_, 'a>,
    ) -> Evaluator<'a> {
        Evaluator::ready(view, plans, dates, dates.first().copied().unwrap_or(Day::MIN), rows)
    }

    /// As [`Evaluator::for_rows`]; no row is of a day before `earliest`, which may be told without the dates.
    fn ready<'p>(
        view: AsOf<'a>,
        plans: impl IntoIterator<Item = &'p Plan>,
        dates: &BTreeSet<Day>,
        earliest: Day,
        rows: Rows<'_, 'a>,
    ) -> Evaluator<'a> {
        let mut only: Vec<CompanyIndex> = if rows.len() <= MOST_ROWS { rows.iter().map(|r| r.index).collect() } else { Vec::new() };
        only.sort_unstable();
        only.dedup();
        if only.len() > FEW {
            only.clear();
        }
        let mut out = Evaluator { view, histories: HashMap::new(), peers: HashMap::new(), valuations: None, only };
        let parts: Vec<Part<'_>> = plans.into_iter().map(Plan::part).collect();
        out.prepare_histories(&parts, earliest);
        parts.into_iter().for_each(|p| out.prepare(p, dates));
        out
    }

    fn run(&self, plan: &Plan, rows: Rows<'_, 'a>) -> Column {
        Column::concat(rows.par_chunks(CHUNK).map(|chunk| self.column(plan, chunk, Env::default())).collect())
    }

    /// A chunk of rows of which several formulas are asked.
    pub(crate) fn sheet<'s>(&'s self, rows: &'s [CompanyAt<'a>]) -> Sheet<'s, 'a> {
        let one_company = rows.len() > 1 && rows.iter().all(|r| r.index == rows[0].index);
        let memo = if one_company { Memo::of_one_company(rows) } else { Memo::of_many_companies(rows.len()) };
        Sheet { evaluator: self, rows, memo }
    }

    fn column(&self, plan: &Plan, rows: Rows<'_, 'a>, env: Env<'_>) -> Column {
        match plan {
            Plan::Number(p, _) => Column::Number(self.num(p, rows, env)),
            Plan::Flag(p) => Column::Flag(self.flag(p, rows, env)),
            Plan::Text(p) => Column::Text(self.text(p, rows)),
        }
    }

    fn prepare(&mut self, part: Part<'_>, dates: &BTreeSet<Day>) {
        match part {
            Part::Number(NumPlan::Own { key, .. }) if self.histories.contains_key(key) => {}
            Part::Number(NumPlan::Own { .. }) => self.prepare_histories(&[part], dates.first().copied().unwrap_or(Day::MIN)),
            Part::Number(NumPlan::Peers { group, key, body, .. }) => {
                for &day in dates {
                    let view = self.view.at(day);
                    self.peers.entry((key.clone(), day)).or_insert_with(|| Arc::new(peer_table(view, *group, body)));
                }
            }
            Part::Number(NumPlan::Ago { span, body, .. }) => {
                self.prepare(Part::Number(body), &dates.iter().map(|d| d.minus(*span)).collect());
            }
            Part::Flag(FlagPlan::Ago { span, body }) => {
                self.prepare(Part::Flag(body), &dates.iter().map(|d| d.minus(*span)).collect());
                return;
            }
            Part::Number(NumPlan::Value(_)) | Part::Text(TextPlan::Judgement(_)) => self.prepare_values(dates),
            _ => {}
        }
        for inner in part.parts() {
            self.prepare(inner, dates);
        }
    }

    fn prepare_values(&mut self, dates: &BTreeSet<Day>) {
        if let (1, Some(&day), true) = (dates.len(), dates.first(), self.only.is_empty()) {
            self.valuations = Some((day, valuation::value_all(self.view.at(day))));
            return;
        }
        for formula in valuation::input_formulas() {
            self.prepare(formula.plan.part(), dates);
        }
    }

    /// What the valuations of all companies at a day start from.
    pub(crate) fn start(mut self, day: Day) -> Start {
        let inputs: Vec<Part<'_>> = valuation::input_formulas().iter().map(|f| f.plan.part()).collect();
        self.prepare_histories(&inputs, day);
        inputs.into_iter().for_each(|p| self.prepare(p, &BTreeSet::from([day])));
        let rows: Vec<_> = self.view.at(day).companies().collect();
        Start::joined(rows.par_chunks(CHUNK).map(|chunk| Start::of(&self, chunk)).collect())
    }

    /// Makes the histories that these parts ask for and that are not kept, all in one walk over the companies' months. They
    /// go back as far as rows from `earliest` on ask for, and to the beginning when they are asked for a second time.
    fn prepare_histories(&mut self, parts: &[Part<'_>], earliest: Day) {
        let mut asked = Vec::new();
        parts.iter().for_each(|p| own_bodies(*p, earliest, &mut asked));
        let settings = self.view.settings;
        let kept = self.view.snapshot.histories();
        let full = |key: &str| format!("{key}|{}|{}", settings.base, settings.assumptions.tax_rate);
        let mut missing: Vec<(&str, &NumPlan)> = Vec::new();
        let mut since = Day::MAX;
        for Asked { key, body, since: from } in asked {
            if self.histories.get(key).is_some_and(|h| h.since() <= from) {
                continue;
            }
            match kept.peek(&full(key)) {
                Some(history) if history.since() <= from => drop(self.histories.insert(key.to_owned(), history)),
                shorter => {
                    since = since.min(if shorter.is_some() { Day::MIN } else { from.plus_months(-SPARE_MONTHS) });
                    if !missing.iter().any(|m| m.0 == key) {
                        missing.push((key, body));
                    }
                }
            }
        }
        if missing.is_empty() {
            return;
        }
        let bodies: Vec<&NumPlan> = missing.iter().map(|m| m.1).collect();
        for ((key, _), history) in missing.iter().zip(self.histories_of(&bodies, since)) {
            let history = Arc::new(history);
            let history = if self.only.is_empty() { kept.keep(&full(key), history) } else { history };
            self.histories.insert((*key).to_owned(), history);
        }
    }

    /// The bodies' values at every company's month ends after `since`, each from what was known then.
    fn histories_of(&self, bodies: &[&NumPlan], since: Day) -> Vec<History> {
        let last = self.view.snapshot.sessions().map_or(self.view.t, |s| s.1);
        let view = self.view.at(last);
        let plans: Vec<Plan> = bodies.iter().map(|b| Plan::Number((*b).clone(), super::Unit::Ratio)).collect();
        let companies: Vec<CompanyAt<'a>> =
            if self.only.is_empty() { view.companies().collect() } else { self.only.iter().map(|i| view.company(*i)).collect() };
        let dates = if bodies.iter().any(|b| needs_dates(Part::Number(b))) {
            companies.iter().flat_map(CompanyAt::month_ends).filter(|d| *d > since).collect()
        } else {
            BTreeSet::new()
        };
        let few = if self.only.is_empty() { &[] } else { &companies[..] };
        let evaluator = Evaluator::ready(view, &plans, &dates, since, few);
        let months = |c: &CompanyAt<'a>| -> (CompanyIndex, Months) {
            let rows = c.month_rows(since);
            let memo = Memo::of_one_company(&rows);
            let env = Env { memo: Some(&memo), ..Env::default() };
            let values = |body: &&NumPlan| evaluator.num(body, &rows, env).into_iter().map(Result::ok).collect();
            (c.index, (rows.iter().map(CompanyAt::t).collect(), bodies.iter().map(values).collect()))
        };
        let per_company: Vec<(CompanyIndex, Months)> = companies.par_iter().map(months).collect();
        History::together(&per_company, view.snapshot.company_count(), bodies.len(), since)
    }

    /// The defined month-end values of a row's company within a window before its month, from a history made ready.
    pub(super) fn months(&self, key: &str, row: &CompanyAt<'a>, window: crate::domain::Span) -> Vec<f64> {
        self.histories.get(key).map_or_else(Vec::new, |h| h.window(row.index, row.t().minus(window), row.t()).collect())
    }

    pub(super) fn num(&self, plan: &NumPlan, rows: Rows<'_, 'a>, env: Env<'_>) -> Vec<Num> {
        match plan {
            NumPlan::Constant(v) => vec![Ok(*v); rows.len()],
            NumPlan::AssumedTax => vec![Ok(self.view.settings.assumptions.tax_rate); rows.len()],
            NumPlan::Item(item) => items(*item, rows, env),
            NumPlan::YearDividend => year_dividends(rows, env),
            NumPlan::Scope { flows, reporting, body } => in_span(rows, env, flows, *reporting, |env| self.num(body, rows, env)),
            NumPlan::Named(name, body) => env.column(&name.formula, rows.len(), || self.num(body, rows, env)),
            NumPlan::Guard(kinds, body) => {
                let values = self.num(body, rows, env);
                zip(rows, values, |r, v| if kinds.has(r.kind()) { Err(Why::NotMeaningful) } else { v })
            }
            NumPlan::Kernel(kernel, args) => rows.iter().map(|r| kernel(r, args)).collect(),
            NumPlan::Value(field) => {
                let what = if field.is_quality() { What::Quality } else { What::Value };
                self.valued(rows, what, |r, v| v.field(*field, r))
            }
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
            NumPlan::Quarter { stat, n, reporting, body } => {
                let env = Env { reporting: env.reporting || *reporting, ..env };
                self.quarter(*stat, *n, body, rows, env)
            }
            NumPlan::QuarterCount { n, body } => {
                let columns: Vec<_> = (0..*n).map(|k| in_quarter(k, rows, env, |env| self.flag(body, rows, env))).collect();
                counted(&columns, rows.len())
            }
            NumPlan::Own { stat, window, key, body } => {
                let today = self.num(body, rows, Env::default());
                let history = &self.histories[key];
                let one = |r: &CompanyAt<'a>, v| {
                    let months = history.window(r.index, r.t().minus(*window), r.t()).collect();
                    series::own(*stat, months, v, window.in_months())
                };
                zip(rows, today, one)
            }
            NumPlan::Peers { rank, group, key, body } => {
                let values = if *rank { self.num(body, rows, Env::default()) } else { vec![Err(Why::FewPeers); rows.len()] };
                let table = |r: &CompanyAt<'a>| &self.peers[&(key.clone(), r.t())];
                zip(rows, values, |r, v| if *rank { table(r).rank(*group, r, v) } else { table(r).median(*group, r) })
            }
            NumPlan::Ago { span, change, body } => self.ago(*span, *change, body, rows),
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
            TextPlan::Judgement(Judgement::Band) => self.valued(rows, What::Value, |r, v| v.band(r)),
            TextPlan::Judgement(Judgement::Verdict) => {
                self.valued(rows, What::Both, |r, v| Ok(v.verdict(&r.view.settings.assumptions).code().into()))
            }
        }
    }

    fn valued<T>(&self, rows: Rows<'_, 'a>, what: What, read: impl Fn(&CompanyAt<'a>, &Valuation) -> T) -> Vec<T> {
        match &self.valuations {
            Some((day, section)) if rows.iter().all(|r| r.t() == *day) => {
                rows.iter().map(|r| read(r, &section[r.index as usize])).collect()
            }
            _ => rows.iter().zip(valuation::value_rows(self, rows, what)).map(|(r, v)| read(r, &v)).collect(),
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

    fn quarter(&self, stat: QuarterStat, n: u32, body: &NumPlan, rows: Rows<'_, 'a>, env: Env<'_>) -> Vec<Num> {
        let at = |k: u32| in_quarter(k, rows, env, |env| self.num(body, rows, env));
        match stat {
            QuarterStat::At => at(n),
            QuarterStat::Yoy => at(n).into_iter().zip(at(n + 4)).map(|(x, y)| series::on_year_before(x, y)).collect(),
            QuarterStat::Average => {
                let columns: Vec<_> = (0..n).map(at).collect();
                let mean = |i: usize| {
                    let values: Vec<f64> = columns.iter().map(|c| c[i]).collect::<Result<_, _>>()?;
                    crate::stats::mean(&values).ok_or(Why::HistoryTooShort)
                };
                (0..rows.len()).map(mean).collect()
            }
            QuarterStat::Acceleration => {
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

    fn ago(&self, span: crate::domain::Span, change: bool, body: &NumPlan, rows: Rows<'_, 'a>) -> Vec<Num> {
        let then: Vec<_> = rows.iter().map(|r| r.at(r.t().minus(span))).collect();
        let before = self.num(body, &then, Env::default());
        if !change {
            return before;
        }
        let now = self.num(body, rows, Env::default());
        now.into_iter().zip(before).map(|(a, b)| scalar::arithmetic(Operator::Subtract, a, b)).collect()
    }
}

/// How many columns are true in each row; undefined when one is.
fn counted(columns: &[Vec<Flag>], rows: usize) -> Vec<Num> {
    let one = |i: usize| columns.iter().try_fold(0.0, |sum, c| Ok(sum + f64::from(u8::from(c[i]?))));
    (0..rows).map(one).collect()
}

/// Runs a body in the k-th newest reported quarter.
pub(super) fn in_quarter<T>(k: u32, rows: Rows<'_, '_>, env: Env<'_>, run: impl FnOnce(Env<'_>) -> T) -> T {
    let span = |i: usize| {
        let (year, quarter) = rows[i].quarter_back(k)?;
        Ok(Taken { span: FlowSpan::Quarter(year, quarter), end: rows[i].quarter_end((year, quarter)), pinned: true })
    };
    let spans = env.by_state(rows.len(), span);
    run(Env { spans: Some(&spans), within: Within::Quarter(k), ..env })
}

fn year_dividends(rows: Rows<'_, '_>, env: Env<'_>) -> Vec<Num> {
    let Some(spans) = env.spans else { return vec![Err(Why::NoAnswer); rows.len()] };
    let one = |(r, taken): (&CompanyAt<'_>, &Result<Taken, Why>)| {
        let year = (*taken)?.end.ok_or(Why::HistoryTooShort)?;
        crate::price::year_dividend(r, year)
    };
    rows.iter().zip(spans).map(one).collect()
}

fn growth(x0: f64, xn: f64, n: u32) -> Num {
    if x0 <= 0.0 || xn <= 0.0 {
        return Err(Why::NotPositive);
    }
    scalar::checked((x0 / xn).powf(1.0 / f64::from(n)) - 1.0)
}

fn zip<R, V, T>(rows: &[R], values: Vec<V>, rule: impl Fn(&R, V) -> T) -> Vec<T> {
    rows.iter().zip(values).map(|(r, v)| rule(r, v)).collect()
}

/// The values of a formula over the universe of a view, by group.
fn peer_table(view: AsOf<'_>, group: super::Group, body: &NumPlan) -> PeerTable {
    let universe = view.universe();
    let plan = Plan::Number(body.clone(), super::Unit::Ratio);
    let column = Evaluator::prepared(view, [&plan], &BTreeSet::from([view.t])).run(&plan, &universe);
    PeerTable::new(group, &universe, column.numbers().unwrap_or_default())
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

/// A body whose history is asked for, at months after a day.
struct Asked<'p> {
    key: &'p str,
    body: &'p NumPlan,
    since: Day,
}

/// The bodies whose histories a part asks for at rows from `earliest` on, those of valuations included.
fn own_bodies<'p>(part: Part<'p>, earliest: Day, out: &mut Vec<Asked<'p>>) {
    let mut then = earliest;
    match part {
        Part::Number(NumPlan::Own { key, body, window, .. }) => out.push(Asked { key, body, since: earliest.minus(*window) }),
        Part::Number(NumPlan::Ago { span, .. }) | Part::Flag(FlagPlan::Ago { span, .. }) => then = earliest.minus(*span),
        Part::Number(NumPlan::Value(_)) | Part::Text(TextPlan::Judgement(_)) => {
            valuation::input_formulas().iter().for_each(|f| own_bodies(f.plan.part(), earliest, out));
        }
        _ => {}
    }
    part.parts().into_iter().for_each(|p| own_bodies(p, then, out));
}

fn needs_dates(part: Part<'_>) -> bool {
    matches!(part, Part::Number(NumPlan::Peers { .. })) || part.parts().into_iter().any(needs_dates)
}

pub(super) fn pinned(period: Option<PeriodIndex>) -> Result<Taken, Why> {
    let p = period.ok_or(Why::HistoryTooShort)?;
    Ok(Taken { span: FlowSpan::Year(p), end: Some(p), pinned: true })
}

pub(super) fn year_before(row: &CompanyAt<'_>, end: Option<PeriodIndex>) -> Option<PeriodIndex> {
    let (year, period) = row.label(end?);
    row.find_period(year - 1, period)
}

/// Runs a body in the newest span of twelve months in which one of the alternatives of flows is complete.
pub(super) fn in_span<T>(rows: Rows<'_, '_>, env: Env<'_>, flows: &[u64], reporting: bool, run: impl FnOnce(Env<'_>) -> T) -> T {
    let reporting = env.reporting || reporting;
    if env.spans.is_some() {
        return run(Env { reporting, ..env });
    }
    let spans = env.by_state(rows.len(), |i| newest_complete(&rows[i], flows, env));
    run(Env { spans: Some(&spans), within: Within::Elsewhere, reporting, ..env })
}

fn newest_complete(row: &CompanyAt<'_>, flows: &[u64], env: Env<'_>) -> Result<Taken, Why> {
    row.newest_period()?;
    let candidates = row.twelve_months().map(|span| span.map(|span| Taken { span, end: row.span_end(span), pinned: false }));
    let known = |taken: Taken, item: &Item| env.figure(row, taken, *item).is_ok();
    let complete = |taken: &Taken| flows.iter().any(|mask| Item::ALL.iter().filter(|i| mask & i.bit() != 0).all(|i| known(*taken, i)));
    let found = candidates.into_iter().flatten().find(complete);
    found.or(candidates[1]).or(candidates[0]).ok_or(Why::HistoryTooShort)
}

fn items(item: Item, rows: Rows<'_, '_>, env: Env<'_>) -> Vec<Num> {
    let Some(spans) = env.spans else { return vec![Err(Why::NoItem(item)); rows.len()] };
    let read = || env.by_state(rows.len(), |i| spans[i].and_then(|taken| env.figure(&rows[i], taken, item)));
    let filed = env.items(item, rows.len(), read);
    if env.reporting {
        return filed;
    }
    let converted = |row: &CompanyAt<'_>, v: Num| match item.kind() {
        ItemKind::Flow | ItemKind::Balance => Ok(v? * row.reporting_to_base()?),
        ItemKind::PerShare => Ok(v? * row.reporting_to_listing()?),
        ItemKind::Shares | ItemKind::Ratio => v,
    };
    zip(rows, filed, converted)
}

/// An item of a row in its span, in the reporting currency.
pub(super) fn figure(row: &CompanyAt<'_>, taken: Taken, item: Item) -> Num {
    if item.is_flow() {
        row.flow(taken.span, item).ok_or(Why::NoItem(item))
    } else if taken.pinned {
        taken.end.and_then(|p| row.item(p, item)).ok_or(Why::NoItem(item))
    } else {
        row.latest_item(item).map(|found| found.1)
    }
}
