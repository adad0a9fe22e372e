//! A checked formula, ready to run: every name resolved, every type known.

use super::{
    ast::Operator,
    catalogue::{Args, FlagKernel, Kinds, Measure, NumberKernel, TextKernel, Unit},
    column::Column,
    depends::{Depends, Identity},
    figures::{Judgement, ValueField},
};
use crate::domain::{Item, Span};
use std::{collections::HashSet, fmt, sync::Arc};

/// What to make of the fiscal years of a formula.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum FiscalStat {
    At,
    Average,
    Median,
    Low,
    High,
    Stdev,
    Sum,
    Growth,
    Trend,
    TrendFit,
    Steadiness,
    Slope,
    Rises,
}

/// What to make of the reported quarters or half-years of a formula.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum InterimStat {
    At,
    /// Against the same quarter a year before: (x − y) ÷ |y|.
    Yoy,
    Average,
    /// How many quarters in a row that growth has risen (or, negative, fallen).
    Acceleration,
    /// Of a half-year.
    Half,
    /// A half-year against the same one a year before.
    HalfYoy,
}

/// What to make of a formula's own month-end history.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum OwnStat {
    Rank,
    Median,
    Mean,
    Stdev,
    Low,
    High,
    Z,
}

/// With whom a company is compared.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[allow(missing_docs)]
pub enum Group {
    Sector,
    Industry,
    Country,
    SectorCountry,
    Universe,
}

impl Group {
    /// The name in formulas.
    #[must_use]
    pub const fn code(self) -> &'static str {
        match self {
            Group::Sector => "sector",
            Group::Industry => "industry",
            Group::Country => "country",
            Group::SectorCountry => "sector_country",
            Group::Universe => "universe",
        }
    }

    pub(super) const ALL: [Group; 5] = [Group::Sector, Group::Industry, Group::Country, Group::SectorCountry, Group::Universe];
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Math {
    Abs,
    Sqrt,
    Ln,
    Exp,
}

/// The name under which a part of a formula is known.
#[derive(Clone)]
pub(super) struct Named {
    /// As a user writes it.
    pub(super) formula: Arc<str>,
    /// In lists.
    pub(super) label: String,
    pub(super) unit: Unit,
    /// The entry of the catalogue; `None` for a measure of the user's own.
    pub(super) measure: Option<&'static Measure>,
    pub(super) args: Args,
}

/// What is called so is in the plan beside it: the name and its arguments say enough.
impl fmt::Debug for Named {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_tuple("Named").field(&self.formula).field(&self.args).finish()
    }
}

/// A formula with a number for its answer.
#[derive(Clone, Debug)]
pub(super) enum NumPlan {
    Constant(f64),
    /// The tax rate assumed where none can be computed.
    AssumedTax,
    Item(Item),
    /// Regular dividends with an ex-date in the fiscal year.
    YearDividend,
    /// Items inside are taken over one common span of twelve months; the alternatives of flows that complete it.
    Scope {
        flows: Vec<u64>,
        reporting: bool,
        body: Box<NumPlan>,
    },
    /// A measure by its name, for explanations.
    Named(Arc<Named>, Box<NumPlan>),
    Guard(Kinds, Box<NumPlan>),
    Kernel(NumberKernel, Args),
    Value(ValueField),
    Negate(Box<NumPlan>),
    Binary(Operator, Box<NumPlan>, Box<NumPlan>),
    If(Box<FlagPlan>, Box<NumPlan>, Box<NumPlan>),
    Else(Box<NumPlan>, Box<NumPlan>),
    Extreme {
        highest: bool,
        of: Vec<NumPlan>,
    },
    Math(Math, Box<NumPlan>),
    Round(Box<NumPlan>, i32),
    /// Mean of opening and closing balance of the span; of capital: undefined when an end is ≤ 0.
    MeanBalance {
        capital: bool,
        body: Box<NumPlan>,
    },
    /// A whole-company amount for one traded unit, by a number of ordinary shares.
    AShare(Box<NumPlan>, Box<NumPlan>),
    Fiscal {
        stat: FiscalStat,
        n: u32,
        reporting: bool,
        body: Box<NumPlan>,
    },
    FiscalCount {
        n: u32,
        body: Box<FlagPlan>,
    },
    Interim {
        stat: InterimStat,
        n: u32,
        reporting: bool,
        body: Box<NumPlan>,
    },
    QuarterCount {
        n: u32,
        body: Box<FlagPlan>,
    },
    Own {
        stat: OwnStat,
        window: Span,
        /// Of the body.
        of: Identity,
        body: Box<NumPlan>,
    },
    Peers {
        rank: bool,
        group: Group,
        /// Of the body.
        of: Identity,
        body: Box<NumPlan>,
    },
    Ago {
        span: Span,
        change: bool,
        body: Box<NumPlan>,
    },
}

