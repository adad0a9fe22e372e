//! Statements that do not add up, or whose unit seems to have changed.

use super::{Doubt, short};
use crate::{
    domain::Item,
    panel::{CompanyAt, PeriodIndex},
};

/// The share of total assets by which the two sides of a balance sheet may differ.
const BALANCE_TOLERANCE: f64 = 0.01;
/// The share by which earnings per share may differ from income over shares: averages of shares are rounded and weighted.
const EPS_TOLERANCE: f64 = 0.1;
/// Differences of earnings per share below this are roundings.
const EPS_ROUNDING: f64 = 0.011;
/// Revenue that grows or shrinks by this factor from one period to the next of its kind has changed its unit.
const UNIT_JUMP: f64 = 300.0;

fn doubt(c: &CompanyAt<'_>, p: PeriodIndex, item: Item, sentence: String) -> Doubt {
    Doubt { on: c.period_end(p), fiscal_year: Some(c.label(p).0), item: Some(item), sentence }
}

fn name(c: &CompanyAt<'_>, p: PeriodIndex) -> String {
    let (year, period) = c.label(p);
    format!("{period} {year}")
}

/// |total_assets − (total_liabilities + equity + minority_interest)| above 1 % of total_assets.
pub(super) fn balance(c: &CompanyAt<'_>) -> Vec<Doubt> {
    let one = |p: PeriodIndex| {
        let of = |item| c.item(p, item);
        let assets = of(Item::TotalAssets)?;
        let other = of(Item::TotalLiabilities)? + of(Item::Equity)? + of(Item::MinorityInterest).unwrap_or(0.0);
        let off = assets - other;
        (off.abs() > BALANCE_TOLERANCE * assets.abs()).then(|| {
            let sentence = format!(
                "{}: total assets {} are not liabilities and equity {} ({} apart).",
                name(c, p),
                short(assets),
                short(other),
                short(off)
            );
            doubt(c, p, Item::TotalAssets, sentence)
        })
    };
    c.known_periods().filter_map(one).collect()
}

/// Income to common shareholders over shares_basic far from eps_basic.
pub(super) fn earnings_per_share(c: &CompanyAt<'_>) -> Vec<Doubt> {
    let one = |p: PeriodIndex| {
        let of = |item| c.item(p, item);
        let (eps, shares) = (of(Item::EpsBasic)?, of(Item::SharesBasic).filter(|s| *s > 0.0)?);
        let income = of(Item::NetIncome)? - of(Item::PreferredDividends).unwrap_or(0.0);
        let computed = income / shares * c.shares_per_unit();
        let off = (computed - eps).abs();
        (off > EPS_TOLERANCE * eps.abs().max(computed.abs()) && off > EPS_ROUNDING).then(|| {
            let sentence = format!("{}: earnings per share {} are not income over shares, {}.", name(c, p), short(eps), short(computed));
            doubt(c, p, Item::EpsBasic, sentence)
        })
    };
    c.known_periods().filter_map(one).collect()
}

/// Revenue × or ÷ some hundreds from one period to the next of the same kind.
pub(super) fn units(c: &CompanyAt<'_>) -> Vec<Doubt> {
    let periods: Vec<PeriodIndex> = c.known_periods().collect();
    let one = |&p: &PeriodIndex| {
        let (year, period) = c.label(p);
        let (now, before) = (c.item(p, Item::Revenue)?, c.item(c.find_period(year - 1, period)?, Item::Revenue)?);
        let ratio = now / before;
        (now > 0.0 && before > 0.0 && !(1.0 / UNIT_JUMP..=UNIT_JUMP).contains(&ratio)).then(|| {
            let sentence = format!("{}: revenue {} after {} a year before; has its unit changed?", name(c, p), short(now), short(before));
            doubt(c, p, Item::Revenue, sentence)
        })
    };
    periods.iter().filter_map(one).collect()
}
