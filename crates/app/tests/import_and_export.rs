//! What an import promises: all or nothing, the same twice, a lossless round trip, precise refusals.
#![allow(clippy::unwrap_used)]

use artemon_app::{
    AppError, Ctx, EvaluateRequest, ExportForm, ExportReport, ExportRequest, Home, ImportReport, ImportRequest, Options, Source, about,
    evaluate, import_here,
};
use std::{
    fs,
    ops::ControlFlow,
    path::{Path, PathBuf},
    sync::Arc,
};

fn golden() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/package")
}

fn now(home: &Arc<Home>) -> Ctx {
    home.local_ctx().unwrap()
}

fn open(folder: &Path) -> Arc<Home> {
    Home::open(Options { folder: folder.to_owned(), ..Options::default() }).unwrap()
}

fn import(folder: &Path, package: &Path, skip_bad_rows: bool) -> Result<ImportReport, AppError> {
    let request = ImportRequest {
        title: "a package".to_owned(),
        sources: vec![Source::Package(package.to_owned())],
        skip_bad_rows,
        ..ImportRequest::default()
    };
    artemon_app::import(folder, &request, &|_| ControlFlow::Continue(()))
}

fn export(folder: &Path, path: &Path) -> Result<ExportReport, AppError> {
    artemon_app::export(folder, &ExportRequest { form: ExportForm::of(path), ..ExportRequest::default() }, path)
}

/// A copy of the golden package in which one file has been changed.
fn broken(file: &str, change: impl Fn(&str) -> String) -> tempfile::TempDir {
    let folder = tempfile::tempdir().unwrap();
    for entry in fs::read_dir(golden()).unwrap() {
        let path = entry.unwrap().path();
        fs::copy(&path, folder.path().join(path.file_name().unwrap())).unwrap();
    }
    let path = folder.path().join(file);
    fs::write(&path, change(&fs::read_to_string(&path).unwrap())).unwrap();
    folder
}

fn companies(folder: &Path) -> usize {
    about(&now(&open(folder))).companies
}

#[test]
fn a_round_trip_keeps_every_row_and_a_second_import_changes_nothing() {
    let (data, out) = (tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap());
    let first = import(data.path(), &golden(), false).unwrap();
    let second = import(data.path(), &golden(), false).unwrap();
    assert_eq!(first.rows, second.rows);
    let once = out.path().join("once");
    let exported = export(data.path(), &once).unwrap();
    assert_eq!(exported.rows, first.rows, "{:?} {:?}", exported.tables, first.tables);

    let (again, twice) = (tempfile::tempdir().unwrap(), out.path().join("twice"));
    import(again.path(), &once, false).unwrap();
    export(again.path(), &twice).unwrap();
    for entry in fs::read_dir(&once).unwrap() {
        let name = entry.unwrap().file_name();
        assert!(fs::read(once.join(&name)).unwrap() == fs::read(twice.join(&name)).unwrap(), "{name:?} differs");
    }
    let refused = export(data.path(), &once).unwrap_err();
    assert!(refused.to_string().contains("exists already"), "{refused}");
}

