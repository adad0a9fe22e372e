//! Whatever was asked before, and under whatever settings: an answer is the one of a program that has kept nothing.

use crate::{golden, now, options};
use artemon_app::{
    Assumptions, Ctx, EvaluateRequest, Home, Override, OwnMeasure, RankRequest, ScreenRequest, assume_of_company, candidates_xlsx,
    company_page, evaluate, rank, save_assumptions, save_own_measure, use_assumptions, whole_screen,
};
use artemon_core::valuation::RequiredReturn;
use calamine::{Reader, Xlsx};
use serde_json::{Value, json};
use std::{io::Cursor, sync::Arc};

/// Where settings show: a screen with own histories and peers, the ranking, a history, a company's page, the workbook.
fn views(ctx: &Ctx) -> Vec<(&'static str, String)> {
    let criteria = json!([
        { "formula": "own_rank(price_to_value, 3y)", "max": 90 },
        { "formula": "quality", "min": 20 },
        { "formula": "mine > 0" },
        { "formula": "rank_in(margin_of_safety, universe)", "min": 5 }
    ]);
    let columns = json!(["value_to_price", "value_high", "value_agreement", "expected_return", "value_low", "verdict"]);
    let document = json!({ "screen": { "blocks": [{ "need": "all", "criteria": criteria }], "columns": columns } });
    let screened: ScreenRequest = serde_json::from_value(document).unwrap();
    let sensitive = RankRequest { sensitivity: true, ..RankRequest::default() };
    let history = EvaluateRequest {
        formulas: vec!["own_median(intrinsic_value, 3y)".to_owned(), "ago(mine, 1y)".to_owned()],
        symbols: vec!["DRUA".to_owned(), "OLIC".to_owned()],
        as_of: None,
    };
    vec![
        ("screen", serde_json::to_string(&whole_screen(ctx, &screened.screen).unwrap()).unwrap()),
        ("rank", serde_json::to_string(&rank(ctx, &sensitive).unwrap()).unwrap()),
        ("history", serde_json::to_string(&evaluate(ctx, &history).unwrap()).unwrap()),
        ("page", serde_json::to_string(&company_page(ctx, "DRUA", None).unwrap()).unwrap()),
        ("workbook", cells(candidates_xlsx(ctx, &RankRequest::default()).unwrap())),
    ]
}

fn cells(workbook: Vec<u8>) -> String {
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(workbook)).unwrap();
    book.worksheets().iter().flat_map(|(_, sheet)| sheet.cells().map(|c| format!("{c:?}\n")).collect::<Vec<_>>()).collect()
}

/// Every number and switch of a set changed alone, as far as it may be.
fn changed_one_by_one(set: &Assumptions) -> Vec<(String, Assumptions)> {
    let whole = serde_json::to_value(set).unwrap();
    let mut found = Vec::new();
    leaves(&whole, String::new(), &mut |path, value| {
        let read = |changed: Value| {
            let mut body = whole.clone();
            *body.pointer_mut(&path).unwrap() = changed;
            serde_json::from_value::<Assumptions>(body).ok().filter(|a| a.check().is_ok() && a != set)
        };
        let tried: Vec<Value> = match value {
            Value::Bool(b) => vec![json!(!b)],
            Value::Number(n) => match n.as_i64() {
                Some(whole) => vec![json!(whole - 1), json!(whole + 1)],
                None => [1.1, 0.9].map(|f| json!(n.as_f64().unwrap() * f)).into(),
            },
            _ => ["average_3"].map(Value::from).into(),
        };
        found.extend(tried.into_iter().find_map(read).map(|a| (path, a)));
    });
    found
}

fn leaves(value: &Value, path: String, visit: &mut impl FnMut(String, &Value)) {
    match value {
        Value::Object(all) => all.iter().filter(|(k, _)| !["name", "version"].contains(&k.as_str())).for_each(|(k, v)| {
            leaves(v, format!("{path}/{k}"), visit);
        }),
        Value::Array(all) => all.iter().enumerate().for_each(|(i, v)| leaves(v, format!("{path}/{i}"), visit)),
        leaf => visit(path, leaf),
    }
}

