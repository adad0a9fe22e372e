//! Every operation of the description: one that succeeds, one that is refused in the form of a problem document with a
//! status that is described, and, where a date may be asked, one of the past, one before and one after the data.

use crate::{OWN, ask_at, ask_whole, contract::Contract, server};
use serde_json::{Value, json};
use std::{
    collections::BTreeSet,
    sync::{LazyLock, Mutex},
};

/// What is asked of an operation: the path with what comes after it, and the body.
pub(crate) struct Asked(pub(crate) String, pub(crate) Value);

/// An operation with what succeeds and what is refused; `{id}` stands for what the steps before have made.
pub(crate) type Row = (&'static str, &'static str, Value, Option<(&'static str, Value)>);

const NONE: Value = Value::Null;

/// In an order in which each finds what it needs.
pub(crate) fn rows() -> Vec<Row> {
    let screen = json!({ "blocks": [{ "need": "all", "criteria": [{ "formula": "pe", "max": 15 }] }] });
    let document = |name: &str| json!({ "kind": "screen", "name": name, "body": screen });
    let wrong = json!({ "kind": "screen", "name": "", "body": screen });
    let mine = json!({ "id": "mine", "label": "Mine", "note": "", "formula": "eps / price" });
    let set = json!({ "name": "Careful", "required_return": { "fixed": 0.11 } });
    let forecast = json!({
        "revenue_growth": 0.05, "operating_margin": 0.1, "tax_rate": 0.25, "reinvestment": 0.3, "share_change": 0
    });
    let backtest = json!({ "screen": screen, "from": "2020-01-31", "to": "2022-01-31", "top": 3, "base": "XFA" });
    let csv = "Ticker;Datum;Close;Vol\r\nDRUA;1.7.2025;114,50;1000\r\n";
    vec![
        ("GET /api/about", "/api/about", NONE, None),
        ("GET /api/assumptions", "/api/assumptions", NONE, None),
        ("PUT /api/assumptions", "/api/assumptions", set, Some(("/api/assumptions", json!({ "name": "Careful", "margin": 7 })))),
        ("GET /api/assumptions/{name}/{version}", "/api/assumptions/Careful/1", NONE, Some(("/api/assumptions/Careful/9", NONE))),
        (
            "POST /api/assumptions/use",
            "/api/assumptions/use",
            json!({ "name": "Standard" }),
            Some(("/api/assumptions/use", json!({ "name": "No" }))),
        ),
        ("DELETE /api/assumptions/{name}", "/api/assumptions/Careful", NONE, Some(("/api/assumptions/Standard", NONE))),
        (
            "POST /api/assumptions/restore",
            "/api/assumptions/restore",
            json!({ "name": "Careful" }),
            Some(("/api/assumptions/restore", json!({ "name": "No" }))),
        ),
        ("GET /api/companies", "/api/companies?q=drua", NONE, Some(("/api/companies?q=drua&as_of=never", NONE))),
        ("GET /api/companies/{symbol}", "/api/companies/DRUA", NONE, Some(("/api/companies/NOSUCH", NONE))),
        (
            "PUT /api/companies/{symbol}/own",
            "/api/companies/DRUA/own",
            json!({ "own_growth": 0.05 }),
            Some(("/api/companies/DRUA/own", json!({ "own_growth": 50 }))),
        ),
        ("GET /api/companies/{symbol}/note", "/api/companies/DRUA/note", NONE, Some(("/api/companies/NOSUCH/note", NONE))),
        (
            "PUT /api/companies/{symbol}/note",
            "/api/companies/DRUA/note",
            json!({ "text": "Sound." }),
            Some(("/api/companies/DRUA/note", json!({ "text": 7 }))),
        ),
        ("GET /api/companies/{symbol}/cases", "/api/companies/DRUA/cases", NONE, Some(("/api/companies/NOSUCH/cases", NONE))),
        (
            "PUT /api/companies/{symbol}/cases",
            "/api/companies/DRUA/cases",
            json!({ "likely": { "years": [forecast], "exit_multiple": 12 } }),
            Some(("/api/companies/DRUA/cases", json!({ "likely": { "years": [], "exit_multiple": 12 } }))),
        ),
        (
            "POST /api/companies/{symbol}/cases",
            "/api/companies/DRUA/cases",
            json!({}),
            Some(("/api/companies/DRUA/cases", json!({ "low": { "years": [forecast], "exit_multiple": 0.5 } }))),
        ),
        (
            "POST /api/ledger/accounts",
            "/api/ledger/accounts",
            json!({ "name": "Hand", "currency": "XFA", "kind": "by_hand" }),
            Some(("/api/ledger/accounts", json!({ "name": "", "currency": "XFA", "kind": "by_hand" }))),
        ),
        (
            "PUT /api/ledger/accounts/{id}",
            "/api/ledger/accounts/{account}",
            json!({ "name": "By hand" }),
            Some(("/api/ledger/accounts/nosuch", json!({ "name": "By hand" }))),
        ),
        ("DELETE /api/ledger/accounts/{id}", "/api/ledger/accounts/{account}", NONE, Some(("/api/ledger/accounts/nosuch", NONE))),
        (
            "POST /api/ledger/accounts",
            "/api/ledger/accounts",
            json!({ "name": "Home", "currency": "XFA", "kind": "simulated", "deposit": 5000 }),
            Some(("/api/ledger/accounts", json!({ "name": "Home", "currency": "XFA", "kind": "simulated" }))),
        ),
        (
            "POST /api/ledger/accounts/{id}/entries",
            "/api/ledger/accounts/{account}/entries",
            json!({ "do": "deposit", "amount": 100 }),
            Some(("/api/ledger/accounts/{account}/entries", json!({ "do": "withdraw", "amount": 9000 }))),
        ),
        ("DELETE /api/ledger/entries/{n}", "/api/ledger/entries/2", NONE, Some(("/api/ledger/entries/99", NONE))),
        (
            "POST /api/ledger/sheet",
            "/api/ledger/sheet",
            json!({ "account": "{account}", "symbol": "DRUA", "side": "buy", "limit": 100, "amount": 1000 }),
            Some(("/api/ledger/sheet", json!({ "account": "{account}", "symbol": "NOSUCH", "side": "buy" }))),
        ),
        (
            "POST /api/ledger/orders",
            "/api/ledger/orders",
            json!({ "account": "{account}", "symbol": "DRUA", "side": "buy", "limit": 100, "amount": 1000 }),
            Some(("/api/ledger/orders", json!({ "account": "{account}", "symbol": "DRUA", "side": "sell", "quantity": 5 }))),
        ),
        (
            "PUT /api/ledger/orders/{order}",
            "/api/ledger/orders/B2",
            json!({ "limit": 99, "good": "until_cancelled" }),
            Some(("/api/ledger/orders/B2", json!({ "limit": -1 }))),
        ),
        (
            "POST /api/ledger/fit",
            "/api/ledger/fit",
            json!({ "account": "{account}", "symbol": "DRUA", "side": "buy", "limit": 100, "amount": 1000 }),
            Some(("/api/ledger/fit", json!({ "account": "{account}", "symbol": "NOSUCH", "side": "buy" }))),
        ),
        ("DELETE /api/ledger/orders/{order}", "/api/ledger/orders/B2", NONE, Some(("/api/ledger/orders/B77", NONE))),
        ("GET /api/values-record", "/api/values-record", NONE, None),
        ("POST /api/values-record", "/api/values-record", NONE, None),
        ("DELETE /api/values-record", "/api/values-record", NONE, None),
        ("GET /api/ledger/terms", "/api/ledger/terms", NONE, None),
        ("GET /api/backtests", "/api/backtests", NONE, None),
        (
            "POST /api/backtests",
            "/api/backtests",
            json!({ "name": "Cheap", "settings": backtest }),
            Some((
                "/api/backtests",
                json!({ "settings": { "screen": "no such screen", "from": "2020-01-31", "to": "2022-01-31", "base": "XFA" } }),
            )),
        ),
        ("GET /api/backtests/running", "/api/backtests/running", NONE, None),
        (
            "POST /api/backtests/proposed",
            "/api/backtests/proposed",
            json!({ "screen": "quality-first" }),
            Some(("/api/backtests/proposed", json!({ "screen": "no such screen" }))),
        ),
        (
            "POST /api/backtests/measure",
            "/api/backtests/measure",
            json!({ "formula": "pe", "from": "2020-01-31", "to": "2022-01-31", "base": "XFA" }),
            Some(("/api/backtests/measure", json!({ "formula": "pee", "from": "2020-01-31", "to": "2022-01-31", "base": "XFA" }))),
        ),
        ("GET /api/backtests/{id}", "/api/backtests/{backtest}", NONE, Some(("/api/backtests/nosuch", NONE))),
        (
            "GET /api/backtests/{id}/holdings",
            "/api/backtests/{backtest}/holdings?date=2021-05-05",
            NONE,
            Some(("/api/backtests/nosuch/holdings?date=2021-05-05", NONE)),
        ),
        (
            "GET /api/backtests/{id}/file",
            "/api/backtests/{backtest}/file?format=csv",
            NONE,
            Some(("/api/backtests/nosuch/file?format=csv", NONE)),
        ),
        (
            "PUT /api/backtests/{id}",
            "/api/backtests/{backtest}",
            json!({ "name": "Cheap ones" }),
            Some(("/api/backtests/{backtest}", json!({ "name": " " }))),
        ),
        ("POST /api/backtests/{id}/variants", "/api/backtests/{backtest}/variants", NONE, Some(("/api/backtests/nosuch/variants", NONE))),
        ("POST /api/backtests/{id}/cancel", "/api/backtests/{backtest}/cancel", NONE, Some(("/api/backtests/nosuch/cancel", NONE))),
        ("DELETE /api/backtests/{id}", "/api/backtests/{backtest}", NONE, Some(("/api/backtests/nosuch", NONE))),
        ("POST /api/backtests/{id}/restore", "/api/backtests/{backtest}/restore", NONE, Some(("/api/backtests/nosuch/restore", NONE))),
        ("PUT /api/ledger/terms", "/api/ledger/terms", json!({ "fee": 0.002 }), Some(("/api/ledger/terms", json!({ "fee": 2 })))),
        ("POST /api/ledger/results", "/api/ledger/results", json!({}), Some(("/api/ledger/results", json!({ "index": "NOSUCH" })))),
        ("GET /api/ledger/file", "/api/ledger/file?format=csv", NONE, Some(("/api/ledger/file?format=tea", NONE))),
        (
            "POST /api/decisions/new",
            "/api/decisions/new",
            json!({ "symbol": "DRUA", "choice": "not_now", "reasons": { "thesis": "Too dear.", "confidence": 0.7 } }),
            Some(("/api/decisions/new", json!({ "symbol": "DRUA", "choice": "buy", "reasons": { "confidence": 0.2 } }))),
        ),
        ("POST /api/decisions", "/api/decisions", json!({}), Some(("/api/decisions", json!({ "symbol": "NOSUCH" })))),
        ("POST /api/decisions/{id}", "/api/decisions/{decision}", json!({}), Some(("/api/decisions/nosuch", json!({})))),
        (
            "POST /api/decisions/{id}/reviews",
            "/api/decisions/{decision}/reviews",
            json!({ "reason_right": true, "lesson": "Wait for the price." }),
            Some(("/api/decisions/{decision}/reviews", json!({}))),
        ),
        ("POST /api/ledger/accounts", "/api/ledger/accounts", json!({ "name": "Elsewhere", "currency": "XFA", "kind": "by_hand" }), None),
        (
            "POST /api/ledger/statements",
            "/api/ledger/statements",
            "date,amount\n2024-01-15,500\n".into(),
            Some(("/api/ledger/statements", "no table".into())),
        ),
        ("GET /api/ledger/statements", "/api/ledger/statements", NONE, None),
        ("DELETE /api/ledger/statements/{id}", "/api/ledger/statements/{import}", NONE, Some(("/api/ledger/statements/nosuch", NONE))),
        ("POST /api/ledger", "/api/ledger", json!({}), Some(("/api/ledger", json!({ "index": "NOSUCH" })))),
        ("POST /api/documents", "/api/documents", json!({ "kind": "list", "name": "Watch", "body": {} }), None),
        ("POST /api/documents", "/api/documents", json!({ "kind": "list", "name": "Later", "body": {} }), None),
        ("GET /api/lists", "/api/lists", NONE, None),
        (
            "POST /api/lists/{id}/members",
            "/api/lists/Watch/members",
            json!({ "symbols": ["DRUA", "TORD", "NEVN"], "from": "a screen" }),
            Some(("/api/lists/Watch/members", json!({ "symbols": ["NOSUCH"] }))),
        ),
        ("POST /api/lists/{id}/rows", "/api/lists/Watch/rows", json!({ "columns": ["pe"] }), Some(("/api/lists/Nosuch/rows", json!({})))),
        (
            "PUT /api/lists/{id}/members/{symbol}",
            "/api/lists/Watch/members/DRUA",
            json!({ "note": "sound", "price": 90 }),
            Some(("/api/lists/Watch/members/DRUA", json!({ "price": -1 }))),
        ),
        (
            "PUT /api/lists/{id}/order",
            "/api/lists/Watch/order",
            json!({ "symbols": ["TORD"] }),
            Some(("/api/lists/Nosuch/order", json!({ "symbols": [] }))),
        ),
        (
            "POST /api/lists/move",
            "/api/lists/move",
            json!({ "from": "Watch", "to": "Later", "symbols": ["NEVN"] }),
            Some(("/api/lists/move", json!({ "from": "Watch", "to": "Nosuch", "symbols": ["DRUA"] }))),
        ),
        (
            "DELETE /api/lists/{id}/members",
            "/api/lists/Watch/members",
            json!({ "symbols": ["TORD"] }),
            Some(("/api/lists/Nosuch/members", json!({ "symbols": ["TORD"] }))),
        ),
        (
            "POST /api/lists/{id}/members/restore",
            "/api/lists/Watch/members/restore",
            json!({ "version": 5, "symbols": ["TORD"] }),
            Some(("/api/lists/Watch/members/restore", json!({ "version": 99, "symbols": ["TORD"] }))),
        ),
        ("GET /api/lists/{id}/file", "/api/lists/Watch/file?format=csv", NONE, Some(("/api/lists/Nosuch/file?format=csv", NONE))),
        (
            "POST /api/lists/match",
            "/api/lists/match",
            json!({ "text": "DRUA, NOSUCH" }),
            Some(("/api/lists/match", json!({ "text": "x".repeat(1_000_001) }))),
        ),
        ("GET /api/companies/{symbol}/lists", "/api/companies/DRUA/lists", NONE, Some(("/api/companies/NOSUCH/lists", NONE))),
        (
            "PUT /api/companies/{symbol}/soundness",
            "/api/companies/DRUA/soundness",
            json!({ "soundness": 2, "reason": "I know them" }),
            Some(("/api/companies/DRUA/soundness", json!({ "soundness": 9, "reason": "I know them" }))),
        ),
        ("POST /api/today", "/api/today", json!({}), Some(("/api/today", json!({ "since": "2099-01-01" })))),
        ("POST /api/today/visit", "/api/today/visit", NONE, None),
        ("POST /api/today/seen", "/api/today/seen", NONE, None),
        (
            "PUT /api/today/away",
            "/api/today/away",
            json!({ "lines": [{ "key": "under/DRUA", "state": "now" }] }),
            Some(("/api/today/away", json!({ "lines": [{ "key": "x".repeat(3_000), "state": null }] }))),
        ),
        ("GET /api/today/gauge", "/api/today/gauge", NONE, Some(("/api/today/gauge?as_of=never", NONE))),
        (
            "POST /api/today/trades",
            "/api/today/trades",
            json!({ "since": "2015-01-01" }),
            Some(("/api/today/trades", json!({ "symbol": "NOSUCH" }))),
        ),
        (
            "PUT /api/feed/source",
            "/api/feed/source",
            json!({ "address": null }),
            Some(("/api/feed/source", json!({ "address": "http://192.0.2.7" }))),
        ),
        ("GET /api/today/layout", "/api/today/layout", NONE, None),
        (
            "PUT /api/today/layout",
            "/api/today/layout",
            json!({ "order": ["market"], "hidden": ["lows"] }),
            Some(("/api/today/layout", json!({ "order": ["weather"] }))),
        ),
        ("GET /api/alerts", "/api/alerts", NONE, None),
        (
            "POST /api/alerts/preview",
            "/api/alerts/preview",
            json!({ "what": { "kind": "formula", "formula": "pe < 12" }, "of": { "kind": "list", "list": "Watch" } }),
            Some(("/api/alerts/preview", json!({ "what": { "kind": "formula", "formula": "pe" } }))),
        ),
        ("GET /api/alerts/unseen", "/api/alerts/unseen", NONE, None),
        ("DELETE /api/alerts/unseen", "/api/alerts/unseen", NONE, None),
        ("GET /api/mail/settings", "/api/mail/settings", NONE, None),
        (
            "PUT /api/mail/settings",
            "/api/mail/settings",
            json!({ "to": "me@example.org" }),
            Some(("/api/mail/settings", json!({ "to": "nobody" }))),
        ),
        ("POST /api/mail/test", "/api/mail/test", json!({ "to": "me@example.org" }), Some(("/api/mail/test", json!({ "to": "nobody" })))),
        ("POST /api/mail/digest", "/api/mail/digest", json!({ "every": "week" }), Some(("/api/mail/digest", json!({ "every": "hour" })))),
        ("GET /api/mail", "/api/mail", NONE, None),
        ("POST /api/mail/again", "/api/mail/again", NONE, None),
        ("GET /api/mail/{id}/file", "", NONE, Some(("/api/mail/none/file", NONE))),
        ("GET /api/addresses", "/api/addresses", NONE, None),
        (
            "POST /api/addresses",
            "/api/addresses",
            json!({ "purpose": "calendar" }),
            Some(("/api/addresses", json!({ "purpose": "nothing" }))),
        ),
        ("GET /api/calendar.ics", "/api/calendar.ics", NONE, None),
        ("GET /api/cases/record", "/api/cases/record", NONE, None),
        ("GET /api/companies/{symbol}/glance", "/api/companies/DRUA/glance", NONE, Some(("/api/companies/NOSUCH/glance", NONE))),
        (
            "GET /api/companies/{symbol}/after-purchases",
            "/api/companies/DRUX/after-purchases",
            NONE,
            Some(("/api/companies/NOSUCH/after-purchases", NONE)),
        ),
        (
            "GET /api/companies/{symbol}/change",
            "/api/companies/DRUA/change",
            NONE,
            Some(("/api/companies/DRUA/change?since=2999-01-01", NONE)),
        ),
        ("GET /api/companies/{symbol}/cash", "/api/companies/DRUA/cash", NONE, Some(("/api/companies/NOSUCH/cash", NONE))),
        ("GET /api/companies/{symbol}/owners", "/api/companies/DRUA/owners", NONE, Some(("/api/companies/NOSUCH/owners", NONE))),
        ("GET /api/companies/{symbol}/workbook", "/api/companies/DRUA/workbook", NONE, Some(("/api/companies/NOSUCH/workbook", NONE))),
        ("GET /api/companies/{symbol}/solvency", "/api/companies/DRUA/solvency", NONE, Some(("/api/companies/NOSUCH/solvency", NONE))),
        (
            "POST /api/companies/{symbol}/multiples",
            "/api/companies/DRUA/multiples",
            json!({ "formula": "pe", "years": 10 }),
            Some(("/api/companies/DRUA/multiples", json!({ "formula": "pe", "years": 7 }))),
        ),
        (
            "POST /api/companies/{symbol}/quarters",
            "/api/companies/DRUA/quarters",
            json!({ "count": 8 }),
            Some(("/api/companies/DRUA/quarters", json!({ "count": 80 }))),
        ),
        (
            "POST /api/companies/{symbol}/price",
            "/api/companies/DRUA/price",
            json!({ "bars": "month", "averages": [6, 12], "bands": 20, "strength": 14 }),
            Some(("/api/companies/DRUA/price", json!({ "bars": "day", "averages": [1] }))),
        ),
        (
            "GET /api/companies/{symbol}/stretch",
            "/api/companies/DRUA/stretch?from=2023-01-10&to=2024-12-10",
            NONE,
            Some(("/api/companies/DRUA/stretch?from=2024-01-10&to=2024-01-10", NONE)),
        ),
        ("GET /api/companies/{symbol}/peers", "/api/companies/DRUA/peers", NONE, Some(("/api/companies/NOSUCH/peers", NONE))),
        (
            "POST /api/companies/{symbol}/statement",
            "/api/companies/DRUA/statement",
            json!({ "statement": "income", "period": "year", "form": "amount" }),
            Some(("/api/companies/DRUA/statement", json!({ "statement": "income", "period": "decade", "form": "amount" }))),
        ),
        ("GET /api/companies/{symbol}/value", "/api/companies/DRUA/value", NONE, Some(("/api/companies/NOSUCH/value", NONE))),
        (
            "POST /api/companies/{symbol}/value",
            "/api/companies/DRUA/value",
            json!({}),
            Some(("/api/companies/DRUA/value", json!({ "own": { "own_growth": 50 } }))),
        ),
        ("POST /api/criteria", "/api/criteria", json!({ "text": "pe" }), Some(("/api/criteria", json!({ "txt": "pe" })))),
        ("GET /api/criteria/used", "/api/criteria/used", NONE, None),
        ("GET /api/data", "/api/data", NONE, None),
        ("POST /api/data/companies", "/api/data/companies", json!({}), None),
        ("POST /api/data/findings", "/api/data/findings", json!({}), Some(("/api/data/findings", json!({ "symbol": "NOSUCH" })))),
        (
            "POST /api/distribution",
            "/api/distribution",
            json!({ "formula": "pe" }),
            Some(("/api/distribution", json!({ "formula": "pe +" }))),
        ),
        ("POST /api/documents", "/api/documents", document("Steady"), Some(("/api/documents", wrong.clone()))),
        ("GET /api/documents", "/api/documents?kind=screen", NONE, Some(("/api/documents?kind=poem", NONE))),
        ("GET /api/documents/{id}", "/api/documents/{document}", NONE, Some(("/api/documents/nothing", NONE))),
        ("PUT /api/documents/{id}", "/api/documents/{document}", document("Steadier"), Some(("/api/documents/{document}", wrong))),
        ("GET /api/documents/{id}/file", "/api/documents/{document}/file", NONE, Some(("/api/documents/nothing/file", NONE))),
        ("POST /api/screens/{id}/runs", "/api/screens/{document}/runs", NONE, Some(("/api/screens/nothing/runs", NONE))),
        ("DELETE /api/documents/{id}", "/api/documents/{document}", NONE, Some(("/api/documents/nothing", NONE))),
        ("POST /api/documents/{id}/restore", "/api/documents/{document}/restore", NONE, Some(("/api/documents/nothing/restore", NONE))),
        (
            "POST /api/evaluate",
            "/api/evaluate",
            json!({ "formulas": ["pe"] }),
            Some(("/api/evaluate", json!({ "formulas": ["pe"], "symbols": ["NOSUCH"] }))),
        ),
        (
            "POST /api/explain",
            "/api/explain",
            json!({ "formula": "pe", "symbol": "DRUA" }),
            Some(("/api/explain", json!({ "formula": "pe", "symbol": "NOSUCH" }))),
        ),
        ("GET /api/export", "/api/export?table=companies", NONE, Some(("/api/export?symbol=NOSUCH", NONE))),
        ("GET /api/feed", "/api/feed", NONE, None),
        ("POST /api/feed", "", NONE, Some(("/api/feed", json!({ "sessions": 1 })))),
        (
            "POST /api/formulas/check",
            "/api/formulas/check",
            json!({ "formula": "pe < 12" }),
            Some(("/api/formulas/check", json!({ "formula": 3 }))),
        ),
        ("GET /api/functions", "/api/functions", NONE, None),
        ("GET /api/groups", "/api/groups", NONE, Some(("/api/groups?as_of=never", NONE))),
        ("GET /api/jobs", "/api/jobs", NONE, None),
        ("GET /api/measures", "/api/measures", NONE, None),
        (
            "POST /api/numbers",
            "/api/numbers",
            json!({ "text": "20,000", "unit": "money" }),
            Some(("/api/numbers", json!({ "text": "20", "unit": "stones" }))),
        ),
        ("GET /api/own-measures", "/api/own-measures", NONE, None),
        (
            "PUT /api/own-measures",
            "/api/own-measures",
            mine,
            Some(("/api/own-measures", json!({ "id": "pe", "label": "Mine", "note": "", "formula": "1" }))),
        ),
        ("DELETE /api/own-measures/{id}", "/api/own-measures/mine", NONE, Some(("/api/own-measures/nothing", NONE))),
        ("GET /api/quality/components", "/api/quality/components", NONE, None),
        ("POST /api/rank", "/api/rank", json!({}), Some(("/api/rank", json!({ "universe": { "symbols": ["NOSUCH"] } })))),
        (
            "POST /api/rank/symbols",
            "/api/rank/symbols",
            json!({ "order": [{ "by": "quality", "descending": true }] }),
            Some(("/api/rank/symbols", json!({ "margin": 25 }))),
        ),
        ("POST /api/rank/xlsx", "/api/rank/xlsx", json!({}), Some(("/api/rank/xlsx", json!({ "margin": 25 })))),
        ("GET /api/repairs", "/api/repairs", NONE, None),
        ("POST /api/repairs/match", "", NONE, Some(("/api/repairs/match", json!({ "company_id": "nothing" })))),
        (
            "POST /api/screen",
            "/api/screen",
            json!({ "screen": screen }),
            Some(("/api/screen", json!({ "screen": { "universe": { "symbols": ["NOSUCH"] }, "blocks": [] } }))),
        ),
        (
            "POST /api/screen/rows",
            "/api/screen/rows",
            json!({ "list": { "screen": screen }, "rows": 10 }),
            Some(("/api/screen/rows", json!({ "list": { "screen": { "sort": [{ "formula": "prise" }] } }, "rows": 10 }))),
        ),
        (
            "POST /api/screen/medians",
            "/api/screen/medians",
            json!({ "screen": screen, "group": "sector" }),
            Some(("/api/screen/medians", json!({ "screen": screen, "group": "size" }))),
        ),
        (
            "POST /api/screen/file",
            "/api/screen/file",
            json!({ "list": { "screen": screen }, "format": "csv" }),
            Some(("/api/screen/file", json!({ "list": { "screen": screen }, "format": "poem" }))),
        ),
        (
            "POST /api/screen/symbols",
            "/api/screen/symbols",
            json!({ "screen": screen }),
            Some(("/api/screen/symbols", json!({ "screen": { "universe": { "index": "NOSUCH" } } }))),
        ),
        (
            "POST /api/screen/wall",
            "/api/screen/wall",
            json!({ "list": { "screen": screen }, "rows": 12, "months": 36 }),
            Some(("/api/screen/wall", json!({ "list": { "screen": screen }, "rows": 12 }))),
        ),
        (
            "POST /api/screen/map",
            "/api/screen/map",
            json!({ "list": { "screen": screen }, "x": "pe", "y": "price" }),
            Some(("/api/screen/map", json!({ "list": { "screen": screen }, "x": "sector", "y": "pe" }))),
        ),
        (
            "POST /api/screen/changes",
            "/api/screen/changes",
            json!({ "screen": screen, "since": "2024-02-20" }),
            Some(("/api/screen/changes", json!({ "screen": screen, "since": "1999-01-01" }))),
        ),
        (
            "POST /api/screen/year",
            "/api/screen/year",
            json!({ "screen": screen, "years_before": 1 }),
            Some(("/api/screen/year", json!({ "screen": { "universe": { "index": "NOSUCH" } }, "years_before": 0 }))),
        ),
        (
            "POST /api/screens/compare",
            "/api/screens/compare",
            json!({ "before": screen, "after": { "blocks": [] } }),
            Some(("/api/screens/compare", json!({ "before": screen }))),
        ),
        ("GET /api/screens/ready", "/api/screens/ready", NONE, None),
        ("GET /api/columns/ready", "/api/columns/ready", NONE, None),
        (
            "POST /api/standing",
            "/api/standing",
            json!({ "formula": "pe", "symbol": "DRUA" }),
            Some(("/api/standing", json!({ "formula": "pe", "symbol": "NOSUCH" }))),
        ),
        ("POST /api/uploads", "/api/uploads", Value::from(csv), None),
        (
            "POST /api/uploads/{id}/preview",
            "/api/uploads/{upload}/preview",
            json!({ "file": "day.csv" }),
            Some(("/api/uploads/nothing/preview", json!({ "file": "day.csv" }))),
        ),
        ("POST /api/uploads/{id}/import", "/api/uploads/{upload}/import", json!({}), Some(("/api/uploads/nothing/import", json!({})))),
        ("GET /api/concepts", "/api/concepts", NONE, None),
        (
            "PUT /api/concepts",
            "/api/concepts",
            json!({ "namespace": "http://mill.example", "name": "Grinding", "item": "cost_of_revenue" }),
            Some(("/api/concepts", json!({ "namespace": "http://mill.example", "name": "Grinding", "item": "flour" }))),
        ),
        ("POST /api/copies", "/api/copies", NONE, None),
        ("GET /api/safety", "/api/safety", NONE, None),
        ("GET /api/copies/{name}/file", "/api/copies/{copy}/file", NONE, Some(("/api/copies/none/file", NONE))),
        ("POST /api/copies/{name}/restore", "/api/copies/{copy}/restore", NONE, Some(("/api/copies/none/restore", NONE))),
        ("DELETE /api/jobs/{id}", "", NONE, Some(("/api/jobs/none", NONE))),
        ("GET /api/imports/{id}/report.csv", "/api/imports/1/report.csv", NONE, Some(("/api/imports/999/report.csv", NONE))),
    ]
}

/// Streams without an end; the browser tests follow it.
const ENDLESS: [&str; 1] = ["GET /api/events"];

/// Areas that there are among several people only: see `people`.
const OF_SEVERAL: [&str; 2] = ["people", "sharing"];

static CONTRACT: LazyLock<Mutex<Contract>> = LazyLock::new(|| Mutex::new(Contract::new()));

/// Who asks: the port of the server, and what is sent with each request.
pub(crate) struct Asking<'a>(pub(crate) u16, pub(crate) &'a str);

#[derive(Default)]
pub(crate) struct Made {
    document: String,
    account: String,
    upload: String,
    decision: String,
    import: String,
    pub(crate) backtest: String,
    copy: String,
    /// What starts the import of the upload, with the mapping that was proposed.
    start: Value,
}

impl Made {
    /// Keeps what others ask for by its id.
    pub(crate) fn note(&mut self, operation: &str, answer: &Value) {
        let text = |field: &str| answer[field].as_str().unwrap().to_owned();
        match operation {
            "POST /api/ledger/accounts" => self.account = text("id"),
            "POST /api/decisions/new" => self.decision = text("id"),
            "POST /api/ledger/statements" => self.import = text("taken"),
            "POST /api/backtests" => self.backtest = text("id"),
            "POST /api/copies" => self.copy = text("name").replace(' ', "%20"),
            "POST /api/documents" => self.document = text("id"),
            "POST /api/uploads" => {
                self.upload = text("id");
                self.start = json!({ "mappings": [{ "file": "day.csv", "mapping": answer["files"][0]["mapping"] }] });
            }
            _ => {}
        }
    }
}

/// Status, media type and body, which are as they are described.
pub(crate) async fn send(asking: &Asking<'_>, operation: &str, asked: &Asked, made: &Made) -> (u16, String, Value) {
    let method = operation.split(' ').next().unwrap();
    let path = asked.0.replace("{document}", &made.document).replace("{account}", &made.account).replace("{upload}", &made.upload);
    let path = path
        .replace("{decision}", &made.decision)
        .replace("{import}", &made.import)
        .replace("{backtest}", &made.backtest)
        .replace("{copy}", &made.copy);
    let if_match = match operation {
        "PUT /api/documents/{id}" => "If-Match: \"1\"\r\n",
        _ if operation.starts_with("PUT /api/companies/{symbol}/") => "If-Match: \"0\"\r\n",
        _ => "",
    };
    let (more, body) = match &asked.1 {
        Value::Null => (if_match.to_owned(), String::new()),
        Value::String(csv) if asked.0.ends_with("/statements") => {
            let request = json!({ "account": made.account, "take": true });
            let part = |name: &str, content: &str| format!("--x\r\nContent-Disposition: form-data; {name}\r\n\r\n{content}\r\n");
            let form = part("name=\"request\"", &request.to_string()) + &part("name=\"file\"; filename=\"q1.csv\"", csv) + "--x--\r\n";
            ("Content-Type: multipart/form-data; boundary=x\r\n".to_owned(), form)
        }
        Value::String(csv) => {
            let form = format!("--x\r\nContent-Disposition: form-data; name=\"files\"; filename=\"day.csv\"\r\n\r\n{csv}\r\n--x--\r\n");
            ("Content-Type: multipart/form-data; boundary=x\r\n".to_owned(), form)
        }
        _ if asked.0.contains("{upload}/import") => (String::new(), made.start.to_string()),
        body => (if_match.to_owned(), body.to_string().replace("{account}", &made.account)),
    };
    let host = OWN.replace("PORT", &asking.0.to_string());
    let (status, headers, text) = ask_at(asking.0, method, &path, &host, &format!("{}{more}", asking.1), &body).await;
    if let Err(what) = CONTRACT.lock().unwrap().check(operation, status, &headers, &text) {
        panic!("{operation}, asked {path} {body}: {what}");
    }
    let sort = headers.lines().find_map(|l| l.to_lowercase().strip_prefix("content-type: ").map(str::to_owned)).unwrap_or_default();
    (status, sort, serde_json::from_str(&text).unwrap_or(Value::String(text)))
}

/// Whether anything may come after the question mark.
fn takes_a_query(description: &Value, operation: &str) -> bool {
    let described = operation.split_once(' ').map(|(method, path)| &description["paths"][path][method.to_lowercase()]["parameters"]);
    described.and_then(Value::as_array).is_some_and(|all| all.iter().any(|p| p["in"] == "query"))
}

/// The same at a date, if the operation takes one.
fn at(description: &Value, operation: &str, asked: &Asked, date: &str) -> Option<Asked> {
    let (method, path) = operation.split_once(' ')?;
    let described = &description["paths"][path][method.to_lowercase()];
    let in_query = described["parameters"].as_array().is_some_and(|all| all.iter().any(|p| p["name"] == "as_of"));
    if in_query {
        let sign = if asked.0.contains('?') { '&' } else { '?' };
        return Some(Asked(format!("{}{sign}as_of={date}", asked.0), asked.1.clone()));
    }
    let schema = described["requestBody"]["content"]["application/json"]["schema"]["$ref"].as_str()?;
    let properties = &description.pointer(schema.trim_start_matches('#'))?["properties"];
    let mut body = asked.1.clone();
    if properties.get("as_of").is_some() {
        body["as_of"] = date.into();
    } else if body.get("screen").is_some_and(Value::is_object) {
        body["screen"]["as_of"] = date.into();
    } else {
        return None;
    }
    Some(Asked(asked.0.clone(), body))
}

/// Waits until a backtest is done.
pub(crate) async fn wait_for(asking: &Asking<'_>, made: &Made) {
    let asked = Asked("/api/backtests/{backtest}".to_owned(), NONE);
    let ended = async {
        loop {
            let (_, _, answer) = send(asking, "GET /api/backtests/{id}", &asked, made).await;
            if answer["state"] != "waiting" {
                return assert_eq!(answer["state"], "done", "{answer}");
            }
            tokio::task::yield_now().await;
        }
    };
    tokio::time::timeout(std::time::Duration::from_secs(60), ended).await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn every_operation_answers_refuses_and_looks_back() {
    let server = server().await;
    let asking = Asking(server.port, "");
    let description = serde_json::to_value(artemon_server::openapi()).unwrap();
    let mut made = Made::default();
    let (mut asked_of, mut dated) = (BTreeSet::new(), 0);
    for (operation, path, body, refused) in rows() {
        let (method, place) = operation.split_once(' ').unwrap();
        let described = &description["paths"][place][method.to_lowercase()]["responses"];
        assert!(described.is_object(), "{operation} is not described");
        asked_of.insert(operation.to_owned());
        let good = Asked(path.to_owned(), body);
        if !path.is_empty() {
            let (status, _, answer) = send(&asking, operation, &good, &made).await;
            assert!((200..300).contains(&status) && described.get(status.to_string()).is_some(), "{operation}: {status} {answer}");
            made.note(operation, &answer);
            if operation == "POST /api/backtests" {
                wait_for(&asking, &made).await;
            }
            if takes_a_query(&description, operation) {
                let sign = if good.0.contains('?') { '&' } else { '?' };
                let misspelt = Asked(format!("{}{sign}as_off=2024-02-20", good.0), NONE);
                let (status, _, said) = send(&asking, operation, &misspelt, &made).await;
                assert!(status == 400 && said["title"].as_str().is_some_and(|t| t.contains("`as_off`")), "{operation}: {status} {said}");
            }
            if let Some(past) = at(&description, operation, &good, "2024-02-20") {
                let (status, _, then) = send(&asking, operation, &past, &made).await;
                assert_eq!(status, 200, "{operation} as of 2024-02-20: {then}");
                assert!(
                    then != answer || ["GET /api/companies", "GET /api/groups", "POST /api/criteria"].contains(&operation),
                    "{operation}"
                );
                for never in ["1999-01-01", "2099-01-01"] {
                    let (status, sort, said) = send(&asking, operation, &at(&description, operation, &good, never).unwrap(), &made).await;
                    assert_eq!((status, sort.as_str()), (422, "application/problem+json"), "{operation} as of {never}: {said}");
                    assert_eq!(said["type"].as_str().map(|t| t.ends_with("date-outside-data")), Some(true), "{said}");
                }
                dated += 1;
            }
        }
        if let Some((path, body)) = refused {
            let (status, sort, said) = send(&asking, operation, &Asked(path.to_owned(), body), &made).await;
            assert!((400..500).contains(&status) && described.get(status.to_string()).is_some(), "{operation} refused: {status} {said}");
            assert_eq!(sort, "application/problem+json", "{operation}: {said}");
            assert!(said["title"].as_str().is_some_and(|d| d.len() > 10 && d.ends_with(['.', '?'])), "{operation}: {said}");
        }
    }
    let all: BTreeSet<String> = description["paths"]
        .as_object()
        .unwrap()
        .iter()
        .flat_map(|(path, methods)| {
            methods.as_object().unwrap().keys().map(move |m| format!("{} {path}", m.to_uppercase())).collect::<Vec<_>>()
        })
        .collect();
    let of_several = |operation: &str| {
        let (method, path) = operation.split_once(' ').unwrap();
        description["paths"][path][method.to_lowercase()]["tags"][0].as_str().is_some_and(|tag| OF_SEVERAL.contains(&tag))
    };
    let missing: Vec<&String> = all.iter().filter(|o| !asked_of.contains(*o) && !ENDLESS.contains(&o.as_str()) && !of_several(o)).collect();
    assert!(missing.is_empty(), "asked nothing of {missing:?}");
    assert!(dated >= 12, "{dated} look back");
}

/// Two who change one document: the second is told with what is there now, and a change without a version is not taken.
#[tokio::test(flavor = "multi_thread")]
async fn two_changers_at_once() {
    let server = server().await;
    let file = |name: &str| json!({ "kind": "screen", "name": name, "body": { "blocks": [] } }).to_string();
    let (status, _, text) = ask_whole(&server, "POST", "/api/documents", OWN, "", &file("First")).await;
    assert_eq!(status, 201, "{text}");
    let id = serde_json::from_str::<Value>(&text).unwrap()["id"].as_str().unwrap().to_owned();
    let path = format!("/api/documents/{id}");
    let save =
        |made_to: &'static str, name: &'static str| ask_whole(&server, "PUT", &path, OWN, made_to, Box::leak(file(name).into_boxed_str()));
    assert_eq!(save("If-Match: \"1\"\r\n", "Second").await.0, 200);
    let (status, _, said) = save("If-Match: \"1\"\r\n", "Third").await;
    assert!(status == 412 && said.contains("version 2"), "{status} {said}");
    let (status, _, said) = save("", "Fourth").await;
    assert_eq!(status, 428, "{said}");
    let (status, _, said) = save("If-Match: latest\r\n", "Fifth").await;
    assert!((400..500).contains(&status), "{status} {said}");
    let (_, headers, text) = ask_whole(&server, "GET", &path, OWN, "", "").await;
    assert!(text.contains("Second") && !text.contains("Third"), "{headers}\n{text}");
}