/// A formula with a flag for its answer.
#[derive(Clone, Debug)]
pub(super) enum FlagPlan {
    Constant(bool),
    Scope { flows: Vec<u64>, reporting: bool, body: Box<FlagPlan> },
    Named(Arc<Named>, Box<FlagPlan>),
    Guard(Kinds, Box<FlagPlan>),
    Kernel(FlagKernel, Args),
    Compare(Operator, Box<NumPlan>, Box<NumPlan>),
    TextEqual { equal: bool, left: TextPlan, right: TextPlan },
    Not(Box<FlagPlan>),
    Logic { and: bool, left: Box<FlagPlan>, right: Box<FlagPlan> },
    OneOf(Box<NumPlan>, Vec<NumPlan>),
    TextOneOf(TextPlan, Vec<TextPlan>),
    If(Box<FlagPlan>, Box<FlagPlan>, Box<FlagPlan>),
    Else(Box<FlagPlan>, Box<FlagPlan>),
    Defined(Box<Plan>),
    Ago { span: Span, body: Box<FlagPlan> },
}

/// A formula with text for its answer.
#[derive(Clone, Debug)]
pub(super) enum TextPlan {
    Constant(Arc<str>),
    Kernel(TextKernel, Args),
    Judgement(Judgement),
}

/// A formula of any type.
#[derive(Clone, Debug)]
pub(super) enum Plan {
    Number(NumPlan, Unit),
    Flag(FlagPlan),
    Text(TextPlan),
}

impl Plan {
    pub(super) const fn unit(&self) -> Unit {
        match self {
            Plan::Number(_, unit) => *unit,
            Plan::Flag(_) => Unit::Flag,
            Plan::Text(_) => Unit::Text,
        }
    }
}

impl Plan {
    /// The answers for no rows.
    pub(super) const fn no_rows(&self) -> Column {
        match self {
            Plan::Number(..) => Column::Number(Vec::new()),
            Plan::Flag(_) => Column::Flag(Vec::new()),
            Plan::Text(_) => Column::Text(Vec::new()),
        }
    }
}

impl NumPlan {
    /// The sub-plans, for walks.
    pub(super) fn parts(&self) -> Vec<Part<'_>> {
        match self {
            NumPlan::Constant(_)
            | NumPlan::AssumedTax
            | NumPlan::Item(_)
            | NumPlan::YearDividend
            | NumPlan::Kernel(..)
            | NumPlan::Value(_) => vec![],
            NumPlan::Scope { body, .. }
            | NumPlan::Guard(_, body)
            | NumPlan::Named(_, body)
            | NumPlan::Negate(body)
            | NumPlan::Math(_, body)
            | NumPlan::Round(body, _)
            | NumPlan::MeanBalance { body, .. }
            | NumPlan::Fiscal { body, .. }
            | NumPlan::Interim { body, .. }
            | NumPlan::Own { body, .. }
            | NumPlan::Peers { body, .. }
            | NumPlan::Ago { body, .. } => vec![Part::Number(body)],
            NumPlan::FiscalCount { body, .. } | NumPlan::QuarterCount { body, .. } => vec![Part::Flag(body)],
            NumPlan::Binary(_, a, b) | NumPlan::Else(a, b) | NumPlan::AShare(a, b) => vec![Part::Number(a), Part::Number(b)],
            NumPlan::If(c, a, b) => vec![Part::Flag(c), Part::Number(a), Part::Number(b)],
            NumPlan::Extreme { of, .. } => of.iter().map(Part::Number).collect(),
        }
    }
}

impl FlagPlan {
    pub(super) fn parts(&self) -> Vec<Part<'_>> {
        match self {
            FlagPlan::Constant(_) | FlagPlan::Kernel(..) => vec![],
            FlagPlan::TextEqual { left, right, .. } => vec![Part::Text(left), Part::Text(right)],
            FlagPlan::TextOneOf(x, options) => std::iter::once(x).chain(options).map(Part::Text).collect(),
            FlagPlan::Scope { body, .. }
            | FlagPlan::Guard(_, body)
            | FlagPlan::Named(_, body)
            | FlagPlan::Not(body)
            | FlagPlan::Ago { body, .. } => {
                vec![Part::Flag(body)]
            }
            FlagPlan::Compare(_, a, b) => vec![Part::Number(a), Part::Number(b)],
            FlagPlan::OneOf(x, options) => std::iter::once(&**x).chain(options).map(Part::Number).collect(),
            FlagPlan::Logic { left, right, .. } | FlagPlan::Else(left, right) => vec![Part::Flag(left), Part::Flag(right)],
            FlagPlan::If(c, a, b) => vec![Part::Flag(c), Part::Flag(a), Part::Flag(b)],
            FlagPlan::Defined(x) => vec![x.part()],
        }
    }
}

