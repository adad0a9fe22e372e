//! The evidence on a company's page: what is expected, where the cash goes, the tests of the balance sheet, why the value changed, of
//! a company of each kind. Read line by line before it was taken.

use crate::{golden, now};
use artemon_app::{
    Ctx, MultipleRequest, Outcome, PriceRequest, QuartersRequest, StatementTable, cash_picture, multiple_path, price_chart, quarters,
    solvency, stretch, value, value_change,
};
use artemon_core::domain::{BarSize, Day};
use std::fmt::Write;

/// Operating, negative equity, bank, insurer, property, holding, fund.
const SYMBOLS: [&str; 7] = ["DRUA", "TANO", "NEVN", "QUAP", "VELQ", "BRAR", "BRAM"];

fn day(text: &str) -> Day {
    text.parse().unwrap()
}

fn number(value: &serde_json::Value) -> String {
    value.as_f64().map_or("–".to_owned(), |v| if v.abs() >= 1e6 { format!("{:.1}m", v / 1e6) } else { format!("{v:.4}") })
}

/// A table as lines, the first columns only.
fn told(out: &mut String, table: &StatementTable) {
    let columns: Vec<&str> = table.columns.iter().take(4).map(|c| c.label.as_str()).collect();
    writeln!(out, "  {}", columns.join(" · ")).unwrap();
    for row in &table.rows {
        let row = serde_json::to_value(row).unwrap();
        let values: Vec<String> = row["values"].as_array().unwrap().iter().take(4).map(number).collect();
        writeln!(out, "  {}: {}", row["label"].as_str().unwrap(), values.join(" · ")).unwrap();
    }
}

fn evidence(ctx: &Ctx, symbol: &str) -> String {
    let mut out = format!("{symbol}\n");
    writeln!(out, "{}", value_change(ctx, symbol, Some(day("2024-06-28")), None).unwrap().sentence).unwrap();
    writeln!(out, "{}", stretch(ctx, symbol, (day("2024-06-28"), day("2025-01-10")), None).unwrap().sentence).unwrap();
    told(&mut out, &cash_picture(ctx, symbol, None).unwrap());
    let expected = quarters(ctx, symbol, QuartersRequest { as_of: None, years: Some(false), count: 8 }).unwrap();
    told(&mut out, &expected.reported);
    writeln!(out, "  runs {:?}", expected.runs).unwrap();
    for p in &expected.ahead {
        let eps = p.eps.map(|e| format!("{:.4} ({:?} to {:?}, growth {:?})", e.mean, e.low, e.high, e.growth));
        writeln!(out, "  {}: {}", p.label, eps.unwrap_or_default()).unwrap();
    }
    for test in solvency(ctx, symbol, None).unwrap() {
        let figure = serde_json::to_value(&test.figure).unwrap();
        let reason = figure["reason"].as_str().unwrap_or_default();
        writeln!(out, "  {:?}: {} {} ({}) {reason}", test.outcome, test.label, number(&figure["value"]), test.asked).unwrap();
    }
    out
}

#[test]
fn evidence_says_what_it_said() {
    let (_folder, home) = golden();
    let all: Vec<String> = SYMBOLS.iter().map(|symbol| evidence(&now(&home), symbol)).collect();
    insta::assert_snapshot!(all.join("\n"));
}

/// What came in less what went out is what was kept, in every year of every company.
#[test]
fn cash_adds_up() {
    let (_folder, home) = golden();
    let mut years = 0;
    for symbol in SYMBOLS {
        let table = serde_json::to_value(cash_picture(&now(&home), symbol, None).unwrap()).unwrap();
        let rows = table["rows"].as_array().unwrap();
        for i in 0..table["columns"].as_array().unwrap().len() {
            let of = |r: &serde_json::Value| r["values"][i].as_f64();
            let Some(kept) = rows.iter().find(|r| r["id"] == "kept").and_then(of) else { continue };
            let sum: f64 = rows.iter().filter(|r| r["id"] != "kept").map(|r| of(r).unwrap()).sum();
            let largest = rows.iter().filter_map(of).map(f64::abs).fold(0.0, f64::max);
            assert!((sum - kept).abs() <= 1e-5 * largest, "{symbol} {i}: {sum} is not {kept}");
            years += 1;
        }
    }
    assert!(years > 20, "{years}");
}

