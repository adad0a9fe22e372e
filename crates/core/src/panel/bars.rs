//! Daily bars of one listing, one column a field.

use super::figures::Figures;
use crate::domain::{Bar, Day};
use std::{ops::Range, sync::Arc};

/// Sessions that may stand in the short columns before they are joined to the long ones.
const MAX_RECENT: usize = 80;
/// Sessions of about a quarter, among which a day is looked for first.
const QUARTER: usize = 64;

/// A field of a bar.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Field {
    Open,
    High,
    Low,
    Close,
    Volume,
}

/// The columns of some sessions, oldest first.
#[derive(Clone, Debug, Default, PartialEq)]
#[allow(missing_docs)]
pub struct BarColumns {
    pub date: Vec<Day>,
    pub open: Figures,
    pub high: Figures,
    pub low: Figures,
    pub close: Figures,
    pub volume: Figures,
}

impl BarColumns {
    /// Room for so many sessions more.
    pub fn reserve(&mut self, n: usize) {
        self.date.reserve_exact(n);
        for column in [&mut self.open, &mut self.high, &mut self.low, &mut self.close, &mut self.volume] {
            column.reserve(n);
        }
    }

    /// The columns of some bars.
    #[must_use]
    pub fn of(bars: &[Bar]) -> BarColumns {
        let mut columns = BarColumns::default();
        bars.iter().for_each(|b| columns.push(b));
        columns
    }

    fn push(&mut self, bar: &Bar) {
        self.date.push(bar.date);
        self.open.push(bar.open);
        self.high.push(bar.high);
        self.low.push(bar.low);
        self.close.push(bar.close);
        self.volume.push(bar.volume);
    }

    fn extend(&mut self, other: &BarColumns) {
        self.reserve(other.date.len());
        self.date.extend_from_slice(&other.date);
        self.open.extend(&other.open);
        self.high.extend(&other.high);
        self.low.extend(&other.low);
        self.close.extend(&other.close);
        self.volume.extend(&other.volume);
    }

    fn column(&self, field: Field) -> &Figures {
        match field {
            Field::Open => &self.open,
            Field::High => &self.high,
            Field::Low => &self.low,
            Field::Close => &self.close,
            Field::Volume => &self.volume,
        }
    }

    fn is_ordered(&self) -> bool {
        self.date.windows(2).all(|w| w[0] < w[1])
    }

    /// Bar by bar.
    pub fn bars(&self) -> impl Iterator<Item = Bar> + '_ {
        (0..self.date.len()).map(|i| Bar {
            date: self.date[i],
            open: self.open.get(i),
            high: self.high.get(i),
            low: self.low.get(i),
            close: self.close.get(i),
            volume: self.volume.get(i),
        })
    }
}

/// All sessions of a listing; prices of a session that are not known are its close. The long columns are shared between a snapshot and the next one, so that a day more
/// copies only the short ones and the dates.
#[derive(Clone, Debug, Default)]
pub(super) struct Bars {
    date: Vec<Day>,
    long: Arc<BarColumns>,
    recent: BarColumns,
    /// Position of the last session of each calendar month, oldest first.
    month_ends: Vec<u32>,
}

macro_rules! fields {
    ($($field:ident),+) => {
        $(pub(super) fn $field(&self, i: usize) -> f64 {
            let long = &self.long.$field;
            if i < long.len() { long.get(i) } else { self.recent.$field.get(i - long.len()) }
        })+
    };
}

impl Bars {
    fields!(open, high, low, close, volume);

    /// A field of the sessions at some positions.
    pub(super) fn series(&self, field: Field, at: Range<usize>) -> Vec<f64> {
        let (long, recent) = (self.long.column(field), self.recent.column(field));
        let n = long.len();
        let mut out = Vec::with_capacity(at.len());
        long.copy_into(at.start.min(n)..at.end.min(n), &mut out);
        recent.copy_into(at.start.max(n) - n..at.end.max(n) - n, &mut out);
        out
    }

