//! What insiders bought, a line a company.

use crate::{
    domain::{Day, InsiderTrade, Role},
    engine::Section,
    formula::Args,
    insiders::{self, TradeSigns},
    panel::{CompanyAt, CompanyIndex},
};
use rayon::prelude::*;
use std::cmp::Reverse;

/// What the insiders of a company bought on the open market, outside of plans.
#[derive(Clone, Debug)]
pub struct Purchases<'a> {
    /// The company.
    pub company: CompanyIndex,
    /// Of all, in the base currency at today's rate.
    pub amount: f64,
    /// Whether several bought close to each other in the last three months.
    pub cluster: bool,
    /// Whether a chief executive or financial chief is among them.
    pub executive: bool,
    /// Whether any was made after a fall.
    pub after_a_fall: bool,
    /// Whether any was filed late.
    pub late: bool,
    /// The one who bought for most first.
    pub buyers: Vec<Buyer<'a>>,
    /// The purchases with their signs, by day of trade, filing and its id.
    pub trades: Vec<(&'a InsiderTrade, TradeSigns)>,
}

/// One of those who bought.
#[derive(Clone, Debug)]
pub struct Buyer<'a> {
    /// The newest of the purchases.
    pub newest: &'a InsiderTrade,
    /// How many there are.
    pub purchases: usize,
    /// Of all, in the listing's currency, each at the rate of its day.
    pub amount: f64,
    /// Each against what was held before it, as a fraction; `None` when that is not known or nothing was held.
    pub of_holding: Vec<Option<f64>>,
    /// The place of the newest among the person's purchases of twelve months.
    pub purchase_of_year: Option<u32>,
}

/// The companies whose insiders' purchases were filed after a day: those with clusters first, then those of executives, then by
/// amount.
#[must_use]
pub fn purchases<'a>(section: &Section<'a>, since: Day) -> Vec<Purchases<'a>> {
    let of = |c: &CompanyAt<'a>| company(c, since);
    let mut all: Vec<Purchases<'a>> = section.rows().par_iter().filter_map(of).collect();
    all.sort_by(|a, b| {
        (Reverse(a.cluster), Reverse(a.executive)).cmp(&(Reverse(b.cluster), Reverse(b.executive))).then(b.amount.total_cmp(&a.amount))
    });
    all
}

fn company<'a>(c: &CompanyAt<'a>, since: Day) -> Option<Purchases<'a>> {
    // Nothing is known of later trades where the newest filing is older.
    let new = c.insider_trades_since(since);
    let mut bought: Vec<&InsiderTrade> = new.filter(|x| x.is_purchase() && !x.planned).collect();
    if bought.is_empty() {
        return None;
    }
    bought.sort_by_key(|x| (x.traded_on, x.filed_on, &x.filing_id));
    let trades: Vec<(&InsiderTrade, TradeSigns)> = bought.into_iter().map(|x| (x, insiders::signs(c, x))).collect();
    let mut buyers: Vec<Buyer<'a>> = Vec::new();
    for (trade, signs) in &trades {
        add(&mut buyers, c, trade, signs);
    }
    buyers.sort_by(|a, b| b.amount.total_cmp(&a.amount).then_with(|| a.newest.insider_id.cmp(&b.newest.insider_id)));
    Some(Purchases {
        company: c.index,
        amount: buyers.iter().map(|b| b.amount).sum::<f64>() * c.listing_to_base().ok()?,
        cluster: insiders::cluster(c, &Args::default()).unwrap_or(false),
        executive: buyers.iter().any(|b| b.newest.role.is_some_and(Role::is_chief)),
        after_a_fall: trades.iter().any(|(_, s)| s.after_a_fall == Some(true)),
        late: trades.iter().any(|(_, s)| s.late),
        buyers,
        trades,
    })
}

/// Adds a purchase to those of its buyer; trades come oldest first.
fn add<'a>(buyers: &mut Vec<Buyer<'a>>, c: &CompanyAt<'_>, trade: &'a InsiderTrade, signs: &TradeSigns) {
    let rate = c.fx_on(trade.currency, c.listing_currency(), trade.traded_on).unwrap_or(0.0);
    let amount = trade.amount().unwrap_or(0.0) * rate;
    match buyers.iter_mut().find(|b| b.newest.insider_id == trade.insider_id) {
        Some(known) => {
            known.newest = trade;
            known.purchases += 1;
            known.amount += amount;
            known.of_holding.push(signs.of_holding);
            known.purchase_of_year = signs.purchase_of_year;
        }
        None => buyers.push(Buyer {
            newest: trade,
            purchases: 1,
            amount,
            of_holding: vec![signs.of_holding],
            purchase_of_year: signs.purchase_of_year,
        }),
    }
}