#[test]
fn bad_rows_are_named_and_nothing_lands() {
    let data = tempfile::tempdir().unwrap();
    let package = broken("prices.csv", |text| text.replacen("62.3632", "sixty", 1));
    let AppError::BadRows(report) = import(data.path(), package.path(), false).unwrap_err() else { panic!("not refused for its rows") };
    insta::assert_snapshot!(report.bad[0], @r#"prices.csv, line 2, column open: "sixty" is not a number. Write it like 1250.5, with a point and without separators, or leave it empty."#);
    assert_eq!(companies(data.path()), 0, "nothing landed");
    let taken = import(data.path(), package.path(), true).unwrap();
    assert_eq!((taken.bad_rows, companies(data.path())), (1, 24));
}

#[test]
fn each_broken_package_is_refused_with_its_reason() {
    let refusal = |file: &str, change: &dyn Fn(&str) -> String| {
        let (data, package) = (tempfile::tempdir().unwrap(), broken(file, change));
        let error = import(data.path(), package.path(), false).unwrap_err();
        assert_eq!(companies(data.path()), 0);
        error.to_string().replace(&*package.path().to_string_lossy(), "PACKAGE")
    };
    let said = [
        refusal("datapackage.json", &|_| "{".to_owned()),
        refusal("datapackage.json", &|t| t.replacen("prices.csv", "../prices.csv", 1)),
        refusal("datapackage.json", &|t| t.replacen("\"prices.csv\"", "\"none.csv\"", 1)),
        refusal("listings.csv", &|t| t.replacen("XA0000010008", "XA0000010009", 1)),
        refusal("statements.csv", &|t| t.replacen("2010-03-23", "2009-03-23", 1)),
        refusal("companies.csv", &|t| t.replacen("company_id", "id", 1)),
        refusal("actions.csv", &|t| t.replacen("DRUA", "NONE", 1)),
    ];
    insta::assert_snapshot!(said.join("\n"));
}

#[test]
fn requests_that_cannot_be_answered_say_why() {
    let data = tempfile::tempdir().unwrap();
    import(data.path(), &golden(), false).unwrap();
    let app = open(data.path());
    let ask = |formula: &str, symbol: &str, as_of: Option<&str>| {
        let request = EvaluateRequest {
            formulas: vec![formula.to_owned()],
            symbols: vec![symbol.to_owned()],
            as_of: as_of.map(|d| d.parse().unwrap()),
        };
        evaluate(&now(&app), &request).map(|a| a[0].values[0].figure.reason.clone().unwrap_or_default()).unwrap_or_else(|e| e.to_string())
    };
    let said = [
        ask("pe_ratio", "DRUA", None),
        ask("pe <", "DRUA", None),
        ask("pe", "DRUZ", None),
        ask("pe", "DRUA", Some("1999-01-01")),
        ask("pe", "DRUA", Some("2031-01-01")),
        ask("pe", "TANS", None),
        ask("fy(price, 1)", "DRUA", None),
        ask("eps_growth", "DRUA", None),
        ask("pe and 3", "DRUA", None),
    ];
    insta::assert_snapshot!(said.join("\n"));
}

#[test]
fn a_damaged_or_occupied_folder_is_refused_and_left_alone() {
    let data = tempfile::tempdir().unwrap();
    import(data.path(), &golden(), false).unwrap();
    let app = open(data.path());
    let second = Home::open(Options { folder: data.path().to_owned(), ..Options::default() }).unwrap_err();
    assert!(second.to_string().contains("in use by another Artemon"), "{second}");
    drop(app);
    let file = data.path().join("dataset.sqlite");
    fs::write(&file, "this is no database").unwrap();
    let refused = Home::open(Options { folder: data.path().to_owned(), ..Options::default() }).unwrap_err();
    assert!(refused.to_string().contains("is not a database of Artemon"), "{refused}");
    assert_eq!(fs::read_to_string(&file).unwrap(), "this is no database");
}

/// A day of prices and a filing reach the open dataset without a new start; what they do not touch stays as it was, and
/// all figures are those of a dataset that is opened anew.
#[test]
fn an_import_into_the_open_dataset_is_the_same_as_opening_it_anew() {
    let data = tempfile::tempdir().unwrap();
    import(data.path(), &golden(), false).unwrap();
    let app = open(data.path());
    let more = tempfile::tempdir().unwrap();
    let file = |name: &str, text: &str| fs::write(more.path().join(name), text).unwrap();
    file(
        "datapackage.json",
        r#"{"resources": [{"name": "prices", "path": "prices.csv"}, {"name": "statements", "path": "statements.csv"},
        {"name": "fx", "path": "fx.csv"}, {"name": "officers", "path": "officers.csv"}]}"#,
    );
    file("prices.csv", "symbol,date,open,high,low,close,volume\nDRUA,2025-07-01,120,121,119,120.5,1000\nNEVN,2020-01-02,9,9,9,9,9\n");
    file(
        "statements.csv",
        "company_id,fiscal_year,period,period_end,filed_on,currency,eps_diluted\nC00002,2025,Q2,2025-06-30,2025-07-01,XFA,9.5\n",
    );
    file("fx.csv", "date,base,quote,rate\n2025-07-01,XFC,XFA,0.75\n");
    file("officers.csv", "company_id,name,role,since\nC00001,Somebody,chairman,2025-06-01\n");
    let request =
        ImportRequest { title: "more".to_owned(), sources: vec![Source::Package(more.path().to_owned())], ..ImportRequest::default() };
    import_here(&now(&app), &request, &|_| ControlFlow::Continue(())).unwrap();
    let formulas = ["price", "eps", "pe", "market_cap", "intrinsic_value", "own_rank(pe, 10y)", "volume", "sma(20)", "revenue"];
    let ask = |app: &Arc<Home>| {
        let known = formulas.iter().filter(|f| artemon_app::check_formula(&now(app), f).error.is_none());
        let request = EvaluateRequest { formulas: known.map(|f| (*f).to_owned()).collect(), symbols: vec![], as_of: None };
        serde_json::to_string(&evaluate(&now(app), &request).unwrap()).unwrap()
    };
    let grown = ask(&app);
    assert!(grown.contains("120.5") && grown.contains("2025-07-01"), "the new session is today");
    drop(app);
    assert_eq!(grown, ask(&open(data.path())));
}

/// An import that is cancelled leaves nothing.
#[test]
fn a_cancelled_import_leaves_nothing_but_its_report() {
    let data = tempfile::tempdir().unwrap();
    let request = ImportRequest { title: "cancelled".to_owned(), sources: vec![Source::Package(golden())], ..ImportRequest::default() };
    let said = artemon_app::import(data.path(), &request, &|_| ControlFlow::Break(())).unwrap_err();
    assert!(said.to_string().contains("cancelled; nothing was taken"), "{said}");
    let app = open(data.path());
    assert_eq!(about(&now(&app)).companies, 0);
    assert_eq!(artemon_app::data(&now(&app)).unwrap().imports[0].outcome, "cancelled");
}
