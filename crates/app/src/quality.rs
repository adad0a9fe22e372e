//! Quality as the page of a company and the list of candidates show it.

use crate::evaluate::Figure;
use artemon_core::{
    Num, Why,
    formula::{Unit, compile, evaluate},
    panel::CompanyAt,
    quality::{COMPONENTS, FLAGS, Pillar, Quality, RedFlag, measured_in},
};
use serde::Serialize;
use utoipa::ToSchema;

/// The quality of one company.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct QualityAnswer {
    /// 0–100.
    pub score: Figure,
    /// Points of 100 whose components are known.
    pub coverage: Figure,
    /// 1 (best) to 4.
    pub soundness: Figure,
    pub pillars: Vec<PillarAnswer>,
    /// Every red flag that suits the company, raised ones first.
    pub flags: Vec<FlagAnswer>,
}

/// A pillar of quality.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PillarAnswer {
    pub label: &'static str,
    pub points: Figure,
    /// Points at most.
    pub most: f64,
    pub components: Vec<ComponentAnswer>,
}

/// A component of a pillar.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ComponentAnswer {
    pub label: &'static str,
    /// What is measured, as a formula that can be opened.
    pub formula: &'static str,
    pub measured: Figure,
    pub unit: Unit,
    /// 0–1.
    pub score: Figure,
    /// Points at most, before those of unknown components are spread.
    pub points: f64,
    /// The value from which it scores nothing, and the one at which it scores in full.
    pub floor: f64,
    pub full: f64,
}

/// A red flag.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FlagAnswer {
    pub id: &'static str,
    pub says: &'static str,
    /// Absent when it could not be checked.
    pub raised: Option<bool>,
    /// Why it could not be checked.
    pub reason: Option<String>,
    /// The figures that show it, where it is raised.
    pub figures: Vec<FlagFigure>,
}

/// A figure that shows a red flag.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FlagFigure {
    pub formula: &'static str,
    pub unit: Unit,
    pub figure: Figure,
}

pub(crate) fn quality(q: &Quality, c: &CompanyAt<'_>) -> QualityAnswer {
    let suiting = FLAGS.iter().zip(&q.flags).filter(|(f, _)| f.suits.kind(c.kind()));
    let mut flags: Vec<FlagAnswer> = suiting.map(|(f, raised)| flag(f, *raised, c)).collect();
    flags.sort_by_key(|f| match f.raised {
        Some(true) => 0,
        None => 1,
        Some(false) => 2,
    });
    QualityAnswer {
        score: q.score.into(),
        coverage: q.coverage.into(),
        soundness: q.soundness().into(),
        pillars: Pillar::ALL.iter().map(|p| pillar(*p, q)).collect(),
        flags,
    }
}

fn flag(flag: &RedFlag, raised: Result<bool, Why>, c: &CompanyAt<'_>) -> FlagAnswer {
    let figure = |&formula: &&'static str| {
        let compiled = compile(formula).ok()?;
        let figure = evaluate(&compiled, std::slice::from_ref(c)).value(0).into();
        Some(FlagFigure { formula, unit: compiled.unit, figure })
    };
    let shown = if raised == Ok(true) { flag.figures } else { &[] };
    FlagAnswer {
        id: flag.id,
        says: flag.says,
        raised: raised.ok(),
        reason: raised.err().map(|w| w.to_string()),
        figures: shown.iter().filter_map(figure).collect(),
    }
}

fn pillar(pillar: Pillar, q: &Quality) -> PillarAnswer {
    let component = |&(at, measured, score): &(usize, Num, Num)| {
        let c = &COMPONENTS[at];
        (c.pillar == pillar).then(|| ComponentAnswer {
            label: c.label,
            formula: c.measure,
            measured: measured.into(),
            unit: measured_in(at),
            score: score.into(),
            points: c.points,
            floor: c.floor,
            full: c.full,
        })
    };
    PillarAnswer {
        label: pillar.label(),
        points: q.pillars[pillar as usize].points.into(),
        most: pillar.points(),
        components: q.components.iter().filter_map(component).collect(),
    }
}
