//! `order`: orders for the simulated broker.

use crate::{
    args::{OrderArgs, OrderCommand, Shared, TermsArgs},
    output::print,
};
use artemon_app::{AccountRow, Ctx, LedgerRequest, OrderRequest, OrderRow, Reasons, cancel_order, ledger_page, order_sheet, place_order};
use artemon_core::ledger::{AtWord, Side};
use serde_json::json;

const COLUMNS: [&str; 12] =
    ["order", "account", "symbol", "side", "state", "limit", "currency", "shares", "filled", "price", "given_on", "good"];

pub(crate) fn run(shared: &Shared, args: &OrderArgs) -> anyhow::Result<()> {
    match &args.command {
        OrderCommand::List => list(shared),
        OrderCommand::Buy(terms) => give(shared, Side::Buy, terms),
        OrderCommand::Sell(terms) => give(shared, Side::Sell, terms),
        OrderCommand::Cancel { order } => {
            cancel_order(&shared.to_write()?, order)?;
            print(shared.format, &json!({ "cancelled": order }), &["cancelled"], &[vec![order.clone()]])
        }
    }
}

fn list(shared: &Shared) -> anyhow::Result<()> {
    let page = ledger_page(&shared.open()?, &LedgerRequest::default())?;
    let rows: Vec<Vec<String>> = page.orders.iter().map(cells).collect();
    print(shared.format, &page.orders, &COLUMNS, &rows)
}

/// Says what the order comes to, and gives it.
fn give(shared: &Shared, side: Side, terms: &TermsArgs) -> anyhow::Result<()> {
    let ctx = if terms.dry_run { shared.open()? } else { shared.to_write()? };
    let request = OrderRequest {
        account: account(&ctx, terms.account.as_deref())?,
        symbol: terms.symbol.clone(),
        side,
        at: if terms.market { AtWord::Market } else { AtWord::Limit },
        limit: terms.limit,
        quantity: terms.shares,
        amount: terms.amount,
        good: terms.good,
        sell_at: terms.sell_at,
        sell_at_gain: None,
        lots: Vec::new(),
        sure: terms.sure,
        reasons: terms.thesis.as_ref().map(|thesis| Reasons { thesis: thesis.clone(), ..Reasons::default() }),
    };
    let sheet = order_sheet(&ctx, &request)?;
    let given = if terms.dry_run { None } else { Some(place_order(&ctx, &request)?.order) };
    let order = given.clone().unwrap_or_default();
    let mut rows = vec![vec![order, sheet.sentence.clone()]];
    rows.extend(sheet.refused.iter().chain(&sheet.asks).chain(&sheet.warnings).map(|w| vec![String::new(), w.clone()]));
    print(shared.format, &json!({ "order": given, "sheet": sheet }), &["order", "says"], &rows)
}

fn account(ctx: &Ctx, name: Option<&str>) -> anyhow::Result<String> {
    let all: Vec<AccountRow> = ledger_page(ctx, &LedgerRequest::default())?.accounts.into_iter().filter(|a| !a.by_hand).collect();
    let names = || all.iter().map(|a| a.name.as_str()).collect::<Vec<_>>().join(", ");
    match (name, &all[..]) {
        (Some(name), _) => match all.iter().find(|a| a.name == name) {
            Some(found) => Ok(found.id.clone()),
            None => anyhow::bail!("There is no simulated account \"{name}\". There are: {}.", names()),
        },
        (None, [only]) => Ok(only.id.clone()),
        (None, []) => anyhow::bail!("There is no simulated account. Open one under Ledger."),
        (None, _) => anyhow::bail!("Say with --account which one is meant: {}.", names()),
    }
}

fn cells(o: &OrderRow) -> Vec<String> {
    let some = |x: Option<f64>| x.map(|x| x.to_string()).unwrap_or_default();
    vec![
        o.order.clone(),
        o.account.clone(),
        o.symbol.clone(),
        word(&o.side),
        word(&o.state),
        some(o.limit),
        o.price_currency.clone(),
        o.quantity.to_string(),
        o.filled.to_string(),
        some(o.price),
        o.given_on.to_string(),
        o.good.clone(),
    ]
}

/// As it is written in JSON.
fn word(of: &impl serde::Serialize) -> String {
    serde_json::to_value(of).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default()
}
