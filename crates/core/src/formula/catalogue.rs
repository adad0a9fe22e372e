//! What an entry of the catalogue of measures says. The entries themselves are in [`crate::measures`].

use super::figures::{Judgement, ValueField};
use crate::{
    Num, Why,
    domain::{BarSize, Kind, Metric, Span},
    panel::CompanyAt,
};
use serde::{Deserialize, Serialize};
use std::{collections::HashMap, fmt, sync::Arc};

/// Every measure, by family and by id.
#[derive(Debug)]
pub struct Catalogue {
    all: Vec<&'static Measure>,
    by_id: HashMap<&'static str, &'static Measure>,
}

impl Catalogue {
    /// Of families in their order.
    pub fn new(families: impl IntoIterator<Item = &'static [Measure]>) -> Catalogue {
        let all: Vec<&'static Measure> = families.into_iter().flatten().collect();
        Catalogue { by_id: all.iter().map(|m| (m.id, *m)).collect(), all }
    }

    /// Every measure, family by family.
    pub fn iter(&self) -> impl Iterator<Item = &'static Measure> {
        self.all.iter().copied()
    }

    /// The measure with this id.
    #[must_use]
    pub fn find(&self, id: &str) -> Option<&'static Measure> {
        self.by_id.get(id).copied()
    }
}

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

/// The unit of a measure.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Unit {
    /// A plain number.
    Ratio,
    /// A fraction, shown as percent.
    Percent,
    /// A whole-company amount in the base currency.
    Money,
    /// An amount a share (traded unit) in the listing's currency.
    PerShare,
    /// A count.
    Count,
    /// Days.
    Days,
    /// Years.
    Years,
    /// A place between 0 and 100.
    Rank,
    /// A calendar day.
    Date,
    /// True or false.
    Flag,
    /// Text.
    Text,
}

impl Unit {
    /// Whether it is an amount of money, which is in a currency.
    #[must_use]
    pub const fn is_money(self) -> bool {
        matches!(self, Unit::Money | Unit::PerShare)
    }
}

/// A set of kinds of company.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Kinds(u8);

impl Kinds {
    /// No kind.
    pub const NONE: Kinds = Kinds(0);
    /// Banks and insurers.
    pub const FINANCIAL: Kinds = Kinds::of(&[Kind::Bank, Kind::Insurer]);
    /// Banks, insurers and property companies.
    pub const FINANCIAL_OR_PROPERTY: Kinds = Kinds::of(&[Kind::Bank, Kind::Insurer, Kind::Property]);

    /// The set of these kinds.
    #[must_use]
    pub const fn of(kinds: &[Kind]) -> Kinds {
        let mut bits = 0;
        let mut i = 0;
        while i < kinds.len() {
            bits |= 1 << kinds[i] as u8;
            i += 1;
        }
        Kinds(bits)
    }

    /// Whether the set has this kind.
    #[must_use]
    pub const fn has(self, kind: Kind) -> bool {
        self.0 >> kind as u8 & 1 == 1
    }

    /// In words, for the catalogue.
    #[must_use]
    pub fn in_words(self) -> String {
        self.iter().map(Kind::code).collect::<Vec<_>>().join(", ")
    }

    /// The kinds in the set.
    pub fn iter(self) -> impl Iterator<Item = Kind> {
        Kind::ALL.iter().copied().filter(move |k| self.has(*k))
    }
}

/// The arguments of a measure's kernel.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Args {
    /// A count (years, sessions, months).
    pub count: u32,
    /// A period; `None` is the calendar year to date.
    pub span: Option<Span>,
    /// An amount in the base currency, or a factor.
    pub amount: f64,
    /// The size of bars.
    pub bars: BarSize,
    /// What is estimated.
    pub metric: Option<Metric>,
}

impl Default for Args {
    fn default() -> Args {
        Args { count: 0, span: None, amount: 0.0, bars: BarSize::Day, metric: None }
    }
}

pub(crate) type NumberKernel = fn(&CompanyAt<'_>, &Args) -> Num;
pub(crate) type FlagKernel = fn(&CompanyAt<'_>, &Args) -> Result<bool, Why>;
pub(crate) type TextKernel = fn(&CompanyAt<'_>, &Args) -> Result<Arc<str>, Why>;

impl fmt::Display for Unit {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Unit::Ratio => "ratio",
            Unit::Percent => "percent",
            Unit::Money => "money",
            Unit::PerShare => "money per share",
            Unit::Count => "count",
            Unit::Days => "days",
            Unit::Years => "years",
            Unit::Rank => "rank 0–100",
            Unit::Date => "date",
            Unit::Flag => "flag",
            Unit::Text => "text",
        })
    }
}
