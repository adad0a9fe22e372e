//! The same money in an index, bought and sold on the same days.

use super::{
    amounts::number,
    books::{Booked, Ledger},
    event::{Security, Side, What},
    lots::{Lot, Position},
};
use rust_decimal::Decimal;
use std::{collections::HashMap, sync::Arc};

/// Units of the index that the same money would have bought on the same days; none once a level was missing.
#[derive(Default)]
pub(super) struct SameMoney {
    /// By account.
    deposits: HashMap<Arc<str>, Option<f64>>,
    /// By the event of the lot: the units, and what the lot had cost then. What is sold of a lot takes the same part of both away.
    lots: HashMap<u64, (Option<f64>, f64)>,
}

impl SameMoney {
    /// Follows an event that was just booked.
    pub(super) fn follow(&mut self, booked: &Booked, ledger: &Ledger, level: Option<f64>) {
        let account = &booked.event.account;
        let units = |own: Decimal| Some(number(own * booked.to_base?) / level.filter(|l| *l > 0.0)?);
        match &booked.event.what {
            What::Deposit { amount } => add(self.deposits.entry(account.clone()).or_insert(Some(0.0)), units(*amount)),
            What::Withdrawal { amount } => add(self.deposits.entry(account.clone()).or_insert(Some(0.0)), units(-amount)),
            _ => {
                let position = bought(booked).and_then(|(s, cost)| Some((ledger.account(account)?.positions.get(s.key())?, cost)));
                if let Some((position, cost)) = position {
                    self.buy(booked.n, position, cost, units(cost));
                }
            }
        }
    }

    /// What an account's deposits, less its withdrawals, are in the index at a level.
    pub(super) fn of_deposits(&self, account: &Arc<str>, level: Option<f64>) -> Option<f64> {
        self.deposits.get(account).copied().flatten().zip(level).map(|(units, level)| units * level)
    }

    /// Into a lot of its own, or the pool.
    fn buy(&mut self, event: u64, position: &Position, cost: Decimal, mut units: Option<f64>) {
        let Some(lot) = position.lots.iter().find(|l| l.event == event).or_else(|| position.lots.first()) else { return };
        if lot.event != event {
            add(&mut units, self.units(lot, number(lot.cost.own - cost)));
        }
        self.lots.insert(lot.event, (units, number(lot.cost.own)));
    }

    /// The units of a lot of which as much is left as had cost `cost`.
    fn units(&self, lot: &Lot, cost: f64) -> Option<f64> {
        let (units, all) = self.lots.get(&lot.event)?;
        units.map(|u| if *all > 0.0 { u * cost / all } else { 0.0 })
    }

    /// What the money of a holding's lots is in the index at a level.
    pub(super) fn of_holding(&self, p: &Position, level: Option<f64>) -> Option<f64> {
        let units: Option<f64> = p.lots.iter().map(|lot| self.units(lot, number(lot.cost.own))).sum();
        units.zip(level).map(|(units, level)| units * level)
    }
}

/// What was bought, and what it cost with the fee.
fn bought(booked: &Booked) -> Option<(&Security, Decimal)> {
    match &booked.event.what {
        What::Fill { quantity, price, rate, fee, .. } => match &booked.effect.filled {
            Some((Side::Buy, security)) => Some((security, quantity * price * rate + fee)),
            _ => None,
        },
        What::Recorded(trade) if trade.side == Side::Buy => Some((&trade.security, trade.value() + trade.fee)),
        _ => None,
    }
}

/// Adds units; unknown ones make the sum unknown.
pub(super) fn add(to: &mut Option<f64>, units: Option<f64>) {
    *to = to.zip(units).map(|(a, b)| a + b);
}
