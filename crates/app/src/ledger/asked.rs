//! An order as it is wanted, with everything looked up.

use super::{
    books::{kept_account, own_ledger, refused},
    decisions::Reasons,
    entries::entered_figure,
};
use crate::{
    AppError, Ctx,
    figures::{compact::six_digits, figure},
};
use artemon_core::{
    ledger::{AccountBooks, AtWord, Good, Position, Security, Side, decimal, number},
    panel::CompanyAt,
    wording::figures::{amount, quoted},
};
use artemon_store::KeptAccount;
use rust_decimal::Decimal;
use serde::Deserialize;
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

/// What an order is made of, once looked up.
pub(super) struct Asked<'a> {
    pub(super) ctx: &'a Ctx,
    pub(super) request: &'a OrderRequest,
    pub(super) account: KeptAccount,
    pub(super) c: CompanyAt<'a>,
    pub(super) rate: f64,
    pub(super) last: f64,
    pub(super) limit: f64,
    pub(super) limit_is: &'static str,
}

impl<'a> Asked<'a> {
    pub(super) fn of(ctx: &'a Ctx, request: &'a OrderRequest) -> Result<Asked<'a>, AppError> {
        let account = kept_account(ctx, &request.account)?;
        if account.kind == "by_hand" {
            let problem = "it is kept by hand and takes no orders; record the trade".to_owned();
            return Err(refused(&format!("The account \"{}\"", account.name), problem));
        }
        let t = ctx.date(None)?;
        if let Some(day) = own_ledger(ctx)?.stands_still_until(ctx) {
            let problem = format!("it has entries up to {day} and the data end on {t}: it goes on once they have come so far");
            return Err(refused(&format!("The account \"{}\"", account.name), problem));
        }
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
    pub(super) fn quantity(&self) -> Option<Decimal> {
        let of_amount = |amount: f64| (decimal(amount) / decimal(self.rate) / decimal(self.limit)).floor();
        self.request.quantity.map(decimal).or_else(|| self.request.amount.filter(|_| self.limit > 0.0).map(of_amount))
    }

    /// What it comes to in the account's currency without the fee; below zero of a sale.
    pub(super) fn value(&self) -> Option<Decimal> {
        let sign = if self.request.side == Side::Buy { Decimal::ONE } else { -Decimal::ONE };
        self.quantity().map(|q| sign * q * decimal(self.limit) * decimal(self.rate))
    }

    pub(super) fn security(&self) -> Security {
        Security::Listed { company: self.c.company().id.clone(), symbol: self.c.symbol().into() }
    }

    pub(super) fn held(&self, books: &AccountBooks) -> Decimal {
        books.positions.get(&self.c.company().id).map_or(Decimal::ZERO, Position::quantity)
    }

    /// The lows of the last sessions, of a sale the highs.
    pub(super) fn reached(&self) -> Vec<f64> {
        let bars = self.c.bars();
        let of = |i| if self.request.side == Side::Buy { bars.low(i) } else { bars.high(i) };
        (bars.len().saturating_sub(TOUCHED_IN)..bars.len()).map(of).collect()
    }

    pub(super) fn of_volume(&self, quantity: Decimal) -> Option<f64> {
        let bars = self.c.bars();
        let days = bars.len().saturating_sub(VOLUME_OF)..bars.len();
        let all: f64 = days.clone().map(|i| bars.volume(i)).sum();
        (all > 0.0).then(|| number(quantity) * days.len() as f64 / all)
    }

    /// Why it cannot be given.
    pub(super) fn refusal(&self, quantity: Option<Decimal>, held: Decimal) -> Option<String> {
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

    pub(super) fn asks(&self) -> Option<String> {
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
