//! Who owns the company, and what its insiders do with their own money.

use crate::{
    formula::{Args, Body, Family, Measure, Param, Unit},
    insiders,
    panel::CompanyAt,
};

const MONTHS: &[Param] = &[Param::MONTHS];
const NO_TRADES: &str = "the company has no insider trades in the dataset";
const NO_OWNERSHIP: &str = "no ownership row carries it";

const fn entry(id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, body: Body) -> Measure {
    Measure::new(Family::Insiders, id, label, unit, meaning, body).undefined(NO_TRADES)
}

const fn stake(id: &'static str, label: &'static str, meaning: &'static str, kernel: fn(&CompanyAt<'_>, &Args) -> crate::Num) -> Measure {
    Measure::new(Family::Insiders, id, label, Unit::Percent, meaning, Body::Number(kernel)).undefined(NO_OWNERSHIP)
}

pub(super) const MEASURES: &[Measure] = &[
    entry(
        "insider_net_buying",
        "Insiders' net buying",
        Unit::Money,
        "Open-market purchases less sales by insiders over the last months, planned trades left out.",
        Body::Number(insiders::net_buying),
    )
    .params(MONTHS)
    .higher(),
    entry(
        "insider_net_buying_ratio",
        "Insiders' net buying of company",
        Unit::Percent,
        "Insiders' net buying as a share of market value.",
        Body::Number(insiders::net_buying_ratio),
    )
    .params(MONTHS)
    .higher(),
    entry(
        "insider_buyers",
        "Insiders buying",
        Unit::Count,
        "Distinct insiders with an open-market purchase.",
        Body::Number(insiders::buyers),
    )
    .params(MONTHS)
    .higher(),
    entry(
        "insider_sellers",
        "Insiders selling",
        Unit::Count,
        "Distinct insiders with an open-market sale.",
        Body::Number(insiders::sellers),
    )
    .params(MONTHS)
    .lower(),
    entry(
        "executive_buying",
        "Executives' purchases",
        Unit::Money,
        "Open-market purchases by the chief executive and the chief of finance.",
        Body::Number(insiders::executive_buying),
    )
    .params(MONTHS)
    .higher(),
    entry(
        "insider_cluster",
        "Cluster of insiders buying",
        Unit::Flag,
        "In the last 90 days, three or more insiders bought within 30 days.",
        Body::Flag(insiders::cluster),
    )
    .higher(),
    entry(
        "insider_buy_days",
        "Days since insiders bought",
        Unit::Days,
        "Days since the newest open-market purchase.",
        Body::Number(insiders::buy_days),
    )
    .lower(),
    stake("insider_stake", "Insiders' stake", "Share of the company that insiders hold, controlling holders included.", |c, _| {
        insiders::newest_stake(c, |o| o.insiders)
    })
    .higher(),
    stake("institution_stake", "Institutions' stake", "Share of the company that institutions hold.", |c, _| {
        insiders::newest_stake(c, |o| o.institutions)
    }),
    stake("controlling_stake", "Controlling stake", "Share of the company that controlling holders hold.", |c, _| {
        insiders::newest_stake(c, |o| o.controlling)
    }),
    stake(
        "stake_change",
        "Change of insiders' stake",
        "Change of the insiders' stake over the last quarters, in points.",
        insiders::stake_change,
    )
    .params(&[Param { name: "quarters", example: "4", ..Param::MONTHS }])
    .higher(),
    stake("pledged_stake", "Pledged stake", "Fraction of the controlling holders' shares pledged for loans.", |c, _| {
        insiders::newest_stake(c, |o| o.pledged)
    })
    .lower(),
    Measure::new(
        Family::Insiders,
        "stake_rising_quarters",
        "Quarters of rising stake",
        Unit::Count,
        "How many of the newest quarters in a row raised the insiders' stake.",
        Body::Number(insiders::rising_quarters),
    )
    .higher()
    .undefined(NO_OWNERSHIP),
    Measure::new(
        Family::Insiders,
        "chief_tenure",
        "Chief executive since",
        Unit::Years,
        "Years since the chief executive took office.",
        Body::Number(insiders::chief_tenure),
    )
    .undefined("no chief executive with a first day is known"),
];
