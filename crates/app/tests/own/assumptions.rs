//! Assumption sets, what is assumed of one company, and what follows: kept, named, and undone without a trace.

use crate::{golden, now, open};
use artemon_app::{
    Anchors, Assumptions, CellAsked, Home, Override, RankRequest, ValueRequest, assume_of_company, assumption_sets, assumptions_version,
    candidates_xlsx, company_page, components, delete_assumptions, rank, restore_assumptions, save_assumptions, use_assumptions, value,
    value_with,
};
use artemon_core::valuation::{Model, RequiredReturn, Scenario};
use calamine::{Data, Reader, Xlsx};
use std::{io::Cursor, sync::Arc};

fn worth(app: &Arc<Home>, symbol: &str) -> f64 {
    serde_json::to_value(value(&now(app), symbol, None).unwrap().intrinsic_value).unwrap()["value"].as_f64().unwrap()
}

/// Symbols of the golden package that have a value, best first.
fn valued(app: &Arc<Home>) -> Vec<String> {
    let all = rank(&now(app), &RankRequest::default()).unwrap().rows;
    all.iter().filter(|r| r.verdict.code() != "cannot value").map(|r| r.symbol.clone()).collect()
}

#[test]
fn sets_are_versioned_used_and_forgotten() {
    let (folder, app) = golden();
    let symbol = valued(&app)[0].clone();
    let before = worth(&app, &symbol);
    let careful = Assumptions { name: "Careful".to_owned(), required_return: RequiredReturn::Fixed(0.11), ..Assumptions::standard() };
    save_assumptions(&now(&app), &careful.clone(), None).unwrap();
    let dearer = worth(&app, &symbol);
    assert!(dearer < before, "{dearer} and {before}");
    save_assumptions(&now(&app), &Assumptions { required_return: RequiredReturn::Fixed(0.10), ..careful }, None).unwrap();
    let sets = assumption_sets(&now(&app)).unwrap();
    let mine = sets.iter().find(|s| s.assumptions.name == "Careful").unwrap();
    assert_eq!((mine.in_use, mine.versions.len(), mine.assumptions.label().as_str()), (true, 2, "Careful, version 2"));
    drop(app);

    // It is in use after a start, and every value names it.
    let app = open(folder.path());
    assert_eq!(value(&now(&app), &symbol, None).unwrap().assumptions, "Careful, version 2");
    let against = RankRequest { against: Some("Standard".to_owned()), sensitivity: true, ..RankRequest::default() };
    let beside = rank(&now(&app), &against).unwrap();
    let row = beside.rows.iter().find(|r| r.symbol == symbol).unwrap();
    let standard = serde_json::to_value(&row.other.as_ref().unwrap().intrinsic_value).unwrap()["value"].as_f64().unwrap();
    assert!((standard - before).abs() < 1e-9 && beside.sensitivity.len() == 4);
    let first = assumptions_version(&now(&app), "Careful", 1).unwrap();
    assert_eq!((first.label().as_str(), first.required_return), ("Careful, version 1", RequiredReturn::Fixed(0.11)));
    delete_assumptions(&now(&app), "Careful").unwrap();
    assert!((worth(&app, &symbol) - before).abs() < 1e-12);

    // It can be brought back whole, after a new start too.
    drop(app);
    let app = open(folder.path());
    restore_assumptions(&now(&app), "Careful").unwrap();
    let back = assumption_sets(&now(&app)).unwrap();
    assert_eq!((back[1].versions.len(), back[1].in_use), (2, false));
    delete_assumptions(&now(&app), "Careful").unwrap();
    assert!(assumptions_version(&now(&app), "Careful", 1).is_err());
}

/// Each bad name is refused for being one, with a sound set behind it.
#[test]
fn names_that_are_none_are_refused() {
    let (_folder, app) = golden();
    let mut said = Vec::new();
    for wrong in ["standard", " ", "a\nb", &"x".repeat(81)] {
        let set = Assumptions { name: wrong.to_owned(), ..Assumptions::standard() };
        said.push(save_assumptions(&now(&app), &set, None).unwrap_err().to_string());
    }
    said.push(use_assumptions(&now(&app), "Nobody's").unwrap_err().to_string());
    insta::assert_snapshot!(said.join("\n"));
    assert_eq!(assumption_sets(&now(&app)).unwrap().len(), 1);
}