/// The nine signs that hold are as many as the measure of the same name says.
#[test]
fn nine_signs_make_the_score() {
    let (_folder, home) = golden();
    let (ctx, mut checked) = (now(&home), 0);
    let request = |symbol: &str| artemon_app::EvaluateRequest {
        formulas: vec!["piotroski_f".to_owned()],
        symbols: vec![symbol.to_owned()],
        as_of: None,
    };
    for symbol in ["DRUA", "BRAR", "TANE", "TORD", "MIRJ", "OLIW"] {
        let signs: Vec<Outcome> =
            solvency(&ctx, symbol, None).unwrap().iter().filter(|t| t.group.contains("Piotroski")).map(|t| t.outcome).collect();
        let score = serde_json::to_value(artemon_app::evaluate(&ctx, &request(symbol)).unwrap()).unwrap();
        let Some(score) = score[0]["values"][0]["value"].as_f64() else { continue };
        assert_eq!((signs.len(), signs.iter().filter(|o| **o == Outcome::Pass).count()), (9, score as usize), "{symbol}");
        checked += 1;
    }
    assert!(checked > 2, "{checked}");
}

/// The middle of a path is the measure of the same name.
#[test]
fn the_median_of_a_path_is_that_of_the_own_history() {
    let (_folder, home) = golden();
    let ctx = now(&home);
    for symbol in ["DRUA", "NEVN", "MIRJ"] {
        let path = multiple_path(&ctx, symbol, &MultipleRequest { as_of: None, formula: "pb".to_owned(), years: 5 }).unwrap();
        let asked = artemon_app::EvaluateRequest {
            formulas: ["own_median(pb, 5y)", "own_mean(pb, 5y)", "own_stdev(pb, 5y)", "pb"].map(str::to_owned).to_vec(),
            symbols: vec![symbol.to_owned()],
            as_of: None,
        };
        let own = serde_json::to_value(artemon_app::evaluate(&ctx, &asked).unwrap()).unwrap();
        let s = path.statistics.unwrap();
        let near = |i: usize, x: f64| (own[0]["values"][i]["value"].as_f64().unwrap() / x - 1.0).abs() < 1e-5;
        assert!(near(0, s.median) && near(1, s.mean) && near(2, s.deviation), "{symbol}: {own} {s:?}");
        assert!(near(3, path.values.last().unwrap().unwrap()), "{symbol}");
    }
}

/// The last bar, its averages and its strength are the measures of the date; nothing is later than it.
#[test]
fn the_chart_ends_with_the_measures_of_its_date() {
    let (_folder, home) = golden();
    let (ctx, t) = (now(&home), day("2024-02-20"));
    let request = PriceRequest { as_of: Some(t), bars: BarSize::Day, averages: vec![50, 200], bands: Some(20), strength: Some(14) };
    let chart = price_chart(&ctx, "DRUA", &request).unwrap();
    let formulas = ["price", "sma(50)", "sma(200)", "bollinger_lower(20, 2)", "bollinger_upper(20, 2)", "rsi(14)"];
    let asked =
        artemon_app::EvaluateRequest { formulas: formulas.map(str::to_owned).to_vec(), symbols: vec!["DRUA".to_owned()], as_of: Some(t) };
    let own = serde_json::to_value(artemon_app::evaluate(&ctx, &asked).unwrap()).unwrap();
    let bands = chart.bands.unwrap();
    let last = |values: &[Option<f64>]| values.last().copied().flatten().unwrap();
    let drawn = [
        *chart.close.last().unwrap(),
        last(&chart.averages[0].values),
        last(&chart.averages[1].values),
        last(&bands.lower),
        last(&bands.upper),
        last(&chart.strength.unwrap().values),
    ];
    for (i, x) in drawn.iter().enumerate() {
        let measured = own[0]["values"][i]["value"].as_f64().unwrap();
        assert!((measured / x - 1.0).abs() < 1e-5, "{}: {x} is not {measured}", formulas[i]);
    }
    assert!(chart.dates.iter().all(|d| *d <= t) && chart.log.iter().all(|e| e.date <= t));
}

/// The value after a change is the value on the page.
#[test]
fn a_change_ends_at_the_value() {
    let (_folder, home) = golden();
    let change = serde_json::to_value(value_change(&now(&home), "DRUA", None, None).unwrap()).unwrap();
    let now = serde_json::to_value(value(&now(&home), "DRUA", None).unwrap()).unwrap();
    assert_eq!(change["after"]["value"], now["intrinsic_value"]);
    assert_eq!(change["after"]["verdict"], now["verdict"]);
}
