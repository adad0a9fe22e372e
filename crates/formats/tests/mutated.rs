//! Good files with something wrong in them: every reader ends soon, with rows or a reason. More with `make endure`.
#![allow(clippy::unwrap_used)]

use artemon_core::{
    domain::{Company, Currency, InsiderTrade, Item, Items, Kind, Period, Record, Statement, Table},
    filings::{self as filed, Filer, FiscalCalendar, Taxonomy},
};
use artemon_formats::{
    BlockWriter, Known, OwnConcepts, ReadError, TableFile, company_facts, csv_statement, data_package,
    filings::{self, Answers, Filers, FilingSource},
    insider_sets,
    mapped_table::{self, Sample},
    ofx,
    ownership::Issuers,
    ownership_xml,
    price_files::{self, Listings, PriceAnswers, PriceFiles},
    registry::{Format, recognise},
    sdmx_csv::{self, ObservationAnswers},
    statement_report::{self, Reports, StatementReports},
    statement_sets::{self, NewFilers},
    workbook,
};
use proptest::{collection::vec, prelude::*, sample::select};
use std::{
    fs,
    io::{Read, Write},
    path::{Path, PathBuf},
    sync::{Arc, LazyLock},
    time::{Duration, Instant},
};
use zip::{ZipWriter, write::SimpleFileOptions};

/// No file of this size may take longer.
const LONGEST: Duration = Duration::from_secs(2);

/// What is put where it does not belong.
const ODD: &[&str] = &[
    "\"",
    "\"\"",
    ",",
    ";",
    "\t",
    "\n",
    "\r",
    "\r\n",
    "\0",
    "\u{feff}",
    "\u{202e}",
    "é",
    "=1+1",
    "-",
    "--",
    "NaN",
    "inf",
    "1e999",
    "-0",
    "99999999999999999999999",
    "0.0000000000000000000001",
    "1,000.50",
    "1.000,50",
    "2024-02-30",
    "0000-00-00",
    "9999-12-31",
    "../../x",
    "<",
    ">",
    "</",
    "<OFX>",
    "</OFX>",
    "&#x0;",
    "&amp",
    "]]>",
    "<![CDATA[",
    "<!DOCTYPE x [<!ENTITY y \"z\">]>",
    "&y;",
    "<?xml",
    "{",
    "}",
    "[",
    "null",
    "\\u0000",
    "company_id",
    "XFA",
    "FY",
];

