//! The only door to the panel: what was public by the close of a day.
//!
//! Every accessor of [`CompanyAt`] clips at its date; nothing else can reach the snapshot's columns. Look-ahead is
//! prevented here and nowhere else.

use super::{
    bars_at::BarsAt,
    company::{CompanyPanel, DividendRow, EstimateRow, OwnershipRow},
    kept,
    snapshot::{CompanyIndex, Snapshot},
    statements::{FlowSpan, PeriodIndex},
};
use crate::{
    Num, Why,
    domain::{Company, Currency, Day, Event, InsiderTrade, Item, ItemKind, Kind, Listing, Metric, News, Officer, Period, RateSeries},
    formula::{Compiled, FormulaError, Library},
    valuation::{Assumptions, Overrides},
};
use std::sync::Arc;

/// A price older than this many calendar days no longer counts for the universe (rule 2).
const LAST_PRICE_MAX_AGE: i32 = 10;
/// Months after the newest period end beyond which statements are stale (rule 8).
const STALE_AFTER_MONTHS: i32 = 15;
/// Months for which an estimate counts (rule 1).
const ESTIMATE_MONTHS: i32 = 12;

/// What a computation needs beside data and date.
#[derive(Clone, Debug)]
pub struct Settings {
    /// The currency of whole-company amounts.
    pub base: Currency,
    /// The assumption set of valuations.
    pub assumptions: Assumptions,
    /// The user's own measures.
    pub library: Arc<Library>,
    /// What the user assumes of single companies.
    pub overrides: Arc<Overrides>,
}

impl Settings {
    /// The Standard assumption set with this base currency.
    #[must_use]
    pub fn standard(base: Currency) -> Settings {
        Settings { base, assumptions: Assumptions::standard(), library: Arc::default(), overrides: Arc::default() }
    }
}

/// A snapshot seen from one day.
#[derive(Clone, Copy, Debug)]
pub struct AsOf<'a> {
    /// The snapshot. Its columns are private to the panel.
    pub snapshot: &'a Snapshot,
    /// What to compute with.
    pub settings: &'a Settings,
    /// The day by whose close everything was public.
    pub t: Day,
}

/// A dividend on the split basis of the date, per traded unit in the listing's currency.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Dividend {
    /// First day without the dividend.
    pub ex_date: Day,
    /// Amount.
    pub amount: f64,
    /// Whether it was a special one.
    pub special: bool,
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

/// One company seen from one day.
#[derive(Clone, Copy, Debug)]
pub struct CompanyAt<'a> {
    panel: &'a CompanyPanel,
    /// The view it belongs to.
    pub view: AsOf<'a>,
    /// Its position in the snapshot.
    pub index: CompanyIndex,
    bars: u32,
    split_product: f64,
    filings: u32,
    newest: Option<PeriodIndex>,
    year0: Option<PeriodIndex>,
    /// The last day on which its statements are not stale (rule 8).
    stale_after: Day,
    /// Some filings are in another currency than the newest one's, so that figures move with exchange rates.
    mixed_currencies: bool,
    reporting: Currency,
    to_base: Option<f64>,
    to_listing: Option<f64>,
}

impl<'a> AsOf<'a> {
    /// Checks a formula as its user types it.
    ///
    /// # Errors
    /// The first mistake, where it is, and what may have been meant.
    pub fn compile(self, formula: &str) -> Result<Arc<Compiled>, FormulaError> {
        self.settings.library.compile(formula)
    }

