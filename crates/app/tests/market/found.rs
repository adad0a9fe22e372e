//! Everything that the product looks for is there to be found.

use super::{column, context, day, view};
use artemon_app::ready_screens;
use artemon_core::{
    Why,
    domain::Day,
    engine::Section,
    formula::Value,
    measures::{self, compile},
    panel::CompanyAt,
    plausibility::{Check, findings},
    quality::FLAGS,
    screening,
};
use artemon_demo::World;
use std::collections::HashMap;

/// How many companies of the universe of the last day meet a condition.
pub(super) fn count(condition: &str, rows: &[CompanyAt<'static>]) -> usize {
    let all = column(condition, rows);
    (0..rows.len()).filter(|i| all.value(*i) == Value::Flag(true)).count()
}

#[test]
fn every_ready_screen_finds_a_handful() {
    let mut said = String::new();
    let mut bad = false;
    for t in ["2012-12-31", "2016-12-30", "2019-12-31", "2023-12-29", "2026-06-30"].map(day) {
        let section = Section::new(context(), t);
        for ready in ready_screens() {
            let found = screening::run(&ready.screen, &section, 0).unwrap();
            assert!(found.criteria.iter().all(|c| c.error.is_none()), "{}", ready.id);
            bad |= !(1..=40).contains(&found.survivors);
            said += &format!("{t} {:>3} {}\n", found.survivors, ready.id);
        }
    }
    println!("{said}");
    assert!(!bad, "{said}");
}

/// Each as the valuations find it: raised for some companies, not raised for others.
#[test]
fn every_red_flag_is_raised_somewhere() {
    let t = World::last_day();
    let valuations = context().valuations(t);
    let mut said = Vec::new();
    for (at, flag) in FLAGS.iter().enumerate() {
        let count = |answer| view(t).universe().iter().filter(|c| valuations[c.index as usize].quality.flags[at] == Ok(answer)).count();
        said.push((flag.id, count(true), count(false)));
    }
    println!("{said:?}");
    assert!(said.iter().all(|(_, raised, not)| *raised > 0 && *not > 0), "{said:?}");
}

/// Prices of every sort against value: what verdicts are made of.
#[test]
fn every_verdict_has_its_companies() {
    let rows = view(World::last_day()).universe();
    let sorts = [
        "price <= buy_below",
        "price > buy_below and price <= 1.1 * buy_below",
        "price > 1.1 * buy_below",
        "not defined(intrinsic_value)",
        "value_band = \"under value\"",
        "value_band = \"around value\"",
        "value_band = \"over value\"",
    ];
    for sort in sorts {
        assert!(count(sort, &rows) >= 5, "{sort}: {}", count(sort, &rows));
    }
}

/// Every reason for which a figure can be undefined occurs, over all measures and a few days.
#[test]
fn every_reason_for_undefined_occurs() {
    let mut seen: HashMap<Why, String> = HashMap::new();
    let small_groups = "rank_in(pe, sector_country)".to_owned();
    let examples = measures::all().map(|m| m.example()).chain([small_groups]);
    let formulas: Vec<_> = examples.map(|f| compile(&f).unwrap()).collect();
    let refs: Vec<_> = formulas.iter().collect();
    let first: Day = view(World::last_day()).snapshot.sessions().unwrap().0;
    for t in [World::last_day(), day("2012-06-29"), day("2015-03-31"), first.plus_days(-30), first] {
        let rows: Vec<_> = view(t).companies().collect();
        for (formula, answers) in formulas.iter().zip(context().evaluate_all(&refs, &rows)) {
            (0..rows.len()).filter_map(|i| answers.value(i).why()).for_each(|w| {
                seen.entry(w).or_insert_with(|| format!("{} at {t}", formula.text));
            });
        }
    }
    let kinds: Vec<&str> = seen.keys().map(|w| name(*w)).collect();
    let wanted = [
        "NoItem",
        "NoPrice",
        "NoFx",
        "NoActions",
        "NoInsiderData",
        "NoOwnership",
        "NoEstimate",
        "NoRate",
        "NoOfficer",
        "NoIndex",
        "NoLevel",
        "Stale",
        "HistoryTooShort",
        "NotPositive",
        "NoAnswer",
        "NotMeaningful",
        "FewPeers",
        "TooLittle",
    ];
    let missing: Vec<_> = wanted.iter().filter(|w| !kinds.contains(*w)).collect();
    println!("{:?}", seen);
    assert!(missing.is_empty(), "never: {missing:?}");
}

fn name(why: Why) -> &'static str {
    match why {
        Why::NoItem(_) => "NoItem",
        Why::NoPrice => "NoPrice",
        Why::NoVolume => "NoVolume",
        Why::NoFx => "NoFx",
        Why::NoActions => "NoActions",
        Why::NoInsiderData => "NoInsiderData",
        Why::NoOwnership => "NoOwnership",
        Why::NoEstimate => "NoEstimate",
        Why::NoRate => "NoRate",
        Why::NoOfficer => "NoOfficer",
        Why::NoIndex => "NoIndex",
        Why::NoLevel => "NoLevel",
        Why::NoText => "NoText",
        Why::Stale => "Stale",
        Why::HistoryTooShort => "HistoryTooShort",
        Why::NotPositive => "NotPositive",
        Why::NoAnswer => "NoAnswer",
        Why::NotMeaningful => "NotMeaningful",
        Why::FewPeers => "FewPeers",
        Why::TooLittle => "TooLittle",
        Why::OutsideRange => "OutsideRange",
        Why::NoDebtCost => "NoDebtCost",
        Why::NotListed => "NotListed",
    }
}