/// One thing done to a file; places are shares of its length.
#[derive(Clone, Debug)]
enum Change {
    Byte(f64, u8),
    Put(f64, &'static str),
    Cut(f64, f64),
    Twice(f64, f64),
    End(f64),
}

fn change() -> impl Strategy<Value = Change> {
    let place = || 0.0..1.0f64;
    prop_oneof![
        (place(), any::<u8>()).prop_map(|(at, byte)| Change::Byte(at, byte)),
        (place(), select(ODD)).prop_map(|(at, what)| Change::Put(at, what)),
        (place(), 0.0..0.2f64).prop_map(|(at, share)| Change::Cut(at, share)),
        (place(), 0.0..0.2f64).prop_map(|(at, share)| Change::Twice(at, share)),
        (0.3..1.0f64).prop_map(Change::End),
    ]
}

fn changed(seed: &[u8], changes: &[Change]) -> Vec<u8> {
    let mut bytes = seed.to_vec();
    for change in changes {
        let place = |share: f64| ((bytes.len() as f64 * share) as usize).min(bytes.len());
        match *change {
            Change::Byte(at, byte) => {
                if let Some(b) = bytes.get_mut((seed.len() as f64 * at) as usize) {
                    *b = byte;
                }
            }
            Change::Put(at, what) => {
                let at = place(at);
                bytes.splice(at..at, what.bytes());
            }
            Change::Cut(at, share) => drop(bytes.drain(place(at)..place(at + share))),
            Change::Twice(at, share) => {
                let (from, to) = (place(at), place(at + share));
                let again = bytes[from..to].to_vec();
                bytes.splice(to..to, again);
            }
            Change::End(at) => bytes.truncate(place(at)),
        }
    }
    bytes
}

fn golden(path: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden").join(path)
}

/// The first lines of every table of the package of independent values.
static TABLES: LazyLock<Vec<(Table, Vec<u8>)>> = LazyLock::new(|| {
    let head = |table: &Table| {
        let text = fs::read_to_string(golden(&format!("package/{}.csv", table.code()))).ok()?;
        Some((*table, text.lines().take(8).flat_map(|l| [l, "\n"]).collect::<String>().into_bytes()))
    };
    Table::ALL.iter().filter_map(head).collect()
});

static STATEMENTS: LazyLock<Vec<Vec<u8>>> = LazyLock::new(|| {
    let files = ["account-2025q1.ofx", "account-2025q2.qfx", "account-2025q1-sgml.ofx"];
    files.iter().map(|name| fs::read(golden("formats/ofx").join(name)).unwrap()).collect()
});

/// A filing in each form of XBRL, short ones, and an ownership filing.
static FILINGS: LazyLock<Vec<Vec<u8>>> = LazyLock::new(|| {
    let files = [
        "xbrl-xml/bank/harbour-2024fy.xml",
        "inline-xbrl/forms/quern-2024fy.xhtml",
        "xbrl-json/half-yearly/skerry-2025fy.json",
        "xbrl-csv/bank/harbour-2024fy-metadata.json",
        "ownership-xml/own-0007.xml",
    ];
    files.iter().map(|name| fs::read(golden("formats").join(name)).unwrap()).collect()
});

/// A report of two years and a quarter, as it is written.
static REPORT: LazyLock<Vec<u8>> = LazyLock::new(|| {
    let mut blocks = BlockWriter::default();
    for (fiscal_year, period, end) in [(2023, Period::FY, "2023-12-31"), (2024, Period::FY, "2024-12-31"), (2024, Period::Q4, "2024-12-31")]
    {
        let mut items = Items::default();
        Item::ALL.iter().zip(1..).for_each(|(item, n)| items.set(*item, Some(f64::from(n) / 8.0)));
        let statement = Statement {
            company_id: "C1".into(),
            fiscal_year,
            period,
            period_end: end.parse().unwrap(),
            filed_on: "2025-02-20".parse().unwrap(),
            currency: "XFA".parse().unwrap(),
            source: "annual report".to_owned(),
            items,
        };
        blocks.write(&Record::Statement(Box::new(statement))).unwrap();
    }
    let folder = tempfile::tempdir().unwrap();
    let mut reports = StatementReports::new(Reports::in_folder(folder.path()), Taxonomy::Ifrs);
    reports.write(&blocks.take().unwrap().unwrap()).unwrap();
    reports.finish().unwrap();
    fs::read(folder.path().join("C1/2025-02-20.json")).unwrap()
});

/// Companies for whatever a filing is of, nothing known of them.
struct Anybody;

impl Filers for Anybody {
    fn filer(&self, company_id: &str) -> Option<Filer> {
        let calendar = FiscalCalendar { end_month: 12 };
        Some(Filer { company_id: company_id.into(), kind: Kind::Bank, calendar: Some(calendar), label_shift: None })
    }

    fn company_row(&self, _: &str) -> Option<Company> {
        None
    }

    fn identified(&self, _: &str, _: &str) -> Option<Arc<str>> {
        Some("C1".into())
    }

