//! What was filed by the date.

use super::{
    super::statements::{FlowSpan, PeriodIndex},
    view::CompanyAt,
};
use crate::{
    Why,
    domain::{Currency, Day, Item, ItemKind, Period},
};

/// An item as it was filed.
#[derive(Clone, Copy, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct FiledItem<'a> {
    /// In the currency of the filing, on its split basis.
    pub value: f64,
    pub filed_on: Day,
    pub currency: Currency,
    /// The document.
    pub source: &'a str,
    /// The filing does not name it, which counts as none (rule 10).
    pub taken_as_none: bool,
}

/// What is known of a company's filings at a date: equal states have equal filings, splits and dividends of past years.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct FilingState {
    /// The company's rows, as of one import.
    facts: u64,
    /// How many filings and splits are known.
    filings: u32,
    splits: u32,
    /// Whether any dividend or split of the dataset has happened.
    actions: bool,
    /// The newest period ended too long ago.
    stale: bool,
}

impl<'a> CompanyAt<'a> {
    /// Whether all figures of statements in the reporting currency are those of `other`: the same company, the same
    /// filings known, on the same split basis.
    #[must_use]
    #[allow(clippy::float_cmp)]
    pub fn same_statements(&self, other: &CompanyAt<'_>) -> bool {
        self.index == other.index
            && self.filings == other.filings
            && self.split_product == other.split_product
            && self.is_stale() == other.is_stale()
            && self.reporting == other.reporting
            && !self.mixed_currencies
    }

    /// What figures of statements depend on within one company: filings and splits known; `None` when exchange rates
    /// take part, or the statements are stale.
    #[must_use]
    pub fn statement_state(&self) -> Option<(u32, u32)> {
        (!self.mixed_currencies && !self.is_stale()).then(|| (self.filings, self.split_count()))
    }

    /// All that figures in the reporting currency depend on when they follow from filings and splits alone; `None` when
    /// exchange rates take part, since some filings are in another currency.
    #[must_use]
    pub fn filing_state(&self) -> Option<FilingState> {
        (!self.mixed_currencies).then(|| FilingState {
            facts: self.panel.facts_id,
            filings: self.filings,
            splits: self.split_count(),
            actions: self.as_of.snapshot.has_actions(self.t()),
            stale: self.is_stale(),
        })
    }

    /// How many splits have happened.
    fn split_count(&self) -> u32 {
        u32::try_from(self.panel.splits.partition_point(|s| s.ex_date <= self.t())).unwrap_or(u32::MAX)
    }

    /// The newest known period, unless its end is more than 15 months ago.
    pub fn newest_period(&self) -> Result<PeriodIndex, Why> {
        match self.newest {
            Some(_) if self.is_stale() => Err(Why::Stale),
            Some(p) => Ok(p),
            None => Err(Why::NoItem(Item::Revenue)),
        }
    }

    /// The newest known period, however long ago it ended.
    pub fn newest_filed(&self) -> Result<PeriodIndex, Why> {
        self.newest.ok_or(Why::NoItem(Item::Revenue))
    }

    /// The newest known fiscal year (fy0).
    pub fn year0(&self) -> Result<PeriodIndex, Why> {
        self.newest_period()?;
        self.year0.ok_or(Why::HistoryTooShort)
    }

    /// The period of the fiscal year `k` years before fy0, by label.
    pub fn year(&self, k: u32) -> Result<PeriodIndex, Why> {
        let newest = self.year0()?;
        if k == 0 {
            return Ok(newest);
        }
        let label = self.label(newest).0 - i32::try_from(k).unwrap_or(i32::MAX / 2);
        self.find_period(label, Period::FY).ok_or(Why::HistoryTooShort)
    }

    /// The known fiscal years, oldest first.
    pub fn years(&self) -> impl DoubleEndedIterator<Item = PeriodIndex> {
        self.known_periods().filter(|&p| self.label(p).1 == Period::FY)
    }

    /// The day of the newest filing that is known.
    #[must_use]
    pub fn newest_filing(&self) -> Option<Day> {
        (self.filings as usize).checked_sub(1).map(|i| self.panel.statements.filed_days()[i])
    }

