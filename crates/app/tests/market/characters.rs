//! Sorts of company that a person learns to tell apart: each is there more than once.

use super::{column, context, day, found::count, made, view};
use artemon_core::{
    domain::{Currency, Item, Kind, Period, Statement},
    panel::CompanyAt,
    plausibility::{Check, findings},
    stats,
};
use artemon_demo::World;
use std::collections::{HashMap, HashSet};

fn listed() -> Vec<CompanyAt<'static>> {
    view(World::last_day()).universe()
}

#[track_caller]
fn some_are(what: &str, condition: &str, low: usize, high: usize) {
    let found = count(condition, &listed());
    assert!((low..=high).contains(&found), "{what}: {found} meet {condition}");
}

#[test]
fn sorts_of_company_are_found_by_their_figures() {
    some_are("debt-laden roll-ups", "goodwill > 0.2 * total_assets and debt_to_equity > 1", 10, 120);
    some_are("serial diluters", "share_count_growth(5) > 0.08", 10, 100);
    some_are("melting ice cubes", "revenue_growth(5) < -0.02 and pe > 0 and pe < 12", 5, 100);
    some_are("turnarounds", "fy(net_income, 3) < 0 and fy(net_income, 2) < 0 and fy(net_income, 1) > 0 and fy(net_income, 0) > 0", 5, 60);
    some_are("steady compounders that are dear", "quality >= 70 and eps_rising_years(9) >= 6 and pe > 18", 5, 80);
    some_are("other owners in subsidiaries", "minority_interest > 0.01 * total_assets", 20, 120);
    some_are("one-off gains that make a P/E low", "eps > 1.3 * eps_adjusted and eps_adjusted > 0", 3, 80);
}

/// Holding companies and funds are priced below what they own.
#[test]
fn holding_companies_stand_at_a_discount() {
    let mut rows = listed();
    rows.retain(|c| c.kind() == Kind::Holding);
    let to_book = column("pb", &rows);
    let known: Vec<f64> = (0..rows.len()).filter_map(|i| to_book.value(i).number().ok()).collect();
    let middle = stats::median(&known).unwrap();
    assert!(known.len() >= 10 && (0.4..0.85).contains(&middle), "{known:?}");
}

/// The yearly statements of each company, oldest first.
fn years() -> HashMap<&'static str, Vec<&'static Statement>> {
    let mut out: HashMap<&str, Vec<&Statement>> = HashMap::new();
    let yearly = made().statements.iter().filter(|s| s.period == Period::FY && s.items.get(Item::TotalAssets).is_some());
    yearly.for_each(|s| out.entry(&*s.company_id).or_default().push(s));
    out.values_mut().for_each(|all| all.sort_by_key(|s| s.period_end));
    out
}

/// Goodwill that did not pay is written off: a loss in a year in which cash comes in all the same.
#[test]
fn goodwill_is_written_off_without_cash() {
    let all = years();
    let pairs = all.values().flat_map(|years| years.windows(2));
    let mut with_cash = Vec::new();
    for pair in pairs.filter(|p| p[0].currency == p[1].currency) {
        let of = |i: usize, item| pair[i].items.get(item).unwrap_or(0.0);
        let fell = of(0, Item::Goodwill) - of(1, Item::Goodwill);
        if fell > 0.5 * of(1, Item::Revenue) && of(1, Item::NetIncome) < 0.0 {
            with_cash.push(of(1, Item::OperatingCashFlow) > of(1, Item::NetIncome) + 0.9 * fell - 0.4 * of(1, Item::Revenue));
        }
    }
    assert!(with_cash.len() >= 10 && with_cash.iter().all(|c| *c), "{with_cash:?}");
}

/// Some went over to another currency: what they earned before stays comparable, and their estimates with it.
#[test]
fn some_changed_the_currency_of_their_reports() {
    let all = years();
    let changed: Vec<&str> = all
        .iter()
        .filter(|(_, years)| years.iter().map(|s| s.currency).collect::<HashSet<Currency>>().len() == 2)
        .map(|(id, _)| *id)
        .collect();
    assert!(changed.len() >= 3, "{changed:?}");
    for id in changed {
        let company = view(World::last_day()).company(context().snapshot().find(id).unwrap());
        if !company.in_universe() {
            continue;
        }
        let growth = column("abs(ln(fy(revenue, 0) / fy(revenue, 9)))", &[company]);
        assert!(
            growth.value(0).number().is_ok_and(|g| g < 1.6),
            "{id}: sales of nine years are not of one currency: {:?}",
            growth.value(0)
        );
        for row in company.estimates().filter(|e| e.metric == artemon_core::domain::Metric::Revenue && e.period.is_none()) {
            let was = company.item(company.year0().unwrap(), Item::Revenue).unwrap();
            assert!((row.mean / was).ln().abs() < 0.6, "{id}: {} expected after {was}", row.mean);
        }
    }
}

/// Cyclical companies look cheapest when they earn most and dear when they earn least.
#[test]
fn cyclical_companies_are_cheapest_at_their_peak() {
    let of = |t: &str| {
        let mut rows = view(day(t)).universe();
        rows.retain(|c| matches!(&*context().snapshot().company(c.index).industry, "Timber" | "Dredging and piling" | "Glassworks"));
        let pe = column("pe", &rows);
        stats::median(&(0..rows.len()).filter_map(|i| pe.value(i).number().ok()).collect::<Vec<_>>()).unwrap()
    };
    let (peak, trough) = (of("2019-12-31"), of("2022-03-31"));
    assert!(peak < 0.8 * trough, "a P/E of {peak} at the peak, of {trough} in the trough");
}

#[test]
fn some_have_two_classes_of_shares_and_some_were_not_traded_for_weeks() {
    let second = |c: &CompanyAt<'_>| c.listings().any(|l| l.symbol.ends_with(".B"));
    assert!(view(World::last_day()).companies().filter(second).count() >= 10);
    let stopped: HashSet<_> = findings(view(World::last_day())).iter().filter(|f| f.check == Check::PriceGap).map(|f| f.company).collect();
    assert!(stopped.len() >= 10, "{} were suspended", stopped.len());
}
