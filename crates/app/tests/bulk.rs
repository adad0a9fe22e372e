//! Regulators' bulk files through whole imports, against the rows, outcomes and notes expected of them.
#![allow(clippy::unwrap_used)]

mod cases;

use artemon_app::{AppError, Choices, ImportReport, ImportRequest, NewFilers};
use cases::{Row, csv_rows, exported, formats, import_as};
use std::{
    collections::{BTreeMap, BTreeSet},
    fs,
    path::{Path, PathBuf},
};

fn golden(path: &str) -> PathBuf {
    formats("bulk").join(path)
}

fn import(folder: &Path, paths: &[PathBuf], change: impl Fn(&mut ImportRequest)) -> Result<ImportReport, AppError> {
    import_as(folder, paths, &Choices::default(), change)
}

/// A data folder with the companies of a case in it.
fn with_base(case: &str) -> tempfile::TempDir {
    let folder = tempfile::tempdir().unwrap();
    import(folder.path(), &[golden(case).join("base")], |_| {}).unwrap();
    folder
}

#[track_caller]
fn same_rows(expected: &Path, rows: &[Row]) {
    cases::same_rows(&csv_rows(expected), rows);
}

#[track_caller]
fn same_counts(expected: &Path, report: &ImportReport) {
    let expected: BTreeSet<_> = csv_rows(expected)
        .into_iter()
        .map(|r| (r["file"].clone(), r["outcome"].clone(), r["concept"].clone(), r["count"].parse::<u64>().unwrap()))
        .collect();
    let counted = report.facts.iter().map(|c| (c.file.clone(), c.outcome.to_string(), c.concept.clone(), c.count)).collect();
    let (missing, unexpected): (Vec<_>, Vec<_>) = (expected.difference(&counted).collect(), counted.difference(&expected).collect());
    assert!(missing.is_empty() && unexpected.is_empty(), "missing: {missing:#?}\nunexpected: {unexpected:#?}");
}

fn notes(report: &ImportReport) -> BTreeSet<(String, String, u64, String)> {
    report.notes.iter().map(|n| (n.file.clone(), n.what.clone(), n.count, n.detail.clone())).collect()
}

fn sets() -> [PathBuf; 2] {
    ["2024q1.zip", "2024q2.zip"].map(|f| golden("statement-sets").join(f))
}

#[test]
fn statement_sets_agree() {
    let folder = with_base("statement-sets");
    let report = import(folder.path(), &sets(), |_| {}).unwrap();
    let case = golden("statement-sets");
    same_counts(&case.join("expected-facts.csv"), &report);
    same_rows(&case.join("expected-statements.csv"), &exported(folder.path(), "statements"));
    same_rows(&case.join("expected-companies.csv"), &exported(folder.path(), "companies"));
    let said: Vec<_> = report.notes.iter().map(|n| (n.what.as_str(), n.detail.as_str())).collect();
    assert_eq!(
        said,
        [
            ("no sic: sector and industry not known", "CIK9000000013"),
            ("no listing: in no universe until listings or identifiers come", "CIK9000000011, CIK9000000012, CIK9000000013"),
        ]
    );
    let own: Vec<_> = report.own_concepts.iter().map(|o| (o.name.as_str(), o.count)).collect();
    assert_eq!(own, [("OldQuayKilnHours", 1), ("OldQuayKilnHours", 2)]);
    // The same again, one after the other, changes nothing.
    for set in sets() {
        assert_eq!(import(folder.path(), &[set], |_| {}).unwrap().rows, 0);
    }
}

/// One set after the other comes to what both at once come to, and so do the files of unpacked sets in a folder each.
#[test]
fn sets_one_by_one_and_unpacked_agree() {
    let expected = golden("statement-sets").join("expected-statements.csv");
    let folder = with_base("statement-sets");
    for set in sets() {
        import(folder.path(), &[set], |_| {}).unwrap();
    }
    same_rows(&expected, &exported(folder.path(), "statements"));
    let (unpacked, folder) = (tempfile::tempdir().unwrap(), with_base("statement-sets"));
    for (name, set) in ["first", "second"].iter().zip(sets()) {
        zip::ZipArchive::new(fs::File::open(set).unwrap()).unwrap().extract(unpacked.path().join(name)).unwrap();
    }
    import(folder.path(), &[unpacked.path().to_owned()], |_| {}).unwrap();
    same_rows(&expected, &exported(folder.path(), "statements"));
}

