//! Daily prices that follow value: a slowly reverting mispricing, the market's mood, noise; splits and dividends.

mod actions;
mod gap;
mod worth;

use crate::{
    character::Character,
    economy::{Economy, rounded},
    filings::Due,
    quarter::Quarter,
    random::Chance,
    regimes,
};
use actions::{offered, pay, second_class, split_due};
use artemon_core::domain::{Action, ActionKind, Bar, Day, Record};
use gap::{Gap, failing, leaps};
use worth::Worth;

/// A dividend a traded unit.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Paid {
    pub(crate) ex_date: Day,
    pub(crate) amount: f64,
    pub(crate) special: bool,
}

/// An offer for all shares.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Offer {
    pub(crate) made_on: Day,
    pub(crate) price: f64,
    pub(crate) premium: f64,
}

/// What the exchange saw of one company.
#[derive(Debug)]
pub(crate) struct Traded {
    pub(crate) bars: Vec<Bar>,
    /// The session of the first bar.
    pub(crate) first: usize,
    /// Log of price over value on each session.
    pub(crate) mispricing: Vec<f64>,
    /// Ex-date and ratio, oldest first.
    pub(crate) splits: Vec<(Day, f64)>,
    pub(crate) dividends: Vec<Paid>,
    pub(crate) offer: Option<Offer>,
}

impl Traded {
    /// New shares for one of before all splits, as of a day.
    pub(crate) fn split_factor(&self, day: Day) -> f64 {
        self.splits.iter().filter(|s| s.0 <= day).map(|s| s.1).product()
    }

    pub(crate) fn records(self, c: &Character, out: &mut Vec<Record>) {
        let action = |kind, ex_date: Day, ratio, amount| {
            Record::Action(Action {
                symbol: c.symbol.clone(),
                ex_date,
                kind,
                ratio,
                amount,
                declared_on: Some(ex_date.plus_days(-24)),
                record_date: Some(ex_date.plus_days(1)),
                pay_date: Some(ex_date.plus_days(16)),
            })
        };
        let first = out.len();
        out.extend(self.splits.iter().map(|&(d, r)| action(ActionKind::Split, d, Some(r), None)));
        let kind = |special| if special { ActionKind::SpecialDividend } else { ActionKind::Dividend };
        out.extend(self.dividends.iter().map(|d| action(kind(d.special), d.ex_date, None, Some(d.amount))));
        let traded = self.bars.into_iter().filter(|bar| !c.is_suspended(bar.date));
        out.extend(traded.map(|bar| Record::Price { symbol: c.symbol.clone(), bar }));
        if c.second_class {
            let second = second_class(c, &out[first..]);
            out.extend(second);
        }
    }
}

pub(crate) fn trade(c: &Character, books: &[Quarter], due: &[Due], economy: &Economy) -> Traded {
    let mut x = Chance::new(c.seed, c.index, 30);
    let mut out = Traded { bars: Vec::new(), first: 0, mispricing: Vec::new(), splits: Vec::new(), dividends: Vec::new(), offer: None };
    let worth = Worth::of(c, books);
    let mut leaps = leaps(c, books, due).into_iter().peekable();
    let mut gap = Gap::new(c, &mut x);
    let (mut split, mut last_close): (f64, Option<f64>) = (1.0, None);
    let turnover = x.between(0.0006, 0.003);
    let sessions = economy.sessions.iter().enumerate().filter(|(_, date)| c.trades_on(**date));
    for (i, &date) in sessions {
        let q = Economy::quarter_of(date);
        let leap = std::iter::from_fn(|| leaps.next_if(|l| l.0 <= date)).map(|l| l.1).sum();
        gap.go_on(&books[q], economy, i, leap, &mut x);
        let pull = c.story.map_or(0.0, |s| s.pull(date)) + regimes::price_shock(c.industry.name, date);
        out.mispricing.push(gap.slow + pull);
        if let Some(last) = last_close.filter(|_| c.is_suspended(date)) {
            out.bars.push(Bar { date, open: last, high: last, low: last, close: last, volume: 0.0 });
            continue;
        }
        let unit = c.shares_a_unit() / if c.abroad { economy.crowns(0, i) / economy.crowns(c.state, i) } else { 1.0 };
        let away = gap.total(worth.dearness(q, date), economy, i) + pull + failing(c, date);
        let mut close = worth.value(q, date) * unit * away.exp();
        if let Some(offered) = offered(c, date, close / split, &mut out, &mut x) {
            close = offered * split;
        }
        if out.bars.is_empty() {
            out.first = i;
        }
        let mut price = close / split;
        if let Some(ratio) = split_due(price, date, &mut x).filter(|_| out.offer.is_none()) {
            split *= ratio;
            price = close / split;
            out.splits.push((date, ratio));
            last_close = last_close.map(|p| p / ratio);
        }
        pay(c, books, q, date, split / unit, &mut out);
        let busy = (0.5 * x.normal() + 6.0 * (gap.noise * x.normal()).abs()).exp();
        let volume = (books[q].shares * split / c.shares_a_unit() * turnover * busy).round().max(1.0);
        out.bars.push(bar(date, last_close.unwrap_or(price), price, gap.noise, volume, &mut x));
        last_close = out.bars.last().map(|b| b.close);
    }
    out
}

fn bar(date: Day, before: f64, close: f64, noise: f64, volume: f64, x: &mut Chance) -> Bar {
    let open = tick(before * (0.35 * noise * x.normal()).exp());
    let close = tick(close);
    let reach = 0.6 * noise * x.normal().abs();
    let high = tick(open.max(close) * (1.0 + reach)).max(open).max(close);
    let low = tick(open.min(close) * (1.0 - 0.6 * noise * x.normal().abs())).min(open).min(close);
    Bar { date, open, high, low, close, volume }
}

fn tick(price: f64) -> f64 {
    rounded(price.max(0.01), if price < 5.0 { 3 } else { 2 })
}
