//! How good a business is, 0–100, by pillars and components; what could be wrong with it, as red flags; how sound that
//! makes it.
//!
//! Components ([`components`]) and flags ([`flags`]) are tables of formulas; everything after them is plain arithmetic.

mod components;
mod flags;
mod measured;
mod scale;

pub use crate::formula::Pillar;
pub use components::{COMPONENTS, Component, Suits, measured_in};
pub use flags::{FLAGS, RedFlag};
pub use measured::Measured;
pub use scale::{Anchors, Scale, check_anchors};

use crate::{
    Num, Why,
    domain::Kind,
    formula::{Answers, Compiled, QualityField},
    panel::CompanyAt,
};

/// The share of all points whose components must be known, in percent.
const LEAST_COVERAGE: f64 = 60.0;
/// Least quality and most red flags of soundness 1 to 3; all others are 4.
const SOUND: [(f64, usize); 3] = [(75.0, 0), (60.0, 1), (45.0, 2)];

/// The component that measures insiders' net buying.
const INSIDER_BUYING: &str = "insider_net_buying_ratio";

/// A pillar's outcome.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct PillarScore {
    /// Which.
    pub pillar: Pillar,
    /// Points reached; undefined when none of its components is known.
    pub points: Num,
    /// Points at most.
    pub most: f64,
}

/// The quality of one company at one date.
#[derive(Clone, Debug)]
pub struct Quality {
    /// 0–100.
    pub score: Num,
    /// The share of all points whose components are known, in percent.
    pub coverage: Num,
    /// The five pillars.
    pub pillars: Vec<PillarScore>,
    /// The components that suit the company.
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
        let pillars = Pillar::ALL.iter().map(|&pillar| PillarScore { pillar, points: Err(why), most: 0.0 }).collect();
        Quality {
            score: Err(why),
            coverage: Err(why),
            pillars,
            components: Vec::new(),
            flags: vec![Err(why); FLAGS.len()],
            insider_buying: Err(why),
        }
    }

    /// The same measured, scored on another scale.
    #[must_use]
    pub fn on(&self, scale: &Scale, kind: Kind) -> Quality {
        let components = self.components.iter().map(|m| Measured::new(m.component, m.value, m.whatever, scale)).collect();
        Quality { insider_buying: self.insider_buying, ..quality(kind, components, self.flags.clone(), scale) }
    }

    /// Roughly the memory it takes, in bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        size_of::<Quality>() + size_of_val(&*self.pillars) + size_of_val(&*self.components) + size_of_val(&*self.flags)
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

/// The formulas of all components and flags.
pub(crate) fn formulas() -> impl Iterator<Item = &'static Compiled> {
    components::formulas().chain(flags::formulas())
}

/// The qualities of a chunk of rows under the shipped scale.
pub(crate) fn quality_rows(sheet: &dyn Answers<'_>, quiet_months: [u32; 3]) -> Vec<Quality> {
    let (measured, flags) = (components::measure(sheet), flags::check(sheet, quiet_months));
    let one = |row: &CompanyAt<'_>, measured: Vec<Measured>, flags| {
        let buying = measured.iter().find(|m| COMPONENTS[m.component].id == INSIDER_BUYING).map_or(Err(Why::NotMeaningful), |m| m.value);
        Quality { insider_buying: buying, ..quality(row.kind(), measured, flags, Scale::shipped()) }
    };
    sheet.rows().iter().zip(measured).zip(flags).map(|((row, measured), flags)| one(row, measured, flags)).collect()
}

