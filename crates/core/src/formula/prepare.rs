//! What formulas need beside their rows, made ready before they are run: own histories, tables of peers, valuations.

use super::{
    compile::Compiled,
    depends::Identity,
    env::{Env, Rows},
    eval::Evaluator,
    history::{History, Months},
    host::{MadeHistories, Reach, View},
    memo::Memo,
    peers::PeerTable,
    plan::{FlagPlan, Group, NumPlan, Part, Plan, TextPlan},
};
use crate::{
    domain::{Day, Span},
    formula::catalogue::Unit,
    panel::{CompanyAt, CompanyIndex},
};
use rayon::prelude::*;
use std::{
    collections::{BTreeSet, HashMap},
    sync::Arc,
};

/// Up to this many companies, a missing history is computed for those only.
const FEW: usize = 8;
/// Histories begin this many months before they must: the next date asked for mostly needs no more.
const SPARE_MONTHS: i32 = 12;
/// Rows that are searched for how many companies they are of.
const MOST_ROWS: usize = 512;

impl<'a> Evaluator<'a> {
    /// Makes ready what these formulas need at these dates, for a few rows or (when there are none) for all companies.
    pub(crate) fn for_formulas<'f>(
        view: View<'a>,
        formulas: impl IntoIterator<Item = &'f Compiled>,
        dates: &BTreeSet<Day>,
        rows: Rows<'_, 'a>,
    ) -> Evaluator<'a> {
        Evaluator::for_rows(view, formulas.into_iter().map(|f| &f.plan), dates, rows)
    }

    /// Made ready for the valuations of all companies at the view's date.
    pub(crate) fn for_valuations(view: View<'a>) -> Evaluator<'a> {
        Evaluator::for_formulas(view, view.host.value_formulas(), &BTreeSet::from([view.as_of.t]), &[])
    }

    fn prepared<'p>(view: View<'a>, plans: impl IntoIterator<Item = &'p Plan>, dates: &BTreeSet<Day>) -> Evaluator<'a> {
        Evaluator::for_rows(view, plans, dates, &[])
    }

    /// As [`Evaluator::prepared`], for a few rows: histories that are not kept are made for their companies alone.
    pub(super) fn for_rows<'p>(
        view: View<'a>,
        plans: impl IntoIterator<Item = &'p Plan>,
        dates: &BTreeSet<Day>,
        rows: Rows<'_, 'a>,
    ) -> Evaluator<'a> {
        Evaluator::ready(view, plans, dates, dates.first().copied().unwrap_or(Day::MIN), rows)
    }

    /// Made ready for rows of any days from one on, of plans that ask for nothing of other companies.
    pub(super) fn for_any_day<'p>(view: View<'a>, plans: impl IntoIterator<Item = &'p Plan>, earliest: Day) -> Evaluator<'a> {
        Evaluator::ready(view, plans, &BTreeSet::new(), earliest, &[])
    }

    /// Made ready for valuations on any days from one on.
    pub(crate) fn for_any_valuation(view: View<'a>, earliest: Day) -> Evaluator<'a> {
        Evaluator::for_any_day(view, view.host.value_formulas().iter().map(|f| &f.plan), earliest)
    }

    /// As [`Evaluator::for_rows`]; no row predates `earliest`; pass it when dates are not collected.
    fn ready<'p>(
        view: View<'a>,
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
        let mut out = Evaluator { view, histories: HashMap::new(), peers: HashMap::new(), values: None, only };
        let parts: Vec<Part<'_>> = plans.into_iter().map(Plan::part).collect();
        out.prepare_histories(&parts, earliest);
        parts.into_iter().for_each(|p| out.prepare(p, dates));
        out
    }

    fn prepare(&mut self, part: Part<'_>, dates: &BTreeSet<Day>) {
        match part {
            Part::Number(NumPlan::Own { of, .. }) if self.histories.contains_key(of) => {}
            Part::Number(NumPlan::Own { .. }) => self.prepare_histories(&[part], dates.first().copied().unwrap_or(Day::MIN)),
            Part::Number(NumPlan::Peers { group, of, body, .. }) => {
                for &day in dates {
                    let view = self.view.at(day);
                    self.peers.entry((*of, *group, day)).or_insert_with(|| Arc::new(peer_table(view, *group, body)));
                }
            }
            Part::Number(NumPlan::Ago { span, body, .. }) => {
                self.prepare(Part::Number(body), &dates.iter().map(|d| d.minus(*span)).collect());
            }
            Part::Flag(FlagPlan::Ago { span, body }) => {
                self.prepare(Part::Flag(body), &dates.iter().map(|d| d.minus(*span)).collect());
                return;
            }
            Part::Number(NumPlan::Value(field)) if field.is_range() => {}
            Part::Number(NumPlan::Value(_)) | Part::Text(TextPlan::Judgement(_)) => self.prepare_values(dates),
            _ => {}
        }
        for inner in part.parts() {
            self.prepare(inner, dates);
        }
    }

    fn prepare_values(&mut self, dates: &BTreeSet<Day>) {
        if let (1, Some(&day), true) = (dates.len(), dates.first(), self.only.is_empty()) {
            self.values = Some((day, self.view.host.values(self.view.as_of.at(day))));
            return;
        }
        for formula in self.view.host.value_formulas() {
            self.prepare(formula.plan.part(), dates);
        }
    }

    /// Makes the histories that these parts ask for and that are not kept, all in one walk over the companies' months. They
    /// go back as far as rows from `earliest` on ask for, and to the beginning when they are asked for a second time.
    fn prepare_histories(&mut self, parts: &[Part<'_>], earliest: Day) {
        let mut asked = Vec::new();
        parts.iter().for_each(|p| own_bodies(*p, earliest, self.view.host.value_formulas(), &mut asked));
        loop {
            let missing = self.missing_histories(&asked);
            let Some(first) = missing.first() else { return };
            let make = || self.made_histories(&missing);
            let made = if self.only.is_empty() { self.made_once(first, make) } else { make() };
            self.histories.extend(made.into_iter().map(|(of, _, history)| (of, history)));
        }
    }

    /// Makes histories unless somebody else is making the first of them, which is then all there is; the rest is asked for anew.
    fn made_once(&self, first: &Missing<'_>, make: impl Fn() -> MadeHistories) -> MadeHistories {
        let mut mine: MadeHistories = Vec::new();
        let mut keep = || {
            mine = make();
            mine.clone()
        };
        let history = self.view.host.history_or_make(&first.of, first.reach, &mut keep);
        if mine.is_empty() { vec![(first.of, first.reach, history)] } else { mine }
    }

    /// Takes those that are kept; tells the others.
    fn missing_histories<'p>(&mut self, asked: &[Asked<'p>]) -> Vec<Missing<'p>> {
        let mut missing: Vec<Missing<'p>> = Vec::new();
        for Asked { of, body, since } in asked {
            let long_enough = |h: &Arc<History>| h.since() <= *since;
            if self.histories.get(of).is_some_and(long_enough) || missing.iter().any(|m| m.of == *of) {
                continue;
            }
            let kept = |reach| self.view.host.history(of, reach);
            let shorter = kept(Reach::Asked);
            let found = shorter.clone().filter(long_enough).or_else(|| kept(Reach::Beginning));
            match found {
                Some(history) => drop(self.histories.insert(*of, history)),
                None => {
                    let (reach, from) = match shorter {
                        Some(_) => (Reach::Beginning, Day::MIN),
                        None => (Reach::Asked, since.plus_months(-SPARE_MONTHS)),
                    };
                    missing.push(Missing { of: *of, body, reach, since: from, needed: *since });
                }
            }
        }
        missing
    }

    /// The histories that are missing; those of the month before are gone on with.
    fn made_histories(&self, missing: &[Missing<'_>]) -> MadeHistories {
        let before = |m: &Missing<'_>| if self.only.is_empty() { self.history_before(m) } else { None };
        let (mut anew, mut to_go_on) = (Vec::new(), Vec::new());
        for m in missing {
            match before(m) {
                Some((history, upto)) => to_go_on.push((m, history, upto)),
                None => anew.push(m),
            }
        }
        let mut made: MadeHistories = Vec::with_capacity(missing.len());
        if let Some(upto) = to_go_on.iter().map(|m| m.2).min() {
            let newer = self.histories_of(&to_go_on.iter().map(|m| m.0.body).collect::<Vec<_>>(), upto);
            let longer =
                to_go_on.par_iter().zip(&newer).map(|((m, history, _), newer)| (m.of, m.reach, Arc::new(history.going_on(upto, newer))));
            made.extend(longer.collect::<Vec<_>>());
        }
        if let Some(since) = anew.iter().map(|m| m.since).min() {
            let histories = self.histories_of(&anew.iter().map(|m| m.body).collect::<Vec<_>>(), since);
            made.extend(anew.iter().zip(histories).map(|(m, history)| (m.of, m.reach, Arc::new(history))));
        }
        // Whoever waits, waits for the first.
        made.sort_by_key(|(of, ..)| missing.first().is_none_or(|first| first.of != *of));
        made
    }

    /// The history made for an earlier month, where it goes back far enough, and up to which day it is right.
    fn history_before(&self, m: &Missing<'_>) -> Option<(Arc<History>, Day)> {
        let reaches = [m.reach, Reach::Beginning];
        reaches.into_iter().filter_map(|reach| self.view.host.history_before(&m.of, reach)).find(|(h, _)| h.since() <= m.needed)
    }

    /// The bodies' values at every company's month ends after `since`, each from what was known then.
    fn histories_of(&self, bodies: &[&NumPlan], since: Day) -> Vec<History> {
        let last = self.view.as_of.snapshot.sessions().map_or(self.view.as_of.t, |s| s.1);
        let view = self.view.at(last);
        let plans: Vec<Plan> = bodies.iter().map(|b| Plan::Number((*b).clone(), Unit::Ratio)).collect();
        let companies: Vec<CompanyAt<'a>> = if self.only.is_empty() {
            view.as_of.companies().collect()
        } else {
            self.only.iter().map(|i| view.as_of.company(*i)).collect()
        };
        let dates = if bodies.iter().any(|b| needs_dates(Part::Number(b))) {
            companies.iter().flat_map(CompanyAt::month_ends).filter(|d| *d > since).collect()
        } else {
            BTreeSet::new()
        };
        let few = if self.only.is_empty() { &[] } else { &companies[..] };
        let evaluator = Evaluator::ready(view, &plans, &dates, since, few);
        let months = |c: &CompanyAt<'a>| -> (CompanyIndex, Months) {
            view.host.go_on();
            let rows = c.month_rows(since);
            let memo = Memo::of_one_company(&rows);
            let env = Env { memo: Some(&memo), ..Env::default() };
            let values = |body: &&NumPlan| evaluator.num(body, &rows, env).into_iter().map(Result::ok).collect();
            (c.index, (rows.iter().map(CompanyAt::t).collect(), bodies.iter().map(values).collect()))
        };
        let per_company: Vec<(CompanyIndex, Months)> = companies.par_iter().map(months).collect();
        History::together(&per_company, view.as_of.snapshot.company_count(), bodies.len(), since)
    }

    /// The defined month-end values of a row's company within a window before its month, from a history made ready.
    pub(super) fn months(&self, of: &Identity, row: &CompanyAt<'a>, window: Span) -> Vec<f64> {
        self.histories.get(of).map_or_else(Vec::new, |h| h.window(row.index, row.t().minus(window), row.t()))
    }
}

