//! Ranked candidates in another order than that of their places.

use artemon_core::{Num, Why, engine::Context, ranking::Candidate, valuation::Verdict};
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

/// What one row is compared by.
enum Key {
    Number(Num),
    Text(String),
}

/// Candidates with their places from 0, in an order; those that are equal stay in order of place.
pub(crate) fn in_order<'c>(ranked: &'c [Candidate], order: &[RowOrder], context: &Context) -> Vec<(usize, &'c Candidate)> {
    let places = ranked.iter().enumerate();
    if order.is_empty() {
        return places.collect();
    }
    let keys = |(place, c)| order.iter().map(|o| key(context, o.by, place, c)).collect();
    let mut rows: Vec<(Vec<Key>, (usize, &Candidate))> = places.map(|row| (keys(row), row)).collect();
    rows.sort_by(|(a, _), (b, _)| {
        let by_key = order.iter().zip(a.iter().zip(b)).map(|(o, (a, b))| compared(a, b, o.descending));
        by_key.fold(Ordering::Equal, Ordering::then)
    });
    rows.into_iter().map(|(_, row)| row).collect()
}

#[allow(clippy::cast_precision_loss)] // places and flags are small
fn key(context: &Context, by: RowKey, place: usize, c: &Candidate) -> Key {
    let v = c.value();
    Key::Number(match by {
        RowKey::Name => return Key::Text(context.snapshot().company(c.company).name.to_lowercase()),
        RowKey::Place => Ok(place as f64),
        RowKey::Verdict => Ok(f64::from(standing(c.verdict))),
        RowKey::Price => v.price,
        RowKey::BuyBelow => v.buy_below(&context.settings().assumptions),
        RowKey::IntrinsicValue => v.value,
        RowKey::MarginOfSafety => v.margin_of_safety(),
        RowKey::Quality => v.quality.score,
        RowKey::RedFlags => Ok(v.quality.red_flags() as f64),
        RowKey::ExpectedReturn => v.expected_return,
        RowKey::Score => c.score.ok_or(Why::NoAnswer),
    })
}

/// A candidate's number by a key; nothing where it is undefined or no number.
pub(crate) fn number(context: &Context, by: RowKey, c: &Candidate) -> Option<f64> {
    if let Key::Number(Ok(x)) = key(context, by, 0, c) { Some(x) } else { None }
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

/// Undefined comes last both ways.
fn compared(a: &Key, b: &Key, descending: bool) -> Ordering {
    let order = match (a, b) {
        (Key::Number(Ok(a)), Key::Number(Ok(b))) => a.total_cmp(b),
        (Key::Text(a), Key::Text(b)) => a.cmp(b),
        (Key::Number(a), Key::Number(b)) => return a.is_err().cmp(&b.is_err()),
        _ => Ordering::Equal,
    };
    if descending { order.reverse() } else { order }
}
