//! Filings over several imports: what is known already is taken into account, what is wrong changes nothing.
#![allow(clippy::unwrap_used)]

use artemon_app::{Answers, AppError, Choices, ConceptMapping, ImportReport, ImportRequest, map_concepts, plan_import};
use artemon_core::domain::{Record, Table};
use artemon_store::{Dataset, Selection};
use std::{
    collections::BTreeMap,
    fs,
    ops::ControlFlow,
    path::{Path, PathBuf},
};

fn golden(path: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/formats").join(path)
}

/// A data folder with the company of a case in it.
fn with_companies(case: &str) -> tempfile::TempDir {
    let folder = tempfile::tempdir().unwrap();
    import(folder.path(), &[golden(case).join("companies.csv")], &Choices::default(), false).unwrap();
    folder
}

fn import(folder: &Path, paths: &[PathBuf], choices: &Choices, skip_bad_rows: bool) -> Result<ImportReport, AppError> {
    let (sources, _) = plan_import(folder, paths, choices)?;
    let request = ImportRequest { title: "filings".to_owned(), sources, skip_bad_rows, ..ImportRequest::default() };
    artemon_app::import(folder, &request, &|_| ControlFlow::Continue(()))
}

/// Every row of a table, in words.
fn rows(folder: &Path, table: Table) -> Vec<String> {
    let mut all = Vec::new();
    let selection = Selection { tables: Some(vec![table]), companies: None };
    let take = |record: Record| {
        all.push(format!("{record:?}"));
        ControlFlow::Continue(())
    };
    Dataset::open(folder).unwrap().read(&selection, take).unwrap();
    all.sort();
    all
}

fn answered(filed_on: &str, company: &str) -> Choices {
    let company_id = Some(company.to_owned()).filter(|c| !c.is_empty());
    Choices { answers: Answers { company_id, filed_on: Some(filed_on.parse().unwrap()), source: None }, ..Choices::default() }
}

/// One file after the other, each an import of its own, comes to what all at once come to; the same again changes nothing.
#[test]
fn filings_one_by_one_are_as_all_at_once() {
    let case = golden("xbrl-xml/quarterly");
    let (once, each) = (with_companies("xbrl-xml/quarterly"), with_companies("xbrl-xml/quarterly"));
    let files = ["tarn-2023fy.xml", "tarn-2024q1.xml", "tarn-2024q2.xml", "tarn-2024q3.xml", "tarn-2024fy.xml"].map(|f| case.join(f));
    // The days and the company are told by the filings.csv beside them.
    let report = import(once.path(), &files, &Choices::default(), false).unwrap();
    assert_eq!(report.rows, 10);
    for file in &files {
        import(each.path(), std::slice::from_ref(file), &Choices::default(), false).unwrap();
    }
    assert_eq!(rows(once.path(), Table::Statements), rows(each.path(), Table::Statements));
    let again = import(each.path(), &files, &Choices::default(), false).unwrap();
    assert_eq!(again.rows, 0);
    assert!(again.facts.iter().all(|f| f.outcome.code() != "used"), "{:?}", again.facts);
    assert_eq!(rows(once.path(), Table::Statements), rows(each.path(), Table::Statements));
}

/// The same filings in another form add nothing: their facts are the same.
#[test]
fn another_form_of_the_same_filing_adds_nothing() {
    let folder = with_companies("xbrl-xml/half-yearly");
    let files = |form: &str, ending: &str| ["2025h1", "2025fy"].map(|of| golden(form).join(format!("half-yearly/skerry-{of}{ending}")));
    assert!(import(folder.path(), &files("xbrl-xml", ".xml"), &Choices::default(), false).unwrap().rows > 0);
    for (form, ending) in [("inline-xbrl", ".xhtml"), ("xbrl-json", ".json"), ("xbrl-csv", "-metadata.json")] {
        assert_eq!(import(folder.path(), &files(form, ending), &Choices::default(), false).unwrap().rows, 0, "{form}");
    }
}

/// A folder is searched: what is in no known format is passed over, the tables of xBRL-CSV are no tables of their own, an identifier that
/// was answered once is known from then on.
#[test]
fn a_folder_of_filings_is_taken_as_a_whole() {
    let data = with_companies("xbrl-csv/bank");
    let folder = tempfile::tempdir().unwrap();
    for file in ["harbour-2024fy-metadata.json", "harbour-2024fy-figures.csv", "harbour-2024fy-texts.csv", "harbour-2024.xsd"] {
        fs::copy(golden("xbrl-csv/bank").join(file), folder.path().join(file)).unwrap();
    }
    let paths = [folder.path().to_owned()];
    let asked = import(data.path(), &paths, &answered("2025-03-03", ""), false).unwrap_err().to_string();
    assert!(asked.contains("0009999103") && asked.contains("Say whose it is"), "{asked}");
    assert_eq!(import(data.path(), &paths, &answered("2025-03-03", "C00103"), false).unwrap().rows, 1);
    assert_eq!(import(data.path(), &paths, &answered("2025-03-03", ""), false).unwrap().rows, 0);
}