/// The figures of a set without its filings say nothing, and that is told.
#[test]
fn a_file_of_a_set_alone_is_refused() {
    let unpacked = tempfile::tempdir().unwrap();
    zip::ZipArchive::new(fs::File::open(&sets()[0]).unwrap()).unwrap().extract(unpacked.path()).unwrap();
    let inside = unpacked.path().join("2024q1");
    let num = if inside.exists() { inside.join("num.txt") } else { unpacked.path().join("num.txt") };
    let alone = unpacked.path().join("alone");
    fs::create_dir(&alone).unwrap();
    fs::copy(num, alone.join("num.txt")).unwrap();
    let refused = import(with_base("statement-sets").path(), &[alone.join("num.txt")], |_| {}).unwrap_err();
    assert!(refused.to_string().contains("bring it together with sub.txt"), "{refused}");
}

/// What company facts gave already is not repeated, whether they came in an import before or in the same one.
#[test]
fn sets_add_to_facts() {
    let facts = golden("company-facts").join("company-facts.zip");
    let case = golden("statement-sets");
    let folder = with_base("statement-sets");
    import(folder.path(), std::slice::from_ref(&facts), |_| {}).unwrap();
    let before = exported(folder.path(), "statements");
    let report = import(folder.path(), &sets(), |_| {}).unwrap();
    same_counts(&case.join("expected-facts-after-company-facts.csv"), &report);
    let after = exported(folder.path(), "statements");
    let added: Vec<Row> = after.iter().filter(|row| !before.contains(row)).cloned().collect();
    same_rows(&case.join("expected-statements-after-company-facts.csv"), &added);
    let at_once = with_base("statement-sets");
    let [first, second] = sets();
    import(at_once.path(), &[second, facts, first], |_| {}).unwrap();
    assert_eq!(exported(at_once.path(), "statements"), after);
    assert_eq!(exported(at_once.path(), "companies"), exported(folder.path(), "companies"));
}

/// A month that was not known is found and written down with the company.
#[test]
fn facts_fill_in_when_years_end() {
    let folder = with_base("company-facts");
    let report = import(folder.path(), &[golden("company-facts").join("company-facts.zip")], |_| {}).unwrap();
    same_counts(&golden("company-facts/expected-facts.csv"), &report);
    same_rows(&golden("company-facts/expected-statements.csv"), &exported(folder.path(), "statements"));
    same_rows(&golden("company-facts/expected-companies.csv"), &exported(folder.path(), "companies"));
}

/// Of many filers only those that are asked for are taken.
#[test]
fn only_what_is_asked_for_is_taken() {
    let ids = |folder: &Path| exported(folder, "statements").iter().map(|r| r["company_id"].clone()).collect::<BTreeSet<_>>();
    let folder = with_base("statement-sets");
    let report = import(folder.path(), &sets(), |r| r.new_filers = NewFilers::LeaveOut).unwrap();
    assert_eq!(ids(folder.path()), BTreeSet::from(["C2001".to_owned(), "C2002".to_owned()]));
    assert_eq!(
        report.notes.iter().map(|n| (n.what.as_str(), n.count)).collect::<Vec<_>>(),
        [("filings of filers that are not asked for", 3), ("filings of filers that are not asked for", 4)]
    );
    let folder = with_base("statement-sets");
    let ask = |keys: &[&str], r: &mut ImportRequest| r.only = keys.iter().map(|k| (*k).to_owned()).collect();
    import(folder.path(), &sets(), |r| ask(&["osmt", "CIK9000000003"], r)).unwrap();
    assert_eq!(ids(folder.path()), BTreeSet::from(["C2002".to_owned()]));
    let refused = import(folder.path(), &sets(), |r| ask(&["OSMT", "nobody"], r)).unwrap_err();
    assert!(refused.to_string().contains("nobody"), "{refused}");
}

