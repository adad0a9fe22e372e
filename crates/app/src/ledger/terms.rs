//! On which terms the simulated broker works, and above which weights an order is warned of.

use super::books::refused;
use crate::{AppError, Ctx};
use artemon_core::ledger::{decimal, number};
use artemon_sim::broker::Broker;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The preference that holds them.
const KEY: &str = "ledger";

/// Terms and limits; all are fractions but the least fee.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct LedgerTerms {
    /// Between what one buys and sells at, at market.
    pub spread: f64,
    /// Of a session's volume that all orders in one security may take together.
    pub share_of_volume: f64,
    /// Of the value of each fill.
    pub fee: f64,
    /// Of each fill, in the account's currency.
    pub minimum_fee: f64,
    /// Of all that is held: a purchase that leads above one of these is warned of.
    pub one_company: f64,
    #[allow(missing_docs)]
    pub one_sector: f64,
    #[allow(missing_docs)]
    pub one_currency: f64,
}

impl Default for LedgerTerms {
    fn default() -> LedgerTerms {
        let Broker { spread, share_of_volume, fee, minimum_fee } = Broker::default();
        LedgerTerms {
            spread: number(spread),
            share_of_volume: number(share_of_volume),
            fee: number(fee),
            minimum_fee: number(minimum_fee),
            one_company: 0.10,
            one_sector: 0.30,
            one_currency: 0.60,
        }
    }
}

impl LedgerTerms {
    pub(super) fn broker(&self) -> Broker {
        Broker {
            spread: decimal(self.spread),
            share_of_volume: decimal(self.share_of_volume),
            fee: decimal(self.fee),
            minimum_fee: decimal(self.minimum_fee),
        }
    }

    fn check(&self) -> Result<(), AppError> {
        let bounds = [
            ("spread", self.spread, 0.0, 0.1),
            ("share of the volume", self.share_of_volume, 0.001, 1.0),
            ("fee", self.fee, 0.0, 0.1),
            ("weight of one company", self.one_company, 0.01, 1.0),
            ("weight of one sector", self.one_sector, 0.01, 1.0),
            ("weight of one currency", self.one_currency, 0.01, 1.0),
        ];
        if let Some((name, _, low, high)) = bounds.into_iter().find(|(_, x, low, high)| !(low..=high).contains(&x)) {
            return Err(refused(&format!("The {name}"), format!("it lies between {} and {} %", low * 100.0, high * 100.0)));
        }
        let least = self.minimum_fee;
        if (0.0..=1_000.0).contains(&least) { Ok(()) } else { Err(refused("The least fee", "it lies between 0 and 1,000".to_owned())) }
    }
}

/// The terms of the person.
///
/// # Errors
/// When they cannot be read.
pub fn ledger_terms(ctx: &Ctx) -> Result<LedgerTerms, AppError> {
    let kept = ctx.home.people.preference(&ctx.person, KEY)?;
    Ok(kept.and_then(|text| serde_json::from_str(&text).ok()).unwrap_or_default())
}

/// Keeps the terms of the person: from the next session on they hold.
///
/// # Errors
/// Terms that cannot be meant; when they cannot be kept.
pub fn save_ledger_terms(ctx: &Ctx, terms: LedgerTerms) -> Result<(), AppError> {
    terms.check()?;
    let text = serde_json::to_string(&terms).unwrap_or_default();
    Ok(ctx.home.people.prefer(&ctx.person, KEY, &text)?)
}
