//! The language: units, limits, what a formula reads like when it is shown, quarters in a row.

use crate::world::{Peer, World, assert_is, day, peers};
use artemon_core::{
    Why,
    domain::{Item, Kind, Period},
    formula::{Better, OwnMeasure, Unit, Value, compile_in},
    measures::{self, compile},
};

/// What is added is of one kind; a plain number takes the kind of what it is added to.
#[test]
fn a_sum_has_the_unit_of_its_parts() {
    let unit = |f: &str| compile(f).unwrap().unit;
    assert_eq!(unit("revenue + net_income"), Unit::Money);
    assert_eq!(unit("net_margin + roe"), Unit::Percent);
    assert_eq!(unit("net_margin + 1"), Unit::Percent);
    assert_eq!(unit("1 + net_margin"), Unit::Percent);
    assert_eq!(unit("eps - 0.5"), Unit::PerShare);
    assert_eq!(unit("market_cap / revenue + 1"), Unit::Ratio);
    assert_eq!(unit("-(price)"), Unit::PerShare);
    assert_eq!(unit("abs(net_income)"), Unit::Money);
    assert_eq!(unit("max(price, eps)"), Unit::PerShare);
    assert_eq!(unit("if(pe < 10, price, eps)"), Unit::PerShare);
    assert_eq!(unit("eps * shares_outstanding / net_income"), Unit::Ratio);
    assert_eq!([unit("net_margin * price"), unit("price * net_margin"), unit("price / net_margin")], [Unit::PerShare; 3]);
    assert_eq!([unit("2 * revenue"), unit("revenue * 2"), unit("revenue / 2")], [Unit::Money; 3]);
    // Neither an amount nor a share of one is left.
    assert_eq!([unit("net_margin * pe"), unit("price * revenue"), unit("2 / revenue"), unit("net_margin / roe")], [Unit::Ratio; 4]);
}

/// A formula may be 4,000 bytes long.
#[test]
fn a_formula_has_a_greatest_length() {
    let of = |length: usize| format!("pe{}", " ".repeat(length - 2));
    assert!(compile(&of(4_000)).is_ok());
    let error = compile(&of(4_001)).unwrap_err();
    assert!(error.message.contains("longer than 4000") && error.position.start == 4_000 && error.position.end == 4_001, "{error:?}");
}

/// Shown again, a formula has the parentheses it needs and no others.
#[test]
fn parentheses_are_shown_where_they_are_needed() {
    let w = World::new().price("2024-03-01", 10.0);
    let context = w.context();
    let shown = |f: &str| context.explain(&compile(f).unwrap(), &context.as_of(day("2024-03-01")).company(0)).formula;
    for formula in [
        "(price + 1) × 2",
        "price − (1 − price)",
        "price ÷ (2 ÷ price)",
        "price × 2 + 1",
        "2 ^ (price + 1)",
        "(price + 1) ^ 2",
        "(−2) ^ price",
        "−(price + 1)",
        "not (price > 1 and pe < 10)",
        "(price > 1 or pe < 10) and roe > 0.1",
        "price > 1 and (pe < 10 or roe > 0.1)",
        "min(price + 1, 2 × price)",
        "if(price > 1, price, 2)",
    ] {
        let read = formula.replace('×', "*").replace('÷', "/").replace('−', "-");
        let again = shown(&read).replace(" / ", " ÷ ").replace(" * ", " × ").replace('-', "−");
        assert_eq!(again, formula);
    }
    // What is shown is the same formula.
    for formula in ["((price)) + (1 * 2)", "price - (1 + price) - 3", "-(2 ^ 2) + price"] {
        assert_eq!(compile(&shown(formula)).unwrap().text, compile(formula).unwrap().text, "{formula}");
    }
}

/// Quarterly revenue from the oldest to the newest, the newest filed on 2024-05-10.
fn quarters(revenue: &[f64]) -> World {
    revenue.iter().rev().enumerate().fold(World::new(), |w, (back, revenue)| {
        let back = i32::try_from(back).unwrap();
        let end = day("2024-03-31").plus_months(-3 * back).month_end();
        let quarter = [Period::Q1, Period::Q4, Period::Q3, Period::Q2][usize::try_from(back % 4).unwrap()];
        let year = end.year();
        w.filed((year, quarter), &end.to_string(), &end.plus_days(40).to_string(), &[(Item::Revenue, *revenue)])
    })
}

