//! The ledger of a person: what is written down, ordered and worked, once and for good.

use crate::now;
use artemon_app::{
    Entered, FeedRequest, Home, LedgerPage, LedgerRequest, LedgerTerms, NewAccount, Options, OrderChange, OrderRequest, add_account,
    cancel_order, change_order, ledger_page, make_demo, next_sessions, order_fit, order_sheet, place_order, remove_account, rename_account,
    save_ledger_terms, take_back, write_down,
};
use artemon_core::ledger::OrderState;
use serde_json::{Value, json};
use std::{path::Path, sync::Arc};
use tempfile::TempDir;

pub(crate) fn open(folder: &Path) -> Arc<Home> {
    Home::open(Options { folder: folder.to_owned(), ..Options::default() }).unwrap()
}

pub(crate) fn demo() -> (TempDir, Arc<Home>) {
    let folder = tempfile::tempdir().unwrap();
    make_demo(folder.path(), Some(40), false).unwrap();
    let home = open(folder.path());
    artemon_app::warm_up(&home);
    (folder, home)
}

pub(crate) fn account(home: &Arc<Home>, name: &str, kind: &str, deposit: f64) -> String {
    let new: NewAccount = serde_json::from_value(json!({"name": name, "currency": "ZOC", "kind": kind, "deposit": deposit})).unwrap();
    add_account(&now(home), &new).unwrap().id
}

pub(crate) fn page(home: &Arc<Home>) -> LedgerPage {
    ledger_page(&now(home), &LedgerRequest::default()).unwrap()
}

pub(crate) fn order(account: &str, symbol: &str, more: &Value) -> OrderRequest {
    let mut all = json!({"account": account, "symbol": symbol, "side": "buy", "good": "until_cancelled"});
    all.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
    serde_json::from_value(all).unwrap()
}

pub(crate) fn sessions(home: &Arc<Home>, sessions: usize) {
    next_sessions(&now(home), FeedRequest { sessions }).unwrap();
}

/// Someone who trades every day in the currency of the accounts.
pub(crate) fn symbol(home: &Arc<Home>) -> String {
    let screen = artemon_core::screening::Screen::default();
    let rows = artemon_app::whole_screen(&now(home), &screen).unwrap().rows;
    let account = account(home, "Looking", "simulated", 1_000_000.0);
    let of = |symbol: &String| order_sheet(&now(home), &order(&account, symbol, &json!({"at": "market", "quantity": 10})));
    let found = rows
        .into_iter()
        .map(|r| r.symbol)
        .find(|s| of(s).is_ok_and(|s| s.listing_currency == "ZOC" && s.of_volume.is_some_and(|v| v < 0.01)));
    found.unwrap()
}

/// Bought at market in the next session, sold at a limit far below the price in the one after; a kept journal is the same after opening
/// the folder again, and sessions that came are worked once.
#[test]
fn orders_are_worked_by_the_sessions_that_come() {
    let (folder, home) = demo();
    let symbol = symbol(&home);
    let id = account(&home, "Main", "simulated", 100_000.0);
    let given = place_order(&now(&home), &order(&id, &symbol, &json!({"at": "market", "quantity": 10, "sell_at_gain": 5.0}))).unwrap();
    assert_eq!(page(&home).orders[0].order, given.order);
    assert!(page(&home).holdings.is_empty(), "nothing is filled on the day on which it is given");
    sessions(&home, 1);
    let after = page(&home);
    let [held] = &after.holdings[..] else { panic!("{:?}", after.holdings) };
    assert_eq!((held.symbol.as_str(), held.quantity), (symbol.as_str(), 10.0));
    let states: Vec<String> = after.orders.iter().map(|o| format!("{} {:?}", o.order, o.state)).collect();
    assert_eq!(states, [format!("{}-sell Open", given.order), format!("{} Filled", given.order)]);
    let main = after.accounts.iter().find(|a| a.name == "Main").unwrap();
    assert!((main.cash + held.cost - 100_000.0).abs() < 1e-9 && (main.value - main.cash - held.value).abs() < 1e-9);
    let lines = after.journal_lines;

    drop(home);
    let home = open(folder.path());
    artemon_app::warm_up(&home);
    assert_eq!(page(&home).journal_lines, lines, "a session is worked once");
    cancel_order(&now(&home), &format!("{}-sell", given.order)).unwrap();
    place_order(&now(&home), &order(&id, &symbol, &json!({"side": "sell", "limit": held.price.unwrap() * 0.6, "quantity": 10}))).unwrap();
    sessions(&home, 1);
    let sold = page(&home);
    assert!(sold.holdings.is_empty());
    let [closed] = &sold.closed[..] else { panic!("{:?}", sold.closed) };
    let main = sold.accounts.iter().find(|a| a.name == "Main").unwrap();
    assert!((closed.realised - main.realised).abs() < 1e-9 && (main.gain - main.realised).abs() < 1e-6);
    // As of an earlier day, what was known and done by then.
    let then = ledger_page(&now(&home), &LedgerRequest { as_of: Some(after.as_of), ..LedgerRequest::default() }).unwrap();
    // What was done after its close is of that day.
    assert_eq!((then.holdings.len(), then.journal_lines), (1, lines + 2));
}