impl Plan {
    pub(super) fn part(&self) -> Part<'_> {
        match self {
            Plan::Number(p, _) => Part::Number(p),
            Plan::Flag(p) => Part::Flag(p),
            Plan::Text(p) => Part::Text(p),
        }
    }
}

/// A borrowed sub-plan.
#[derive(Clone, Copy, Debug)]
pub(super) enum Part<'a> {
    Number(&'a NumPlan),
    Flag(&'a FlagPlan),
    Text(&'a TextPlan),
}

impl<'a> Part<'a> {
    pub(super) fn parts(self) -> Vec<Part<'a>> {
        match self {
            Part::Number(p) => p.parts(),
            Part::Flag(p) => p.parts(),
            Part::Text(_) => vec![],
        }
    }

    /// Whether it needs only what was filed, and the dividends of the years that were: no price, no rate, no other company,
    /// no other date. With amounts in the reporting currency it stays between two filings.
    pub(super) fn is_pure(self) -> bool {
        let own = match self {
            Part::Number(p) => {
                !matches!(p, NumPlan::Kernel(..) | NumPlan::Value(_) | NumPlan::Own { .. } | NumPlan::Peers { .. } | NumPlan::Ago { .. })
            }
            Part::Flag(p) => !matches!(p, FlagPlan::Kernel(..) | FlagPlan::Ago { .. } | FlagPlan::TextOneOf(..)),
            Part::Text(_) => false,
        };
        own && self.parts().into_iter().all(Part::is_pure)
    }

    /// The assumptions on which its answers depend.
    pub(super) fn depends(self) -> Depends {
        let own = match self {
            Part::Number(NumPlan::AssumedTax) => Depends::TAX,
            Part::Number(NumPlan::Value(field)) => field.depends(),
            Part::Text(TextPlan::Judgement(word)) => word.depends(),
            _ => Depends::NOTHING,
        };
        self.parts().into_iter().fold(own, |all, part| all.and(part.depends()))
    }

    /// What is compared with its own history or with peers, anywhere in it.
    pub(super) fn compared(self, all: &mut HashSet<Identity>) {
        if let Part::Number(NumPlan::Own { of, .. } | NumPlan::Peers { of, .. }) = self {
            all.insert(*of);
        }
        self.parts().into_iter().for_each(|part| part.compared(all));
    }

    /// What its answers are known by: equal for plans that answer alike.
    pub(super) fn identity(self) -> Identity {
        Identity::of(&self, self.depends())
    }

    /// Whether any statement item is read in the span of the asking formula.
    pub(super) fn has_items(self) -> bool {
        match self {
            Part::Number(NumPlan::Item(_)) => true,
            _ if self.is_own_time() => false,
            _ => self.parts().into_iter().any(Part::has_items),
        }
    }

    /// The alternatives of flow items (bits) of which one must be complete in a span.
    pub(super) fn flows(self) -> Vec<u64> {
        match self {
            Part::Number(NumPlan::Item(item)) if item.is_flow() => vec![item.bit()],
            Part::Number(NumPlan::Else(a, b)) => [Part::Number(a).flows(), Part::Number(b).flows()].concat(),
            Part::Flag(FlagPlan::Else(a, b)) => [Part::Flag(a).flows(), Part::Flag(b).flows()].concat(),
            _ if self.is_own_time() => vec![0],
            _ => self.parts().into_iter().fold(vec![0], |all, p| crossed(&all, &p.flows())),
        }
    }

    /// Whether what is inside is taken at fiscal years or dates of its own.
    fn is_own_time(self) -> bool {
        match self {
            Part::Number(p) => matches!(
                p,
                NumPlan::Fiscal { .. }
                    | NumPlan::FiscalCount { .. }
                    | NumPlan::Interim { .. }
                    | NumPlan::QuarterCount { .. }
                    | NumPlan::Own { .. }
                    | NumPlan::Peers { .. }
                    | NumPlan::Ago { .. }
            ),
            Part::Flag(p) => matches!(p, FlagPlan::Ago { .. }),
            Part::Text(_) => true,
        }
    }
}

fn crossed(a: &[u64], b: &[u64]) -> Vec<u64> {
    let mut all: Vec<u64> = a.iter().flat_map(|x| b.iter().map(move |y| x | y)).collect();
    all.dedup();
    all
}