const T: &str = "2024-05-10";

/// Growth on the year before of 0, 10, 20, 30 % in the last four quarters: three accelerations.
#[test]
fn accelerations_are_counted_back() {
    let w = quarters(&[100.0, 100.0, 100.0, 100.0, 100.0, 110.0, 120.0, 130.0]);
    assert_is(w.ask("acceleration(revenue)", T), 3.0);
    assert_is(w.ask("revenue_yoy(0)", T), 0.3);
    assert_is(w.ask("revenue_yoy(3)", T), 0.0);
    let slower = quarters(&[100.0, 100.0, 100.0, 100.0, 130.0, 120.0, 125.0, 110.0]);
    // 30, 20, 25, 10 %: the newest fell, the one before had risen.
    assert_is(slower.ask("acceleration(revenue)", T), -1.0);
    let even = quarters(&[100.0, 100.0, 100.0, 100.0, 110.0, 110.0]);
    assert_is(even.ask("acceleration(revenue)", T), 0.0);
    assert!(quarters(&[100.0, 100.0, 100.0, 100.0, 110.0]).ask("acceleration(revenue)", T).is_err(), "one rate is none to compare");
    // As far back as six years of quarters: the rise goes on all the time.
    let mut long = vec![1.0; 4];
    (4..32).for_each(|i: usize| long.push(long[i - 4] * (1.0 + 0.01 * i as f64)));
    assert_is(quarters(&long).ask("acceleration(revenue)", T), 24.0);
}

/// Conditions over quarters, from the newest back; one quarter is enough to ask about.
#[test]
fn conditions_are_counted_over_quarters() {
    let w = quarters(&[90.0, 110.0, 95.0, 120.0]);
    assert_is(w.ask("q_count(revenue > 100, 4)", T), 2.0);
    assert_is(w.ask("q_count(revenue > 100, 1)", T), 1.0);
    assert_is(w.ask("q_count(revenue > 100, 2)", T), 1.0);
    assert!(compile("q_count(revenue > 100, 0)").is_err());
    assert_is(w.ask("q(revenue, 0)", T), 120.0);
    assert_is(w.ask("q(revenue, 3)", T), 90.0);
    assert_is(w.ask("q_average(revenue, 4)", T), 103.75);
    assert!(w.ask("q(revenue, 4)", T).is_err());
}

/// A count of shares filed before a split is opened with what was done to it.
#[test]
fn a_count_of_shares_opens_with_its_splits() {
    let w = World::new()
        .filed((2022, Period::FY), "2022-12-31", "2023-02-20", &[(Item::SharesOutstanding, 100.0), (Item::EpsDiluted, 4.0)])
        .split("2023-06-01", 2.0)
        .price("2023-07-03", 10.0);
    let context = w.context();
    let notes = |formula: &str| {
        let explained = context.explain(&compile(formula).unwrap(), &context.as_of(day("2023-07-03")).company(0));
        fn all(e: &artemon_core::formula::Explanation) -> Vec<String> {
            e.notes.iter().cloned().chain(e.inputs.iter().flat_map(all)).collect()
        }
        all(&explained)
    };
    assert!(
        notes("shares_outstanding").contains(&"Multiplied by 2 for splits since the filing.".to_owned()),
        "{:?}",
        notes("shares_outstanding")
    );
    assert!(notes("eps").contains(&"Divided by 2 for splits since the filing.".to_owned()), "{:?}", notes("eps"));
    assert_is(w.ask("shares_outstanding", "2023-07-03"), 200.0);
}

/// A division by nothing, by a negative, and of what is not known: each says which.
#[test]
fn undefined_says_why() {
    let w = World::new().filed((2022, Period::FY), "2022-12-31", "2023-02-20", &[(Item::Revenue, 0.0), (Item::NetIncome, 5.0)]);
    assert_eq!(w.ask("net_margin", "2023-03-01"), Err(Why::NotPositive));
    assert_eq!(w.ask("net_income / revenue", "2023-03-01"), Err(Why::NoAnswer));
    assert_eq!(w.ask("price", "2023-03-01"), Err(Why::NoPrice));
    assert_eq!(w.ask("fy(revenue, 1)", "2023-03-01"), Err(Why::HistoryTooShort));
    assert_eq!(w.ask("revenue", "2025-01-01"), Err(Why::Stale));
}

