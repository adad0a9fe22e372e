//! The record of decisions: what was seen stays, reviews are added, what came of it is counted.

use crate::{
    ledger::{account, demo, open, order, sessions, symbol},
    now,
};
use artemon_app::{
    DecisionAnswer, DecisionRow, DecisionsRequest, Home, LedgerRequest, NewDecision, Review, TodayRequest, add_review, alerts, calendar,
    cancel_order, decide, decision, decisions, ledger_results, place_order, today,
};
use artemon_core::domain::Day;
use serde_json::{Value, json};
use std::sync::Arc;

fn decided(home: &Arc<Home>, of: &Value) -> Result<String, artemon_app::AppError> {
    let new: NewDecision = serde_json::from_value(of.clone()).unwrap();
    decide(&now(home), &new).map(|d| d.id)
}

fn all(home: &Arc<Home>) -> Vec<DecisionRow> {
    decisions(&now(home), &DecisionsRequest::default()).unwrap().decisions
}

fn one(home: &Arc<Home>, id: &str) -> DecisionAnswer {
    decision(&now(home), id, &DecisionsRequest::default()).unwrap()
}

fn review(of: &Value) -> Review {
    serde_json::from_value(of.clone()).unwrap()
}

/// What was seen is the same after twenty sessions and under other assumptions; what would prove it wrong is an alert.
#[test]
fn what_was_seen_stays_as_it_was() {
    let (folder, home) = demo();
    let symbol = symbol(&home);
    let reasons = json!({
        "thesis": "Cheap and sound.", "wrong": "Debt above twice the equity.", "wrong_when": ["debt_to_equity > 2"],
        "confidence": 0.8, "review_on": newest(&home).plus_days(10), "tell_at_value": true,
    });
    let id = decided(&home, &json!({"symbol": symbol, "choice": "not_now", "reasons": reasons})).unwrap();
    let names: Vec<String> = alerts(&now(&home)).unwrap().into_iter().map(|a| a.name).collect();
    assert_eq!(names, [format!("{symbol}: the value is reached"), format!("{symbol}: wrong if debt_to_equity > 2")]);
    let before = one(&home, &id);
    assert!(before.seen.price.is_some() && before.seen.figures.len() > 15 && !before.row.due);
    sessions(&home, 20);
    drop(home);
    let home = open(folder.path());
    let after = one(&home, &id);
    assert_eq!(after.seen, before.seen);
    assert!(after.row.due && after.row.share_since.is_some() && after.row.index_since.is_some() && !after.row.settled);
    assert_eq!(after.row.right, after.row.share_since.zip(after.row.index_since).map(|(own, index)| own <= index));
    assert!(after.figures.iter().any(|f| f.formula == "price" && f.then != f.now), "twenty sessions moved the price");
    // Before it was decided nothing of it is there.
    let past = DecisionsRequest { as_of: Some(before.row.decided_on.plus_days(-30)), ..DecisionsRequest::default() };
    assert!(decisions(&now(&home), &past).unwrap().decisions.is_empty());
}

/// A review answers what was due, names the next day, and at last closes it with what was learnt.
#[test]
fn a_decision_is_looked_at_again_until_it_is_closed() {
    let (_folder, home) = demo();
    let (symbol, t) = (symbol(&home), newest(&home));
    let id = decided(&home, &json!({"symbol": symbol, "choice": "keep", "reasons": {"review_on": t.plus_days(3)}})).unwrap();
    let coming = today(&now(&home), &TodayRequest::default()).unwrap().coming;
    assert!(coming.iter().any(|c| c.symbol == symbol && c.what == "look at it again" && c.date == t.plus_days(3)), "{coming:?}");
    assert!(calendar(&now(&home)).unwrap().contains("look at it again"));
    assert!(add_review(&now(&home), &id, &Review::default()).unwrap_err().to_string().contains("says nothing"));
    add_review(&now(&home), &id, &review(&json!({"reason_right": true, "next_on": t.plus_days(40)}))).unwrap();
    assert_eq!(all(&home)[0].review_on, Some(t.plus_days(40)));
    add_review(&now(&home), &id, &review(&json!({"result_right": false, "lesson": "Too early.", "closes": true}))).unwrap();
    let row = &all(&home)[0];
    assert_eq!((row.review_on, row.closed, row.lesson.as_str(), row.reviews), (None, true, "Too early.", 2));
    let asked = one(&home, &id).reviews;
    assert_eq!(asked.iter().map(|r| (r.reason_right, r.result_right)).collect::<Vec<_>>(), [(Some(true), None), (None, Some(false))]);
}

