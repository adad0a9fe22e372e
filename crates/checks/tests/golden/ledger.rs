//! The simulated broker and the accounts, event by event and day by day.

use super::{context, golden, today::differences};
use artemon_core::{
    engine::{Context, Settings},
    ledger::LedgerDocument,
};
use artemon_sim::{broker::Broker, replay::replay};
use serde_json::{Value as Json, json};

/// Every event and every account on every day that is asked for.
fn ledger_agrees(number: &str) {
    let document: LedgerDocument<Broker> = serde_json::from_value(golden(&format!("ledger-{number}.json"))).unwrap();
    let in_its_currency: Context = context().with(Settings { base: document.base, ..context().settings().clone() });
    let got = json!(replay(&in_its_currency, &document).unwrap());
    let want = &golden(&format!("expected-ledger-{number}.json"))["result"];
    let mut wrong = Vec::new();
    differences("", &without_nulls(&got), &without_nulls(want), &mut wrong);
    assert!(wrong.is_empty(), "{}", wrong[..wrong.len().min(40)].join("\n"));
}

/// What is null and what is not there are the same.
fn without_nulls(json: &Json) -> Json {
    match json {
        Json::Array(all) => all.iter().map(without_nulls).collect(),
        Json::Object(fields) => fields.iter().filter(|f| !f.1.is_null()).map(|(k, v)| (k.clone(), without_nulls(v))).collect(),
        other => other.clone(),
    }
}

#[test]
fn two_simulated_accounts_in_two_currencies_agree() {
    ledger_agrees("1");
}

/// A reverse split, average cost, an account kept by hand.
#[test]
fn a_reverse_split_and_an_account_kept_by_hand_agree() {
    ledger_agrees("2");
}