/// Numbers as people write them; what cannot follow a number is said.
#[test]
fn numbers_take_suffixes() {
    let w = World::new().price("2024-03-01", 10.0);
    let value = |f: &str| w.ask(f, "2024-03-01").unwrap();
    for (text, number) in [
        ("1.5k", 1_500.0),
        ("2m", 2e6),
        ("1.5bn", 1.5e9),
        ("12.5 %", 0.125),
        ("50%", 0.5),
        ("0.1", 0.1),
        (".5", 0.5),
        ("7", 7.0),
        ("2 ^ 3 ^ 2", 512.0),
        ("-2 ^ 2", -4.0),
        ("7 - 2 - 1", 4.0),
        ("12 / 3 / 2", 2.0),
        ("2 + 3 * 4", 14.0),
        ("min(3, 1, 2) + max(3, 1, 2)", 4.0),
        ("abs(-3) + sqrt(9) + ln(1) + exp(0)", 7.0),
        ("round(2.345, 2)", 2.35),
        ("if(1 < 2 and not (2 < 1), 5, 6)", 5.0),
        ("else(fy(revenue, 0), 9)", 9.0),
    ] {
        assert!((value(text) - number).abs() < 1e-9, "{text}: {}", value(text));
    }
    for wrong in ["5x", "5mm", "3bnn", "1e5", "2y + 1", "revenue(3)", "net_income(1, 2)", "price(2)"] {
        assert!(compile(wrong).is_err(), "{wrong}");
    }
}

/// Undefined spreads, but a condition that is decided without it is not undefined.
#[test]
fn conditions_are_three_valued() {
    let w = World::new().price("2024-03-01", 10.0);
    let flag = |f: &str| w.ask(f, "2024-03-01");
    assert_is(flag("price > 5 or revenue > 1"), 1.0);
    assert_is(flag("price < 5 and revenue > 1"), 0.0);
    assert!(flag("price > 5 and revenue > 1").is_err());
    assert!(flag("price < 5 or revenue > 1").is_err());
    assert!(flag("not (revenue > 1)").is_err());
    assert_is(flag("defined(price)"), 1.0);
    assert_is(flag("defined(revenue)"), 0.0);
    assert_is(flag("price between 10 and 20"), 1.0);
    assert_is(flag("price between 10.1 and 20"), 0.0);
    assert_is(flag("price in (9, 10)"), 1.0);
    assert_is(flag("price != 10"), 0.0);
    assert_is(flag("price >= 10"), 1.0);
    assert_is(flag("price > 10"), 0.0);
    assert_is(flag("price <= 10"), 1.0);
    assert_is(flag("price < 10"), 0.0);
}

/// In answers, undefined is null and the lack of debt its own word.
#[test]
fn values_are_told_as_json() {
    let json = |v: Value| serde_json::to_string(&v).unwrap();
    assert_eq!(json(Value::Number(1.5)), "1.5");
    assert_eq!(json(Value::Number(f64::INFINITY)), "\"no debt cost\"");
    assert_eq!(json(Value::Flag(true)), "true");
    assert_eq!(json(Value::Text("a".into())), "\"a\"");
    assert_eq!(json(Value::Undefined(Why::NoPrice)), "null");
}

/// Which way is better, as pickers and colours need it.
#[test]
fn the_catalogue_knows_which_way_is_better() {
    for (better, ids) in
        [(Better::Lower, ["pe", "ev_ebit", "debt_to_equity", "pb"]), (Better::Higher, ["roe", "net_margin", "dividend_yield", "quality"])]
    {
        for id in ids {
            assert_eq!(measures::find(id).unwrap().better, better, "{id}");
        }
    }
    assert_eq!(measures::find("price").unwrap().better, Better::Neither);
    assert!(measures::find("no_such").is_none());
}

