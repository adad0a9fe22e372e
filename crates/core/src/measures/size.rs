//! Size and trading.

use crate::{
    formula::{Body, Family, Kinds, Measure, Param, ParamKind, Unit},
    price,
};

const fn entry(id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, body: Body) -> Measure {
    Measure::new(Family::Size, id, label, unit, meaning, body)
}

const SESSIONS_50: &[Param] = &[Param::sessions(Some("50"), "50")];

pub(super) const MEASURES: &[Measure] = &[
    entry("price", "Price", Unit::PerShare, "The last close on or before the date.", Body::Number(|c, _| c.price()))
        .undefined("no session yet"),
    entry(
        "price_in_base",
        "Price in base currency",
        Unit::Money,
        "The price in the base currency, to compare shares across currencies.",
        Body::Number(|c, _| Ok(c.price()? * c.listing_to_base()?)),
    )
    .undefined("no session yet, or no exchange rate"),
    entry("market_cap", "Market value", Unit::Money, "What all shares cost: price × shares outstanding.", Body::Number(price::market_cap))
        .undefined("no price, or the shares outstanding are not known"),
    entry(
        "enterprise_value",
        "Enterprise value",
        Unit::Money,
        "What the whole business costs: market value plus debt, preferred and minority capital, less cash.",
        Body::Formula(
            "market_cap + short_term_debt + long_term_debt + preferred_equity + minority_interest - cash - short_term_investments",
        ),
    )
    .not_for(Kinds::FINANCIAL)
    .undefined("market value, debt or cash is not known"),
    entry("volume", "Volume", Unit::Count, "Units traded in the last session.", Body::Number(price::volume)).undefined("no session yet"),
    entry(
        "average_volume",
        "Average volume",
        Unit::Count,
        "Mean units traded a session over the last n sessions.",
        Body::Number(price::average_volume),
    )
    .params(SESSIONS_50)
    .higher()
    .undefined("fewer than n sessions"),
    entry(
        "average_traded_value",
        "Traded value a day",
        Unit::Money,
        "Mean of close × volume over the last n sessions.",
        Body::Number(price::average_traded_value),
    )
    .params(SESSIONS_50)
    .higher()
    .undefined("fewer than n sessions"),
    entry(
        "relative_volume",
        "Relative volume",
        Unit::Ratio,
        "Today's volume against the mean of the n sessions before.",
        Body::Number(price::relative_volume),
    )
    .params(&[Param::sessions(Some("63"), "63")])
    .undefined("fewer than n + 1 sessions, or nothing traded in them"),
    entry(
        "order_share",
        "Order as share of trading",
        Unit::Percent,
        "An order of this amount as a share of what trades in a usual day.",
        Body::Number(price::order_share),
    )
    .params(&[Param { name: "amount", kind: ParamKind::Amount, default: None, example: "20k" }])
    .lower()
    .undefined("fewer than 50 sessions, or nothing traded in them"),
];
