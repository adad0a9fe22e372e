//! What is measured, and the range wanted of it.

use crate::{made::Made, reports, returns};
use artemon_core::{domain::Day, panel::CompanyAt, stats};
use std::fmt;

/// The last day, and the last days of four years before.
pub(crate) const DAYS: [&str; 5] = ["2012-12-31", "2016-12-30", "2019-12-31", "2023-12-29", "2026-06-30"];

/// A figure with the range wanted of it: on each of the days, or once for the whole course of the world.
pub(crate) struct Figure {
    what: &'static str,
    low: f64,
    high: f64,
    values: Vec<f64>,
}

impl Figure {
    /// Whether every value is as near to the range as chance allows: of one day within half of its width, of what was measured once in
    /// a whole world, which no more than some thousand choices are behind, within three quarters.
    pub(crate) fn is_near(&self) -> bool {
        let share = if self.values.len() == 1 { 0.75 } else { 0.5 };
        let slack = if self.high.is_finite() { (self.high - self.low) * share } else { self.low / 10.0 };
        self.values.iter().all(|v| (self.low - slack..=self.high + slack).contains(v))
    }

    /// The same figure of several worlds as one.
    pub(crate) fn of_all(worlds: &[Vec<Figure>]) -> Vec<Figure> {
        let of = |i: usize| {
            let values = worlds.iter().flat_map(|figures| figures[i].values.clone()).collect();
            Figure { values, ..worlds[0][i] }
        };
        (0..worlds[0].len()).map(of).collect()
    }

    /// Whether the mean of its values is within the range.
    pub(crate) fn fits_on_average(&self) -> bool {
        (self.low..=self.high).contains(&self.mean())
    }
}

impl Figure {
    /// A value as it is written, with a cross where it is outside the range.
    fn written(&self, v: f64) -> String {
        let digits = if self.high > 4.0 { 1 } else { 3 };
        format!("{v:.digits$}{}", if (self.low..=self.high).contains(&v) { "" } else { " ✗" })
    }

    fn mean(&self) -> f64 {
        stats::mean(&self.values).unwrap()
    }
}

impl fmt::Display for Figure {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let digits = if self.high > 4.0 { 1 } else { 3 };
        let range = if self.high.is_finite() {
            format!("{:.digits$} to {:.digits$}", self.low, self.high)
        } else {
            format!("over {:.digits$}", self.low)
        };
        let values: Vec<String> = self.values.iter().map(|v| self.written(*v)).collect();
        write!(f, "| {} | {range} | {} |", self.what, values.join(" | "))
    }
}

/// A row of the table: a figure of one world on its days, and the mean of all worlds.
pub(crate) fn row(of_one: &Figure, of_all: &Figure) -> String {
    let empty = " |".repeat(DAYS.len() - of_one.values.len());
    format!("{of_one}{empty} {} |", of_all.written(of_all.mean()))
}

/// The value at a share of the way through, of values in order.
fn at(sorted: &[f64], share: f64) -> f64 {
    sorted[((sorted.len() - 1) as f64 * share).round() as usize]
}

