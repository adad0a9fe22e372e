//! Ranked candidates in another order than that of their places.

use artemon_core::{Num, engine::Context, ranking::Candidate, valuation::Verdict};
use serde::{Deserialize, Serialize};
use std::cmp::Ordering;
use utoipa::ToSchema;

/// One key of an order.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RowOrder {
    /// What is compared.
    pub by: RowKey,
    /// The greatest first; undefined comes last both ways.
    #[serde(default)]
    pub descending: bool,
}

/// What rows can be compared by.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum RowKey {
    Place,
    Name,
    Verdict,
    Price,
    BuyBelow,
    IntrinsicValue,
    MarginOfSafety,
    Quality,
    RedFlags,
    ExpectedReturn,
    Score,
}

/// Candidates with their places from 0, in an order; those that are equal stay in order of place.
pub(crate) fn in_order<'c>(ranked: &'c [Candidate], order: &[RowOrder], context: &Context) -> Vec<(usize, &'c Candidate)> {
    let mut rows: Vec<(usize, &Candidate)> = ranked.iter().enumerate().collect();
    if !order.is_empty() {
        let key = |k: &RowOrder, a: &(usize, &Candidate), b: &(usize, &Candidate)| match k.by {
            RowKey::Name => directed(name(context, a.1).cmp(&name(context, b.1)), k.descending),
            _ => compared(number(context, k.by, *a), number(context, k.by, *b), k.descending),
        };
        rows.sort_by(|a, b| order.iter().map(|k| key(k, a, b)).fold(Ordering::Equal, Ordering::then));
    }
    rows
}

fn name(context: &Context, c: &Candidate) -> String {
    context.snapshot().company(c.company).name.to_lowercase()
}

#[allow(clippy::cast_precision_loss)] // places and flags are small
fn number(context: &Context, key: RowKey, (place, c): (usize, &Candidate)) -> Num {
    let v = c.value();
    match key {
        RowKey::Place | RowKey::Name => Ok(place as f64),
        RowKey::Verdict => Ok(f64::from(standing(c.verdict))),
        RowKey::Price => v.price,
        RowKey::BuyBelow => v.buy_below(&context.settings().assumptions),
        RowKey::IntrinsicValue => v.value,
        RowKey::MarginOfSafety => v.margin_of_safety(),
        RowKey::Quality => v.quality.score,
        RowKey::RedFlags => Ok(v.quality.red_flags() as f64),
        RowKey::ExpectedReturn => v.expected_return,
        RowKey::Score => c.score.ok_or(artemon_core::Why::NoAnswer),
    }
}

/// How near a verdict is to a purchase.
const fn standing(verdict: Verdict) -> u8 {
    match verdict {
        Verdict::InRange => 4,
        Verdict::Close => 3,
        Verdict::Wait => 2,
        Verdict::Pass => 1,
        Verdict::CannotValue => 0,
    }
}

fn compared(a: Num, b: Num, descending: bool) -> Ordering {
    match (a, b) {
        (Ok(a), Ok(b)) => directed(a.total_cmp(&b), descending),
        (a, b) => a.is_err().cmp(&b.is_err()),
    }
}

const fn directed(order: Ordering, descending: bool) -> Ordering {
    if descending { order.reverse() } else { order }
}
