//! One value from many: outliers, weights, range, agreement, and what follows from the price.

use super::{Assumptions, Inputs, Model, Override, Scenario, implied::implied_growth, path::compounded};
use crate::{
    Num, Why,
    domain::{Currency, codes},
    formula::{Judgement, ValueField},
    quality::Quality,
    stats,
};
use serde::Serialize;
use std::sync::{Arc, LazyLock};

/// Turns a distance from the median into a modified z-score.
const Z_SCALE: f64 = 0.6745;
/// The fewest valuations that make a value.
const MIN_CELLS: usize = 3;

/// What became of a valuation.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Status {
    /// Counts.
    Kept,
    /// Worth nothing by this model: counts as 0.
    Nothing,
    /// Set apart as an extreme.
    Outlier,
    /// Its scenario or model has no weight: shown, but takes part in nothing.
    Unweighted,
    /// Undefined.
    Undefined,
}

/// One model under one scenario.
#[derive(Clone, Copy, Debug)]
#[allow(missing_docs)]
pub struct Cell {
    pub model: Model,
    pub scenario: Option<Scenario>,
    pub value: Num,
    pub status: Status,
}

impl Cell {
    pub(super) fn new(model: Model, scenario: Option<Scenario>, value: Num, a: &Assumptions) -> Cell {
        let weightless = a.model_weight(model) <= 0.0 || scenario.is_some_and(|s| a.scenario_weight(s) <= 0.0);
        let status = match value {
            Err(_) => Status::Undefined,
            Ok(_) if weightless => Status::Unweighted,
            Ok(v) if v <= 0.0 => Status::Nothing,
            Ok(_) => Status::Kept,
        };
        Cell { model, scenario, value, status }
    }

    /// The value with which it counts, if it does.
    fn counted(&self) -> Option<f64> {
        match self.status {
            Status::Kept => self.value.ok(),
            Status::Nothing => Some(0.0),
            Status::Outlier | Status::Undefined | Status::Unweighted => None,
        }
    }
}

codes! {
    /// What price, value and quality say to a buyer, best first.
    Verdict "a verdict" {
        /// Good enough, and at or under the price to pay at most.
        InRange = "in range",
        /// Good enough, and at most a tenth above it.
        Close = "close",
        /// Good enough, but dearer.
        Wait = "wait",
        /// Not good enough, whatever the price.
        Pass = "pass",
        /// There is no value, or no price.
        CannotValue = "cannot value",
    }
}

impl Verdict {
    /// What a price, the price to pay at most, and a quality say under a set of assumptions.
    #[must_use]
    pub fn of(price: Num, buy_below: Num, quality: Num, a: &Assumptions) -> Verdict {
        let good = quality.is_ok_and(|q| q >= a.least_quality);
        match (price, buy_below) {
            (Ok(_), Ok(_)) if !good => Verdict::Pass,
            (Ok(p), Ok(limit)) if p <= limit => Verdict::InRange,
            (Ok(p), Ok(limit)) if p <= limit * (1.0 + a.close_within) => Verdict::Close,
            (Ok(_), Ok(_)) => Verdict::Wait,
            _ => Verdict::CannotValue,
        }
    }
}

/// The valuation of one company at one date; amounts a traded unit in the listing's currency.
#[derive(Clone, Debug)]
pub struct Valuation {
    /// The currency of its amounts.
    pub currency: Currency,
    /// Price at the date.
    pub price: Num,
    /// The grid of models × scenarios.
    pub cells: Vec<Cell>,
    /// The growth of each scenario.
    pub growth: Vec<(Scenario, Num)>,
    /// The weighted mean of each model's kept cells.
    pub models: Vec<(Model, f64)>,
    /// One value.
    pub value: Num,
    /// 25th percentile of the kept cells.
    pub low: Num,
    /// 75th percentile of the kept cells.
    pub high: Num,
    /// 1 − (high − low) ÷ median of the kept cells, within 0–1.
    pub agreement: Num,
    /// Compound yearly return of buying at the price and holding over the horizon.
    pub expected_return: Num,
    /// The growth that the price implies.
    pub implied_growth: Num,
    /// How good the business is.
    pub quality: Arc<Quality>,
    /// What the user assumes of this company.
    pub own: Option<Arc<Override>>,
}

impl Valuation {
    pub(super) fn none(inputs: &Inputs, why: Why) -> Valuation {
        Valuation::blank(inputs.currency, inputs.price, why)
    }

