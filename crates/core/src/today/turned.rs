//! Verdicts that changed, and flags that were raised.

use super::Followed;
use crate::{
    Num,
    domain::Day,
    engine::Context,
    panel::{CompanyAt, CompanyIndex, PeriodIndex},
    quality::FLAGS,
    valuation::{Valuation, Verdict},
};
use serde::Serialize;

/// What of a verdict changed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum MovedBy {
    /// The price alone would have changed it.
    Price,
    /// The price to pay at most alone.
    Value,
    /// The quality alone.
    Quality,
    /// None alone, but all together.
    Together,
}

/// What a verdict rests on; amounts on the split basis of the later day.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Standing {
    pub verdict: Verdict,
    pub price: Num,
    pub buy_below: Num,
    pub quality: Num,
}

impl Standing {
    fn of(v: &Valuation, splits: f64, context: &Context) -> Standing {
        let a = &context.settings().assumptions;
        let on_basis = |amount: Num| Ok(amount? / splits);
        Standing { verdict: v.verdict(a), price: on_basis(v.price), buy_below: on_basis(v.buy_below(a)), quality: v.quality.score }
    }
}

/// A verdict that changed between two days.
#[derive(Clone, Debug, PartialEq)]
pub struct VerdictChange {
    /// The company.
    pub company: CompanyIndex,
    /// On the earlier day; `None` when it was not in the universe.
    pub before: Option<Standing>,
    /// On the later day.
    pub after: Standing,
    /// What changed it; nothing when there was none before.
    pub by: Vec<MovedBy>,
    /// The periods whose first filing came in between.
    pub filings: Vec<PeriodIndex>,
}

/// The followed companies of the universe whose verdict is another than on an earlier day, in the order in which they are followed.
#[must_use]
pub fn verdict_changes(context: &Context, t: Day, since: Day, followed: &[Followed]) -> Vec<VerdictChange> {
    let (now, then) = (context.valuations(t), context.valuations(since));
    let change = |f: &Followed| {
        let c = context.as_of(t).company(f.company);
        let earlier = c.at(since);
        let i = f.company as usize;
        let after = Standing::of(&now[i], 1.0, context);
        let before = earlier.in_universe().then(|| Standing::of(&then[i], c.splits_since(since), context));
        let same = before.is_some_and(|b| b.verdict == after.verdict);
        (c.in_universe() && !same).then(|| VerdictChange {
            company: f.company,
            by: before.map_or_else(Vec::new, |b| moved_by(&b, &after, context)),
            before,
            after,
            filings: c.periods_filed_after(since),
        })
    };
    followed.iter().filter_map(change).collect()
}

/// Which of price, price to pay and quality, each alone taken from the later day, gives another verdict.
fn moved_by(before: &Standing, after: &Standing, context: &Context) -> Vec<MovedBy> {
    let a = &context.settings().assumptions;
    let with = |price, buy_below, quality| Verdict::of(price, buy_below, quality, a) != before.verdict;
    let alone = [
        (MovedBy::Price, with(after.price, before.buy_below, before.quality)),
        (MovedBy::Value, with(before.price, after.buy_below, before.quality)),
        (MovedBy::Quality, with(before.price, before.buy_below, after.quality)),
    ];
    let by: Vec<MovedBy> = alone.into_iter().filter(|(_, changes)| *changes).map(|(by, _)| by).collect();
    if by.is_empty() { vec![MovedBy::Together] } else { by }
}

/// Flags of a company that are raised now and were not.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NewFlags {
    /// The company.
    pub company: CompanyIndex,
    /// Places in [`FLAGS`].
    pub flags: Vec<usize>,
}

/// The followed companies with flags raised since an earlier day, in the order in which they are followed; what was not checked then
/// counts as not raised.
#[must_use]
pub fn new_flags(context: &Context, t: Day, since: Day, followed: &[Followed]) -> Vec<NewFlags> {
    let (now, then) = (context.valuations(t), context.valuations(since));
    let raised =
        |values: &[Valuation], c: &CompanyAt<'_>, flag: usize| c.in_universe() && values[c.index as usize].quality.flags[flag] == Ok(true);
    let of = |f: &Followed| {
        let c = context.as_of(t).company(f.company);
        let earlier = c.at(since);
        let flags: Vec<usize> = (0..FLAGS.len()).filter(|i| raised(&now, &c, *i) && !raised(&then, &earlier, *i)).collect();
        (!flags.is_empty()).then_some(NewFlags { company: f.company, flags })
    };
    followed.iter().filter_map(of).collect()
}
