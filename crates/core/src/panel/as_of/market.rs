//! Prices, dividends, rates and indexes by the date.

use super::{
    super::{bars_at::BarsAt, company::DividendRow},
    view::CompanyAt,
};
use crate::{
    Num, Why,
    domain::{Currency, Day, RateSeries},
};

/// A dividend on the split basis of the date, per traded unit in the listing's currency.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Dividend {
    /// First day without the dividend.
    pub ex_date: Day,
    /// Amount.
    pub amount: f64,
    /// Whether it was a special one.
    pub special: bool,
    /// The day on which it is paid.
    pub pay_date: Option<Day>,
}

/// A dividend that is declared but has not gone ex.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Declared {
    /// First day without it.
    pub ex_date: Day,
    /// The day on which it is paid.
    pub pay_date: Option<Day>,
    /// Per traded unit in the listing's currency, as declared.
    pub amount: f64,
}

impl<'a> CompanyAt<'a> {
    /// Bars up to the date, on its split basis.
    #[must_use]
    pub fn bars(&self) -> BarsAt<'a> {
        BarsAt::new(self.panel, self.bars as usize, self.split_product)
    }

    /// Price: the last close on or before the date, in the listing's currency.
    pub fn price(&self) -> Num {
        self.bars().last_close().ok_or(Why::NoPrice)
    }

    /// The last close on or before each of some days up to the date, oldest first, on the split basis of that day.
    #[must_use]
    pub fn quoted_on(&self, days: &[Day]) -> Vec<Option<f64>> {
        let (bars, mut known) = (self.bars(), 0);
        let close = |day: &Day| {
            known += bars.dates()[known..].iter().take_while(|d| *d <= day).count();
            known.checked_sub(1).map(|i| bars.close(i) * self.splits_since(*day))
        };
        days.iter().map(close).collect()
    }

    /// Base-currency units for one unit of the reporting currency, at the date.
    pub fn reporting_to_base(&self) -> Num {
        self.to_base.ok_or(Why::NoFx)
    }

    /// Listing-currency units for one unit of the reporting currency, at the date.
    pub fn reporting_to_listing(&self) -> Num {
        self.to_listing.ok_or(Why::NoFx)
    }

    /// Base-currency units for one unit of the listing's currency, at the date.
    pub fn listing_to_base(&self) -> Num {
        let listing = self.listing_currency();
        if listing == self.reporting { self.reporting_to_base() } else { self.fx(listing, self.as_of.base) }
    }

    /// Units of `to` for one unit of `from`, at the date.
    pub fn fx(&self, from: Currency, to: Currency) -> Num {
        self.as_of.snapshot.shared.market.fx(from, to, self.t()).ok_or(Why::NoFx)
    }

    /// Units of `to` for one unit of `from` on an earlier day.
    pub fn fx_on(&self, from: Currency, to: Currency, day: Day) -> Num {
        self.as_of.snapshot.shared.market.fx(from, to, day.min(self.t())).ok_or(Why::NoFx)
    }

    /// The newest rate of the reporting currency, as a fraction.
    pub fn rate(&self, series: RateSeries) -> Num {
        self.as_of.snapshot.shared.market.rate(self.reporting, series, self.t()).ok_or(Why::NoRate)
    }

    /// Dividends with an ex-date up to the date, oldest first; undefined when the whole dataset has no actions by then.
    pub fn dividends(&self) -> Result<impl DoubleEndedIterator<Item = Dividend> + '_, Why> {
        if !self.as_of.snapshot.has_actions(self.t()) {
            return Err(Why::NoActions);
        }
        let known = self.panel.dividends.partition_point(|d| d.ex_date <= self.t());
        let on_basis = |d: &DividendRow| Dividend {
            ex_date: d.ex_date,
            amount: d.amount / self.splits_since(d.ex_date),
            special: d.special,
            pay_date: d.pay_date,
        };
        Ok(self.panel.dividends[..known].iter().map(on_basis))
    }

    /// Splits up to the date, oldest first: the first day after each, and how many shares there are for one.
    pub fn splits(&self) -> impl DoubleEndedIterator<Item = (Day, f64)> + 'a {
        let known = self.panel.splits.partition_point(|s| s.ex_date <= self.as_of.t);
        let all = &self.panel.splits[..known];
        let before = |i: usize| i.checked_sub(1).map_or(1.0, |i| all[i].cumulative);
        all.iter().enumerate().map(move |(i, s)| (s.ex_date, s.cumulative / before(i)))
    }

    /// Dividends declared by the date that have not gone ex yet, with amount as declared.
    pub fn declared_dividends(&self) -> impl Iterator<Item = Declared> + 'a {
        let t = self.t();
        let upcoming = move |d: &&DividendRow| d.ex_date > t && d.declared_on.is_some_and(|on| on <= t);
        self.panel.facts.dividends.iter().filter(upcoming).map(declared)
    }

    /// Dividends declared by the date of which the ex-date or the payment lies ahead, with amount as declared.
    pub fn dividends_ahead(&self) -> impl Iterator<Item = Declared> + 'a {
        let t = self.t();
        let ahead =
            move |d: &&DividendRow| (d.ex_date > t || d.pay_date.is_some_and(|on| on > t)) && d.declared_on.is_some_and(|on| on <= t);
        self.panel.facts.dividends.iter().filter(ahead).map(declared)
    }

    /// The first index by id of which it is a member.
    #[must_use]
    pub fn first_index(&self) -> Option<&'a str> {
        self.as_of.first_index_with(&self.panel.company.id)
    }

    /// The level of an index on an earlier day, in the listing's currency.
    pub fn index_level(&self, id: &str, day: Day) -> Num {
        let index = self.as_of.snapshot.shared.indexes.get(id).ok_or(Why::NoIndex)?;
        let level = index.level(day.min(self.t())).ok_or(Why::NoIndex)?;
        Ok(level * self.fx_on(index.currency, self.listing_currency(), day)?)
    }

    /// The company at its own last session of each calendar month up to the date, those after `since`, oldest first.
    #[must_use]
    pub fn month_rows(&self, since: Day) -> Vec<CompanyAt<'a>> {
        let bars = &self.panel.bars;
        let known = bars.month_ends().partition_point(|&i| i < self.bars);
        let first = bars.month_ends()[..known].partition_point(|&i| bars.dates()[i as usize] <= since);
        let mut rows: Vec<CompanyAt<'a>> = Vec::with_capacity(known - first);
        for &i in &bars.month_ends()[first..known] {
            let t = bars.dates()[i as usize];
            let row = match rows.last() {
                Some(before) => before.later(t, i + 1),
                None => CompanyAt::with_bars(self.panel, self.as_of.at(t), self.index, i + 1),
            };
            rows.push(row);
        }
        rows
    }

    /// The company on some days up to the date, which come in order.
    #[must_use]
    pub fn rows_on(&self, days: &[Day]) -> Vec<CompanyAt<'a>> {
        let dates = self.panel.bars.dates();
        let mut known = 0;
        let mut rows: Vec<CompanyAt<'a>> = Vec::with_capacity(days.len());
        for &day in days {
            known += dates[known..].partition_point(|d| *d <= day);
            let bars = u32::try_from(known).unwrap_or(u32::MAX);
            let row = match rows.last() {
                Some(before) => before.later(day, bars),
                None => CompanyAt::with_bars(self.panel, self.as_of.at(day), self.index, bars),
            };
            rows.push(row);
        }
        rows
    }

    /// The company's own last session of each calendar month up to the date, oldest first.
    #[must_use]
    pub fn month_ends(&self) -> Vec<Day> {
        let bars = &self.panel.bars;
        let known = bars.month_ends().partition_point(|&i| i < self.bars);
        bars.month_ends()[..known].iter().map(|&i| bars.dates()[i as usize]).collect()
    }

    /// The product of split ratios with `day` < ex-date ≤ the date: for filings, estimates and trades of that day.
    #[must_use]
    pub fn splits_since(&self, day: Day) -> f64 {
        if self.panel.splits.is_empty() { 1.0 } else { self.split_product / self.panel.split_product(day) }
    }
}

fn declared(d: &DividendRow) -> Declared {
    Declared { ex_date: d.ex_date, pay_date: d.pay_date, amount: d.amount }
}
