//! Opens a value by walking the plan that made it.

use super::{evidence, explanation::Explanation, filed, text::written};
use crate::{
    Num, Why,
    domain::Day,
    formula::{
        ast::Operator,
        catalogue::{Body, Unit},
        column::Value,
        compile::Compiled,
        depends::Identity,
        env::{Env, in_interim, in_span},
        eval::{Evaluator, evaluate},
        host::View,
        plan::{FiscalStat, FlagPlan, Group, InterimStat, Named, NumPlan, OwnStat, Part, Plan, TextPlan},
        spans::{Within, pinned, year_before},
    },
    panel::{CompanyAt, PeriodIndex},
};
use std::collections::BTreeSet;

/// The deepest that an explanation goes; what lies below is cut off.
const DEEPEST: usize = 24;

/// Opens the value of a formula for one company at its date.
#[must_use]
pub fn explain<'a>(view: View<'a>, formula: &Compiled, row: &CompanyAt<'a>) -> Explanation {
    let evaluator = Evaluator::for_rows(view, [&formula.plan], &BTreeSet::from([row.t()]), std::slice::from_ref(row));
    let opener = Opener { evaluator: &evaluator, depth: 0 };
    match &formula.plan {
        Plan::Number(p, unit) => opener.number(p, *unit, row, Env::default()),
        Plan::Flag(p) => opener.flag(p, row, Env::default()),
        Plan::Text(_) => Explanation::new(&formula.text, Unit::Text, evaluate(view, formula, &[*row]).value(0)),
    }
}

#[derive(Clone, Copy)]
struct Opener<'e, 'a> {
    evaluator: &'e Evaluator<'a>,
    depth: usize,
}