    /// The days of the filings that came after a day and by the date, oldest first.
    #[must_use]
    pub fn filings_after(&self, day: Day) -> &'a [Day] {
        let known = &self.panel.statements.filed_days()[..self.filings as usize];
        &known[known.partition_point(|filed| *filed <= day)..]
    }

    /// The periods known at the date, oldest first.
    pub fn known_periods(&self) -> impl DoubleEndedIterator<Item = PeriodIndex> + 'a {
        self.panel.statements.known(self.t())
    }

    /// Fiscal year and period of a known period.
    #[must_use]
    pub fn label(&self, p: PeriodIndex) -> (i32, Period) {
        self.panel.statements.label(p)
    }

    /// The periods whose first filing came after a day and by the date, by the day of filing.
    #[must_use]
    pub fn periods_filed_after(&self, day: Day) -> Vec<PeriodIndex> {
        let mut new: Vec<PeriodIndex> = self.known_periods().filter(|p| self.first_filed(*p) > day).collect();
        new.sort_by_key(|p| self.first_filed(*p));
        new
    }

    /// The last day of a known period.
    #[must_use]
    pub fn period_end(&self, p: PeriodIndex) -> Day {
        self.panel.statements.end(p)
    }

    /// The day on which a period was first filed.
    #[must_use]
    pub fn first_filed(&self, p: PeriodIndex) -> Day {
        self.panel.statements.first_filed(p)
    }

    /// A period by its label, if known at the date.
    #[must_use]
    pub fn find_period(&self, fiscal_year: i32, period: Period) -> Option<PeriodIndex> {
        self.panel.statements.find(self.t(), fiscal_year, period)
    }

    /// An item of one period in the reporting currency, on the split basis of the date; per-share figures are per
    /// traded unit. `None` when no known filing of the period carries it.
    #[must_use]
    pub fn item(&self, p: PeriodIndex, item: Item) -> Option<f64> {
        let filed = self.panel.statements.item(self.t(), p, item)?;
        let converted = match item.kind() {
            ItemKind::Shares => filed.value * self.splits_since(filed.filed_on),
            ItemKind::PerShare => filed.value / self.splits_since(filed.filed_on) * self.shares_per_unit(),
            ItemKind::Ratio => return Some(filed.value),
            ItemKind::Flow | ItemKind::Balance => filed.value,
        };
        if item.kind() == ItemKind::Shares || filed.currency == self.reporting {
            return Some(converted);
        }
        self.fx(filed.currency, self.reporting).ok().map(|rate| converted * rate)
    }

    /// An item of one period as it was filed.
    #[must_use]
    pub fn filed(&self, p: PeriodIndex, item: Item) -> Option<FiledItem<'a>> {
        let taken_as_none = !self.panel.statements.is_carried(self.t(), p, item);
        let f = self.panel.statements.item(self.t(), p, item)?;
        Some(FiledItem {
            value: f.value,
            filed_on: f.filed_on,
            currency: f.currency,
            source: self.panel.statements.source(&f),
            taken_as_none,
        })
    }

    /// Source and filing date of an item of one period.
    #[must_use]
    pub fn item_source(&self, p: PeriodIndex, item: Item) -> Option<(&'a str, Day)> {
        self.panel.statements.item(self.t(), p, item).map(|f| (self.panel.statements.source(&f), f.filed_on))
    }

    /// The item of the newest known period that carries it (rule 6), with that period.
    pub fn latest_item(&self, item: Item) -> Result<(PeriodIndex, f64), Why> {
        let newest = self.newest_period()?;
        if !self.panel.statements.ever_has(item) {
            return Err(Why::NoItem(item));
        }
        if let Some(v) = self.item(newest, item) {
            return Ok((newest, v));
        }
        let earlier = self.known_periods().rev().find_map(|p| Some((p, self.item(p, item)?)));
        earlier.ok_or(Why::NoItem(item))
    }

    /// A flow over a span, in the reporting currency: the year's own figure, or the sum of its quarters or halves.
    #[must_use]
    pub fn flow(&self, span: FlowSpan, item: Item) -> Option<f64> {
        match span {
            FlowSpan::Year(p) => self.item(p, item),
            FlowSpan::Quarter(year, quarter) => self.quarter((year, quarter), item),
            FlowSpan::Half(year, half) => self.half((year, half), item),
            FlowSpan::Quarters(year, last, periods) => (0..4u8).zip(periods).try_fold(0.0, |sum, (back, own)| {
                let filed = own.and_then(|p| self.item(p, item));
                Some(sum + filed.or_else(|| self.quarter(back_from(year, last, back, 4), item))?)
            }),
            FlowSpan::Halves(year, last) => {
                (0..2).try_fold(0.0, |sum, back| Some(sum + self.filed_half(back_from(year, last, back, 2), item)?))
            }
        }
    }

    /// A flow of one quarter; a missing Q2 is H1 − Q1, a missing Q4 is FY − Q1 − Q2 − Q3, else H2 − Q3 (rule 5).
    #[must_use]
    pub fn quarter(&self, (year, quarter): (i32, u8), item: Item) -> Option<f64> {
        let of = |period| self.item(self.find_period(year, period)?, item);
        match quarter {
            1 => of(Period::Q1),
            2 => of(Period::Q2).or_else(|| Some(of(Period::H1)? - of(Period::Q1)?)),
            3 => of(Period::Q3),
            _ => of(Period::Q4)
                .or_else(|| Some(of(Period::FY)? - of(Period::Q1)? - self.quarter((year, 2), item)? - of(Period::Q3)?))
                .or_else(|| Some(of(Period::H2)? - of(Period::Q3)?)),
        }
    }

    /// The k-th newest reported quarter (0 the newest) as fiscal year and number; undefined unless it is a quarter that
    /// the company reports by itself.
    pub fn quarter_back(&self, k: u32) -> Result<(i32, u8), Why> {
        let newest = self.newest_period()?;
        let (year, period) = self.label(newest);
        let quarter = match period {
            Period::Q1 => 1,
            Period::Q2 | Period::H1 => 2,
            Period::Q3 => 3,
            Period::Q4 | Period::FY | Period::H2 => 4,
        };
        let back = i32::try_from(k).unwrap_or(i32::MAX / 8);
        let index = year * 4 + quarter - 1 - back;
        Ok((index.div_euclid(4), u8::try_from(index.rem_euclid(4) + 1).unwrap_or(1)))
    }

    /// The known period that ends with a quarter: the quarter's own, else the half or year that ends then.
    #[must_use]
    pub fn quarter_end(&self, (year, quarter): (i32, u8)) -> Option<PeriodIndex> {
        let longer = match quarter {
            2 => Some(Period::H1),
            4 => Some(Period::FY),
            _ => None,
        };
        let own = self.find_period(year, Period::quarter(quarter));
        own.or_else(|| self.find_period(year, longer?)).or_else(|| self.find_period(year, Period::H2).filter(|_| quarter == 4))
    }

    /// The k-th newest half-year that is over (0 the newest) as fiscal year and number.
    pub fn half_back(&self, k: u32) -> Result<(i32, u8), Why> {
        let (year, quarter) = self.quarter_back(0)?;
        let back = i32::try_from(k).unwrap_or(i32::MAX / 8);
        let index = year * 2 + i32::from(quarter) / 2 - 1 - back;
        Ok((index.div_euclid(2), u8::try_from(index.rem_euclid(2) + 1).unwrap_or(1)))
    }

    /// The known period that ends with a half-year: the half's own, else the quarter or year that ends then.
    #[must_use]
    pub fn half_end(&self, (year, half): (i32, u8)) -> Option<PeriodIndex> {
        let ends: &[Period] = if half == 1 { &[Period::H1, Period::Q2] } else { &[Period::FY, Period::H2, Period::Q4] };
        ends.iter().find_map(|period| self.find_period(year, *period))
    }

    /// A flow of one half-year: its own, or that of its two quarters.
    #[must_use]
    pub fn half(&self, (year, half): (i32, u8), item: Item) -> Option<f64> {
        let quarters = || Some(self.quarter((year, 2 * half - 1), item)? + self.quarter((year, 2 * half), item)?);
        self.filed_half((year, half), item).or_else(quarters)
    }

    fn filed_half(&self, (year, half): (i32, u8), item: Item) -> Option<f64> {
        let of = |period| self.item(self.find_period(year, period)?, item);
        match half {
            1 => of(Period::H1),
            _ => of(Period::H2).or_else(|| Some(of(Period::FY)? - of(Period::H1)?)),
        }
    }

    /// The spans over which the latest twelve months may be taken, newest first: the twelve months to the newest
    /// period end, then the newest fiscal year (rule 5).
    #[must_use]
    pub fn twelve_months(&self) -> [Option<FlowSpan>; 2] {
        let Ok(newest) = self.newest_period() else { return [None, None] };
        let year = self.year0.map(FlowSpan::Year);
        if self.year0.is_some_and(|y| self.period_end(y) == self.period_end(newest)) {
            return [year, None];
        }
        let (fiscal_year, period) = self.label(newest);
        let span = match period {
            Period::FY => FlowSpan::Year(newest),
            Period::Q1 => self.quarters(fiscal_year, 1),
            Period::Q2 => self.quarters(fiscal_year, 2),
            Period::Q3 => self.quarters(fiscal_year, 3),
            Period::Q4 => self.quarters(fiscal_year, 4),
            Period::H1 => FlowSpan::Halves(fiscal_year, 1),
            Period::H2 => FlowSpan::Halves(fiscal_year, 2),
        };
        [Some(span), year]
    }

    fn quarters(&self, year: i32, last: u8) -> FlowSpan {
        let own = |back: u8| {
            let (year, quarter) = back_from(year, last, back, 4);
            self.find_period(year, Period::quarter(quarter))
        };
        FlowSpan::Quarters(year, last, [own(0), own(1), own(2), own(3)])
    }

    /// The period whose end is the end of a span.
    #[must_use]
    pub fn span_end(&self, span: FlowSpan) -> Option<PeriodIndex> {
        match span {
            FlowSpan::Year(p) => Some(p),
            FlowSpan::Quarters(y, q, own) => own[0].or_else(|| self.find_period(y, Period::quarter(q))),
            FlowSpan::Quarter(y, q) => self.quarter_end((y, q)),
            FlowSpan::Half(y, h) => self.half_end((y, h)),
            FlowSpan::Halves(y, h) => self.find_period(y, [Period::H1, Period::H2][usize::from(h) - 1]),
        }
    }
}

fn back_from(year: i32, last: u8, back: u8, per_year: u8) -> (i32, u8) {
    if last > back { (year, last - back) } else { (year - 1, last + per_year - back) }
}
