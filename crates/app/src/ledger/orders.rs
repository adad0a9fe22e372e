//! The order sheet: what an order would come to, what speaks against it; and orders given and cancelled.

use super::{
    accounts::{add, add_with, entered_figure, kept_account, refused},
    books::{OwnLedger, own_ledger},
    decisions::{Reasons, tell_when_wrong, written},
    fit::{Portfolio, Weight},
    terms::{LedgerTerms, ledger_terms},
};
use crate::{
    AppError, Ctx,
    figures::{compact::six_digits, figure},
};
use artemon_core::{
    decisions::Choice,
    domain::Day,
    ledger::{AccountBooks, At, AtWord, Good, OpenOrder, Order, Position, Security, SellRule, Side, What, decimal, number},
    panel::CompanyAt,
    wording::figures::{amount, count, date, percent, quoted, whole},
};
use artemon_sim::broker::sale_of_what_was_bought;
use artemon_store::KeptAccount;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use utoipa::ToSchema;

/// Sessions in which it is looked how often a limit was touched.
const TOUCHED_IN: usize = 60;
/// Sessions over which volume is averaged.
const VOLUME_OF: usize = 20;
/// A limit so far from the last price, as a factor, is asked about once.
const FAR: f64 = 2.0;

/// An order that is wanted.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OrderRequest {
    /// The id of the account.
    pub account: String,
    #[allow(missing_docs)]
    pub symbol: String,
    #[allow(missing_docs)]
    pub side: Side,
    /// `"limit"` or `"market"`.
    #[serde(default)]
    #[schema(value_type = String)]
    pub at: AtWord,
    /// In the listing's currency; when absent the price to pay, or the last close where that is lower.
    #[serde(default)]
    pub limit: Option<f64>,
    /// Shares.
    #[serde(default)]
    pub quantity: Option<f64>,
    /// In the account's currency, instead of shares.
    #[serde(default)]
    pub amount: Option<f64>,
    /// `"day"`, `"until_cancelled"` or a day.
    #[serde(default = "a_day")]
    #[schema(value_type = String)]
    pub good: Good,
    /// Of a purchase: sell what is bought at this price.
    #[serde(default)]
    pub sell_at: Option<f64>,
    /// Of a purchase: sell what is bought at so much above the price paid, as a fraction.
    #[serde(default)]
    pub sell_at_gain: Option<f64>,
    /// Of a sale: the purchases whose lots go first.
    #[serde(default)]
    pub lots: Vec<u64>,
    /// That a limit far from the price is meant.
    #[serde(default)]
    pub sure: bool,
    /// Why: the record of the decision is written with the order.
    #[serde(default)]
    pub reasons: Option<Reasons>,
}

const fn a_day() -> Good {
    Good::Day
}

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

/// What an order is made of, once looked up.
pub(super) struct Asked<'a> {
    pub(super) ctx: &'a Ctx,
    request: &'a OrderRequest,
    pub(super) account: KeptAccount,
    pub(super) c: CompanyAt<'a>,
    rate: f64,
    last: f64,
    limit: f64,
    limit_is: &'static str,
}