/// The values of a formula over the universe of a view, by group.
fn peer_table(view: View<'_>, group: Group, body: &NumPlan) -> PeerTable {
    let universe = view.as_of.universe();
    if universe.is_empty() {
        return PeerTable::default();
    }
    let plan = Plan::Number(body.clone(), Unit::Ratio);
    let column = Evaluator::prepared(view, [&plan], &BTreeSet::from([view.as_of.t])).run(&plan, &universe);
    PeerTable::new(group, &universe, column.numbers().unwrap_or_default())
}

/// A body whose history is asked for, at months after a day.
struct Asked<'p> {
    of: Identity,
    body: &'p NumPlan,
    since: Day,
}

/// A history that is not kept, or not for long enough.
struct Missing<'p> {
    of: Identity,
    body: &'p NumPlan,
    reach: Reach,
    /// It is made for the months after this day.
    since: Day,
    /// Those after this day are asked for.
    needed: Day,
}

/// The bodies whose histories a part asks for at rows from `earliest` on, those of valuations included.
fn own_bodies<'p>(part: Part<'p>, earliest: Day, of_values: &'static [Compiled], out: &mut Vec<Asked<'p>>) {
    let mut then = earliest;
    match part {
        Part::Number(NumPlan::Own { of, body, window, .. }) => out.push(Asked { of: *of, body, since: earliest.minus(*window) }),
        Part::Number(NumPlan::Ago { span, .. }) | Part::Flag(FlagPlan::Ago { span, .. }) => then = earliest.minus(*span),
        Part::Number(NumPlan::Value(field)) if field.is_range() => {}
        Part::Number(NumPlan::Value(_)) | Part::Text(TextPlan::Judgement(_)) => {
            of_values.iter().for_each(|f| own_bodies(f.plan.part(), earliest, &[], out));
        }
        _ => {}
    }
    part.parts().into_iter().for_each(|p| own_bodies(p, then, of_values, out));
}

fn needs_dates(part: Part<'_>) -> bool {
    matches!(part, Part::Number(NumPlan::Peers { .. })) || part.parts().into_iter().any(needs_dates)
}
