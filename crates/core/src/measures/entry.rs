//! What an entry of the catalogue says.

use crate::formula::kernels::{FlagKernel, NumberKernel, TextKernel};
use crate::formula::{Judgement, Kinds, Unit, ValueField};
use serde::Serialize;

/// A family of measures, in the order of the catalogue.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Family {
    Company,
    Size,
    Multiples,
    Income,
    Returns,
    Growth,
    Quarters,
    Balance,
    OwnersCash,
    Insiders,
    Price,
    Value,
    Quality,
}

/// Which direction is better.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Better {
    Higher,
    Lower,
    Neither,
}

/// What a parameter takes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum ParamKind {
    /// A whole number of years, months or sessions.
    Count,
    /// A period such as `6m`, or `ytd`.
    Period,
    /// An amount in the base currency.
    Amount,
    /// How many quarters back, 0 the newest.
    Back,
    /// A number above 0.
    Factor,
    /// The size of bars: `day`, `week` or `month`.
    Bars,
    /// What analysts estimate: `eps`, `revenue` or `ebit`.
    Estimated,
    /// A formula of statement items.
    Item,
}

/// A parameter of a measure.
#[derive(Clone, Copy, Debug, Serialize)]
pub struct Param {
    /// Its name.
    pub name: &'static str,
    /// What it takes.
    pub kind: ParamKind,
    /// What stands in when it is left out; `None` when it must be given.
    pub default: Option<&'static str>,
    /// A value for examples.
    pub example: &'static str,
}

impl Param {
    /// Years: must be given.
    pub const YEARS: Param = Param { name: "n", kind: ParamKind::Count, default: None, example: "5" };
    /// Months: must be given.
    pub const MONTHS: Param = Param { name: "months", kind: ParamKind::Count, default: None, example: "12" };

    /// Quarters back: must be given.
    pub const BACK: Param = Param { name: "k", kind: ParamKind::Back, default: None, example: "0" };
    /// The size of bars.
    pub const BARS: Param = Param { name: "bars", kind: ParamKind::Bars, default: Some("day"), example: "day" };

    /// Sessions, with a default.
    #[must_use]
    pub const fn sessions(default: Option<&'static str>, example: &'static str) -> Param {
        Param { name: "n", kind: ParamKind::Count, default, example }
    }
}

/// How a measure is computed.
#[derive(Clone, Copy, Debug)]
pub enum Body {
    /// By a formula over statement items and other measures.
    Formula(&'static str),
    /// By a kernel.
    Number(NumberKernel),
    /// By a kernel that answers true or false.
    Flag(FlagKernel),
    /// By a kernel that answers with text.
    Text(TextKernel),
    /// By the valuation.
    Value(ValueField),
    /// A word that valuation and quality give.
    Judgement(Judgement),
}

/// An entry of the catalogue.
#[derive(Clone, Copy, Debug)]
#[allow(missing_docs)]
pub struct Measure {
    pub id: &'static str,
    pub label: &'static str,
    pub unit: Unit,
    pub family: Family,
    pub better: Better,
    /// One sentence.
    pub meaning: &'static str,
    pub params: &'static [Param],
    pub body: Body,
    /// Kinds of company for which it means nothing.
    pub not_for: Kinds,
    /// When it is undefined.
    pub undefined: &'static str,
    /// Authority, where the definition is somebody's.
    pub source: &'static str,
}

impl Measure {
    /// An entry; the builder methods add the rest.
    #[must_use]
    pub const fn new(family: Family, id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, body: Body) -> Measure {
        Measure {
            id,
            label,
            unit,
            family,
            better: Better::Neither,
            meaning,
            params: &[],
            body,
            not_for: Kinds::NONE,
            undefined: "an input is not known",
            source: "",
        }
    }

    /// Higher is better.
    #[must_use]
    pub const fn higher(self) -> Measure {
        Measure { better: Better::Higher, ..self }
    }

    /// Lower is better.
    #[must_use]
    pub const fn lower(self) -> Measure {
        Measure { better: Better::Lower, ..self }
    }

    /// Takes these parameters.
    #[must_use]
    pub const fn params(self, params: &'static [Param]) -> Measure {
        Measure { params, ..self }
    }

    /// Means nothing for these kinds.
    #[must_use]
    pub const fn not_for(self, not_for: Kinds) -> Measure {
        Measure { not_for, ..self }
    }

    /// Undefined when.
    #[must_use]
    pub const fn undefined(self, undefined: &'static str) -> Measure {
        Measure { undefined, ..self }
    }

    /// By this authority.
    #[must_use]
    pub const fn source(self, source: &'static str) -> Measure {
        Measure { source, ..self }
    }

    /// Whether it is nothing but the statement item of the same name over twelve months.
    #[must_use]
    pub fn is_bare_item(&self) -> bool {
        matches!(self.body, Body::Formula(text) if text == self.id)
    }

    /// A call as a user would type it.
    #[must_use]
    pub fn example(&self) -> String {
        if self.params.is_empty() {
            return self.id.to_owned();
        }
        let args: Vec<_> = self.params.iter().map(|p| p.example).collect();
        format!("{}({})", self.id, args.join(", "))
    }

    /// The parameters in words, for messages.
    #[must_use]
    pub fn signature_words(&self) -> String {
        let word = |p: &Param| match p.kind {
            ParamKind::Count => format!("a number ({})", p.name),
            ParamKind::Period => "a period such as 6m".to_owned(),
            ParamKind::Amount => "an amount".to_owned(),
            ParamKind::Back => format!("a number of quarters back ({})", p.name),
            ParamKind::Factor => format!("a factor ({})", p.name),
            ParamKind::Bars => "day, week or month".to_owned(),
            ParamKind::Estimated => "eps, revenue or ebit".to_owned(),
            ParamKind::Item => "a formula such as eps".to_owned(),
        };
        if self.params.is_empty() { "no parameters".to_owned() } else { self.params.iter().map(word).collect::<Vec<_>>().join(" and ") }
    }
}