/// A purchase worked by 40 sessions at once has the journal of one worked session by session.
#[test]
fn many_sessions_at_once_are_worked_one_by_one() {
    let journal = |at_once: usize| {
        let (_folder, home) = demo();
        let symbol = symbol(&home);
        let id = account(&home, "Main", "simulated", 1_000_000.0);
        place_order(&now(&home), &order(&id, &symbol, &json!({"at": "market", "quantity": 2_000, "sell_at_gain": 0.02}))).unwrap();
        (0..20 / at_once).for_each(|_| sessions(&home, at_once));
        // An order that ends between two sessions does so one step earlier when the next one is known.
        page(&home).journal.iter().map(|j| format!("{} {:?}", j.says, j.cash)).collect::<Vec<_>>()
    };
    let one_by_one = journal(1);
    assert!(one_by_one.len() > 4, "{one_by_one:?}");
    assert_eq!(one_by_one, journal(20));
}

/// An order whose last day comes before the next session never works: the session's prices are not its.
#[test]
fn an_order_that_is_over_before_the_next_session_never_works() {
    let (_folder, home) = demo();
    let symbol = symbol(&home);
    let id = account(&home, "Main", "simulated", 100_000.0);
    // 3 July 2026 is a Friday.
    sessions(&home, 3);
    assert_eq!(page(&home).as_of.to_string(), "2026-07-03");
    let far_above = order_sheet(&now(&home), &order(&id, &symbol, &json!({}))).unwrap().last * 1.5;
    let terms = json!({"limit": far_above, "quantity": 5, "good": "2026-07-04"});
    place_order(&now(&home), &order(&id, &symbol, &terms)).unwrap();
    sessions(&home, 1);
    let after = page(&home);
    assert!(after.holdings.is_empty());
    assert_eq!(format!("{:?} {}", after.orders[0].state, after.orders[0].ended_on.unwrap()), "Expired 2026-07-03");
}