impl<'a> Opener<'_, 'a> {
    fn deeper(self) -> Self {
        Opener { depth: self.depth + 1, ..self }
    }

    fn num(&self, plan: &NumPlan, row: &CompanyAt<'a>, env: Env<'_>) -> Num {
        self.evaluator.num(plan, std::slice::from_ref(row), env)[0]
    }

    fn is(&self, plan: &FlagPlan, row: &CompanyAt<'a>, env: Env<'_>) -> Result<bool, Why> {
        self.evaluator.flag(plan, std::slice::from_ref(row), env)[0]
    }

    /// A number as a part of its own.
    fn number(self, plan: &NumPlan, unit: Unit, row: &CompanyAt<'a>, env: Env<'_>) -> Explanation {
        let value = self.num(plan, row, env);
        let blank = Explanation::number(written(Part::Number(plan)), unit, value);
        if self.depth >= DEEPEST {
            return blank.noted("What lies below is not shown.");
        }
        match plan {
            NumPlan::Named(name, body) => self.named(name, blank, Part::Number(body), row, env),
            NumPlan::Scope { flows, reporting, body } => {
                in_span(std::slice::from_ref(row), env, flows, *reporting, |env| self.number(body, unit, row, env))
            }
            NumPlan::Guard(kinds, _) if kinds.has(row.kind()) => {
                blank.noted(format!("It means nothing for a company of the kind {}.", row.kind()))
            }
            NumPlan::Guard(_, body) => self.number(body, unit, row, env),
            NumPlan::Item(item) => filed::item(*item, value, row, env),
            NumPlan::YearDividend => blank.labelled("Dividends of the year").of(evidence::dividends(row)),
            NumPlan::Fiscal { stat, n, body, .. } => self.years(*stat, *n, Part::Number(body), unit, blank, row, env),
            NumPlan::FiscalCount { n, body } => self.years(FiscalStat::Sum, *n, Part::Flag(body), Unit::Flag, blank, row, env),
            NumPlan::Interim { stat, n, body, .. } => self.interims(*stat, *n, Part::Number(body), unit, blank, row, env),
            NumPlan::QuarterCount { n, body } => self.interims(InterimStat::Average, *n, Part::Flag(body), Unit::Flag, blank, row, env),
            NumPlan::Own { stat, window, of, body } => self.own(*stat, *window, of, body, blank, row),
            NumPlan::Peers { rank, group, body, .. } => self.peers(*rank, *group, body, unit, blank, row),
            NumPlan::Ago { span, change, body } => self.ago(*span, *change, body, unit, blank, row),
            NumPlan::MeanBalance { body, .. } => {
                let note = "The mean of closing and opening balance; the closing one alone where there is no other.";
                blank.noted(note).of(self.ends(body, unit, row, env))
            }
            _ => blank.of(self.deeper().inputs(Part::Number(plan), row, env)),
        }
    }

    fn flag(self, plan: &FlagPlan, row: &CompanyAt<'a>, env: Env<'_>) -> Explanation {
        let blank = Explanation::flag(written(Part::Flag(plan)), self.is(plan, row, env));
        if self.depth >= DEEPEST {
            return blank.noted("What lies below is not shown.");
        }
        match plan {
            FlagPlan::Named(name, body) => self.named(name, blank, Part::Flag(body), row, env),
            FlagPlan::Scope { flows, reporting, body } => {
                in_span(std::slice::from_ref(row), env, flows, *reporting, |env| self.flag(body, row, env))
            }
            FlagPlan::Guard(_, body) => self.flag(body, row, env),
            FlagPlan::Ago { span, body } => {
                let then = row.at(row.t().minus(*span));
                blank.noted(format!("As of {}.", then.t())).of(vec![self.deeper().flag(body, &then, Env::default())])
            }
            _ => blank.of(self.deeper().inputs(Part::Flag(plan), row, env)),
        }
    }

    /// A part in a list of inputs, each kind of part in its own way.
    fn part(self, part: Part<'_>, row: &CompanyAt<'a>, env: Env<'_>) -> Explanation {
        match part {
            Part::Number(p) => self.number(p, unit_of(p), row, env),
            Part::Flag(p) => self.flag(p, row, env),
            Part::Text(_) => {
                let text = match part {
                    Part::Text(p) => self.evaluator.text(p, std::slice::from_ref(row))[0].clone(),
                    _ => Err(Why::NoAnswer),
                };
                Explanation::new(written(part), Unit::Text, text.map_or_else(Value::Undefined, Value::Text))
            }
        }
    }

    fn named(self, name: &Named, blank: Explanation, body: Part<'_>, row: &CompanyAt<'a>, env: Env<'_>) -> Explanation {
        let definition = match name.measure.map(|m| m.body) {
            Some(Body::Formula(_)) | None => Some(written(body)),
            _ => None,
        };
        let mut out = Explanation { formula: name.formula.to_string(), unit: name.unit, definition, ..blank }.labelled(&name.label);
        match name.measure {
            Some(m) if m.id == "price" => out.notes = evidence::price(row).notes,
            Some(m) if !matches!(m.body, Body::Formula(_)) => out.inputs = evidence::of(m, row, &name.args, self.evaluator.view),
            _ => {
                let inner = match body {
                    Part::Number(p) => self.deeper().number(p, name.unit, row, env),
                    Part::Flag(p) => self.deeper().flag(p, row, env),
                    Part::Text(_) => return out,
                };
                // The body is the measure itself: what it was made of stands directly below.
                out.notes.extend(inner.notes);
                out.source = inner.source;
                out.inputs = inner.inputs;
                if let (true, Some(reason)) = (out.inputs.is_empty() && out.notes.is_empty(), out.reason) {
                    out.notes.push(format!("It is undefined: {reason}."));
                }
            }
        }
        out
    }

    /// The parts from which arithmetic or logic makes its answer; constants are left out.
    fn inputs(self, part: Part<'_>, row: &CompanyAt<'a>, env: Env<'_>) -> Vec<Explanation> {
        let mut out: Vec<Explanation> = Vec::new();
        for inner in self.taken(part, row, env) {
            for one in self.parts(inner, row, env) {
                if !out.iter().any(|o| o.formula == one.formula) {
                    out.push(one);
                }
            }
        }
        out
    }

    /// The sub-parts that the answer was taken from.
    fn taken<'p>(&self, part: Part<'p>, row: &CompanyAt<'a>, env: Env<'_>) -> Vec<Part<'p>> {
        match part {
            Part::Number(NumPlan::Else(a, b)) => {
                if self.num(a, row, env).is_ok() {
                    vec![Part::Number(a)]
                } else {
                    vec![Part::Number(a), Part::Number(b)]
                }
            }
            Part::Number(NumPlan::If(c, a, b)) => match self.is(c, row, env) {
                Ok(true) => vec![Part::Flag(c), Part::Number(a)],
                Ok(false) => vec![Part::Flag(c), Part::Number(b)],
                Err(_) => vec![Part::Flag(c)],
            },
            other => other.parts(),
        }
    }

    /// One part, or the parts of plain arithmetic in its place.
    fn parts(self, part: Part<'_>, row: &CompanyAt<'a>, env: Env<'_>) -> Vec<Explanation> {
        match part {
            Part::Number(NumPlan::Constant(_) | NumPlan::AssumedTax) | Part::Flag(FlagPlan::Constant(_)) => Vec::new(),
            Part::Number(
                NumPlan::Binary(..)
                | NumPlan::Negate(_)
                | NumPlan::Math(..)
                | NumPlan::Round(..)
                | NumPlan::AShare(..)
                | NumPlan::Else(..)
                | NumPlan::Extreme { .. },
            ) => self.inputs(part, row, env),
            Part::Number(NumPlan::Scope { flows, reporting, body }) => {
                in_span(std::slice::from_ref(row), env, flows, *reporting, |env| self.parts(Part::Number(body), row, env))
            }
            Part::Flag(FlagPlan::Scope { flows, reporting, body }) => {
                in_span(std::slice::from_ref(row), env, flows, *reporting, |env| self.parts(Part::Flag(body), row, env))
            }
            Part::Text(TextPlan::Constant(_)) => Vec::new(),
            _ => vec![self.part(part, row, env)],
        }
    }

    #[allow(clippy::too_many_arguments)]
    fn years(
        self,
        stat: FiscalStat,
        n: u32,
        body: Part<'_>,
        unit: Unit,
        blank: Explanation,
        row: &CompanyAt<'a>,
        env: Env<'_>,
    ) -> Explanation {
        let years: Vec<u32> = match stat {
            FiscalStat::At => vec![n],
            FiscalStat::Growth => vec![0, n],
            FiscalStat::Rises | FiscalStat::Slope | FiscalStat::Trend | FiscalStat::TrendFit | FiscalStat::Steadiness => (0..=n).collect(),
            _ => (0..n).collect(),
        };
        let one = |k: u32| {
            let label =
                row.year(k).map_or_else(|_| format!("{k} fiscal years before the newest"), |p| format!("Fiscal year {}", row.label(p).0));
            self.evaluator.in_year(k, std::slice::from_ref(row), env, |env| self.deeper().at_period(body, unit, &label, row, env))
        };
        blank.of(years.into_iter().map(one).collect())
    }

    #[allow(clippy::too_many_arguments)]
    fn interims(
        self,
        stat: InterimStat,
        n: u32,
        body: Part<'_>,
        unit: Unit,
        blank: Explanation,
        row: &CompanyAt<'a>,
        env: Env<'_>,
    ) -> Explanation {
        let periods: Vec<Within> = match stat {
            InterimStat::At => vec![Within::Quarter(n)],
            InterimStat::Yoy => vec![Within::Quarter(n), Within::Quarter(n + 4)],
            InterimStat::Average => (0..n).map(Within::Quarter).collect(),
            InterimStat::Acceleration => (0..8).map(Within::Quarter).collect(),
            InterimStat::Half => vec![Within::Half(n)],
            InterimStat::HalfYoy => vec![Within::Half(n), Within::Half(n + 2)],
        };
        let one = |within: Within| {
            let label = interim(within, row);
            in_interim(within, std::slice::from_ref(row), env, |env| self.deeper().at_period(body, unit, &label, row, env))
        };
        blank.of(periods.into_iter().map(one).collect())
    }

    /// Closing and opening balance of the span.
    fn ends(self, body: &NumPlan, unit: Unit, row: &CompanyAt<'a>, env: Env<'_>) -> Vec<Explanation> {
        let Some(Ok(taken)) = env.spans.map(|s| s[0]) else { return Vec::new() };
        let at = |(label, period): (&str, Option<PeriodIndex>)| {
            let spans = [Ok(pinned(period).ok()?)];
            let one = self.deeper().number(body, unit, row, Env { spans: Some(&spans), within: Within::Elsewhere, ..env });
            Some(Explanation { label: Some(label.to_owned()), ..one })
        };
        [("At the end", taken.end), ("A fiscal year before", year_before(row, taken.end))].into_iter().filter_map(at).collect()
    }

    /// A part in one year or quarter.
    fn at_period(self, body: Part<'_>, unit: Unit, label: &str, row: &CompanyAt<'a>, env: Env<'_>) -> Explanation {
        let unit = if let Part::Number(p) = body { known_unit(p).unwrap_or(unit) } else { Unit::Flag };
        let inner = match body {
            Part::Number(p) => self.number(p, unit, row, env),
            _ => self.part(body, row, env),
        };
        Explanation { label: Some(label.to_owned()), ..inner }
    }

    fn own(
        self,
        stat: OwnStat,
        window: crate::domain::Span,
        of: &Identity,
        body: &NumPlan,
        blank: Explanation,
        row: &CompanyAt<'a>,
    ) -> Explanation {
        let today = self.deeper().number(body, unit_of(body), row, Env::default());
        let months: Vec<f64> = self.evaluator.months(of, row, window);
        let mut note =
            format!("Compared with {} months of its own since {}, each from what was known then.", months.len(), row.t().minus(window));
        if let (OwnStat::Rank, Ok(v)) = (stat, today.value.number()) {
            let lower = months.iter().filter(|m| **m < v).count();
            note = format!("{note} {lower} of them were lower than today.");
        }
        blank.noted(note).of(vec![Explanation { label: today.label.clone().or_else(|| Some("Today".to_owned())), ..today }])
    }

    fn peers(self, rank: bool, group: Group, body: &NumPlan, unit: Unit, blank: Explanation, row: &CompanyAt<'a>) -> Explanation {
        let with = match group {
            Group::Sector => format!("the companies of the sector {}", row.company().sector),
            Group::Industry => format!("the companies of the industry {}", row.company().industry),
            Group::Country => format!("the companies of {}", row.company().country),
            Group::SectorCountry => format!("the companies of the sector {} in {}", row.company().sector, row.company().country),
            Group::Universe => "all listed companies but funds".to_owned(),
        };
        let unit = if rank { unit_of(body) } else { unit };
        let own = self.deeper().number(body, unit, row, Env::default());
        blank.noted(format!("Compared with {with}.")).of(vec![own])
    }

    fn ago(
        self,
        span: crate::domain::Span,
        change: bool,
        body: &NumPlan,
        unit: Unit,
        blank: Explanation,
        row: &CompanyAt<'a>,
    ) -> Explanation {
        let then = row.at(row.t().minus(span));
        let dated = |e: Explanation, t: Day| Explanation { label: Some(format!("As of {t}")), ..e };
        let mut inputs = vec![dated(self.deeper().number(body, unit, &then, Env::default()), then.t())];
        if change {
            inputs.insert(0, dated(self.deeper().number(body, unit, row, Env::default()), row.t()));
        }
        blank.of(inputs)
    }
}

