//! Tables of every form through whole imports, against the rows and remarks expected of them.
#![allow(clippy::unwrap_used)]

mod cases;

use artemon_app::{AppError, Choices, DateOrder, ImportReport, ObservationAnswers, PriceAnswers, WideChoices};
use artemon_core::domain::Table;
use artemon_formats::{
    TableFile,
    mapped_table::{FixedCell, Sample, guess},
};
use cases::{Row, comparable, csv_rows, exported, formats, import, same_rows};
use serde_json::{Value, json};
use std::{collections::BTreeMap, fs, path::Path};

fn expected(path: &str) -> Vec<Value> {
    serde_json::from_str(&fs::read_to_string(formats(path)).unwrap()).unwrap()
}

fn bad(refused: AppError) -> Vec<(String, u64, String, String)> {
    let AppError::BadRows(report) = refused else { panic!("{refused}") };
    report.bad.iter().map(|b| (b.file.clone(), b.line, b.column.clone(), b.value.clone())).collect()
}

fn notes(report: &ImportReport) -> Vec<(String, String, u64, String)> {
    report.notes.iter().map(|n| (n.file.clone(), n.what.clone(), n.count, n.detail.clone())).collect()
}

/// Every case of Parquet comes out as it says, whatever the types, encodings and pages.
#[test]
fn parquet_agrees() {
    for case in expected("parquet/expected.json") {
        let folder = tempfile::tempdir().unwrap();
        import(folder.path(), &[formats("parquet/base")], &Choices::default(), false).unwrap();
        let file = case["file"].as_str().unwrap();
        let paths = [formats("parquet").join(file)];
        let choices = Choices { table: Some(case["table"].as_str().unwrap().parse().unwrap()), ..Choices::default() };
        let imported = import(folder.path(), &paths, &choices, false);
        if case["outcome"] == "refused" {
            let refused = imported.unwrap_err();
            match case["bad_rows"].as_array() {
                Some(rows) => {
                    let expected: Vec<_> =
                        rows.iter().map(|r| (r["row"].as_u64().unwrap(), r["column"].as_str().unwrap().to_owned())).collect();
                    assert_eq!(bad(refused).into_iter().map(|b| (b.1, b.2)).collect::<Vec<_>>(), expected);
                    let report = import(folder.path(), &paths, &choices, true).unwrap();
                    assert_eq!(report.rows, case["rows_with_skip_bad_rows"].as_u64().unwrap());
                }
                None => {
                    let says = if file.contains("no-date") { "\"date\"" } else { "no complete Parquet file" };
                    assert!(refused.to_string().contains(says), "{file}: {refused}");
                    assert!(exported(folder.path(), "prices").is_empty());
                }
            }
            continue;
        }
        let report = imported.unwrap();
        assert_eq!(report.rows, case["rows"].as_u64().unwrap(), "{file}");
        let without: Vec<&str> = case["without"].as_array().into_iter().flatten().filter_map(Value::as_str).collect();
        let mut rows = csv_rows(&formats("parquet").join(case["expected"].as_str().unwrap()));
        rows.iter_mut().for_each(|row| row.retain(|k, _| !without.contains(&k.as_str())));
        same_rows(&rows, &exported(folder.path(), case["table"].as_str().unwrap()));
        let left_out: Vec<String> =
            case["left_out"].as_array().into_iter().flatten().map(|c| format!("{file}: column {}", c.as_str().unwrap())).collect();
        assert_eq!(report.kept_out, left_out);
    }
}

fn workbook(folder: &Path, file: &str, skip: bool) -> Result<ImportReport, AppError> {
    import(folder, &[formats("xlsx").join(file)], &Choices { table: None, ..Choices::default() }, skip)
}

fn with_tables() -> tempfile::TempDir {
    let folder = tempfile::tempdir().unwrap();
    workbook(folder.path(), "tables.xlsx", false).unwrap();
    folder
}

