//! Accounts: opened, named, removed.

use super::{
    books::{kept_account, refused, whole_market},
    entries::{Entered, write_down},
};
use crate::{AppError, Ctx, names::check_name};
use artemon_core::{
    domain::Currency,
    ledger::{AccountKind, LotRule},
};
use artemon_store::KeptAccount;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// An account to be opened.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct NewAccount {
    pub name: String,
    #[schema(value_type = String)]
    pub currency: Currency,
    pub kind: AccountKind,
    #[serde(default)]
    pub lots: LotRule,
    /// What is in it at first, in its currency.
    #[serde(default)]
    pub deposit: f64,
}

/// What was made.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Made {
    pub id: String,
}

/// Opens an account.
///
/// # Errors
/// Without a name of its own, in a currency without rates.
pub fn add_account(ctx: &Ctx, account: &NewAccount) -> Result<Made, AppError> {
    let name = named(&account.name)?;
    let base = ctx.settings().base;
    if whole_market(ctx).fx(account.currency, base).is_none() {
        let problem = format!("the dataset has no rate from {} to {base}", account.currency);
        return Err(refused("The currency", problem));
    }
    let new = KeptAccount {
        id: String::new(),
        name: name.clone(),
        currency: account.currency.to_string(),
        kind: word(account.kind),
        lots: word(account.lots),
    };
    let id = ctx.home.people.add_account(&ctx.person, &new)?.ok_or_else(|| taken(&name))?;
    if account.deposit > 0.0 {
        write_down(ctx, &id, &Entered::Deposit { amount: account.deposit, date: None })?;
    }
    Ok(Made { id })
}

/// As it is written in JSON.
fn word(of: impl Serialize) -> String {
    serde_json::to_value(of).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default()
}

fn named(name: &str) -> Result<String, AppError> {
    let name = name.trim();
    check_name(name, 80).map_err(|problem| refused("The name", problem))?;
    Ok(name.to_owned())
}

fn taken(name: &str) -> AppError {
    refused(&format!("The name \"{name}\""), "another account has it".to_owned())
}

/// Names an account anew.
///
/// # Errors
/// Without a name of its own.
pub fn rename_account(ctx: &Ctx, id: &str, name: &str) -> Result<(), AppError> {
    let name = named(name)?;
    kept_account(ctx, id)?;
    if ctx.home.people.rename_account(&ctx.person, id, &name)? { Ok(()) } else { Err(taken(&name)) }
}

/// Removes an account in which nothing has happened.
///
/// # Errors
/// When something has.
pub fn remove_account(ctx: &Ctx, id: &str) -> Result<(), AppError> {
    let account = kept_account(ctx, id)?;
    if ctx.home.people.remove_account(&ctx.person, id)? {
        return Ok(());
    }
    Err(refused(&format!("The account \"{}\"", account.name), "it has a journal, which is kept".to_owned()))
}
