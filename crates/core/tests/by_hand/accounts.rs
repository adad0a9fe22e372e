//! Margins, returns, growth, health and scores of one company whose books are round numbers.

use crate::world::{World, assert_is};
use artemon_core::{
    Why,
    domain::{Item, Item::*, Kind, Period},
};

const T: &str = "2024-03-01";

/// Two years: what changes from 2022 to 2023 is in the second column.
const BOOKS: [(Item, f64, f64); 28] = [
    (Revenue, 1000.0, 1200.0),
    (GrossProfit, 400.0, 504.0),
    (SellingGeneralAdmin, 200.0, 240.0),
    (OperatingIncome, 100.0, 144.0),
    (DepreciationAmortization, 50.0, 56.0),
    (InterestExpense, 10.0, 12.0),
    (PretaxIncome, 90.0, 132.0),
    (IncomeTax, 18.0, 33.0),
    (NetIncome, 72.0, 99.0),
    (PreferredDividends, 2.0, 4.0),
    (EpsDiluted, 0.7, 0.95),
    (OperatingCashFlow, 110.0, 150.0),
    (CapitalExpenditure, 60.0, 70.0),
    (StockCompensation, 5.0, 8.0),
    (DividendsPaid, 20.0, 40.0),
    (Cash, 50.0, 60.0),
    (ShortTermInvestments, 10.0, 20.0),
    (Receivables, 100.0, 120.0),
    (Inventory, 80.0, 100.0),
    (CurrentAssets, 260.0, 320.0),
    (FixedAssets, 350.0, 364.0),
    (TotalAssets, 800.0, 900.0),
    (CurrentLiabilities, 130.0, 160.0),
    (TotalLiabilities, 380.0, 400.0),
    (Equity, 400.0, 480.0),
    (MinorityInterest, 20.0, 20.0),
    (PreferredEquity, 40.0, 40.0),
    (RetainedEarnings, 200.0, 260.0),
];

fn books() -> World {
    let still = [(ShortTermDebt, 30.0), (LongTermDebt, 110.0), (SharesOutstanding, 100.0), (SharesDiluted, 100.0)];
    let of = |pick: fn(&(Item, f64, f64)) -> f64| -> Vec<(Item, f64)> { BOOKS.iter().map(|row| (row.0, pick(row))).chain(still).collect() };
    World::new()
        .filed((2022, Period::FY), "2022-12-31", "2023-02-20", &of(|r| r.1))
        .filed((2023, Period::FY), "2023-12-31", "2024-02-20", &of(|r| r.2))
        .price(T, 19.0)
}

#[track_caller]
fn all(w: &World, expected: &[(&str, f64)]) {
    for (formula, want) in expected {
        let got = w.ask(formula, T);
        assert!(got.is_ok_and(|v| (v - want).abs() <= 1e-12 * want.abs().max(1.0)), "{formula}: {got:?}, want {want}");
    }
}

#[test]
fn margins_are_parts_of_revenue() {
    all(
        &books(),
        &[
            ("gross_margin", 0.42),
            ("operating_margin", 0.12),
            ("ebitda", 200.0),
            ("ebitda_margin", 200.0 / 1200.0),
            ("net_margin", 99.0 / 1200.0),
            ("free_cash_flow", 80.0),
            ("free_cash_flow_after_sbc", 72.0),
            ("fcf_margin", 80.0 / 1200.0),
            ("effective_tax", 0.25),
        ],
    );
}

/// Common equity was 360 and is 440; capital employed was 140 + 400 + 20 − 60 and is 140 + 480 + 20 − 80.
#[test]
fn returns_are_on_what_was_there_on_average() {
    all(
        &books(),
        &[
            ("roe", 95.0 / 400.0),
            ("roa", 99.0 / 850.0),
            ("roic", 144.0 * 0.75 / 530.0),
            ("roce", 144.0 / 740.0),
            ("accruals", (99.0 - 150.0) / 850.0),
            ("cash_conversion(2)", 130.0 / 171.0),
        ],
    );
    // A year before nothing is known of the opening: the closing alone.
    assert_is(books().ask("roe", "2023-03-01"), 70.0 / 360.0);
}

#[test]
fn what_is_owed_is_set_against_what_is_there() {
    all(
        &books(),
        &[
            ("current_ratio", 2.0),
            ("quick_ratio", 200.0 / 160.0),
            ("working_capital", 160.0),
            ("debt_to_equity", 140.0 / 440.0),
            ("liabilities_to_equity", 400.0 / 480.0),
            ("equity_ratio", 480.0 / 900.0),
            ("net_debt", 60.0),
            ("net_debt_to_ebitda", 0.3),
            ("interest_cover", 12.0),
            ("fcf_after_dividends", 40.0),
            ("dividend_cover", 2.0),
        ],
    );
    assert_is(books().ask("assets_exceed_liabilities", T), 1.0);
    assert_is(books().ask("current_assets_exceed_current_liabilities", T), 1.0);
}