    /// The lowest and the highest figure of a field of the sessions at some positions.
    pub(super) fn ends(&self, field: Field, at: Range<usize>) -> Option<(f64, f64)> {
        let (long, recent) = (self.long.column(field), self.recent.column(field));
        let n = long.len();
        let long = long.ends(at.start.min(n)..at.end.min(n));
        let recent = recent.ends(at.start.max(n) - n..at.end.max(n) - n);
        match (long, recent) {
            (Some(a), Some(b)) => Some((a.0.min(b.0), a.1.max(b.1))),
            (a, b) => a.or(b),
        }
    }

    /// From columns, in any order; of two bars of one day the later one in the columns counts.
    pub(super) fn new(mut columns: BarColumns) -> Bars {
        let is_whole = [&columns.open, &columns.high, &columns.low].into_iter().all(Figures::are_known);
        if !is_whole || !columns.is_ordered() {
            let mut bars: Vec<Bar> = columns.bars().map(Bar::filled).collect();
            bars.sort_by_key(|b| b.date);
            columns = BarColumns::default();
            for (i, bar) in bars.iter().enumerate() {
                if bars.get(i + 1).is_none_or(|next| next.date != bar.date) {
                    columns.push(bar);
                }
            }
        }
        let month_ends = month_ends(&columns.date, 0);
        Bars { date: std::mem::take(&mut columns.date), long: Arc::new(columns), recent: BarColumns::default(), month_ends }
    }

    pub(super) fn of(bars: &[Bar]) -> Bars {
        Bars::new(BarColumns::of(bars))
    }

    /// With sessions added after the last one; `None` when some are not after it.
    pub(super) fn appended(&self, new: &[Bar]) -> Option<Bars> {
        let mut dates = self.date.last().into_iter().copied().chain(new.iter().map(|b| b.date));
        let mut before = dates.next()?;
        if !dates.all(|d| std::mem::replace(&mut before, d) < d) {
            return None;
        }
        let mut date = Vec::with_capacity(self.date.len() + new.len());
        date.extend_from_slice(&self.date);
        date.extend(new.iter().map(|b| b.date));
        let mut recent = self.recent.clone();
        new.iter().for_each(|b| recent.push(&b.filled()));
        recent.date.clear();
        let month_ends = self.month_ends_with(&date);
        if recent.close.len() <= MAX_RECENT {
            return Some(Bars { date, long: self.long.clone(), recent, month_ends });
        }
        let mut long = (*self.long).clone();
        long.extend(&recent);
        Some(Bars { date, long: Arc::new(long), recent: BarColumns::default(), month_ends })
    }

    fn month_ends_with(&self, date: &[Day]) -> Vec<u32> {
        // The last month may go on.
        let kept = &self.month_ends[..self.month_ends.len().saturating_sub(1)];
        let from = kept.last().map_or(0, |i| *i as usize + 1);
        let mut all = kept.to_vec();
        all.extend(month_ends(&date[from..], from));
        all
    }

    /// Whether exactly this bar is there.
    #[allow(clippy::float_cmp)]
    pub(super) fn has(&self, bar: &Bar) -> bool {
        let bar = bar.filled();
        self.date.binary_search(&bar.date).is_ok_and(|i| {
            let volume = self.volume(i);
            [self.open(i), self.high(i), self.low(i), self.close(i)] == [bar.open, bar.high, bar.low, bar.close]
                && (volume == bar.volume || volume.is_nan() && bar.volume.is_nan())
        })
    }

    pub(super) fn dates(&self) -> &[Day] {
        &self.date
    }

    /// How many sessions lie on or before a day; mostly one of the last months is asked for.
    pub(super) fn known(&self, t: Day) -> u32 {
        let recent = self.date.len().saturating_sub(QUARTER);
        let from = if self.date.get(recent).is_some_and(|d| *d <= t) { recent } else { 0 };
        u32::try_from(from + self.date[from..].partition_point(|d| *d <= t)).unwrap_or(u32::MAX)
    }

