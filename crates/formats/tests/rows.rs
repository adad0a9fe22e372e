//! A row of every table as it is written and read, and what is wrong with each cell that cannot be taken.
#![allow(clippy::unwrap_used)]

use artemon_core::domain::{Record, Table};
use artemon_formats::{BlockWriter, Known, ReadReport, columns, data_package, required};
use std::{collections::BTreeMap, fs};

/// A full row and one with only what it must have, by table.
const ROWS: [(&str, &str, &str); 17] = [
    (
        "companies",
        "C1,\"Cane, Sons & Co\",XA,Sector,Industry,XFA,12,operating,\"Says \"\"hello\"\".\",120.5,1890,LEI1",
        "C2,Second,,,,XFB,12,bank,,,,",
    ),
    ("listings", "S1,C1,XXXX,US0378331005,XFA,4,true,2001-02-03,2020-01-31,-0.5", "S2,C2,,,XFB,1,true,,,"),
    ("statements", "", ""),
    ("prices", "S1,2015-01-05,10,12.5,9.75,11,1200", "S2,2015-01-05,0.001,0.001,0.001,0.001,0"),
    ("actions", "S1,2015-03-02,split,0.1,,2015-02-01,2015-03-01,2015-03-05", "S1,2015-06-01,dividend,,0.25,,,"),
    ("estimates", "C1,2015-01-10,eps,2015,,1.25,1,1.5,7", "C1,2015-01-10,price_target,,,30,,,"),
    (
        "insider_trades",
        "C1,F1,2015-02-04,2015-02-02,P1,Person,chief_executive,P,true,100,9.5,XFA,600,true,false,2015-03-04",
        "C1,,2015-02-04,2015-02-02,P2,,,S,false,1,,XFA,,true,false,",
    ),
    ("ownership", "C1,2014-12-31,2015-01-20,0.1,0.25,0.5,0.01", "C1,2015-03-31,2015-04-20,,,,"),
    ("rates", "2015-01-05,XFA,aaa_corporate_yield,0.045", "2015-01-05,XFA,inflation,-0.01"),
    ("fx", "2015-01-05,XFA,XFB,1.5", "2015-01-06,XFA,XFB,1.25"),
    ("officers", "C1,Person,Chief executive,2010-01-01,2014-12-31,1960", "C1,Other,Chair,,,"),
    ("events", "C1,2015-05-05,earnings,true,2015-04-01", "C1,2015-08-05,earnings,false,"),
    ("news", "C1,2015-01-05T08:00:00Z,A headline,A summary,A source", ",2015-01-06T08:00:00+02:00,Of nobody,,"),
    ("indexes", "I1,Index,XFA", "I2,Other,XFB"),
    ("index_members", "I1,C1,2010-01-01,2012-12-31", "I1,C2,2010-01-01,"),
    ("index_levels", "I1,2015-01-05,100.5", "I1,2015-01-06,101"),
    ("annotations", "C1,list,Favourites,why,2015-01-05", "C2,note,,A thought,"),
];

fn header(table: Table) -> String {
    columns(table).iter().map(|c| c.name).collect::<Vec<_>>().join(",")
}

/// A row of *statements*: the keys, then numbers for the items counted from 1, or nothing.
fn statement(keys: &str, filled: bool) -> String {
    let items = columns(Table::Statements).len() - 7;
    let cells: Vec<String> = (1..=items).map(|i| if filled { format!("{i}.5") } else { String::new() }).collect();
    format!("{keys},{}", cells.join(","))
}

fn rows() -> BTreeMap<Table, Vec<String>> {
    let of = |(name, full, least): &(&str, &str, &str)| {
        let table: Table = name.parse().unwrap();
        let rows = if table == Table::Statements {
            vec![statement("C1,2014,FY,2014-12-31,2015-02-20,XFA,C1-2014", true), statement("C1,2015,Q1,2015-03-31,2015-05-01,XFA,", false)]
        } else {
            vec![(*full).to_owned(), (*least).to_owned()]
        };
        (table, rows)
    };
    ROWS.iter().map(of).collect()
}

