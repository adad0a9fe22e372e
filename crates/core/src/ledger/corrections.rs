//! What was booked on data that the dataset gives otherwise by now.

use super::{
    amounts::number,
    books::{Booked, Ledger},
    event::{AccountKind, Security, What},
};
use crate::{
    domain::ActionKind,
    panel::{AsOf, CompanyAt},
    wording::figures::quoted,
};

/// Prices that differ by less are the same: at market half a spread lies between open and fill.
const NEAR: f64 = 0.02;
/// The same of dividends and ratios, which are written with few digits.
const SAME: f64 = 1e-6;

/// An entry of a simulated account that rests on data which were corrected since.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Correction {
    /// The number of the entry.
    pub n: u64,
    /// What the dataset says now, as a sentence.
    pub says: String,
}

/// The entries of simulated accounts that the dataset does not bear out any more: fills outside a session's prices, dividends of another
/// amount, splits at another ratio. Cash and lots stay as they were booked; what follows from prices is always told from today's data.
#[must_use]
pub fn corrections(ledger: &Ledger, market: AsOf<'_>) -> Vec<Correction> {
    let simulated = |b: &&Booked| ledger.account(&b.event.account).is_some_and(|a| a.account.kind == AccountKind::Simulated);
    let of = |b: &Booked| says(b, market).map(|says| Correction { n: b.n, says });
    ledger.journal().iter().filter(simulated).filter_map(of).collect()
}

fn says(b: &Booked, market: AsOf<'_>) -> Option<String> {
    let at = |s: &Security| market.snapshot.find(s.key()).map(|i| market.at(b.event.date).company(i));
    match &b.event.what {
        What::Fill { price, .. } => fill(&at(&b.effect.filled.as_ref()?.1)?, number(*price)),
        What::DividendDue { security, kind, per_share, .. } => dividend(&at(security)?, *kind, number(*per_share)),
        What::Split { security, ratio } => split(&at(security)?, number(*ratio)),
        _ => None,
    }
}

fn fill(c: &CompanyAt<'_>, price: f64) -> Option<String> {
    let bars = c.bars();
    let last = bars.len().checked_sub(1)?;
    if bars.last_date() != Some(c.t()) {
        return Some("No trading is known of that day any more.".to_owned());
    }
    let (low, high) = (bars.low(last), bars.high(last));
    let within = price >= low * (1.0 - NEAR) && price <= high * (1.0 + NEAR);
    (!within).then(|| format!("It traded between {} and {} that day by the data as they are now.", quoted(low), quoted(high)))
}

fn dividend(c: &CompanyAt<'_>, kind: ActionKind, per_share: f64) -> Option<String> {
    let special = kind == ActionKind::SpecialDividend;
    let now = c.dividends().ok()?.rev().find(|d| d.ex_date == c.t() && d.special == special);
    match now {
        None => Some("No such dividend went ex that day by the data as they are now.".to_owned()),
        Some(d) if (d.amount / per_share - 1.0).abs() > SAME => {
            Some(format!("The dividend is {} by the data as they are now.", quoted(d.amount)))
        }
        Some(_) => None,
    }
}

fn split(c: &CompanyAt<'_>, ratio: f64) -> Option<String> {
    let now = c.splits().rev().find(|s| s.0 == c.t());
    match now {
        None => Some("No split is known of that day any more.".to_owned()),
        Some((_, now)) if (now / ratio - 1.0).abs() > SAME => Some(format!("The split is {now} for one by the data as they are now.")),
        Some(_) => None,
    }
}