impl<'a> Asked<'a> {
    pub(super) fn of(ctx: &'a Ctx, request: &'a OrderRequest) -> Result<Asked<'a>, AppError> {
        let account = kept_account(ctx, &request.account)?;
        if account.kind == "by_hand" {
            let problem = "it is kept by hand and takes no orders; record the trade".to_owned();
            return Err(refused(&format!("The account \"{}\"", account.name), problem));
        }
        let t = ctx.date(None)?;
        let c = ctx.company(&request.symbol, t)?;
        let gone = || refused(c.symbol(), "it is not traded any more".to_owned());
        let last = c.price().ok().filter(|_| c.in_universe()).ok_or_else(gone)?;
        let own = account.currency.parse().map_err(|_| refused("The account", "its currency is not known".to_owned()))?;
        let no_rate = || refused("The order", format!("the dataset has no rate from {} to {}", c.listing_currency(), account.currency));
        let rate = ctx.engine.as_of(t).fx(c.listing_currency(), own).ok_or_else(no_rate)?;
        let to_pay = (request.side == Side::Buy).then(|| figure::number(&ctx.engine, &c, "buy_below").ok()).flatten();
        let (limit, limit_is) = match (request.at, request.limit, to_pay) {
            (AtWord::Market, ..) => (last, "last"),
            (_, Some(typed), _) => (typed, "typed"),
            // A limit above the price would be filled at the open all the same.
            (_, None, Some(to_pay)) if to_pay < last => (cut(to_pay), "buy_below"),
            (_, None, _) => (last, "last"),
        };
        let (quantity, wanted) = (request.quantity.unwrap_or_default(), request.amount.unwrap_or_default());
        for (name, x) in [("limit", limit), ("quantity", quantity), ("amount", wanted), ("value", quantity * limit * rate)] {
            entered_figure(name, x)?;
        }
        Ok(Asked { ctx, request, account, c, rate, last, limit, limit_is })
    }

    /// Shares: as told, or what the amount comes to.
    fn quantity(&self) -> Option<Decimal> {
        let of_amount = |amount: f64| (decimal(amount) / decimal(self.rate) / decimal(self.limit)).floor();
        self.request.quantity.map(decimal).or_else(|| self.request.amount.filter(|_| self.limit > 0.0).map(of_amount))
    }

    /// What it comes to in the account's currency without the fee; below zero of a sale.
    pub(super) fn value(&self) -> Option<Decimal> {
        let sign = if self.request.side == Side::Buy { Decimal::ONE } else { -Decimal::ONE };
        self.quantity().map(|q| sign * q * decimal(self.limit) * decimal(self.rate))
    }

    fn security(&self) -> Security {
        Security::Listed { company: self.c.company().id.clone(), symbol: self.c.symbol().into() }
    }

    fn held(&self, books: &AccountBooks) -> Decimal {
        books.positions.get(&self.c.company().id).map_or(Decimal::ZERO, Position::quantity)
    }

    /// The lows of the last sessions, of a sale the highs.
    fn reached(&self) -> Vec<f64> {
        let bars = self.c.bars();
        let of = |i| if self.request.side == Side::Buy { bars.low(i) } else { bars.high(i) };
        (bars.len().saturating_sub(TOUCHED_IN)..bars.len()).map(of).collect()
    }

    fn of_volume(&self, quantity: Decimal) -> Option<f64> {
        let bars = self.c.bars();
        let days = bars.len().saturating_sub(VOLUME_OF)..bars.len();
        let all: f64 = days.clone().map(|i| bars.volume(i)).sum();
        (all > 0.0).then(|| number(quantity) * days.len() as f64 / all)
    }

    /// Why it cannot be given.
    fn refusal(&self, quantity: Option<Decimal>, held: Decimal) -> Option<String> {
        let symbol = self.c.symbol();
        match quantity {
            _ if self.limit <= 0.0 => Some("The limit is not above zero.".to_owned()),
            None => Some("Say how many shares, or for how much.".to_owned()),
            Some(q) if q <= Decimal::ZERO => Some(format!("That is less than one share of {symbol}.")),
            Some(q) if self.request.side == Side::Sell && q > held => {
                Some(format!("{} holds {} of {symbol}; more than that cannot be sold.", self.account.name, held.normalize()))
            }
            Some(q) if self.request.side == Side::Buy && !q.fract().is_zero() => Some("Only whole shares can be bought.".to_owned()),
            _ => match self.request.good {
                Good::Until(day) if day <= self.c.t() => {
                    Some(format!("It would work from the next session after {}; {day} is over by then.", self.c.t()))
                }
                _ => None,
            },
        }
    }

    fn asks(&self) -> Option<String> {
        let times = self.limit / self.last;
        let far = self.request.at == AtWord::Limit && !(1.0 / FAR..=FAR).contains(&times);
        far.then(|| format!("The limit is {} times the last price of {}. Is that meant?", amount(times), quoted(self.last)))
    }
}

/// Down to cents, of small prices to four digits.
fn cut(price: f64) -> f64 {
    let step = if price >= 1.0 { 0.01 } else { 10_f64.powf(price.log10().floor() - 3.0) };
    six_digits((price / step).floor() * step)
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
        AtWord::Limit => format!("; touched in {} of the last {}", sheet.touched, count(sheet.sessions, "session")),
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