    /// The frame of a quality for which no value was asked.
    pub(super) fn not_asked(currency: Currency) -> Valuation {
        Valuation::blank(currency, Err(Why::NoAnswer), Why::NoAnswer)
    }

    fn blank(currency: Currency, price: Num, why: Why) -> Valuation {
        Valuation {
            currency,
            price,
            cells: Vec::new(),
            growth: Vec::new(),
            models: Vec::new(),
            value: Err(why),
            low: Err(why),
            high: Err(why),
            agreement: Err(why),
            expected_return: Err(why),
            implied_growth: Err(why),
            quality: Arc::new(Quality::none(why)),
            own: None,
        }
    }

    /// A word about it.
    ///
    /// # Errors
    /// For the band: when there is no price or no value.
    pub fn word(&self, word: Judgement, a: &Assumptions) -> Result<Arc<str>, Why> {
        match word {
            Judgement::Band => self.band(a),
            Judgement::Verdict => Ok(self.verdict(a).code().into()),
        }
    }

    /// Roughly the memory it takes, in bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        size_of::<Valuation>() + size_of_val(&*self.cells) + size_of_val(&*self.growth) + size_of_val(&*self.models) + self.quality.bytes()
    }

    /// margin_of_safety = 1 − P ÷ value.
    pub fn margin_of_safety(&self) -> Num {
        Ok(1.0 - self.price? / self.value?)
    }

    /// The margin required of this value under a set: wider when unsure, where the set says so.
    #[must_use]
    pub fn required_margin(&self, a: &Assumptions) -> f64 {
        let own = self.own.as_ref().and_then(|o| o.margin);
        a.required_margin(own.unwrap_or(a.margin), self.agreement)
    }

    /// buy_below = value × (1 − m).
    pub fn buy_below(&self, a: &Assumptions) -> Num {
        Ok(self.value? * (1.0 - self.required_margin(a)))
    }

    /// What price, value and quality say under a set of assumptions: no value comes before all else, too little quality
    /// before the price.
    #[must_use]
    pub fn verdict(&self, a: &Assumptions) -> Verdict {
        Verdict::of(self.price, self.buy_below(a), self.quality.score, a)
    }

    /// A figure of the valuation as a measure.
    pub fn field(&self, field: ValueField, a: &Assumptions) -> Num {
        match field {
            ValueField::IntrinsicValue => self.value,
            ValueField::Low => self.low,
            ValueField::High => self.high,
            ValueField::Agreement => self.agreement,
            ValueField::PriceToValue => Ok(self.price? / self.value?),
            ValueField::ValueToPrice => Ok(self.value? / self.price?),
            ValueField::MarginOfSafety => self.margin_of_safety(),
            ValueField::Upside => Ok(self.value? / self.price? - 1.0),
            ValueField::BuyBelow => self.buy_below(a),
            ValueField::ExpectedReturn => self.expected_return,
            ValueField::ImpliedGrowth => self.implied_growth,
            ValueField::Quality(field) => self.quality.field(field),
            // Nothing is valued for these: see [`super::range_number`].
            ValueField::RangeDownside | ValueField::RangeMiddle | ValueField::RangeUpside => Err(Why::NoAnswer),
        }
    }

    /// The price against value in words, around it within the fair band.
    fn band(&self, a: &Assumptions) -> Result<Arc<str>, Why> {
        let band = a.fair_band;
        let ratio = self.price? / self.value?;
        Ok(if ratio < 1.0 - band {
            "under value".into()
        } else if ratio > 1.0 + band {
            "over value".into()
        } else {
            "around value".into()
        })
    }
}