    fn known(&self, _: &str) -> Result<filed::Known, ReadError> {
        Ok(filed::Known::default())
    }
}

impl Listings for Anybody {
    fn symbol(&self, key: &str) -> Option<Arc<str>> {
        Some(key.into())
    }
}

/// Files by name.
type Files = Vec<(String, Vec<u8>)>;

const BINARY: &[&str] = &[
    "formats/parquet/prices.parquet",
    "formats/parquet/prices-timestamps.parquet",
    "formats/parquet/prices-wrong-types.parquet",
    "formats/parquet/statements.parquet",
    "formats/parquet/estimates.parquet",
    "formats/xlsx/tables.xlsx",
    "formats/xlsx/messy-prices.xlsx",
    "formats/xlsx/bad-cells.xlsx",
];

const PLAIN: &[&str] = &[
    "formats/bulk/prices-folder/by-symbol/OSMT.csv",
    "formats/bulk/prices-folder/by-symbol/VLGW.csv",
    "formats/bulk/prices-folder/by-symbol/brls.csv",
    "formats/bulk/rates-wide/sdmx-fx.csv",
    "formats/bulk/rates-wide/sdmx-yields.csv",
];

/// A workbook with one of its parts changed.
fn repacked(bytes: &[u8], part: prop::sample::Index, changes: &[Change]) -> Vec<u8> {
    let mut zip = zip::ZipArchive::new(std::io::Cursor::new(bytes)).unwrap();
    let names: Vec<String> = zip.file_names().map(|n| n.unwrap().into_owned()).collect();
    let mut out = ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (at, name) in names.iter().enumerate() {
        let mut content = Vec::new();
        zip.by_name(name).unwrap().read_to_end(&mut content).unwrap();
        out.start_file(name, SimpleFileOptions::default()).unwrap();
        let content = if at == part.index(names.len()) { changed(&content, changes) } else { content };
        out.write_all(&content).unwrap();
    }
    out.finish().unwrap().into_inner()
}

impl Issuers for Anybody {
    fn listed(&self, _: &str) -> Option<(Arc<str>, Currency)> {
        self.company("C1")
    }

    fn registered(&self, _: &str) -> Option<(Arc<str>, Currency)> {
        None
    }

    fn company(&self, company_id: &str) -> Option<(Arc<str>, Currency)> {
        Some((company_id.into(), "ZOC".parse().unwrap()))
    }