/// Who is held to another measure is scored by it, and refused in words when it cannot be meant; the set of before scores
/// as before.
#[test]
fn quality_is_measured_on_ones_own_scale() {
    let (_folder, app) = golden();
    let symbol = valued(&app)[0].clone();
    let quality = |app: &Arc<Home>, set: Option<Assumptions>| {
        let asked = ValueRequest { assumptions: set, ..ValueRequest::default() };
        serde_json::to_value(value_with(&now(app), &symbol, &asked).unwrap().quality).unwrap()
    };
    let shipped = quality(&app, None);
    let net_margin = components().into_iter().find(|c| c.id == "net_margin").unwrap();
    let stern = Anchors { floor: 10.0, full: 20.0, ..net_margin.anchors };
    let set =
        |anchors| Assumptions { name: "Stern".to_owned(), quality: [("net_margin".to_owned(), anchors)].into(), ..Assumptions::standard() };
    // Nobody earns ten times its sales: five points less of a hundred, or of those that are known.
    let other = quality(&app, Some(set(stern)));
    let lost = |pillar: usize| {
        shipped["pillars"][pillar]["points"]["value"].as_f64().unwrap() - other["pillars"][pillar]["points"]["value"].as_f64().unwrap()
    };
    let before = shipped["pillars"][1]["components"].as_array().unwrap().iter().find(|c| c["label"] == net_margin.label).unwrap();
    assert!(before["score"]["value"].as_f64().unwrap() > 0.0 && lost(0).abs() < 1e-12 && lost(1) > 0.0);
    save_assumptions(&now(&app), &set(stern), None).unwrap();
    let ranked = rank(&now(&app), &RankRequest::default()).unwrap();
    let row = ranked.rows.iter().find(|r| r.symbol == symbol).unwrap();
    assert_eq!(serde_json::to_value(&row.quality).unwrap(), other["score"]);
    let nothing = save_assumptions(&now(&app), &set(Anchors { full: 10.0, ..stern }), None).unwrap_err().to_string();
    assert!(nothing.contains("\"Net margin\" needs two different values"), "{nothing}");
    use_assumptions(&now(&app), "Standard").unwrap();
    assert_eq!(quality(&app, None)["score"], shipped["score"]);
}

#[test]
fn an_assumption_of_one_company_changes_it_alone() {
    let (folder, app) = golden();
    let all = valued(&app);
    let before: Vec<f64> = all.iter().map(|s| worth(&app, s)).collect();
    let own = Override { required_return: Some(0.12), reason: "Its customers are few.".to_owned(), ..Override::default() };
    // Tried first: nothing is kept.
    let asked = ValueRequest { own: Some(own.clone()), ..ValueRequest::default() };
    let tried = serde_json::to_value(value_with(&now(&app), &all[0], &asked).unwrap().intrinsic_value).unwrap()["value"].as_f64().unwrap();
    assert!(tried < before[0] && (worth(&app, &all[0]) - before[0]).abs() < 1e-12);
    assume_of_company(&now(&app), &all[0], &own).unwrap();
    drop(app);
    let app = open(folder.path());
    for (i, symbol) in all.iter().enumerate() {
        let expected = if i == 0 { tried } else { before[i] };
        assert!((worth(&app, symbol) - expected).abs() < 1e-12, "{symbol}");
    }
    assert!(rank(&now(&app), &RankRequest::default()).unwrap().rows.iter().all(|r| r.overridden == (r.symbol == all[0])));
    assert!(assume_of_company(&now(&app), &all[0], &Override { soundness: Some(1), ..Override::default() }).is_err(), "it needs a reason");
    assume_of_company(&now(&app), &all[0], &Override::default()).unwrap();
    assert!((worth(&app, &all[0]) - before[0]).abs() < 1e-12);
}