/// A fiscal year's figures by their place back, and what is made of several.
#[test]
fn fiscal_years_are_counted_back() {
    let all = [(2019, 100.0), (2020, 110.0), (2021, 99.0), (2022, 120.0), (2023, 150.0)];
    let w = all.into_iter().fold(World::new(), |w, (year, revenue)| {
        w.filed((year, Period::FY), &format!("{year}-12-31"), &format!("{}-02-20", year + 1), &[(Item::Revenue, revenue)])
    });
    let ask = |f: &str| w.ask(f, "2024-03-01");
    assert_is(ask("fy(revenue, 0)"), 150.0);
    assert_is(ask("fy(revenue, 4)"), 100.0);
    assert!(ask("fy(revenue, 5)").is_err());
    assert_is(ask("fy_average(revenue, 5)"), 115.8);
    assert_is(ask("fy_median(revenue, 5)"), 110.0);
    assert_is(ask("fy_low(revenue, 4)"), 99.0);
    assert_is(ask("fy_high(revenue, 4)"), 150.0);
    assert_is(ask("fy_count(revenue > 100, 5)"), 3.0);
    assert_is(ask("fy_rises(revenue, 4)"), 3.0);
    assert_is(ask("fy_growth(revenue, 4)"), 1.5f64.powf(0.25) - 1.0);
    // As of a day before the newest filing, the year before counts.
    assert_is(w.ask("fy(revenue, 0)", "2024-02-19"), 120.0);
}

/// Amounts are compared with amounts, in either order; plain numbers with anything.
#[test]
fn comparisons_of_unlike_units_are_warned_of() {
    let warned = |f: &str| !compile(f).unwrap().warnings.is_empty();
    for unlike in ["market_cap > net_margin", "net_margin < market_cap", "market_cap > price", "price < market_cap", "eps > fiscal_age"] {
        assert!(warned(unlike), "{unlike}");
    }
    for like in ["market_cap > revenue", "price > eps", "pe < 15", "net_margin > 0.1", "market_cap > 1bn", "net_margin > roe", "pe < pb"] {
        assert!(!warned(like), "{like}");
    }
}

/// What a measure needs is said in words with an example.
#[test]
fn a_missing_argument_is_asked_for_in_words() {
    let message = |f: &str| compile(f).unwrap_err().message;
    for (formula, words) in [
        ("acceleration", "acceleration takes a formula such as eps: write acceleration(eps)."),
        ("eps_growth", "eps_growth takes a number (n): write eps_growth(5)."),
        ("change", "change takes a period such as 6m: write change(1y)."),
        ("order_share", "order_share takes an amount: write order_share("),
    ] {
        assert!(message(formula).starts_with(words), "{formula}: {}", message(formula));
    }
}

/// A mistake inside of a measure of one's own is shown where that measure stands, with its name; a circle is named in order.
#[test]
fn mistakes_in_own_measures_are_shown_where_they_stand() {
    let own = |id: &str, formula: &str| OwnMeasure {
        id: id.to_owned(),
        label: id.to_owned(),
        note: String::new(),
        unit: None,
        formula: formula.to_owned(),
    };
    let error = |formula: &str| {
        let library = measures::library([own("wrong", "pe +"), own("a", "b + 1"), own("b", "a * 2"), own("sound", "pe + 1")]);
        compile_in(formula, &library).err().map(|e| (e.message, e.position.start, e.position.end))
    };
    assert_eq!(error("sound > 3"), None);
    let (message, start, end) = error("pe > wrong").unwrap();
    assert!(message.starts_with("In your measure wrong: ") && (start, end) == (5, 10), "{message} {start} {end}");
    let (message, start, end) = error("1 + a").unwrap();
    assert_eq!((message.as_str(), start, end), ("This measure would be made of itself: a → b → a.", 4, 5));
}