#[test]
fn workbooks_agree() {
    let cases: BTreeMap<String, Value> =
        expected("xlsx/expected.json").into_iter().map(|c| (c["file"].as_str().unwrap().to_owned(), c)).collect();
    let folder = with_tables();
    for (table, file) in cases["tables.xlsx"]["expected"].as_object().unwrap() {
        same_rows(&csv_rows(&formats("xlsx").join(file.as_str().unwrap())), &exported(folder.path(), table));
    }
    let prices = |file: &str, expected: &str| {
        let folder = with_tables();
        let before: Vec<Row> = exported(folder.path(), "prices").iter().map(comparable).collect();
        let report =
            import(folder.path(), &[formats("xlsx").join(file)], &Choices { table: Some(Table::Prices), ..Choices::default() }, false)
                .unwrap();
        let rows = exported(folder.path(), "prices");
        let wanted = csv_rows(&formats("xlsx").join(expected));
        assert!(wanted.iter().all(|w| rows.iter().any(|r| comparable(r) == comparable(w))), "{file}");
        let new = rows.iter().map(comparable).filter(|r| !before.contains(r)).count();
        assert!(new <= wanted.len() && report.rows == wanted.len() as u64, "{file}");
        report
    };
    let messy = prices("messy-prices.xlsx", "expected-messy-prices.csv");
    assert_eq!(messy.kept_out.iter().map(|c| c.rsplit(' ').next().unwrap()).collect::<Vec<_>>(), ["Remark"]);
    assert!(notes(&messy).iter().any(|n| n.1 == "row with one cell" && n.3 == "line 39"), "{:?}", messy.notes);
    prices("formulas.xlsx", "expected-formulas-prices.csv");
}

/// A record of years in columns, items in rows and thousands, under a mapping as a person answers it.
#[test]
fn a_record_turned_on_its_side_agrees() {
    let said: Value = serde_json::from_str(&fs::read_to_string(formats("xlsx/wide-mapping.json")).unwrap()).unwrap();
    let text = |v: &Value| v.as_str().map_or_else(|| v.to_string(), str::to_owned);
    let fixed = |column: &str, value: String| json!({ "column": column, "value": value });
    let headers = ["FY2020", "FY2021", "FY2022", "FY2023", "FY2024"];
    let columns = headers.iter().zip(said["period_columns"].as_object().unwrap().values()).map(|(header, of)| {
        let cells: Vec<Value> = of.as_object().unwrap().iter().map(|(column, value)| fixed(column, text(value))).collect();
        json!({ "from": header, "fixed": cells })
    });
    let plain: Vec<String> = said["multiply_not"].as_array().unwrap().iter().map(text).collect();
    let rows = said["items"].as_object().unwrap().iter().map(|(label, of)| {
        let item = text(&of["item"]);
        let divide = if plain.contains(&item) { 1.0 } else { 1.0 / said["multiply"].as_f64().unwrap() };
        json!({ "label": label, "column": item, "divide": divide * of["sign"].as_f64().unwrap() })
    });
    let mapping = json!({
        "table": "statements",
        "columns": [],
        "fixed": [fixed("company_id", text(&said["company_id"])), fixed("currency", text(&said["currency"]))],
        "turned": { "labels": "Year to 31 December", "columns": columns.collect::<Vec<_>>(), "rows": rows.collect::<Vec<_>>() },
    });
    let folder = with_tables();
    let before = exported(folder.path(), "statements");
    let choices = Choices { mapping: Some(serde_json::from_value(mapping).unwrap()), ..Choices::default() };
    let report = import(folder.path(), &[formats("xlsx/wide.xlsx")], &choices, false).unwrap();
    let new: Vec<Row> = exported(folder.path(), "statements").into_iter().filter(|row| !before.contains(row)).collect();
    same_rows(&csv_rows(&formats("xlsx/expected-wide-statements.csv")), &new);
    assert_eq!(report.rows, 5);
}