/// An own growth is a scenario that counts alone; the others are shown and take part in nothing. A cell opens into steps
/// that add up to it, and the newest month of price and value over time is the value of today.
#[test]
fn own_growth_counts_alone_and_cells_open() {
    let (_folder, app) = golden();
    let symbol = valued(&app)[0].clone();
    let own = Override { own_growth: Some(0.07), ..Override::default() };
    let cell = CellAsked { model: Model::EarningsMultiple, scenario: Some(Scenario::Own) };
    let asked = ValueRequest { own: Some(own), steps: Some(cell), ..ValueRequest::default() };
    let answer = serde_json::to_value(value_with(&now(&app), &symbol, &asked).unwrap()).unwrap();
    let model = answer["models"].as_array().unwrap().iter().find(|m| m["model"] == "earnings_multiple").unwrap();
    let cells = model["cells"].as_array().unwrap();
    let of = |scenario: &str| cells.iter().find(|c| c["scenario"] == scenario).unwrap();
    assert_eq!((&of("own")["status"], &of("inflation")["status"]), (&"kept".into(), &"unweighted".into()));
    assert_eq!(model["mean"], of("own")["value"]["value"]);
    let steps = &answer["steps"];
    let sum = |list: &str, key: &str| steps[list].as_array().unwrap().iter().map(|s| s[key].as_f64().unwrap()).sum::<f64>();
    let value_of_cell = of("own")["value"]["value"].as_f64().unwrap();
    assert!((sum("years", "present") + sum("parts", "amount") - value_of_cell).abs() < 1e-9 * value_of_cell);
    assert!((steps["years"][0]["growth"].as_f64().unwrap() - 0.07).abs() < 1e-12);

    let page = company_page(&now(&app), &symbol, None).unwrap();
    let newest = page.months.last().unwrap();
    let then = serde_json::to_value(value(&now(&app), &symbol, Some(newest.date)).unwrap()).unwrap();
    assert!((newest.value.unwrap() - then["intrinsic_value"]["value"].as_f64().unwrap()).abs() < 1e-9);
}

/// The workbook holds what the ranking says, each figure as a formula.
#[test]
fn the_workbook_says_what_the_ranking_says() {
    let (_folder, app) = golden();
    let answer = rank(&now(&app), &RankRequest::default()).unwrap();
    let bytes = candidates_xlsx(&now(&app), &RankRequest::default()).unwrap();
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(bytes)).unwrap();
    assert_eq!(book.sheet_names(), ["Candidates", "Assumptions", "Inputs", "Valuation"]);
    let (figures, formulas) = (book.worksheet_range("Candidates").unwrap(), book.worksheet_formula("Candidates").unwrap());
    assert_eq!(figures.height(), answer.rows.len() + 1);
    for row in &answer.rows {
        let at = u32::try_from(row.place).unwrap();
        let cell = |column| figures.get_value((at, column)).cloned().unwrap_or(Data::Empty);
        assert_eq!((cell(1).to_string(), cell(12).to_string()), (row.symbol.clone(), row.verdict.code().to_owned()));
        let expected = serde_json::to_value(&row.intrinsic_value).unwrap()["value"].as_f64();
        let found = cell(6).to_string().parse::<f64>().ok();
        assert_eq!(found.is_some(), expected.is_some(), "{}", row.symbol);
        assert!(found.zip(expected).is_none_or(|(a, b)| (a - b).abs() <= 1e-9 * b.abs()), "{}: {found:?} and {expected:?}", row.symbol);
        assert!([5, 6, 7, 8, 10, 11, 12].iter().all(|c| formulas.get_value((at, *c)).is_some_and(|f| !f.is_empty())), "{}", row.symbol);
    }
    let grid = book.worksheet_formula("Valuation").unwrap();
    assert!(grid.height() > 5 * answer.rows.len() / 2 && grid.used_cells().filter(|c| c.2.contains("COUNT(")).count() > 50);
}
