//! The order sheet: what an order would come to, and what speaks against it.

use super::{
    asked::{Asked, OrderRequest},
    books::own_ledger,
    fit::{Portfolio, Weight},
    terms::{LedgerTerms, ledger_terms},
};
use crate::{AppError, Ctx, figures::figure};
use artemon_core::{
    domain::Day,
    ledger::{AtWord, Good, Side, number},
    wording::figures::{amount, count, date, percent, quoted, whole},
};
use serde::Serialize;
use utoipa::ToSchema;

/// What an order would come to. Prices are in the listing's currency, `fee`, `cost`, `cash` and `cash_after` in the account's.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct OrderSheet {
    pub symbol: String,
    pub name: String,
    #[schema(value_type = String)]
    pub as_of: Day,
    pub listing_currency: String,
    pub account_currency: String,
    /// From the listing's currency to the account's.
    pub rate: f64,
    pub limit: f64,
    /// "buy_below", "last" or "typed".
    pub limit_is: &'static str,
    pub last: f64,
    pub low_52w: Option<f64>,
    pub high_52w: Option<f64>,
    pub buy_below: Option<f64>,
    pub value: Option<f64>,
    /// Of the last sessions, oldest first; of a sale the highs.
    pub reached: Vec<f64>,
    pub quantity: Option<f64>,
    /// With the fee; of a sale what it brings without it.
    pub cost: Option<f64>,
    pub fee: Option<f64>,
    pub cash: f64,
    pub cash_after: Option<f64>,
    pub held: f64,
    /// Of the average volume of a day, as a fraction.
    pub of_volume: Option<f64>,
    /// In how many of the last sessions the limit was touched, of how many; and how many sessions ago last.
    pub touched: usize,
    pub sessions: usize,
    pub touched_ago: Option<usize>,
    /// Of all that is held, as fractions, before and after the order.
    pub weights: Vec<Weight>,
    pub sentence: String,
    /// What speaks against it; none of it forbids.
    pub warnings: Vec<String>,
    /// Why it cannot be given.
    pub refused: Option<String>,
    /// That it is only given when one is sure: the limit is far from the price.
    pub asks: Option<String>,
}

/// What an order would come to, as it is typed.
///
/// # Errors
/// Of an account or company that is not there, of one that is not traded any more, without a rate.
pub fn order_sheet(ctx: &Ctx, request: &OrderRequest) -> Result<OrderSheet, AppError> {
    let asked = Asked::of(ctx, request)?;
    let own = own_ledger(ctx)?;
    let books = own.ledger.account(&asked.account.name).ok_or_else(|| AppError::Missing { what: "The account".to_owned() })?;
    let (quantity, held) = (asked.quantity(), asked.held(books));
    let terms = ledger_terms(ctx)?;
    let value = asked.value();
    let fee = value.map(|v| terms.broker().fee_of(v.abs()));
    let cash_after = value.zip(fee).map(|(v, fee)| books.cash - v - fee);
    let reached = asked.reached();
    let touches = |x: &f64| if request.side == Side::Buy { *x <= asked.limit } else { *x >= asked.limit };
    let weights = Portfolio::of(&asked, value.map_or(0.0, number))?.limited(&terms);
    let of_volume = quantity.and_then(|q| asked.of_volume(q));
    let known = |formula: &str| figure::number(&ctx.engine, &asked.c, formula).ok();
    let mut sheet = OrderSheet {
        symbol: asked.c.symbol().to_owned(),
        name: asked.c.company().name.clone(),
        as_of: asked.c.t(),
        listing_currency: asked.c.listing_currency().to_string(),
        account_currency: asked.account.currency.clone(),
        rate: asked.rate,
        limit: asked.limit,
        limit_is: asked.limit_is,
        last: asked.last,
        low_52w: known("low_52w"),
        high_52w: known("high_52w"),
        buy_below: known("buy_below"),
        value: known("intrinsic_value"),
        touched: reached.iter().filter(|x| touches(x)).count(),
        touched_ago: reached.iter().rev().position(touches),
        sessions: reached.len(),
        reached,
        quantity: quantity.map(number),
        cost: value.zip(fee).map(|(v, fee)| number((v + fee).abs())),
        fee: fee.map(number),
        cash: number(books.cash),
        cash_after: cash_after.map(number),
        held: number(held),
        of_volume,
        weights,
        sentence: String::new(),
        warnings: Vec::new(),
        refused: asked.refusal(quantity, held),
        asks: asked.asks(),
    };
    sheet.sentence = sentence(&asked, &sheet);
    sheet.warnings = warnings(&asked, &sheet, &terms);
    Ok(sheet)
}

