//! Figures as tables show them: six significant digits, ranges and spreads as plain lists. Opening a figure, and what is
//! taken out, has them in full.

use super::figure::Figure;
use crate::valuing::spread::Spread;
use artemon_core::formula::{FigureValue, OwnRange, Value};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// The figures of a row, by column.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Cells {
    /// Numbers, flags and texts; null where there is none.
    #[schema(value_type = Vec<Option<FigureValue>>)]
    pub values: Vec<Value>,
    /// Of those that are null, by column: why.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    #[schema(required = false)]
    #[schema(value_type = BTreeMap<String, String>)]
    pub reasons: BTreeMap<usize, String>,
}

/// Low, lower quartile, median, upper quartile, high, today, and today's rank from 0 to 100.
pub type CompactRange = [f64; 7];

/// The valuations of a company on one axis of money.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct CompactSpread {
    /// Price, value, low, high, and the price to pay at most.
    #[schema(value_type = Vec<f64>)]
    pub marks: [f64; 5],
    /// Valuations that count.
    pub kept: Vec<f64>,
    /// Valuations set apart as extremes.
    pub outliers: Vec<f64>,
}

/// A row of figures.
pub(crate) fn cells(values: Vec<Value>) -> Cells {
    let reasons = values.iter().enumerate().filter_map(|(i, v)| v.why().map(|why| (i, why.to_string()))).collect();
    let short = |v| if let Value::Number(x) = v { Value::Number(six_digits(x)) } else { v };
    Cells { values: values.into_iter().map(short).collect(), reasons }
}

/// A range as a list.
pub(crate) fn compact_range(r: &OwnRange) -> CompactRange {
    [r.low, r.lower_quartile, r.median, r.upper_quartile, r.high, r.today, r.rank].map(six_digits)
}

impl From<&Spread> for CompactSpread {
    fn from(s: &Spread) -> CompactSpread {
        let all = |values: &[f64]| values.iter().copied().map(six_digits).collect();
        CompactSpread {
            marks: [s.price, s.value, s.low, s.high, s.buy_below].map(six_digits),
            kept: all(&s.kept),
            outliers: all(&s.outliers),
        }
    }
}

/// A figure, its number to six digits.
pub(crate) fn short(figure: Figure) -> Figure {
    match figure.value {
        Value::Number(x) => Figure { value: Value::Number(six_digits(x)), ..figure },
        _ => figure,
    }
}

/// A spread, its amounts to six digits.
pub(crate) fn short_spread(s: Spread) -> Spread {
    let all = |values: Vec<f64>| values.into_iter().map(six_digits).collect();
    let [price, value, low, high, buy_below] = [s.price, s.value, s.low, s.high, s.buy_below].map(six_digits);
    Spread { price, value, low, high, buy_below, kept: all(s.kept), outliers: all(s.outliers) }
}

/// A number rounded to six significant digits.
#[allow(clippy::cast_possible_truncation)] // the exponent of a number has three digits
pub(crate) fn six_digits(x: f64) -> f64 {
    if x == 0.0 || !x.is_finite() {
        return x;
    }
    let last = x.abs().log10().floor() as i32 - 5;
    // Powers of ten with positive exponents are exact, and so is what they make of whole numbers.
    let unit = 10f64.powi(last.abs());
    if last >= 0 { (x / unit).round() * unit } else { (x * unit).round() / unit }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn six_digits_are_kept_whatever_the_size() {
        let short = |x: f64| serde_json::to_string(&six_digits(x)).unwrap();
        let numbers = [0.123_456_789, -41.987_654_3, 1_234_567.891, 9_999_996.0, 0.1 + 0.2, 7.0, 1.234_567_8e-9, 2.5e15 / 3.0];
        let shown = numbers.map(short);
        assert_eq!(shown, ["0.123457", "-41.9877", "1234570.0", "10000000.0", "0.3", "7.0", "1.23457e-9", "833333000000000.0"]);
        assert_eq!((six_digits(0.0), six_digits(f64::INFINITY)), (0.0, f64::INFINITY));
    }
}
