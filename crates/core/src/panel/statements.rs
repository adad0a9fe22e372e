//! The filings of one company: periods with their revisions, resolved item by item as of a date.
//!
//! Rules 1, 5, 6, 7 and 10 of the dataset.

use crate::domain::{Currency, Day, Item, Items, Period, Statement};
use std::{
    hash::{Hash, Hasher},
    sync::Arc,
};

/// No period.
const NOWHERE: PeriodIndex = PeriodIndex::MAX;
/// Years before the newest that have places of their own.
const MOST_YEARS: i32 = 200;

/// The position of a period among a company's periods.
pub type PeriodIndex = u32;

/// The twelve months (or the fiscal year) over which flows are taken.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum FlowSpan {
    /// One fiscal year's own row.
    Year(PeriodIndex),
    /// The four quarters ending with this quarter (1–4) of this fiscal year; where known, their own periods, newest first.
    Quarters(i32, u8, [Option<PeriodIndex>; 4]),
    /// One quarter (1–4) of this fiscal year.
    Quarter(i32, u8),
    /// One half (1–2) of this fiscal year.
    Half(i32, u8),
    /// The two halves ending with this half (1–2) of this fiscal year.
    Halves(i32, u8),
}

#[derive(Clone, Debug)]
struct Row {
    filed_on: Day,
    currency: Currency,
    mask: u64,
    first_value: u32,
}

#[derive(Clone, Debug)]
struct PeriodRows {
    fiscal_year: i32,
    period: Period,
    end: Day,
    first_filed: Day,
    first_row: u32,
    rows: u32,
}

/// A resolved item: its figure as filed and the filing it comes from.
#[derive(Clone, Copy, Debug)]
pub(super) struct Filed {
    pub(super) value: f64,
    pub(super) filed_on: Day,
    pub(super) currency: Currency,
    row: u32,
}

#[derive(Clone, Debug, Default)]
pub(super) struct Statements {
    /// Sorted by period end, then by period (quarters before halves before the year).
    periods: Vec<PeriodRows>,
    /// Positions by fiscal year (from `first_year`) and period; [`NOWHERE`] where there is none.
    places: Vec<[PeriodIndex; Period::ALL.len()]>,
    first_year: i32,
    /// (fiscal year, period) → position, sorted: for years so far from the others that they have no places.
    labels: Vec<((i32, Period), PeriodIndex)>,
    rows: Vec<Row>,
    /// Where each row comes from.
    sources: Vec<Arc<str>>,
    /// The days of all filings, sorted: how many lie on or before a day tells one state of knowledge from the next.
    filings: Vec<Day>,
    mixed_currencies: bool,
    /// The items (bits) that any filing carries.
    carried: u64,
    /// The carried values of all rows, packed.
    values: Vec<f64>,
}

impl Statements {
    /// Hashes all that is read of it.
    pub(super) fn hash_into(&self, hash: &mut impl Hasher) {
        for p in &self.periods {
            (p.fiscal_year, p.period, p.end, p.first_filed, p.first_row, p.rows).hash(hash);
        }
        for r in &self.rows {
            (r.filed_on, r.currency, r.mask).hash(hash);
        }
        self.values.iter().for_each(|v| hash.write_u64(v.to_bits()));
    }

    #[allow(clippy::vec_box)]
    pub(super) fn new(mut filed: Vec<Box<Statement>>) -> Statements {
        filed.sort_by(|a, b| (a.fiscal_year, a.period, a.filed_on, &a.source).cmp(&(b.fiscal_year, b.period, b.filed_on, &b.source)));
        let mut out = Statements::default();
        for group in filed.chunk_by(|a, b| (a.fiscal_year, a.period) == (b.fiscal_year, b.period)) {
            out.push_period(group);
        }
        out.periods.sort_by_key(|p| (p.end, p.period));
        out.labels = out.periods.iter().enumerate().map(|(i, p)| ((p.fiscal_year, p.period), index(i))).collect();
        out.labels.sort_unstable();
        out.place();
        out.filings = out.rows.iter().map(|r| r.filed_on).collect();
        out.filings.sort_unstable();
        out.mixed_currencies = out.rows.windows(2).any(|w| w[0].currency != w[1].currency);
        out
    }

    /// Fills the places from the labels.
    fn place(&mut self) {
        let Some(last) = self.labels.last().map(|l| l.0.0) else { return };
        self.first_year = self.labels[0].0.0.max(last.saturating_sub(MOST_YEARS));
        let years = usize::try_from(last - self.first_year + 1).unwrap_or(0);
        self.places = vec![[NOWHERE; Period::ALL.len()]; years];
        for ((year, period), position) in &self.labels {
            if let Some(places) = usize::try_from(year - self.first_year).ok().and_then(|i| self.places.get_mut(i)) {
                places[*period as usize] = *position;
            }
        }
    }

    fn position(&self, fiscal_year: i32, period: Period) -> Option<PeriodIndex> {
        if let Some(places) = usize::try_from(fiscal_year - self.first_year).ok().and_then(|i| self.places.get(i)) {
            return Some(places[period as usize]).filter(|p| *p != NOWHERE);
        }
        let at = self.labels.binary_search_by_key(&(fiscal_year, period), |l| l.0).ok()?;
        Some(self.labels[at].1)
    }