    pub(super) fn month_ends(&self) -> &[u32] {
        &self.month_ends
    }
}

/// The positions of the last session of each month, counted from `offset`.
fn month_ends(dates: &[Day], offset: usize) -> Vec<u32> {
    let mut ends = Vec::new();
    let mut month_end: Option<Day> = None;
    for (i, &day) in dates.iter().enumerate() {
        if month_end.is_none_or(|end| day > end) {
            month_end = Some(day.month_end());
            ends.push(0);
        }
        if let Some(last) = ends.last_mut() {
            *last = u32::try_from(offset + i).unwrap_or(u32::MAX);
        }
    }
    ends
}

#[cfg(test)]
mod tests {
    use super::*;

    fn bar(day: i32) -> Bar {
        let p = f64::from(day);
        Bar { date: Day::from_epoch_days(day), open: p, high: p + 1.0, low: p - 1.0, close: p + 0.5, volume: p * 10.0 }
    }

    /// Appending day by day gives what building at once gives, over the joining of the short columns too.
    #[test]
    fn appending_is_the_same_as_building_anew() {
        let all: Vec<Bar> = (100..400).map(bar).collect();
        let mut grown = Bars::of(&all[..10]);
        for day in &all[10..] {
            grown = grown.appended(std::slice::from_ref(day)).unwrap();
        }
        let built = Bars::of(&all);
        assert_eq!((grown.dates(), grown.month_ends()), (built.dates(), built.month_ends()));
        for i in 0..all.len() {
            assert!(grown.series(Field::Close, i..all.len().min(i + 3)).iter().zip(i..).all(|(v, i)| *v == built.close(i)));
            assert_eq!((grown.open(i), grown.close(i), grown.volume(i)), (built.open(i), built.close(i), built.volume(i)));
            assert!(grown.has(&all[i]) && !grown.has(&Bar { close: 0.25, ..all[i] }));
        }
        // Prices rise, so that the ends of a range lie at its ends: in the long columns, over the border, in the short ones.
        for at in [0..300, 5..20, 100..101, 230..260, 290..300] {
            assert_eq!(grown.ends(Field::Low, at.clone()), Some((all[at.start].low, all[at.end - 1].low)), "{at:?}");
            assert_eq!(grown.ends(Field::Volume, at.clone()), Some((all[at.start].volume, all[at.end - 1].volume)), "{at:?}");
        }
        assert_eq!(grown.ends(Field::Low, 7..7), None);
        for t in [99, 100, 101, 250, 398, 399, 400] {
            assert_eq!(grown.known(Day::from_epoch_days(t)), u32::try_from((t - 99).clamp(0, 300)).unwrap());
        }
        assert!(grown.appended(&[bar(399)]).is_none(), "a day that is there is no new day");
    }

    /// A session of which only the close is known counts by it, appended or built in; without a volume none is made up.
    #[test]
    fn what_is_not_known_of_a_session_is_its_close() {
        let closing = |day| Bar { open: f64::NAN, high: f64::NAN, low: f64::NAN, volume: f64::NAN, ..bar(day) };
        let built = Bars::of(&[bar(100), closing(101), bar(102)]);
        let grown = Bars::of(&[bar(100)]).appended(&[closing(101), bar(102)]).unwrap();
        for bars in [built, grown] {
            assert_eq!([bars.open(1), bars.high(1), bars.low(1), bars.close(1)], [101.5; 4]);
            assert!(bars.volume(1).is_nan());
            assert!(bars.has(&closing(101)) && bars.has(&bar(102)) && !bars.has(&bar(101)));
            assert_eq!(bars.ends(Field::High, 0..3), Some((101.0, 103.0)));
        }
    }

    #[test]
    fn the_later_of_two_bars_of_a_day_counts() {
        let bars = Bars::of(&[bar(5), bar(4), Bar { close: 7.0, ..bar(5) }]);
        assert_eq!(bars.dates().len(), 2);
        assert!((bars.close(1) - 7.0).abs() < f64::EPSILON);
    }
}