fn read(rows: &BTreeMap<Table, Vec<String>>) -> (ReadReport, Vec<Record>) {
    let folder = tempfile::tempdir().unwrap();
    let resources: Vec<String> = rows.keys().map(|t| format!(r#"{{"name": "{0}", "path": "{0}.csv"}}"#, t.code())).collect();
    fs::write(folder.path().join("datapackage.json"), format!(r#"{{"resources": [{}]}}"#, resources.join(","))).unwrap();
    for (table, rows) in rows {
        fs::write(folder.path().join(format!("{}.csv", table.code())), format!("{}\n{}\n", header(*table), rows.join("\n"))).unwrap();
    }
    let mut all = Vec::new();
    let mut take = |r| {
        all.push(r);
        Ok(())
    };
    let report = data_package::read(folder.path(), &mut Known::default(), &mut take).unwrap();
    (report, all)
}

/// What is read is written again to the last character, quotation marks and empty cells too.
#[test]
fn every_table_is_written_as_it_was_read() {
    let given = rows();
    let (report, records) = read(&given);
    assert_eq!((report.bad_rows, &report.bad[..]), (0, &[][..]));
    assert_eq!(records.len(), 2 * Table::ALL.len());
    let mut out = BlockWriter::default();
    let mut blocks: Vec<_> = records.iter().filter_map(|r| out.write(r).unwrap()).collect();
    blocks.extend(out.take().unwrap());
    assert_eq!(blocks.len(), Table::ALL.len());
    for block in blocks {
        let text = String::from_utf8(block.bytes).unwrap();
        let want = format!("{}\n{}\n", header(block.table), given[&block.table].join("\n"));
        assert_eq!((text, block.rows), (want, 2), "{}", block.table.code());
    }
}

/// A table of many rows comes in several blocks, of which the first has the header; one without rows has it too.
#[test]
fn blocks_begin_with_the_header_once() {
    let price = read(&rows()).1.into_iter().find(|r| r.table() == Table::Prices).unwrap();
    let mut out = BlockWriter::default();
    let mut blocks: Vec<_> = (0..20_000).filter_map(|_| out.write(&price).unwrap()).collect();
    blocks.extend(out.begin(Table::Rates).unwrap());
    blocks.extend(out.take().unwrap());
    assert!(blocks.len() > 3);
    assert_eq!(blocks.iter().map(|b| b.rows).sum::<u64>(), 20_000);
    let headed = |b: &artemon_formats::Block| b.bytes.starts_with(header(b.table).as_bytes());
    assert_eq!(blocks.iter().map(headed).filter(|h| *h).count(), 2);
    assert!(headed(&blocks[0]) && headed(blocks.last().unwrap()) && blocks.last().unwrap().rows == 0);
}

/// One cell of the first row changed: the row is bad, and is told by line, column, what stands there and what was expected.
#[track_caller]
fn bad(table: &str, column: &str, value: &str, expected: &str) {
    let table: Table = table.parse().unwrap();
    let mut all = rows();
    let place = columns(table).iter().position(|c| c.name == column).unwrap();
    let mut cells = csv::ReaderBuilder::new().has_headers(false).from_reader(all[&table][0].as_bytes()).records().next().unwrap().unwrap();
    cells = cells.iter().enumerate().map(|(i, cell)| if i == place { value } else { cell }).collect();
    let mut line = csv::Writer::from_writer(Vec::new());
    line.write_record(&cells).unwrap();
    all.get_mut(&table).unwrap()[0] = String::from_utf8(line.into_inner().unwrap()).unwrap().trim_end().to_owned();
    let (report, _) = read(&all);
    let told =
        report.bad.iter().find(|b| b.file == format!("{}.csv", table.code())).unwrap_or_else(|| panic!("{column} = {value} was taken"));
    assert_eq!((told.line, told.column.as_str(), told.value.as_str()), (2, column, value));
    assert!(told.expected.contains(expected), "{column} = {value}: {}", told.expected);
    assert!(!told.remedy.is_empty());
}

#[test]
fn numbers_days_flags_and_codes_are_checked() {
    bad("prices", "open", "ten", "a number");
    bad("prices", "close", "1e999", "a number");
    bad("prices", "close", "", "a number");
    bad("prices", "date", "2015-02-29", "a date");
    bad("prices", "date", "2015-01x05", "a date");
    bad("prices", "date", "05.01.2015", "a date");
    bad("companies", "founded", "1890.5", "a whole number");
    bad("companies", "kind", "bakery", "operating");
    bad("companies", "currency", "xfa", "currency");
    bad("listings", "primary", "perhaps", "true or false");
    bad("news", "published_at", "2015-01-05", "a moment");
    bad("news", "published_at", "2015-01-05T25:00:00Z", "a moment");
    bad("statements", "period", "Q5", "Q1");
    bad("statements", "fiscal_year", "", "a whole number");
    bad("insider_trades", "role", "cook", "chief_executive");
    bad("actions", "kind", "merger", "split");
    bad("estimates", "metric", "hope", "eps");
    bad("rates", "series", "tea", "inflation");
    bad("events", "kind", "party", "earnings");
    bad("events", "announced_on", "2015-06-01", "a date on or before date");
    bad("annotations", "kind", "song", "note");
}

#[test]
fn what_cannot_be_is_refused() {
    bad("companies", "country", "Xa", "country code");
    bad("companies", "fiscal_year_end_month", "13", "month from 1 to 12");
    bad("companies", "company_id", "", "a key");
    bad("listings", "isin", "US0378331006", "check digit");
    bad("listings", "delisted_on", "2001-02-02", "on or after listed_on");
    bad("listings", "shares_per_unit", "0", "above 0");
    bad("statements", "filed_on", "2014-12-30", "on or after period_end");
    bad("prices", "low", "0", "above 0");
    bad("prices", "open", "13", "between low and high");
    bad("prices", "close", "9.5", "between low and high");
    bad("prices", "volume", "-1", "0 or more");
    bad("actions", "ratio", "0", "above 0");
    bad("actions", "ratio", "", "above 0");
    bad("insider_trades", "filed_on", "2015-02-01", "on or after traded_on");
    bad("insider_trades", "superseded_on", "2015-02-03", "on or after filed_on");
    bad("ownership", "insiders", "1.01", "fraction from 0 to 1");
    bad("ownership", "pledged", "-0.1", "fraction from 0 to 1");
    bad("fx", "rate", "0", "above 0");
    bad("officers", "until", "2009-12-31", "on or after since");
    bad("index_members", "to", "2009-12-31", "on or after from");
    bad("index_levels", "level", "0", "above 0");
}

#[test]
fn what_a_row_refers_to_must_be_known() {
    bad("listings", "company_id", "C9", "known company");
    bad("statements", "company_id", "C9", "known company");
    bad("prices", "symbol", "S9", "known listing");
    bad("actions", "symbol", "S9", "known listing");
    bad("index_members", "index_id", "I9", "known index");
    bad("index_members", "company_id", "C9", "known company");
    bad("index_levels", "index_id", "I9", "known index");
}

/// The second of two rows with one key is the bad one.
#[test]
fn a_key_stands_once() {
    for table in Table::ALL {
        let mut all = rows();
        let first = all[table][0].clone();
        all.get_mut(table).unwrap().push(first);
        let (report, records) = read(&all);
        let told = report.bad.iter().find(|b| b.file == format!("{}.csv", table.code()));
        assert!(told.is_some_and(|b| b.line == 4), "{}: {told:?}", table.code());
        assert_eq!(records.len(), 2 * Table::ALL.len());
    }
}

/// Only one listing of a company is the primary one.
#[test]
fn a_company_has_one_primary_listing() {
    let mut all = rows();
    all.get_mut(&Table::Listings).unwrap().push("S3,C1,,,XFA,1,true,,,".to_owned());
    let report = read(&all).0;
    assert_eq!((report.bad_rows, report.bad[0].column.as_str()), (1, "primary"));
    all.get_mut(&Table::Listings).unwrap()[2] = "S3,C1,,,XFA,1,false,,,".to_owned();
    assert_eq!(read(&all).0.bad_rows, 0);
}

/// Without a column that a table must have, the file is refused; without another it is read.
#[test]
fn columns_that_must_be_there_are_those_listed() {
    for table in Table::ALL {
        for name in required(*table) {
            assert!(columns(*table).iter().any(|c| c.name == *name), "{name} of {}", table.code());
        }
    }
}
