//! What was bought when, and what of it a sale takes.

use super::{
    amounts::Sum,
    event::{LotRule, Security},
};
use crate::domain::{Currency, Day};
use rust_decimal::Decimal;

/// A purchase, or what is left of it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Lot {
    /// The number of its event; of a pool that of the first purchase.
    pub event: u64,
    #[allow(missing_docs)]
    pub date: Day,
    /// On the split basis of the books.
    pub quantity: Decimal,
    /// With the fee of buying.
    pub cost: Sum,
}

/// What is held of one security.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Position {
    #[allow(missing_docs)]
    pub security: Security,
    /// Oldest first; never empty.
    pub lots: Vec<Lot>,
    /// Of what is recorded by hand: its last price, what that is of, and its currency.
    pub recorded: Option<(Decimal, Decimal, Currency)>,
}

impl Position {
    /// All that is held.
    #[must_use]
    pub fn quantity(&self) -> Decimal {
        self.lots.iter().map(|l| l.quantity).sum()
    }

    /// What it cost, fees included.
    #[must_use]
    pub fn cost(&self) -> Sum {
        self.lots.iter().fold(Sum::default(), |sum, l| sum + l.cost)
    }

    pub(super) fn buy(&mut self, rule: LotRule, lot: Lot) {
        match (rule, self.lots.first_mut()) {
            (LotRule::Average, Some(pool)) => {
                pool.quantity += lot.quantity;
                pool.cost += lot.cost;
            }
            _ => self.lots.push(lot),
        }
    }

    /// Takes a quantity that is held, from the lots of the named events first, then from the oldest; gives what it had cost.
    ///
    /// Of 100 at 1,000 and 50 at 600, 120 sold first in first out cost 1,000 + 600 × 20 ÷ 50 = 1,240.
    pub(super) fn sell(&mut self, quantity: Decimal, first: &[u64]) -> Sum {
        let (mut left, mut cost) = (quantity, Sum::default());
        let mut order: Vec<usize> = (0..self.lots.len()).collect();
        order.sort_by_key(|i| first.iter().position(|event| *event == self.lots[*i].event).unwrap_or(usize::MAX));
        for i in order {
            let lot = &mut self.lots[i];
            let taken = left.min(lot.quantity);
            let part = lot.cost.share(taken, lot.quantity);
            lot.quantity -= taken;
            lot.cost -= part;
            left -= taken;
            cost += part;
        }
        self.lots.retain(|l| !l.quantity.is_zero());
        cost
    }

    /// Takes an amount from the cost of the lots, from each as much a share, down to nothing; gives what was taken.
    ///
    /// 50 returned on 10 at 100 and 40 at 200: 10 and 40 are taken, or all of the 100 and 200 when 500 are returned.
    pub(super) fn make_cheaper(&mut self, returned: Sum) -> Sum {
        let (quantity, before) = (self.quantity(), self.cost());
        for lot in &mut self.lots {
            let part = returned.share(lot.quantity, quantity);
            lot.cost -= if part.own > lot.cost.own { lot.cost } else { part };
        }
        before - self.cost()
    }

    pub(super) fn split(&mut self, ratio: Decimal) {
        self.lots.iter_mut().for_each(|l| l.quantity *= ratio);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn position(rule: LotRule) -> Position {
        let security = Security::Other { what: "Bond".into() };
        let mut p = Position { security, lots: Vec::new(), recorded: None };
        let lot = |event: u64, quantity: i64, cost: i64| Lot {
            event,
            date: Day::from_epoch_days(19_000),
            quantity: quantity.into(),
            cost: Sum::at(cost.into(), Some(2.into())),
        };
        [lot(1, 100, 1_000), lot(2, 50, 600), lot(3, 30, 330)].into_iter().for_each(|l| p.buy(rule, l));
        p
    }

    fn sum(own: i64) -> Sum {
        Sum::at(own.into(), Some(2.into()))
    }

    #[test]
    fn the_oldest_go_first() {
        let mut p = position(LotRule::FirstInFirstOut);
        assert_eq!(p.sell(120.into(), &[]), sum(1_240));
        assert_eq!((p.quantity(), p.cost()), (60.into(), sum(690)));
        assert_eq!(p.lots.iter().map(|l| l.event).collect::<Vec<_>>(), [2, 3]);
    }

    /// The third purchase first, then the second, then the oldest.
    #[test]
    fn lots_that_are_named_go_before_the_oldest() {
        let mut p = position(LotRule::FirstInFirstOut);
        assert_eq!(p.sell(90.into(), &[3, 2]), sum(330 + 600 + 100));
        assert_eq!(p.lots, [Lot { quantity: 90.into(), cost: sum(900), ..p.lots[0].clone() }]);
    }

    /// 18 of 180 shares' 36 each: 20 from 100 shares, 10 from 50, 6 from 30; then more than all had cost.
    #[test]
    fn capital_that_is_returned_makes_lots_cheaper() {
        let mut p = position(LotRule::FirstInFirstOut);
        assert_eq!(p.make_cheaper(sum(36)), sum(36));
        assert_eq!(p.lots.iter().map(|l| l.cost).collect::<Vec<_>>(), [sum(980), sum(590), sum(324)]);
        assert_eq!(p.make_cheaper(sum(18_000)), sum(980 + 590 + 324));
        assert_eq!(p.cost(), sum(0));
    }

    /// 180 for 1,930 in all: 18 cost 193.
    #[test]
    fn a_pool_has_one_cost() {
        let mut p = position(LotRule::Average);
        assert_eq!(p.sell(18.into(), &[]), sum(193));
        assert_eq!((p.lots.len(), p.cost()), (1, sum(1_737)));
        p.split(2.into());
        assert_eq!(p.sell(324.into(), &[]), sum(1_737));
        assert!(p.lots.is_empty());
    }
}
