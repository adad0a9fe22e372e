//! The program as a script uses it: answers on stdout, refusals on stderr with status 1, wrong usage with status 2.
#![allow(clippy::unwrap_used)]

use std::{
    net::TcpListener,
    path::Path,
    process::{Command, Output},
};

fn artemon(data: &Path, args: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_artemon")).arg("--data").arg(data).args(args).output().expect("the program runs")
}

fn stderr(output: &Output) -> String {
    String::from_utf8_lossy(&output.stderr).trim().to_owned()
}

fn golden_dataset() -> tempfile::TempDir {
    let data = tempfile::tempdir().unwrap();
    let package = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/package");
    let done = artemon(data.path(), &["import", package.to_str().unwrap()]);
    assert!(done.status.success(), "{}", stderr(&done));
    data
}

#[test]
fn answers_have_the_documented_form() {
    let data = golden_dataset();
    let ask = |args: &[&str]| -> serde_json::Value {
        let output = artemon(data.path(), &[args, &["--format", "json"]].concat());
        assert!(output.status.success(), "{}", stderr(&output));
        serde_json::from_slice(&output.stdout).unwrap()
    };
    let evaluated =
        ask(&["evaluate", "--formula", "eps > 0", "sector", "interest_cover", "--symbols", "TORD,TANS", "--as-of", "2025-06-27"]);
    insta::assert_json_snapshot!(evaluated);
    let ranked = ask(&["rank", "--symbols", "OLIC,NEVN,BRAM", "--as-of", "2025-06-27"]);
    let places: Vec<_> = ranked["rows"].as_array().unwrap().iter().map(|r| format!("{} {}", r["symbol"], r["verdict"])).collect();
    assert_eq!(places, [r#""OLIC" "in range""#, r#""NEVN" "wait""#, r#""BRAM" "cannot value""#]);
    let valued = ask(&["value", "DRUA", "--as-of", "2025-06-27"]);
    assert!((valued["intrinsic_value"]["value"].as_f64().unwrap() - 106.638_967_090_569).abs() < 1e-9);
    let folder = tempfile::tempdir().unwrap();
    let book = folder.path().join("best.xlsx");
    let of_index = ask(&["rank", "--index", "XA50", "--set", "Standard", "--xlsx", book.to_str().unwrap(), "--as-of", "2025-06-27"]);
    assert!(of_index["rows"].as_array().unwrap().len() > 3 && of_index["assumptions"] == "Standard");
    assert!(std::fs::read(&book).unwrap().starts_with(b"PK"));
    let negative = ask(&["evaluate", "--formula", "-2 ^ 2", "-eps", "--symbols", "DRUA"]);
    assert_eq!(negative[0]["values"][0], serde_json::json!({"formula": "-2 ^ 2", "value": -4.0, "reason": null}));
    let csv = artemon(data.path(), &["evaluate", "--formula", "price", "--symbols", "DRUA", "--as-of", "2025-06-27", "--format", "csv"]);
    assert_eq!(String::from_utf8_lossy(&csv.stdout), "symbol,price\nDRUA,113.96\n");
}

/// How prices and insiders behaved, printed for all listed companies at each date, is what is expected, figure by figure.
#[test]
fn the_golden_behaviour_agrees_in_the_terminal() {
    fn differs(got: &serde_json::Value, want: &serde_json::Value) -> bool {
        match (got, want) {
            (serde_json::Value::Array(a), serde_json::Value::Array(b)) => a.len() != b.len() || a.iter().zip(b).any(|(a, b)| differs(a, b)),
            (serde_json::Value::Object(a), serde_json::Value::Object(b)) => {
                // Reasons are said in words of one's own.
                a.len() != b.len() || a.iter().any(|(key, a)| b.get(key).is_none_or(|b| key != "reason" && differs(a, b)))
            }
            (serde_json::Value::Number(a), serde_json::Value::Number(b)) => {
                let (a, b) = (a.as_f64().unwrap(), b.as_f64().unwrap());
                (a - b).abs() > 1e-9 * b.abs().max(1.0)
            }
            _ => got != want,
        }
    }
    let data = golden_dataset();
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden");
    let want = std::fs::read(folder.join("expected-price-behaviour.json")).unwrap();
    let want: serde_json::Value = serde_json::from_slice(&want).unwrap();
    for (date, companies) in want["dates"].as_object().unwrap() {
        let output = artemon(data.path(), &["price-behaviour", "--as-of", date, "--format", "json"]);
        assert!(output.status.success(), "{}", stderr(&output));
        let got: serde_json::Value = serde_json::from_slice(&output.stdout).unwrap();
        for (symbol, want) in companies.as_object().unwrap() {
            assert!(!differs(&got[symbol], want), "{date} {symbol}: {}", got[symbol]);
        }
        assert_eq!(got.as_object().unwrap().len(), companies.as_object().unwrap().len(), "{date}");
    }
    let table = artemon(data.path(), &["price-behaviour", "BRAM", "--as-of", "2023-08-13"]);
    let table = String::from_utf8_lossy(&table.stdout).into_owned();
    assert!(table.contains("support, 3 turns") && table.contains("6m after 7 purchases of insiders"), "{table}");
}

/// What the terminal says of the golden screens is what is expected of them: the counts of each step, and who is left in which order.
#[test]
fn the_golden_screens_agree_in_the_terminal() {
    let data = golden_dataset();
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden");
    for number in [1, 2] {
        let file = folder.join(format!("screen-{number}.json"));
        let output = artemon(data.path(), &["screen", file.to_str().unwrap(), "--format", "json"]);
        assert!(output.status.success(), "{}", stderr(&output));
        let answer: serde_json::Value = serde_json::from_slice(&output.stdout).unwrap();
        let want = std::fs::read(folder.join(format!("expected-screen-{number}.json"))).unwrap();
        let want = &serde_json::from_slice::<serde_json::Value>(&want).unwrap()["result"];
        let symbols: Vec<_> = answer["rows"].as_array().unwrap().iter().map(|r| r["symbol"].clone()).collect();
        assert_eq!(serde_json::Value::from(symbols), want["survivors"], "screen {number}");
        let left = |of: &serde_json::Value| of["steps"].as_array().unwrap().iter().map(|s| s["left"].as_u64()).collect::<Vec<_>>();
        assert_eq!(left(&answer), left(want), "screen {number}");
    }
}

/// The three pages Today, section by section as the tests of the computation compare them: here that the program reads the documents
/// with their screens and prints the documented form.
#[test]
fn the_golden_days_are_printed() {
    let (data, golden) = (golden_dataset(), Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden"));
    for (number, suffix) in [("1", ""), ("2", "-2"), ("3", "-3")] {
        let file = golden.join(format!("today-{number}.json"));
        let output = artemon(data.path(), &["today", file.to_str().unwrap(), "--format", "json"]);
        assert!(output.status.success(), "{}", stderr(&output));
        let got: serde_json::Value = serde_json::from_slice(&output.stdout).unwrap();
        let want: serde_json::Value =
            serde_json::from_slice(&std::fs::read(golden.join(format!("expected-today{suffix}.json"))).unwrap()).unwrap();
        assert_eq!((&got["today"]["last_visit"], &got["today"]["screens"]), (&want["today"]["last_visit"], &want["today"]["screens"]));
        for section in ["coming", "new_flags", "screens"] {
            assert_eq!(got["result"][section], want["result"][section], "{section}");
        }
    }
}

/// The two ledgers are printed in the documented form; the figures are compared by the tests of the computation.
#[test]
fn the_golden_ledgers_are_printed() {
    let (data, golden) = (golden_dataset(), Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden"));
    for number in [1, 2] {
        let file = golden.join(format!("ledger-{number}.json"));
        let output = artemon(data.path(), &["ledger", "replay", file.to_str().unwrap(), "--format", "json"]);
        assert!(output.status.success(), "{}", stderr(&output));
        let got: serde_json::Value = serde_json::from_slice(&output.stdout).unwrap();
        let want = std::fs::read(golden.join(format!("expected-ledger-{number}.json"))).unwrap();
        let want: serde_json::Value = serde_json::from_slice(&want).unwrap();
        let events = |of: &serde_json::Value| {
            let line = |e: &serde_json::Value| format!("{} {} {} {}", e["n"], e["date"], e["account"], e["event"]);
            of["journal"].as_array().unwrap().iter().map(line).collect::<Vec<_>>()
        };
        assert_eq!(events(&got), events(&want["result"]));
        assert_eq!(got["reports"].as_array().unwrap().len(), want["result"]["reports"].as_array().unwrap().len());
    }
    let csv = artemon(data.path(), &["ledger", "replay", golden.join("ledger-2.json").to_str().unwrap(), "--format", "csv"]);
    let csv = String::from_utf8_lossy(&csv.stdout).into_owned();
    assert!(csv.lines().nth(12).unwrap().starts_with("12,2022-03-15,Paper,recorded,,Invented bond 4 % 2030,30.0,98.5,"), "{csv}");
}

/// Backtests and value checks are printed in the documented form, holdings among them; the figures are compared by the tests of the
/// computation. A screen by name is tested with sensible settings.
#[test]
fn the_golden_backtests_are_printed() {
    let (data, golden) = (golden_dataset(), Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden"));
    let read = |name: String| -> serde_json::Value { serde_json::from_slice(&std::fs::read(golden.join(name)).unwrap()).unwrap() };
    let ask = |args: &[&str]| -> serde_json::Value {
        let output = artemon(data.path(), &[args, &["--format", "json"]].concat());
        assert!(output.status.success(), "{}", stderr(&output));
        serde_json::from_slice(&output.stdout).unwrap()
    };
    for number in [2, 4] {
        let file = golden.join(format!("backtest-{number}.json"));
        let (got, want) = (ask(&["backtest", file.to_str().unwrap()]), read(format!("expected-backtest-{number}.json")));
        let (got, want) = (&got["result"], &want["result"]);
        for key in ["rebalances", "candidates", "first", "last", "sessions", "notes", "warnings"] {
            assert_eq!(got[key], want[key], "{key}");
        }
        assert!((got["total_return"].as_f64().unwrap() - want["total_return"].as_f64().unwrap()).abs() < 1e-8);
        for then in want["holdings_at"].as_array().unwrap() {
            let held = got["holdings_at"].as_array().unwrap().iter().find(|h| h["date"] == then["date"]).unwrap();
            let symbols =
                |of: &serde_json::Value| of["holdings"].as_array().unwrap().iter().map(|h| h["symbol"].clone()).collect::<Vec<_>>();
            assert_eq!(symbols(held), symbols(then));
        }
    }
    let check = ask(&["value-check", golden.join("valuecheck-1.json").to_str().unwrap()]);
    let want = read("expected-valuecheck-1.json".to_owned());
    assert_eq!(check["value_check"]["formula"], want["value_check"]["formula"]);
    assert!((check["result"]["mean_spread"].as_f64().unwrap() - want["result"]["mean_spread"].as_f64().unwrap()).abs() < 1e-8);
    let csv = artemon(data.path(), &["backtest", golden.join("backtest-1.json").to_str().unwrap(), "--format", "csv"]);
    assert!(String::from_utf8_lossy(&csv.stdout).starts_with("date,symbol,amount,price,why\n2019-10-01,BRAM,0.16633399866932"));
    let table = artemon(data.path(), &["backtest", "quality-first"]);
    assert!(stderr(&table).starts_with("the first 20, in equal parts, every 3 months"), "{}", stderr(&table));
    let never = artemon(data.path(), &["value-check", "pe", "--every", "5"]);
    assert_eq!((never.status.code(), stderr(&never).as_str()), (Some(1), "It cannot rebalance every 5 months: choose 1, 3, 6 or 12."));
}

/// An account is opened, an order given, listed and cancelled; a statement is looked at, taken in, and held.
#[test]
fn accounts_orders_and_statements_are_worked_from_the_terminal() {
    let data = golden_dataset();
    let run = |args: &[&str]| artemon(data.path(), &[args, &["--format", "json"]].concat());
    let ask = |args: &[&str]| -> serde_json::Value {
        let output = run(args);
        assert!(output.status.success(), "{args:?}: {}", stderr(&output));
        serde_json::from_slice(&output.stdout).unwrap()
    };
    assert!(stderr(&run(&["order", "buy", "DRUA", "--shares", "5"])).contains("no simulated account"));
    ask(&["ledger", "open", "Home", "--currency", "XFA", "--deposit", "5000"]);
    ask(&["ledger", "open", "Broker", "--currency", "XFA", "--by-hand"]);
    let dry = ask(&["order", "buy", "DRUA", "--limit", "100", "--amount", "1000", "--dry-run"]);
    assert!(dry["order"].is_null() && dry["sheet"]["sentence"].as_str().unwrap().starts_with("Buy 10 at 100"), "{dry}");
    assert_eq!(ask(&["order", "list"]), serde_json::json!([]));
    let given = ask(&["order", "buy", "DRUA", "--limit", "100", "--amount", "1000", "--good", "until_cancelled", "--thesis", "Cheap."]);
    let order = given["order"].as_str().unwrap();
    assert_eq!(ask(&["order", "list"])[0]["state"], "open");
    ask(&["order", "cancel", order]);
    assert_eq!(ask(&["order", "list"])[0]["state"], "cancelled");
    assert!(stderr(&run(&["order", "sell", "DRUA", "--shares", "5"])).contains("holds 0"));
    let file = data.path().join("trades.csv");
    std::fs::write(&file, "date,type,symbol,quantity,price,amount\n2024-01-15,deposit,,,,900\n2024-01-16,buy,DRUA,5,100,-501\n").unwrap();
    let statement = ["ledger", "statement", file.to_str().unwrap(), "--account", "Broker"];
    assert_eq!(ask(&statement)["new"], 2);
    assert!(ask(&[&statement[..], &["--take"]].concat())["taken"].is_string());
    let held = ask(&["holdings"]);
    assert_eq!(
        (held[0]["symbol"].as_str(), held[0]["quantity"].as_f64(), held[0]["cost"].as_f64()),
        (Some("DRUA"), Some(5.0), Some(501.0))
    );
}

/// What a ledger document gets wrong is told by the entry that does.
#[test]
fn a_ledger_that_cannot_be_is_refused_by_its_entry() {
    let (data, folder) = (golden_dataset(), tempfile::tempdir().unwrap());
    let file = folder.path().join("ledger.json");
    let refused = |entry: serde_json::Value| {
        let account = |name: &str, kind: &str| serde_json::json!({"name": name, "currency": "XFA", "kind": kind});
        let first = serde_json::json!({"date": "2023-07-03", "account": "Home", "do": "deposit", "amount": 1000});
        let accounts = [account("Home", "simulated"), account("Paper", "by_hand")];
        let document = serde_json::json!({"base": "XFA", "accounts": accounts, "to": "2023-12-29", "entries": [first, entry]});
        std::fs::write(&file, document.to_string()).unwrap();
        let output = artemon(data.path(), &["ledger", "replay", file.to_str().unwrap()]);
        assert_eq!(output.status.code(), Some(1));
        stderr(&output).replace(&*folder.path().to_string_lossy(), "FOLDER")
    };
    let entry = |more: serde_json::Value| {
        let mut entry = serde_json::json!({"date": "2023-07-04", "account": "Home"});
        entry.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        entry
    };
    let said: Vec<String> = [
        serde_json::json!({"do": "withdraw", "amount": 1001}),
        serde_json::json!({"do": "buy", "order": "a", "symbol": "HALB", "quantity": 5}),
        serde_json::json!({"do": "buy", "order": "a", "symbol": "NOBODY", "limit": 5, "quantity": 5}),
        serde_json::json!({"do": "buy", "order": "a", "symbol": "HALB", "limit": -5, "quantity": 5}),
        serde_json::json!({"do": "sell", "order": "a", "symbol": "HALB", "limit": 5, "quantity": "all"}),
        serde_json::json!({"do": "cancel", "order": "nothing"}),
        serde_json::json!({"do": "record_buy", "what": "Bond", "quantity": 1, "price": 5}),
        serde_json::json!({"do": "deposit", "amount": 5, "account": "Paper2"}),
        serde_json::json!({"do": "record_sell", "account": "Paper", "what": "Bond", "quantity": 1, "price": 5}),
        serde_json::json!({"do": "buy", "account": "Paper", "order": "a", "symbol": "HALB", "limit": 5, "quantity": 5}),
        serde_json::json!({"do": "deposit", "amount": 5, "date": "2023-07-02"}),
        serde_json::json!({"do": "lend", "amount": 5}),
    ]
    .into_iter()
    .map(|more| refused(entry(more)))
    .collect();
    insta::assert_snapshot!(said.join("\n"));
}

#[test]
fn refusals_are_sentences_with_status_1() {
    let data = golden_dataset();
    let refused = |args: &[&str]| {
        let output = artemon(data.path(), args);
        assert_eq!(output.status.code(), Some(1), "{args:?}");
        assert!(output.stdout.is_empty());
        stderr(&output)
    };
    let said = [
        refused(&["evaluate", "--formula", "pe < 15 and net_magin > 5%"]),
        refused(&["value", "NOSUCH"]),
        refused(&["value", "DRUA", "--set", "Nobody's"]),
        refused(&["rank", "--index", "NOSUCH"]),
        refused(&["screen", "no-such-screen"]),
        refused(&["rank", "--margin", "25"]),
        refused(&["value", "DRUA", "--as-of", "1999-01-01"]),
    ];
    insta::assert_snapshot!(said.join("\n\n"));
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let address = listener.local_addr().unwrap();
    let busy = refused(&["serve", "--listen", &address.to_string()]);
    assert!(busy.contains(&format!("Port {} is in use", address.port())), "{busy}");
    let open = refused(&["serve", "--listen", "0.0.0.0:0"]);
    assert!(open.contains("let each sign in with --shared"), "{open}");
    let open = refused(&["serve", "--shared", "--listen", "0.0.0.0:0"]);
    assert!(open.contains("could read every passphrase") && open.contains("--tls-cert"), "{open}");
    let whom = refused(&["user", "way-back", "Nobody"]);
    assert!(whom.contains("A person named \"Nobody\" does not exist"), "{whom}");
    let added = artemon(data.path(), &["user", "add", "--owner", "--note", "my brother"]);
    let path = String::from_utf8_lossy(&added.stdout).into_owned();
    assert!(added.status.success() && path.starts_with("/join#") && path.trim().len() == 6 + 64, "{path}");
    assert_eq!(artemon(data.path(), &["serve", "--tls-cert", "c.pem"]).status.code(), Some(2), "a certificate needs its key");
    let own = refused(&["demo", "--reset", "--listen", "127.0.0.1:0"]);
    assert!(own.contains("is not touched"), "the demo never replaces somebody's data: {own}");
    assert_eq!(artemon(data.path(), &["evaluate"]).status.code(), Some(2));
    let nothing = tempfile::tempdir().unwrap();
    assert!(stderr(&artemon(nothing.path(), &["measures"])).is_empty());
    assert!(stderr(&artemon(nothing.path(), &["value", "DRUA"])).contains("holds no dataset yet"));
}
