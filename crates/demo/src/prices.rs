//! Daily prices that follow value: a slowly reverting mispricing, the market's mood, noise; splits and dividends.

use crate::{
    character::{Character, Ending, Reporting},
    economy::{Economy, rounded},
    filings::Due,
    quarter::Quarter,
    random::Chance,
    regimes,
};
use artemon_core::domain::{Action, ActionKind, Bar, Day, Record};

/// A price above which shares are split, and below which they are put together.
const SPLIT_ABOVE: f64 = 180.0;
const MERGE_BELOW: f64 = 0.6;

/// The share of the gap between price and value that closes in a session, and of passing noise.
const CLOSES: f64 = 0.0006;
const PASSES: f64 = 0.05;
/// The share of what moved all prices that is gone after a session.
const COMMON_PASSES: f64 = 0.02;
/// Daily noise that passes and that lasts, as logs, of a usual company; and the log of its revenue in a quarter.
const USUAL_NOISE: f64 = 0.0133;
const LASTING: f64 = 0.0046;
const USUAL_REVENUE: f64 = 17.2;
/// The share of reports that surprise, by how much (the deviation of a log), and the share of these that go the way of earnings.
const SURPRISES: f64 = 0.07;
const LEAP: f64 = 0.13;
const AS_EARNED: f64 = 0.7;
/// How momentum persists, and its daily impulse.
const MOMENTUM: f64 = 0.985;
const DRIFT: f64 = 0.00005;

/// Quarters that the market looks ahead.
const AHEAD: usize = 4;

/// What goes out of fashion in a session: what is dear is sought after for some years, and what is cheap in others.
const FASHION_PASSES: f64 = 0.004;
const MIDDLE_MULTIPLE: f64 = 13.0;
const DEAREST: f64 = 0.6;

/// Days between the offer for all shares and the end of trading.
const OFFER_DAYS: i32 = 75;

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

/// What happens to shares of the second class: the same as to the first, at prices that are lower for the missing votes.
fn second_class(c: &Character, first: &[Record]) -> Vec<Record> {
    let mut x = Chance::new(c.seed, c.index, 32);
    let mut lower = -0.06;
    let mut of_second = |row: &Record| match row {
        Record::Price { bar, .. } => {
            lower += -0.01 * (lower + 0.06) + 0.002 * x.normal();
            let at = |p: f64| tick(p * f64::exp(lower.min(0.0)));
            let [open, high, low, close] = [bar.open, bar.high, bar.low, bar.close].map(at);
            Record::Price { symbol: c.second_symbol(), bar: Bar { open, high, low, close, volume: (bar.volume * 0.2).round(), ..*bar } }
        }
        Record::Action(action) => Record::Action(Action { symbol: c.second_symbol(), ..action.clone() }),
        other => other.clone(),
    };
    first.iter().map(&mut of_second).collect()
}

fn tick(price: f64) -> f64 {
    rounded(price.max(0.01), if price < 5.0 { 3 } else { 2 })
}

/// How far prices stray from value: those of good companies, which many follow, less than others.
fn strays(q: &Quarter) -> f64 {
    (-1.1 * q.quality).exp().clamp(0.3, 1.0)
}

/// The share of the gap between price and value that closes in a session: the good are recognised in the end, the bad may stay cheap.
fn closes(q: &Quarter) -> f64 {
    CLOSES * (1.8 * q.quality).exp().clamp(0.2, 5.0)
}

/// Turns of usual earnings paid for a company of no growth and middling quality.
const USUAL_MULTIPLE: f64 = 7.42;

/// Turns that are paid at the least for a company that looks good, for a unit of quality above the worst.
const FOR_THE_GOOD: f64 = 10.5;

/// What is paid for one unit of usual earnings.
fn multiple(q: &Quarter) -> f64 {
    (USUAL_MULTIPLE + q.appeal).max(FOR_THE_GOOD * (0.2 * q.quality + 0.8 * q.believed + 1.0).clamp(0.0, 1.8)).clamp(4.0, 30.0)
}

/// What a share is worth to a well-informed market, before splits: usual earnings at a multiple that grows with outlook,
/// never below a share of book; of a holding company a part of what it owns.
fn worth(c: &Character, q: &Quarter) -> f64 {
    if c.holds_others() {
        return (c.of_book * q.equity / q.shares).max(0.02);
    }
    let multiple = multiple(q);
    (multiple * q.normal_eps).max(q.sold_for()).max(0.02)
}

