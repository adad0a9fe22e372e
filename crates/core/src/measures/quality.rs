//! How good the business is, what could be wrong with it, and what follows for a buyer.

use crate::formula::{Body, Family, Judgement, Measure, Pillar, QualityField, Unit, ValueField};

const fn entry(id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, field: QualityField) -> Measure {
    Measure::new(Family::Quality, id, label, unit, meaning, Body::Value(ValueField::Quality(field)))
        .undefined("components of fewer than 60 points are known; funds")
}

const fn pillar(id: &'static str, label: &'static str, meaning: &'static str, pillar: Pillar) -> Measure {
    entry(id, label, Unit::Ratio, meaning, QualityField::Pillar(pillar)).higher().undefined("none of its components is known; funds")
}

pub(super) const MEASURES: &[Measure] = &[
    entry("quality", "Quality", Unit::Rank, "How good the business is, 0 to 100, by five pillars.", QualityField::Score).higher(),
    entry("quality_coverage", "Quality, points known", Unit::Rank, "Points of 100 whose components are known.", QualityField::Coverage)
        .higher()
        .undefined("components of fewer than 60 points are known; funds"),
    pillar("quality_growth", "Quality: growth", "Points of 25 for growth of earnings and sales.", Pillar::Growth),
    pillar(
        "quality_profitability",
        "Quality: profitability",
        "Points of 25 for returns, margin and its steadiness.",
        Pillar::Profitability,
    ),
    pillar("quality_balance", "Quality: balance sheet", "Points of 20 for what it owes and can pay.", Pillar::Balance),
    pillar("quality_owners_cash", "Quality: owners' cash", "Points of 20 for cash that reaches its owners.", Pillar::OwnersCash),
    pillar("quality_alignment", "Quality: alignment", "Points of 10 for owning what one runs.", Pillar::Alignment),
    entry("red_flags", "Red flags", Unit::Count, "How many of eighteen red flags are raised.", QualityField::RedFlags)
        .lower()
        .undefined("never: what cannot be checked is not raised"),
    entry(
        "soundness",
        "Soundness",
        Unit::Count,
        "1 for the best companies without a red flag, down to 4, by quality and red flags.",
        QualityField::Soundness,
    )
    .lower()
    .undefined("quality is"),
    Measure::new(
        Family::Quality,
        "verdict",
        "Verdict",
        Unit::Text,
        "In range, close, wait, pass or cannot value: by price, value and quality.",
        Body::Judgement(Judgement::Verdict),
    )
    .undefined("never: without a value it says so"),
];
