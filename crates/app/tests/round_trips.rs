//! What goes out in each form comes back as it was.
#![allow(clippy::unwrap_used)]

mod cases;

use artemon_app::{Choices, ExportForm, ExportRequest};
use artemon_core::{domain::Table, filings::Taxonomy};
use cases::{exported, formats, import, same_rows};
use serde_json::Value;
use std::{
    collections::BTreeMap,
    fs,
    path::{Path, PathBuf},
};

fn package() -> PathBuf {
    formats("../package")
}

/// The files of a case that are brought.
fn case(path: &str) -> Vec<PathBuf> {
    let files = fs::read_dir(formats(path)).unwrap().map(|e| e.unwrap().path());
    let name = |p: &PathBuf| p.file_name().unwrap().to_string_lossy().into_owned();
    files.filter(|p| !name(p).starts_with("expected") && name(p) != "case.json" && !name(p).ends_with(".xsd")).collect()
}

fn with(paths: &[PathBuf]) -> tempfile::TempDir {
    let data = tempfile::tempdir().unwrap();
    import(data.path(), paths, &Choices::default(), false).unwrap();
    data
}

fn export(data: &Path, form: ExportForm, tables: &[Table], companies: &[&str], path: &Path) -> u64 {
    let companies = companies.iter().map(|c| (*c).to_owned()).collect();
    artemon_app::export(data, &ExportRequest { form, tables: tables.to_vec(), companies }, path).unwrap().rows
}

#[test]
fn every_table_comes_back_from_a_workbook() {
    let (data, out) = (with(&[package()]), tempfile::tempdir().unwrap());
    let book = out.path().join("everything.xlsx");
    let rows = export(data.path(), ExportForm::of(&book), &[], &[], &book);
    let again = with(&[book]);
    for table in Table::ALL {
        let before = exported(data.path(), table.code());
        assert!(before == exported(again.path(), table.code()), "{table} differs");
    }
    assert!(rows > 10_000, "{rows} rows");
    let left: Vec<_> = fs::read_dir(out.path()).unwrap().map(|e| e.unwrap().file_name()).collect();
    assert_eq!(left, ["everything.xlsx"], "what waited on the disk is gone");
}

/// Filings with restatements of some figures only, halves and quarters, banks, companies without an identifier: all as they were, with
/// the concepts of either taxonomy.
#[test]
fn filings_come_back_from_xbrl_json() {
    let sources = [vec![package()], case("xbrl-json/quarterly"), case("xbrl-json/half-yearly"), case("xbrl-csv/bank")];
    let data = tempfile::tempdir().unwrap();
    for source in sources {
        import(data.path(), &source, &Choices::default(), false).unwrap();
    }
    let before = exported(data.path(), "statements");
    let rest = tempfile::tempdir().unwrap();
    let tables = rest.path().join("others");
    let others: Vec<Table> = Table::ALL.iter().copied().filter(|t| *t != Table::Statements).collect();
    export(data.path(), ExportForm::Package, &others, &[], &tables);
    for taxonomy in [Taxonomy::UsGaap, Taxonomy::Ifrs] {
        let filings = rest.path().join(taxonomy.prefix());
        let rows = export(data.path(), ExportForm::XbrlJson(taxonomy), &[], &[], &filings);
        assert_eq!(rows, before.len() as u64);
        let again = with(std::slice::from_ref(&tables));
        assert!(exported(again.path(), "statements").is_empty());
        import(again.path(), &[filings], &Choices::default(), false).unwrap();
        assert!(before == exported(again.path(), "statements"), "{} differs", taxonomy.prefix());
    }
}

/// A report of which only the standard part is left is read as any filing is: what others understand of it is right.
#[test]
fn others_read_the_facts_of_a_filing() {
    let (data, out) = (with(&case("xbrl-json/quarterly")), tempfile::tempdir().unwrap());
    let before = exported(data.path(), "statements");
    let folder = out.path().join("filings");
    export(data.path(), ExportForm::XbrlJson(Taxonomy::UsGaap), &[], &["C00101"], &folder);
    let written = folder.join("C00101/2024-02-22.json");
    let mut report: Value = serde_json::from_slice(&fs::read(&written).unwrap()).unwrap();
    report["documentInfo"].as_object_mut().unwrap().remove("artemon:rows").unwrap();
    let facts = report["facts"].as_object_mut().unwrap();
    assert_eq!(facts["r002.total_assets"]["dimensions"]["concept"], "us-gaap:Assets");
    assert_eq!(facts["r002.total_assets"]["dimensions"]["period"], "2024-01-01T00:00:00");
    assert_eq!(facts["r002.revenue"]["dimensions"]["period"], "2023-01-01T00:00:00/2024-01-01T00:00:00");
    assert_eq!(facts["r002.eps_basic"]["dimensions"]["unit"], "iso4217:ZOC/xbrli:shares");
    facts.values_mut().for_each(|fact| fact.as_object_mut().unwrap().retain(|key, _| !key.starts_with("artemon:")));
    let stranger = out.path().join("stranger.json");
    fs::write(&stranger, report.to_string()).unwrap();

    let again = with(&[formats("xbrl-json/quarterly/companies.csv")]);
    let mut choices = Choices::default();
    choices.answers.company_id = Some("C00101".to_owned());
    choices.answers.filed_on = Some("2024-02-22".parse().unwrap());
    choices.answers.source = Some("doc-tarn-2023FY".to_owned());
    import(again.path(), &[stranger], &choices, false).unwrap();
    let of_day: Vec<BTreeMap<_, _>> = before.into_iter().filter(|row| row["filed_on"] == "2024-02-22").collect();
    assert_eq!(of_day.len(), 2);
    same_rows(&of_day, &exported(again.path(), "statements"));
}

#[test]
fn a_report_that_was_changed_is_refused_with_its_place() {
    let (data, out) = (with(&case("xbrl-json/quarterly")), tempfile::tempdir().unwrap());
    let folder = out.path().join("filings");
    export(data.path(), ExportForm::XbrlJson(Taxonomy::Ifrs), &[], &[], &folder);
    let text = fs::read_to_string(folder.join("C00101/2024-02-22.json")).unwrap();
    let refusal = |change: &dyn Fn(&str) -> String| {
        let path = out.path().join("changed.json");
        fs::write(&path, change(&text)).unwrap();
        match import(data.path(), &[path], &Choices::default(), false).unwrap_err() {
            artemon_app::AppError::BadRows(report) => report.bad[0].to_string(),
            e => e.to_string(),
        }
    };
    let said = [
        refusal(&|t| t.replacen("\"value\": \"214746000\"", "\"value\": \"many\"", 1)),
        refusal(&|t| t.replacen("\"artemon:row\": \"r002\"", "\"artemon:row\": \"r009\"", 1)),
        refusal(&|t| t.replacen("\"artemon:item\": \"revenue\"", "\"artemon:item\": \"takings\"", 1)),
        refusal(&|t| t.replace("\"C00101\"", "\"C99999\"")),
        refusal(&|t| t[..t.len() / 2].to_owned()),
    ];
    insta::assert_snapshot!(said.join("\n"));
}
