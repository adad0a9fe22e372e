//! The facts of a filing sorted: which can be used at all, and for which fiscal period.

use super::{
    agree::agreed,
    concept::{ConceptId, CoverFact, Role, UnitKind, table},
    fact::{Fact, FactUnit, FactValue, Figure, Span},
    fiscal::{FiscalCalendar, FiscalPart, Length},
    items::{Found, PeriodFacts},
    outcome::Outcome,
};
use crate::domain::{Currency, Day, Item, Kind};
use std::{
    collections::{BTreeMap, BTreeSet, HashMap},
    hash::Hash,
    sync::Arc,
};

/// What a filing says about itself.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Document {
    /// The last day that it covers.
    pub period_end: Option<Day>,
    /// How it calls its fiscal year.
    pub fiscal_year: Option<i32>,
    /// Whether it calls itself the report of a quarter.
    pub is_quarterly: bool,
    /// Whose it is, where facts of several companies may be in it.
    pub entity: Option<Arc<str>>,
}

/// The commonest of some values, the first met of those that are equally common.
pub fn commonest<T: Copy + Eq + Hash>(values: impl IntoIterator<Item = T>) -> Option<T> {
    let mut counts: HashMap<T, (usize, usize)> = HashMap::new();
    for (i, value) in values.into_iter().enumerate() {
        counts.entry(value).or_insert((0, i)).0 += 1;
    }
    counts.into_iter().max_by_key(|(_, (count, first))| (*count, std::cmp::Reverse(*first))).map(|(value, _)| value)
}

impl Document {
    /// What the facts of a cover say; the company is that of the document's type, else the commonest.
    #[must_use]
    pub fn of(facts: &[Fact]) -> Document {
        let cover =
            |which: CoverFact| facts.iter().find(|f| f.concept.role == Role::Document(which) && f.refused.is_none() && !f.dimensioned);
        let text = |which| cover(which).and_then(|f| if let FactValue::Text(text) = &f.value { Some(text.trim()) } else { None });
        let entity = match cover(CoverFact::Type) {
            Some(fact) => fact.entity.clone(),
            None => commonest(facts.iter().filter_map(|f| f.entity.as_deref())).map(Arc::from),
        };
        Document {
            period_end: text(CoverFact::PeriodEnd).and_then(|t| t.get(..10)?.parse().ok()),
            fiscal_year: text(CoverFact::FiscalYear).and_then(|t| t.parse().ok()).filter(|y| (1900..=2200).contains(y)),
            is_quarterly: matches!(text(CoverFact::FiscalPeriod), Some("Q1" | "Q2" | "Q3")),
            entity,
        }
    }
}

/// A fact that may be used.
#[derive(Clone, Copy, Debug)]
pub(super) struct Candidate {
    pub(super) fact: usize,
    pub(super) concept: Serves,
    pub(super) figure: Figure,
    pub(super) span: Span,
}

/// What a candidate serves.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Serves {
    Standard(ConceptId),
    /// An item by a concept of the company's own: the fact that stands for the concept, and whether it counts the other way.
    Own(Item, usize, bool),
}

/// The candidates among a filing's facts, the outcomes of the others, and the filing's currency.
#[derive(Debug)]
pub(super) struct Candidates {
    pub(super) all: Vec<Candidate>,
    pub(super) outcomes: Vec<Option<Outcome>>,
    pub(super) currency: Option<Currency>,
}

/// Sorts out what cannot be used whatever its period.
pub(super) fn candidates(facts: &[Fact], document: &Document, kind: Kind) -> Candidates {
    let mut all = Vec::new();
    let mut names: HashMap<&str, usize> = HashMap::new();
    let mut outcomes: Vec<Option<Outcome>> = facts
        .iter()
        .enumerate()
        .map(|(i, fact)| match candidate(fact, document, kind) {
            Ok((serves, figure)) => {
                let concept = match serves {
                    Serves::Own(item, _, negated) => Serves::Own(item, *names.entry(&fact.concept.name).or_insert(i), negated),
                    standard => standard,
                };
                all.push(Candidate { fact: i, concept, figure, span: fact.span });
                None
            }
            Err(outcome) => Some(outcome),
        })
        .collect();
    let currency = currency(facts, &all);
    all.retain(|c| {
        let other = matches!(facts[c.fact].unit, FactUnit::Money(of) | FactUnit::PerShare(of) if Some(of) != currency);
        if other {
            outcomes[c.fact] = Some(Outcome::Currency);
        }
        !other
    });
    Candidates { all, outcomes, currency }
}

fn candidate(fact: &Fact, document: &Document, kind: Kind) -> Result<(Serves, Figure), Outcome> {
    if let Some(refused) = fact.refused {
        return Err(refused);
    }
    if let Role::Document(_) = fact.concept.role {
        return Err(Outcome::Document);
    }
    if fact.dimensioned {
        return Err(Outcome::Dimension);
    }
    if document.entity.is_some() && fact.entity.is_some() && fact.entity != document.entity {
        return Err(Outcome::Entity);
    }
    let (serves, unit) = match fact.concept.role {
        Role::Own(Some(own)) => (Serves::Own(own.item, 0, own.negated), table().item(own.item).0),
        Role::Own(None) => return Err(Outcome::Extension),
        Role::Mapped(id) if table().get(id).serves(kind) => (Serves::Standard(id), table().get(id).unit),
        _ => return Err(Outcome::Unmapped),
    };
    match fact.value {
        FactValue::Nil => Err(Outcome::Nil),
        FactValue::Text(_) => Err(Outcome::NotANumber),
        FactValue::Number(_) if !unit.fits(fact.unit) => Err(Outcome::Unit),
        FactValue::Number(figure) => Ok((serves, figure)),
    }
}

