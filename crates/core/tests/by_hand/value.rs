//! One value from many, and what follows from it: starting figures, rates, outliers, agreement, verdict.

use crate::world::currency;
use artemon_core::{
    Num, Why,
    domain::Kind,
    formula::{QualityField, ValueField},
    quality::Quality,
    valuation::{self, Assumptions, Inputs, Model, Override, RequiredReturn, Scenario, Status, Valuation, Verdict},
};
use std::sync::Arc;

/// Earnings of 2, half of them paid out, cash of 2, book value of 10 that earned 20 %; no debt, no growth in the past.
fn inputs() -> Inputs {
    let none: Num = Err(Why::HistoryTooShort);
    Inputs {
        kind: Kind::Operating,
        currency: currency("XFA"),
        price: Ok(20.0),
        earnings: Ok(2.0),
        cash_flow: Ok(2.0),
        book: Ok(10.0),
        dividend: Ok(1.0),
        paid: Ok(1.0),
        dividend_each_year: Ok(1.0),
        own_pe: Ok(12.0),
        own_ps: none,
        own_pb: none,
        own_ev_ebit: none,
        own_pffo: none,
        roe: Ok(0.2),
        past_growth: Ok(0.0),
        analysts_growth: none,
        inflation: Ok(0.02),
        aaa_yield: Ok(0.05),
        government_yield: Ok(0.04),
        tax: Ok(0.25),
        operating_income: none,
        reinvestment: none,
        revenue: none,
        mean_margin: none,
        net_claims: none,
        debt_outstanding: Ok(0.0),
        interest_rate: none,
        ffo: none,
        revenue_outstanding: none,
        book_outstanding: none,
        ebit_outstanding: none,
        net_claims_outstanding: none,
    }
}

#[track_caller]
fn is(got: impl Into<Option<f64>>, want: f64) {
    let got = got.into().unwrap();
    assert!((got - want).abs() <= 1e-12 * want.abs().max(1.0), "got {got}, want {want}");
}

fn fixed(r: f64) -> Assumptions {
    Assumptions { required_return: RequiredReturn::Fixed(r), ..Assumptions::standard() }
}

#[test]
fn the_payout_is_a_share_from_none_to_all() {
    let paid = |paid: Num, earnings: Num| Inputs { paid, earnings, ..inputs() }.payout();
    is(paid(Ok(1.0), Ok(2.0)), 0.5);
    is(paid(Ok(3.0), Ok(2.0)), 1.0);
    is(paid(Ok(-1.0), Ok(2.0)), 0.0);
    is(paid(Ok(1.0), Ok(0.0)), 0.0);
    is(paid(Ok(1.0), Ok(-2.0)), 0.0);
    is(paid(Err(Why::NoActions), Ok(2.0)), 0.0);
    is(Inputs { ffo: Ok(4.0), ..inputs() }.payout_of_ffo(), 0.25);
}

#[test]
fn the_exit_multiple_stays_within_its_bounds() {
    let a = Assumptions { exit_pe: (8.0, 20.0), exit_pffo: (5.0, 10.0), usual_pe: 15.0, ..Assumptions::standard() };
    for (own, exit, of_ffo) in
        [(Ok(12.0), 12.0, 10.0), (Ok(7.0), 8.0, 7.0), (Ok(30.0), 20.0, 10.0), (Err(Why::NoPrice), 15.0, 10.0), (Ok(4.0), 8.0, 5.0)]
    {
        let i = Inputs { own_pe: own, own_pffo: own, ..inputs() };
        assert_eq!((i.exit_pe(&a), i.exit_pffo(&a)), (exit, of_ffo), "{own:?}");
    }
}

/// Median return on equity × what is kept, from nothing to the cap.
#[test]
fn growth_that_is_financed_from_within() {
    let a = Assumptions { sustainable_cap: 0.15, ..Assumptions::standard() };
    let of = |roe, paid: f64| Inputs { roe: Ok(roe), paid: Ok(paid), ..inputs() }.sustainable_growth(&a).unwrap();
    is(of(0.2, 1.0), 0.1);
    is(of(0.5, 1.0), 0.15);
    is(of(-0.2, 1.0), 0.0);
    is(of(0.2, 2.0), 0.0);
    assert_eq!(Inputs { roe: Err(Why::Stale), ..inputs() }.sustainable_growth(&a), Err(Why::Stale));
}