/// How dear a company is beside others, as a log within bounds: those that earn nothing are bought for what may come.
fn dearness(worth: f64, q: &Quarter) -> f64 {
    if q.normal_eps <= 0.0 { DEAREST } else { (worth / q.normal_eps / MIDDLE_MULTIPLE).ln().clamp(-1.0, DEAREST) }
}

pub(crate) fn trade(c: &Character, books: &[Quarter], due: &[Due], economy: &Economy) -> Traded {
    let worths: Vec<f64> = books.iter().map(|q| worth(c, q)).collect();
    let dearness: Vec<f64> = worths.iter().zip(books).map(|(w, q)| strays(q) * dearness(*w, q)).collect();
    let mut leaps = leaps(c, books, due).into_iter().peekable();
    let mut x = Chance::new(c.seed, c.index, 30);
    let mut out = Traded { bars: Vec::new(), first: 0, mispricing: Vec::new(), splits: Vec::new(), dividends: Vec::new(), offer: None };
    // Small companies swing more.
    let small = -0.1 * (c.revenue.ln() - USUAL_REVENUE).clamp(-3.0, 3.0);
    let noise = USUAL_NOISE * (0.66 * x.normal() + small - 0.2 * c.quality).exp().clamp(0.44, 4.0);
    let lasting = LASTING * (noise / USUAL_NOISE).powf(0.35);
    let beta = 0.6 + 0.5 * c.industry.cyclicality + 0.1 * x.normal();
    let (mut gap, mut drift, mut passing, mut common) = (0.2 * x.normal(), 0.0, 0.0, 0.0);
    let mut fashion = 0.0;
    let (mut split, mut last_close): (f64, Option<f64>) = (1.0, None);
    let turnover = x.between(0.0006, 0.003);
    for (i, &date) in economy.sessions.iter().enumerate() {
        if date < c.listed_on || c.delisted.is_some_and(|d| date >= d.0) {
            continue;
        }
        // A gap between price and value that closes slowly, faster when the market as a whole turns to the cheap, and
        // widens when it turns from them; a little momentum; and noise that is gone within weeks.
        drift = MOMENTUM * drift + DRIFT * x.normal();
        let q = Economy::quarter_of(date);
        gap += -(closes(&books[q]) + 0.5 * economy.style[i]) * gap + strays(&books[q]) * (drift + lasting * x.normal());
        while let Some((_, leap)) = leaps.next_if(|l| l.0 <= date) {
            gap += leap;
        }
        fashion += -FASHION_PASSES * fashion + economy.style[i];
        passing += -PASSES * passing + noise * x.normal();
        common += -COMMON_PASSES * common + beta * economy.shock[i];
        let pull = c.story.map_or(0.0, |s| s.pull(date)) + regimes::price_shock(c.industry.name, date);
        let unit = c.shares_a_unit() / if c.abroad { economy.crowns(0, i) / economy.crowns(c.state, i) } else { 1.0 };
        let value = blended(&worths, q, date) * unit;
        let mut close = value
            * (gap + passing + common + fashion * blended(&dearness, q, date) + pull + beta.min(1.4) * economy.mood[i] + failing(c, date))
                .exp();
        if let Some(last) = last_close.filter(|_| c.is_suspended(date)) {
            out.bars.push(Bar { date, open: last, high: last, low: last, close: last, volume: 0.0 });
            out.mispricing.push(gap + pull);
            continue;
        }
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
        let volume = (books[q].shares * split / c.shares_a_unit() * turnover * (0.5 * x.normal() + 6.0 * (noise * x.normal()).abs()).exp())
            .round()
            .max(1.0);
        out.bars.push(bar(date, last_close.unwrap_or(price), price, noise, volume, &mut x));
        last_close = out.bars.last().map(|b| b.close);
        out.mispricing.push(gap + pull);
    }
    out
}

