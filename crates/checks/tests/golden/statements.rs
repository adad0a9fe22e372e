//! Statements in OFX, row by row.

use artemon_formats::{
    ofx,
    statement::{Statement, StatementError, StatementRow},
};
use rust_decimal::Decimal;
use std::{
    collections::BTreeMap,
    fs,
    path::{Path, PathBuf},
};

const FILES: [&str; 3] = ["account-2025q1.ofx", "account-2025q1-sgml.ofx", "account-2025q2.qfx"];

fn folder() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/formats/ofx")
}

fn statement(file: &str) -> Statement {
    let mut all = ofx::read(&fs::read(folder().join(file)).unwrap()).unwrap();
    assert_eq!(all.len(), 1, "{file}");
    all.remove(0)
}

/// The rows of an expected file, by column.
fn expected(name: &str) -> Vec<BTreeMap<String, String>> {
    let mut reader = csv::Reader::from_path(folder().join(name)).unwrap();
    let heads = reader.headers().unwrap().clone();
    let row = |r: csv::StringRecord| heads.iter().map(str::to_owned).zip(r.iter().map(str::to_owned)).collect();
    reader.records().map(|r| row(r.unwrap())).collect()
}

/// Amounts as amounts, everything else as text.
fn same(got: &BTreeMap<&str, String>, want: &BTreeMap<String, String>) {
    for (column, want) in want {
        let got = got.get(column.as_str()).unwrap_or_else(|| panic!("no column {column}"));
        let number = |text: &str| text.parse::<Decimal>().ok();
        match (number(got), number(want)) {
            (Some(got), Some(want)) => assert_eq!(got, want, "{column}"),
            _ => assert_eq!(got, want, "{column}"),
        }
    }
}

fn figure(x: Option<Decimal>) -> String {
    x.map(|x| x.to_string()).unwrap_or_default()
}

fn columns<'c>(file: &str, of: &Statement, r: &StatementRow) -> BTreeMap<&'c str, String> {
    BTreeMap::from([
        ("file", file.to_owned()),
        ("account", of.account.clone()),
        ("id", r.id.clone()),
        ("traded_on", r.traded_on.to_string()),
        ("settled_on", r.settled_on.map(|d| d.to_string()).unwrap_or_default()),
        ("kind", r.kind.code().to_owned()),
        ("isin", r.security.isin.clone()),
        ("symbol", r.security.symbol.clone()),
        ("name", r.security.name.clone()),
        ("units", figure(r.units)),
        ("price", figure(r.price)),
        ("commission", figure(r.commission)),
        ("fees", figure(r.fees)),
        ("withheld", figure(r.withheld)),
        ("total", figure(r.total)),
        ("currency", r.currency.clone()),
        ("memo", r.memo.clone()),
    ])
}

#[test]
fn every_row_of_every_statement_agrees() {
    let want = expected("expected-ledger.csv");
    let got: Vec<_> = FILES
        .iter()
        .flat_map(|f| {
            let of = statement(f);
            of.rows.iter().map(|r| columns(f, &of, r)).collect::<Vec<_>>()
        })
        .collect();
    assert_eq!(got.len(), want.len());
    got.iter().zip(&want).for_each(|(got, want)| same(got, want));
    assert!(FILES.iter().all(|f| statement(f).left_out.is_empty()) && expected("expected-left-out.csv").is_empty());
}

#[test]
fn what_was_held_and_in_cash_at_the_end_agrees() {
    let mut held = expected("expected-positions.csv").into_iter();
    for (file, cash) in FILES.iter().zip(expected("expected-cash.csv")) {
        let of = statement(file);
        let (day, amount) = of.cash.unwrap();
        let day = day.to_string();
        same(
            &BTreeMap::from([
                ("file", (*file).to_owned()),
                ("account", of.account.clone()),
                ("as_of", day.clone()),
                ("cash", amount.to_string()),
                ("currency", of.currency.clone()),
            ]),
            &cash,
        );
        for p in &of.positions {
            let got = BTreeMap::from([
                ("file", (*file).to_owned()),
                ("account", of.account.clone()),
                ("as_of", day.clone()),
                ("isin", p.security.isin.clone()),
                ("symbol", p.security.symbol.clone()),
                ("units", p.units.to_string()),
                ("price", figure(p.price)),
                ("value", figure(p.value)),
                ("currency", of.currency.clone()),
            ]);
            same(&got, &held.next().unwrap());
        }
    }
    assert_eq!(held.next(), None);
}

/// Cut off anywhere it is refused; a reversal takes both lines out and names them; entities are refused unread.
#[test]
fn what_cannot_be_trusted_is_refused_or_named() {
    for file in FILES {
        let bytes = fs::read(folder().join(file)).unwrap();
        for part in 1..12 {
            let cut = &bytes[..bytes.len() * part / 12];
            assert!(ofx::read(cut).is_err(), "{file} cut at {part}/12");
        }
    }
    let text = fs::read_to_string(folder().join("account-2025q1.ofx")).unwrap();
    let reversal = text.replacen("<FITID>T5</FITID>", "<FITID>T5x</FITID><REVERSALFITID>T1</REVERSALFITID>", 1);
    let of = ofx::read(reversal.as_bytes()).unwrap().remove(0);
    assert!(of.rows.iter().all(|r| r.id != "T1" && r.id != "T5x"));
    assert_eq!(of.left_out.iter().map(|l| l.id.as_str()).collect::<Vec<_>>(), ["T5x", "T1"]);
    let entity = text.replacen("<OFX>", "<!DOCTYPE OFX [<!ENTITY a \"aaaa\">]><OFX>", 1);
    assert!(matches!(ofx::read(entity.as_bytes()), Err(StatementError::Not(_))));
    let bad = text.replacen("<UNITS>500</UNITS>", "<UNITS>1e40</UNITS>", 1);
    assert!(matches!(ofx::read(bad.as_bytes()), Err(StatementError::Bad { .. })));
}
