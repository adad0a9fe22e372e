//! What a person writes down, and takes back.

use super::{
    books::{kept_account, own_ledger, refused},
    landing::{add, check},
    securities::security,
};
use crate::{AppError, Ctx};
use artemon_core::{
    domain::{Currency, Day},
    ledger::{Recorded, Side, What, decimal},
};
use artemon_store::KeptAccount;
use rust_decimal::Decimal;
use serde::Deserialize;
use utoipa::ToSchema;

/// What a person writes down. Amounts are in the account's currency; days are those of accounts kept by hand, the newest session when
/// absent.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(tag = "do", rename_all = "snake_case", deny_unknown_fields)]
#[allow(missing_docs)]
pub enum Entered {
    Deposit {
        amount: f64,
        #[serde(default)]
        #[schema(value_type = Option<String>)]
        date: Option<Day>,
    },
    Withdraw {
        amount: f64,
        #[serde(default)]
        #[schema(value_type = Option<String>)]
        date: Option<Day>,
    },
    Trade(EnteredTrade),
    Income {
        what: String,
        amount: f64,
        #[serde(default)]
        #[schema(value_type = Option<String>)]
        date: Option<Day>,
    },
    /// So many shares for one.
    Split {
        what: String,
        ratio: f64,
        #[serde(default)]
        #[schema(value_type = Option<String>)]
        date: Option<Day>,
    },
    /// Part of what was paid comes back.
    ReturnOfCapital {
        what: String,
        amount: f64,
        #[serde(default)]
        #[schema(value_type = Option<String>)]
        date: Option<Day>,
    },
    Price {
        what: String,
        price: f64,
        #[serde(default)]
        #[schema(value_type = Option<String>)]
        date: Option<Day>,
    },
}

/// A trade that was made elsewhere.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct EnteredTrade {
    pub side: Side,
    /// A symbol, ISIN or id of the dataset; or what it is called, where it is on no exchange of it.
    pub what: String,
    pub quantity: f64,
    /// Of one, in the currency of the trade.
    pub price: f64,
    /// What the price is of.
    #[serde(default = "one")]
    pub multiplier: f64,
    /// Of the trade; that of the listing or account when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub currency: Option<Currency>,
    #[serde(default)]
    pub fee: f64,
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub date: Option<Day>,
    /// Of a sale: the purchases whose lots go first.
    #[serde(default)]
    pub lots: Vec<u64>,
}

const fn one() -> f64 {
    1.0
}

/// Larger figures are a slip of the hand, and would not fit into the books once they are multiplied.
const MOST: f64 = 1e12;

/// A figure as it is entered.
///
/// # Errors
/// One that is too large or no number.
pub(super) fn entered_figure(name: &str, x: f64) -> Result<Decimal, AppError> {
    if x.abs() <= MOST { Ok(decimal(x)) } else { Err(refused(&format!("The {name}"), "it is larger than a million millions".to_owned())) }
}

/// Writes something down, and gives its number in the journal.
///
/// # Errors
/// What contradicts the books, lies outside the data, or does not belong into such an account.
pub fn write_down(ctx: &Ctx, account: &str, entered: &Entered) -> Result<u64, AppError> {
    let account = kept_account(ctx, account)?;
    let by_hand = account.kind == "by_hand";
    if !by_hand && !matches!(entered, Entered::Deposit { .. } | Entered::Withdraw { .. }) {
        let problem = "it is simulated: what happens in it comes from orders".to_owned();
        return Err(refused(&format!("The account \"{}\"", account.name), problem));
    }
    let today = ctx.date(None)?;
    let figure = entered_figure;
    let (date, what) = match entered {
        Entered::Deposit { amount, date } => (date, What::Deposit { amount: figure("amount", *amount)? }),
        Entered::Withdraw { amount, date } => (date, What::Withdrawal { amount: figure("amount", *amount)? }),
        Entered::Trade(trade) => (&trade.date, What::Recorded(recorded(ctx, &account, trade, trade.date.unwrap_or(today))?)),
        Entered::Income { what, amount, date } => {
            (date, What::RecordedIncome { security: security(ctx, what), amount: figure("amount", *amount)? })
        }
        Entered::Split { what, ratio, date } => (date, What::Split { security: security(ctx, what), ratio: figure("ratio", *ratio)? }),
        Entered::ReturnOfCapital { what, amount, date } => {
            (date, What::CapitalReturned { security: security(ctx, what), amount: figure("amount", *amount)? })
        }
        Entered::Price { what, price, date } => {
            (date, What::RecordedPrice { security: security(ctx, what), price: figure("price", *price)? })
        }
    };
    let date = date.unwrap_or(today);
    ctx.date(Some(date))?;
    if !by_hand && date != today {
        let problem = format!("what is done with a simulated account is done on the newest session, {today}");
        return Err(refused(&format!("The day {date}"), problem));
    }
    if date > today {
        return Err(refused(&format!("The day {date}"), format!("the newest session is {today}")));
    }
    add(ctx, &account, date, &[what])
}

