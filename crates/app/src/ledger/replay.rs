//! A ledger worked from a document, for the command line and whoever reads on by program.

use crate::{AppError, Ctx};
use artemon_core::{
    engine::Settings,
    ledger::{AccountKind, Instruction, LedgerDocument, Quantity},
};
use artemon_sim::{
    broker::Broker,
    replay::{ReplayError, Replayed, replay},
};
use rust_decimal::Decimal;
use std::collections::BTreeSet;

/// Works a document in its own base currency.
///
/// # Errors
/// What is entered names an account, company or index that is not there, contradicts the books, or lies outside the data.
pub fn replay_ledger(ctx: &Ctx, document: &LedgerDocument<Broker>) -> Result<Replayed, AppError> {
    let refused = |problem: String| AppError::Unusable { what: "The document".to_owned(), problem };
    check(document).map_err(refused)?;
    ctx.date(Some(document.to))?;
    if let Some(index) = &document.index
        && !ctx.snapshot().indexes().any(|i| i.0 == index)
    {
        return Err(refused(format!("the dataset has no index \"{index}\"")));
    }
    let engine = ctx.engine.with(Settings { base: document.base, ..ctx.settings().clone() });
    replay(&engine, document).map_err(|e| match e {
        ReplayError::Unknown { symbol, .. } => ctx.unknown(vec![symbol]),
        other => refused(other.to_string()),
    })
}

/// The figures that an entry has.
fn figures(what: &Instruction) -> Vec<Decimal> {
    match what {
        Instruction::Deposit { amount } | Instruction::Withdraw { amount } | Instruction::RecordIncome { amount, .. } => vec![*amount],
        Instruction::Buy(w) | Instruction::Sell(w) => {
            let quantity = match w.quantity {
                Some(Quantity::Of(n)) => n,
                _ => Decimal::ZERO,
            };
            let of = |x: Option<Decimal>| x.unwrap_or_default();
            vec![of(w.limit), of(w.amount), quantity]
        }
        Instruction::Cancel { .. } => Vec::new(),
        Instruction::RecordBuy(t) | Instruction::RecordSell(t) => {
            vec![t.quantity, t.price, t.multiplier.unwrap_or_default(), t.fee.unwrap_or_default()]
        }
        Instruction::RecordPrice { price, .. } => vec![*price],
    }
}

/// What does not depend on the dataset.
fn check(document: &LedgerDocument<Broker>) -> Result<(), String> {
    let mut names = BTreeSet::new();
    if let Some(twice) = document.accounts.iter().find(|a| !names.insert(&a.name)) {
        return Err(format!("there are two accounts \"{}\"", twice.name));
    }
    for (i, entry) in document.entries.iter().enumerate() {
        let n = i + 1;
        let account = document.accounts.iter().find(|a| a.name == entry.account);
        let account = account.ok_or_else(|| format!("entry {n}: there is no account \"{}\"", entry.account))?;
        if i > 0 && entry.date < document.entries[i - 1].date {
            return Err(format!(
                "entry {n} of {} comes after one of {}; entries are in order of date",
                entry.date,
                document.entries[i - 1].date
            ));
        }
        let is_order = matches!(entry.what, Instruction::Buy(_) | Instruction::Sell(_) | Instruction::Cancel { .. });
        let is_cash = matches!(entry.what, Instruction::Deposit { .. } | Instruction::Withdraw { .. });
        if figures(&entry.what).into_iter().any(|x| x.abs() > Decimal::from(1_000_000_000_000_u64)) {
            return Err(format!("entry {n}: a figure is larger than a million millions"));
        }
        match account.kind {
            AccountKind::ByHand if is_order => {
                return Err(format!("entry {n}: \"{}\" is kept by hand and takes no orders; record the trade", account.name));
            }
            AccountKind::Simulated if !is_order && !is_cash => {
                return Err(format!("entry {n}: \"{}\" is simulated; what happens in it comes from orders", account.name));
            }
            _ => {}
        }
    }
    Ok(())
}
