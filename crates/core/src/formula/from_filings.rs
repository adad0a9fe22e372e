//! Formulas whose answers stay until a company files again.

use super::{
    compile::Compiled,
    depends::{Depends, Fingerprint},
};
use rustc_hash::FxHashMap;

/// Formulas of the product's own that follow from a company's filings alone: no price, no rate, no other company, no
/// other date takes part. Between two filings their answers stay, amounts being in the reporting currency.
#[derive(Debug)]
pub struct FromFilings {
    pub(super) formulas: Vec<&'static Compiled>,
    pub(super) places: FxHashMap<&'static str, usize>,
    fingerprint: Fingerprint,
}

impl FromFilings {
    /// Those among some formulas.
    pub(crate) fn among(all: impl IntoIterator<Item = &'static Compiled>) -> FromFilings {
        let mut out = FromFilings { formulas: Vec::new(), places: FxHashMap::default(), fingerprint: Fingerprint::of(&()) };
        for formula in all.into_iter().filter(|f| f.of_filings) {
            let next = out.formulas.len();
            if *out.places.entry(&formula.text).or_insert(next) == next {
                out.formulas.push(formula);
            }
        }
        out.fingerprint = Fingerprint::of(&out.formulas.iter().map(|f| f.identity).collect::<Vec<_>>());
        out
    }

    /// Equal for equal formulas.
    #[must_use]
    pub const fn fingerprint(&self) -> Fingerprint {
        self.fingerprint
    }

    /// The assumptions that take part.
    #[must_use]
    pub fn depends(&self) -> Depends {
        self.formulas.iter().fold(Depends::NOTHING, |all, f| all.and(f.identity.depends))
    }
}