    fn push_period(&mut self, group: &[Box<Statement>]) {
        self.periods.push(PeriodRows {
            fiscal_year: group[0].fiscal_year,
            period: group[0].period,
            end: group[group.len() - 1].period_end,
            first_filed: group[0].filed_on,
            first_row: index(self.rows.len()),
            rows: index(group.len()),
        });
        for s in group {
            self.push_row(s);
        }
    }

    fn push_row(&mut self, s: &Statement) {
        self.carried |= s.items.mask();
        self.rows.push(Row { filed_on: s.filed_on, currency: s.currency, mask: s.items.mask(), first_value: index(self.values.len()) });
        self.sources.push(s.source.as_str().into());
        self.values.extend(Items::iter(&s.items).map(|(_, v)| v));
    }

    /// Whether filings are in more than one currency.
    pub(super) fn has_mixed_currencies(&self) -> bool {
        self.mixed_currencies
    }

    /// The days of all filings, sorted.
    pub(super) fn filed_days(&self) -> &[Day] {
        &self.filings
    }

    /// The newest filing: its day and source.
    pub(super) fn newest_filing(&self) -> Option<(Day, &str)> {
        let newest = (0..self.rows.len()).max_by_key(|i| self.rows[*i].filed_on)?;
        Some((self.rows[newest].filed_on, &self.sources[newest]))
    }

    /// How many filings are known at `t`: equal numbers mean equal knowledge.
    pub(super) fn known_filings(&self, t: Day) -> u32 {
        index(self.filings.partition_point(|d| *d <= t))
    }

    /// The newest period known at `t` (latest period end; of several the year comes last), or `None`.
    pub(super) fn newest(&self, t: Day) -> Option<PeriodIndex> {
        let bound = self.periods.partition_point(|p| p.end <= t);
        self.periods[..bound].iter().rposition(|p| p.first_filed <= t).map(index)
    }

    /// The newest fiscal year known at `t` at or before the period `newest`.
    pub(super) fn newest_year(&self, t: Day, newest: PeriodIndex) -> Option<PeriodIndex> {
        let upto = &self.periods[..=newest as usize];
        upto.iter().rposition(|p| p.period == Period::FY && p.first_filed <= t).map(index)
    }

    pub(super) fn find(&self, t: Day, fiscal_year: i32, period: Period) -> Option<PeriodIndex> {
        self.position(fiscal_year, period).filter(|i| self.periods[*i as usize].first_filed <= t)
    }

    pub(super) fn end(&self, p: PeriodIndex) -> Day {
        self.periods[p as usize].end
    }

    pub(super) fn label(&self, p: PeriodIndex) -> (i32, Period) {
        let period = &self.periods[p as usize];
        (period.fiscal_year, period.period)
    }

    pub(super) fn first_filed(&self, p: PeriodIndex) -> Day {
        self.periods[p as usize].first_filed
    }

    /// The periods known at `t`, oldest first.
    pub(super) fn known(&self, t: Day) -> impl DoubleEndedIterator<Item = PeriodIndex> + '_ {
        let bound = self.periods.partition_point(|p| p.end <= t);
        (0..bound).filter(move |&i| self.periods[i].first_filed <= t).map(index)
    }

    /// The currency of the newest row known at `t` of a period.
    pub(super) fn currency(&self, t: Day, p: PeriodIndex) -> Option<Currency> {
        self.rows_of(p).iter().rfind(|r| r.filed_on <= t).map(|r| r.currency)
    }

    /// An item of one period as known at `t`: the latest filing that carries it, else none by rule 10.
    pub(super) fn item(&self, t: Day, p: PeriodIndex, item: Item) -> Option<Filed> {
        self.carried(t, p, item).or_else(|| {
            let beside = self.carried(t, p, item.none_when_absent_beside()?)?;
            Some(Filed { value: 0.0, ..beside })
        })
    }

    /// Where a resolved item comes from.
    pub(super) fn source(&self, filed: &Filed) -> &str {
        &self.sources[filed.row as usize]
    }

    /// Whether a known filing of the period names the item.
    pub(super) fn is_carried(&self, t: Day, p: PeriodIndex, item: Item) -> bool {
        self.carried(t, p, item).is_some()
    }

    /// Whether any filing gives the item a figure; most companies never have those of other trades.
    pub(super) fn ever_has(&self, item: Item) -> bool {
        let bits = item.bit() | item.none_when_absent_beside().map_or(0, Item::bit);
        self.carried & bits != 0
    }

    fn carried(&self, t: Day, p: PeriodIndex, item: Item) -> Option<Filed> {
        if self.carried & item.bit() == 0 {
            return None;
        }
        let period = &self.periods[p as usize];
        let known = |r: &Row| r.filed_on <= t && r.mask & item.bit() != 0;
        let at = (period.first_row..period.first_row + period.rows).rev().find(|i| known(&self.rows[*i as usize]))?;
        let row = &self.rows[at as usize];
        let before = (row.mask & (item.bit() - 1)).count_ones();
        let value = self.values[(row.first_value + before) as usize];
        Some(Filed { value, filed_on: row.filed_on, currency: row.currency, row: at })
    }

    fn rows_of(&self, p: PeriodIndex) -> &[Row] {
        let period = &self.periods[p as usize];
        &self.rows[period.first_row as usize..(period.first_row + period.rows) as usize]
    }
}

fn index(i: usize) -> u32 {
    u32::try_from(i).unwrap_or(u32::MAX)
}