/// Working capital 160, retained 260, 144 of income, worth 1,900 against 400 owed, sales of 1,200 on assets of 900.
#[test]
fn distress_is_weighed_as_altman_did() {
    let (a, b, c, d, e) = (160.0 / 900.0, 260.0 / 900.0, 144.0 / 900.0, 1900.0 / 400.0, 1200.0 / 900.0);
    all(
        &books(),
        &[("altman_z", 1.2 * a + 1.4 * b + 3.3 * c + 0.6 * d + e), ("altman_z2", 6.56 * a + 3.26 * b + 6.72 * c + 1.05 * 480.0 / 400.0)],
    );
}

/// Of 2023 against 2022, index by index.
#[test]
fn flattery_is_weighed_as_beneish_did() {
    let dsri = (120.0 / 1200.0) / (100.0 / 1000.0);
    let gmi = 0.4 / 0.42;
    let aqi = (1.0 - 684.0 / 900.0) / (1.0 - 610.0 / 800.0);
    let sgi = 1.2;
    let depi = (50.0 / 400.0) / (56.0 / 420.0);
    let sgai = (240.0 / 1200.0) / (200.0 / 1000.0);
    let lvgi = ((110.0 + 160.0) / 900.0) / ((110.0 + 130.0) / 800.0);
    let tata = (99.0 - 150.0) / 900.0;
    let m = -4.84 + 0.92 * dsri + 0.528 * gmi + 0.404 * aqi + 0.892 * sgi + 0.115 * depi - 0.172 * sgai + 4.679 * tata - 0.327 * lvgi;
    let got = books().ask("beneish_m", T).unwrap();
    assert!((got - m).abs() < 1e-9, "{got}, want {m}");
}

/// No debt and no interest is better than every cover, and no number.
#[test]
fn no_debt_has_a_cover_of_its_own() {
    let items = [(OperatingIncome, 10.0), (InterestExpense, 0.0), (ShortTermDebt, 0.0), (LongTermDebt, 0.0)];
    let w = World::new().filed((2023, Period::FY), "2023-12-31", "2024-02-20", &items);
    assert_is(w.ask("interest_cover > 1000000", T), 1.0);
    assert!(w.ask("interest_cover + 1", T).is_err());
    let mut bank = books();
    bank.company.kind = Kind::Bank;
    for formula in ["current_ratio", "interest_cover", "ev_ebit", "free_cash_flow", "altman_z", "beneish_m", "roic"] {
        assert_eq!(bank.ask(formula, T), Err(Why::NotMeaningful), "{formula}");
    }
    assert!(bank.ask("roe", T).is_ok() && bank.ask("net_margin", T).is_ok());
}

/// 1, 2, 4, 8 doubles each year: a perfect line of logarithms; with a dent it is less steady.
#[test]
fn growth_is_compound_and_trends_are_lines() {
    let years = |eps: &[f64]| {
        eps.iter().rev().enumerate().fold(World::new(), |w, (back, value)| {
            let fiscal_year = 2023 - i32::try_from(back).unwrap();
            w.filed(
                (fiscal_year, Period::FY),
                &format!("{fiscal_year}-12-31"),
                &format!("{}-02-20", fiscal_year + 1),
                &[(EpsDiluted, *value)],
            )
        })
    };
    all(
        &years(&[1.0, 2.0, 4.0, 8.0]),
        &[
            ("eps_growth(3)", 1.0),
            ("eps_trend(3)", 1.0),
            ("eps_trend_fit(3)", 1.0),
            ("eps_steadiness(3)", 1.0),
            ("eps_rising_years(3)", 3.0),
            ("eps_positive_years(4)", 4.0),
        ],
    );
    // ln: 0, 0.69, 0.69, 2.08 about a line with the slope (3 × 2.08 + 0) ÷ 10 = 0.624.
    let dented = years(&[1.0, 2.0, 2.0, 8.0]);
    let l = 2.0f64.ln();
    let slope = 1.5 * (3.0 * l) / 5.0;
    let (mean, at) = (1.25 * l, [0.0, l, l, 3.0 * l]);
    let ssr: f64 = at.iter().enumerate().map(|(i, y)| (y - (mean + slope * (i as f64 - 1.5))).powi(2)).sum();
    let total: f64 = at.iter().map(|y| (y - mean).powi(2)).sum();
    all(
        &dented,
        &[
            ("eps_trend(3)", slope.exp() - 1.0),
            ("eps_trend_fit(3)", 1.0 - ssr / total),
            ("eps_steadiness(3)", 1.0 - (ssr / 2.0).sqrt() / 0.5),
            ("eps_rising_years(3)", 2.0),
        ],
    );
    let loss = years(&[1.0, -2.0, 2.0, 8.0]);
    assert!(loss.ask("eps_trend(3)", T).is_err());
    all(&loss, &[("eps_growth(3)", 1.0), ("eps_positive_years(4)", 3.0)]);
    assert!(years(&[-1.0, 2.0]).ask("eps_growth(1)", T).is_err());
    all(&years(&[2.0, 2.0, 2.0]), &[("eps_trend(2)", 0.0), ("eps_trend_fit(2)", 1.0)]);
}
