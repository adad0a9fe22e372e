//! The trades of insiders as the page lists them.

use crate::figures::figure::Figure;
use artemon_core::{
    Why,
    domain::{Day, InsiderTrade},
    insiders::{self, TradeSigns},
    panel::CompanyAt,
};
use serde::Serialize;
use utoipa::ToSchema;

/// An insider's trade.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TradeRow {
    #[schema(value_type = String)]
    pub traded_on: Day,
    #[schema(value_type = String)]
    pub filed_on: Day,
    pub insider: String,
    pub role: String,
    pub code: String,
    /// "bought", "sold", or what else happened.
    pub what: String,
    /// Whether it counts as conviction: an open-market trade outside a plan.
    pub counts: bool,
    pub shares: f64,
    /// Of one share; `None` where only a footnote tells.
    pub price: Option<f64>,
    pub currency: String,
    /// Amount in the base currency.
    pub amount: Figure,
    pub signs: TradeSigns,
}

pub(crate) fn trade(c: &CompanyAt<'_>, t: &InsiderTrade) -> TradeRow {
    let open_market = t.is_purchase() || t.is_sale();
    TradeRow {
        traded_on: t.traded_on,
        filed_on: t.filed_on,
        insider: t.insider_name.to_string(),
        role: role(t),
        code: t.code.to_string(),
        what: what_happened(t).to_owned(),
        counts: open_market && !t.planned,
        shares: t.shares,
        price: t.price,
        currency: t.currency.to_string(),
        amount: if t.price == Some(0.0) { Err(Why::NotPositive).into() } else { insiders::amount(c, t).into() },
        signs: insiders::signs(c, t),
    }
}

/// The role in words; empty where the filing does not say.
pub(crate) fn role(t: &InsiderTrade) -> String {
    t.role.map(|role| role.code().replace('_', " ")).unwrap_or_default()
}

pub(super) fn what_happened(t: &InsiderTrade) -> &'static str {
    match (t.code.as_bytes(), t.planned) {
        (b"P", false) => "bought",
        (b"P", true) => "bought, planned",
        (b"S", false) => "sold",
        (b"S", true) => "sold, planned",
        (b"A", _) => "granted",
        (b"M", _) => "exercised options",
        (b"F", _) => "withheld for tax",
        (b"G", _) => "gift",
        _ => "other",
    }
}
