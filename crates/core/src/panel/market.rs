//! What belongs to no company: exchange rates and interest rates.

use crate::domain::{Currency, Day, FxRate, Rate, RateSeries};
use rustc_hash::FxHashMap;
use std::{
    collections::{BTreeMap, BTreeSet},
    fmt::Debug,
};

/// The age in days beyond which an exchange rate no longer counts (rule 9).
const FX_MAX_AGE: i32 = 31;

#[derive(Clone, Debug, Default)]
pub(super) struct Market {
    fx: FxHashMap<(Currency, Currency), Vec<(Day, f64)>>,
    currencies: BTreeSet<Currency>,
    rates: FxHashMap<(Currency, RateSeries), Vec<(Day, f64)>>,
}

impl Market {
    pub(super) fn new(fx: &[FxRate], rates: &[Rate]) -> Market {
        let mut out = Market::default();
        for r in fx {
            out.fx.entry((r.base, r.quote)).or_default().push((r.date, r.rate));
            out.currencies.extend([r.base, r.quote]);
        }
        for r in rates {
            out.rates.entry((r.currency, r.series)).or_default().push((r.date, r.value));
        }
        out.fx.values_mut().chain(out.rates.values_mut()).for_each(|s| s.sort_by_key(|p| p.0));
        out
    }

    /// All rates in order, whatever order they came in.
    pub(super) fn in_order(&self) -> impl Debug + '_ {
        (self.fx.iter().collect::<BTreeMap<_, _>>(), self.rates.iter().collect::<BTreeMap<_, _>>())
    }

    /// The days of all exchange rates.
    pub(super) fn fx_days(&self) -> impl Iterator<Item = Day> + '_ {
        self.fx.values().flatten().map(|p| p.0)
    }

    /// The days of all interest and inflation rates.
    pub(super) fn rate_days(&self) -> impl Iterator<Item = Day> + '_ {
        self.rates.values().flatten().map(|p| p.0)
    }

    /// Units of `to` for one unit of `from` as of `t`: the direct pair, else its inverse, else through the
    /// alphabetically first common third currency.
    pub(super) fn fx(&self, from: Currency, to: Currency, t: Day) -> Option<f64> {
        if from == to {
            return Some(1.0);
        }
        self.pair(from, to, t).or_else(|| {
            self.currencies.iter().filter(|&&c| c != from && c != to).find_map(|&c| Some(self.pair(from, c, t)? * self.pair(c, to, t)?))
        })
    }

    fn pair(&self, from: Currency, to: Currency, t: Day) -> Option<f64> {
        self.quoted(from, to, t).or_else(|| self.quoted(to, from, t).map(|r| 1.0 / r))
    }

    fn quoted(&self, base: Currency, quote: Currency, t: Day) -> Option<f64> {
        let (date, rate) = newest(self.fx.get(&(base, quote))?, t)?;
        (t.days_since(date) <= FX_MAX_AGE).then_some(rate)
    }

    /// The newest rate of a series on or before `t`, as a fraction.
    pub(super) fn rate(&self, currency: Currency, series: RateSeries, t: Day) -> Option<f64> {
        newest(self.rates.get(&(currency, series))?, t).map(|p| p.1)
    }
}

fn newest(series: &[(Day, f64)], t: Day) -> Option<(Day, f64)> {
    series.partition_point(|p| p.0 <= t).checked_sub(1).map(|i| series[i])
}
