//! Each doubt about the data: a row that plants it, and one that barely does not.

use crate::world::{World, day};
use artemon_core::{
    domain::{Item, Item::*, Period},
    plausibility::{Check, Finding, findings},
};

fn found(w: &World, t: &str) -> Vec<Finding> {
    findings(w.context().as_of(day(t)))
}

fn checks(w: &World) -> Vec<Check> {
    found(w, "2024-12-31").into_iter().map(|f| f.check).collect()
}

fn year(w: World, fiscal_year: i32, items: &[(Item, f64)]) -> World {
    w.filed((fiscal_year, Period::FY), &format!("{fiscal_year}-12-31"), &format!("{}-03-01", fiscal_year + 1), items)
}

fn one_year(items: &[(Item, f64)]) -> World {
    year(World::new(), 2022, items)
}

/// Assets may differ from liabilities and equity by 1 % of themselves; minority interest is one of the other side.
#[test]
fn assets_are_liabilities_and_equity() {
    let of = |liabilities, equity, minority| {
        one_year(&[(TotalAssets, 1000.0), (TotalLiabilities, liabilities), (Equity, equity), (MinorityInterest, minority)])
    };
    for (liabilities, equity, minority) in [(600.0, 390.0, 0.0), (600.0, 410.0, 0.0), (600.0, 300.0, 100.0)] {
        assert_eq!(checks(&of(liabilities, equity, minority)), [], "{liabilities} + {equity} + {minority}");
    }
    for (liabilities, equity, minority) in [(600.0, 389.0, 0.0), (600.0, 411.0, 0.0), (600.0, 400.0, 100.0)] {
        assert_eq!(checks(&of(liabilities, equity, minority)), [Check::Balance], "{liabilities} + {equity} + {minority}");
    }
    let said = &found(&of(600e6, 300.0, 0.0), "2024-12-31")[0];
    assert_eq!((said.fiscal_year, said.item, said.on), (Some(2022), Some(TotalAssets), day("2022-12-31")));
    assert_eq!(said.sentence, "FY 2022: total assets 1000 are not liabilities and equity 600 m (−600 m apart).");
    assert_eq!(checks(&one_year(&[(TotalAssets, 1000.0), (Equity, 1.0)])), [], "liabilities that are not known");
}

/// Earnings per share may differ by a tenth from income less preferred dividends over shares, and by a cent.
#[test]
fn earnings_a_share_are_income_over_shares() {
    // (100 − 10) ÷ 30 = 3.
    let of = |eps| one_year(&[(NetIncome, 100.0), (PreferredDividends, 10.0), (SharesBasic, 30.0), (EpsBasic, eps)]);
    for eps in [3.0, 2.71, 3.32] {
        assert_eq!(checks(&of(eps)), [], "{eps}");
    }
    for eps in [2.69, 3.34, -3.0] {
        assert_eq!(checks(&of(eps)), [Check::EarningsPerShare], "{eps}");
    }
    let small = |eps| one_year(&[(NetIncome, 6.0), (SharesBasic, 100.0), (EpsBasic, eps)]);
    assert_eq!(checks(&small(0.05)), [], "0.06 written as 0.05 is a rounding");
    assert_eq!(checks(&small(0.04)), [Check::EarningsPerShare]);
    assert_eq!(checks(&one_year(&[(NetIncome, 6.0), (SharesBasic, 0.0), (EpsBasic, 1.0)])), [], "no shares to divide by");
}

/// One traded unit that stands for two shares has twice the earnings of one.
#[test]
fn a_units_earnings_are_compared_as_such() {
    let mut w = one_year(&[(NetIncome, 100.0), (SharesBasic, 100.0), (EpsBasic, 1.0)]);
    w.listing.shares_per_unit = 2.0;
    assert_eq!(checks(&w), []);
}

/// Revenue that changes by more than 300 times against the same period a year before.
#[test]
fn a_jump_of_some_hundreds_changes_the_unit() {
    let of = |before, now| year(one_year(&[(Revenue, before)]), 2023, &[(Revenue, now)]);
    for (before, now) in [(100.0, 30_000.0), (30_000.0, 100.0), (-100.0, 90_000.0)] {
        assert_eq!(checks(&of(before, now)), [], "{before} to {now}");
    }
    for (before, now) in [(100.0, 30_001.0), (30_001.0, 100.0)] {
        assert_eq!(checks(&of(before, now)), [Check::Units], "{before} to {now}");
    }
    // A quarter is compared with the same one, not with the year.
    let quarter = World::new().filed((2023, Period::Q1), "2023-03-31", "2023-05-01", &[(Revenue, 1.0)]);
    assert!(!checks(&year(quarter, 2022, &[(Revenue, 1_000.0)])).contains(&Check::Units));
}

