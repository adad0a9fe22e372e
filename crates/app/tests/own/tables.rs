//! Rows as tables ask for them: by page, narrowed by a word, in an order, to six digits.

use crate::{golden, now};
use artemon_app::{
    CandidateRow, Ctx, Figure, GROUPED, Grouping, HoldingsKey, HoldingsOrder, HoldingsRequest, Medians, RankAnswer, RankRequest, RowKey,
    RowOrder, RowsRequest, ScreenFileRequest, ScreenList, TableFormat, WholeScreen, glance, holdings, rank, rank_for_table, ranked_symbols,
    screen_file, screen_medians, screen_rows, screen_symbols, whole_screen,
};
use artemon_core::{domain::Day, formula::Value, screening::Screen};
use calamine::{Data, Reader, Xlsx};
use parquet::{
    file::reader::{FileReader, SerializedFileReader},
    record::Field,
};
use serde_json::json;
use std::{collections::BTreeMap, io::Write};

fn screen() -> Screen {
    let columns = json!(["pe", "sector", "own_rank(pe, 5y)", "roe"]);
    serde_json::from_value(json!({ "columns": columns, "sort": [{ "formula": "pe", "descending": true }] })).unwrap()
}

fn file(ctx: &Ctx, format: TableFormat) -> Vec<u8> {
    screen_file(ctx, &ScreenFileRequest { list: screen().into(), format }).unwrap()
}

#[test]
fn pages_are_the_whole_in_parts() {
    let (_folder, app) = golden();
    let ctx = now(&app);
    let WholeScreen { answer, rows } = whole_screen(&ctx, &screen()).unwrap();
    assert!(rows.len() > 12 && rows.len() == answer.survivors);
    let page = |offset| screen_rows(&ctx, &RowsRequest { list: screen().into(), offset, rows: 5, news: false }).unwrap();
    let paged: Vec<_> = (0..rows.len().div_ceil(5)).flat_map(|p| page(5 * p).rows).collect();
    assert_eq!(paged.len(), rows.len());
    assert_eq!(screen_symbols(&ctx, &screen().into()).unwrap(), rows.iter().map(|r| r.symbol.clone()).collect::<Vec<_>>());
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
    let list = |text: &str| ScreenList { text: text.to_owned(), ..screen().into() };
    let found = |text: &str| screen_rows(&ctx, &RowsRequest { list: list(text), offset: 0, rows: 200, news: false }).unwrap();
    let symbols = |text: &str| found(text).rows.into_iter().map(|r| r.symbol).collect::<Vec<_>>();
    assert_eq!(symbols(" drua "), ["DRUA"]);
    let Value::Text(sector) = &whole[0].values[1].value else { panic!("a sector is a text") };
    let same: Vec<_> = whole.iter().filter(|r| r.values[1].value == whole[0].values[1].value).map(|r| r.symbol.clone()).collect();
    assert!(same.iter().all(|s| symbols(&sector.to_uppercase()).contains(s)));
    assert_eq!((found("no such word").survivors, found("").survivors), (0, whole.len()));
}

