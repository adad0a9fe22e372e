//! The newest quarters, and what analysts expect.

use crate::{
    domain::Metric,
    estimates,
    formula::{Body, Family, Measure, Param, ParamKind, Unit},
};

const NO_QUARTER: &str = "the quarter, or the same one a year before, is not reported";
const NO_ESTIMATE: &str = "no estimate published in the last 12 months";
const NO_SURPRISE: &str = "the quarter is not reported by itself, or nothing was estimated before it";

const fn formula(id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, text: &'static str) -> Measure {
    Measure::new(Family::Quarters, id, label, unit, meaning, Body::Formula(text)).undefined(NO_QUARTER)
}

const fn kernel(id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, body: Body) -> Measure {
    Measure::new(Family::Quarters, id, label, unit, meaning, body).undefined(NO_ESTIMATE)
}

pub(super) const MEASURES: &[Measure] = &[
    formula(
        "eps_yoy",
        "EPS on year before",
        Unit::Percent,
        "Earnings per share of the k-th newest quarter against the same quarter a year before; from a loss when that was one.",
        "q_yoy(eps, k)",
    )
    .params(&[Param::BACK])
    .higher(),
    formula(
        "revenue_yoy",
        "Revenue on year before",
        Unit::Percent,
        "Revenue of the k-th newest quarter against the same quarter a year before.",
        "q_yoy(revenue, k)",
    )
    .params(&[Param::BACK])
    .higher(),
    formula(
        "acceleration",
        "Acceleration",
        Unit::Count,
        "Quarters in a row in which growth on the year before rose (negative: fell).",
        "q_acceleration(item)",
    )
    .params(&[Param { name: "item", kind: ParamKind::Item, default: None, example: "eps" }])
    .higher(),
    kernel(
        "eps_surprise",
        "EPS surprise",
        Unit::Percent,
        "Adjusted earnings of the k-th newest quarter, as first reported, against the last estimate before.",
        Body::Number(|c, a| estimates::surprise_rate(c, Metric::Eps, a.count)),
    )
    .params(&[Param::BACK])
    .higher()
    .undefined(NO_SURPRISE),
    kernel(
        "eps_surprise_amount",
        "EPS surprise, amount",
        Unit::PerShare,
        "Adjusted earnings per share of the k-th newest quarter, as first reported, less the last estimate before.",
        Body::Number(estimates::surprise_amount),
    )
    .params(&[Param::BACK])
    .higher()
    .undefined(NO_SURPRISE),
    kernel(
        "revenue_surprise",
        "Revenue surprise",
        Unit::Percent,
        "Revenue of the k-th newest quarter, as first reported, against the last estimate before.",
        Body::Number(|c, a| estimates::surprise_rate(c, Metric::Revenue, a.count)),
    )
    .params(&[Param::BACK])
    .higher()
    .undefined(NO_SURPRISE),
    kernel(
        "estimated_growth",
        "Estimated growth",
        Unit::Percent,
        "Yearly growth from the newest fiscal year to the estimate of the n-th year after it.",
        Body::Number(estimates::estimated_growth),
    )
    .params(&[Param { name: "item", kind: ParamKind::Estimated, default: None, example: "eps" }, Param { example: "1", ..Param::YEARS }])
    .higher()
    .undefined("no estimate of that year, or an end is zero or negative"),
    kernel(
        "estimate_revision",
        "Revision of estimates",
        Unit::Percent,
        "Change of the expected earnings of the same coming twelve months over the last days.",
        Body::Number(estimates::revision),
    )
    .params(&[Param { name: "days", kind: ParamKind::Count, default: None, example: "90" }])
    .higher(),
    kernel(
        "estimate_spread",
        "Spread of estimates",
        Unit::Percent,
        "Highest less lowest estimate of this fiscal year's earnings, as a share of their mean.",
        Body::Number(estimates::spread),
    )
    .lower(),
    kernel(
        "analysts_count",
        "Analysts",
        Unit::Count,
        "How many analysts estimate this fiscal year's earnings.",
        Body::Number(estimates::analysts),
    ),
    kernel(
        "analyst_rating",
        "Analysts' rating",
        Unit::Ratio,
        "Mean of the analysts' ratings, from 1 (strongest buy) to 5 (strongest sell).",
        Body::Number(estimates::rating),
    )
    .lower(),
    kernel(
        "target_upside",
        "Upside to target",
        Unit::Percent,
        "How far the analysts' price target is above the price.",
        Body::Number(estimates::target_upside),
    )
    .higher(),
    kernel(
        "target_error",
        "Error of targets",
        Unit::Percent,
        "Median distance of the targets of the last n years from the price a year after them: how much a target is worth.",
        Body::Number(estimates::target_error),
    )
    .params(&[Param { example: "3", ..Param::YEARS }])
    .lower(),
    kernel(
        "forward_ebit",
        "Expected EBIT",
        Unit::Money,
        "Operating income that analysts expect over the next twelve months.",
        Body::Number(estimates::forward_ebit),
    )
    .higher(),
];