    /// Every company of the dataset at this date, in order of symbol.
    pub fn companies(self) -> impl Iterator<Item = CompanyAt<'a>> {
        (0..u32::try_from(self.snapshot.companies.len()).unwrap_or(u32::MAX)).map(move |i| self.company(i))
    }

    /// The companies listed and traded at this date (rule 2).
    #[must_use]
    pub fn universe(self) -> Vec<CompanyAt<'a>> {
        use rayon::prelude::*;
        let all = 0..u32::try_from(self.snapshot.companies.len()).unwrap_or(u32::MAX);
        all.into_par_iter().map(|i| self.company(i)).filter(CompanyAt::in_universe).collect()
    }

    /// One company at this date.
    #[must_use]
    pub fn company(self, index: CompanyIndex) -> CompanyAt<'a> {
        CompanyAt::new(&self.snapshot.companies[index as usize], self, index)
    }

    /// The members of an index at the date, as positions in the snapshot, sorted; `None` for an unknown index.
    #[must_use]
    pub fn index_members(self, id: &str) -> Option<Vec<CompanyIndex>> {
        let index = self.snapshot.shared.indexes.get(id)?;
        let mut members: Vec<_> = index.members(self.t).filter_map(|m| self.snapshot.find(m)).collect();
        members.sort_unstable();
        Some(members)
    }

    /// The newest level of an index at the date; `None` for an unknown index or one without levels.
    #[must_use]
    pub fn index_level(self, id: &str) -> Option<f64> {
        self.snapshot.shared.indexes.get(id)?.level(self.t)
    }

    /// The first index by id with these members at the date.
    fn first_index_with(self, company: &str) -> Option<&'a str> {
        self.snapshot.shared.indexes.iter().find(|(_, index)| index.has(company, self.t)).map(|(id, _)| &**id)
    }

    /// News of the market as a whole published by the date, oldest first.
    pub fn market_news(self) -> impl DoubleEndedIterator<Item = &'a News> {
        self.snapshot.shared.news.iter().filter(move |n| n.published_on().is_some_and(|d| d <= self.t))
    }

    /// The same snapshot and settings at another date.
    #[must_use]
    pub fn at(self, t: Day) -> AsOf<'a> {
        AsOf { t, ..self }
    }
}