/// Takes back what was written down by hand; what was built on it must stand without it.
///
/// # Errors
/// What was not written down by hand, or what the books need.
pub fn take_back(ctx: &Ctx, n: u64) -> Result<(), AppError> {
    let people = &ctx.home.people;
    let own = own_ledger(ctx)?;
    if !own.by_hand.contains(&n) {
        return Err(AppError::Missing { what: "An entry by hand of this number".to_owned() });
    }
    let _one = ctx.home.booking();
    let mut events = people.ledger_events(&ctx.person)?;
    let gone = events.iter().position(|e| e.n.cast_unsigned() == n).map(|at| events.remove(at));
    let gone = gone.ok_or_else(|| AppError::Missing { what: "An entry by hand of this number".to_owned() })?;
    let simulated = own.accounts.iter().any(|a| a.id == gone.account_id && a.kind == "simulated");
    let last = events.iter().filter(|e| e.account_id == gone.account_id).map(|e| e.n).max().unwrap_or(0);
    if simulated && gone.n < last {
        let problem = "the account went on since then; what happened in a simulated account stays".to_owned();
        return Err(refused("The entry", problem));
    }
    check(ctx, &own.accounts, &events)?;
    people.remove_events(&ctx.person, &[gone.n])?;
    Ok(())
}

fn recorded(ctx: &Ctx, account: &KeptAccount, trade: &EnteredTrade, date: Day) -> Result<Recorded, AppError> {
    if trade.what.trim().is_empty() {
        return Err(refused("The trade", "it says nothing of what was traded".to_owned()));
    }
    let own: Currency = account.currency.parse().map_err(|_| refused("The account", "its currency is not known".to_owned()))?;
    let listing = ctx.snapshot().find(&trade.what).map(|i| ctx.engine.as_of(date).company(i).listing_currency());
    let currency = trade.currency.or(listing).unwrap_or(own);
    let rate = ctx.engine.as_of(date).fx(currency, own);
    let rate = rate.ok_or_else(|| refused("The trade", format!("the dataset has no rate from {currency} to {own} on {date}")))?;
    for (name, x) in [("quantity", trade.quantity), ("price", trade.price), ("multiplier", trade.multiplier)] {
        if x <= 0.0 {
            return Err(refused("The trade", format!("its {name} is not above zero")));
        }
    }
    entered_figure("value", trade.quantity * trade.price * trade.multiplier * rate)?;
    if trade.fee < 0.0 {
        return Err(refused("The trade", "its fee is below zero".to_owned()));
    }
    Ok(Recorded {
        side: trade.side,
        security: security(ctx, &trade.what),
        quantity: entered_figure("quantity", trade.quantity)?,
        price: entered_figure("price", trade.price)?,
        multiplier: entered_figure("multiplier", trade.multiplier)?,
        currency,
        rate: decimal(rate),
        fee: entered_figure("fee", trade.fee)?,
        lots: trade.lots.clone(),
    })
}