/// A concept of the company's own serves the item that a person said, from then on and instead of others.
#[test]
fn an_own_concept_is_mapped_once() {
    let data = with_companies("xbrl-xml/bank");
    let file = tempfile::Builder::new().suffix(".xml").tempfile().unwrap();
    let text = fs::read_to_string(golden("xbrl-xml/bank/harbour-2024fy.xml")).unwrap();
    let own = r#"<harbour:PilotageFees contextRef="D20240101_20241231" unitRef="U_ZVD" decimals="-3">1500000</harbour:PilotageFees></xbrli:xbrl>"#;
    fs::write(file.path(), text.replace("</xbrli:xbrl>", own)).unwrap();
    let report = import(data.path(), &[file.path().to_owned()], &answered("2025-03-03", "C00103"), false).unwrap();
    let [found] = report.own_concepts.as_slice() else { panic!("{:?}", report.own_concepts) };
    assert_eq!((found.name.as_str(), found.value.as_str()), ("PilotageFees", "1500000"));
    let mapping = ConceptMapping {
        namespace: found.namespace.clone(),
        name: found.name.clone(),
        item: Some("premiums_earned".to_owned()),
        negated: true,
    };
    map_concepts(data.path(), std::slice::from_ref(&mapping)).unwrap();
    let report = import(data.path(), &[file.path().to_owned()], &answered("2025-06-03", "C00103"), false).unwrap();
    assert_eq!((report.rows, report.own_concepts.len()), (1, 0));
    let wanted = ConceptMapping { item: Some("flour".to_owned()), ..mapping };
    let refused = map_concepts(data.path(), &[wanted]).unwrap_err().to_string();
    assert!(refused.contains("PilotageFees") && refused.contains("flour"), "{refused}");
}

/// Files that are broken or meant to harm are refused with the reason, soon, and nothing is changed.
#[test]
fn hostile_files_are_refused_and_change_nothing() {
    let data = with_companies("xbrl-xml/quarterly");
    let before = [Table::Statements, Table::InsiderTrades].map(|t| rows(data.path(), t));
    let expected: Vec<serde_json::Value> = serde_json::from_str(&fs::read_to_string(golden("hostile/expected.json")).unwrap()).unwrap();
    let says: BTreeMap<&str, &str> = [
        ("laughs.xml", "declares entities"),
        ("external-entity.xml", "declares entities"),
        ("external-dtd.xhtml", "no Inline XBRL header"),
        ("deep.xml", "nested deeper than 256"),
        ("truncated.xml", "line 2: the XML ends in the middle of an element"),
        ("truncated.json", "the JSON ends in the middle"),
        ("huge-number.xml", "us-gaap:Revenues: \"a number of 400 digits\""),
        ("nul.csv", "line 2: a NUL character"),
        ("bad-utf8.csv", "line 3: not UTF-8 (byte EF at column 2)"),
        ("empty.xml", "the file is empty"),
        ("empty.csv", "the file is empty"),
    ]
    .into();
    for (file, says) in says {
        let limit = expected.iter().find(|e| e["file"] == file).unwrap_or_else(|| panic!("{file}"));
        assert_eq!(limit["outcome"], "refused");
        let begun = std::time::Instant::now();
        let refused = import(data.path(), &[golden("hostile").join(file)], &answered("2025-02-20", "C00101"), false);
        let refused = refused.unwrap_err().to_string();
        assert!(refused.contains(says) && !refused.contains("planted"), "{file}: {refused}");
        assert!(begun.elapsed().as_secs_f64() < limit["seconds"].as_f64().unwrap(), "{file}");
    }
    let asked = import(data.path(), &[golden("hostile/no-filing-date.xml")], &Choices::default(), false).unwrap_err().to_string();
    assert!(asked.contains("filed_on is not known"), "{asked}");
    assert_eq!([Table::Statements, Table::InsiderTrades].map(|t| rows(data.path(), t)), before);
    // Its row lands without the figure that is none.
    let landed = import(data.path(), &[golden("hostile/huge-number.xml")], &answered("2025-02-20", "C00101"), true).unwrap();
    assert_eq!((landed.rows, landed.bad_rows), (1, 1));
    let row = rows(data.path(), Table::Statements).concat();
    assert!(row.contains("500.0"), "{row}");
}

/// All facts of filers, joined by a table of their numbers, in one import with it; the numbers are known from then on, for filings too.
#[test]
fn facts_of_filers_land_by_their_numbers() {
    let case = golden("bulk/company-facts");
    let data = tempfile::tempdir().unwrap();
    let base = ["companies.csv", "listings.csv"].map(|f| case.join("base").join(f));
    import(data.path(), &base, &Choices::default(), false).unwrap();
    let facts = case.join("company-facts.zip");
    let unknown = import(data.path(), std::slice::from_ref(&facts), &Choices::default(), false).unwrap();
    assert_eq!((unknown.rows, unknown.notes.iter().filter(|n| n.what == "unknown filer").count()), (0, 5));
    let folder = tempfile::tempdir().unwrap();
    let mut text = fs::read_to_string(case.join("base/identifiers.csv")).unwrap();
    text.push_str("CIK12x,C2001\n9000000077,C9999\n");
    fs::write(folder.path().join("identifiers.csv"), text).unwrap();
    fs::copy(&facts, folder.path().join("facts.zip")).unwrap();
    let report = import(data.path(), &[folder.path().to_owned()], &Choices::default(), false).unwrap();
    // One company besides is given the month in which its fiscal years end.
    let expected = fs::read_to_string(case.join("expected-statements.csv")).unwrap().lines().count() as u64;
    assert_eq!(report.rows, expected);
    let said: Vec<String> = report
        .notes
        .iter()
        .map(|n| format!("{}: {}, {} {}", n.file, n.what, n.count, if n.detail.is_empty() { "without facts" } else { &n.detail }))
        .collect();
    insta::assert_snapshot!(said.join("\n"), @r"
    identifiers.csv: the number is none, 1 line 6: CIK12x
    CIK9000000099.json: unknown filer, 36 CIK 9000000099 Marsh Gate Dyes
    readme.txt: not a facts file, 1 without facts
    identifiers.csv: unknown filer, 1 line 7: 9000000077 C9999
    ");
    assert_eq!(import(data.path(), &[facts], &Choices::default(), false).unwrap().rows, 0);
}
