//! From which value on a component of quality counts, and for how many points: assumptions of a set.

use super::COMPONENTS;
use crate::domain::Kind;
use serde::{Deserialize, Serialize};
use std::{collections::BTreeMap, sync::LazyLock};

/// How a component counts: its measure maps linearly from `floor` (0) to `full` (1), clamped.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Anchors {
    /// The value that scores nothing; above `full` where less is better.
    pub floor: f64,
    /// The value that scores in full.
    pub full: f64,
    /// For how many points of all it counts; 0 leaves it out.
    pub points: f64,
}

impl Anchors {
    /// The score 0–1 of a measured value; no debt cost to cover is better than every number.
    #[must_use]
    pub fn score(&self, value: f64) -> f64 {
        if value.is_infinite() { 1.0 } else { ((value - self.floor) / (self.full - self.floor)).clamp(0.0, 1.0) }
    }
}

/// The anchors of every component, by its position in [`COMPONENTS`].
#[derive(Clone, Debug, PartialEq)]
pub struct Scale(Vec<Anchors>);

impl Scale {
    /// With some components, by id, anchored otherwise than in the shipped set; unknown ids count for nothing.
    #[must_use]
    pub fn with(own: &BTreeMap<String, Anchors>) -> Scale {
        Scale(COMPONENTS.iter().map(|c| own.get(c.id).copied().unwrap_or(c.anchors)).collect())
    }

    /// That of the shipped set.
    #[must_use]
    pub fn shipped() -> &'static Scale {
        static SHIPPED: LazyLock<Scale> = LazyLock::new(|| Scale::with(&BTreeMap::new()));
        &SHIPPED
    }

    /// The anchors of a component by its position.
    #[must_use]
    pub fn of(&self, component: usize) -> &Anchors {
        &self.0[component]
    }

    /// The points of all components that suit a kind: 100 in the shipped set.
    #[must_use]
    pub fn points(&self, kind: Kind) -> f64 {
        COMPONENTS.iter().zip(&self.0).filter(|(c, _)| c.suits.kind(kind)).map(|(_, a)| a.points).sum()
    }
}

/// What is wrong with anchors of one's own, if anything, in words.
///
/// # Errors
/// A sentence that names the component and what can be given.
pub fn check_anchors(own: &BTreeMap<String, Anchors>) -> Result<(), String> {
    for (id, anchors) in own {
        let Some(component) = COMPONENTS.iter().find(|c| c.id == *id) else {
            return Err(format!("there is no component of quality \"{id}\""));
        };
        let name = component.label;
        if !(anchors.floor.is_finite() && anchors.full.is_finite()) || anchors.floor == anchors.full {
            return Err(format!("\"{name}\" needs two different values, one that scores nothing and one that scores in full"));
        }
        if !(0.0..=100.0).contains(&anchors.points) {
            return Err(format!("\"{name}\" counts for {} points, and must count for 0 to 100", anchors.points));
        }
    }
    let scale = Scale::with(own);
    let left_out = Kind::ALL.iter().find(|k| **k != Kind::Fund && scale.points(**k) <= 0.0);
    left_out.map_or(Ok(()), |kind| Err(format!("no component of quality counts for a company of the kind \"{kind}\"")))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quality::{Pillar, Suits};

    /// What is better scores more, whichever way it is measured, and never beyond 0 and 1.
    #[test]
    fn components_map_from_floor_to_full() {
        for c in COMPONENTS {
            let a = c.anchors;
            assert_eq!((a.score(a.floor), a.score(a.full)), (0.0, 1.0), "{}", c.id);
            assert!((a.score(f64::midpoint(a.floor, a.full)) - 0.5).abs() < 1e-12);
            assert_eq!(a.score(a.full + 10.0 * (a.full - a.floor)), 1.0);
            assert_eq!(a.score(a.floor - 10.0 * (a.full - a.floor)), 0.0);
        }
    }

    /// 25, 25, 20, 20 and 10 of 100, for every kind.
    #[test]
    fn the_shipped_points_are_those_of_the_pillars() {
        let points = |p: Pillar, k| COMPONENTS.iter().filter(|c| c.pillar == p && c.suits.kind(k)).map(|c| c.anchors.points).sum::<f64>();
        for kind in [Kind::Operating, Kind::Bank, Kind::Insurer, Kind::Property] {
            let pillars: Vec<f64> = Pillar::ALL.iter().map(|p| points(*p, kind)).collect();
            assert_eq!(pillars, [25.0, 25.0, 20.0, 20.0, 10.0], "{kind}");
        }
    }

    #[test]
    fn anchors_that_cannot_be_meant_are_refused_in_words() {
        let refused =
            |id: &str, floor, full, points| check_anchors(&BTreeMap::from([(id.to_owned(), Anchors { floor, full, points })])).unwrap_err();
        assert_eq!(refused("charm", 0.0, 1.0, 5.0), "there is no component of quality \"charm\"");
        let wanted = "\"Net margin\" needs two different values, one that scores nothing and one that scores in full";
        assert_eq!(refused("net_margin", 0.1, 0.1, 5.0), wanted);
        assert_eq!(refused("net_margin", 0.1, f64::NAN, 5.0), wanted);
        assert_eq!(refused("net_margin", 0.0, 0.1, -1.0), "\"Net margin\" counts for -1 points, and must count for 0 to 100");
        let nothing =
            COMPONENTS.iter().filter(|c| c.suits != Suits::Banks).map(|c| (c.id.to_owned(), Anchors { points: 0.0, ..c.anchors }));
        assert!(check_anchors(&nothing.collect()).unwrap_err().starts_with("no component of quality counts for"));
    }
}
