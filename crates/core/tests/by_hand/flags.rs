//! Each red flag of a company that is sound otherwise: raised by the row that plants it, not by the one that barely does not.

use crate::world::{World, currency, day};
use artemon_core::{
    Why,
    domain::{InsiderTrade, Item, Item::*, Kind, Ownership, Period, Record, Role},
    quality::FLAGS,
};

const T: &str = "2024-03-01";

/// What differs from a sound company: item of a fiscal year, set to a value.
type Changed<'c> = &'c [(i32, Item, f64)];

/// Six years of a company that grows by 5 % a year and owes little; its newest year is 2023.
fn sound(changed: Changed<'_>) -> World {
    (2018..=2023).fold(World::new().price(T, 15.0), |w, year| {
        let growth = 1.05f64.powi(year - 2018);
        let grows = [
            (Revenue, 1000.0),
            (GrossProfit, 400.0),
            (SellingGeneralAdmin, 200.0),
            (OperatingIncome, 150.0),
            (DepreciationAmortization, 40.0),
            (InterestExpense, 5.0),
            (PretaxIncome, 140.0),
            (IncomeTax, 40.0),
            (NetIncome, 100.0),
            (EpsDiluted, 1.0),
            (EpsAdjusted, 1.0),
            (OperatingCashFlow, 130.0),
            (CapitalExpenditure, 30.0),
            (DividendsPaid, 40.0),
            (Receivables, 100.0),
            (Inventory, 60.0),
            (CurrentAssets, 500.0),
            (FixedAssets, 300.0),
            (Goodwill, 100.0),
            (TotalAssets, 1000.0),
            (CurrentLiabilities, 200.0),
            (LongTermDebt, 100.0),
            (TotalLiabilities, 400.0),
            (Equity, 600.0),
            (RetainedEarnings, 300.0),
        ];
        let still = [(SharesDiluted, 100.0), (SharesBasic, 100.0), (SharesOutstanding, 100.0)];
        let mut items: Vec<(Item, f64)> = grows.iter().map(|(item, value)| (*item, value * growth)).chain(still).collect();
        items.extend([(ShortTermDebt, 0.0), (Cash, 100.0), (PreferredEquity, 0.0)]);
        for (_, item, value) in changed.iter().filter(|c| c.0 == year) {
            items.retain(|(other, _)| other != item);
            items.push((*item, *value));
        }
        w.filed((year, Period::FY), &format!("{year}-12-31"), &format!("{}-02-20", year + 1), &items)
    })
}

fn owned(pledged: f64) -> Record {
    Record::Ownership(Ownership {
        company_id: "C".into(),
        as_of: day("2023-12-31"),
        filed_on: day("2024-01-20"),
        insiders: Some(0.1),
        controlling: Some(0.3),
        institutions: None,
        pledged: Some(pledged),
    })
}

fn traded(insider: &str, bought: bool, shares: f64) -> Record {
    Record::InsiderTrade(Box::new(InsiderTrade {
        company_id: "C".into(),
        filing_id: format!("{insider}-{shares}"),
        filed_on: day("2024-02-10"),
        traded_on: day("2024-02-08"),
        insider_id: insider.into(),
        insider_name: insider.into(),
        role: Some(Role::Officer),
        code: if bought { "P" } else { "S" }.into(),
        acquired: bought,
        shares,
        price: Some(10.0),
        currency: currency("XFA"),
        shares_after: None,
        direct: true,
        planned: false,
        superseded_on: None,
    }))
}

fn known(w: World) -> World {
    w.row(owned(0.1)).row(traded("A", true, 10.0))
}

/// The flags of the company at the date: those raised, and those that could not be checked.
fn flags(w: &World, t: &str) -> (Vec<&'static str>, Vec<(&'static str, Why)>) {
    let quality = w.context().value_company(day(t), 0).valuation.quality;
    let all = FLAGS.iter().zip(&quality.flags);
    let raised = all.clone().filter(|(_, f)| **f == Ok(true)).map(|(flag, _)| flag.id).collect();
    (raised, all.filter_map(|(flag, f)| Some((flag.id, (*f).err()?))).collect())
}

