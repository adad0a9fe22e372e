//! What it is worth, and what that promises.

use crate::formula::{Body, Family, Judgement, Measure, Unit, ValueField};

const fn entry(id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, field: ValueField) -> Measure {
    Measure::new(Family::Value, id, label, unit, meaning, Body::Value(field))
        .undefined("fewer than three valuations, or all of one model; funds")
}

const fn range(id: &'static str, label: &'static str, meaning: &'static str, body: Body) -> Measure {
    Measure::new(Family::Value, id, label, Unit::PerShare, meaning, body)
        .undefined("no estimate for the year in progress, or fewer than three of five years with earnings above zero and prices; funds")
}

pub(super) const MEASURES: &[Measure] = &[
    entry(
        "intrinsic_value",
        "Intrinsic value",
        Unit::PerShare,
        "Worth of a share by several models under several growth scenarios, extremes set apart.",
        ValueField::IntrinsicValue,
    )
    .source("outliers: Iglewicz & Hoaglin 1993"),
    entry("value_low", "Value, low", Unit::PerShare, "A quarter of the valuations lie below.", ValueField::Low),
    entry("value_high", "Value, high", Unit::PerShare, "A quarter of the valuations lie above.", ValueField::High),
    entry(
        "value_agreement",
        "Agreement of valuations",
        Unit::Ratio,
        "1 when the valuations agree, 0 when they scatter as widely as their median.",
        ValueField::Agreement,
    )
    .higher(),
    entry("price_to_value", "Price to value", Unit::Ratio, "Price divided by intrinsic value.", ValueField::PriceToValue).lower(),
    entry("value_to_price", "Value to price", Unit::Ratio, "Intrinsic value divided by price.", ValueField::ValueToPrice).higher(),
    entry(
        "margin_of_safety",
        "Margin of safety",
        Unit::Percent,
        "How far the price is below intrinsic value, as a share of the value.",
        ValueField::MarginOfSafety,
    )
    .higher()
    .source("Graham & Dodd 1934"),
    entry("upside", "Upside to value", Unit::Percent, "How far the price would rise to reach intrinsic value.", ValueField::Upside)
        .higher(),
    entry("buy_below", "Pay at most", Unit::PerShare, "The price that leaves the required margin of safety.", ValueField::BuyBelow),
    Measure::new(
        Family::Value,
        "value_band",
        "Price against value",
        Unit::Text,
        "Under, around or over value; around is within 10 %.",
        Body::Judgement(Judgement::Band),
    )
    .undefined("intrinsic value is"),
    entry(
        "expected_return",
        "Expected return",
        Unit::Percent,
        "Compound yearly return of buying at today's price and holding ten years on the company's own economics.",
        ValueField::ExpectedReturn,
    )
    .higher()
    .undefined("no earnings, or the return on equity of five years is not known"),
    entry(
        "implied_growth",
        "Growth the price implies",
        Unit::Percent,
        "The growth of five years at which the discounted cash to owners is the price (earnings, where there is no cash; funds \
            from operations of property).",
        ValueField::ImpliedGrowth,
    )
    .lower()
    .undefined("no growth between −50 % and +60 % gives the price, or there is nothing to grow"),
    range(
        "range_downside",
        "Multiple range, low",
        "Estimated earnings of the year in progress at the lowest P/E of five years.",
        Body::Value(ValueField::RangeDownside),
    ),
    range(
        "range_middle",
        "Multiple range, middle",
        "Estimated earnings of the year in progress at the usual P/E of five years.",
        Body::Value(ValueField::RangeMiddle),
    ),
    range(
        "range_upside",
        "Multiple range, high",
        "Estimated earnings of the year in progress at the usual highest P/E of five years.",
        Body::Value(ValueField::RangeUpside),
    ),
    Measure::new(
        Family::Value,
        "return_over_bonds",
        "Return over bonds",
        Unit::Percent,
        "Expected return, weighed by how steady earnings were, less the yield of the best corporate bonds.",
        Body::Formula("expected_return * eps_steadiness(9) - aaa_yield"),
    )
    .higher()
    .undefined("expected return, steadiness or the bond yield is"),
    Measure::new(
        Family::Value,
        "graham_number",
        "Graham number",
        Unit::PerShare,
        "√(22.5 × mean earnings of three years × book value per share): a cross-check.",
        Body::Formula("if(fy_average(eps, 3) > 0, sqrt(22.5 * fy_average(eps, 3) * book_value_per_share), fy_average(eps, 3) ÷ 0)"),
    )
    .undefined("mean earnings or book value is not above zero")
    .source("Graham 1973"),
    Measure::new(
        Family::Value,
        "graham_growth",
        "Graham growth value",
        Unit::PerShare,
        "Earnings per share × (8.5 + twice their growth in points), put to today's bond yield: a cross-check.",
        Body::Formula(
            "if(eps > 0, eps * (8.5 + 200 * max(0, min(0.15, else(eps_trend(5), else(eps_growth(5), eps_growth(3)))))) * 4.4 \
                ÷ (100 * aaa_yield), eps ÷ 0)",
        ),
    )
    .undefined("earnings are not above zero, or growth or the bond yield is not known")
    .source("Graham 1974"),
    Measure::new(
        Family::Value,
        "book_value_per_share",
        "Book value per share",
        Unit::PerShare,
        "Common equity for one diluted share.",
        Body::Formula("a_share(equity - preferred_equity, else(shares_diluted, shares_outstanding))"),
    ),
    Measure::new(
        Family::Value,
        "tangible_book_per_share",
        "Tangible book value per share",
        Unit::PerShare,
        "Common equity without goodwill and intangibles for one share outstanding.",
        Body::Formula("a_share(equity - preferred_equity - goodwill - intangibles, shares_outstanding)"),
    ),
    Measure::new(
        Family::Value,
        "aaa_yield",
        "Yield of best bonds",
        Unit::Percent,
        "Newest yield of AAA corporate bonds in the reporting currency.",
        Body::Number(|c, _| c.rate(crate::domain::RateSeries::AaaCorporateYield)),
    )
    .undefined("the dataset has no such rate"),
];