/// The required return as a number, or above a yield but never below the least.
#[test]
fn the_required_return_in_its_three_forms() {
    let a = |required_return, least| Assumptions { required_return, least_required_return: least, ..Assumptions::standard() };
    is(a(RequiredReturn::Fixed(0.03), 0.08).required_return(&inputs()).ok(), 0.03);
    is(a(RequiredReturn::OverAaa(0.04), 0.08).required_return(&inputs()).ok(), 0.09);
    is(a(RequiredReturn::OverAaa(0.02), 0.08).required_return(&inputs()).ok(), 0.08);
    is(a(RequiredReturn::OverGovernment(0.05), 0.08).required_return(&inputs()).ok(), 0.09);
    let blind = Inputs { aaa_yield: Err(Why::NoRate), ..inputs() };
    assert_eq!(a(RequiredReturn::OverAaa(0.04), 0.08).required_return(&blind), Err(Why::NoRate));
    assert!(a(RequiredReturn::OverGovernment(0.04), 0.08).required_return(&blind).is_ok());
}

/// Price 20 and debt 20 at 8 % before a quarter of tax: (9 + 6) ÷ 2 = 7.5 %.
#[test]
fn the_firms_rate_blends_equity_and_debt() {
    let a = Assumptions { leverage_floor: 0.03, cost_of_debt: (0.05, 0.15), ..fixed(0.09) };
    let of = |debt: f64, k: Num, aaa: Num| {
        Inputs { debt_outstanding: Ok(debt), interest_rate: k, aaa_yield: aaa, ..inputs() }.firm_rate(&a).ok()
    };
    is(of(20.0, Ok(0.08), Ok(0.05)), 0.075);
    is(of(0.0, Ok(0.08), Ok(0.05)), 0.09);
    is(of(-1.0, Ok(0.08), Ok(0.05)), 0.09);
    // Interest below the AAA yield counts as that, above 15 % as 15 %; unknown as the AAA yield, or 5 % without one.
    is(of(20.0, Ok(0.01), Ok(0.05)), (0.09 + 0.05 * 0.75) / 2.0);
    is(of(20.0, Ok(0.40), Ok(0.05)), (0.09 + 0.15 * 0.75) / 2.0);
    is(of(20.0, Err(Why::NotPositive), Ok(0.06)), (0.09 + 0.06 * 0.75) / 2.0);
    is(of(20.0, Err(Why::NotPositive), Err(Why::NoRate)), (0.09 + 0.05 * 0.75) / 2.0);
    // Nine parts of debt to one of equity would be 5.4 %; three points below r is the least.
    is(of(180.0, Ok(0.05), Ok(0.05)), 0.06);
    assert_eq!(Inputs { price: Err(Why::NoPrice), ..inputs() }.firm_rate(&a), Err(Why::NoPrice));
}

/// ((2 × 1.1^10 × 12 + Σ 2 × 0.5 × 1.1^t) ÷ 20)^(1/10) − 1.
#[test]
fn what_buying_at_the_price_would_bring() {
    let v = valuation::value(&inputs(), &Assumptions { exit_pe: (5.0, 25.0), sustainable_cap: 0.15, ..fixed(0.09) });
    let (mut sold, mut paid) = (1.0, 0.0);
    for _ in 0..10 {
        sold *= 1.1;
        paid += sold;
    }
    is(v.expected_return.ok(), ((2.0 * 12.0 * sold + paid) / 20.0f64).powf(0.1) - 1.0);
    let loss = Inputs { earnings: Ok(-1.0), ..inputs() };
    assert_eq!(valuation::value(&loss, &fixed(0.09)).expected_return, Err(Why::NotPositive));
}

/// Scenarios in order, each within the bounds; one's own only when it is given, and then it alone counts.
#[test]
fn growth_of_each_scenario() {
    let i = Inputs { past_growth: Ok(0.9), analysts_growth: Ok(-0.9), ..inputs() };
    let a = Assumptions { growth_bounds: (-0.1, 0.2), ..fixed(0.09) };
    let v = valuation::value(&i, &a);
    let known: Vec<(Scenario, f64)> = v.growth.iter().map(|(s, g)| (*s, g.unwrap())).collect();
    assert_eq!(
        known,
        [
            (Scenario::Past, 0.2),
            (Scenario::Analysts, -0.1),
            (Scenario::Sustainable, 0.1),
            (Scenario::Inflation, 0.02),
            (Scenario::None, 0.0)
        ]
    );
    let own = valuation::value(&i, &Assumptions { own_growth: Some(0.05), ..a });
    assert_eq!(own.growth.last().map(|(s, g)| (*s, g.unwrap())), Some((Scenario::Own, 0.05)));
    let counting: Vec<Option<Scenario>> = own.cells.iter().filter(|c| c.status == Status::Kept).map(|c| c.scenario).collect();
    assert!(counting.iter().all(|s| s.is_none() || *s == Some(Scenario::Own)), "{counting:?}");
}

