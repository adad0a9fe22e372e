//! The catalogue for pickers and help, and the check of a formula as it is typed.

use crate::Ctx;
use artemon_core::{
    formula::{Better, Body, Family, FormulaError, Function, Measure, Param, ParamKind, Unit, functions},
    measures::{all, synonyms},
};
use serde::Serialize;
use utoipa::ToSchema;

/// A measure of the catalogue.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MeasureInfo {
    pub id: &'static str,
    pub label: &'static str,
    pub unit: Unit,
    pub family: Family,
    pub better: Better,
    pub meaning: &'static str,
    /// What else the trade calls it.
    pub synonyms: &'static [&'static str],
    pub params: Vec<ParamInfo>,
    /// The formula, for measures that have one.
    pub formula: Option<&'static str>,
    /// A call as a user would type it.
    pub example: String,
    pub undefined_when: &'static str,
    pub source: &'static str,
    /// Kinds of company for which it means nothing.
    pub not_for: String,
}

/// A parameter of a measure.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ParamInfo {
    pub name: &'static str,
    pub kind: ParamKind,
    pub default: Option<&'static str>,
    pub example: &'static str,
}

/// All measures, family by family.
#[must_use]
pub fn measure_list() -> Vec<MeasureInfo> {
    all().map(info).collect()
}

fn info(m: &Measure) -> MeasureInfo {
    let param = |p: &Param| ParamInfo { name: p.name, kind: p.kind, default: p.default, example: p.example };
    MeasureInfo {
        id: m.id,
        label: m.label,
        unit: m.unit,
        family: m.family,
        better: m.better,
        meaning: m.meaning,
        synonyms: synonyms(m.id),
        params: m.params.iter().map(param).collect(),
        formula: match m.body {
            Body::Formula(text) => Some(text),
            _ => None,
        },
        example: m.example(),
        undefined_when: m.undefined,
        source: m.source,
        not_for: m.not_for.in_words(),
    }
}

/// A function of the formula language.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FunctionInfo {
    pub name: &'static str,
    /// What it takes.
    pub arguments: &'static str,
    /// What it answers with, in a few words.
    pub meaning: &'static str,
    /// A call as a user would type it.
    pub example: &'static str,
}

/// Every function that may be written.
#[must_use]
pub fn function_list() -> Vec<FunctionInfo> {
    let info = |f: &Function| FunctionInfo { name: f.name, arguments: f.arguments, meaning: f.meaning, example: f.example };
    functions().map(info).collect()
}

/// What the check of a formula found.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FormulaCheck {
    /// What its answers are, when it is sound.
    pub unit: Option<Unit>,
    /// Doubts that do not prevent an answer.
    pub warnings: Vec<String>,
    /// The mistake, with its place.
    pub error: Option<FormulaError>,
}

/// Checks a formula; the user's own measures are known.
#[must_use]
pub fn check_formula(ctx: &Ctx, text: &str) -> FormulaCheck {
    match ctx.engine.compile(text) {
        Ok(c) => FormulaCheck { unit: Some(c.unit), warnings: c.warnings.clone(), error: None },
        Err(error) => FormulaCheck { unit: None, warnings: Vec::new(), error: Some(error) },
    }
}
