//! The identities of accounting, for all statements but those with a planted mistake.

use super::{context, made, view};
use artemon_core::domain::{Item, Kind, Period, Statement};
use artemon_demo::World;
use std::collections::HashMap;

fn of(s: &Statement, item: Item) -> f64 {
    s.items.get(item).unwrap_or(0.0)
}

/// Statements that are no correction, and not one of the planted mistakes.
fn sound() -> impl Iterator<Item = &'static Statement> {
    let planted = [("MR00021", 2017), ("MR00034", 2021), ("MR00047", 2015)];
    let is_planted = move |s: &&Statement| planted.iter().any(|(id, year)| *s.company_id == **id && s.fiscal_year == *year);
    made().statements.iter().filter(move |s| s.items.get(Item::TotalAssets).is_some() && !is_planted(s))
}

/// To the unit; sums of what was converted into crowns are as exact as their parts, each rounded.
fn exact(s: &Statement) -> f64 {
    let snapshot = context().snapshot();
    let at_home = snapshot.company(snapshot.find(&s.company_id).unwrap()).country == "XA";
    if s.currency.as_str() == "ZOC" && !at_home { 6.0 } else { 0.5 }
}

#[test]
fn every_balance_sheet_balances_to_the_unit() {
    for s in sound() {
        let sides = of(s, Item::TotalLiabilities) + of(s, Item::Equity) + of(s, Item::MinorityInterest);
        assert!((of(s, Item::TotalAssets) - sides).abs() < exact(s), "{}", s.source);
        if s.items.get(Item::CurrentAssets).is_some() {
            let current = of(s, Item::Cash) + of(s, Item::ShortTermInvestments) + of(s, Item::Receivables) + of(s, Item::Inventory);
            let terse = s.items.get(Item::Receivables).is_none();
            assert!(terse || (of(s, Item::CurrentAssets) - current).abs() < exact(s), "{}", s.source);
        }
    }
}

/// From one fiscal year to the next: cash by the cash flow statement, retained earnings by income less dividends.
#[test]
fn years_roll_forward_to_the_unit() {
    let years: HashMap<(&str, i32), &Statement> =
        sound().filter(|s| s.period == Period::FY).map(|s| ((&*s.company_id, s.fiscal_year), s)).collect();
    let mut checked = 0;
    for (&(company, year), now) in &years {
        let Some(before) = years.get(&(company, year - 1)).filter(|b| b.currency == now.currency) else { continue };
        let money = |s: &Statement| of(s, Item::Cash) + of(s, Item::ShortTermInvestments);
        let moved = |item| of(now, item);
        let kind = view(World::last_day()).snapshot.company(view(World::last_day()).snapshot.find(company).unwrap()).kind;
        if !matches!(kind, Kind::Bank | Kind::Insurer) {
            let flow = moved(Item::OperatingCashFlow)
                - moved(Item::CapitalExpenditure)
                - moved(Item::Acquisitions)
                - moved(Item::DividendsPaid)
                - moved(Item::SharesRepurchased)
                + moved(Item::SharesIssued)
                + moved(Item::DebtIssued)
                - moved(Item::DebtRepaid);
            assert!(
                (money(now) - money(before) - flow).abs() < exact(now),
                "cash of {}: {} {flow}",
                now.source,
                money(now) - money(before)
            );
        }
        let kept = moved(Item::NetIncome) - moved(Item::DividendsPaid);
        assert!(
            (moved(Item::RetainedEarnings) - of(before, Item::RetainedEarnings) - kept).abs() < exact(now),
            "retained of {}",
            now.source
        );
        let shares = moved(Item::SharesBasic);
        let eps = (moved(Item::NetIncome) - moved(Item::PreferredDividends)) / shares;
        assert!((moved(Item::EpsBasic) - eps).abs() < 0.000_12 * exact(now), "earnings per share of {}", now.source);
        checked += 1;
    }
    assert!(checked > 15_000, "only {checked} pairs of years");
}
