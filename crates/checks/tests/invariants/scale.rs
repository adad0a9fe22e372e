//! Units of account change nothing but amounts: all money a thousandfold, or all shares split in four.

use super::{context, formulas, records};
use artemon_core::{
    domain::{ActionKind, Day, Item, ItemKind, Metric, Record},
    formula::{Unit, Value},
};
use artemon_demo::World;
use std::collections::HashMap;

/// Multiplies amounts a share, shares, and whole-company amounts of a row.
fn scaled(record: &Record, per_share: f64, shares: f64, amounts: f64) -> Record {
    let mut record = record.clone();
    let by = |v: &mut f64, factor: f64| *v *= factor;
    match &mut record {
        Record::Statement(s) => {
            for &item in Item::ALL {
                let factor = match item.kind() {
                    ItemKind::PerShare => per_share,
                    ItemKind::Shares => shares,
                    ItemKind::Flow | ItemKind::Balance => amounts,
                    ItemKind::Ratio => 1.0,
                };
                s.items.set(item, s.items.get(item).map(|v| v * factor));
            }
        }
        Record::Price { bar, .. } => {
            [&mut bar.open, &mut bar.high, &mut bar.low, &mut bar.close].into_iter().for_each(|v| by(v, per_share));
            by(&mut bar.volume, shares);
        }
        Record::Action(a) => a.amount = a.amount.map(|v| v * per_share),
        Record::Estimate(e) => {
            let factor = match e.metric {
                Metric::Eps | Metric::PriceTarget => per_share,
                Metric::Revenue | Metric::Ebit => amounts,
                _ => 1.0,
            };
            by(&mut e.mean, factor);
            [&mut e.low, &mut e.high].into_iter().for_each(|v| *v = v.map(|v| v * factor));
        }
        Record::InsiderTrade(t) => {
            t.price.iter_mut().for_each(|price| by(price, per_share));
            by(&mut t.shares, shares);
            t.shares_after = t.shares_after.map(|v| v * shares);
        }
        _ => {}
    }
    record
}

/// Compares every measure of two worlds: amounts a share and of the company differ by their factors, all else is equal.
fn compare(other: &[Record], per_share: f64, shares: f64, amounts: f64) {
    let (before, after) = (context(records().iter()), context(other.iter()));
    let t = World::last_day();
    let (a, b): (Vec<_>, Vec<_>) = (before.as_of(t).companies().collect(), after.as_of(t).companies().collect());
    let mut wrong = Vec::new();
    for formula in formulas().iter().filter(|f| !f.text.starts_with("order_share")) {
        let (x, y) = (before.evaluate(formula, &a), after.evaluate(formula, &b));
        let factor = match formula.unit {
            Unit::Money if formula.text == "price_in_base" => per_share,
            Unit::Money => amounts,
            Unit::PerShare => per_share,
            Unit::Count if ["volume", "average_volume", "shares_outstanding"].iter().any(|s| formula.text.starts_with(s)) => shares,
            _ => 1.0,
        };
        for (i, company) in a.iter().enumerate() {
            let same = match (x.value(i), y.value(i)) {
                (Value::Number(x), Value::Number(y)) if x.is_finite() => {
                    (x * factor - y).abs() <= 1e-7 * (x * factor).abs().max(1e-3 * factor)
                }
                (x, y) => x == y,
            };
            if !same {
                wrong.push(format!("{} of {}: {:?} became {:?}", formula.text, company.symbol(), x.value(i), y.value(i)));
            }
        }
    }
    assert!(wrong.is_empty(), "{} differ:\n{}", wrong.len(), wrong[..wrong.len().min(40)].join("\n"));
}

#[test]
fn money_a_thousandfold_changes_only_money() {
    let other: Vec<Record> = records().iter().map(|r| scaled(r, 1000.0, 1.0, 1000.0)).collect();
    compare(&other, 1000.0, 1.0, 1000.0);
}

/// Every share is split in four on one day: rows from then on are of the new shares.
#[test]
fn a_split_changes_no_ratio() {
    let ex_date: Day = "2021-06-16".parse().unwrap();
    let mut other: Vec<Record> = records()
        .iter()
        .map(|r| {
            let new = match r {
                Record::Price { bar, .. } => bar.date >= ex_date,
                Record::Statement(s) => s.filed_on >= ex_date,
                Record::Estimate(e) => e.published_on >= ex_date,
                Record::InsiderTrade(t) => t.traded_on >= ex_date,
                Record::Action(a) => a.ex_date >= ex_date,
                _ => false,
            };
            if new { scaled(r, 0.25, 4.0, 1.0) } else { r.clone() }
        })
        .collect();
    let splits: HashMap<_, _> = records().iter().filter_map(|r| Some((r.symbol()?.clone(), r))).collect();
    let split = |symbol: &std::sync::Arc<str>| {
        Record::Action(artemon_core::domain::Action {
            symbol: symbol.clone(),
            ex_date,
            kind: ActionKind::Split,
            ratio: Some(4.0),
            amount: None,
            declared_on: None,
            record_date: None,
            pay_date: None,
        })
    };
    other.extend(splits.keys().map(split));
    compare(&other, 0.25, 4.0, 1.0);
}
