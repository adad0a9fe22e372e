//! What formulas need beside their rows, made ready before they are run: own histories, tables of peers, valuations.

use super::{
    check::Compiled,
    eval::{Env, Evaluator, Rows},
    memo::Memo,
    peers::PeerTable,
    plan::{FlagPlan, Group, NumPlan, Part, Plan, TextPlan, Unit},
};
use crate::{
    domain::{Day, Span},
    panel::{AsOf, CompanyAt, CompanyIndex, History, Months},
    valuation,
};
use rayon::prelude::*;
use std::{
    collections::{BTreeSet, HashMap},
    sync::Arc,
};

/// For at most so many companies a missing history is made for them alone.
const FEW: usize = 8;
/// Histories begin so many months before they must: another date asked for next mostly needs no more.
const SPARE_MONTHS: i32 = 12;
/// Rows that are looked through for that.
const MOST_ROWS: usize = 512;

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

    /// Made ready for the valuations of all companies at a day.
    pub(crate) fn for_valuations(view: AsOf<'a>) -> Evaluator<'a> {
        Evaluator::for_formulas(view, valuation::input_formulas(), &BTreeSet::from([view.t]), &[])
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
        let plans: Vec<Plan> = bodies.iter().map(|b| Plan::Number((*b).clone(), Unit::Ratio)).collect();
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
    pub(super) fn months(&self, key: &str, row: &CompanyAt<'a>, window: Span) -> Vec<f64> {
        self.histories.get(key).map_or_else(Vec::new, |h| h.window(row.index, row.t().minus(window), row.t()))
    }
}

/// The values of a formula over the universe of a view, by group.
fn peer_table(view: AsOf<'_>, group: Group, body: &NumPlan) -> PeerTable {
    let universe = view.universe();
    let plan = Plan::Number(body.clone(), Unit::Ratio);
    let column = Evaluator::prepared(view, [&plan], &BTreeSet::from([view.t])).run(&plan, &universe);
    PeerTable::new(group, &universe, column.numbers().unwrap_or_default())
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