/// The characters can be found by what their stories tell.
#[test]
fn the_stories_can_be_found() {
    let t = World::last_day();
    let parts = [
        ("QRW", "eps_rising_years(5) >= 4 and from_low_52w < 0.15"),
        ("BKR", "pe < 14 and net_margin < fy(net_margin, 3)"),
        ("TTB", "share_count_growth(5) > 0.03"),
        ("OWM", "insider_buyers(6) >= 1 and stake_change(8) > 0.01 and insider_stake > 0.4"),
        ("ESF", "fy_low(net_income, 6) < 0 and fy(net_income, 0) > 0"),
        ("DML", "insider_cluster and from_high_52w < -0.3"),
        ("VRB", "beneish_m > -1.78 and operating_cash_flow < 0.5 * net_income"),
        ("LHS", "net_margin > fy_high(net_margin, 5) and pe < 12"),
        ("CGS", "eps > 1.5 * eps_adjusted"),
        ("PHS", "share_count_growth(5) < -0.02"),
        ("SLB", "equity < 0 and net_income > 0"),
        ("JPB", "price_to_ncav < 1"),
        ("MFB", "pledged_stake > 0.25 and fiscal_age > 250"),
    ];
    let mut wrong = Vec::new();
    for (symbol, condition) in parts {
        let company = view(t).company(context().snapshot().find(symbol).unwrap());
        let all = column(condition, &[company]);
        if all.value(0) != Value::Flag(true) {
            let names: Vec<&str> = condition.split(|c: char| !(c.is_alphanumeric() || "_(), ".contains(c))).collect();
            let each: Vec<String> = names
                .iter()
                .flat_map(|n| n.split(" and "))
                .filter_map(|n| compile(n.trim()).ok())
                .map(|f| format!("{}={:?}", f.text, context().evaluate(&f, &[company]).value(0)))
                .collect();
            wrong.push(format!("{symbol}: {condition}: {}", each.join(" ")));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// The mistakes of docs/demo-world.md, each at its company, in its year, by the check that is meant for it.
#[test]
fn the_planted_mistakes_are_found() {
    let all = findings(view(World::last_day()));
    let by = |check: Check| -> Vec<String> {
        let of = all.iter().filter(|f| f.check == check);
        of.map(|f| {
            format!("{} {}", context().snapshot().company(f.company).name, f.fiscal_year.map_or(f.on.to_string(), |y| y.to_string()))
        })
        .collect()
    };
    assert_eq!(by(Check::Balance), ["Reddlelow Passage 2015"]);
    // A year in thousands jumps down and up again, and its earnings per share are not its income over shares.
    assert_eq!(by(Check::Units), ["Lapwinden Lamp Oil 2018", "Lapwinden Lamp Oil 2017"]);
    for (check, planted) in [
        (Check::EarningsPerShare, "Lapwinden Lamp Oil 2017"),
        (Check::EarningsPerShare, "Elvercombe Dredging 2021"),
        (Check::PriceJump, "Inlander & Partners Savings Bank 2022-09-07"),
        (Check::PriceJump, "Inlander & Partners Savings Bank 2022-09-08"),
    ] {
        assert!(by(check).iter().any(|found| found == planted), "{planted}: {:?}", by(check));
    }
    assert!(!by(Check::LateFiling).is_empty(), "late filings are part of the world");
}