#[test]
fn a_sound_company_raises_none() {
    assert_eq!(flags(&known(sound(&[])), T), (vec![], vec![]));
}

/// 2023 stands at 1.05⁵ = 1.2763 of 2018, 2022 at 1.2155, 2021 at 1.1576.
#[test]
fn each_flag_is_raised_by_its_own_figure_alone() {
    let cases: [(&str, Changed<'_>, Changed<'_>); 10] = [
        ("current_liabilities", &[(2023, CurrentLiabilities, 639.0)], &[(2023, CurrentLiabilities, 638.0)]),
        ("fcf_negative", &[(2023, CapitalExpenditure, 166.0), (2022, CapitalExpenditure, 159.0)], &[(2022, CapitalExpenditure, 159.0)]),
        ("dividend_not_covered", &[(2023, DividendsPaid, 128.0)], &[(2023, DividendsPaid, 127.0)]),
        ("goodwill", &[(2023, Goodwill, 383.0)], &[(2023, Goodwill, 382.0)]),
        // 0.1 above the growth of sales: 121.55 × 1.15 = 139.8.
        ("receivables", &[(2023, Receivables, 140.0)], &[(2023, Receivables, 139.5)]),
        ("one_off_gains", &[(2023, EpsAdjusted, 0.85)], &[(2023, EpsAdjusted, 0.852)]),
        // 3 % a year over three years: 109.27.
        ("shares_issued", &[(2023, SharesOutstanding, 109.3)], &[(2023, SharesOutstanding, 109.2)]),
        ("earnings_at_peak", &[(2023, NetIncome, 128.0)], &[(2023, NetIncome, 127.5)]),
        (
            "eps_down_two_years",
            &[(2023, EpsDiluted, 1.14), (2022, EpsDiluted, 1.15)],
            &[(2023, EpsDiluted, 1.14), (2022, EpsDiluted, 1.16)],
        ),
        ("negative_equity", &[(2023, PreferredEquity, 766.0)], &[(2023, PreferredEquity, 765.0)]),
    ];
    for (flag, raises, does_not) in cases {
        let raised = flags(&known(sound(raises)), T).0;
        assert!(raised.contains(&flag), "{flag} by {raises:?}: {raised:?}");
        // What follows of itself: no equity is also much debt for it, and much goodwill.
        println!("{flag}: {raised:?}");
        assert!(!flags(&known(sound(does_not)), T).0.contains(&flag), "{flag} by {does_not:?}");
    }
    let loss = flags(&known(sound(&[(2023, NetIncome, -1.0)])), T).0;
    assert!(loss.contains(&"loss") && !flags(&known(sound(&[(2023, NetIncome, 0.0)])), T).0.contains(&"loss"));
    let debt = |long: f64| flags(&known(sound(&[(2023, LongTermDebt, long)])), T).0.contains(&"debt_to_equity");
    // Twice 600 × 1.2763.
    assert!(debt(1532.0) && !debt(1531.0));
}

/// Banks and insurers have no current liabilities to compare; that is said, not passed over.
#[test]
fn flags_that_do_not_suit_a_kind_are_not_checked() {
    let mut bank = known(sound(&[(2023, CurrentLiabilities, 10_000.0)]));
    bank.company.kind = Kind::Bank;
    let (raised, unchecked) = flags(&bank, T);
    assert!(!raised.contains(&"current_liabilities") && unchecked.contains(&("current_liabilities", Why::NotMeaningful)));
    assert!(unchecked.contains(&("debt_to_equity", Why::NotMeaningful)));
}

