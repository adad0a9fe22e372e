//! How the price and the insiders behaved: turns, levels, gaps, candles, trades one by one.

use super::{DATES, context, day, golden, same, snapshot, world::World};
use artemon_core::{
    Why,
    domain::{BarSize, Day, InsiderTrade},
    formula::Value,
    insiders,
    measures::compile,
    panel::CompanyAt,
    price::{self, Candle, CandleAt},
};
use serde_json::{Value as Json, json};

/// As the expected values are written: lists of the same objects, or null.
fn list<T>(found: Result<Vec<T>, Why>, one: impl Fn(&T) -> Json) -> Json {
    found.map_or(Json::Null, |all| all.iter().map(one).collect())
}

/// What differs: of two lists as long as one another, the first row that does.
fn difference(got: &Json, want: &Json) -> Option<String> {
    if let (Json::Array(a), Json::Array(b)) = (got, want)
        && a.len() == b.len()
    {
        return a.iter().zip(b).find_map(|(a, b)| (!same(a, b)).then(|| format!("got {a}\n  expected {b}")));
    }
    (!same(got, want)).then(|| format!("got {got}\n  expected {want}"))
}

fn levels(c: &CompanyAt<'_>, above: bool) -> Json {
    let price = c.price();
    let named = price::levels(c).and_then(|all| Ok((all, price?)));
    let of_side = named.map(|(all, p)| all.into_iter().filter(|l| if above { l.price > p } else { l.price < p }).collect());
    list(of_side, |l: &price::Level| json!({"level": l.price, "touches": l.touches}))
}

fn patterns(c: &CompanyAt<'_>) -> Json {
    let of = |size, n| list(Ok(price::candles(c, size, n)), |x: &CandleAt| json!({"date": x.date, "pattern": x.candle}));
    json!({"day": of(BarSize::Day, 60), "week": of(BarSize::Week, 52), "month": of(BarSize::Month, 36)})
}

fn behaviour(c: &CompanyAt<'_>) -> Json {
    let turn = |t: &price::Turn| json!({"date": t.date, "kind": if t.high { "high" } else { "low" }, "price": t.price});
    let gap = |g: &price::Gap| {
        let kind = if g.up { "up" } else { "down" };
        json!({"date": g.date, "kind": kind, "low": g.low, "high": g.high, "open_low": g.open_low, "open_high": g.open_high})
    };
    let near = context().evaluate(&compile("near_support").unwrap(), &[*c]).value(0);
    json!({
        "swing_points": list(price::turns(c), turn),
        "support": levels(c, false),
        "resistance": levels(c, true),
        "near_support": match near { Value::Flag(near) => Json::from(near), _ => Json::Null },
        "gaps": list(price::gaps(c, 252), gap),
        "candles": patterns(c),
        "insider_trades": trades(c),
        "after_purchases": after(c),
    })
}

fn after(c: &CompanyAt<'_>) -> Json {
    if !c.has_insider_trades() {
        return Json::Null;
    }
    json!({"6m": context().after_purchases(c, 6), "12m": context().after_purchases(c, 12)})
}

fn trades(c: &CompanyAt<'_>) -> Json {
    if !c.has_insider_trades() {
        return Json::Null;
    }
    let mut all: Vec<&InsiderTrade> = c.insider_trades().filter(|t| t.is_purchase() || t.is_sale()).collect();
    all.sort_by_key(|t| (t.traded_on, t.filed_on, t.filing_id.clone()));
    all.into_iter().map(|t| trade(c, t)).collect()
}

fn trade(c: &CompanyAt<'_>, t: &InsiderTrade) -> Json {
    let signs = insiders::signs(c, t);
    // Amounts of the program are in the base currency.
    let amount = insiders::amount(c, t).and_then(|x| Ok(x / c.listing_to_base()?)).unwrap();
    json!({
        "filing_id": t.filing_id, "traded_on": t.traded_on, "filed_on": t.filed_on, "insider_id": &*t.insider_id,
        "role": t.role, "code": &*t.code, "planned": t.planned, "amount": amount, "against_held": signs.of_holding,
        "days_to_filing": signs.days_to_filing, "late": signs.late, "price_since": signs.since,
        "first_in_two_years": signs.first_in_two_years, "after_a_fall": signs.after_a_fall, "nth_in_12_months": signs.purchase_of_year,
    })
}

#[test]
fn every_turn_level_gap_candle_and_trade_agrees() {
    let expected = golden("expected-price-behaviour.json");
    let mut wrong = Vec::new();
    for date in DATES {
        let companies = expected["dates"][date].as_object().unwrap();
        assert_eq!(companies.len(), context().as_of(day(date)).universe().len());
        for (symbol, want) in companies {
            let c = context().as_of(day(date)).company(snapshot().find(symbol).unwrap());
            let got = behaviour(&c);
            for (part, got) in got.as_object().unwrap() {
                wrong.extend(difference(got, &want[part]).map(|said| format!("{date} {symbol} {part}: {said}")));
            }
        }
    }
    assert!(wrong.is_empty(), "{} disagree:\n{}", wrong.len(), wrong.join("\n"));
}

/// The hand-made bars: each limit just within and just outside. The measure says the same as the list of shapes.
#[test]
fn every_candle_case_agrees() {
    let cases = golden("candle-cases.json");
    for case in cases.as_array().unwrap() {
        let (name, want) = (&case["name"], &case["patterns"]);
        let bars: Vec<[f64; 4]> = serde_json::from_value(case["bars"].clone()).unwrap();
        let context = World::new().bars("2024-03-01", &bars).context();
        let c = context.as_of(Day::MAX).company(0);
        let found: Vec<Candle> = price::candles(&c, BarSize::Day, 1).into_iter().map(|x| x.candle).collect();
        assert_eq!(&json!(found), want, "{name}");
        for candle in Candle::ALL {
            let code = json!(candle);
            let measured = context.evaluate(&compile(code.as_str().unwrap()).unwrap(), &[c]).value(0);
            let expected = found.contains(&candle);
            // Where the bars are too few for the move before a shape, the measure is undefined.
            assert!(
                measured == Value::Flag(expected) || (bars.len() < 9 && !expected && measured.why().is_some()),
                "{name}: {code} {measured:?}"
            );
        }
    }
    assert_eq!(cases.as_array().unwrap().len(), 23);
}