/// What is recorded in any order gives the books of the days on which it happened; what contradicts them changes nothing.
#[test]
fn the_order_in_which_trades_are_recorded_does_not_matter() {
    let (_folder, home) = demo();
    let trades = [
        json!({"do": "trade", "side": "buy", "what": "Bond", "quantity": 10, "price": 98, "fee": 1, "date": "2024-03-04"}),
        json!({"do": "trade", "side": "buy", "what": "Bond", "quantity": 5, "price": 101, "date": "2025-01-06"}),
        json!({"do": "trade", "side": "sell", "what": "Bond", "quantity": 12, "price": 103, "date": "2025-06-02"}),
        json!({"do": "income", "what": "Bond", "amount": 40, "date": "2025-03-03"}),
    ];
    let enter = |id: &str, trade: &Value| write_down(&now(&home), id, &serde_json::from_value::<Entered>(trade.clone()).unwrap());
    let (there, back) = (account(&home, "There", "by_hand", 0.0), account(&home, "Back", "by_hand", 0.0));
    for trade in &trades {
        enter(&there, trade).unwrap();
    }
    for i in [3, 1, 0, 2] {
        enter(&back, &trades[i]).unwrap();
    }
    let known = page(&home);
    let of = |name: &str| {
        let a = known.accounts.iter().find(|a| a.name == name).unwrap();
        let h = known.holdings.iter().find(|h| h.account == name).unwrap();
        (a.cash, a.realised, a.income, h.quantity, h.cost)
    };
    // 12 sold: 10 that cost 981 and 2 of 5 that cost 505; 3 left at 303.
    assert_eq!(of("There"), of("Back"));
    assert_eq!(of("There"), (-981.0 - 505.0 + 1236.0 + 40.0, 1236.0 - 981.0 - 202.0, 40.0, 3.0, 303.0));
    let lines = page(&home).journal_lines;
    let too_much = json!({"do": "trade", "side": "sell", "what": "Bond", "quantity": 4, "price": 103, "date": "2025-05-02"});
    let refused = enter(&back, &too_much).unwrap_err().to_string();
    assert_eq!(
        refused, "The entry is not usable: Back holds 11 of Bond, and 12 are to be sold.",
        "a later sale would have nothing to sell"
    );
    assert_eq!(page(&home).journal_lines, lines);
    // The first purchase cannot be taken back while it is sold from; the income can.
    let number = |says: &str| page(&home).journal.iter().find(|j| j.says == says && j.account == "Back").unwrap().n;
    assert!(take_back(&now(&home), 1).is_err());
    take_back(&now(&home), number("Income from Bond: 40")).unwrap();
    assert!((page(&home).accounts.iter().find(|a| a.name == "Back").unwrap().income).abs() < 1e-9);
}

/// What an order or entry gets wrong is told in a sentence, and nothing is changed.
#[test]
fn what_cannot_be_ordered_is_told() {
    let (_folder, home) = demo();
    let symbol = symbol(&home);
    let (id, hand) = (account(&home, "Main", "simulated", 1_000.0), account(&home, "Hand", "by_hand", 0.0));
    let lines = page(&home).journal_lines;
    let last = order_sheet(&now(&home), &order(&id, &symbol, &json!({"quantity": 1}))).unwrap().last;
    let refused = |account: &str, more: Value| {
        let said = place_order(&now(&home), &order(account, &symbol, &more)).unwrap_err().to_string();
        said.replace(&symbol, "SYM")
    };
    assert_eq!(refused(&id, json!({})), "Say how many shares, or for how much.");
    assert_eq!(refused(&id, json!({"amount": 0.5})), "That is less than one share of SYM.");
    assert_eq!(refused(&id, json!({"quantity": 1.5})), "Only whole shares can be bought.");
    assert_eq!(refused(&id, json!({"side": "sell", "quantity": 3})), "Main holds 0 of SYM; more than that cannot be sold.");
    assert!(refused(&id, json!({"quantity": 1, "good": "2026-06-30"})).ends_with("2026-06-30 is over by then."));
    assert!(refused(&id, json!({"quantity": 1, "limit": last * 3.0})).ends_with("Is that meant?"));
    assert!(refused(&hand, json!({"quantity": 1})).contains("kept by hand and takes no orders"));
    let withdraw = serde_json::from_value::<Entered>(json!({"do": "withdraw", "amount": 1_001})).unwrap();
    let said = write_down(&now(&home), &id, &withdraw).unwrap_err().to_string();
    assert_eq!(said, "The entry is not usable: Main has 1000 in cash, and 1001 are to be paid.");
    let huge = serde_json::from_value::<Entered>(json!({"do": "deposit", "amount": 1e20})).unwrap();
    assert!(write_down(&now(&home), &id, &huge).unwrap_err().to_string().contains("larger than a million millions"));
    assert!(refused(&id, json!({"quantity": 1e11, "limit": 1e9})).contains("larger than a million millions"));
    let price = serde_json::from_value::<Entered>(json!({"do": "price", "what": "Bond", "price": 5})).unwrap();
    assert_eq!(write_down(&now(&home), &hand, &price).unwrap_err().to_string(), "The entry is not usable: Hand holds no Bond.");
    assert!(rename_account(&now(&home), &hand, " Main ").unwrap_err().to_string().contains("another account has it"));
    assert!(remove_account(&now(&home), &id).unwrap_err().to_string().contains("it has a journal"));
    assert_eq!(page(&home).journal_lines, lines);
    remove_account(&now(&home), &hand).unwrap();
    // More than the cash pays for is warned of, and given; a far limit that is meant, too.
    let sheet = order_sheet(&now(&home), &order(&id, &symbol, &json!({"limit": last, "amount": 50_000}))).unwrap();
    assert!(sheet.refused.is_none() && sheet.warnings[0].contains("short of it"), "{:?}", sheet.warnings);
    assert!(sheet.sentence.starts_with("Buy ") && sheet.sentence.contains("of a day's trading"), "{}", sheet.sentence);
    place_order(&now(&home), &order(&id, &symbol, &json!({"quantity": 1, "limit": last * 3.0, "sure": true}))).unwrap();
}

