//! Rows of which something alike was entered by hand before.

use super::super::books::{BY_HAND, event, whole_market};
use crate::Ctx;
use artemon_core::{domain::Day, ledger::What};
use artemon_store::{KeptAccount, KeptEvent};
use rust_decimal::Decimal;

/// What was entered by hand into an account.
pub(super) fn by_hand(ctx: &Ctx, account: &KeptAccount, journal: &[KeptEvent]) -> Vec<(i64, Day, What)> {
    let mine = journal.iter().filter(|e| e.account_id == account.id && e.key.starts_with(BY_HAND));
    mine.filter_map(|e| event(whole_market(ctx), e, &account.name).ok().map(|of| (e.n, of.date, of.what))).collect()
}

/// The number of an entry by hand of the day that says the same as the events of a row.
pub(super) fn entered(by_hand: &[(i64, Day, What)], day: Day, events: &[What]) -> Option<i64> {
    let of_day = by_hand.iter().filter(|e| e.1 == day);
    of_day.filter(|(_, _, what)| events.iter().any(|e| same(what, e))).map(|e| e.0).next()
}

/// The same security, side and quantity, or the same amount to a cent.
fn same(a: &What, b: &What) -> bool {
    let near = |x: Decimal, y: Decimal| (x - y).abs() < Decimal::new(1, 2);
    match (a, b) {
        (What::Recorded(a), What::Recorded(b)) => a.side == b.side && a.security.key() == b.security.key() && near(a.quantity, b.quantity),
        (What::Deposit { amount: a }, What::Deposit { amount: b }) | (What::Withdrawal { amount: a }, What::Withdrawal { amount: b }) => {
            near(*a, *b)
        }
        (What::RecordedIncome { security: s, amount: a }, What::RecordedIncome { security: t, amount: b }) => {
            s.key() == t.key() && near(*a, *b)
        }
        (What::Split { security: s, ratio: a }, What::Split { security: t, ratio: b }) => s.key() == t.key() && near(*a, *b),
        _ => false,
    }
}