fn numbers(answer: &RankAnswer, of: impl Fn(&CandidateRow) -> Figure) -> Vec<Option<f64>> {
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
        (RowKey::Quality, (|r| r.quality.clone()) as fn(&CandidateRow) -> Figure),
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

/// The middle of some numbers, the plain way.
fn median(mut of: Vec<f64>) -> Option<f64> {
    of.sort_by(f64::total_cmp);
    let (n, half) = (of.len(), of.len() / 2);
    (n > 0).then(|| if n % 2 == 1 { of[half] } else { f64::midpoint(of[half - 1], of[half]) })
}

fn close(a: Option<f64>, b: Option<f64>) -> bool {
    match (a, b) {
        (Some(a), Some(b)) => (a - b).abs() <= b.abs() * 5e-6,
        (a, b) => a == b,
    }
}

#[test]
fn groups_stand_together_under_their_medians() {
    let (_folder, app) = golden();
    let ctx = now(&app);
    let list = ScreenList { group: Some(Grouping::Sector), ..screen().into() };
    let Medians { all, groups } = screen_medians(&ctx, &list).unwrap();
    assert!(groups.len() > 2 && groups.is_sorted_by_key(|g| &g.name));
    let whole = whole_screen(&ctx, &screen()).unwrap().rows;
    for (column, got) in all.iter().enumerate() {
        let known = whole.iter().filter_map(|r| r.values[column].value.number().ok()).collect();
        assert!(close(*got, median(known)), "{column}: {got:?}");
    }
    let mut symbols = Vec::new();
    for group in &groups {
        let inside = |r: &&artemon_app::RowAnswer| matches!(&r.values[1].value, Value::Text(sector) if **sector == *group.name);
        let rows: Vec<_> = whole.iter().filter(inside).collect();
        assert_eq!(group.companies, rows.len(), "{}", group.name);
        for (column, got) in group.medians.iter().enumerate() {
            let known = rows.iter().filter_map(|r| r.values[column].value.number().ok()).collect();
            assert!(close(*got, median(known)), "{} {column}: {got:?}", group.name);
        }
        // Within a group the screen's order stays.
        symbols.extend(rows.iter().map(|r| r.symbol.clone()));
    }
    assert!(groups.iter().all(|g| g.medians[1].is_none()), "a text has no middle");
    assert_eq!(screen_symbols(&ctx, &list).unwrap(), symbols);
    let page = screen_rows(&ctx, &RowsRequest { list, offset: 3, rows: 4, news: false }).unwrap().rows;
    assert_eq!(page.iter().map(|r| r.symbol.clone()).collect::<Vec<_>>(), symbols[3..7]);
    assert!(screen_medians(&ctx, &screen().into()).unwrap() == Medians { all, groups: Vec::new() });
}

#[test]
fn candidates_stand_in_groups_too() {
    let (_folder, app) = golden();
    let ctx = now(&app);
    let order = vec![RowOrder { by: RowKey::Quality, descending: true }];
    let asked = RankRequest { group: Some(Grouping::Country), order, rows: Some(1000), ..RankRequest::default() };
    let RankAnswer { medians: Medians { all, groups }, rows, .. } = rank(&ctx, &asked).unwrap();
    assert!(groups.len() > 1 && groups.iter().map(|g| g.companies).sum::<usize>() == rows.len());
    let at = GROUPED.iter().position(|by| *by == RowKey::Quality).unwrap();
    assert!(close(all[at], median(rows.iter().filter_map(|r| r.quality.value.number().ok()).collect())));
    let mut rest = &rows[..];
    for group in &groups {
        let (mine, others) = rest.split_at(group.companies);
        rest = others;
        assert!(mine.iter().all(|r| r.country == group.name), "{}", group.name);
        let quality: Vec<f64> = mine.iter().filter_map(|r| r.quality.value.number().ok()).collect();
        assert!(quality.is_sorted_by(|a, b| a >= b), "{quality:?}");
        assert!(close(group.medians[at], median(quality)), "{} {:?}", group.name, group.medians);
    }
    assert_eq!(ranked_symbols(&ctx, &asked).unwrap(), rows.iter().map(|r| r.symbol.clone()).collect::<Vec<_>>());
}

#[test]
fn a_list_is_taken_along_as_csv_in_full() {
    let (_folder, app) = golden();
    let ctx = now(&app);
    let whole = whole_screen(&ctx, &screen()).unwrap().rows;
    let text = String::from_utf8(file(&ctx, TableFormat::Csv)).unwrap();
    let lines: Vec<&str> = text.lines().collect();
    assert_eq!(lines[0], "symbol,name,currency,pe,sector,\"own_rank(pe, 5y)\",roe");
    assert_eq!(lines.len(), whole.len() + 1);
    let mut undefined = 0;
    for (line, row) in lines[1..].iter().zip(&whole) {
        assert!(line.starts_with(&row.symbol), "{line}");
        let roe = line.rsplit(',').next().unwrap();
        match &row.values[3].value {
            Value::Number(want) => assert_eq!(roe.parse::<f64>().unwrap().to_bits(), want.to_bits(), "{line}"),
            _ => {
                assert_eq!(roe, "");
                undefined += 1;
            }
        }
    }
    assert!(undefined < whole.len());
}

/// Every format says the same figures in full, in the same order: read back from the tab-separated text, the workbook, Parquet and JSON
/// they are those of the whole screen; the workbook's last line is the middle of each column of numbers as a formula.
#[test]
fn every_format_of_a_screen_is_read_back_equal() {
    let (_folder, app) = golden();
    let ctx = now(&app);
    let whole = whole_screen(&ctx, &screen()).unwrap().rows;
    let tabs = String::from_utf8(file(&ctx, TableFormat::Tsv)).unwrap();
    let json: serde_json::Value = serde_json::from_slice(&file(&ctx, TableFormat::Json)).unwrap();
    let mut book: Xlsx<_> = Xlsx::new(std::io::Cursor::new(file(&ctx, TableFormat::Xlsx))).unwrap();
    let sheet = book.worksheet_range("Companies").unwrap();
    let table: Vec<Vec<(String, Field)>> = parquet(&file(&ctx, TableFormat::Parquet));
    assert_eq!((tabs.lines().count(), table.len()), (whole.len() + 1, whole.len()));
    for (line, row) in (1..).zip(&whole) {
        let cells: Vec<&str> = tabs.lines().nth(line).unwrap().split('\t').collect();
        let of_book = |column: u32| sheet.get_value((u32::try_from(line).unwrap(), column)).cloned().unwrap_or_default();
        assert_eq!((cells[0], of_book(0)), (&*row.symbol, Data::String(row.symbol.clone())));
        assert_eq!(json["rows"][line - 1]["symbol"], row.symbol.as_str());
        for (i, figure) in row.values.iter().enumerate() {
            let (text, cell) = (cells[3 + i], of_book(3 + u32::try_from(i).unwrap()));
            let (name, field) = &table[line - 1][3 + i];
            assert_eq!(*name, screen().columns[i]);
            assert!(same(field, &figure.value), "{name}: {field} for {figure:?}");
            match &figure.value {
                Value::Number(v) if v.is_finite() => {
                    assert_eq!((text.parse::<f64>().unwrap().to_bits(), cell), (v.to_bits(), Data::Float(*v)));
                    // What reads JSON here is exact to the last bit but one.
                    let read = json["rows"][line - 1]["values"][i]["value"].as_f64().unwrap();
                    assert!((read - v).abs() <= f64::EPSILON * v.abs(), "{read} for {v}");
                }
                Value::Text(said) => assert_eq!((text, cell), (&**said, Data::String(said.to_string()))),
                Value::Undefined(_) => assert_eq!((text, cell), ("", Data::Empty)),
                other => panic!("{other:?}"),
            }
        }
    }
    let last = u32::try_from(whole.len()).unwrap() + 1;
    let formulas = book.worksheet_formula("Companies").unwrap();
    assert_eq!(formulas.get_value((last, 3)).unwrap(), &format!("MEDIAN(D2:D{last})"));
    let known: Vec<f64> = whole.iter().filter_map(|r| r.values[0].value.number().ok()).collect();
    assert_eq!(sheet.get_value((last, 3)), Some(&Data::Float(artemon_core::stats::median(&known).unwrap())));
    // Narrowed by a word, each holds only those that are seen.
    let few = ScreenList { text: whole[0].symbol.clone(), ..screen().into() };
    let of = |format| screen_file(&ctx, &ScreenFileRequest { list: few.clone(), format }).unwrap();
    let narrowed = String::from_utf8(of(TableFormat::Csv)).unwrap().lines().count() - 1;
    let json: serde_json::Value = serde_json::from_slice(&of(TableFormat::Json)).unwrap();
    assert!(narrowed < whole.len() && json["rows"].as_array().unwrap().len() == narrowed);
    let asked = book.worksheet_range("Screen").unwrap();
    assert!(asked.rows().any(|r| r[0] == Data::String("As known on".to_owned())));
}

/// The rows of a Parquet file.
fn parquet(bytes: &[u8]) -> Vec<Vec<(String, Field)>> {
    let mut file = tempfile::tempfile().unwrap();
    file.write_all(bytes).unwrap();
    let reader = SerializedFileReader::new(file).unwrap();
    let notes = reader.metadata().file_metadata().key_value_metadata().unwrap();
    assert!(notes.iter().any(|n| n.key == "as_of" && n.value.as_ref().is_some_and(|day| day.parse::<Day>().is_ok())));
    reader.get_row_iter(None).unwrap().map(|row| row.unwrap().into_columns()).collect()
}

fn same(field: &Field, value: &Value) -> bool {
    match (field, value) {
        (Field::Double(read), Value::Number(v)) => read.to_bits() == v.to_bits(),
        (Field::Bool(read), Value::Flag(b)) => read == b,
        (Field::Str(read), Value::Text(t)) => **read == **t,
        (field, value) => *field == Field::Null && matches!(value, Value::Undefined(_)),
    }
}

#[test]
fn a_glance_is_what_was_known_at_its_date() {
    let (_folder, app) = golden();
    let ctx = now(&app);
    let now = glance(&ctx, "DRUA", None).unwrap();
    let (first, last) = now.first.zip(now.last).unwrap();
    let page = artemon_app::company_page(&ctx, "DRUA", None).unwrap();
    let newest = page.months.last().unwrap();
    assert_eq!((last, now.prices.len() <= 120, now.values.len()), (newest.date, true, now.prices.len()));
    let (price, value) = (*now.prices.last().unwrap(), *now.values.last().unwrap());
    assert!(close(Some(price), Some(newest.price)) && close(value, newest.value), "{price} {value:?}");
    // A year earlier: fewer months later than then, no later headline.
    let then = last.plus_months(-12);
    let before = glance(&ctx, "DRUA", Some(then)).unwrap();
    assert!(before.last.unwrap() <= then && first <= then);
    for (of, at) in [(&now, last), (&before, then)] {
        let on = of.headline.as_ref().and_then(|h| h.published_on);
        assert!(on.is_none_or(|day| day <= at), "{on:?} is after {at}");
    }
    assert!(glance(&ctx, "NOBODY", None).is_err());
}

/// The news beside a row are those at a glance, as known then; a sector moved once on a day, whoever is asked.
#[test]
fn rows_tell_the_news_when_asked() {
    let (_folder, app) = golden();
    let ctx = now(&app);
    let rows = |as_of: Option<Day>, news| {
        let list = ScreenList::from(Screen { as_of, columns: vec!["sector".to_owned()], ..Screen::default() });
        screen_rows(&ctx, &RowsRequest { list, offset: 0, rows: 200, news }).unwrap().rows
    };
    assert!(rows(None, false).iter().all(|r| r.news.is_none()));
    let newest = whole_screen(&ctx, &Screen::default()).unwrap().answer.as_of;
    let mut moved = BTreeMap::new();
    for t in [newest, newest.plus_days(-60)] {
        let told: Vec<_> = rows(Some(t), true).into_iter().filter_map(|r| Some((r.symbol, r.cells.values[0].clone(), r.news?))).collect();
        assert!(told.len() > 20, "{} at {t}", told.len());
        for (symbol, sector, news) in told {
            let known = glance(&ctx, &symbol, Some(t)).unwrap().headline.unwrap();
            assert_eq!((&news.headline.text, news.headline.published_on), (&known.text, known.published_on), "{symbol}");
            let Some(change) = news.sector_change else { continue };
            assert!((-0.5..0.5).contains(&change) && news.change.is_some(), "{symbol} {news:?}");
            let day = known.published_on.unwrap();
            assert_eq!(*moved.entry((json!(sector).to_string(), day)).or_insert(change), change, "{symbol}");
        }
    }
    assert!(moved.len() > 5, "{moved:?}");
}

#[test]
fn what_is_there_of_companies_comes_in_the_order_asked_for() {
    let (_folder, app) = golden();
    let ctx = now(&app);
    let asked = |order, rows| HoldingsRequest { order, rows: Some(rows), ..HoldingsRequest::default() };
    let by = |by, descending| HoldingsOrder { by, descending };
    let all = holdings(&ctx, &asked(Vec::new(), 1000)).rows;
    assert!(all.is_sorted_by_key(|r| r.symbol.clone()));
    let sorted = holdings(&ctx, &asked(vec![by(HoldingsKey::Source, false), by(HoldingsKey::Sessions, true)], 1000)).rows;
    assert_eq!(sorted.len(), all.len());
    assert!(sorted.is_sorted_by(|a, b| (&a.source, b.prices.rows) <= (&b.source, a.prices.rows)));
    assert!(sorted.iter().any(|r| r.prices.rows != sorted[0].prices.rows));
    let page = holdings(&ctx, &HoldingsRequest { offset: 2, ..asked(vec![by(HoldingsKey::Name, true)], 3) }).rows;
    let mut names: Vec<String> = all.iter().map(|r| r.name.to_lowercase()).collect();
    names.sort();
    names.reverse();
    assert_eq!(page.iter().map(|r| r.name.to_lowercase()).collect::<Vec<_>>(), names[2..5]);
}