/// The value is the weighted mean of the models' means; low and high are quartiles of what counts.
#[test]
fn the_value_is_a_mean_of_means() {
    let a = Assumptions { outlier_cut: 100.0, scenario_weights: [1.0, 1.0, 0.0, 1.0, 1.0], ..fixed(0.09) };
    let v = valuation::value(&inputs(), &a);
    let mut means = Vec::new();
    for model in [Model::EarningsMultiple, Model::OwnerCashFlow, Model::ResidualIncome, Model::DividendStream] {
        let of: Vec<f64> = v.cells.iter().filter(|c| c.model == model && c.status == Status::Kept).map(|c| c.value.unwrap()).collect();
        assert_eq!(of.len(), 3, "{model:?}: past, inflation, none");
        means.push(of.iter().sum::<f64>() / 3.0);
    }
    is(v.value.ok(), means.iter().sum::<f64>() / 4.0);
    let mut all: Vec<f64> = v.cells.iter().filter(|c| c.status == Status::Kept).map(|c| c.value.unwrap()).collect();
    all.sort_by(f64::total_cmp);
    // Twelve values: the quartiles lie a quarter beyond the third and a quarter before the tenth, by straight lines between.
    let at = |p: f64| {
        let place = p * 11.0;
        let below = place.floor() as usize;
        all[below] + (place - place.floor()) * (all[below + 1] - all[below])
    };
    is(v.low.ok(), at(0.25));
    is(v.high.ok(), at(0.75));
    is(v.agreement.ok(), (1.0 - (at(0.75) - at(0.25)) / at(0.5)).clamp(0.0, 1.0));
    let weighted = valuation::value(&inputs(), &Assumptions { model_weights: [2.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0], ..a });
    is(weighted.value.ok(), (2.0 * means[0] + means[1] + means[2] + means[3]) / 5.0);
}

/// One value far from the others is set apart by the cut, and none when the cut is wide.
#[test]
fn extremes_are_set_apart() {
    let i = Inputs { cash_flow: Ok(60.0), ..inputs() };
    let apart = |cut: f64| {
        let v = valuation::value(&i, &Assumptions { outlier_cut: cut, ..fixed(0.09) });
        let out: Vec<Model> = v.cells.iter().filter(|c| c.status == Status::Outlier).map(|c| c.model).collect();
        (out, v.value.unwrap())
    };
    let (narrow, wide) = (apart(3.5), apart(100.0));
    assert!(!narrow.0.is_empty() && narrow.0.iter().all(|m| *m == Model::OwnerCashFlow), "{:?}", narrow.0);
    assert!(wide.0.is_empty() && wide.1 > 2.0 * narrow.1);
}

fn priced(price: f64, quality: f64) -> Valuation {
    let v = valuation::value(&Inputs { price: Ok(price), ..inputs() }, &fixed(0.09));
    let quality = Quality { score: Ok(quality), ..Quality::clone(&v.quality) };
    Valuation { value: Ok(100.0), agreement: Ok(0.5), quality: Arc::new(quality), ..v }
}

/// Worth 100 at a margin of 25 %: in range up to 75, close up to 82.5, and too little quality comes before the price.
#[test]
fn the_verdict_has_its_limits() {
    let a = Assumptions { margin: 0.25, wider_when_unsure: 0.0, close_within: 0.1, least_quality: 60.0, ..fixed(0.09) };
    for (price, quality, verdict) in [
        (75.0, 60.0, Verdict::InRange),
        (75.01, 60.0, Verdict::Close),
        (82.5, 60.0, Verdict::Close),
        (82.51, 60.0, Verdict::Wait),
        (10.0, 59.9, Verdict::Pass),
        (500.0, 59.9, Verdict::Pass),
    ] {
        assert_eq!(priced(price, quality).verdict(&a), verdict, "{price} at {quality}");
    }
    let unpriced = Valuation { price: Err(Why::NoPrice), ..priced(75.0, 90.0) };
    let unvalued = Valuation { value: Err(Why::TooLittle), ..priced(75.0, 90.0) };
    assert_eq!((unpriced.verdict(&a), unvalued.verdict(&a)), (Verdict::CannotValue, Verdict::CannotValue));
    let unsure = Assumptions { wider_when_unsure: 0.2, ..a.clone() };
    is(priced(50.0, 60.0).buy_below(&unsure).ok(), 65.0);
    let own = Valuation { own: Some(Arc::new(Override { margin: Some(0.5), ..Override::default() })), ..priced(50.0, 60.0) };
    is(own.buy_below(&a).ok(), 50.0);
    is(priced(50.0, 60.0).margin_of_safety().ok(), 0.5);
}

