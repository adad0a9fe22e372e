//! `holdings`: what is held, with cost, worth and gain.

use crate::{
    args::{HoldingsArgs, Shared},
    output::print,
};
use artemon_app::{HoldingRow, LedgerRequest, ledger_page};

const COLUMNS: [&str; 13] =
    ["account", "symbol", "name", "shares", "price", "price_currency", "cost", "worth", "currency", "gain", "income", "value", "verdict"];

pub(crate) fn run(shared: &Shared, args: &HoldingsArgs) -> anyhow::Result<()> {
    let page = ledger_page(&shared.open()?, &LedgerRequest { as_of: args.as_of, ..LedgerRequest::default() })?;
    let rows: Vec<Vec<String>> = page.holdings.iter().map(cells).collect();
    print(shared.format, &page.holdings, &COLUMNS, &rows)
}

fn cells(h: &HoldingRow) -> Vec<String> {
    let amount = |x: f64| format!("{x:.2}");
    let some = |x: Option<f64>| x.map(amount).unwrap_or_default();
    let text = |t: &str| t.to_owned();
    vec![
        text(&h.account),
        text(&h.symbol),
        text(&h.name),
        h.quantity.to_string(),
        some(h.price),
        text(&h.price_currency),
        amount(h.cost),
        amount(h.value),
        text(&h.currency),
        amount(h.gain),
        amount(h.income),
        some(h.intrinsic_value),
        h.verdict.clone().unwrap_or_default(),
    ]
}
