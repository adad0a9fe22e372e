//! What the user assumes of single companies.

use super::Override;
use crate::formula::Fingerprint;
use rustc_hash::FxHashMap;
use std::{collections::BTreeMap, sync::Arc};

/// The user's assumptions of companies, by company id.
#[derive(Clone, Debug)]
pub struct Overrides {
    of: FxHashMap<String, Arc<Override>>,
    fingerprint: Fingerprint,
}

impl Default for Overrides {
    fn default() -> Overrides {
        Overrides::new([])
    }
}

impl Overrides {
    /// Those that change something.
    pub fn new(all: impl IntoIterator<Item = (String, Override)>) -> Overrides {
        let of: FxHashMap<String, Arc<Override>> = all.into_iter().filter(|o| !o.1.is_empty()).map(|(id, o)| (id, Arc::new(o))).collect();
        let fingerprint = Fingerprint::of(&of.iter().collect::<BTreeMap<_, _>>());
        Overrides { of, fingerprint }
    }

    /// Those of one company.
    #[must_use]
    pub fn of(&self, company: &str) -> Option<&Arc<Override>> {
        if self.of.is_empty() { None } else { self.of.get(company) }
    }

    /// Equal for equal assumptions.
    #[must_use]
    pub const fn fingerprint(&self) -> Fingerprint {
        self.fingerprint
    }

    /// With those of one company changed.
    #[must_use]
    pub fn with(&self, company: &str, own: Override) -> Overrides {
        let others = self.of.iter().filter(|(id, _)| *id != company).map(|(id, o)| (id.clone(), (**o).clone()));
        Overrides::new(others.chain([(company.to_owned(), own)]))
    }

    /// All, by company id.
    pub fn iter(&self) -> impl Iterator<Item = (&str, &Override)> {
        self.of.iter().map(|(id, o)| (id.as_str(), &**o))
    }
}