/// The unit of a part, as far as it is known without checking the formula again.
fn unit_of(plan: &NumPlan) -> Unit {
    known_unit(plan).unwrap_or(Unit::Ratio)
}

fn known_unit(plan: &NumPlan) -> Option<Unit> {
    use crate::domain::ItemKind;
    match plan {
        NumPlan::Named(name, _) => Some(name.unit),
        NumPlan::Item(item) => Some(match item.kind() {
            ItemKind::Flow | ItemKind::Balance => Unit::Money,
            ItemKind::PerShare => Unit::PerShare,
            ItemKind::Shares => Unit::Count,
            ItemKind::Ratio => Unit::Percent,
        }),
        NumPlan::YearDividend | NumPlan::AShare(..) => Some(Unit::PerShare),
        NumPlan::FiscalCount { .. } | NumPlan::QuarterCount { .. } => Some(Unit::Count),
        NumPlan::Fiscal { stat: FiscalStat::Growth | FiscalStat::Trend, .. }
        | NumPlan::Interim { stat: InterimStat::Yoy | InterimStat::HalfYoy, .. } => Some(Unit::Percent),
        NumPlan::Own { stat: OwnStat::Rank, .. } | NumPlan::Peers { rank: true, .. } => Some(Unit::Rank),
        NumPlan::Scope { body, .. }
        | NumPlan::Guard(_, body)
        | NumPlan::Negate(body)
        | NumPlan::Round(body, _)
        | NumPlan::MeanBalance { body, .. }
        | NumPlan::Fiscal { body, .. }
        | NumPlan::Interim { body, .. }
        | NumPlan::Own { body, .. }
        | NumPlan::Peers { body, .. }
        | NumPlan::Ago { body, .. } => known_unit(body),
        NumPlan::If(_, a, _) | NumPlan::Else(a, _) | NumPlan::Binary(Operator::Add | Operator::Subtract, a, _) => known_unit(a),
        _ => None,
    }
}

/// "Quarter 3 of 2025", "First half of 2025".
fn interim(within: Within, row: &CompanyAt<'_>) -> String {
    match within {
        Within::Half(k) => row.half_back(k).map_or_else(
            |_| format!("{k} half-years before the newest"),
            |(year, half)| format!("{} half of {year}", if half == 1 { "First" } else { "Second" }),
        ),
        Within::Quarter(k) => {
            row.quarter_back(k).map_or_else(|_| format!("{k} quarters before the newest"), |(year, q)| format!("Quarter {q} of {year}"))
        }
        Within::Own | Within::Year(_) | Within::Elsewhere => String::new(),
    }
}