/// Ten per cent on both sides of the value are around it.
#[test]
fn the_band_is_told_in_words() {
    let a = Assumptions { fair_band: 0.1, ..fixed(0.09) };
    let word = |price: f64| priced(price, 60.0).word(artemon_core::formula::Judgement::Band, &a).unwrap().to_string();
    assert_eq!([89.9, 90.0, 110.0, 110.1].map(word), ["under value", "around value", "around value", "over value"]);
}

/// Which models a kind of company has.
#[test]
fn each_kind_has_its_models() {
    let numbers = |kind| Model::for_kind(kind).iter().map(|m| m.number()).collect::<Vec<u8>>();
    assert_eq!(numbers(Kind::Operating), [1, 2, 3, 4, 5, 6, 7]);
    assert_eq!(numbers(Kind::Bank), [1, 4, 6, 7, 8]);
    assert_eq!(numbers(Kind::Insurer), numbers(Kind::Bank));
    assert_eq!(numbers(Kind::Property), [1, 4, 5, 6, 7, 9]);
    assert_eq!(numbers(Kind::Holding), [4, 6]);
    assert_eq!(numbers(Kind::Fund), [0; 0]);
    let fund = valuation::value(&Inputs { kind: Kind::Fund, ..inputs() }, &fixed(0.09));
    assert_eq!((fund.value, fund.expected_return, fund.cells.len()), (Err(Why::NotMeaningful), Err(Why::NotMeaningful), 0));
}

/// Model 2 where there is cash: at terminal growth 2 × 1.025 ÷ (0.09 − 0.025) = 31.54. Without cash model 1, of property model 9.
#[test]
fn implied_growth_is_by_the_model_that_suits() {
    let a = fixed(0.09);
    let implied = |changed: Inputs| valuation::value(&changed, &a).implied_growth;
    let priced = Inputs { price: Ok(2.0 * 1.025 / 0.065), ..inputs() };
    let close = |got: Num, want: f64| assert!(got.is_ok_and(|g| (g - want).abs() < 2e-6), "{got:?}, not {want}");
    close(implied(priced.clone()), 0.025);
    let by_earnings = implied(Inputs { cash_flow: Err(Why::NotPositive), ..priced.clone() });
    assert!(by_earnings.is_ok_and(|g| (g - 0.025).abs() > 0.01), "{by_earnings:?}");
    for none in [Ok(0.0), Ok(-1.0)] {
        assert_eq!(implied(Inputs { cash_flow: none, ..priced.clone() }), by_earnings);
    }
    assert_eq!(implied(Inputs { kind: Kind::Bank, ..priced.clone() }), by_earnings, "a bank has no model 2");
    // Model 9 is model 1 on funds from operations.
    let of_property = implied(Inputs { kind: Kind::Property, ffo: Ok(3.0), own_pffo: Ok(12.0), ..priced.clone() });
    assert_eq!(of_property, implied(Inputs { earnings: Ok(3.0), cash_flow: Err(Why::NotPositive), ..priced.clone() }));
    assert_ne!(of_property, by_earnings);
    assert_eq!(implied(Inputs { kind: Kind::Fund, ..priced }), Err(Why::NotMeaningful));
}

/// Worth 100 at a price of 80: each figure of it as a measure.
#[test]
fn a_valuation_is_asked_for_its_figures() {
    let a = Assumptions { margin: 0.25, wider_when_unsure: 0.0, ..fixed(0.09) };
    let v = Valuation { low: Ok(90.0), high: Ok(140.0), expected_return: Ok(0.12), implied_growth: Ok(0.04), ..priced(80.0, 60.0) };
    use ValueField::{
        Agreement, BuyBelow, ExpectedReturn, High, ImpliedGrowth, IntrinsicValue, Low, MarginOfSafety, PriceToValue, Upside, ValueToPrice,
    };
    let all = [
        (IntrinsicValue, 100.0),
        (Low, 90.0),
        (High, 140.0),
        (Agreement, 0.5),
        (PriceToValue, 0.8),
        (ValueToPrice, 1.25),
        (MarginOfSafety, 0.2),
        (Upside, 0.25),
        (BuyBelow, 75.0),
        (ExpectedReturn, 0.12),
        (ImpliedGrowth, 0.04),
        (ValueField::Quality(QualityField::Score), 60.0),
    ];
    for (field, want) in all {
        is(v.field(field, &a).ok(), want);
    }
    assert_eq!(v.field(ValueField::RangeMiddle, &a), Err(Why::NoAnswer));
}
