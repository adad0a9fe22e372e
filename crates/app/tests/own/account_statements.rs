//! Statements of brokers: held against the journal, taken in once, taken back as a whole.

use crate::{
    ledger::{account, demo, page, symbol},
    now,
};
use artemon_app::{
    AccountStatement, AccountStatementRequest, Entered, Home, LedgerFormat, LedgerRequest, RowState, account_statement, ledger_file,
    statement_imports, undo_statement, write_down,
};
use calamine::Reader;
use serde_json::{Value, json};
use std::{fs, path::Path, sync::Arc};

fn fixture(name: &str) -> Vec<u8> {
    fs::read(Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/formats/ofx").join(name)).unwrap()
}

fn asked(home: &Arc<Home>, bytes: &[u8], request: &Value) -> Result<AccountStatement, artemon_app::AppError> {
    let request: AccountStatementRequest = serde_json::from_value(request.clone()).unwrap();
    account_statement(&now(home), "statement.ofx", bytes, &request)
}

fn cash(home: &Arc<Home>) -> f64 {
    page(home).accounts[0].cash
}

fn held(home: &Arc<Home>) -> Vec<(String, f64)> {
    page(home).holdings.iter().map(|h| (h.name.clone(), h.quantity)).collect()
}

/// Two quarters, the first in both versions of the format: cash and shares come out as the statements say, nothing twice, and all of it
/// can be taken back.
#[test]
fn two_quarters_tie_out_and_can_be_taken_back() {
    let (_folder, home) = demo();
    let own = account(&home, "Broker", "by_hand", 0.0);
    let take = json!({"account": own, "take": true});
    let seen = asked(&home, &fixture("account-2025q1.ofx"), &json!({"account": own})).unwrap();
    assert_eq!((seen.new, seen.known, seen.refused, seen.taken.as_deref()), (10, 0, 0, None));
    assert!(seen.differences.is_empty() && held(&home).is_empty(), "only looked at: {:?}", seen.differences);
    let first = asked(&home, &fixture("account-2025q1.ofx"), &take).unwrap().taken.unwrap();
    assert!((cash(&home) - 14_613.26).abs() < 1e-6, "{}", cash(&home));
    let again = asked(&home, &fixture("account-2025q1-sgml.ofx"), &json!({"account": own})).unwrap();
    assert_eq!((again.new, again.known), (0, 10), "the same statement in the other version");
    assert!(asked(&home, &fixture("account-2025q1-sgml.ofx"), &take).unwrap_err().to_string().contains("nothing new"));
    let second = asked(&home, &fixture("account-2025q2.qfx"), &take).unwrap();
    // The second statement does not list the 80.375 shares that are still there.
    assert_eq!(second.differences.iter().map(|d| (d.stated, d.journal)).collect::<Vec<_>>(), [(0.0, 80.375)]);
    assert!((cash(&home) - 13_119.45).abs() < 1e-6, "{}", cash(&home));
    let shares = held(&home);
    assert!(shares.iter().any(|h| (h.1 - 800.0).abs() < 1e-9) && shares.iter().any(|h| (h.1 - 80.375).abs() < 1e-9), "{shares:?}");
    // The first cannot go while the second builds on it.
    assert!(undo_statement(&now(&home), &first).is_err());
    undo_statement(&now(&home), second.taken.as_deref().unwrap()).unwrap();
    undo_statement(&now(&home), &first).unwrap();
    assert!(statement_imports(&now(&home)).unwrap().is_empty() && held(&home).is_empty() && cash(&home).abs() < 1e-9);
}

/// The order in which statements come does not matter, but that what was sold must have been bought.
#[test]
fn a_later_statement_first_says_what_is_missing() {
    let (_folder, home) = demo();
    let own = account(&home, "Broker", "by_hand", 0.0);
    let seen = asked(&home, &fixture("account-2025q2.qfx"), &json!({"account": own})).unwrap();
    let refused: Vec<&str> = seen.rows.iter().filter(|r| r.state == RowState::Refused).map(|r| r.id.as_str()).collect();
    assert_eq!(refused, ["T9", "T11"], "no such shares are there to give capital back or to go");
    // Made good: shares and cash are as the statement says.
    let keys: Vec<&str> = seen.differences.iter().map(|d| d.key.as_str()).collect();
    asked(&home, &fixture("account-2025q2.qfx"), &json!({"account": own, "settle": keys, "take": true})).unwrap();
    assert!((cash(&home) - 13_119.45).abs() < 1e-6, "{}", cash(&home));
    assert_eq!(held(&home).iter().map(|h| h.1).collect::<Vec<_>>(), [800.0]);
}

/// The later quarter first, then the earlier, then the later once more for what it needed: the same as one after the other.
#[test]
fn the_order_of_statements_does_not_matter() {
    let (_folder, home) = demo();
    let take = |own: &str, name: &str| asked(&home, &fixture(name), &json!({"account": own, "take": true})).unwrap();
    let own = account(&home, "Broker", "by_hand", 0.0);
    let (first, second) = ("account-2025q1.ofx", "account-2025q2.qfx");
    assert_eq!(take(&own, second).new, 3);
    assert_eq!(take(&own, first).new, 10);
    assert_eq!(take(&own, second).new, 2);
    let backwards = (cash(&home), held(&home));
    for import in statement_imports(&now(&home)).unwrap().iter().rev().chain(&statement_imports(&now(&home)).unwrap()) {
        undo_statement(&now(&home), &import.id).ok();
    }
    assert!(held(&home).is_empty());
    take(&own, first);
    take(&own, second);
    assert!((backwards.0 - cash(&home)).abs() < 1e-9, "{} {}", backwards.0, cash(&home));
    assert_eq!(backwards.1, held(&home));
}

/// What was entered by hand is not taken once more, unless one says so.
#[test]
fn what_was_entered_by_hand_is_recognised() {
    let (_folder, home) = demo();
    let own = account(&home, "Broker", "by_hand", 0.0);
    let entered: Entered = serde_json::from_value(json!({"do": "deposit", "amount": 500, "date": "2026-01-15"})).unwrap();
    write_down(&now(&home), &own, &entered).unwrap();
    let file = b"Date;Type;Amount\n15.01.2026;Deposit;500,00\n16.01.2026;Deposit;500,00\n";
    let seen = asked(&home, file, &json!({"account": own})).unwrap();
    assert_eq!((seen.new, seen.alike), (1, 1));
    let mapping = seen.mapping.unwrap();
    assert!(!mapping.remembered && mapping.headers == ["Date", "Type", "Amount"]);
    asked(&home, file, &json!({"account": own, "take": true})).unwrap();
    assert!((cash(&home) - 1_000.0).abs() < 1e-9);
    let again = asked(&home, file, &json!({"account": own})).unwrap();
    assert_eq!((again.new, again.known, again.alike), (0, 1, 1));
    assert!(again.mapping.unwrap().remembered);
    assert_eq!(asked(&home, file, &json!({"account": own, "take_alike": [2]})).unwrap().new, 1);
}

/// Two rows that are the same in everything are two, and stay two when the file comes again.
#[test]
fn rows_that_are_the_same_are_counted() {
    let (_folder, home) = demo();
    let own = account(&home, "Broker", "by_hand", 0.0);
    let file = b"date,amount\n2026-01-15,20\n2026-01-15,20\n";
    assert_eq!(asked(&home, file, &json!({"account": own, "take": true})).unwrap().new, 2);
    let longer = b"date,amount\n2026-01-15,20\n2026-01-15,20\n2026-01-15,20\n";
    let again = asked(&home, longer, &json!({"account": own})).unwrap();
    assert_eq!((again.new, again.known), (1, 2));
}

#[test]
fn statements_belong_into_accounts_kept_by_hand_and_must_be_statements() {
    let (_folder, home) = demo();
    let simulated = account(&home, "Simulated", "simulated", 0.0);
    let said = asked(&home, &fixture("account-2025q1.ofx"), &json!({"account": simulated})).unwrap_err().to_string();
    assert!(said.contains("simulated"), "{said}");
    let own = account(&home, "Broker", "by_hand", 0.0);
    let cut = &fixture("account-2025q1.ofx")[..900];
    let said = asked(&home, cut, &json!({"account": own})).unwrap_err().to_string();
    assert!(said.contains("cut off"), "{said}");
    assert!(asked(&home, b"\0\0", &json!({"account": own})).is_err());
}

/// The journal as CSV has a line an event; the workbook and the JSON can be read.
#[test]
fn the_ledger_goes_into_files() {
    let (_folder, home) = demo();
    let own = account(&home, "Broker", "by_hand", 0.0);
    asked(&home, &fixture("account-2025q1.ofx"), &json!({"account": own, "take": true})).unwrap();
    let file = |format| ledger_file(&now(&home), &LedgerRequest::default(), format).unwrap();
    let csv = String::from_utf8(file(LedgerFormat::Csv)).unwrap();
    assert_eq!(csv.lines().count(), 1 + page(&home).journal_lines);
    let json: Value = serde_json::from_slice(&file(LedgerFormat::Json)).unwrap();
    assert_eq!(json["journal"].as_array().unwrap().len(), page(&home).journal_lines);
    // In the workbook worth and gain are formulas whose results are those of their cells.
    let mut book = calamine::Xlsx::new(std::io::Cursor::new(file(LedgerFormat::Xlsx))).unwrap();
    let (cells, formulas) = (book.worksheet_range("Holdings").unwrap(), book.worksheet_formula("Holdings").unwrap());
    let number = |column| cells.get_value((1, column)).and_then(calamine::DataType::as_f64).unwrap();
    assert_eq!(formulas.get_value((1, 8)).map(String::as_str), Some("E2*F2*H2"));
    assert!((number(4) * number(5) * number(7) - number(8)).abs() < 1e-6 && (number(8) - number(9) - number(10)).abs() < 1e-6);
    assert_eq!(book.worksheet_range("Journal").unwrap().height(), 1 + page(&home).journal_lines);
}

/// A security is found by ISIN or symbol, in parentheses behind its name too; what the dataset does not have is kept by name and ISIN.
#[test]
fn securities_are_found_by_what_they_are_called() {
    let (_folder, home) = demo();
    let own = account(&home, "Broker", "by_hand", 0.0);
    let symbol = symbol(&home);
    let isin = artemon_app::search(&now(&home), &symbol, None).unwrap().into_iter().find(|h| h.symbol == symbol).unwrap().isin;
    let file = format!("date,type,isin,name,quantity,amount\n2026-01-15,buy,{isin},Known,5,-50\n2026-01-16,buy,XX0000000009,Other,5,-50\n");
    let seen = asked(&home, file.as_bytes(), &json!({"account": own, "take": true})).unwrap();
    assert_eq!(seen.rows.iter().map(|r| r.symbol.clone()).collect::<Vec<_>>(), [Some(symbol.clone()), None]);
    let trade = json!({"do": "trade", "side": "buy", "what": format!("Known ({isin})"), "quantity": 1, "price": 10, "date": "2026-01-17"});
    write_down(&now(&home), &own, &serde_json::from_value::<Entered>(trade).unwrap()).unwrap();
    let mut shares: Vec<(String, String, f64)> = page(&home).holdings.into_iter().map(|h| (h.symbol, h.name, h.quantity)).collect();
    shares.sort_by(|a, b| a.0.cmp(&b.0));
    assert_eq!(shares[0], (String::new(), "Other (XX0000000009)".to_owned(), 5.0));
    assert_eq!((shares[1].0.as_str(), shares[1].2), (symbol.as_str(), 6.0));
}

/// What is withheld of a sale is a cost of it: the cash is as the statement says, the price as it was.
#[test]
fn cash_moves_as_it_is_written() {
    let (_folder, home) = demo();
    let own = account(&home, "Broker", "by_hand", 0.0);
    let file = b"date,type,name,quantity,price,fees,withheld,amount\n2026-01-15,deposit,,,,,,1000\n\
        2026-01-16,buy,Bond,10,50,2,,-502\n2026-01-19,sell,Bond,10,60,2,30,568\n";
    asked(&home, file, &json!({"account": own, "take": true})).unwrap();
    let page = page(&home);
    assert!((page.accounts[0].cash - 1_066.0).abs() < 1e-9 && (page.accounts[0].realised - 66.0).abs() < 1e-9);
    assert!(page.journal[0].says.starts_with("Sold 10 Bond at 60"), "{}", page.journal[0].says);
}

/// Shares that cannot go take their withdrawal along: nothing of a refused row is counted, or taken.
#[test]
fn a_refused_row_moves_nothing() {
    let (_folder, home) = demo();
    let own = account(&home, "Broker", "by_hand", 0.0);
    let symbol = symbol(&home);
    let file = format!("date,type,symbol,quantity,amount\n2026-01-15,deposit,,,1000\n2026-01-16,transfer out,{symbol},5,\n");
    let seen = asked(&home, file.as_bytes(), &json!({"account": own, "take": true})).unwrap();
    assert_eq!((seen.new, seen.refused), (1, 1));
    let broker = page(&home).accounts.into_iter().find(|a| a.name == "Broker").unwrap();
    assert!((broker.cash - 1_000.0).abs() < 1e-9);
    let ends = fixture("account-2025q2.qfx");
    let text = String::from_utf8_lossy(&ends).replace("XB0000010601", "XX0").replace("<TICKER>TIDE", &format!("<TICKER>{symbol}"));
    let broker = account(&home, "Second", "by_hand", 0.0);
    let seen = asked(&home, text.as_bytes(), &json!({"account": broker})).unwrap();
    let moved: f64 = seen.rows.iter().filter(|r| r.state == RowState::New).filter_map(|r| r.total).sum();
    let told = seen.differences.iter().find(|d| d.what == "cash").unwrap().journal;
    assert!(seen.refused == 2 && (told - moved).abs() < 0.01, "{told} {moved}");
}
