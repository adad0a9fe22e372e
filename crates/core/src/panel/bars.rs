//! Daily bars of one listing, one column a field.

use crate::domain::{Bar, Day};

#[derive(Clone, Debug, Default)]
pub(super) struct Bars {
    pub(super) date: Vec<Day>,
    pub(super) open: Vec<f64>,
    pub(super) high: Vec<f64>,
    pub(super) low: Vec<f64>,
    pub(super) close: Vec<f64>,
    pub(super) volume: Vec<f64>,
    /// Position of the last session of each calendar month, oldest first.
    pub(super) month_ends: Vec<u32>,
}

impl Bars {
    pub(super) fn new(mut bars: Vec<Bar>) -> Bars {
        if !bars.is_sorted_by_key(|b| b.date) {
            bars.sort_by_key(|b| b.date);
        }
        bars.dedup_by_key(|b| b.date);
        let mut out = Bars::with_capacity(bars.len());
        for bar in &bars {
            out.date.push(bar.date);
            out.open.push(bar.open);
            out.high.push(bar.high);
            out.low.push(bar.low);
            out.close.push(bar.close);
            out.volume.push(bar.volume);
        }
        out.month_ends = month_ends(&out.date);
        out
    }

    fn with_capacity(n: usize) -> Bars {
        Bars {
            date: Vec::with_capacity(n),
            open: Vec::with_capacity(n),
            high: Vec::with_capacity(n),
            low: Vec::with_capacity(n),
            close: Vec::with_capacity(n),
            volume: Vec::with_capacity(n),
            month_ends: Vec::new(),
        }
    }
}

fn month_ends(dates: &[Day]) -> Vec<u32> {
    let mut ends = Vec::new();
    let mut current: Option<(Day, Day)> = None; // the month's last day, kept to compare cheaply
    for (i, &day) in dates.iter().enumerate() {
        if current.is_none_or(|(_, end)| day > end) {
            current = Some((day, day.month_end()));
            ends.push(0);
        }
        if let Some(last) = ends.last_mut() {
            *last = u32::try_from(i).unwrap_or(u32::MAX);
        }
    }
    ends
}
