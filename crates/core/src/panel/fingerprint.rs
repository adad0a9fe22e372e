//! By what a dataset is known: equal for equal data, whatever way they came in.

use super::{bars::Field, company::CompanyPanel, snapshot::Snapshot};
use rayon::prelude::*;
use rustc_hash::FxHasher;
use std::{
    fmt::{Debug, Write},
    hash::{Hash, Hasher},
};

impl Snapshot {
    /// Sixteen digits that follow from all that figures are computed from: with the same ones they are the same to the last digit. News,
    /// events and annotations, which nothing is computed from, take no part.
    #[must_use]
    pub fn fingerprint(&self) -> String {
        let each: Vec<u64> = self.companies.par_iter().map(|c| of_company(c)).collect();
        let mut all = FxHasher::default();
        each.hash(&mut all);
        told(&self.shared.market.in_order(), &mut all);
        told(&self.shared.indexes, &mut all);
        format!("{:016x}", all.finish())
    }
}

fn of_company(panel: &CompanyPanel) -> u64 {
    let mut hash = FxHasher::default();
    let dates = panel.bars.dates();
    dates.hash(&mut hash);
    for field in [Field::Open, Field::High, Field::Low, Field::Close, Field::Volume] {
        panel.bars.series(field, 0..dates.len()).iter().for_each(|x| hash.write_u64(x.to_bits()));
    }
    panel.statements.hash_into(&mut hash);
    let facts = &panel.facts;
    let bits = |x: Option<f64>| x.map(f64::to_bits);
    for e in &facts.estimates {
        (e.published_on, e.metric as u8, e.fiscal_year, e.period.map(|p| p as u8), e.mean.to_bits()).hash(&mut hash);
        (bits(e.low), bits(e.high), bits(e.analysts)).hash(&mut hash);
    }
    told(&(&facts.company, &facts.listing, &facts.splits, &facts.dividends), &mut hash);
    told(&(&facts.trades, &facts.ownership, &facts.officers), &mut hash);
    hash.finish()
}

/// What is short enough to be hashed as it is written out.
fn told(what: &impl Debug, hash: &mut FxHasher) {
    let mut text = String::new();
    // Writing to a text does not fail.
    write!(text, "{what:?}").ok();
    text.hash(hash);
}
