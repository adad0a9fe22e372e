//! A checked formula, ready to run: every name resolved, every type known.

use super::ast::Operator;
use crate::{
    Num, Why,
    domain::{BarSize, Item, Kind, Metric, Span},
    panel::CompanyAt,
    quality::Pillar,
};
use serde::{Deserialize, Serialize};
use std::{fmt, sync::Arc};

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

/// What to make of the reported quarters of a formula.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum QuarterStat {
    At,
    /// Against the same quarter a year before: (x − y) ÷ |y|.
    Yoy,
    Average,
    /// How many quarters in a row that growth has risen (or, negative, fallen).
    Acceleration,
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

/// A figure of the valuation.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum ValueField {
    IntrinsicValue,
    Low,
    High,
    Agreement,
    PriceToValue,
    ValueToPrice,
    MarginOfSafety,
    Upside,
    BuyBelow,
    ExpectedReturn,
    ImpliedGrowth,
    Quality(QualityField),
}

impl ValueField {
    /// Whether it comes from the quality alone.
    #[must_use]
    pub const fn is_quality(self) -> bool {
        matches!(self, ValueField::Quality(_))
    }
}

/// A figure of the quality.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum QualityField {
    Score,
    Coverage,
    Pillar(Pillar),
    RedFlags,
    Soundness,
}

/// A word that valuation and quality give.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Judgement {
    /// "under value", "around value" or "over value".
    Band,
    /// "in range", "close", "wait", "pass" or "cannot value".
    Verdict,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Math {
    Abs,
    Sqrt,
    Ln,
    Exp,
}

/// The name under which a part of a formula is known.
#[derive(Clone, Debug)]
pub(super) struct Named {
    /// As a user writes it.
    pub(super) formula: Arc<str>,
    /// In lists.
    pub(super) label: String,
    pub(super) unit: Unit,
    /// The entry of the catalogue; `None` for a measure of the user's own.
    pub(super) measure: Option<&'static crate::measures::Measure>,
    pub(super) args: Args,
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
    Quarter {
        stat: QuarterStat,
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
        key: String,
        body: Box<NumPlan>,
    },
    Peers {
        rank: bool,
        group: Group,
        key: String,
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
            | NumPlan::Quarter { body, .. }
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
                    | NumPlan::Quarter { .. }
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
