//! What came of decisions, and how well confidences were placed.

use crate::{
    Num,
    domain::Day,
    engine::Context,
    index_levels::index_levels,
    panel::CompanyAt,
    price::total_return,
    stats::{mean, median},
};
use serde::{Deserialize, Serialize};

/// What was decided.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Choice {
    Buy,
    /// Looked at, and not bought for now.
    NotNow,
    Sell,
    Keep,
}

impl Choice {
    /// Whether it is right when the share beats the index; otherwise it is when the share does not.
    #[must_use]
    pub const fn is_for(self) -> bool {
        matches!(self, Choice::Buy | Choice::Keep)
    }
}

/// After so many years a decision is judged.
pub const JUDGED_AFTER: i32 = 3;

/// What a share and an index brought since a decision, up to the day on which it is judged.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Outcome {
    /// The day up to which both are compared.
    pub until: Day,
    /// Three years are over.
    pub settled: bool,
    /// Total return of the share in the base currency.
    pub share: Num,
    /// That of the index in the base currency; none without levels.
    pub index: Option<f64>,
}

impl Outcome {
    /// What the share brought above the index.
    #[must_use]
    pub fn excess(&self) -> Option<f64> {
        Some(self.share.ok()? - self.index?)
    }

    /// Whether a decision was right, as far as can be said.
    #[must_use]
    pub fn proves(&self, choice: Choice) -> Option<bool> {
        self.excess().map(|excess| (excess > 0.0) == choice.is_for())
    }
}

/// What came of a decision on the company's date by a later day; none before any session followed it.
#[must_use]
pub fn outcome(context: &Context, c: &CompanyAt<'_>, t: Day, index: Option<&str>) -> Option<Outcome> {
    let from = c.t();
    let end = from.plus_months(12 * JUDGED_AFTER);
    let (until, settled) = (end.min(t), end <= t);
    if until <= from {
        return None;
    }
    let (base, currency) = (context.settings().base, c.listing_currency());
    let rate = |day: Day| context.as_of(day).fx(currency, base);
    let share = total_return(c, until).and_then(|r| match rate(from).zip(rate(until)) {
        Some((then, now)) if then > 0.0 => Ok((1.0 + r) * now / then - 1.0),
        _ => Err(crate::Why::NoFx),
    });
    let levels = index.and_then(|id| index_levels(context, id, &[from, until]));
    let index = levels.and_then(|l| Some(l[1]? / l[0].filter(|level| *level > 0.0)? - 1.0));
    Some(Outcome { until, settled, share, index })
}

/// A decision as the record counts it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Judged {
    /// Between 0.5 and 0.95, where it was said.
    pub confidence: Option<f64>,
    /// Whether it was right.
    pub right: Option<bool>,
    /// What the share brought above the index.
    pub excess: Option<f64>,
}

/// How good decisions were.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Record {
    /// Decisions of which it can be said whether they were right.
    pub count: usize,
    #[allow(missing_docs)]
    pub right: usize,
    /// Right ÷ count.
    pub hit_rate: Option<f64>,
    /// Of what the shares brought above the index.
    pub median_excess: Option<f64>,
    /// Decisions with a confidence among them.
    pub with_confidence: usize,
    /// The mean confidence of these.
    pub confidence: Option<f64>,
    /// Mean (confidence − outcome)² of these, an outcome being 1 when right and 0 when wrong: 0 is perfect, always saying 50 % gives 0.25.
    pub brier: Option<f64>,
    /// The same of somebody who always says how often these were right.
    pub brier_of_base_rate: Option<f64>,
    /// Too few to mean anything.
    pub few: bool,
}

/// Below this many decisions a record says little.
const FEW: usize = 20;

/// Counts decisions together.
#[must_use]
pub fn record(all: &[Judged]) -> Record {
    let known: Vec<(bool, Option<f64>)> = all.iter().filter_map(|j| Some((j.right?, j.confidence))).collect();
    let stated: Vec<(f64, f64)> = known.iter().filter_map(|(right, p)| Some((f64::from(u8::from(*right)), (*p)?))).collect();
    let right = known.iter().filter(|k| k.0).count();
    let of_stated = |f: &dyn Fn(&(f64, f64)) -> f64| mean(&stated.iter().map(f).collect::<Vec<_>>());
    let base_rate = of_stated(&|s| s.0);
    Record {
        count: known.len(),
        right,
        hit_rate: (!known.is_empty()).then(|| right as f64 / known.len() as f64),
        median_excess: median(&all.iter().filter_map(|j| j.excess).collect::<Vec<_>>()),
        with_confidence: stated.len(),
        confidence: of_stated(&|s| s.1),
        brier: of_stated(&|s| (s.1 - s.0).powi(2)),
        brier_of_base_rate: base_rate.and_then(|b| of_stated(&|s| (b - s.0).powi(2))),
        few: known.len() < FEW,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn judged(confidence: f64, right: bool, excess: f64) -> Judged {
        Judged { confidence: Some(confidence), right: Some(right), excess: Some(excess) }
    }

    /// (0.2² + 0.6² + 0.1²) ÷ 3 = 0.41 ÷ 3; two of three are right, so that always saying ⅔ gives ⅔ × ⅓ = 2 ÷ 9.
    #[test]
    fn confidences_are_held_against_what_came() {
        let r = record(&[judged(0.8, true, 0.3), judged(0.6, false, -0.2), judged(0.9, true, 0.1)]);
        assert_eq!((r.count, r.right, r.with_confidence, r.few), (3, 2, 3, true));
        assert!((r.brier.unwrap() - 0.41 / 3.0).abs() < 1e-12);
        assert!((r.brier_of_base_rate.unwrap() - 2.0 / 9.0).abs() < 1e-12);
        assert!((r.median_excess.unwrap() - 0.1).abs() < 1e-12);
    }

    /// One without a confidence counts for the hit rate, one without an outcome for nothing.
    #[test]
    fn what_was_not_said_or_is_not_known_is_left_out() {
        let r = record(&[
            judged(0.7, true, 0.3),
            Judged { confidence: None, right: Some(false), excess: Some(-0.1) },
            Judged { confidence: Some(0.9), right: None, excess: None },
        ]);
        assert_eq!((r.count, r.with_confidence, r.hit_rate), (2, 1, Some(0.5)));
        assert!((r.brier.unwrap() - 0.09).abs() < 1e-12);
        assert_eq!(record(&[]).hit_rate, None);
    }

    #[test]
    fn a_share_that_falls_behind_proves_who_left_it_alone_right() {
        let day = Day::from_epoch_days(20_000);
        let o = Outcome { until: day, settled: true, share: Ok(0.1), index: Some(0.2) };
        let found = [Choice::Buy, Choice::Keep, Choice::NotNow, Choice::Sell].map(|c| o.proves(c));
        assert_eq!(found, [Some(false), Some(false), Some(true), Some(true)]);
        assert_eq!(Outcome { index: None, ..o }.proves(Choice::Buy), None);
    }
}
