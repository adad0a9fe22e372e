//! Rows as tables ask for them: by page, narrowed by a word, in an order, to six digits.

use crate::{golden, now};
use artemon_app::{
    Figure, RankAnswer, RankRequest, RowKey, RowOrder, RowsRequest, WholeScreen, rank, rank_for_table, ranked_symbols, screen_rows,
    screen_symbols, whole_screen,
};
use artemon_core::{formula::Value, screening::Screen};
use serde_json::json;

fn screen() -> Screen {
    let columns = json!(["pe", "sector", "own_rank(pe, 5y)", "roe"]);
    serde_json::from_value(json!({ "columns": columns, "sort": [{ "formula": "pe", "descending": true }] })).unwrap()
}

#[test]
fn pages_are_the_whole_in_parts() {
    let (_folder, app) = golden();
    let ctx = now(&app);
    let WholeScreen { answer, rows } = whole_screen(&ctx, &screen()).unwrap();
    assert!(rows.len() > 12 && rows.len() == answer.survivors);
    let page = |offset| screen_rows(&ctx, &RowsRequest { screen: screen(), text: String::new(), offset, rows: 5 }).unwrap();
    let paged: Vec<_> = (0..rows.len().div_ceil(5)).flat_map(|p| page(5 * p).rows).collect();
    assert_eq!(paged.len(), rows.len());
    assert_eq!(screen_symbols(&ctx, &screen()).unwrap(), rows.iter().map(|r| r.symbol.clone()).collect::<Vec<_>>());
    let (mut shortened, mut unknown, mut ranges) = (0, 0, 0);
    for (short, full) in paged.iter().zip(&rows) {
        assert_eq!((&short.symbol, &short.currency), (&full.symbol, &full.currency));
        for (i, (got, want)) in short.cells.values.iter().zip(&full.values).enumerate() {
            match (got, &want.value) {
                (Value::Number(got), Value::Number(want)) => {
                    assert!((got - want).abs() <= want.abs() * 5e-6, "{got} of {want}");
                    shortened += usize::from((got - want).abs() > 0.0);
                }
                (got, want) => assert_eq!(got, want),
            }
            assert_eq!(short.cells.reasons.get(&i), want.reason.as_ref());
            unknown += usize::from(want.reason.is_some());
        }
        let [.., Some([low, _, _, _, high, today, rank]), _] = &short.ranges[..] else { continue };
        let full = full.ranges[2].unwrap();
        assert!(low <= high && (today - full.today).abs() < 1e-4 * full.today.abs() && (rank - full.rank).abs() < 1e-3);
        ranges += 1;
    }
    assert!(shortened > 0 && unknown > 0 && ranges > 0, "{shortened} shortened, {unknown} unknown, {ranges} ranges");
    assert!(page(rows.len()).rows.is_empty());
}

#[test]
fn a_word_narrows_by_name_group_and_symbol() {
    let (_folder, app) = golden();
    let ctx = now(&app);
    let whole = whole_screen(&ctx, &screen()).unwrap().rows;
    let found = |text: &str| screen_rows(&ctx, &RowsRequest { screen: screen(), text: text.to_owned(), offset: 0, rows: 200 }).unwrap();
    let symbols = |text: &str| found(text).rows.into_iter().map(|r| r.symbol).collect::<Vec<_>>();
    assert_eq!(symbols(" drua "), ["DRUA"]);
    let Value::Text(sector) = &whole[0].values[1].value else { panic!("a sector is a text") };
    let same: Vec<_> = whole.iter().filter(|r| r.values[1].value == whole[0].values[1].value).map(|r| r.symbol.clone()).collect();
    assert!(same.iter().all(|s| symbols(&sector.to_uppercase()).contains(s)));
    assert_eq!((found("no such word").survivors, found("").survivors), (0, whole.len()));
}

fn numbers(answer: &RankAnswer, of: impl Fn(&artemon_app::CandidateRow) -> Figure) -> Vec<Option<f64>> {
    answer.rows.iter().map(|r| of(r).value.number().ok()).collect()
}

#[test]
fn candidates_come_in_the_order_asked_for() {
    let (_folder, app) = golden();
    let ctx = now(&app);
    let asked = |order: Vec<RowOrder>| RankRequest { order, rows: Some(1000), ..RankRequest::default() };
    let ranked = |by, descending| rank_for_table(&ctx, &asked(vec![RowOrder { by, descending }])).unwrap();
    let places = rank(&ctx, &asked(Vec::new())).unwrap();
    assert!(places.rows.iter().enumerate().all(|(i, r)| r.place == i + 1));
    for (by, of) in [
        (RowKey::Quality, (|r| r.quality.clone()) as fn(&artemon_app::CandidateRow) -> Figure),
        (RowKey::MarginOfSafety, |r| r.margin_of_safety.clone()),
        (RowKey::Price, |r| r.price.clone()),
    ] {
        for descending in [false, true] {
            let all = numbers(&ranked(by, descending), of);
            let known: Vec<f64> = all.iter().copied().map_while(|v| v).collect();
            assert_eq!(known.len(), all.iter().flatten().count(), "undefined comes last: {by:?} {all:?}");
            assert!(known.windows(2).all(|w| if descending { w[0] >= w[1] } else { w[0] <= w[1] }), "{by:?} {known:?}");
        }
    }
    let verdicts = ranked(RowKey::Verdict, true);
    let counted = [verdicts.in_range, verdicts.close, verdicts.wait, verdicts.pass, verdicts.cannot_value];
    let expected: Vec<String> = ["in range", "close", "wait", "pass", "cannot value"]
        .into_iter()
        .zip(counted)
        .flat_map(|(word, n)| std::iter::repeat_n(json!(word).to_string(), n))
        .collect();
    assert_eq!(verdicts.rows.iter().map(|r| json!(r.verdict).to_string()).collect::<Vec<_>>(), expected);
    // Those that are equal stay in order of place, and all symbols come in the same order.
    let flags = asked(vec![RowOrder { by: RowKey::RedFlags, descending: false }]);
    let rows = rank_for_table(&ctx, &flags).unwrap().rows;
    assert!(rows.windows(2).all(|w| (w[0].red_flags, w[0].place) < (w[1].red_flags, w[1].place)));
    assert_eq!(ranked_symbols(&ctx, &flags).unwrap(), rows.iter().map(|r| r.symbol.clone()).collect::<Vec<_>>());
    let names: Vec<String> = ranked(RowKey::Name, false).rows.iter().map(|r| r.name.to_lowercase()).collect();
    assert!(names.is_sorted(), "{names:?}");
}
