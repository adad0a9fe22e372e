//! Backtests as a person has them: worked on in the background, kept with what they rest on, counted as tries.

use crate::{golden, now};
use artemon_app::{
    AddMembers, AskBacktest, Backtest, BacktestFormat, BacktestState, CalibrationAnswer, Ctx, DocumentFile, Home, ProposeBacktest,
    ScreenRef, add_document, add_members, ask_backtest, ask_values_record, backtest, backtest_file, backtest_here, backtest_holdings,
    backtests, cancel_backtest, check_measure, delete_backtest, name_backtest, propose_backtest, running_backtests, save_assumptions,
    try_variants, use_assumptions, values_record,
};
use artemon_core::valuation::Assumptions;
use calamine::{Reader, Xlsx};
use serde_json::{Value, json};
use std::{io::Cursor, sync::Arc, thread::yield_now};

fn settings(more: &Value) -> Backtest {
    let criteria = json!([{ "formula": "ps", "max": 8 }, { "formula": "value_to_price", "min": 0.5 }]);
    let screen =
        json!({ "name": "Cheap", "universe": { "min_price": 0.05 }, "blocks": [{ "criteria": criteria }], "sort": [{ "formula": "ps" }] });
    let mut all = json!({ "screen": screen, "from": "2020-01-31", "to": "2023-06-30", "top": 5, "base": "XFA" });
    all.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
    serde_json::from_value(all).unwrap()
}

fn asked(home: &Arc<Home>, settings: Backtest) -> String {
    let id = ask_backtest(&now(home), &AskBacktest { name: String::new(), settings }).unwrap().id;
    while backtest(&now(home), &id).unwrap().entry.state == BacktestState::Waiting || !running_backtests(&now(home)).is_empty() {
        yield_now();
    }
    id
}

/// What is kept is what is computed, to the last digit, with the data, the assumptions and the version that it rests on; when these are
/// others it says so.
#[test]
fn what_is_kept_is_what_was_computed() {
    let (_folder, home) = golden();
    let id = asked(&home, settings(&json!({})));
    let found = backtest(&now(&home), &id).unwrap();
    assert_eq!((found.entry.state, found.entry.name.as_str(), found.is_current), (BacktestState::Done, "Cheap", true));
    assert_eq!((found.entry.assumptions.as_str(), found.entry.dataset.len(), found.entry.version.is_empty()), ("Standard", 16, false));
    let again = backtest_here(&now(&home), &found.entry.settings).unwrap();
    assert!(json!(found.outcome.as_ref().unwrap()) == json!(again), "the digits differ");
    assert_eq!(found.entry.summary.as_ref().unwrap().excess, again.excess);
    assert!(found.names.len() >= 5 && found.names.values().all(|n| !n.name.is_empty()));
    let held = backtest_holdings(&now(&home), &id, "2021-07-04".parse().unwrap()).unwrap();
    assert_eq!((held.date.to_string(), held.holdings.len()), ("2021-07-02".to_owned(), 5));

    let careful = Assumptions { name: "Careful".to_owned(), margin: 0.4, ..Assumptions::standard() };
    save_assumptions(&now(&home), &careful, None).unwrap();
    use_assumptions(&now(&home), "Careful").unwrap();
    assert!(!backtest(&now(&home), &id).unwrap().is_current);
}

/// Each different setting of a screen is a try, deleted ones too; the same again is none.
#[test]
fn tries_are_counted_whatever_is_deleted() {
    let (_folder, home) = golden();
    let first = asked(&home, settings(&json!({})));
    asked(&home, settings(&json!({})));
    asked(&home, settings(&json!({ "cost_bps": 60 })));
    let third = asked(&home, settings(&json!({ "top": 4 })));
    delete_backtest(&now(&home), &third, true).unwrap();
    let all = backtests(&now(&home)).unwrap();
    assert_eq!((all.backtests.len(), all.deleted.len(), all.tried[0].variants), (3, 1, 3));
    let found = backtest(&now(&home), &first).unwrap();
    let luck = &found.outcome.as_ref().unwrap().luck.best_of;
    assert_eq!((found.tried, found.best_by_luck), (3, Some(luck[2])));
    assert!(luck.windows(2).all(|w| w[0] <= w[1]), "more tries bring more luck");
    delete_backtest(&now(&home), &third, false).unwrap();
    assert_eq!(backtests(&now(&home)).unwrap().backtests.len(), 4);
    name_backtest(&now(&home), &first, " Cheap ones ").unwrap();
    assert_eq!(backtest(&now(&home), &first).unwrap().entry.name, "Cheap ones");
    // What is over stays as it is.
    cancel_backtest(&now(&home), &first).unwrap();
    assert_eq!(backtest(&now(&home), &first).unwrap().entry.state, BacktestState::Done);
}