#[test]
fn sets_of_trades_agree() {
    let (folder, case) = (with_base("insider-sets"), golden("insider-sets"));
    let files = ["2024q1_form345.zip", "2024q2_form345.zip"].map(|f| case.join(f));
    let AppError::BadRows(refused) = import(folder.path(), &files, |_| {}).unwrap_err() else { panic!("bad values are refused") };
    let bad: Vec<_> = refused.bad.iter().map(|b| (b.file.as_str(), b.column.as_str(), b.value.as_str())).collect();
    let file = "2024q2_form345.zip/9000990000-24-000014";
    assert_eq!(bad, [(file, "TRANS_DATE", "31-FEB-2024"), (file, "TRANS_DATE", "25-JUN-2024"), (file, "TRANS_SHARES", "twelve")]);
    assert!(exported(folder.path(), "insider_trades").is_empty());

    let skip = |r: &mut ImportRequest| r.skip_bad_rows = true;
    let report = import(folder.path(), &files, skip).unwrap();
    let agree = || {
        let (superseded, current): (Vec<Row>, Vec<Row>) =
            exported(folder.path(), "insider_trades").into_iter().partition(|r| !r["superseded_on"].is_empty());
        same_rows(&case.join("expected-insider_trades.csv"), &current);
        same_rows(&case.join("expected-superseded.csv"), &superseded);
    };
    agree();
    let expected: BTreeSet<_> = csv_rows(&case.join("expected-left-out.csv"))
        .iter()
        .filter(|r| r["what"] != "bad value")
        .map(|r| (format!("{}/{}", r["file"], r["filing_id"]), r["what"].clone(), r["count"].parse().unwrap(), r["detail"].clone()))
        .collect();
    assert_eq!(notes(&report), expected);
    // What was amended stays so when a set comes again, alone or with the other.
    import(folder.path(), &files[..1], skip).unwrap();
    agree();
    import(folder.path(), &files, skip).unwrap();
    agree();
}

#[test]
fn identifiers_join_listings_and_filers() {
    let (folder, case) = (with_base("identifiers"), golden("identifiers"));
    let report = import(folder.path(), &[case.join("identifiers.csv")], |_| {}).unwrap();
    let listings = exported(folder.path(), "listings");
    same_rows(&case.join("expected-listings.csv"), &listings);
    let left_out: Vec<_> = report.notes.iter().filter(|n| n.what != "new listing").map(|n| (n.what.clone(), n.detail.clone())).collect();
    let detail =
        |r: &Row| if r["detail"].is_empty() { format!("line {}", r["line"]) } else { format!("line {}: {}", r["line"], r["detail"]) };
    let expected: BTreeSet<_> = csv_rows(&case.join("expected-left-out.csv")).iter().map(|r| (r["what"].clone(), detail(r))).collect();
    assert_eq!(left_out.into_iter().collect::<BTreeSet<_>>(), expected);
    // By its number each filer's facts find the company.
    let people = artemon_store::People::open(folder.path()).unwrap();
    let known: BTreeMap<String, String> = people.mappings_beginning(&people.local(), "entity\u{1f}").unwrap().into_iter().collect();
    for row in csv_rows(&case.join("expected-identifiers.csv")) {
        assert_eq!(known.get(&format!("http://www.sec.gov/CIK|{}", row["cik"])), Some(&row["company_id"]), "{row:?}");
        let listing = listings.iter().find(|l| l["symbol"] == row["symbol"]).unwrap();
        assert_eq!([&listing["company_id"], &listing["mic"], &listing["isin"]], [&row["company_id"], &row["mic"], &row["isin"]]);
    }
}

/// Companies that sets bring and the listings of their identifiers land together, in whatever order the files are named.
#[test]
fn filers_and_their_listings_land_together() {
    let folder = tempfile::tempdir().unwrap();
    let [first, second] = sets();
    let identifiers = folder.path().join("tickers.csv");
    fs::write(&identifiers, "CIK,Ticker,ISIN,MIC\n9000000011,HVSQ,XA0000201102,XAAX\n9000000099,NONE,,\n").unwrap();
    let data = folder.path().join("data");
    let report = import(&data, &[identifiers, second, first], |_| {}).unwrap();
    let listings = exported(&data, "listings");
    assert_eq!(listings.iter().map(|l| (l["symbol"].as_str(), l["currency"].as_str())).collect::<Vec<_>>(), [("HVSQ", "XFA")]);
    assert!(report.notes.iter().any(|n| n.what == "unknown filer" && n.detail == "line 3: 9000000099 NONE"), "{:?}", report.notes);
}

/// Files of prices find the listings that the identifiers of new filers bring in the same import.
#[test]
fn prices_find_listings_of_the_same_import() {
    let samples = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/public/samples");
    let files = ["prices.zip", "statements-2024q1.zip", "statements-2024q2.zip", "tickers.csv"].map(|f| samples.join(f));
    let data = tempfile::tempdir().unwrap();
    let report = import(data.path(), &files, |_| {}).unwrap();
    assert!(!report.notes.iter().any(|n| n.what == "unknown symbol" || n.what.starts_with("no listing")), "{:?}", report.notes);
    let symbols: BTreeSet<String> = exported(data.path(), "prices").iter().map(|r| r["symbol"].clone()).collect();
    assert_eq!(symbols, ["HVSQ", "KLMR", "MRBS", "OSMT", "QISH"].map(str::to_owned).into());
}
