//! What a year's return was: of the cheapest against the dearest, of the good among the cheap against the bad.

use crate::made::Made;
use artemon_core::{domain::Day, panel::CompanyAt, stats};

/// Total return from one day to another by reinvested dividends and prices; what left the exchange keeps its last price and its
/// return on leaving.
pub(crate) fn total_return(c: &CompanyAt<'_>, to: Day) -> Option<f64> {
    let then = c.at(to);
    let (start, end) = (c.price().ok()?, then.price().ok()?);
    let start = start / then.splits_since(c.t());
    let paid: f64 = then.dividends().ok()?.filter(|d| d.ex_date > c.t()).map(|d| d.amount).sum();
    let left = c.listing().filter(|l| l.delisted_on.is_some_and(|d| d <= to)).and_then(|l| l.delisting_return).unwrap_or(0.0);
    Some((end * (1.0 + left) + paid) / start - 1.0)
}

fn mean<'a>(rows: impl Iterator<Item = &'a CompanyAt<'a>>, to: Day) -> f64 {
    stats::mean(&rows.filter_map(|c| total_return(c, to)).collect::<Vec<_>>()).unwrap_or(0.0)
}

/// A year after the end of each June.
pub(crate) struct Leads {
    /// Of the cheapest fifth by earnings yield over the dearest.
    pub(crate) value: Vec<f64>,
    /// Within the cheapest fifth by P/E, of the better half by quality over the other.
    pub(crate) quality: Vec<f64>,
}

pub(crate) fn leads(made: &Made) -> Leads {
    let mut out = Leads { value: Vec::new(), quality: Vec::new() };
    for year in 2008..2026 {
        let (from, to) = (Day::from_ymd(year, 6, 30).unwrap(), Day::from_ymd(year + 1, 6, 30).unwrap());
        let rows = made.context.as_of(from).universe();
        let (yields, quality) = (made.column("earnings_yield", &rows), made.column("quality", &rows));
        let mut known: Vec<(f64, usize)> = (0..rows.len()).filter_map(|i| Some((yields.value(i).number().ok()?, i))).collect();
        known.sort_by(|a, b| a.0.total_cmp(&b.0));
        let fifth = known.len() / 5;
        let of = |part: &[(f64, usize)]| mean(part.iter().map(|(_, i)| &rows[*i]), to);
        out.value.push(of(&known[known.len() - fifth..]) - of(&known[..fifth]));
        let mut cheap: Vec<(f64, usize)> =
            known[known.len() - fifth..].iter().filter_map(|(_, i)| Some((quality.value(*i).number().ok()?, *i))).collect();
        cheap.sort_by(|a, b| a.0.total_cmp(&b.0));
        let half = cheap.len() / 2;
        out.quality.push(of(&cheap[half..]) - of(&cheap[..half]));
    }
    out
}
