//! Orders given, changed and cancelled.

use super::{
    asked::{Asked, OrderRequest},
    books::{OwnLedger, own_ledger},
    decisions::{tell_when_wrong, written},
    entries::entered_figure,
    landing::{add, add_with},
    sheet::order_sheet,
};
use crate::{AppError, Ctx};
use artemon_core::{
    decisions::Choice,
    ledger::{At, AtWord, Good, OpenOrder, Order, SellRule, Side, What, decimal, number},
};
use artemon_sim::broker::sale_of_what_was_bought;
use artemon_store::KeptAccount;
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use utoipa::ToSchema;

/// An order given.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Given {
    /// Its name in the journal.
    pub order: String,
    /// The number of its event.
    pub n: u64,
}

/// Gives an order: it works from the next session on.
///
/// # Errors
/// As [`order_sheet`]; what the sheet refuses, or asks about when one is not sure.
pub fn place_order(ctx: &Ctx, request: &OrderRequest) -> Result<Given, AppError> {
    let sheet = order_sheet(ctx, request)?;
    let asked = Asked::of(ctx, request)?;
    if let Some(problem) = sheet.refused.or(sheet.asks.filter(|_| !request.sure)) {
        return Err(AppError::Refused(problem));
    }
    let quantity = asked.quantity().unwrap_or_default();
    let rule = request.sell_at.map(|p| SellRule::Price(decimal(p))).or(request.sell_at_gain.map(|g| SellRule::Gain(decimal(g))));
    let n = ctx.home.people.journal_end(&ctx.person)?.0 + 1;
    let order: Arc<str> = format!("{}{n}", if request.side == Side::Buy { "B" } else { "S" }).into();
    let what = What::Order(Order {
        order: order.clone(),
        side: request.side,
        security: asked.security(),
        at: if request.at == AtWord::Market { At::Market } else { At::Limit(decimal(asked.limit)) },
        quantity,
        good: request.good,
        linked_to: None,
        sell_rule: rule.filter(|_| request.side == Side::Buy).map(|r| (r, Good::UntilCancelled)),
        lots: request.lots.clone(),
    });
    let choice = if request.side == Side::Buy { Choice::Buy } else { Choice::Sell };
    let decision = request.reasons.as_ref().map(|r| written(ctx, &asked.c, choice, r, Some(&order))).transpose()?;
    let n = add_with(ctx, &asked.account, asked.c.t(), &[what], decision.as_ref())?;
    if let Some(reasons) = &request.reasons {
        tell_when_wrong(ctx, &asked.c, reasons)?;
    }
    Ok(Given { order: order.to_string(), n })
}

/// Cancels an order that works; what was bought of it is sold by its rule.
///
/// # Errors
/// When no such order works.
pub fn cancel_order(ctx: &Ctx, order: &str) -> Result<(), AppError> {
    let own = own_ledger(ctx)?;
    let (kept, open) = open_order(&own, order)?;
    let t = ctx.date(None)?;
    let why = "by hand".to_owned();
    let cancelled = What::OrderCancelled { order: open.order.order.clone(), left: open.left, why };
    let sale = sale_of_what_was_bought(open).map(What::Order);
    add(ctx, kept, t, &[Some(cancelled), sale].into_iter().flatten().collect::<Vec<_>>()).map(drop)
}

/// How an order that works is to be from now on; what is absent stays.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct OrderChange {
    /// In the listing's currency.
    pub limit: Option<f64>,
    /// Shares that are left to be bought or sold.
    pub left: Option<f64>,
    /// `"day"`, `"until_cancelled"` or a day.
    #[schema(value_type = Option<String>)]
    pub good: Option<Good>,
    /// That a limit far from the price is meant.
    pub sure: bool,
}

/// Changes an order that works, from the next session on.
///
/// # Errors
/// When no such order works; a change that the sheet would refuse, or asks about when one is not sure.
pub fn change_order(ctx: &Ctx, order: &str, change: &OrderChange) -> Result<(), AppError> {
    let own = own_ledger(ctx)?;
    let (kept, open) = open_order(&own, order)?;
    let limit = change.limit.or(open.order.at.limit().map(number));
    let left = change.left.map_or(Ok(open.left), |left| entered_figure("quantity", left))?;
    let good = change.good.unwrap_or(open.order.good);
    let request = OrderRequest {
        account: kept.id.clone(),
        symbol: open.order.security.key().to_string(),
        side: open.order.side,
        at: if limit.is_some() { AtWord::Limit } else { AtWord::Market },
        limit,
        quantity: Some(number(left)),
        amount: None,
        good,
        sell_at: None,
        sell_at_gain: None,
        lots: Vec::new(),
        sure: change.sure,
        reasons: None,
    };
    let sheet = order_sheet(ctx, &request)?;
    if let Some(problem) = sheet.refused.or(sheet.asks.filter(|_| !change.sure && change.limit.is_some())) {
        return Err(AppError::Refused(problem));
    }
    let limit = limit.map(decimal);
    add(ctx, kept, ctx.date(None)?, &[What::OrderChanged { order: open.order.order.clone(), limit, left, good }]).map(drop)
}

/// An order that works, with its account.
fn open_order<'o>(own: &'o OwnLedger, order: &str) -> Result<(&'o KeptAccount, &'o OpenOrder), AppError> {
    let missing = || AppError::Missing { what: "An open order of this name".to_owned() };
    let (account, open) = own.ledger.orders().find(|(_, o)| &*o.order.order == order).ok_or_else(missing)?;
    Ok((own.accounts.iter().find(|a| a.name == **account).ok_or_else(missing)?, open))
}