/// What a record's labels and headers say is guessed: items with their signs, years with their ends. What it cannot say is asked.
#[test]
fn a_record_turned_on_its_side_is_guessed() {
    let said: Value = serde_json::from_str(&fs::read_to_string(formats("xlsx/wide-mapping.json")).unwrap()).unwrap();
    let sheet = TableFile { path: formats("xlsx/wide.xlsx"), sheet: Some(said["sheet"].as_str().unwrap().to_owned()) };
    let sample = Sample::of_table(&sheet).unwrap();
    let guessed = guess(&sample).unwrap();
    let turned = guessed.turned.as_ref().unwrap();
    let rows: BTreeMap<&str, (&str, i64)> =
        turned.rows.iter().map(|r| (r.label.as_str(), (r.column.as_str(), if r.divide < 0.0 { -1 } else { 1 }))).collect();
    let items = said["items"].as_object().unwrap().iter();
    let expected: BTreeMap<&str, (&str, i64)> =
        items.map(|(label, of)| (label.as_str(), (of["item"].as_str().unwrap(), of["sign"].as_i64().unwrap()))).collect();
    assert_eq!(rows, expected);
    for (column, of) in turned.columns.iter().zip(said["period_columns"].as_object().unwrap().values()) {
        for key in ["fiscal_year", "period", "period_end"] {
            let fixed = column.fixed.iter().find(|f| f.column == key).unwrap();
            assert_eq!(json!(fixed.value), json!(of[key].as_str().map_or_else(|| of[key].to_string(), str::to_owned)));
        }
    }
    let asked = guessed.check(&sample.headers).unwrap_err();
    assert!(asked.contains("nothing is mapped to \"company_id\""), "{asked}");

    // The company may be said by its symbol.
    let folder = with_tables();
    let listed = exported(folder.path(), "listings").into_iter().find(|l| l["company_id"] == "C00105").unwrap();
    let mut mapping = guessed.clone();
    let fixed = |column: &str, value: &str| FixedCell { column: column.to_owned(), value: value.to_owned() };
    mapping.fixed = vec![fixed("company_id", &listed["symbol"]), fixed("currency", "ZOC"), fixed("filed_on", "2025-03-31")];
    let choices = Choices { mapping: Some(mapping), ..Choices::default() };
    import(folder.path(), &[formats("xlsx/wide.xlsx")], &choices, false).unwrap();
    assert!(exported(folder.path(), "statements").iter().any(|s| s["company_id"] == "C00105" && s["filed_on"] == "2025-03-31"));

    // The next record with these headers may be another company's: whose it is and when it became public is asked again.
    let again = import(folder.path(), &[formats("xlsx/wide.xlsx")], &Choices::default(), false).unwrap_err();
    assert!(again.to_string().contains("nothing is mapped to \"company_id\""), "{again}");
}

/// Each bad cell is named by its sheet and its own name; the good rows can be taken without it.
#[test]
fn bad_cells_of_workbooks_are_named() {
    let of = |file: &str| {
        let folder = with_tables();
        let paths = [formats("xlsx").join(file)];
        let choices = Choices { table: Some(Table::Prices), ..Choices::default() };
        let bad = bad(import(folder.path(), &paths, &choices, false).unwrap_err());
        let rows = import(folder.path(), &paths, &choices, true).unwrap().rows;
        let cells =
            bad.into_iter().map(|(_, _, column, value)| (column.rsplit('(').next().unwrap().trim_end_matches(')').to_owned(), value));
        (cells.collect::<Vec<_>>(), rows)
    };
    for case in expected("xlsx/expected.json").into_iter().filter(|c| c["bad_cells"].is_array()) {
        let text = |v: &Value| v.as_str().unwrap().to_owned();
        let wanted: Vec<_> = case["bad_cells"].as_array().unwrap().iter().map(|c| (text(&c["cell"]), text(&c["value"]))).collect();
        let rows = case["rows_with_skip_bad_rows"].as_u64().unwrap();
        assert_eq!(of(case["file"].as_str().unwrap()), (wanted, rows), "{case}");
    }
}

