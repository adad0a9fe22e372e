//! Items from concepts: of each item's alternatives the first whose needed concepts are there.

use super::{
    concept::{Alternative, ConceptId, Member, table},
    fact::Figure,
};
use crate::domain::{Item, Kind};
use rust_decimal::Decimal;
use rustc_hash::FxHashMap;
use std::collections::BTreeMap;

/// What a period's facts of one concept come to.
#[derive(Clone, Debug)]
pub(super) struct Found {
    /// The figure that counts; `None` where they contradict each other.
    pub(super) figure: Option<Figure>,
    /// The fact that counts, the first of them in a contradiction.
    pub(super) fact: usize,
}

/// The facts of a period, by concept.
#[derive(Debug, Default)]
pub(super) struct PeriodFacts {
    pub(super) standard: FxHashMap<ConceptId, Found>,
    /// Of concepts that a person mapped, with whether they count the other way.
    pub(super) own: Vec<(Item, bool, Found)>,
}

/// An item of a period.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct ItemFigure {
    pub(super) value: Decimal,
    /// Numbers within this of it are the same figure, rounded.
    pub(super) tolerance: Decimal,
    /// The facts it is made of.
    pub(super) facts: Vec<usize>,
    /// Facts stated as negative whose sign was dropped.
    pub(super) unsigned: Vec<usize>,
}

/// The items of a period; `None` stands where facts contradict each other, and the item stays empty.
pub(super) type PeriodItems = BTreeMap<Item, Option<ItemFigure>>;

/// Every item that the facts of a period give a company of this kind.
pub(super) fn items(facts: &PeriodFacts, kind: Kind) -> PeriodItems {
    let of = |&item: &Item| Some((item, own(facts, item).or_else(|| standard(facts, item, kind))?));
    Item::ALL.iter().filter_map(of).collect()
}

fn own(facts: &PeriodFacts, item: Item) -> Option<Option<ItemFigure>> {
    let members: Vec<_> = facts.own.iter().filter(|(i, _, _)| *i == item).map(|(_, negated, found)| (found, *negated, "")).collect();
    (!members.is_empty()).then(|| sum(item, &members))
}

fn standard(facts: &PeriodFacts, item: Item, kind: Kind) -> Option<Option<ItemFigure>> {
    let there = |m: &Member| facts.standard.contains_key(&m.concept);
    let fits = |way: &&Alternative| way.kind.is_none_or(|k| k == kind) && way.members.iter().filter(|m| m.needed).all(there);
    let way = table().alternatives(item).iter().find(fits)?;
    let found = |m: &Member| Some((facts.standard.get(&m.concept)?, m.negated, table().get(m.concept).name));
    Some(sum(item, &way.members.iter().filter_map(found).collect::<Vec<_>>()))
}

fn sum(item: Item, members: &[(&Found, bool, &str)]) -> Option<ItemFigure> {
    let mut all = ItemFigure { value: Decimal::ZERO, tolerance: Decimal::ZERO, facts: Vec::new(), unsigned: Vec::new() };
    for (found, negated, name) in members {
        let figure = found.figure?;
        let wrong = figure.value.is_sign_negative() && !figure.value.is_zero() && never_negative(item) && counts_upwards(name);
        if wrong {
            all.unsigned.push(found.fact);
        }
        let value = if wrong { figure.value.abs() } else { figure.value };
        all.value += if *negated { -value } else { value };
        all.tolerance = all.tolerance.max(figure.half_unit());
        all.facts.push(found.fact);
    }
    Some(all)
}

/// The items that are amounts paid or received, and not a balance of both.
const fn never_negative(item: Item) -> bool {
    matches!(item, Item::CapitalExpenditure | Item::DividendsPaid | Item::SharesIssued | Item::SharesRepurchased)
}

/// Whether a concept is an amount paid or received by its name: a negative figure of it is a mistake in sign.
fn counts_upwards(name: &str) -> bool {
    ["Payments", "Purchase", "Repayments", "DividendsPaid", "Proceeds"].iter().any(|start| name.starts_with(start))
}
