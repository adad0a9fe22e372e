//! Quality as the page of a company and the list of candidates show it.

use crate::figures::figure::{Figure, value};
use artemon_core::{
    Why,
    engine::Context,
    formula::Unit,
    panel::CompanyAt,
    quality::{Anchors, COMPONENTS, Component, FLAGS, Measured, PillarScore, Quality, RedFlag, Scale, measured_in},
};
use serde::Serialize;
use utoipa::ToSchema;

/// The quality of one company.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct QualityAnswer {
    /// 0–100.
    pub score: Figure,
    /// The share of all points whose components are known, in percent.
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
    /// From which value on it counts, and for how many points, before those of unknown components are spread.
    pub anchors: Anchors,
}

/// A component as an assumption set names it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ComponentKind {
    /// Its name in the set.
    pub id: &'static str,
    /// Its name in words.
    pub label: &'static str,
    /// Its pillar, in words.
    pub pillar: &'static str,
    /// What is measured, as a formula.
    pub formula: &'static str,
    /// The unit of floor and full mark.
    pub unit: Unit,
    /// For whom, where not for all: "banks and insurers".
    pub only: Option<&'static str>,
    /// How it counts in the shipped set.
    pub anchors: Anchors,
}

/// Every component of quality, pillar by pillar.
#[must_use]
pub fn components() -> Vec<ComponentKind> {
    let one = |(at, c): (usize, &Component)| ComponentKind {
        id: c.id,
        label: c.label,
        pillar: c.pillar.label(),
        formula: c.measure,
        unit: measured_in(at),
        only: c.suits.words(),
        anchors: c.anchors,
    };
    COMPONENTS.iter().enumerate().map(one).collect()
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
    /// What it is, in words.
    pub label: &'static str,
    pub formula: &'static str,
    pub unit: Unit,
    pub figure: Figure,
}

pub(crate) fn quality(q: &Quality, c: &CompanyAt<'_>, context: &Context) -> QualityAnswer {
    let suiting = FLAGS.iter().zip(&q.flags).filter(|(f, _)| f.suits.kind(c.kind()));
    let mut flags: Vec<FlagAnswer> = suiting.map(|(f, raised)| flag(f, *raised, c, context)).collect();
    flags.sort_by_key(|f| match f.raised {
        Some(true) => 0,
        None => 1,
        Some(false) => 2,
    });
    let scale = context.settings().assumptions.scale();
    QualityAnswer {
        score: q.score.into(),
        coverage: q.coverage.into(),
        soundness: q.soundness().into(),
        pillars: q.pillars.iter().map(|p| pillar(p, q, scale.as_ref().unwrap_or(Scale::shipped()))).collect(),
        flags,
    }
}

fn flag(flag: &RedFlag, raised: Result<bool, Why>, c: &CompanyAt<'_>, context: &Context) -> FlagAnswer {
    let figure = |&(label, formula): &(&'static str, &'static str)| {
        let unit = context.compile(formula).ok()?.unit;
        Some(FlagFigure { label, formula, unit, figure: value(context, c, formula)?.into() })
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

fn pillar(p: &PillarScore, q: &Quality, scale: &Scale) -> PillarAnswer {
    let component = |m: &Measured| {
        let c = &COMPONENTS[m.component];
        ComponentAnswer {
            label: c.label,
            formula: c.measure,
            measured: m.value.into(),
            unit: measured_in(m.component),
            score: m.score.into(),
            anchors: *scale.of(m.component),
        }
    };
    let own = q.components.iter().filter(|m| COMPONENTS[m.component].pillar == p.pillar);
    PillarAnswer { label: p.pillar.label(), points: p.points.into(), most: p.most, components: own.map(component).collect() }
}