impl<'a> CompanyAt<'a> {
    fn new(panel: &'a CompanyPanel, view: AsOf<'a>, index: CompanyIndex) -> CompanyAt<'a> {
        CompanyAt::with_bars(panel, view, index, panel.bars.known(view.t))
    }

    /// With the number of sessions known.
    fn with_bars(panel: &'a CompanyPanel, view: AsOf<'a>, index: CompanyIndex, bars: u32) -> CompanyAt<'a> {
        let t = view.t;
        let newest = panel.statements.newest(t);
        let year0 = newest.and_then(|p| panel.statements.newest_year(t, p));
        let reporting = newest.and_then(|p| panel.statements.currency(t, p)).unwrap_or(panel.company.currency);
        let market = &view.snapshot.shared.market;
        let listing = panel.listing.as_ref().map_or(reporting, |l| l.currency);
        CompanyAt {
            panel,
            view,
            index,
            bars,
            split_product: split_product(panel, t),
            filings: panel.statements.known_filings(t),
            newest,
            year0,
            stale_after: newest.map_or(Day::MAX, |p| panel.statements.end(p).plus_months(STALE_AFTER_MONTHS)),
            mixed_currencies: panel.statements.has_mixed_currencies(),
            reporting,
            to_base: market.fx(reporting, view.settings.base, t),
            to_listing: market.fx(reporting, listing, t),
        }
    }

    /// The same company at a later date with the number of sessions known then; between two filings what is known of
    /// statements stays.
    fn later(&self, t: Day, bars: u32) -> CompanyAt<'a> {
        let view = self.view.at(t);
        if self.panel.statements.known_filings(t) != self.filings || self.newest.is_none() {
            return CompanyAt::with_bars(self.panel, view, self.index, bars);
        }
        let market = &view.snapshot.shared.market;
        let to_base = market.fx(self.reporting, view.settings.base, t);
        let to_listing = market.fx(self.reporting, self.listing_currency(), t);
        CompanyAt { view, bars, split_product: split_product(self.panel, t), to_base, to_listing, ..*self }
    }

    fn is_stale(&self) -> bool {
        self.t() > self.stale_after
    }

    /// The same company at another date.
    #[must_use]
    pub fn at(&self, t: Day) -> CompanyAt<'a> {
        CompanyAt::new(self.panel, self.view.at(t), self.index)
    }

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
        (!self.mixed_currencies && !self.is_stale()).then(|| (self.filings, self.splits()))
    }

    /// What was kept of this company's filings under a key, if it is from the filings known at the date.
    pub(crate) fn kept_of_filings(&self, key: u64) -> Option<Arc<[Num]>> {
        self.panel.facts.kept.get(self.filed_state(key)?)
    }

    /// Keeps what follows from the filings known at the date, unless exchange rates take part.
    pub(crate) fn keep_of_filings(&self, key: u64, figures: Arc<[Num]>) {
        if let Some(state) = self.filed_state(key) {
            self.panel.facts.kept.keep(state, figures);
        }
    }

    fn filed_state(&self, key: u64) -> Option<kept::State> {
        (!self.mixed_currencies).then(|| kept::State { filings: self.filings, splits: self.splits(), stale: self.is_stale(), key })
    }

    /// How many splits have happened.
    fn splits(&self) -> u32 {
        u32::try_from(self.panel.splits.partition_point(|s| s.ex_date <= self.t())).unwrap_or(u32::MAX)
    }

    /// The date.
    #[must_use]
    pub fn t(&self) -> Day {
        self.view.t
    }

    /// The company's own record.
    #[must_use]
    pub fn company(&self) -> &'a Company {
        &self.panel.company
    }

    /// What sort of business it is.
    #[must_use]
    pub fn kind(&self) -> Kind {
        self.panel.company.kind
    }

    /// The primary listing.
    #[must_use]
    pub fn listing(&self) -> Option<&'a Listing> {
        self.panel.listing.as_ref()
    }

    /// The primary symbol, or the company id of an unlisted company.
    #[must_use]
    pub fn symbol(&self) -> &'a str {
        self.listing().map_or(&*self.panel.company.id, |l| &*l.symbol)
    }

    /// Whether it is listed and was traded in the last ten days (rule 2).
    #[must_use]
    pub fn in_universe(&self) -> bool {
        let Some(listing) = self.listing() else { return false };
        let t = self.t();
        listing.listed_on.is_none_or(|d| d <= t)
            && listing.delisted_on.is_none_or(|d| d > t)
            && self.bars().last_date().is_some_and(|d| t.days_since(d) <= LAST_PRICE_MAX_AGE)
    }

    /// Bars up to the date, on its split basis.
    #[must_use]
    pub fn bars(&self) -> BarsAt<'a> {
        BarsAt::new(self.panel, self.bars as usize, self.split_product)
    }

    /// Price: the last close on or before the date, in the listing's currency.
    pub fn price(&self) -> Num {
        self.bars().last_close().ok_or(Why::NoPrice)
    }

    /// Ordinary shares that one traded unit stands for.
    #[must_use]
    pub fn shares_per_unit(&self) -> f64 {
        self.listing().map_or(1.0, |l| l.shares_per_unit)
    }

    /// The currency in which it reports at the date.
    #[must_use]
    pub fn reporting_currency(&self) -> Currency {
        self.reporting
    }

    /// The currency of its price.
    #[must_use]
    pub fn listing_currency(&self) -> Currency {
        self.listing().map_or(self.reporting, |l| l.currency)
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
        if listing == self.reporting { self.reporting_to_base() } else { self.fx(listing, self.view.settings.base) }
    }

    /// Units of `to` for one unit of `from`, at the date.
    pub fn fx(&self, from: Currency, to: Currency) -> Num {
        self.view.snapshot.shared.market.fx(from, to, self.t()).ok_or(Why::NoFx)
    }

    /// Units of `to` for one unit of `from` on an earlier day.
    pub fn fx_on(&self, from: Currency, to: Currency, day: Day) -> Num {
        self.view.snapshot.shared.market.fx(from, to, day.min(self.t())).ok_or(Why::NoFx)
    }

    /// The newest rate of the reporting currency, as a fraction.
    pub fn rate(&self, series: RateSeries) -> Num {
        self.view.snapshot.shared.market.rate(self.reporting, series, self.t()).ok_or(Why::NoRate)
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

    /// The periods known at the date, oldest first.
    pub fn known_periods(&self) -> impl DoubleEndedIterator<Item = PeriodIndex> + 'a {
        self.panel.statements.known(self.t())
    }

    /// Fiscal year and period of a known period.
    #[must_use]
    pub fn label(&self, p: PeriodIndex) -> (i32, Period) {
        self.panel.statements.label(p)
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
            FlowSpan::Quarters(year, last, periods) => (0..4u8).zip(periods).try_fold(0.0, |sum, (back, own)| {
                let filed = own.and_then(|p| self.item(p, item));
                Some(sum + filed.or_else(|| self.quarter(back_from(year, last, back, 4), item))?)
            }),
            FlowSpan::Halves(year, last) => (0..2).try_fold(0.0, |sum, back| Some(sum + self.half(back_from(year, last, back, 2), item)?)),
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

    fn half(&self, (year, half): (i32, u8), item: Item) -> Option<f64> {
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
            FlowSpan::Halves(y, h) => self.find_period(y, [Period::H1, Period::H2][usize::from(h) - 1]),
        }
    }

    /// Dividends with an ex-date up to the date, oldest first; undefined when the whole dataset has no actions by then.
    pub fn dividends(&self) -> Result<impl DoubleEndedIterator<Item = Dividend> + '_, Why> {
        if !self.view.snapshot.has_actions(self.t()) {
            return Err(Why::NoActions);
        }
        let known = self.panel.dividends.partition_point(|d| d.ex_date <= self.t());
        let on_basis =
            |d: &DividendRow| Dividend { ex_date: d.ex_date, amount: d.amount / self.splits_since(d.ex_date), special: d.special };
        Ok(self.panel.dividends[..known].iter().map(on_basis))
    }

    /// The newest estimate of a metric (of a fiscal year, where it has one) published in the last 12 months.
    pub fn estimate(&self, metric: Metric, fiscal_year: Option<i32>) -> Result<EstimateRow, Why> {
        let year = |e: &EstimateRow| fiscal_year.is_none() || e.fiscal_year == fiscal_year;
        self.find_estimate(|e| e.metric == metric && e.period.is_none() && year(e))
    }

    /// The newest of [`CompanyAt::estimates`] that is asked for; its amounts may not be asked about.
    pub fn find_estimate(&self, asked: impl Fn(&EstimateRow) -> bool) -> Result<EstimateRow, Why> {
        self.estimate_rows().find(|e| asked(e)).map(|e| self.rebased(e)).ok_or(Why::NoEstimate)
    }

    /// The last fiscal year for which [`CompanyAt::estimates`] has a metric.
    #[must_use]
    pub fn furthest_estimate(&self, metric: Metric) -> Option<i32> {
        self.estimate_rows().filter(|e| e.metric == metric && e.period.is_none()).filter_map(|e| e.fiscal_year).max()
    }

    /// The estimates published in the last 12 months, newest first, on the split basis of the date; per-share ones per
    /// traded unit, amounts in the reporting currency (price targets in the listing's).
    pub fn estimates(&self) -> impl Iterator<Item = EstimateRow> + '_ {
        self.estimate_rows().map(|e| self.rebased(e))
    }

    fn estimate_rows(&self) -> impl Iterator<Item = &'a EstimateRow> + use<'a> {
        let t = self.t();
        let from = t.plus_months(-ESTIMATE_MONTHS);
        let known = self.panel.estimates.partition_point(|e| e.published_on <= t);
        self.panel.estimates[..known].iter().rev().take_while(move |e| e.published_on > from)
    }

    fn rebased(&self, e: &EstimateRow) -> EstimateRow {
        let splits = self.splits_since(e.published_on);
        let factor = match e.metric {
            Metric::Eps => self.shares_per_unit() / splits,
            Metric::PriceTarget => 1.0 / splits,
            _ => 1.0,
        };
        EstimateRow { mean: e.mean * factor, low: e.low.map(|v| v * factor), high: e.high.map(|v| v * factor), ..*e }
    }

    /// Insider trades filed by the date, oldest filing first, as filed.
    #[must_use]
    pub fn insider_trades(&self) -> &'a [InsiderTrade] {
        let known = self.panel.trades.partition_point(|x| x.filed_on <= self.t());
        &self.panel.trades[..known]
    }

    /// Of [`CompanyAt::insider_trades`] those made after a day, oldest filing first.
    pub fn insider_trades_after(&self, day: Day) -> impl Iterator<Item = &'a InsiderTrade> {
        let all = self.insider_trades();
        let first = all.partition_point(|x| x.filed_on.plus_days(self.panel.filed_ahead) <= day);
        all[first..].iter().filter(move |x| x.traded_on > day)
    }

    /// Ownership rows filed by the date, oldest first.
    pub fn ownership(&self) -> impl DoubleEndedIterator<Item = OwnershipRow> + '_ {
        self.panel.ownership.iter().filter(|o| o.filed_on <= self.t()).copied()
    }

    /// Those in office at the date: since ≤ t, and until empty or after it.
    pub fn officers(&self) -> impl Iterator<Item = &'a Officer> {
        let t = self.t();
        self.panel.facts.officers.iter().filter(move |o| o.since.is_none_or(|d| d <= t) && o.until.is_none_or(|d| t < d))
    }

    /// The day on which the chief executive in office took it, where it is known; of several the last.
    #[must_use]
    pub fn chief_since(&self) -> Option<Day> {
        let t = self.t();
        self.panel.facts.chiefs.iter().filter(|(since, until)| *since <= t && until.is_none_or(|d| t < d)).map(|c| c.0).max()
    }

    /// Events up to the date, oldest first.
    #[must_use]
    pub fn events(&self) -> &'a [Event] {
        let events = &self.panel.facts.events;
        &events[..events.partition_point(|e| e.date <= self.t())]
    }

    /// News of the company published by the date, oldest first.
    pub fn news(&self) -> impl DoubleEndedIterator<Item = &'a News> {
        let t = self.t();
        self.panel.facts.news.iter().filter(move |n| n.published_on().is_some_and(|d| d <= t))
    }

    /// Dividends declared by the date that have not gone ex yet, with amount as declared.
    pub fn declared_dividends(&self) -> impl Iterator<Item = Declared> + 'a {
        let t = self.t();
        let upcoming = move |d: &&DividendRow| d.ex_date > t && d.declared_on.is_some_and(|on| on <= t);
        let declared = |d: &DividendRow| Declared { ex_date: d.ex_date, pay_date: d.pay_date, amount: d.amount };
        self.panel.facts.dividends.iter().filter(upcoming).map(declared)
    }

    /// The first index by id of which it is a member.
    #[must_use]
    pub fn first_index(&self) -> Option<&'a str> {
        self.view.first_index_with(&self.panel.company.id)
    }

    /// The level of an index on an earlier day, in the listing's currency.
    pub fn index_level(&self, id: &str, day: Day) -> Num {
        let index = self.view.snapshot.shared.indexes.get(id).ok_or(Why::NoIndex)?;
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
                None => CompanyAt::with_bars(self.panel, self.view.at(t), self.index, i + 1),
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
        if self.panel.splits.is_empty() { 1.0 } else { self.split_product / split_product(self.panel, day) }
    }
}

fn back_from(year: i32, last: u8, back: u8, per_year: u8) -> (i32, u8) {
    if last > back { (year, last - back) } else { (year - 1, last + per_year - back) }
}

pub(super) fn split_product(panel: &CompanyPanel, t: Day) -> f64 {
    let known = panel.splits.partition_point(|s| s.ex_date <= t);
    known.checked_sub(1).map_or(1.0, |i| panel.splits[i].cumulative)
}
