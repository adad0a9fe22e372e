//! How good a business is, 0–100, by pillars and components; what could be wrong with it, as red flags; how sound that
//! makes it.
//!
//! Components ([`components`]) and flags ([`flags`]) are tables of formulas; everything after them is plain arithmetic.

mod components;
mod flags;

pub use components::{COMPONENTS, Component, Pillar, Suits, measured_in};
pub use flags::{FLAGS, RedFlag};

use crate::{
    Num, Why,
    domain::Kind,
    formula::{QualityField, Sheet},
    panel::CompanyAt,
};

/// The share of all points whose components must be known, in points of 100.
const LEAST_COVERAGE: f64 = 60.0;
/// Least quality and most red flags of soundness 1 to 3; all others are 4.
const SOUND: [(f64, usize); 3] = [(75.0, 0), (60.0, 1), (45.0, 2)];

/// The component that measures insiders' net buying.
const INSIDER_BUYING: &str = "insider_net_buying_ratio";

/// A component by its position in [`COMPONENTS`], what was measured, and its score of 0–1.
pub type Measured = (usize, Num, Num);

/// A pillar's outcome.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct PillarScore {
    /// Which.
    pub pillar: Pillar,
    /// Points reached; undefined when none of its components is known.
    pub points: Num,
}

/// The quality of one company at one date.
#[derive(Clone, Debug)]
pub struct Quality {
    /// 0–100.
    pub score: Num,
    /// Points of 100 whose components are known.
    pub coverage: Num,
    /// The five pillars.
    pub pillars: Vec<PillarScore>,
    /// The components that suit the company, by position in [`COMPONENTS`], with what was measured and a score of 0–1.
    pub components: Vec<Measured>,
    /// One a flag of [`FLAGS`]: raised, not raised, or not checked and why.
    pub flags: Vec<Result<bool, Why>>,
    /// Insiders' net buying over a year, as a share of the company; known of funds too.
    pub insider_buying: Num,
}

impl Quality {
    /// Nothing is known.
    #[must_use]
    pub fn none(why: Why) -> Quality {
        let pillars = Pillar::ALL.iter().map(|&pillar| PillarScore { pillar, points: Err(why) }).collect();
        Quality {
            score: Err(why),
            coverage: Err(why),
            pillars,
            components: Vec::new(),
            flags: vec![Err(why); FLAGS.len()],
            insider_buying: Err(why),
        }
    }

    /// How many flags are raised.
    #[must_use]
    pub fn red_flags(&self) -> usize {
        self.flags.iter().filter(|f| **f == Ok(true)).count()
    }

    /// 1 (best) to 4; undefined when the score is.
    #[allow(clippy::cast_precision_loss)]
    pub fn soundness(&self) -> Num {
        let (score, flags) = (self.score?, self.red_flags());
        Ok(SOUND.iter().position(|&(least, most)| score >= least && flags <= most).unwrap_or(SOUND.len()) as f64 + 1.0)
    }

    /// A figure of the quality as a measure.
    #[allow(clippy::cast_precision_loss)]
    pub fn field(&self, field: QualityField) -> Num {
        match field {
            QualityField::Score => self.score,
            QualityField::Coverage => self.coverage,
            QualityField::Pillar(pillar) => self.pillars[pillar as usize].points,
            QualityField::RedFlags => Ok(self.red_flags() as f64),
            QualityField::Soundness => self.soundness(),
        }
    }
}

/// The qualities of a chunk of rows.
pub(crate) fn quality_rows(sheet: &Sheet<'_, '_>) -> Vec<Quality> {
    let (measured, flags) = (components::measure(sheet), flags::check(sheet));
    let one = |row: &CompanyAt<'_>, measured: Vec<Measured>, flags| {
        let buying = measured.iter().find(|m| COMPONENTS[m.0].id == INSIDER_BUYING).map_or(Err(Why::NotMeaningful), |m| m.1);
        Quality { insider_buying: buying, ..quality(row.kind(), measured, flags) }
    };
    sheet.rows.iter().zip(measured).zip(flags).map(|((row, measured), flags)| one(row, measured, flags)).collect()
}

