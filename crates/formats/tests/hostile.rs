//! Files that are broken or meant to harm: refused with a reason, in bounded memory, never with a panic.
#![allow(clippy::unwrap_used)]

use artemon_core::domain::{Record, Table};
use artemon_formats::{
    Known, ReadError, ReadReport, TableFile, data_package,
    mapped_table::{self, Sample, guess},
};
use proptest::prelude::*;
use std::{
    fs,
    io::Write,
    path::{Path, PathBuf},
};
use zip::{CompressionMethod, ZipWriter, write::SimpleFileOptions};

const COMPANIES: &str = "company_id,name,currency,kind\nC,Company,XFA,operating\n";

fn read(path: &Path) -> Result<(ReadReport, Vec<Record>), ReadError> {
    let mut rows = Vec::new();
    let mut take = |r| {
        rows.push(r);
        Ok(())
    };
    let report = data_package::read(path, &mut Known::default(), &mut take)?;
    Ok((report, rows))
}

fn descriptor(files: &[(&str, &str)]) -> String {
    let resources: Vec<_> = files.iter().map(|(name, path)| format!(r#"{{"name": "{name}", "path": "{path}"}}"#)).collect();
    format!(r#"{{"resources": [{}]}}"#, resources.join(","))
}

/// A package folder with a companies table and one more file.
fn package(name: &str, contents: &[u8]) -> tempfile::TempDir {
    let folder = tempfile::tempdir().unwrap();
    fs::write(folder.path().join("datapackage.json"), descriptor(&[("companies", "companies.csv"), (name, "more.csv")])).unwrap();
    fs::write(folder.path().join("companies.csv"), COMPANIES).unwrap();
    fs::write(folder.path().join("more.csv"), contents).unwrap();
    folder
}

fn zipped(files: &[(&str, &[u8])]) -> tempfile::TempPath {
    let file = tempfile::Builder::new().suffix(".zip").tempfile().unwrap();
    let mut zip = ZipWriter::new(file.reopen().unwrap());
    for (name, contents) in files {
        zip.start_file(*name, SimpleFileOptions::default().compression_method(CompressionMethod::Deflated)).unwrap();
        zip.write_all(contents).unwrap();
    }
    zip.finish().unwrap();
    file.into_temp_path()
}

fn refusal(path: &Path) -> String {
    read(path).map(|_| "it was taken").unwrap_err().to_string().replace(&*path.to_string_lossy(), "PACKAGE")
}

#[test]
fn descriptors_that_cannot_be_right_are_refused() {
    let with = |text: &str| {
        let folder = tempfile::tempdir().unwrap();
        fs::write(folder.path().join("datapackage.json"), text).unwrap();
        fs::write(folder.path().join("companies.csv"), COMPANIES).unwrap();
        refusal(folder.path())
    };
    let said = [
        with("[]"),
        with(r#"{"resources": [{"name": "companies"}]}"#),
        with(r#"{"resources": [{"name": "companies", "path": ["companies.csv", "more.csv"]}]}"#),
        with(&descriptor(&[("companies", "datapackage.json")])),
        with(&descriptor(&[("companies", "companies.csv"), ("companies", "more.csv")])),
        with(&descriptor(&[("companies", "companies.csv"), ("listings", "companies.csv")])),
        with(&descriptor(&[("companies", "missing.csv")])),
        with(&descriptor(&[("companies", "/etc/hostname")])),
        with(&descriptor(&[("companies", "a/../../companies.csv")])),
        with(r#"{"resources": [{"name": "companies", "path": "companies.csv", "encoding": "iso-8859-1"}]}"#),
    ];
    insta::assert_snapshot!(said.join("\n"));
}

#[cfg(unix)]
#[test]
fn a_link_out_of_the_package_is_not_followed() {
    let (folder, outside) = (package("events", b""), tempfile::NamedTempFile::new().unwrap());
    fs::remove_file(folder.path().join("more.csv")).unwrap();
    std::os::unix::fs::symlink(outside.path(), folder.path().join("more.csv")).unwrap();
    assert!(refusal(folder.path()).contains("lies outside the package"));
}

#[test]
fn zips_are_read_like_folders_and_traps_are_refused() {
    let fine = zipped(&[
        ("mine/datapackage.json", descriptor(&[("companies", "companies.csv")]).as_bytes()),
        ("mine/companies.csv", COMPANIES.as_bytes()),
    ]);
    assert_eq!(read(&fine).unwrap().1.len(), 1);
    let traversal = zipped(&[("datapackage.json", b"{}"), ("../evil.csv", b"")]);
    assert!(refusal(&traversal).contains("has a path outside it: ../evil.csv"));
    let nothing = zipped(&[("readme.txt", b"")]);
    assert!(refusal(&nothing).contains("has no datapackage.json"));
    let no_zip = tempfile::Builder::new().suffix(".zip").tempfile().unwrap();
    fs::write(no_zip.path(), "this is no zip").unwrap();
    assert!(refusal(no_zip.path()).contains("neither a folder nor a zip"));
    // A bomb: a hundred megabytes of commas in a few hundred kilobytes of zip.
    let mut bomb = b"company_id,date,kind\n".to_vec();
    bomb.extend(std::iter::repeat_n(b"C,2024-01-01,meeting\n".as_slice(), 5_000_000).flatten());
    let bomb = zipped(&[
        ("datapackage.json", descriptor(&[("companies", "companies.csv"), ("events", "events.csv")]).as_bytes()),
        ("companies.csv", COMPANIES.as_bytes()),
        ("events.csv", &bomb),
    ]);
    let said = refusal(&bomb);
    assert!(said.contains("unpacks to more than 100 times its size"), "{said}");
}

#[test]
fn rows_without_end_and_strange_bytes_are_refused() {
    let endless = [b"company_id,date,kind\nC,\"".as_slice(), &vec![b'x'; 12 << 20]].concat();
    let said = refusal(package("events", &endless).path());
    assert!(said.contains("one row is longer than 4 MB") && said.contains("quotation mark"), "{said}");
    let utf16: Vec<u8> = "\u{feff}company_id,date,kind".encode_utf16().flat_map(u16::to_le_bytes).collect();
    assert!(refusal(package("events", &utf16).path()).contains("UTF-16"));
    let bad = |contents: &[u8]| read(package("officers", contents).path()).unwrap().0.bad[0].to_string();
    let said = [
        bad(b"company_id,name,role\nC,Nu\0l,director\n"),
        bad(b"company_id,name,role\nC,Caf\xe9,director\n"),
        bad(b"company_id,name,role\nD,Someone,director\n"),
        bad(b"company_id,name,role,since,until\nC,Someone,director,2024-02-01,2024-01-01\n"),
    ];
    insta::assert_snapshot!(said.join("\n"));
    let uneven = refusal(package("officers", b"company_id,name,role\nC,Someone\n").path());
    assert!(uneven.contains("line 2") && uneven.contains("2 cells where the header has 3"), "{uneven}");
}

#[test]
fn double_rows_of_every_table_are_found() {
    let twice = |name: &str, header: &str, row: &str| {
        let (report, _) = read(package(name, format!("{header}\n{row}\n{row}\n").as_bytes()).path()).unwrap();
        assert_eq!((report.bad_rows, report.bad[0].line), (1, 3), "{name}");
        assert!(report.bad[0].expected.contains("already"), "{name}");
    };
    twice("events", "company_id,date,kind", "C,2024-01-01,meeting");
    twice("ownership", "company_id,as_of,filed_on", "C,2024-01-01,2024-02-01");
    twice("rates", "date,currency,series,value", "2024-01-01,XFA,inflation,0.02");
    twice("fx", "date,base,quote,rate", "2024-01-01,XFA,XFB,2");
    twice("news", "company_id,published_at,headline", ",2024-01-01T08:00:00Z,Quiet");
    twice("estimates", "company_id,published_on,metric,mean", "C,2024-01-01,rating,2");
    twice("statements", "company_id,fiscal_year,period,period_end,filed_on,currency", "C,2023,FY,2023-12-31,2024-02-01,XFA");
}

#[test]
fn a_mapped_table_is_guessed_and_converted() {
    let path = |name: &str, text: &str| -> (tempfile::TempDir, PathBuf) {
        let folder = tempfile::tempdir().unwrap();
        let file = folder.path().join(name);
        fs::write(&file, text).unwrap();
        (folder, file)
    };
    let (_a, prices) = path("q.csv", "Code\tTrade date\tLast (cents)\tVol\nQRW\t6/28/2024\t1,250\t10\nQRW\t6/30/2024\t1,300\t20\n");
    let mapping =
        guess(&Sample::of(&prices).unwrap()).unwrap_or_else(|| mapped_table::for_table(&Sample::of(&prices).unwrap(), Table::Prices));
    assert_eq!((mapping.table, mapping.delimiter, mapping.dates), (Table::Prices, '\t', mapped_table::DateOrder::MonthDayYear));
    let (_b, named) = path("fx.csv", "date,base,quote,rate\n2024-01-01,XFA,XFB,2\n");
    assert_eq!(guess(&Sample::of(&named).unwrap()).unwrap().table, Table::Fx);
    let (_c, picture) = path("p.csv", "\u{0}PNG");
    assert!(Sample::of(&picture).unwrap_err().to_string().contains("a NUL character"));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]

    /// Whatever bytes stand in a file, reading ends with a report or a refusal.
    #[test]
    fn any_bytes_are_answered(bytes in proptest::collection::vec(any::<u8>(), 0..400), table in 0..Table::ALL.len()) {
        let name = Table::ALL[table].code();
        if name != "companies" {
            let _ = read(package(name, &bytes).path());
        }
    }

    /// The same for files that begin well and then go wrong.
    #[test]
    fn any_rows_are_answered(table in 1..Table::ALL.len(), rows in "([a-zC0-9.,\"\n-]|2024-0[1-9]-1[0-9]){0,200}") {
        let table = Table::ALL[table];
        let header: Vec<_> = artemon_formats::columns(table).iter().map(|c| c.name).collect();
        let folder = package(table.code(), format!("{}\n{rows}", header.join(",")).as_bytes());
        if let Ok((report, taken)) = read(folder.path()) {
            prop_assert_eq!(report.rows.iter().map(|r| r.1).sum::<u64>(), taken.len() as u64);
        }
    }

    /// Mapped files too.
    #[test]
    fn any_csv_is_answered(text in "[ -~\n;\t]{0,300}") {
        let file = tempfile::Builder::new().suffix(".csv").tempfile().unwrap();
        fs::write(file.path(), text).unwrap();
        if let Ok(sample) = Sample::of(file.path()) {
            for table in Table::ALL {
                let mapping = mapped_table::for_table(&sample, *table);
                let _ = mapped_table::preview(&TableFile::of(file.path()), &mapping, 10);
            }
        }
    }
}