pub(super) fn combine(inputs: &Inputs, a: &Assumptions, mut cells: Vec<Cell>, growth: Vec<(Scenario, Num)>) -> Valuation {
    let expected_return = expected_return(inputs, a);
    let implied_growth = implied_growth(inputs, a);
    let usable = |c: &&Cell| !matches!(c.status, Status::Undefined | Status::Unweighted);
    let count = cells.iter().filter(usable).count();
    let models = cells.iter().filter(usable).fold(0u16, |models, c| models | 1 << c.model as u16).count_ones();
    let enough = count >= MIN_CELLS && models > 1;
    if !enough {
        let why = commonest_reason(&cells);
        return Valuation { cells, growth, expected_return, implied_growth, ..Valuation::none(inputs, why) };
    }
    set_outliers_apart(&mut cells, a.outlier_cut);
    let models = model_means(&cells, a);
    let (weights, sum) = models.iter().fold((0.0, 0.0), |(w, s), m| (w + a.model_weight(m.0), s + a.model_weight(m.0) * m.1));
    let value = Some(sum / weights).filter(|v| *v > 0.0).ok_or(Why::TooLittle);
    let mut kept: Vec<f64> = cells.iter().filter_map(Cell::counted).collect();
    kept.sort_unstable_by(f64::total_cmp);
    let at = |p: f64| value.and_then(|_| stats::percentile_of_sorted(&kept, p).ok_or(Why::TooLittle));
    let (low, high, middle) = (at(0.25), at(0.75), at(0.5));
    Valuation {
        currency: inputs.currency,
        price: inputs.price,
        growth,
        models,
        value,
        low,
        high,
        agreement: agreement(low, high, middle),
        expected_return,
        implied_growth,
        quality: unknown_quality(),
        own: None,
        cells,
    }
}

/// No quality was asked.
fn unknown_quality() -> Arc<Quality> {
    static NONE: LazyLock<Arc<Quality>> = LazyLock::new(|| Arc::new(Quality::none(Why::NoAnswer)));
    NONE.clone()
}

fn agreement(low: Num, high: Num, middle: Num) -> Num {
    let (low, high, middle) = (low?, high?, middle?);
    Ok(if middle > 0.0 { (1.0 - (high - low) / middle).clamp(0.0, 1.0) } else { 0.0 })
}

/// Modified z-scores of the logarithms: z = 0.6745 (ln v − m) ÷ MAD; beyond the cut a cell is set apart, none when
/// MAD = 0. Iglewicz & Hoaglin 1993.
fn set_outliers_apart(cells: &mut [Cell], cut: f64) {
    let logarithm = |c: &Cell| if c.status == Status::Kept { c.value.ok().map(f64::ln) } else { None };
    let logs: Vec<f64> = cells.iter().filter_map(logarithm).collect();
    let Some(middle) = stats::median(&logs) else { return };
    let distances: Vec<f64> = logs.iter().map(|l| (l - middle).abs()).collect();
    let Some(mad) = stats::median(&distances).filter(|m| *m > 0.0) else { return };
    for (cell, log) in cells.iter_mut().filter(|c| c.status == Status::Kept).zip(logs) {
        if (Z_SCALE * (log - middle) / mad).abs() > cut {
            cell.status = Status::Outlier;
        }
    }
}

/// Per model the mean of its counted cells, weighted by scenario.
fn model_means(cells: &[Cell], a: &Assumptions) -> Vec<(Model, f64)> {
    let mut sums = [(0.0, 0.0); Model::ALL.len()];
    for cell in cells {
        let weight = cell.scenario.map_or(1.0, |s| a.scenario_weight(s));
        if let Some(value) = cell.counted() {
            let (weights, sum) = &mut sums[cell.model as usize];
            *weights += weight;
            *sum += weight * value;
        }
    }
    let mean = |(model, (weights, sum)): (Model, (f64, f64))| (weights > 0.0).then(|| (model, sum / weights));
    Model::ALL.into_iter().zip(sums).filter_map(mean).collect()
}

/// "Too little to value", or the commonest reason of the cells when none of them is defined.
fn commonest_reason(cells: &[Cell]) -> Why {
    let stale = cells.iter().any(|c| c.value == Err(Why::Stale));
    if stale { Why::Stale } else { Why::TooLittle }
}

/// ((E_N X + Σ p E_t) ÷ P)^(1/N) − 1 at the growth the business can finance itself; undefined when E0 ≤ 0.
fn expected_return(inputs: &Inputs, a: &Assumptions) -> Num {
    let (earnings, price) = (inputs.earnings?, inputs.price?);
    if earnings <= 0.0 {
        return Err(Why::NotPositive);
    }
    let g = inputs.sustainable_growth(a)?;
    let sold = compounded(g, a.horizon) * inputs.exit_pe(a);
    let dividends: f64 = (1..=a.horizon).map(|t| inputs.payout() * compounded(g, t)).sum();
    Ok((earnings * (sold + dividends) / price).powf(1.0 / f64::from(a.horizon)) - 1.0)
}