/// "Buy 78 at 128.00 or less until 30 Sep 2026: 9,984 ZOC with fees, 2 % of a day's trading, 6 % of what you hold; touched in 9 of the last
/// 60 sessions."
fn sentence(asked: &Asked<'_>, sheet: &OrderSheet) -> String {
    let buys = asked.request.side == Side::Buy;
    let verb = if buys { "Buy" } else { "Sell" };
    let at = match asked.request.at {
        AtWord::Market => "at the open of the next session".to_owned(),
        AtWord::Limit => format!("at {} or {}", quoted(sheet.limit), if buys { "less" } else { "more" }),
    };
    let good = match asked.request.good {
        Good::Day => " in the next session".to_owned(),
        Good::Until(day) => format!(" until {}", date(day)),
        Good::UntilCancelled => " until cancelled".to_owned(),
    };
    let good = if asked.request.at == AtWord::Market && asked.request.good == Good::Day { String::new() } else { good };
    let Some((quantity, cost)) = sheet.quantity.zip(sheet.cost) else { return format!("{verb} {} {at}{good}.", sheet.symbol) };
    let mut parts = vec![format!("{} {} {} fees", whole(cost), sheet.account_currency, if buys { "with" } else { "after" })];
    parts.extend(sheet.of_volume.map(|v| format!("{} of a day's trading", percent(v))));
    parts.extend(sheet.weights.first().filter(|_| buys).map(|w| format!("{} of what you hold", percent(w.after))));
    let touched = match asked.request.at {
        AtWord::Market => String::new(),
        AtWord::Limit if sheet.touched == 0 => format!("; not touched in the last {}", count(sheet.sessions, "session")),
        AtWord::Limit => {
            let ago = sheet.touched_ago.filter(|n| *n > 0).map(|n| format!(", last {} ago", count(n, "session"))).unwrap_or_default();
            format!("; touched in {} of the last {}{ago}", sheet.touched, count(sheet.sessions, "session"))
        }
    };
    format!("{verb} {quantity} {at}{good}: {}{touched}.", parts.join(", "))
}

/// What speaks against it, in sentences.
fn warnings(asked: &Asked<'_>, sheet: &OrderSheet, terms: &LedgerTerms) -> Vec<String> {
    let mut all = Vec::new();
    let buys = asked.request.side == Side::Buy;
    if let Some(after) = sheet.cash_after.filter(|after| buys && *after < 0.0) {
        let (name, short) = (&asked.account.name, whole(-after));
        all.push(format!("{name} is {short} {} short of it: only what the cash pays for would be bought.", sheet.account_currency));
    }
    if let Some(share) = sheet.of_volume.filter(|v| *v > terms.share_of_volume) {
        all.push(format!(
            "It is {} of a day's trading; at most {} of each session's volume is filled, so it takes some days.",
            percent(share),
            percent(terms.share_of_volume)
        ));
    }
    let above = |w: &&Weight| buys && w.limit.is_some_and(|limit| w.after > limit) && w.after > w.before;
    all.extend(sheet.weights.iter().filter(above).map(|w| {
        let limit = percent(w.limit.unwrap_or_default());
        format!("{} would be {} of what you hold, above the {limit} of one {}.", w.name, percent(w.after), w.of)
    }));
    if let Some(below) = sheet.buy_below.filter(|b| buys && asked.request.at == AtWord::Limit && sheet.limit > *b) {
        all.push(format!("The limit is above the price to pay of {}.", quoted(below)));
    }
    if sheet.listing_currency != sheet.account_currency {
        let (from, to) = (&sheet.listing_currency, &sheet.account_currency);
        all.push(format!("It trades in {from}; each fill is converted to {to} at its day's rate, {} now.", amount(sheet.rate)));
    }
    all
}
