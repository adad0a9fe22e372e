//! Under what an answer is kept: derived from what it is made of, never chosen.

use super::settings::OfSettings;
use crate::{
    domain::Day,
    formula::{Fingerprint, Identity, Reach},
    panel::FilingState,
};
use std::{any::TypeId, sync::Arc};

/// The key of an answer.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub(super) struct Key {
    /// The data, where the answer depends on more than one company's filings.
    pub(super) generation: Option<u64>,
    pub(super) what: What,
    /// Exactly those settings on which it depends.
    pub(super) settings: OfSettings,
}

impl What {
    /// As of which day it is; none where it is of no single day.
    pub(super) fn day(&self) -> Option<Day> {
        match self {
            What::Members(t)
            | What::Derived(_, t, _)
            | What::OfColumn(_, t, ..)
            | What::Column(t, _)
            | What::Start(t)
            | What::Values(t) => Some(*t),
            What::Market(month, months) => Some(month.month_end().plus_months(*months)),
            What::Compiled(..) | What::History(..) | What::Filed(..) | What::Whole(_) => None,
        }
    }
}

/// What is kept.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub(super) enum What {
    /// A checked formula, by the measures of the person's own and its text.
    Compiled(Fingerprint, Arc<str>),
    /// The universe of a day.
    Members(Day),
    /// Something of a type made of the universe of a day and of what is told of it.
    Derived(TypeId, Day, Fingerprint),
    /// Something of a type made of a formula's answers over the universe of a day and of what is told of it.
    OfColumn(TypeId, Day, Identity, Fingerprint),
    /// A formula's answers over the universe of a day.
    Column(Day, Identity),
    /// A formula's answers at the month ends of all companies.
    History(Identity, Reach),
    /// What the valuations of all companies start from.
    Start(Day),
    /// The valuations of all companies.
    Values(Day),
    /// What some formulas give that follow from one company's filings alone.
    Filed(Fingerprint, FilingState),
    /// The market's returns over so many months, from the days of a calendar month on, which its first day stands for.
    Market(Day, i32),
    /// Something about the snapshot as a whole, one of a type.
    Whole(TypeId),
}