/// After each change of anything that is the person's own, every view of a program that has been asked everything before
/// is that of one which has only just opened the folder.
#[test]
fn every_view_follows_every_setting() {
    let (folder, used) = golden();
    let own = |formula: &str| OwnMeasure {
        id: "mine".to_owned(),
        label: "Mine".to_owned(),
        note: String::new(),
        unit: None,
        formula: formula.to_owned(),
    };
    save_own_measure(&now(&used), &own("eps / price")).unwrap();
    let check = |what: &str| {
        let fresh = Home::open_to_read(options(folder.path())).unwrap();
        for ((view, warm), (_, cold)) in views(&now(&used)).into_iter().zip(views(&now(&fresh))) {
            assert!(warm == cold, "{view} after {what}");
        }
    };
    check("nothing");
    let sets = changed_one_by_one(&Assumptions::standard());
    assert!(sets.len() >= 45, "{:?}", sets.iter().map(|s| &s.0).collect::<Vec<_>>());
    for (what, set) in sets {
        save_assumptions(&now(&used), &Assumptions { name: "Mine".to_owned(), ..set }, None).unwrap();
        check(&what);
    }
    use_assumptions(&now(&used), "Standard").unwrap();
    check("going back to Standard");
    assume_of_company(&now(&used), "DRUA", &Override { required_return: Some(0.13), ..Override::default() }).unwrap();
    check("an assumption about a company");
    assume_of_company(&now(&used), "DRUA", &Override::default()).unwrap();
    save_own_measure(&now(&used), &own("pe")).unwrap();
    check("another formula of a measure");
}

/// The history of a value is that of the set in use, and of what is assumed of the company: at once, and back again.
#[test]
fn own_histories_follow_the_set_in_use() {
    let (_folder, home) = golden();
    let median = || {
        let formulas = vec!["own_median(intrinsic_value, 3y)".to_owned()];
        let asked = EvaluateRequest { formulas, symbols: vec!["DRUA".to_owned()], as_of: None };
        let answer = serde_json::to_value(&evaluate(&now(&home), &asked).unwrap()[0].values[0]).unwrap();
        answer["value"].as_f64().unwrap()
    };
    let standard = median();
    let careful = Assumptions { name: "Careful".to_owned(), required_return: RequiredReturn::Fixed(0.12), ..Assumptions::standard() };
    save_assumptions(&now(&home), &careful, None).unwrap();
    let stern = median();
    assert!(stern < standard, "{stern} and {standard}");
    use_assumptions(&now(&home), "Standard").unwrap();
    assert!((median() - standard).abs() < 1e-12);
    assume_of_company(&now(&home), "DRUA", &Override { required_return: Some(0.12), ..Override::default() }).unwrap();
    assert!(median() < standard);
}

/// A screen before the ranking judges by the set that the ranking values with.
#[test]
fn ranking_with_a_set_screens_under_it() {
    let (_folder, home) = golden();
    let careful = Assumptions { name: "Careful".to_owned(), required_return: RequiredReturn::Fixed(0.14), ..Assumptions::standard() };
    let body = json!({
        "screen": { "blocks": [{ "need": "all", "criteria": [{ "formula": "value_to_price", "min": 1 }] }] },
        "assumptions": careful
    });
    let asked: RankRequest = serde_json::from_value(body).unwrap();
    let beside = rank(&now(&home), &asked).unwrap();
    save_assumptions(&now(&home), &careful, None).unwrap();
    let in_use = rank(&now(&home), &RankRequest { assumptions: None, ..asked }).unwrap();
    let symbols = |a: &artemon_app::RankAnswer| a.rows.iter().map(|r| r.symbol.clone()).collect::<Vec<_>>();
    assert_eq!(symbols(&beside), symbols(&in_use));
    assert!(
        !beside.rows.is_empty()
            && beside.rows.iter().all(|r| {
                let to_price = serde_json::to_value(&r.margin_of_safety).unwrap()["value"].as_f64();
                to_price.is_some_and(|m| m >= 0.0)
            })
    );
}

/// Ten who ask one new date get one answer, each the same.
#[test]
fn many_who_ask_at_once_get_the_same() {
    let (_folder, home) = golden();
    let (home, asked): (&Arc<Home>, _) = (&home, RankRequest { as_of: Some("2024-02-20".parse().unwrap()), ..RankRequest::default() });
    let answers: Vec<String> = std::thread::scope(|s| {
        let all: Vec<_> = (0..10).map(|_| s.spawn(|| serde_json::to_string(&rank(&now(home), &asked).unwrap()).unwrap())).collect();
        all.into_iter().map(|t| t.join().unwrap()).collect()
    });
    assert!(answers.windows(2).all(|w| w[0] == w[1]));
}