/// The reasons of an order land with it; one of which nothing came counts for nothing.
#[test]
fn an_order_carries_its_reasons() {
    let (_folder, home) = demo();
    let symbol = symbol(&home);
    let home_account = account(&home, "Home", "simulated", 100_000.0);
    let reasons = json!({"thesis": "Under its value.", "confidence": 0.6});
    let bad = order(&home_account, &symbol, &json!({"at": "market", "quantity": 5, "reasons": {"confidence": 0.99}}));
    assert!(place_order(&now(&home), &bad).unwrap_err().to_string().contains("99 %"));
    let bought =
        place_order(&now(&home), &order(&home_account, &symbol, &json!({"at": "market", "quantity": 5, "reasons": reasons}))).unwrap();
    let never = order(&home_account, &symbol, &json!({"limit": 0.5, "quantity": 5, "sure": true, "reasons": reasons}));
    let never = place_order(&now(&home), &never).unwrap();
    sessions(&home, 3);
    cancel_order(&now(&home), &never.order).unwrap();
    let rows = all(&home);
    let of = |name: &str| rows.iter().find(|r| r.order.as_deref() == Some(name)).unwrap();
    assert!(!of(&bought.order).not_carried_out && of(&never.order).not_carried_out);
    let page = decisions(&now(&home), &DecisionsRequest::default()).unwrap();
    assert_eq!((page.so_far.count, page.so_far.with_confidence, page.settled.count), (1, 1, 0));
    let told = today(&now(&home), &TodayRequest { since: Some(rows[0].decided_on), ..TodayRequest::default() }).unwrap().ledger;
    assert!(told.sentence.starts_with("Worth "), "{}", told.sentence);
    assert_eq!(told.happened.iter().map(|l| l.symbol.as_str()).collect::<Vec<_>>(), [symbol.as_str()]);
    let results = ledger_results(&now(&home), &LedgerRequest::default()).unwrap();
    let gain: f64 = results.sectors.iter().map(|g| g.gain).sum();
    let years: f64 = results.years.iter().map(|y| y.gain).sum();
    assert!((gain - years).abs() < 1e-6 && results.screens[0].name == "no screen named", "{gain} {years}");
}

#[test]
fn what_cannot_be_meant_is_refused() {
    let (_folder, home) = demo();
    let symbol = symbol(&home);
    for (reasons, says) in [
        (json!({"confidence": 0.3}), "50 and 95"),
        (json!({"review_on": "2020-01-01"}), "is not after"),
        (json!({"wrong_when": ["roe"]}), "neither true nor false"),
        (json!({"wrong_when": ["roe <"]}), "ends too early"),
        (json!({"thesis": "x".repeat(5_000)}), "at most"),
        (json!({"screen": "nosuch"}), "not"),
    ] {
        let said = decided(&home, &json!({"symbol": symbol, "choice": "buy", "reasons": reasons})).unwrap_err().to_string();
        assert!(said.contains(says), "{reasons}: {said}");
    }
    assert!(all(&home).is_empty() && alerts(&now(&home)).unwrap().is_empty());
}

fn newest(home: &Arc<Home>) -> Day {
    decisions(&now(home), &DecisionsRequest::default()).unwrap().as_of
}

/// Two long formulas that begin alike are two alerts; the same one again is none.
#[test]
fn long_formulas_have_alerts_of_their_own() {
    let (_folder, home) = demo();
    let symbol = symbol(&home);
    let long = |end: &str| format!("debt_to_equity > 2 and roe < 0.05 and net_margin < 0.02 and interest_cover < 1.5 and {end}");
    let of = json!({"symbol": symbol, "choice": "keep", "reasons": {"wrong_when": [long("pe > 40"), long("pb > 9")]}});
    decided(&home, &of).unwrap();
    decided(&home, &of).unwrap();
    assert_eq!(alerts(&now(&home)).unwrap().len(), 2);
}