#[test]
fn missing_years_and_quarters_are_named() {
    let years = |all: &[i32]| all.iter().fold(World::new(), |w, y| year(w, *y, &[(Revenue, 100.0)]));
    assert_eq!(checks(&years(&[2020, 2021, 2022])), []);
    let two = found(&years(&[2019, 2022]), "2024-12-31");
    let said: Vec<(Option<i32>, &str)> = two.iter().map(|f| (f.fiscal_year, f.sentence.as_str())).collect();
    let missing = |year: i32| format!("The fiscal year {year} is missing between 2019 and 2022.");
    assert_eq!(said, [(Some(2021), missing(2021).as_str()), (Some(2020), missing(2020).as_str())]);

    let with = |quarters: &[Period]| {
        let ends = [("2022-03-31", "2022-05-01"), ("2022-06-30", "2022-08-01"), ("2022-09-30", "2022-11-01")];
        quarters.iter().fold(years(&[2021, 2022]), |w, q| {
            let (end, filed) = ends[[Period::Q1, Period::Q2, Period::Q3].iter().position(|other| other == q).unwrap()];
            w.filed((2022, *q), end, filed, &[(Revenue, 20.0)])
        })
    };
    assert_eq!(checks(&with(&[Period::Q1, Period::Q2, Period::Q3])), [], "the fourth is what the year leaves");
    let some = found(&with(&[Period::Q1, Period::Q3]), "2024-12-31");
    assert_eq!(some.len(), 1);
    assert_eq!(some[0].sentence, "Q2, Q4 of 2022 cannot be told from what was filed.");
}

/// First filed more than 120 days after the end of the period; of one company the twelve newest are kept.
#[test]
fn a_late_first_filing_is_told() {
    let filed = |on: &str| World::new().filed((2022, Period::FY), "2022-12-31", on, &[(Revenue, 1.0)]);
    assert_eq!(checks(&filed("2023-04-30")), []);
    let late = found(&filed("2023-05-01"), "2024-12-31");
    assert_eq!(
        late.iter().map(|f| (f.check, f.sentence.as_str())).collect::<Vec<_>>(),
        [(Check::LateFiling, "FY 2022 was first filed 121 days after its end.")]
    );
    // A correction does not make it late.
    assert_eq!(checks(&filed("2023-03-01").filed((2022, Period::FY), "2022-12-31", "2024-03-01", &[(Revenue, 2.0)])), []);
    let many = (2000..2015)
        .fold(World::new(), |w, y| w.filed((y, Period::FY), &format!("{y}-12-31"), &format!("{}-08-01", y + 1), &[(Revenue, 1.0)]));
    let kept: Vec<Option<i32>> = found(&many, "2024-12-31").iter().map(|f| f.fiscal_year).collect();
    assert_eq!(kept, (2003..2015).rev().map(Some).collect::<Vec<_>>());
}

/// A close more than half away from the one before, without a split or a dividend that day.
#[test]
fn a_jump_of_the_price_needs_a_reason() {
    let moved = |before, now| World::new().price("2024-03-04", before).price("2024-03-05", now);
    for (before, now) in [(10.0, 15.0), (10.0, 5.0)] {
        assert_eq!(checks(&moved(before, now)), [], "{before} to {now}");
    }
    for (before, now) in [(10.0, 15.1), (10.0, 4.9)] {
        assert_eq!(checks(&moved(before, now)), [Check::PriceJump], "{before} to {now}");
    }
    let said = &found(&moved(10.0, 4.0), "2024-12-31")[0];
    assert_eq!(said.sentence, "The price went from 10.00 to 4.00 (−60 %) on 2024-03-05, with no split or dividend.");
    assert_eq!(checks(&moved(10.0, 4.0).dividend("2024-03-05", 6.0)), []);
    assert_eq!(checks(&moved(10.0, 4.0).dividend("2024-03-06", 6.0)), [Check::PriceJump], "a dividend of another day");
    assert_eq!(checks(&moved(10.0, 5.0 / 3.0).split("2024-03-05", 3.0)), [], "down by half on one basis");
    assert_eq!(checks(&moved(10.0, 1.0).split("2024-03-05", 3.0)), [Check::PriceJump]);
}

/// More than ten weekdays between two sessions.
#[test]
fn a_gap_of_weeks_is_told() {
    let until = |on: &str| World::new().price("2024-03-01", 10.0).price(on, 10.0);
    assert_eq!(checks(&until("2024-03-18")), [], "Friday to the Monday after two weeks");
    let gap = found(&until("2024-03-19"), "2024-12-31");
    assert_eq!(gap.iter().map(|f| f.check).collect::<Vec<_>>(), [Check::PriceGap]);
    assert_eq!(gap[0].sentence, "No prices between 2024-03-01 and 2024-03-19: 11 weekdays.");
}

/// Nothing is doubted of what is not known yet.
#[test]
fn doubts_are_those_of_the_date() {
    let w = World::new().price("2024-03-04", 10.0).price("2024-03-05", 4.0);
    assert_eq!(found(&w, "2024-03-04"), []);
    assert_eq!(found(&w, "2024-03-05").len(), 1);
}