#[test]
fn folders_of_prices_agree() {
    let by_symbol = tempfile::tempdir().unwrap();
    import(by_symbol.path(), &[formats("bulk/prices-folder/base")], &Choices::default(), false).unwrap();
    let files = [formats("bulk/prices-folder/by-symbol")];
    let divide = BTreeMap::from([("GLIM.csv".to_owned(), 100.0)]);
    let choices = Choices { prices: PriceAnswers { divide }, ..Choices::default() };
    let refused = bad(import(by_symbol.path(), &files, &choices, false).unwrap_err());
    let vlgw = |line| ("VLGW.csv".to_owned(), line, "date".to_owned(), "2024-03-21".to_owned());
    assert_eq!(refused, [vlgw(17), vlgw(18)]);
    let report = import(by_symbol.path(), &files, &choices, true).unwrap();
    assert_eq!(report.rows, 109);
    same_rows(&csv_rows(&formats("bulk/prices-folder/expected-by-symbol.csv")), &exported(by_symbol.path(), "prices"));
    let said = |file: &str, what: &str, count, detail: &str| (file.to_owned(), what.to_owned(), count, detail.to_owned());
    assert_eq!(
        notes(&report),
        [
            said("NOSUCH.csv", "unknown symbol", 1, "NOSUCH"),
            said("VLGW.csv", "day without trading", 2, ""),
            said("VLGW.csv", "repeated row", 1, ""),
            said("WHRF.csv", "only adjusted closes", 1, "Adj Close"),
            said("notes.txt", "not a price file", 1, ""),
        ]
    );
    assert_eq!(report.kept_out, ["KLMR.csv: column Adj Close", "OSMT.csv: column Turnover"]);

    let by_day = tempfile::tempdir().unwrap();
    import(by_day.path(), &[formats("bulk/prices-folder/base")], &Choices::default(), false).unwrap();
    let report = import(by_day.path(), &[formats("bulk/prices-folder/days-2024-04.zip")], &Choices::default(), false).unwrap();
    assert_eq!(report.rows, 11);
    same_rows(&csv_rows(&formats("bulk/prices-folder/expected-by-day.csv")), &exported(by_day.path(), "prices"));
    let unknown: Vec<_> = notes(&report).into_iter().map(|n| (n.1, n.2, n.3)).collect();
    assert_eq!(unknown, [("unknown symbol".to_owned(), 4, "ELSE".to_owned()), ("unknown symbol".to_owned(), 4, "NOPE".to_owned())]);
    assert!(report.kept_out.iter().all(|c| c.ends_with("column Trades")));
}

/// What a person answers of a file of rates, as the cases write it.
fn answered(case: &Value) -> Choices {
    let answers = &case["answers"];
    let text = |v: &Value| v.as_str().unwrap_or_default().to_owned();
    let fixed = |column: &str| artemon_app::FixedCell { column: column.to_owned(), value: text(&answers[column]) };
    let mut choices = Choices { table: Some(case["table"].as_str().unwrap().parse().unwrap()), ..Choices::default() };
    choices.fixed = ["base", "currency", "series"].into_iter().filter(|c| answers[c].is_string()).map(fixed).collect();
    let columns = answers["columns"].as_object().into_iter().flatten().map(|(header, code)| (header.clone(), text(code))).collect();
    let chosen = answers["where"].as_object().into_iter().flatten().map(|(dimension, value)| (dimension.clone(), text(value))).collect();
    choices.observations = ObservationAnswers { series: answers["series"].as_str().and_then(|s| s.parse().ok()), currency: None, chosen };
    choices.wide = WideChoices {
        columns,
        percent: answers["unit"] == "percent",
        monthly: answers["period"] == "month",
        levels: answers["index"] == true,
    };
    choices
}

#[test]
fn files_of_rates_agree() {
    for case in expected("bulk/rates-wide/expected.json") {
        let folder = tempfile::tempdir().unwrap();
        let file = case["file"].as_str().unwrap();
        let paths = [formats("bulk/rates-wide").join(file)];
        let imported = import(folder.path(), &paths, &answered(&case), false);
        if case["outcome"] == "asked" {
            assert!(imported.unwrap_err().to_string().contains("DD/MM/YYYY or MM/DD/YYYY"));
            let said = Choices { dates: Some(DateOrder::DayMonthYear), ..answered(&case) };
            import(folder.path(), &paths, &said, false).unwrap();
            assert_eq!(exported(folder.path(), "fx")[0]["date"], "2024-04-03");
            continue;
        }
        let report = imported.unwrap_or_else(|e| panic!("{file}: {e}"));
        assert_eq!(report.rows, case["rows"].as_u64().unwrap(), "{file}");
        let rows: Vec<Row> = exported(folder.path(), case["table"].as_str().unwrap());
        same_rows(&csv_rows(&formats("bulk/rates-wide").join(case["expected"].as_str().unwrap())), &rows);
        for (what, count) in case["left_out_rows"].as_object().into_iter().flatten() {
            assert!(report.notes.iter().any(|n| n.what == *what && Some(n.count) == count.as_u64()), "{file}: {what} {:?}", report.notes);
        }
        let not_known: u64 = report.notes.iter().filter(|n| n.what == "not known").map(|n| n.count).sum();
        assert!(case["not_known_cells"].as_u64().is_none_or(|n| n == not_known), "{file}: {not_known}");
    }
}

