//! Those within the company, those who watch it, and what is told of it, by the date.

use super::{
    super::company::{EstimateRow, OpenTrade, OwnershipRow},
    view::CompanyAt,
};
use crate::{
    Num, Why,
    domain::{Day, Event, InsiderTrade, Metric, News, Officer},
};

/// Months for which an estimate counts (rule 1).
const ESTIMATE_MONTHS: i32 = 12;

impl<'a> CompanyAt<'a> {
    /// The newest estimate of a metric (of a fiscal year, where it has one) published in the last 12 months.
    pub fn estimate(&self, metric: Metric, fiscal_year: Option<i32>) -> Result<EstimateRow, Why> {
        let year = |e: &EstimateRow| fiscal_year.is_none() || e.fiscal_year == fiscal_year;
        self.find_estimate(|e| e.metric == metric && e.period.is_none() && year(e))
    }

    /// The newest of [`CompanyAt::estimates`] that is asked for; its amounts may not be asked about.
    pub fn find_estimate(&self, asked: impl Fn(&EstimateRow) -> bool) -> Result<EstimateRow, Why> {
        self.estimate_rows().find(|e| asked(e)).ok_or(Why::NoEstimate).and_then(|e| self.rebased(e))
    }

    /// The last fiscal year for which [`CompanyAt::estimates`] has a metric.
    #[must_use]
    pub fn furthest_estimate(&self, metric: Metric) -> Option<i32> {
        self.estimate_rows().filter(|e| e.metric == metric && e.period.is_none()).filter_map(|e| e.fiscal_year).max()
    }

    /// The estimates published in the last 12 months, newest first, on the split basis of the date; per-share ones per
    /// traded unit, amounts in the reporting currency (price targets in the listing's). Those in a currency that it no longer
    /// reports in are left out where no exchange rate is known.
    pub fn estimates(&self) -> impl Iterator<Item = EstimateRow> + '_ {
        self.estimate_rows().filter_map(|e| self.rebased(e).ok())
    }

    fn estimate_rows(&self) -> impl Iterator<Item = &'a EstimateRow> + use<'a> {
        let t = self.t();
        let from = t.plus_months(-ESTIMATE_MONTHS);
        let known = self.panel.estimates.partition_point(|e| e.published_on <= t);
        self.panel.estimates[..known].iter().rev().take_while(move |e| e.published_on > from)
    }

    fn rebased(&self, e: &EstimateRow) -> Result<EstimateRow, Why> {
        let splits = self.splits_since(e.published_on);
        let factor = match e.metric {
            Metric::Eps => self.shares_per_unit() / splits * self.estimated_in(e.published_on)?,
            Metric::Revenue | Metric::Ebit => self.estimated_in(e.published_on)?,
            Metric::PriceTarget => 1.0 / splits,
            Metric::LongTermGrowth | Metric::Rating => 1.0,
        };
        Ok(EstimateRow { mean: e.mean * factor, low: e.low.map(|v| v * factor), high: e.high.map(|v| v * factor), ..*e })
    }

    /// Units of the reporting currency for one of that in which amounts of a day were estimated.
    fn estimated_in(&self, day: Day) -> Num {
        if self.mixed_currencies { self.fx(self.reporting_on(day), self.reporting) } else { Ok(1.0) }
    }

    /// Insider trades filed by the date and not superseded by then, oldest filing first, as filed.
    pub fn insider_trades(&self) -> impl DoubleEndedIterator<Item = &'a InsiderTrade> + Clone + use<'a> {
        self.insider_trades_since(Day::MIN)
    }

    /// Of [`CompanyAt::insider_trades`] those filed after a day.
    pub fn insider_trades_since(&self, day: Day) -> impl DoubleEndedIterator<Item = &'a InsiderTrade> + Clone + use<'a> {
        let (t, all) = (self.t(), &self.panel.trades);
        let known = all.partition_point(|x| x.filed_on <= t);
        let first = all[..known].partition_point(|x| x.filed_on <= day);
        all[first..known].iter().filter(move |x| x.is_known(t))
    }

    /// Whether any insider trade is filed by the date.
    #[must_use]
    pub fn has_insider_trades(&self) -> bool {
        self.panel.trades.first().is_some_and(|x| x.filed_on <= self.t())
    }

    /// Of [`CompanyAt::insider_trades`] those on the open market, of no plan, made after a day and by the date; oldest filing
    /// first.
    pub fn open_trades(&self, after: Day) -> impl Iterator<Item = &'a OpenTrade> {
        let (t, all) = (self.t(), &self.panel.facts.open_trades);
        let known = all.partition_point(|x| x.filed_on <= t);
        let first = all[..known].partition_point(|x| x.filed_on.plus_days(self.panel.filed_ahead) <= after);
        let counts = move |x: &&OpenTrade| x.traded_on > after && x.traded_on <= t && x.superseded_on.is_none_or(|day| t < day);
        all[first..known].iter().filter(counts)
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

    /// Events after the date that are known by it, soonest first.
    pub fn events_ahead(&self) -> impl Iterator<Item = &'a Event> {
        let (t, events) = (self.t(), &self.panel.facts.events);
        events[events.partition_point(|e| e.date <= t)..].iter().filter(move |e| e.known_on() <= t)
    }

    /// News of the company published by the date, oldest first.
    pub fn news(&self) -> impl DoubleEndedIterator<Item = &'a News> {
        let t = self.t();
        self.panel.facts.news.iter().filter(move |n| n.published_on().is_some_and(|d| d <= t))
    }
}
