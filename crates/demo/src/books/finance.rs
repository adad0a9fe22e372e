//! Dividends, buybacks, new shares and debt.

use crate::{
    character::{Character, Story},
    quarter::Quarter,
    random::Chance,
};

/// Cash that a company keeps, in quarters of revenue; what lies idle above that, and how much of it is paid out a quarter.
const ENOUGH_CASH: f64 = 0.39;
const IDLE_ABOVE: f64 = 0.15;
const IDLE_PAID: f64 = 0.2;

/// Dividends, buybacks, new shares and debt; what is left is cash.
pub(super) fn finance(c: &Character, last: &Quarter, q: usize, x: &mut Chance, now: &mut Quarter) {
    let income = now.net_income();
    let price = fair_share_price(last);
    let enough = (now.revenue * ENOUGH_CASH).round() + now.entrusted;
    let before = last.cash + now.operating_cash - now.capex - now.acquired - now.preferred_dividends;
    now.dividends = if before > enough && last.normal_eps > 0.0 {
        (c.payout * last.normal_eps * last.shares / 4.0).round().min((before - enough).max(0.0))
    } else {
        0.0
    };
    let spare = before - now.dividends - enough;
    // Money that lies idle goes back to the owners, a little each quarter.
    let idle = (IDLE_PAID * (spare - now.revenue * IDLE_ABOVE)).max(0.0).round();
    if c.buyback > 0.0 && spare > 0.0 {
        now.repurchased = (c.buyback * income.max(0.0) + idle).round().min(spare).max(0.0);
        now.shares -= (now.repurchased / price).floor().min(now.shares * 0.03);
    } else if idle > 0.0 && now.dividends > 0.0 {
        // Small sums raise the dividend; large ones are gathered and paid beside it once a year.
        match idle > now.dividends {
            false => now.dividends += idle,
            true if q % 4 == 1 => now.special += (2.0 * idle).min(spare),
            true => {}
        }
    } else if c.buyback < 0.0 && x.happens(0.3) {
        now.issued += (-c.buyback * now.revenue * 0.46).round();
    }
    let owners = now.dividends + now.special;
    borrow(c, last, now, before - owners - now.repurchased + now.issued, enough);
    now.shares += (now.issued / price).floor();
    now.cash = before - owners - now.repurchased + now.issued + now.debt_issued - now.debt_repaid;
    now.equity = last.equity + income + now.stock_pay - owners - now.preferred_dividends - now.repurchased + now.issued;
    now.retained = last.retained + income - owners - now.preferred_dividends;
}

/// Debt moves slowly towards its usual share of capital; a hole in cash is filled by debt first, then by new shares.
fn borrow(c: &Character, last: &Quarter, now: &mut Quarter, cash: f64, enough: f64) {
    let debt = last.short_debt + last.long_debt;
    if c.is_financial() {
        if cash < enough {
            now.issued += (enough - cash).round();
        }
        return;
    }
    let target = (last.equity.max(0.0) + debt) * c.leverage;
    let wish = (0.06 * (target - debt)).round();
    if cash < enough {
        let hole = (enough - cash).round();
        now.debt_issued = if c.story == Some(Story::Hollow) || debt < 1.4 * last.equity.max(0.0) { hole } else { (hole * 0.4).round() };
        now.issued += hole - now.debt_issued;
    } else if wish > 0.0 {
        now.debt_issued = wish;
    } else {
        let surplus = if cash > enough * 2.0 { 0.1 * (cash - enough * 2.0) } else { 0.0 };
        now.debt_repaid = (-wish + surplus).round().min(debt).min(cash - enough).max(0.0).round();
    }
    let after = debt + now.debt_issued - now.debt_repaid;
    now.short_debt = (after * 0.2).round();
    now.long_debt = after - now.short_debt;
}

/// A plain idea of what a share is worth: twelve times usual earnings, at least what it would be sold for.
pub(crate) fn fair_share_price(q: &Quarter) -> f64 {
    (12.0 * q.normal_eps).max(q.sold_for()).max(0.05)
}