    fn trades(&self, _: &str) -> Result<Vec<InsiderTrade>, ReadError> {
        Ok(Vec::new())
    }
}

const ACCOUNT: &[u8] = b"Date;Type;Symbol;Units;Price;Fee;Amount\n02.01.2025;Deposit;;;;;10.000,00\n\
    03.01.2025;Buy;DRUA;100;114,50;4,95;-11.454,95\n04.02.2025;Dividend;DRUA;;;;120,00\n05.02.2025;Sell;DRUA;50;120;4,95;5.995,05\n";

fn descriptor() -> Vec<u8> {
    let resource = |(table, _): &(Table, Vec<u8>)| serde_json::json!({ "name": table.code(), "path": format!("{}.csv", table.code()) });
    serde_json::json!({ "resources": TABLES.iter().map(resource).collect::<Vec<_>>() }).to_string().into_bytes()
}

fn zip() -> Vec<u8> {
    let mut zip = ZipWriter::new(std::io::Cursor::new(Vec::new()));
    let mut put = |name: &str, bytes: &[u8]| {
        zip.start_file(name, SimpleFileOptions::default()).unwrap();
        zip.write_all(bytes).unwrap();
    };
    put("datapackage.json", &descriptor());
    TABLES.iter().for_each(|(table, bytes)| put(&format!("{}.csv", table.code()), bytes));
    zip.finish().unwrap().into_inner()
}

/// Whether it ended in time; what was wrong must have been said.
fn soon<T, E: std::fmt::Display>(read: impl Fn() -> Result<T, E>) -> Result<(), TestCaseError> {
    let timed = || {
        let begun = Instant::now();
        let done = read();
        (begun.elapsed(), done)
    };
    let (took, done) = timed();
    if let Err(e) = done {
        prop_assert!(e.to_string().len() > 10 && e.to_string().len() < 2_000, "{e}");
    }
    // A busy machine is slow once, a hang is one again.
    prop_assert!(took < LONGEST || timed().0 < LONGEST, "{took:?}");
    Ok(())
}

fn read_package(path: &Path) -> Result<(), TestCaseError> {
    soon(|| {
        let (mut rows, mut take) = (0u64, |_| Ok(()));
        let report = data_package::read(path, &mut Known::default(), &mut take)?;
        rows += report.rows.iter().map(|r| r.1).sum::<u64>();
        Ok::<_, artemon_formats::ReadError>(rows)
    })
}

/// As many as `PROPTEST_CASES` says, or a few.
fn cases() -> ProptestConfig {
    let many = std::env::var("PROPTEST_CASES").ok().and_then(|n| n.parse().ok());
    ProptestConfig { cases: many.unwrap_or(400), ..ProptestConfig::default() }
}

proptest! {
    #![proptest_config(cases())]

    #[test]
    fn a_changed_statement_is_answered(n in 0..3usize, changes in vec(change(), 1..6)) {
        let bytes = changed(&STATEMENTS[n], &changes);
        let _ = ofx::is_ofx(&bytes);
        soon(|| ofx::read(&bytes))?;
    }

    #[test]
    fn a_changed_table_of_an_account_is_answered(changes in vec(change(), 1..6)) {
        let bytes = changed(ACCOUNT, &changes);
        soon(|| {
            let head = csv_statement::StatementHead::of(&bytes)?;
            let mapping = csv_statement::guess(&head);
            csv_statement::read(&head, &mapping).map(|_| ())
        })?;
    }

    #[test]
    fn a_changed_table_is_answered(n in 0..TABLES.len(), changes in vec(change(), 1..6), to in select(Table::ALL.to_vec())) {
        let file = tempfile::Builder::new().suffix(".csv").tempfile().unwrap();
        fs::write(file.path(), changed(&TABLES[n].1, &changes)).unwrap();
        soon(|| {
            let sample = Sample::of(file.path())?;
            let mapping = mapped_table::guess(&sample).unwrap_or_else(|| mapped_table::for_table(&sample, to));
            mapped_table::preview(&sample.table, &mapping, 10).ok();
            mapped_table::read(&sample.table, &mapping, &mut Known::default(), &mut |_| Ok(()))
        })?;
    }

    #[test]
    fn a_changed_package_is_answered(n in 0..TABLES.len() + 1, changes in vec(change(), 1..6)) {
        let folder = tempfile::tempdir().unwrap();
        let mut files = vec![("datapackage.json".to_owned(), descriptor())];
        files.extend(TABLES.iter().map(|(table, bytes)| (format!("{}.csv", table.code()), bytes.clone())));
        files[n].1 = changed(&files[n].1, &changes);
        files.iter().for_each(|(name, bytes)| fs::write(folder.path().join(name), bytes).unwrap());
        read_package(folder.path())?;
    }

    /// Every fact has its outcome, whatever was changed, and no row is of a day after the filing.
    #[test]
    fn a_changed_filing_is_answered(n in 0..FILINGS.len(), changes in vec(change(), 1..6)) {
        let folder = tempfile::tempdir().unwrap();
        for table in ["harbour-2024fy-figures.csv", "harbour-2024fy-texts.csv"] {
            fs::copy(golden("formats/xbrl-csv/bank").join(table), folder.path().join(table)).unwrap();
        }
        let path = folder.path().join("filing");
        fs::write(&path, changed(&FILINGS[n], &changes)).unwrap();
        let answers = Answers { filed_on: Some("2025-09-04".parse().unwrap()), ..Answers::default() };
        let source = [FilingSource { path: path.clone(), answers }];
        soon(|| match recognise(&path)? {
            Format::Ownership => ownership_xml::read(&source, &Anybody, &mut |_| Ok(())),
            _ => filings::read(&source, &OwnConcepts::new(), &Anybody, &mut |_| Ok(())),
        })?;
    }

    #[test]
    fn changed_facts_of_a_filer_are_answered(changes in vec(change(), 1..6)) {
        static FACTS: LazyLock<Vec<u8>> = LazyLock::new(|| {
            let zip = fs::File::open(golden("formats/bulk/company-facts/company-facts.zip")).unwrap();
            let mut bytes = Vec::new();
            zip::ZipArchive::new(zip).unwrap().by_name("CIK9000000003.json").unwrap().read_to_end(&mut bytes).unwrap();
            bytes
        });
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("facts.json");
        fs::write(&path, changed(&FACTS, &changes)).unwrap();
        soon(|| company_facts::read(&path, &Anybody, &mut |_| Ok(())))?;
    }

    /// Parquet files, and workbooks of which one part is changed before they are packed again.
    #[test]
    fn a_changed_binary_table_is_answered(n in 0..BINARY.len(), part in any::<prop::sample::Index>(), changes in vec(change(), 1..5)) {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("table");
        let bytes = fs::read(golden(BINARY[n])).unwrap();
        let bytes = if BINARY[n].ends_with("xlsx") { repacked(&bytes, part, &changes) } else { changed(&bytes, &changes) };
        fs::write(&path, bytes).unwrap();
        soon(|| {
            let sheets = match recognise(&path)? {
                Format::Workbook => workbook::sheets(&path)?.into_iter().map(|s| Some(s.name)).collect(),
                _ => vec![None],
            };
            for sheet in sheets {
                let table = TableFile { path: path.clone(), sheet };
                let sample = Sample::of_table(&table)?;
                let mapping = mapped_table::guess(&sample).unwrap_or_else(|| mapped_table::for_table(&sample, Table::Prices));
                mapped_table::read(&table, &mapping, &mut Known::default(), &mut |_| Ok(()))?;
            }
            Ok::<_, ReadError>(())
        })?;
    }

    /// Files of prices and of rates, whatever was changed in them.
    #[test]
    fn a_changed_file_of_prices_or_rates_is_answered(n in 0..PLAIN.len(), changes in vec(change(), 1..6)) {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("KLMR.csv");
        fs::write(&path, changed(&fs::read(golden(PLAIN[n])).unwrap(), &changes)).unwrap();
        soon(|| price_files::read(&PriceFiles::Files(vec![path.clone()]), &PriceAnswers::default(), &Anybody, &mut |_| Ok(())))?;
        let answers = ObservationAnswers {
            series: Some("government_10y_yield".parse().unwrap()),
            currency: Some("XFA".parse().unwrap()),
            chosen: [("MATURITY_CAT".to_owned(), "CI".to_owned())].into(),
        };
        soon(|| sdmx_csv::read(&path, &answers, &mut |_| Ok(())))?;
    }

    /// A report as it was written of a filing.
    #[test]
    fn a_changed_report_of_statements_is_answered(changes in vec(change(), 1..6)) {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("report.json");
        fs::write(&path, changed(&REPORT, &changes)).unwrap();
        let known = Known { companies: [Arc::from("C1")].into(), ..Known::default() };
        soon(|| statement_report::read(std::slice::from_ref(&path), &mut known.clone(), &mut |_| Ok(())))?;
    }

    /// Sets of statements and of trades, one file of each changed.
    #[test]
    fn a_changed_set_is_answered(n in 0..2usize, m in 0..4usize, changes in vec(change(), 1..6)) {
        static SETS: LazyLock<[Files; 2]> = LazyLock::new(|| {
            let files = |path: &str| {
                let mut zip = zip::ZipArchive::new(fs::File::open(golden(path)).unwrap()).unwrap();
                let names: Vec<String> = zip.file_names().map(|n| n.unwrap().into_owned()).collect();
                let mut read = |name: &String| {
                    let mut bytes = Vec::new();
                    zip.by_name(name).unwrap().read_to_end(&mut bytes).unwrap();
                    bytes
                };
                names.iter().map(|name| (name.clone(), read(name))).collect()
            };
            [files("formats/bulk/statement-sets/2024q2.zip"), files("formats/bulk/insider-sets/2024q2_form345.zip")]
        });
        const READ: [[&str; 4]; 2] = [
            ["sub.txt", "num.txt", "num.txt", "sub.txt"],
            ["SUBMISSION.tsv", "NONDERIV_TRANS.tsv", "REPORTINGOWNER.tsv", "FOOTNOTES.tsv"],
        ];
        let folder = tempfile::tempdir().unwrap();
        for (name, bytes) in &SETS[n] {
            let bytes = if *name == READ[n][m] { changed(bytes, &changes) } else { bytes.clone() };
            fs::write(folder.path().join(name), bytes).unwrap();
        }
        let path = [folder.path().join(READ[n][0])];
        soon(|| match n {
            0 => statement_sets::read(&path, &OwnConcepts::new(), &Anybody, NewFilers::Add, &mut |_| Ok(())),
            _ => insider_sets::read(&path, &Anybody, &mut |_| Ok(())),
        })?;
    }

    #[test]
    fn a_changed_zip_is_answered(changes in vec(change(), 1..4)) {
        static ZIP: LazyLock<Vec<u8>> = LazyLock::new(zip);
        let file = tempfile::Builder::new().suffix(".zip").tempfile().unwrap();
        fs::write(file.path(), changed(&ZIP, &changes)).unwrap();
        read_package(file.path())?;
    }
}