/// From what was measured.
///
/// A component that is not known drops out and its points are spread over the rest of its pillar; a pillar without any
/// leaves its points out, and the score is put to 100 again.
#[must_use]
pub fn quality(kind: Kind, components: Vec<Measured>, flags: Vec<Result<bool, Why>>, scale: &Scale) -> Quality {
    if kind == Kind::Fund {
        return Quality { flags, ..Quality::none(Why::NotMeaningful) };
    }
    let sum = |of: &mut dyn Iterator<Item = (f64, f64)>| of.fold((0.0, 0.0), |(p, s), (points, score)| (p + points, s + points * score));
    let pillar = |&pillar: &Pillar| {
        let own =
            || components.iter().filter(|c| COMPONENTS[c.component].pillar == pillar).map(|c| (scale.of(c.component).points, c.score));
        let most: f64 = own().map(|c| c.0).sum();
        let (known, reached) = sum(&mut own().filter_map(|(points, score)| Some((points, score.ok()?))));
        (known, PillarScore { pillar, points: if known > 0.0 { Ok(most * reached / known) } else { Err(Why::TooLittle) }, most })
    };
    let pillars: Vec<(f64, PillarScore)> = Pillar::ALL.iter().map(pillar).collect();
    let (known, all) = pillars.iter().fold((0.0, 0.0), |(known, all), p| (known + p.0, all + p.1.most));
    let coverage = if all > 0.0 { 100.0 * known / all } else { 0.0 };
    if coverage < LEAST_COVERAGE {
        return Quality { components, flags, ..Quality::none(Why::TooLittle) };
    }
    let pillars: Vec<PillarScore> = pillars.into_iter().map(|p| p.1).collect();
    let known = pillars.iter().filter_map(|p| Some((p.most, p.points.ok()?)));
    let (most, reached) = known.fold((0.0, 0.0), |(m, r), (most, points)| (m + most, r + points));
    Quality { score: Ok(100.0 * reached / most), coverage: Ok(coverage), pillars, components, flags, ..Quality::none(Why::NoAnswer) }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(id: &str) -> usize {
        COMPONENTS.iter().position(|c| c.id == id).unwrap()
    }

    fn known(id: &str, value: f64, whatever: Option<f64>) -> Measured {
        Measured::new(at(id), Ok(value), whatever, Scale::shipped())
    }

    /// Growth: 8 of 14 known points at 1, 6 at 0.5 → 25 × 11 ÷ 14. Profitability: all of its 8 known points at 0.5 → 12.5.
    /// Nothing is known of the other pillars: their points are left out.
    #[test]
    fn points_of_unknown_components_are_spread() {
        let scored = |id, score| known(id, 0.0, Some(score));
        let mut measured = vec![scored("eps_rising_years", 1.0), scored("revenue_growth", 0.5), scored("roic", 0.5)];
        let of = |measured: &[Measured]| quality(Kind::Operating, measured.to_vec(), Vec::new(), Scale::shipped());
        let unknown = |id| Measured::new(at(id), Err(Why::HistoryTooShort), None, Scale::shipped());
        let others = COMPONENTS.iter().filter(|c| c.suits.kind(Kind::Operating) && measured.iter().all(|m| m.component != at(c.id)));
        let others: Vec<Measured> = others.map(|c| unknown(c.id)).collect();
        measured.extend(others);
        assert_eq!(of(&measured).score, Err(Why::TooLittle), "22 of 100 points are known");
        let now_full = ["eps_positive_share", "eps_growth", "roe", "net_margin", "gross_margin_stdev"].map(|id| scored(id, 1.0));
        for now in now_full.into_iter().chain(["current_ratio", "debt_to_equity"].map(|id| scored(id, 0.0))) {
            *measured.iter_mut().find(|m| m.component == now.component).unwrap() = now;
        }
        let q = of(&measured);
        // Growth (8 + 3 + 5 + 6) of 25, profitability (4 + 7 + 5 + 5) of 25, balance sheet 0 of 20.
        assert_eq!((q.coverage, q.pillars[2].points, q.pillars[3].points), (Ok(60.0), Ok(0.0), Err(Why::TooLittle)));
        assert!((q.score.unwrap() - 100.0 * (22.0 + 21.0) / 70.0).abs() < 1e-12);
    }

    /// A net margin of 10 % scores half of 20 %, all of 8 %; where the base is a loss nothing changes. Both are all that counts:
    /// (20 × 1 + 10 × 0) ÷ 30.
    #[test]
    fn the_same_measured_is_scored_on_another_scale() {
        let measured = vec![known("net_margin", 0.10, None), known("debt_to_equity", -1.0, Some(0.0))];
        let shipped = quality(Kind::Operating, measured.clone(), Vec::new(), Scale::shipped());
        assert_eq!(shipped.components[0].score, Ok(0.5));
        let anchors = |floor, full, points| Anchors { floor, full, points };
        let mut own: std::collections::BTreeMap<String, Anchors> =
            COMPONENTS.iter().map(|c| (c.id.to_owned(), Anchors { points: 0.0, ..c.anchors })).collect();
        own.insert("net_margin".to_owned(), anchors(0.0, 0.08, 20.0));
        own.insert("debt_to_equity".to_owned(), anchors(3.0, 0.0, 10.0));
        let other = shipped.on(&Scale::with(&own), Kind::Operating);
        assert_eq!((other.components[0].score, other.components[1].score), (Ok(1.0), Ok(0.0)));
        assert!((other.score.unwrap() - 100.0 * 20.0 / 30.0).abs() < 1e-12);
        assert_eq!((other.pillars[1].most, other.pillars[1].points), (20.0, Ok(20.0)));
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
}