/// It waits far below the price until its limit is changed; what the sheet refuses or asks about, the change does too.
#[test]
fn a_changed_order_goes_on_as_changed() {
    let (_folder, home) = demo();
    let symbol = symbol(&home);
    let id = account(&home, "Main", "simulated", 100_000.0);
    let last = order_sheet(&now(&home), &order(&id, &symbol, &json!({"at": "market", "quantity": 1}))).unwrap().last;
    let given = place_order(&now(&home), &order(&id, &symbol, &json!({"limit": last * 0.6, "quantity": 10}))).unwrap().order;
    sessions(&home, 1);
    let change = |of: &Value| change_order(&now(&home), &given, &serde_json::from_value::<OrderChange>(of.clone()).unwrap());
    let says = |of: &Value| change(of).unwrap_err().to_string();
    assert!(says(&json!({"limit": -1})).contains("not above zero") && says(&json!({"limit": last * 9.0})).contains("Is that meant?"));
    assert!(says(&json!({"good": "2020-01-01"})).contains("over by then") && says(&json!({"left": 0})).contains("less than one share"));
    change(&json!({"limit": last * 1.2, "left": 7, "good": "day"})).unwrap();
    let waits = &page(&home).orders[0];
    assert_eq!((waits.left, waits.good.as_str(), waits.state), (7.0, "day", OrderState::Open));
    sessions(&home, 1);
    let after = page(&home);
    assert_eq!((after.holdings[0].quantity, after.orders[0].state), (7.0, OrderState::Filled));
    assert!(after.journal.iter().any(|j| j.says.starts_with(&format!("Order {given} changed: 7 at"))), "{:?}", after.journal);
    assert!(change(&json!({"left": 2})).is_err(), "it works no more");
}

/// A fee of one percent is in the sheet and in the fill; limits warn.
#[test]
fn terms_hold_from_the_next_session_on() {
    let (_folder, home) = demo();
    let symbol = symbol(&home);
    let id = account(&home, "Main", "simulated", 10_000.0);
    let terms = |of: &Value| save_ledger_terms(&now(&home), serde_json::from_value::<LedgerTerms>(of.clone()).unwrap());
    assert!(terms(&json!({"fee": 0.5})).is_err() && terms(&json!({"one_company": 0.0})).is_err());
    terms(&json!({"fee": 0.01, "minimum_fee": 0, "one_company": 0.02})).unwrap();
    let wanted = order(&id, &symbol, &json!({"at": "market", "amount": 3_000}));
    let sheet = order_sheet(&now(&home), &wanted).unwrap();
    let value = sheet.quantity.unwrap() * sheet.limit;
    assert!((sheet.fee.unwrap() - value * 0.01).abs() < 1e-9);
    // Another account, which looked for the company, has a million: the order is less than 2 % of all.
    assert!(!sheet.warnings.iter().any(|w| w.contains("of one company")), "{:?}", sheet.warnings);
    let large = order_sheet(&now(&home), &order(&id, &symbol, &json!({"at": "market", "amount": 30_000}))).unwrap();
    assert!(large.warnings.iter().any(|w| w.contains("above the 2.0\u{202f}% of one company")), "{:?}", large.warnings);
    place_order(&now(&home), &wanted).unwrap();
    sessions(&home, 1);
    let held = page(&home);
    let fill = held.accounts.iter().find(|a| a.name == "Main").unwrap();
    let price = held.orders[0].price.unwrap();
    assert!((fill.fees - held.holdings[0].quantity * price * 0.01).abs() < 1e-9, "{} {price}", fill.fees);
}