pub(crate) fn all(made: &Made) -> Vec<Figure> {
    let days: Vec<Day> = DAYS.iter().map(|d| d.parse().unwrap()).collect();
    let rows: Vec<Vec<CompanyAt<'_>>> = days.iter().map(|t| made.operating(*t)).collect();
    let mut out = Vec::new();
    let mut each = |what, low, high, of: &dyn Fn(&[CompanyAt<'_>]) -> f64| {
        out.push(Figure { what, low, high, values: rows.iter().map(|r| of(r)).collect() });
    };
    let share = |condition: &'static str| move |r: &[CompanyAt<'_>]| made.share(condition, r);
    let of_all = |condition: &'static str| move |r: &[CompanyAt<'_>]| made.count(condition, r) as f64 / r.len() as f64;
    let point = |formula: &'static str, share: f64| move |r: &[CompanyAt<'_>]| at(&made.sorted(formula, r), share);
    let positive = |formula: &'static str, share: f64| {
        move |r: &[CompanyAt<'_>]| {
            let known: Vec<f64> = made.sorted(formula, r).into_iter().filter(|v| *v > 0.0).collect();
            at(&known, share)
        }
    };
    each("loss in the last fiscal year", 0.12, 0.22, &share("fy(net_income, 0) < 0"));
    each("quality, median", 48.0, 58.0, &point("quality", 0.5));
    each("quality, lower quartile", 35.0, 42.0, &point("quality", 0.25));
    each("quality of 60 or more", 0.25, 0.38, &share("quality >= 60"));
    each("quality of 75 or more", 0.06, 0.14, &share("quality >= 75"));
    each("in range", 0.03, 0.09, &of_all("quality >= 60 and price <= buy_below"));
    each("close", 0.02, 0.05, &of_all("quality >= 60 and price > buy_below and price <= 1.1 * buy_below"));
    each("profitable in six of six years", 0.55, 0.68, &share("fy_count(net_income > 0, 6) >= 6"));
    each("EPS up in four of five years", 0.22, 0.35, &share("eps_rising_years(5) >= 4"));
    each("EPS up in nine of nine years", 0.0, 0.04, &share("eps_rising_years(9) >= 9"));
    each("net margin, lower quartile", 0.01, 0.03, &point("net_margin", 0.25));
    each("net margin, median", 0.05, 0.07, &point("net_margin", 0.5));
    each("net margin, upper quartile", 0.09, 0.12, &point("net_margin", 0.75));
    each("EPS growth over five years, median", 0.03, 0.08, &point("eps_growth(5)", 0.5));
    each("P/E, a tenth below", 6.0, 8.0, &positive("pe", 0.1));
    each("P/E, lower quartile", 10.0, 12.0, &positive("pe", 0.25));
    each("P/E, upper quartile", 20.0, 25.0, &positive("pe", 0.75));
    each("P/E, a tenth above", 32.0, 50.0, &positive("pe", 0.9));
    each("EV/EBIT, median", 10.5, 13.0, &positive("ev_ebit", 0.5));
    each("debt to equity, median", 0.4, 0.7, &point("debt_to_equity", 0.5));
    each("debt to equity, a tenth above", 1.8, f64::INFINITY, &point("debt_to_equity", 0.9));
    each("interest cover below 2", 0.12, 0.20, &share("interest_cover < 2"));
    each("shares up by over 3 % a year", 0.12, 0.20, &share("share_count_growth(1) > 0.03"));
    each("net buybacks", 0.25, 0.40, &share("fy(net_buyback, 0) > 0"));
    each("volatility, a tenth below", 0.18, 0.22, &point("volatility(252)", 0.1));
    each("volatility, median", 0.30, 0.36, &point("volatility(252)", 0.5));
    each("volatility, a tenth above", 0.55, 0.75, &point("volatility(252)", 0.9));
    each("volatility of the smaller half over the larger", 1.05, 1.6, &|r| {
        let (size, volatility) = (made.known("market_cap", r), made.column("volatility(252)", r));
        let of = |half: &[(f64, usize)]| {
            stats::median(&half.iter().filter_map(|(_, i)| volatility.value(*i).number().ok()).collect::<Vec<_>>()).unwrap()
        };
        let (small, large) = size.split_at(size.len() / 2);
        of(small) / of(large)
    });
    each("surprise of a quarter's EPS, median", 0.01, 0.04, &point("eps_surprise(0)", 0.5));
    each("surprise of a quarter's EPS, between the quartiles", 0.05, 0.15, &|r| {
        let known = made.sorted("eps_surprise(0)", r);
        at(&known, 0.75) - at(&known, 0.25)
    });
    each("largest over the next", 1.0, 3.0, &|r| {
        let sizes = made.sorted("market_cap", r);
        sizes[sizes.len() - 1] / sizes[sizes.len() - 2]
    });
    let recessions = ["2010-03-31", "2022-03-31"].map(|t| made.share("fy(net_income, 0) < 0", &made.operating(t.parse().unwrap())));
    out.push(Figure { what: "loss in the recessions (2009, 2021)", low: 0.25, high: 0.38, values: recessions.to_vec() });
    let outcomes = returns::outcomes(made);
    let reports = reports::reports(made, *days.last().unwrap());
    let mut once = |what, low, high, value| out.push(Figure { what, low, high, values: vec![value] });
    once("the cheapest fifth's lead a year", 0.02, 0.06, stats::mean(&outcomes.value).unwrap());
    once("years in which the dearest led", 5.0, 9.0, outcomes.value.iter().filter(|l| **l < 0.0).count() as f64);
    once("among the cheapest, the lead of the better half", 0.03, 0.07, stats::mean(&outcomes.quality).unwrap());
    once("of ten good ones of the cheapest fifth, chance to lead over ten years", 0.5, 0.8, outcomes.skill);
    once("of the cheapest tenth, those that earn less three years on", 0.5, 0.75, outcomes.traps);
    once("leave the exchange in a year", 0.02, 0.04, outcomes.leaving);
    once("reports with a leap of the price", 0.01, 0.03, reports.leaps);
    once("estimates a year ahead, too high by", 0.04, 0.09, reports.too_high);
    once("estimates a year ahead, within 30 %", 0.75, 0.85, reports.within);
    out
}