/// From what was measured: (position in [`COMPONENTS`], measured, score 0–1).
///
/// A component that is not known drops out and its points are spread over the rest of its pillar; a pillar without any
/// leaves its points out, and the score is put to 100 again.
#[must_use]
pub fn quality(kind: Kind, components: Vec<Measured>, flags: Vec<Result<bool, Why>>) -> Quality {
    if kind == Kind::Fund {
        return Quality { flags, ..Quality::none(Why::NotMeaningful) };
    }
    let pillar = |&pillar: &Pillar| {
        let own = components.iter().filter(|c| COMPONENTS[c.0].pillar == pillar);
        let known = own.filter_map(|c| Some((COMPONENTS[c.0].points, c.2.ok()?)));
        let (points, sum) = known.fold((0.0, 0.0), |(p, s), (points, score)| (p + points, s + points * score));
        (pillar, points, if points > 0.0 { Ok(pillar.points() * sum / points) } else { Err(Why::TooLittle) })
    };
    let pillars: Vec<(Pillar, f64, Num)> = Pillar::ALL.iter().map(pillar).collect();
    let coverage: f64 = pillars.iter().map(|p| p.1).sum();
    let (most, reached) =
        pillars.iter().filter_map(|p| Some((p.0.points(), p.2.ok()?))).fold((0.0, 0.0), |(m, r), (most, points)| (m + most, r + points));
    if coverage < LEAST_COVERAGE {
        return Quality { components, flags, ..Quality::none(Why::TooLittle) };
    }
    let pillars = pillars.into_iter().map(|(pillar, _, points)| PillarScore { pillar, points }).collect();
    Quality { score: Ok(100.0 * reached / most), coverage: Ok(coverage), pillars, components, flags, ..Quality::none(Why::NoAnswer) }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(id: &str) -> usize {
        COMPONENTS.iter().position(|c| c.id == id).unwrap()
    }

    /// Growth: 8 of 14 known points at 1, 6 at 0.5 → 25 × 11 ÷ 14. Profitability: all of its 8 known points at 0.5 → 12.5.
    /// Nothing is known of the other pillars: their points are left out.
    #[test]
    fn points_of_unknown_components_are_spread() {
        let known = |id, score| (at(id), Ok(0.0), Ok(score));
        let mut measured = vec![known("eps_rising_years", 1.0), known("revenue_growth", 0.5), known("roic", 0.5)];
        let too_little = quality(Kind::Operating, measured.clone(), Vec::new());
        assert_eq!(too_little.score, Err(Why::TooLittle), "22 of 100 points are known");
        let rest = ["eps_positive_share", "eps_growth", "roe", "net_margin", "gross_margin_stdev"];
        measured.extend(rest.map(|id| known(id, 1.0)));
        let balance = ["current_ratio", "debt_to_equity"];
        measured.extend(balance.map(|id| known(id, 0.0)));
        let q = quality(Kind::Operating, measured, Vec::new());
        // Growth (8 + 3 + 5 + 6) of 25, profitability (4 + 7 + 5 + 5) of 25, balance sheet 0 of 20.
        assert_eq!((q.coverage, q.pillars[2].points, q.pillars[3].points), (Ok(60.0), Ok(0.0), Err(Why::TooLittle)));
        assert!((q.score.unwrap() - 100.0 * (22.0 + 21.0) / 70.0).abs() < 1e-12);
    }

    #[test]
    fn soundness_needs_quality_and_few_flags() {
        let sound = |score: f64, raised: usize| {
            let flags = (0..FLAGS.len()).map(|i| if i < raised { Ok(true) } else { Err(Why::NoItem(crate::domain::Item::Cash)) }).collect();
            Quality { score: Ok(score), flags, ..Quality::none(Why::TooLittle) }.soundness()
        };
        let all = [(75.0, 0), (75.0, 1), (60.0, 1), (60.0, 2), (45.0, 2), (45.0, 3), (44.9, 0)].map(|(q, n)| sound(q, n).unwrap());
        assert_eq!(all, [1.0, 2.0, 2.0, 3.0, 3.0, 4.0, 4.0]);
    }

    /// What is better scores more, whichever way it is measured, and never beyond 0 and 1.
    #[test]
    fn components_map_from_floor_to_full() {
        for c in COMPONENTS {
            assert_eq!((c.score(c.floor), c.score(c.full)), (0.0, 1.0), "{}", c.id);
            assert!((c.score(f64::midpoint(c.floor, c.full)) - 0.5).abs() < 1e-12);
            assert_eq!(c.score(c.full + 10.0 * (c.full - c.floor)), 1.0);
            assert_eq!(c.score(c.floor - 10.0 * (c.full - c.floor)), 0.0);
        }
        let points = |p: Pillar, kind| COMPONENTS.iter().filter(|c| c.pillar == p && c.suits.kind(kind)).map(|c| c.points).sum::<f64>();
        for kind in [Kind::Operating, Kind::Bank, Kind::Insurer] {
            assert!(Pillar::ALL.iter().all(|p| (points(*p, kind) - p.points()).abs() < 1e-12), "{kind}");
        }
    }
}