/// Three who sell within three months, for more than is bought.
#[test]
fn insiders_that_sell_are_counted() {
    let base = || known(sound(&[]));
    let sold = |w: World, who: &[&str]| who.iter().fold(w, |w, id| w.row(traded(id, false, 5.0)));
    assert!(flags(&sold(base(), &["B", "C", "D"]), T).0.contains(&"insider_selling"));
    assert!(!flags(&sold(base(), &["B", "C"]), T).0.contains(&"insider_selling"), "two");
    assert!(!flags(&sold(base(), &["B", "C", "D"]).row(traded("E", true, 5.0)), T).0.contains(&"insider_selling"), "as much is bought");
    assert!(!flags(&sold(base(), &["B", "C", "D"]), "2024-05-09").0.contains(&"insider_selling"), "three months later");
}

#[test]
fn a_pledge_of_over_a_quarter_is_told() {
    let of = |pledged| flags(&sound(&[]).row(owned(pledged)).row(traded("A", true, 1.0)), T).0;
    assert_eq!((of(0.26), of(0.25)), (vec!["pledged"], vec![]));
}

/// Fewer than five fiscal years.
#[test]
fn a_short_record_is_told() {
    let years = |n: usize| {
        let w = sound(&[]);
        let rows = w.rows.iter().filter(|r| !matches!(r, Record::Statement(s) if s.fiscal_year <= 2023 - i32::try_from(n).unwrap()));
        known(World { rows: rows.cloned().collect(), ..w })
    };
    assert!(flags(&years(4), T).0.contains(&"short_record"));
    assert!(!flags(&years(5), T).0.contains(&"short_record"));
}

/// Who files by the year may be quiet for 15 months, by the half-year for 9, by the quarter for 6; a day more is too long.
#[test]
fn silence_is_measured_by_the_rhythm() {
    let after = |w: &World, filed: &str, months: i32, days: i32| {
        let t = day(filed).plus_months(months).plus_days(days).to_string();
        flags(&known(World { rows: w.rows.clone(), company: w.company.clone(), listing: w.listing.clone() }), &t).0.contains(&"old_filing")
    };
    let quiet = artemon_core::valuation::Assumptions::standard().quiet_months.map(|m| i32::try_from(m).unwrap());
    let yearly = sound(&[]);
    assert!(!after(&yearly, "2024-02-20", quiet[2], 0) && after(&yearly, "2024-02-20", quiet[2], 1));
    let half = sound(&[]).filed((2024, Period::H1), "2024-06-30", "2024-08-20", &[(Revenue, 700.0)]);
    assert!(!after(&half, "2024-08-20", quiet[1], 0) && after(&half, "2024-08-20", quiet[1], 1));
    let quarterly = sound(&[]).filed((2024, Period::Q1), "2024-03-31", "2024-05-10", &[(Revenue, 350.0)]);
    assert!(!after(&quarterly, "2024-05-10", quiet[0], 0) && after(&quarterly, "2024-05-10", quiet[0], 1));
    assert!(quiet[0] < quiet[1] && quiet[1] < quiet[2]);
}

/// When the newest twelve months end after the fiscal year, its margin is one of those before.
#[test]
fn the_peak_is_compared_with_the_years_before_its_own() {
    // Margin 12 % in the twelve months to the first half of 2024; 13 % in 2023 is higher, so that it is no peak.
    let halves = |w: World, income| {
        let w = w.filed((2023, Period::H1), "2023-06-30", "2023-08-20", &[(Revenue, 638.0), (NetIncome, 63.8)]);
        w.filed((2024, Period::H1), "2024-06-30", "2024-08-20", &[(Revenue, 638.0), (NetIncome, income)])
    };
    let at = |w: World| flags(&known(w), "2024-09-02").0.contains(&"earnings_at_peak");
    assert!(at(halves(sound(&[]), 100.0)));
    assert!(!at(halves(sound(&[(2023, NetIncome, 200.0)]), 63.8)));
}
