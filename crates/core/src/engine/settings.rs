//! What a computation needs beside data and date: what belongs to the person who asks.

use crate::{
    domain::Currency,
    formula::{Depends, Fingerprint, Library},
    measures,
    valuation::{Assumptions, Overrides, Premises},
};
use std::{
    collections::{BTreeMap, BTreeSet},
    sync::Arc,
};

/// What to compute with.
#[derive(Clone, Debug)]
pub struct Settings {
    /// The currency of whole-company amounts.
    pub base: Currency,
    /// The assumption set of valuations.
    pub assumptions: Assumptions,
    /// The person's own measures.
    pub library: Arc<Library>,
    /// What the person assumes of single companies.
    pub overrides: Arc<Overrides>,
    /// The person's lists.
    pub lists: Arc<Lists>,
}

/// Lists by name, each with the ids of its companies.
pub type Lists = BTreeMap<String, BTreeSet<Arc<str>>>;

impl Settings {
    /// The Standard assumption set with this base currency.
    #[must_use]
    pub fn standard(base: Currency) -> Settings {
        let library = Arc::new(measures::library([]));
        Settings { base, assumptions: Assumptions::standard(), library, overrides: Arc::default(), lists: Arc::default() }
    }

    /// What is assumed.
    #[must_use]
    pub fn premises(&self) -> Premises<'_> {
        Premises { assumptions: &self.assumptions, overrides: &self.overrides }
    }
}

/// Fingerprints of the settings, each assumption or group of them by itself.
#[derive(Clone, Debug)]
pub(super) struct Fingerprints {
    base: Currency,
    each: [Fingerprint; Depends::EACH.len()],
}

impl Fingerprints {
    pub(super) fn of(settings: &Settings) -> Fingerprints {
        let one = |part: Depends| match part {
            Depends::OVERRIDES => settings.overrides.fingerprint(),
            other => settings.assumptions.fingerprint(other),
        };
        Fingerprints { base: settings.base, each: Depends::EACH.map(one) }
    }

    /// Of exactly those settings on which something depends.
    pub(super) fn on(&self, depends: Depends) -> OfSettings {
        let chosen = |at: usize| depends.has(Depends::EACH[at]).then(|| self.each[at]);
        OfSettings { base: Some(self.base), each: std::array::from_fn(chosen) }
    }
}

/// The settings on which an answer depends, as part of the key under which it is kept.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub(super) struct OfSettings {
    base: Option<Currency>,
    each: [Option<Fingerprint>; Depends::EACH.len()],
}

impl OfSettings {
    /// Amounts stay in the reporting currency.
    pub(super) fn without_base(self) -> OfSettings {
        OfSettings { base: None, ..self }
    }
}