/// At the border of what can be computed, and in which direction halves are rounded.
#[test]
fn functions_have_their_borders() {
    let w = World::new().price("2024-03-01", 20.0);
    let of = |f: &str| w.ask(f, "2024-03-01");
    assert_eq!((of("ln(price - 20)"), of("ln(20 - price - 1)")), (Err(Why::NoAnswer), Err(Why::NoAnswer)));
    assert_is(of("ln(price - 19)"), 0.0);
    assert_is(of("sqrt(price - 20)"), 0.0);
    assert_eq!((of("sqrt(19 - price)"), of("exp(price * 100)")), (Err(Why::NoAnswer), Err(Why::NoAnswer)));
    assert_eq!((of("price / (price - 20)"), of("abs(0 - price)")), (Err(Why::NoAnswer), Ok(20.0)));
    assert_eq!([of("round(price / 8, 0)"), of("round(0 - price / 8, 0)"), of("round(price / 16, 1)")], [Ok(3.0), Ok(-3.0), Ok(1.3)]);
    assert_eq!((of("max(price, 30)"), of("min(price, 30)")), (Ok(30.0), Ok(20.0)));
}

/// Sixty deep is deep enough; deeper is refused in words, however it is nested, before it costs anything.
#[test]
fn nesting_has_a_limit() {
    let said = |n: usize| compile(&format!("{}pe{}", "(".repeat(n), ")".repeat(n))).map_err(|e| e.to_string());
    assert!(said(60).is_ok());
    assert!(said(61).unwrap_err().contains("nested more than 60 deep"));
    assert!(said(100_000).is_err());
    let negated = |n: usize| compile(&format!("{}pe", "-".repeat(n)));
    assert!(negated(60).is_ok() && negated(61).is_err());
}

/// What each kind of argument takes, and what it says of all else.
#[test]
fn arguments_are_checked() {
    let all = [
        (["sma(1)", "sma(10000)"], ["sma(0)", "sma(10001)"], "whole number from 1 to 10,000"),
        (["eps_surprise(0)", "eps_surprise(3)"], ["eps_surprise(1.5)", "eps_surprise(pe)"], "whole number from 0"),
        (["change(1d)", "change(ytd)"], ["change(0d)", "change(12)"], "A period is needed"),
        (["order_share(0.5)", "order_share(20m)"], ["order_share(0)", "order_share(20y)"], "An amount in the base currency"),
        (["sma(5, week)", "sma(5, month)"], ["sma(5, year)", "sma(5, 5)"], "The size of bars"),
        (
            ["estimated_growth(eps, 1)", "estimated_growth(ebit, 1)"],
            ["estimated_growth(roe, 1)", "estimated_growth(1, 1)"],
            "What is estimated",
        ),
    ];
    for (good, bad, said) in all {
        good.iter().for_each(|f| assert!(compile(f).is_ok(), "{f}: {:?}", compile(f).err()));
        bad.iter().for_each(|f| assert!(compile(f).unwrap_err().to_string().contains(said), "{f}: {}", compile(f).unwrap_err()));
    }
}

/// More companies than are computed at once: numbers, flags and texts stay with their companies.
#[test]
fn columns_are_put_together_in_order() {
    let symbols: Vec<String> = (0..100).map(|i| format!("S{i:03}")).collect();
    let peer = |(i, symbol)| Peer {
        symbol,
        sector: if i % 3 == 0 { "Odd" } else { "Even" },
        kind: Kind::Operating,
        price: 1.0 + i as f64,
        revenue: None,
    };
    let context = peers(symbols.iter().map(String::as_str).enumerate().map(peer));
    let rows: Vec<_> = context.as_of(day("2024-03-01")).companies().collect();
    let column = |formula: &str| context.evaluate(&compile(formula).unwrap(), &rows);
    let (prices, dear, sectors) = (column("price"), column("price > 50"), column("sector"));
    for i in 0..rows.len() {
        assert_eq!(prices.value(i), Value::Number(1.0 + i as f64));
        assert_eq!(dear.value(i), Value::Flag(i >= 50));
        assert_eq!(sectors.value(i), Value::Text(if i % 3 == 0 { "Odd" } else { "Even" }.into()));
    }
}