/// The currency of the newest total assets; of several the one that is used most.
fn currency(facts: &[Fact], all: &[Candidate]) -> Option<Currency> {
    let money = |c: &Candidate| match facts[c.fact].unit {
        FactUnit::Money(currency) => Some(currency),
        _ => None,
    };
    let day = |c: &Candidate| if let Span::Instant(day) = c.span { Some(day) } else { None };
    let assets = || all.iter().filter(|c| facts[c.fact].concept.is_total_assets());
    let newest = assets().filter_map(day).max();
    let of_assets: BTreeSet<Currency> = assets().filter(|c| day(c) == newest).filter_map(money).collect();
    commonest(all.iter().filter_map(money).filter(|c| of_assets.is_empty() || of_assets.contains(c)))
}

impl Serves {
    fn is_instant(self) -> bool {
        match self {
            Serves::Standard(id) => table().get(id).instant,
            Serves::Own(item, ..) => table().item(item).1,
        }
    }
}

impl Candidate {
    /// Whether its span is of the concept's kind.
    fn is_of_its_kind(&self) -> bool {
        match self.span {
            Span::Instant(_) => self.concept.is_instant(),
            Span::Duration(..) => !self.concept.is_instant(),
            Span::Forever => false,
        }
    }

    /// The last day and the length of a duration.
    pub(super) fn length(&self) -> Option<(Day, Length)> {
        match self.span {
            Span::Duration(first, last) if self.is_of_its_kind() => Length::of(first, last).map(|length| (last, length)),
            _ => None,
        }
    }
}

/// The facts of each fiscal part, with its last day.
#[derive(Debug, Default)]
pub(super) struct Parts {
    pub(super) facts: BTreeMap<FiscalPart, PeriodFacts>,
    pub(super) ends: BTreeMap<FiscalPart, Day>,
    /// The candidates of each part: they have no outcome yet.
    pub(super) members: BTreeMap<FiscalPart, Vec<Candidate>>,
}

/// Groups candidates by fiscal part; those of no part, without a balance sheet, and all but one of those that say the same get their
/// outcomes.
pub(super) fn parts(facts: &[Fact], sorted: &mut Candidates, calendar: FiscalCalendar, quarterly: impl Fn(i32) -> bool) -> Parts {
    let balance_days: BTreeSet<Span> = sorted.all.iter().filter(|c| facts[c.fact].concept.is_total_assets()).map(|c| c.span).collect();
    let mut grouped: BTreeMap<FiscalPart, Vec<Candidate>> = BTreeMap::new();
    for candidate in &sorted.all {
        let part = candidate.is_of_its_kind().then(|| calendar.part(candidate.span, &quarterly)).flatten();
        let outcome = match part {
            None => Outcome::Period,
            Some(_) if matches!(candidate.span, Span::Instant(_)) && !balance_days.contains(&candidate.span) => Outcome::NoBalanceSheet,
            Some(part) => {
                grouped.entry(part).or_default().push(*candidate);
                continue;
            }
        };
        sorted.outcomes[candidate.fact] = Some(outcome);
    }
    let mut parts = Parts::default();
    for (part, mut candidates) in grouped {
        let last = |c: &Candidate| match c.span {
            Span::Instant(day) | Span::Duration(_, day) => Some(day),
            Span::Forever => None,
        };
        if let Some(end) = commonest(candidates.iter().filter_map(last)) {
            parts.ends.insert(part, end);
        }
        candidates.sort_by_key(|c| c.concept);
        let mut found = PeriodFacts::default();
        for same in candidates.chunk_by(|a, b| a.concept == b.concept) {
            let one = one_of(same, &mut sorted.outcomes);
            match same[0].concept {
                Serves::Standard(id) => {
                    found.standard.insert(id, one);
                }
                Serves::Own(item, _, negated) => found.own.push((item, negated, one)),
            }
        }
        parts.facts.insert(part, found);
        parts.members.insert(part, candidates);
    }
    parts
}

/// The one figure of several facts of a concept and part, if they agree.
fn one_of(same: &[Candidate], outcomes: &mut [Option<Outcome>]) -> Found {
    let figures: Vec<Figure> = same.iter().map(|c| c.figure).collect();
    let best = agreed(&figures);
    for (i, candidate) in same.iter().enumerate() {
        match best {
            None => outcomes[candidate.fact] = Some(Outcome::Conflict),
            Some(best) if best != i => outcomes[candidate.fact] = Some(Outcome::Duplicate),
            Some(_) => {}
        }
    }
    let counts = &same[best.unwrap_or(0)];
    Found { figure: best.map(|_| counts.figure), fact: counts.fact }
}

/// The one count of shares on a cover, with its day and facts; `None` where there is none or there are several.
pub(super) fn cover_count(facts: &[Fact]) -> Option<(Figure, Day, Vec<usize>)> {
    let mut found: Option<(Figure, Day, Vec<usize>)> = None;
    for (i, fact) in facts.iter().enumerate() {
        let is_count = fact.concept.role == Role::Document(CoverFact::Shares) && fact.refused.is_none() && !fact.dimensioned;
        let (FactValue::Number(figure), Span::Instant(day)) = (&fact.value, fact.span) else { continue };
        if !is_count || !UnitKind::Shares.fits(fact.unit) {
            continue;
        }
        match &mut found {
            None => found = Some((*figure, day, vec![i])),
            Some((first, first_day, all)) if first.value == figure.value && *first_day == day => all.push(i),
            Some(_) => return None,
        }
    }
    found
}