/// Of every sort of weight the classes and the cash are the whole, before and after; a purchase moves weight from cash to its own.
#[test]
fn an_order_is_weighed_against_what_is_held() {
    let (_folder, home) = demo();
    let symbol = symbol(&home);
    let id = account(&home, "Main", "simulated", 100_000.0);
    place_order(&now(&home), &order(&id, &symbol, &json!({"at": "market", "quantity": 50}))).unwrap();
    sessions(&home, 1);
    let screen = artemon_core::screening::Screen::default();
    let others = artemon_app::whole_screen(&now(&home), &screen).unwrap().rows.into_iter().map(|r| r.symbol).filter(|s| *s != symbol);
    let fits = |s: String| order_fit(&now(&home), &order(&id, &s, &json!({"at": "market", "amount": 5_000}))).ok();
    let fit = others.filter_map(fits).find(|f| f.with_whole.is_some()).unwrap();
    let cash = fit.weights.iter().find(|w| w.of == "cash").unwrap();
    for of in ["sector", "country", "currency", "kind", "soundness"] {
        let sum = |get: fn(&artemon_app::Weight) -> f64| fit.weights.iter().filter(|w| w.of == of).map(get).sum::<f64>();
        assert!((sum(|w| w.before) + cash.before - 1.0).abs() < 1e-9 && (sum(|w| w.after) + cash.after - 1.0).abs() < 1e-9, "{of}");
        assert!(sum(|w| w.after) > sum(|w| w.before));
    }
    // One company is held: moving with it is moving with all.
    assert_eq!(fit.overlap.len(), 1);
    assert!((fit.overlap[0].correlation.unwrap() - fit.with_whole.unwrap()).abs() < 1e-9);
    assert!(fit.look_through.iter().all(|f| (0.0..=1.0).contains(&f.covers)) && fit.sentence.contains("of what you hold"));
}

/// The demo world made anew begins before what happened: nothing is worked, and it is said, until the data have come beyond it.
#[test]
fn accounts_stand_still_after_a_dataset_that_begins_again() {
    let (folder, home) = demo();
    let symbol = symbol(&home);
    let id = account(&home, "Main", "simulated", 100_000.0);
    place_order(&now(&home), &order(&id, &symbol, &json!({"at": "market", "quantity": 10}))).unwrap();
    sessions(&home, 3);
    let last = page(&home).as_of;
    place_order(&now(&home), &order(&id, &symbol, &json!({"at": "market", "quantity": 5, "good": "until_cancelled"}))).unwrap();
    drop(home);
    make_demo(folder.path(), Some(40), true).unwrap();
    let home = open(folder.path());
    assert_eq!(page(&home).stands_still_until, Some(last));
    let said = place_order(&now(&home), &order(&id, &symbol, &json!({"at": "market", "quantity": 1}))).unwrap_err().to_string();
    assert!(said.contains("goes on once they have come so far"), "{said}");
    let lines = page(&home).journal_lines;
    sessions(&home, 3);
    let there = page(&home);
    assert_eq!((there.as_of, there.stands_still_until, there.holdings[0].quantity), (last, None, 10.0), "nothing is worked twice");
    assert!(there.journal_lines > lines, "what happened later is known again");
    sessions(&home, 1);
    assert_eq!(page(&home).holdings[0].quantity, 15.0);
    assert_eq!(page(&home).corrected, 0);
}