fn total(ctx: &Ctx, settings: &Backtest) -> f64 {
    backtest_here(ctx, settings).unwrap().total_return
}

/// Decisions are kept between runs: under other assumptions, another list and with another measure of the same name they are others, and
/// back again the same.
#[test]
fn kept_decisions_follow_what_they_depend_on() {
    let (_folder, home) = golden();
    let valued = settings(&json!({ "by": "margin_of_safety" }));
    let before = total(&now(&home), &valued);
    let dear = Assumptions { name: "Dear".to_owned(), terminal_growth: 0.04, exit_pe: (20.0, 40.0), ..Assumptions::standard() };
    save_assumptions(&now(&home), &dear, None).unwrap();
    use_assumptions(&now(&home), "Dear").unwrap();
    let under_dear = total(&now(&home), &valued);
    use_assumptions(&now(&home), "Standard").unwrap();
    assert!(under_dear != before && total(&now(&home), &valued) == before);

    let list: DocumentFile = serde_json::from_value(json!({ "kind": "list", "name": "Few", "body": {} })).unwrap();
    let list = add_document(&now(&home), list).unwrap().id;
    let put = |symbols: &[&str]| {
        let symbols = symbols.iter().map(|s| (*s).to_owned()).collect();
        add_members(&now(&home), &list, &AddMembers { symbols, from: String::new(), own: Vec::new() }).unwrap();
    };
    put(&["DRUA", "BRAM", "HALB"]);
    let screen = json!({ "name": "Of the list", "universe": { "list": "Few" }, "blocks": [] });
    let of_list = settings(&json!({ "screen": screen }));
    let three = backtest_here(&now(&home), &of_list).unwrap();
    assert_eq!(three.candidates, [3; 14]);
    assert!(three.said.iter().any(|s| s.contains("little to choose from")), "{:?}", three.said);
    put(&["NEVN", "TORD"]);
    let five = backtest_here(&now(&home), &of_list).unwrap();
    assert_eq!(five.candidates, [5; 14]);
    assert!(five.total_return != three.total_return);
}

#[test]
fn what_is_proposed_fits_the_data_and_mistakes_are_refused_before_anything_runs() {
    let (_folder, home) = golden();
    let ctx = now(&home);
    let proposed = propose_backtest(&ctx, &ProposeBacktest { screen: ScreenRef::Name("quality-first".to_owned()), by: None }).unwrap();
    assert_eq!((proposed.every, proposed.top, proposed.to.to_string().as_str()), (3, Some(20), "2025-06-30"));
    backtest_here(&ctx, &proposed).unwrap();
    let refused =
        |more: Value| ask_backtest(&ctx, &AskBacktest { name: String::new(), settings: settings(&more) }).unwrap_err().to_string();
    assert_eq!(refused(json!({ "screen": "No such" })), "A screen of the name \"No such\" does not exist.");
    assert!(refused(json!({ "from": "1990-01-31" })).contains("the dataset has them from"), "{}", refused(json!({ "from": "1990-01-31" })));
    let misspelt = json!({ "screen": { "blocks": [{ "criteria": [{ "formula": "pee", "max": 3 }] }] } });
    assert!(refused(misspelt).contains("pee"));
    assert!(backtests(&ctx).unwrap().backtests.is_empty(), "nothing was kept");
    // What only the figures show is told by the run.
    let nobody = json!({ "screen": { "name": "Nobody", "universe": { "min_market_cap": 1e15 } } });
    let id = asked(&home, settings(&nobody));
    let found = backtest(&now(&home), &id).unwrap().entry;
    assert_eq!(found.state, BacktestState::Refused);
    assert!(found.message.starts_with("No company is in the screen's universe"), "{}", found.message);
    assert!(try_variants(&now(&home), &id).is_err());
}