/// Reports that surprise: their days, and by what they move the price, as logs. Mostly the way that the margin went in a year.
fn leaps(c: &Character, books: &[Quarter], due: &[Due]) -> Vec<(Day, f64)> {
    let mut x = Chance::new(c.seed, c.index, 33);
    let traded = due.iter().filter(|d| c.trades_on(d.filed_on));
    let mut leap = |d: &Due| {
        let (surprises, size, as_earned) = (x.happens(SURPRISES), LEAP * x.normal().abs().min(2.8), x.happens(AS_EARNED));
        let (now, before) = (&books[d.quarters.end - 1], &books[d.quarters.end.saturating_sub(5)]);
        let better = now.net_income() / now.revenue > before.net_income() / before.revenue;
        surprises.then_some((d.filed_on, if better == as_earned { size } else { -size }))
    };
    traded.filter_map(&mut leap).collect()
}

/// Value between the quarter's end before and this one's: the market learns as the quarter goes, and looks a year ahead.
fn blended(of: &[f64], q: usize, date: Day) -> f64 {
    let at = |i: usize| {
        let recent = &of[i.saturating_sub(1)..=(i + AHEAD).min(of.len() - 1)];
        recent.iter().sum::<f64>() / recent.len() as f64
    };
    let passed = f64::from(date.epoch_days().rem_euclid(91)) / 91.0;
    at(q.saturating_sub(1)) * (1.0 - passed) + at(q) * passed
}

/// The price of a company for which an offer stands: a hair under the offer. The offer is made on the first session on
/// which it is due.
fn offered(c: &Character, date: Day, price: f64, out: &mut Traded, x: &mut Chance) -> Option<f64> {
    let (end, _) = c.delisted.filter(|d| d.1 == Ending::Takeover)?;
    if end.days_since(date) > OFFER_DAYS {
        return None;
    }
    let offer = out.offer.unwrap_or_else(|| {
        let premium = x.between(0.22, 0.45);
        Offer { made_on: date, price: rounded(price * (1.0 + premium), 2).max(0.01), premium }
    });
    out.offer = Some(offer);
    Some(offer.price * (1.0 - 0.004 * x.normal().abs()))
}

/// Those that are going to fail slide for as long as they lose ground, and half a year before.
fn failing(c: &Character, date: Day) -> f64 {
    match c.delisted {
        Some((end, Ending::Failure)) => {
            let days = 180.0 + 91.0 * c.dying as f64;
            -1.2 * (1.0 - f64::from(end.days_since(date)) / days).clamp(0.0, 1.0)
        }
        _ => 0.0,
    }
}

fn split_due(price: f64, date: Day, x: &mut Chance) -> Option<f64> {
    if date.epoch_days() % 5 != 0 {
        return None;
    }
    if price > SPLIT_ABOVE && x.happens(0.05) {
        return Some([2.0, 3.0, 5.0][x.below(3)]);
    }
    (price < MERGE_BELOW && x.happens(0.05)).then_some(0.1)
}

/// Dividends go ex in the second month after each period.
fn pay(c: &Character, books: &[Quarter], q: usize, date: Day, split: f64, out: &mut Traded) {
    let months: &[u32] = match c.reporting {
        Reporting::Quarterly => &[2, 5, 8, 11],
        Reporting::HalfYearly => &[3, 9],
        Reporting::Yearly => &[5],
    };
    let month = u32::try_from(date.month_index().rem_euclid(12)).unwrap_or(0) + 1;
    let mid_month = date.days_since(date.plus_months(-1).month_end());
    let first_after = (10..=14).contains(&mid_month) && out.dividends.last().is_none_or(|d| date.days_since(d.ex_date) > 25);
    if !months.contains(&month) || !first_after || q < 5 {
        return;
    }
    let back = 4 / months.len();
    let sum = |of: fn(&Quarter) -> f64| (1..=back).map(|i| of(&books[q - i]) / books[q - i].shares).sum::<f64>();
    for (paid, special) in [(sum(|b| b.dividends), false), (sum(|b| b.special), true)] {
        let amount = rounded(paid / split, 4);
        if amount > 0.0 {
            out.dividends.push(Paid { ex_date: date, amount, special });
        }
    }
}

fn bar(date: Day, before: f64, close: f64, noise: f64, volume: f64, x: &mut Chance) -> Bar {
    let open = tick(before * (0.35 * noise * x.normal()).exp());
    let close = tick(close);
    let reach = 0.6 * noise * x.normal().abs();
    let high = tick(open.max(close) * (1.0 + reach)).max(open).max(close);
    let low = tick(open.min(close) * (1.0 - 0.6 * noise * x.normal().abs())).min(open).min(close);
    Bar { date, open, high, low, close, volume }
}
