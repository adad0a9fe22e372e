//! Measures of one's own: kept as documents, used in formulas and screens, refused with a reason.

use crate::{golden, now, open};
use artemon_app::{EvaluateRequest, Home, OwnMeasure, ScreenRequest, delete_own_measure, evaluate, own_measures, save_own_measure, screen};
use std::sync::Arc;

fn own(id: &str, formula: &str) -> OwnMeasure {
    OwnMeasure { id: id.to_owned(), label: format!("My {id}"), note: String::new(), unit: None, formula: formula.to_owned() }
}

fn ask(app: &Arc<Home>, formula: &str) -> String {
    let request = EvaluateRequest { formulas: vec![formula.to_owned()], symbols: vec!["DRUA".to_owned()], as_of: None };
    evaluate(&now(app), &request).map_or_else(|e| e.to_string(), |a| serde_json::to_string(&a[0].values[0].figure).unwrap())
}

#[test]
fn they_are_kept_used_changed_and_deleted() {
    let (folder, app) = golden();
    assert!(ask(&app, "profit_yield").contains("There is no measure"));
    save_own_measure(&now(&app), &own("profit_yield", "eps / price")).unwrap();
    save_own_measure(&now(&app), &own("rich", "profit_yield > 30%")).unwrap();
    let (mine, same) = (ask(&app, "profit_yield"), ask(&app, "eps / price"));
    assert_eq!(mine, same);
    assert_eq!(ask(&app, "own_rank(profit_yield, 5y)"), ask(&app, "own_rank(eps / price, 5y)"));

    // A screen finds by it, and answers anew once it has changed.
    let text = r#"{"screen": {"blocks": [{"need": "all", "criteria": [{"formula": "rich"}]}]}}"#;
    let survivors = || screen(&now(&app), &serde_json::from_str::<ScreenRequest>(text).unwrap().screen).unwrap().survivors;
    let before = survivors();
    save_own_measure(&now(&app), &own("profit_yield", "10 * eps / price")).unwrap();
    assert!(survivors() > before, "{} and {before}", survivors());

    // A circle, a name that is taken and a measure in use are refused; nothing changes.
    let refused = [
        save_own_measure(&now(&app), &own("profit_yield", "if(rich, 1, 2)")),
        save_own_measure(&now(&app), &own("pe", "price")),
        delete_own_measure(&now(&app), "profit_yield"),
        delete_own_measure(&now(&app), "nothing"),
    ];
    insta::assert_snapshot!(refused.map(|r| r.unwrap_err().to_string()).join("\n"));
    drop(app);

    let app = open(folder.path());
    let kept: Vec<String> = own_measures(&now(&app)).into_iter().map(|m| m.formula).collect();
    assert_eq!(kept, ["10 * eps / price", "profit_yield > 30%"]);
    delete_own_measure(&now(&app), "rich").unwrap();
    delete_own_measure(&now(&app), "profit_yield").unwrap();
    assert!(ask(&app, "profit_yield").contains("There is no measure"));
}