/// The trades as CSV, and a workbook whose formulas come to what the figures say.
#[test]
fn files_have_what_happened() {
    let (_folder, home) = golden();
    let id = asked(&home, settings(&json!({ "cost_bps": 35 })));
    let outcome = backtest(&now(&home), &id).unwrap().outcome.unwrap();
    let csv = String::from_utf8(backtest_file(&now(&home), &id, BacktestFormat::Csv).unwrap()).unwrap();
    assert_eq!(csv.lines().count(), outcome.trades.len() + 1);
    let json: Value = serde_json::from_slice(&backtest_file(&now(&home), &id, BacktestFormat::Json).unwrap()).unwrap();
    assert_eq!((json["result"]["picks"].as_array().unwrap().len(), &json["backtest"]["cost_bps"]), (outcome.picks.len(), &json!(35.0)));
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(backtest_file(&now(&home), &id, BacktestFormat::Xlsx).unwrap())).unwrap();
    let picks = book.worksheet_range("Picks").unwrap();
    assert_eq!(picks.height(), outcome.picks.len() + 1);
    for (row, pick) in picks.rows().skip(1).zip(&outcome.picks) {
        let number = |column: usize| row[column].to_string().parse::<f64>().unwrap();
        assert!((number(6) / number(5) - 1.0 - pick.returned).abs() < 1e-12 && (number(7) - pick.returned).abs() < 1e-12);
    }
    assert_eq!(book.worksheet_range("Curve").unwrap().height(), outcome.sessions + 1);
}

/// Variants of it, one thing changed at a time: the first is the backtest as it is.
#[test]
fn variants_are_kept_with_it() {
    let (_folder, home) = golden();
    let id = asked(&home, settings(&json!({})));
    try_variants(&now(&home), &id).unwrap();
    let variants = loop {
        if let Some(variants) = backtest(&now(&home), &id).unwrap().entry.variants {
            break variants;
        }
        yield_now();
    };
    let outcome = backtest(&now(&home), &id).unwrap().outcome.unwrap();
    assert_eq!(
        (variants[0].group.as_str(), variants[0].excess, variants[0].percentile),
        ("as it is", outcome.excess, outcome.luck.percentile)
    );
    let groups = |group: &str| variants.iter().filter(|v| v.group == group).count();
    assert_eq!((groups("when"), groups("how many"), groups("costs"), groups("threshold")), (2, 3, 1, 4));
    let dearer = variants.iter().find(|v| v.group == "costs").unwrap();
    assert!(dearer.annualised_return < outcome.annualised_return);
}

/// The record of the values is worked out once asked for, and kept; a measure is checked at once.
#[test]
fn the_record_of_the_values_is_kept() {
    let (_folder, home) = golden();
    let before: CalibrationAnswer = values_record(&now(&home)).unwrap();
    assert!(before.record.is_none() && !before.is_current && before.analysts.is_some());
    ask_values_record(&now(&home)).unwrap();
    let found = loop {
        let found = values_record(&now(&home)).unwrap();
        if found.is_current {
            break found;
        }
        yield_now();
    };
    assert!(found.record.unwrap().cells.iter().any(|c| c.episodes > 50) && found.sentence.unwrap().contains("of their value"));
    let check = json!({ "formula": "pb", "universe": {}, "from": "2020-01-31", "to": "2023-01-31", "every": 1, "base": "XFA" });
    let checked = check_measure(&now(&home), &serde_json::from_value(check).unwrap()).unwrap();
    assert!(
        checked.sentence.starts_with("The fifth with the highest") && checked.said[0].contains("t-statistic is too large"),
        "{checked:?}"
    );
}
