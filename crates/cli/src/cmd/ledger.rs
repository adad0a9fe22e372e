//! `ledger`: accounts, orders and what came of them.

use crate::{
    args::{LedgerArgs, LedgerCommand, Shared},
    output::print,
};
use artemon_app::{AccountStatementRequest, LedgerRequest, NewAccount, account_statement, add_account, ledger_page, replay_ledger};
use artemon_core::ledger::{AccountKind, LotRule};
use serde_json::Value;
use std::path::Path;

/// The columns of the journal as a table or CSV.
const COLUMNS: [&str; 13] =
    ["n", "date", "account", "event", "order", "symbol", "quantity", "price", "amount", "value", "fee", "cash", "realised"];

pub(crate) fn run(shared: &Shared, args: &LedgerArgs) -> anyhow::Result<()> {
    match &args.command {
        LedgerCommand::Replay { file } => replay(shared, file),
        LedgerCommand::Open { name, currency, deposit, by_hand } => {
            let kind = if *by_hand { AccountKind::ByHand } else { AccountKind::Simulated };
            let (name, currency, deposit) = (name.clone(), *currency, *deposit);
            let made = add_account(&shared.to_write()?, &NewAccount { name, currency, kind, lots: LotRule::default(), deposit })?;
            print(shared.format, &made, &["id"], &[vec![made.id.clone()]])
        }
        LedgerCommand::Statement { file, account, take } => statement(shared, file, account, *take),
    }
}

/// The columns of a statement's rows.
const OF_STATEMENT: [&str; 9] = ["place", "date", "kind", "what", "units", "price", "total", "state", "says"];

fn statement(shared: &Shared, path: &Path, name: &str, take: bool) -> anyhow::Result<()> {
    let file = path.display();
    let bytes = std::fs::read(path).map_err(|e| anyhow::anyhow!("{file} cannot be read: {e}."))?;
    let ctx = if take { shared.to_write()? } else { shared.open()? };
    let accounts = ledger_page(&ctx, &LedgerRequest::default())?.accounts;
    let account = accounts.into_iter().find(|a| a.name == name);
    let account = account.ok_or_else(|| anyhow::anyhow!("There is no account \"{name}\". Open one with `artemon ledger open`."))?.id;
    let request = AccountStatementRequest { account, take, ..AccountStatementRequest::default() };
    let named = path.file_name().unwrap_or_default().to_string_lossy();
    let found = account_statement(&ctx, &named, &bytes, &request)?;
    let rows: Vec<Vec<String>> =
        found.rows.iter().map(|row| cells(&serde_json::to_value(row).unwrap_or_default(), &OF_STATEMENT)).collect();
    print(shared.format, &found, &OF_STATEMENT, &rows)
}

fn replay(shared: &Shared, path: &Path) -> anyhow::Result<()> {
    let file = path.display();
    let text = std::fs::read_to_string(path).map_err(|e| anyhow::anyhow!("{file} cannot be read: {e}."))?;
    let document = serde_json::from_str(&text)
        .map_err(|e| anyhow::anyhow!("{file} is not a ledger document: {e}. The documented form is in docs/ledger.md."))?;
    let found = replay_ledger(&shared.open()?, &document)?;
    let rows: Vec<Vec<String>> =
        found.journal.iter().map(|booked| cells(&serde_json::to_value(booked).unwrap_or_default(), &COLUMNS)).collect();
    print(shared.format, &found, &COLUMNS, &rows)
}

fn cells(line: &Value, columns: &[&str]) -> Vec<String> {
    let cell = |column: &&str| match (*column, &line[*column]) {
        // What is not on an exchange stands by its name.
        ("symbol", Value::Null) => line["what"].as_str().unwrap_or_default().to_owned(),
        (_, Value::String(text)) => text.clone(),
        (_, Value::Null) => String::new(),
        (_, other) => other.to_string(),
    };
    columns.iter().map(cell).collect()
}
