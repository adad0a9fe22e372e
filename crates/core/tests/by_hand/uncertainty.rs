//! Draws and implied growth against what can be computed another way.

use crate::world::{World, assert_is, day};
use artemon_core::{
    Why,
    domain::{Item, Item::*, Period},
    engine::{Context, Settings},
    valuation::{self, Assumptions, Draws, Inputs, RequiredReturn, Scenario, Status},
};

const T: &str = "2024-03-01";

/// A company with earnings alone, so that one model of the draws speaks; its P/E is known for one month only.
fn world(price: f64) -> World {
    let items: Vec<(Item, f64)> = vec![
        (EpsDiluted, 2.0),
        (EpsAdjusted, 2.0),
        (NetIncome, 200.0),
        (Equity, 1000.0),
        (SharesDiluted, 100.0),
        (SharesOutstanding, 100.0),
        (DividendsPaid, 80.0),
    ];
    (2015..=2023)
        .fold(World::new(), |w, year| w.filed((year, Period::FY), &format!("{year}-12-31"), &format!("{}-02-20", year + 1), &items))
        .price("2024-02-29", price)
        .price(T, price)
}

fn set(own_growth: Option<f64>, r: f64) -> Assumptions {
    Assumptions {
        own_growth,
        required_return: RequiredReturn::Fixed(r),
        draws: 100_000,
        growth_bounds: (-0.9, 1.0),
        ..Assumptions::standard()
    }
}

fn context(w: &World, a: Assumptions) -> Context {
    let standard = Settings::standard("XFA".parse().unwrap());
    w.context().with(Settings { assumptions: a, ..standard })
}

fn inputs(w: &World, a: &Assumptions) -> Inputs {
    context(w, a.clone()).value_company(day(T), 0).found
}

fn draws(w: &World, a: &Assumptions) -> Draws {
    let context = context(w, a.clone());
    let found = inputs(w, a);
    valuation::draws(context.view(day(T)), &context.as_of(day(T)).company(0), &found, a).unwrap()
}

/// The value by the multiple of earnings at a growth and a required return.
fn worth(w: &World, growth: f64, r: f64) -> f64 {
    let found = context(w, set(Some(growth), r)).value_company(day(T), 0).valuation;
    let cell = found.cells.iter().find(|c| c.model.number() == 1 && c.scenario == Some(Scenario::Own)).unwrap();
    cell.value.unwrap()
}

#[track_caller]
fn near(got: f64, want: f64, share: f64) {
    assert!((got - want).abs() <= share * want.abs(), "got {got}, want {want}");
}

/// One growth leaves the required return, which is drawn evenly within a point: the value falls as it rises, so that each
/// percentile of the value is the value at the opposite percentile of the return.
#[test]
fn the_required_return_is_drawn_evenly() {
    let w = world(30.0);
    let d = draws(&w, &set(Some(0.05), 0.09));
    for (got, p) in d.percentiles.into_iter().zip([0.05, 0.25, 0.5, 0.75, 0.95]) {
        near(got, worth(&w, 0.05, 0.09 + 0.01 * (1.0 - 2.0 * p)), 0.002);
    }
    assert_is(Ok(d.corners.0), worth(&w, 0.05, 0.10));
    assert_is(Ok(d.corners.1), worth(&w, 0.05, 0.08));
    // Half of the draws lie above the value at the middle.
    let priced = world(worth(&w, 0.05, 0.09));
    near(draws(&priced, &set(Some(0.05), 0.09)).chance_undervalued.unwrap(), 0.5, 0.02);
}

/// Growth comes from a triangle over the scenarios: its quantiles by its distribution function, halved down to where it
/// holds the share, over a grid of both.
#[test]
fn growth_is_drawn_from_a_triangle() {
    let w = world(30.0);
    let a = set(None, 0.09);
    let found = context(&w, a.clone()).value_company(day(T), 0).valuation;
    let known: Vec<(f64, f64)> =
        found.growth.iter().filter_map(|(s, g)| Some((a.scenario_weight(*s), (*g).ok()?))).filter(|(weight, _)| *weight > 0.0).collect();
    let (low, high) = known.iter().fold((f64::MAX, f64::MIN), |(l, h), (_, g)| (l.min(*g), h.max(*g)));
    assert!(high > low, "scenarios that differ: {known:?}");
    let mode = known.iter().map(|(weight, g)| weight * g).sum::<f64>() / known.iter().map(|(weight, _)| weight).sum::<f64>();
    let below = |g: f64| {
        if g <= mode {
            (g - low).powi(2) / ((high - low) * (mode - low).max(1e-12))
        } else {
            1.0 - (high - g).powi(2) / ((high - low) * (high - mode).max(1e-12))
        }
    };
    let quantile = |share: f64| {
        let (mut from, mut to) = (low, high);
        for _ in 0..60 {
            let middle = f64::midpoint(from, to);
            if below(middle) < share { from = middle } else { to = middle }
        }
        from
    };
    let steps = 24;
    let at = |i: usize| (i as f64 + 0.5) / steps as f64;
    let mut all: Vec<f64> = (0..steps)
        .flat_map(|i| (0..steps).map(move |j| (i, j)))
        .map(|(i, j)| worth(&w, quantile(at(i)), 0.09 + 0.01 * (2.0 * at(j) - 1.0)))
        .collect();
    all.sort_by(f64::total_cmp);
    let d = draws(&w, &a);
    for (got, p) in d.percentiles.into_iter().zip([0.05, 0.25, 0.5, 0.75, 0.95]) {
        near(got, all[(p * all.len() as f64) as usize], 0.015);
    }
}

/// The growth that gives the price, found again; prices beyond what −50 % to 60 % a year give have none.
#[test]
fn implied_growth_gives_the_price_back() {
    let w = world(30.0);
    for growth in [-0.2, 0.0, 0.05, 0.2] {
        let mut found = inputs(&w, &set(None, 0.09));
        found.price = Ok(worth(&w, growth, 0.09));
        let implied = valuation::value(&found, &set(None, 0.09)).implied_growth.unwrap();
        assert!((implied - growth).abs() < 2e-6, "{growth}: {implied}");
    }
    let of_price = |price: f64| {
        let mut found = inputs(&w, &set(None, 0.09));
        found.price = Ok(price);
        valuation::value(&found, &set(None, 0.09)).implied_growth
    };
    let (least, most) = (worth(&w, -0.5, 0.09), worth(&w, 0.6, 0.09));
    assert!(of_price(least * 1.001).is_ok() && of_price(most * 0.999).is_ok());
    assert_eq!((of_price(least * 0.999), of_price(most * 1.001)), (Err(Why::OutsideRange), Err(Why::OutsideRange)));
}

/// A weight of nothing shows a model without counting it; valuations by one model alone make no value.
#[test]
fn what_does_not_count_is_shown_apart() {
    let w = world(30.0);
    let mut a = set(None, 0.09);
    let all = context(&w, a.clone()).value_company(day(T), 0).valuation;
    let kept = all.cells.iter().filter(|c| c.status == Status::Kept).count();
    assert_eq!(kept, 3);
    assert!(all.value.is_err(), "three by one model are no value");
    a.model_weights[0] = 0.0;
    let without = context(&w, a).value_company(day(T), 0).valuation;
    let first = |v: &valuation::Valuation| v.cells.iter().filter(|c| c.model.number() == 1).map(|c| c.status).collect::<Vec<_>>();
    assert!(first(&without).iter().all(|s| matches!(s, Status::Unweighted | Status::Undefined)), "{:?}", first(&without));
    assert!(first(&all).contains(&Status::Kept));
}
