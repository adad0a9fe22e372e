//! The figures that valuation and quality give to formulas, by name. How they are computed is not known here.

use super::depends::Depends;
use crate::domain::codes;

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
    /// Earnings expected of the year in progress at the lowest multiple of the last years.
    RangeDownside,
    /// The same at the usual multiple.
    RangeMiddle,
    /// The same at the usual highest multiple.
    RangeUpside,
    Quality(QualityField),
}

impl ValueField {
    /// Whether it comes from the quality alone.
    #[must_use]
    pub const fn is_quality(self) -> bool {
        matches!(self, ValueField::Quality(_))
    }

    /// Whether it is of the multiple range, for which nothing is valued.
    #[must_use]
    pub const fn is_range(self) -> bool {
        matches!(self, ValueField::RangeDownside | ValueField::RangeMiddle | ValueField::RangeUpside)
    }

    /// The assumptions on which it depends.
    #[must_use]
    pub const fn depends(self) -> Depends {
        match self {
            ValueField::Quality(_) => Depends::TAX.and(Depends::QUALITY).and(Depends::SCALE),
            ValueField::RangeDownside | ValueField::RangeMiddle | ValueField::RangeUpside => Depends::RANGE,
            ValueField::BuyBelow => Depends::VALUATION.and(Depends::VERDICT),
            _ => Depends::VALUATION,
        }
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

impl Judgement {
    /// The assumptions on which it depends.
    #[must_use]
    pub const fn depends(self) -> Depends {
        match self {
            Judgement::Band => Depends::VALUATION.and(Depends::VERDICT),
            Judgement::Verdict => Depends::VALUATION.and(Depends::VERDICT).and(Depends::QUALITY).and(Depends::SCALE),
        }
    }
}

codes! {
    /// A side of quality.
    Pillar "a pillar of quality" {
        /// Does it earn more each year?
        Growth = "growth",
        /// How well does it turn sales and capital into profit?
        Profitability = "profitability",
        /// Can it pay what it owes?
        Balance = "balance",
        /// Where does the cash go?
        OwnersCash = "owners_cash",
        /// Do those who run it own it?
        Alignment = "alignment",
    }
}

impl Pillar {
    /// Its name in words.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Pillar::Growth => "Growth",
            Pillar::Profitability => "Profitability",
            Pillar::Balance => "Balance sheet",
            Pillar::OwnersCash => "Owners' cash",
            Pillar::Alignment => "Alignment",
        }
    }
}