/// A bad rate costs its cell alone, and is named by line and the file's own column.
#[test]
fn a_bad_rate_costs_its_cell() {
    let (folder, files) = (tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap());
    let path = files.path().join("reference.csv");
    fs::write(&path, "Date,XFB,XFC\n2024-01-02,8.1,1.1\n2024-01-03,twelve,1.2\n2024-01-04,0,1.3\n").unwrap();
    let fixed = vec![artemon_app::FixedCell { column: "base".to_owned(), value: "XFA".to_owned() }];
    let choices = Choices { fixed, ..Choices::default() };
    let refused = bad(import(folder.path(), std::slice::from_ref(&path), &choices, false).unwrap_err());
    let cell = |line, value: &str| ("reference.csv".to_owned(), line, "XFB".to_owned(), value.to_owned());
    assert_eq!(refused, [cell(3, "twelve"), cell(4, "0")]);
    assert_eq!(import(folder.path(), &[path], &choices, true).unwrap().rows, 4);
}

/// A file with a column for each currency is known for what it is; of which currency they are rates is still asked.
#[test]
fn files_of_currencies_are_known_by_their_columns() {
    let paths = [formats("bulk/rates-wide/reference-rates.csv")];
    let folder = tempfile::tempdir().unwrap();
    let asked = import(folder.path(), &paths, &Choices::default(), false).unwrap_err();
    assert!(asked.to_string().contains("nothing is mapped to \"base\""), "{asked}");
    let fixed = vec![artemon_app::FixedCell { column: "base".to_owned(), value: "XFA".to_owned() }];
    assert_eq!(import(folder.path(), &paths, &Choices { fixed, ..Choices::default() }, false).unwrap().rows, 53);
}

/// Text in UTF-16 lands and is said to be; a mark is passed over; what is no text is refused with its place, and nothing lands.
#[test]
fn text_is_read_in_its_encoding_or_refused() {
    let folder = tempfile::tempdir().unwrap();
    import(folder.path(), &[formats("parquet/base")], &Choices::default(), false).unwrap();
    let symbol = exported(folder.path(), "listings")[0]["symbol"].clone();
    let files = tempfile::tempdir().unwrap();
    let write = |name: &str, bytes: &[u8]| {
        let path = files.path().join(name);
        fs::write(&path, bytes).unwrap();
        path
    };
    let table = |day: &str| format!("symbol,date,close\r\n{symbol},{day},12.5\r\n");
    let wide: Vec<u8> = [0xFF, 0xFE].into_iter().chain(table("2025-02-03").encode_utf16().flat_map(u16::to_le_bytes)).collect();
    let report = import(folder.path(), &[write("wide.csv", &wide)], &Choices::default(), false).unwrap();
    assert_eq!((report.rows, report.notes[0].what.as_str()), (1, "read as UTF-16LE"));
    let marked = [b"\xEF\xBB\xBF".to_vec(), table("2025-02-04").into_bytes()].concat();
    assert_eq!(import(folder.path(), &[write("marked.csv", &marked)], &Choices::default(), false).unwrap().rows, 1);
    for (file, says) in [
        ("nul.csv", "line 2: a NUL character"),
        ("bad-utf8.csv", "line 3: not UTF-8 (byte EF at column 2)"),
        ("empty.csv", "the file is empty"),
        ("truncated.xlsx", "no complete archive"),
        ("absolute-path.xlsx", "has a path outside it: /etc/planted.txt"),
        ("bomb.xlsx", "unpacks to more than 100 times its size"),
    ] {
        let refused = import(folder.path(), &[formats("hostile").join(file)], &Choices::default(), false).unwrap_err();
        assert!(refused.to_string().contains(says), "{file}: {refused}");
    }
    assert_eq!(exported(folder.path(), "prices").len(), 2);
}
