//! `ledger`: accounts, orders and what came of them.

use crate::{
    args::{LedgerArgs, LedgerCommand, Shared},
    output::print,
};
use artemon_app::replay_ledger;
use serde_json::Value;

/// The columns of the journal as a table or CSV.
const COLUMNS: [&str; 13] =
    ["n", "date", "account", "event", "order", "symbol", "quantity", "price", "amount", "value", "fee", "cash", "realised"];

pub(crate) fn run(shared: &Shared, args: &LedgerArgs) -> anyhow::Result<()> {
    let LedgerCommand::Replay { file: path } = &args.command;
    let file = path.display();
    let text = std::fs::read_to_string(path).map_err(|e| anyhow::anyhow!("{file} cannot be read: {e}."))?;
    let document = serde_json::from_str(&text)
        .map_err(|e| anyhow::anyhow!("{file} is not a ledger document: {e}. The documented form is in docs/ledger.md."))?;
    let found = replay_ledger(&shared.open()?, &document)?;
    let rows: Vec<Vec<String>> = found.journal.iter().map(|booked| cells(&serde_json::to_value(booked).unwrap_or_default())).collect();
    print(shared.format, &found, &COLUMNS, &rows)
}

fn cells(line: &Value) -> Vec<String> {
    let cell = |column: &&str| match (*column, &line[*column]) {
        // What is not on an exchange stands by its name.
        ("symbol", Value::Null) => line["what"].as_str().unwrap_or_default().to_owned(),
        (_, Value::String(text)) => text.clone(),
        (_, Value::Null) => String::new(),
        (_, other) => other.to_string(),
    };
    COLUMNS.iter().map(cell).collect()
}