/// Growth fitted through years needs each of them above zero.
#[test]
fn a_trend_needs_years_above_zero() {
    let w = |oldest: f64| {
        [(2020, oldest), (2021, 110.0), (2022, 121.0), (2023, 133.1)].into_iter().fold(World::new(), |w, (year, revenue)| {
            w.filed((year, Period::FY), &format!("{year}-12-31"), &format!("{}-02-20", year + 1), &[(Item::Revenue, revenue)])
        })
    };
    assert_is(w(100.0).ask("fy_trend(revenue, 3)", "2024-03-01"), 0.1);
    assert_is(w(100.0).ask("fy_steadiness(revenue, 3)", "2024-03-01"), 1.0);
    // Years are compared whatever their sign; equal ones are no rise.
    let rises = [100.0, 110.0, 120.0, -1.0].map(|oldest| w(oldest).ask("fy_rises(revenue, 3)", "2024-03-01"));
    assert_eq!(rises, [Ok(3.0), Ok(2.0), Ok(2.0), Ok(3.0)]);
    for f in ["fy_trend(revenue, 3)", "fy_trend_fit(revenue, 3)", "fy_steadiness(revenue, 3)"] {
        assert_eq!([w(0.0).ask(f, "2024-03-01"), w(-1.0).ask(f, "2024-03-01")], [Err(Why::NotPositive); 2], "{f}");
    }
}

/// With what is not known: false decides "and", true decides "or", whatever the other side is.
#[test]
fn the_unknown_decides_only_where_it_must() {
    let w = World::new().price("2024-03-01", 20.0);
    let unknown = Err(Why::NoItem(Item::Revenue));
    for (formula, want) in [
        ("price > 1 or price > 2", Ok(1.0)),
        ("price > 1 or price > 99", Ok(1.0)),
        ("price > 99 or price > 1", Ok(1.0)),
        ("price > 99 or price > 100", Ok(0.0)),
        ("price > 1 and price > 99", Ok(0.0)),
        ("price > 1 or revenue > 1", Ok(1.0)),
        ("revenue > 1 or price > 1", Ok(1.0)),
        ("price > 99 or revenue > 1", unknown),
        ("price > 99 and revenue > 1", Ok(0.0)),
        ("revenue > 1 and price > 99", Ok(0.0)),
        ("price > 1 and revenue > 1", unknown),
        ("not (revenue > 1)", unknown),
        ("not (price > 99)", Ok(1.0)),
    ] {
        assert_eq!(w.ask(formula, "2024-03-01"), want, "{formula}");
    }
}

/// Half-years by their place back: filed as such, the year less its first half, or the sum of two quarters; a balance is that of the
/// half's end, and nothing is a half-year that is not over.
#[test]
fn half_years_are_counted_back() {
    let of = |revenue: f64, equity: f64| [(Item::Revenue, revenue), (Item::TotalAssets, 1.0), (Item::Equity, equity)];
    let w = World::new()
        .filed((2022, Period::H1), "2022-06-30", "2022-08-01", &of(40.0, 10.0))
        .filed((2022, Period::FY), "2022-12-31", "2023-02-20", &of(100.0, 11.0))
        .filed((2023, Period::Q1), "2023-03-31", "2023-05-01", &of(20.0, 12.0))
        .filed((2023, Period::Q2), "2023-06-30", "2023-08-01", &of(30.0, 13.0))
        .filed((2023, Period::Q3), "2023-09-30", "2023-11-01", &of(35.0, 14.0));
    let ask = |f: &str| w.ask(f, "2023-11-15");
    assert_is(ask("h(revenue, 0)"), 50.0);
    assert_is(ask("h(revenue, 1)"), 60.0);
    assert_is(ask("h(revenue, 2)"), 40.0);
    assert!(ask("h(revenue, 3)").is_err());
    assert_is(ask("h_yoy(revenue, 0)"), 0.25);
    assert_is(ask("h(equity, 0)"), 13.0);
    assert_is(ask("h(equity, 1)"), 11.0);
    // Of the company that filed quarters in 2023 the last half-year is not over before the year is filed.
    assert_is(w.ask("h(revenue, 0)", "2023-05-15"), 60.0);
    let explained = w.at("2023-11-15", |c| w.context().explain(&compile("h(revenue, 0)").unwrap(), c));
    let said = format!("{explained:?}");
    assert!(said.contains("First half of 2023") && said.contains("The sum of the first two quarters."), "{said}");
}
