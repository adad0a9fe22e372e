//! An item of the statements, opened down to its filings.

use super::explanation::{Explanation, Filing};
use crate::{
    Num, Why,
    domain::{Item, ItemKind, Period},
    formula::{catalogue::Unit, env::Env},
    panel::{CompanyAt, FlowSpan, PeriodIndex},
};

/// An item of the newest statement that carries it.
pub(super) fn latest(item: Item, row: &CompanyAt<'_>) -> Explanation {
    let found = row.latest_item(item);
    let blank =
        Explanation::number(item.code(), unit(item), found.and_then(|f| in_unit(row, item, Some(f.1)))).labelled(capital(item.label()));
    match found {
        Ok((p, _)) => with_period(blank, item, Some(p), row),
        Err(_) => blank,
    }
}

/// An item as it was taken for a row.
pub(super) fn item(item: Item, value: Num, row: &CompanyAt<'_>, env: Env<'_>) -> Explanation {
    let blank = Explanation::number(item.code(), unit(item), value).labelled(capital(item.label()));
    let Some(Ok(taken)) = env.spans.map(|s| s[0]) else {
        let newest = row.newest_filed().ok().filter(|_| value == Err(Why::Stale)).map(|p| row.period_end(p));
        let note = newest.map(|end| format!("The newest period known ended on {end}, more than 15 months before."));
        return note.into_iter().fold(blank, Explanation::noted);
    };
    if !item.is_flow() {
        let period = if taken.pinned { taken.end } else { row.latest_item(item).ok().map(|found| found.0) };
        return with_period(blank, item, period, row);
    }
    match taken.span {
        FlowSpan::Year(p) => with_period(blank, item, Some(p), row),
        FlowSpan::Quarter(year, quarter) => quarter_of(blank, item, (year, quarter), row),
        FlowSpan::Half(year, half) => half_of(blank, item, (year, half), row),
        FlowSpan::Quarters(year, last, _) => {
            let quarters = (0..4).map(|back| {
                let index = year * 4 + i32::from(last) - 1 - back;
                (index.div_euclid(4), u8::try_from(index.rem_euclid(4) + 1).unwrap_or(1))
            });
            let inputs = quarters.map(|(y, q)| {
                let one =
                    Explanation::number(format!("{} of Q{q} {y}", item.code()), unit(item), in_unit(row, item, row.quarter((y, q), item)));
                quarter_of(one, item, (y, q), row)
            });
            let inputs = inputs.collect();
            blank.noted("The sum of the four quarters to the newest period end.").of(inputs)
        }
        FlowSpan::Halves(year, last) => {
            let halves = [(year, last), if last == 2 { (year, 1) } else { (year - 1, 2) }];
            let inputs = halves.map(|(y, h)| {
                let period = HALVES[usize::from(h) - 1];
                let value = in_unit(row, item, row.half((y, h), item));
                half_of(Explanation::number(format!("{} of {period} {y}", item.code()), unit(item), value), item, (y, h), row)
            });
            let inputs = inputs.to_vec();
            blank.noted("The sum of the two halves to the newest period end.").of(inputs)
        }
    }
}

pub(super) fn quarter_of(blank: Explanation, item: Item, (year, quarter): (i32, u8), row: &CompanyAt<'_>) -> Explanation {
    let own = row.find_period(year, Period::quarter(quarter));
    if own.is_some_and(|p| row.item(p, item).is_some()) {
        return with_period(blank, item, own, row);
    }
    let (note, periods): (&str, &[Period]) = match quarter {
        2 => ("The first half less the first quarter.", &[Period::H1, Period::Q1]),
        4 if row.find_period(year, Period::FY).is_some() => {
            ("The fiscal year less its first three quarters.", &[Period::FY, Period::Q1, Period::Q2, Period::H1, Period::Q3])
        }
        4 => ("The second half less the third quarter.", &[Period::H2, Period::Q3]),
        _ => return blank.noted(format!("The company filed no quarter {quarter} of {year} that carries it.")),
    };
    parts(blank.noted(note), item, year, periods, row)
}

const HALVES: [Period; 2] = [Period::H1, Period::H2];

fn half_of(blank: Explanation, item: Item, (year, half): (i32, u8), row: &CompanyAt<'_>) -> Explanation {
    let carries = |period: Period| row.find_period(year, period).filter(|p| row.item(*p, item).is_some());
    if let Some(own) = carries(HALVES[usize::from(half) - 1]) {
        return with_period(blank, item, Some(own), row);
    }
    let (note, periods): (&str, &[Period]) = match half {
        1 => ("The sum of the first two quarters.", &[Period::Q1, Period::Q2]),
        _ if carries(Period::FY).is_some() && carries(Period::H1).is_some() => {
            ("The fiscal year less its first half.", &[Period::FY, Period::H1])
        }
        _ => (
            "The third quarter and what the year has beyond its first three.",
            &[Period::FY, Period::Q1, Period::Q2, Period::Q3, Period::Q4],
        ),
    };
    parts(blank.noted(note), item, year, periods, row)
}

/// The figures of other periods from which one was made.
fn parts(blank: Explanation, item: Item, year: i32, periods: &[Period], row: &CompanyAt<'_>) -> Explanation {
    let one = |period: &Period| {
        let p = row.find_period(year, *period)?;
        let value = row.item(p, item)?;
        let blank = Explanation::number(format!("{} of {period} {year}", item.code()), unit(item), in_unit(row, item, Some(value)));
        Some(with_period(blank, item, Some(p), row))
    };
    blank.of(periods.iter().filter_map(one).collect())
}

/// The filing of a period's figure, and what was done to it.
fn with_period(mut out: Explanation, item: Item, period: Option<PeriodIndex>, row: &CompanyAt<'_>) -> Explanation {
    let Some((p, filed)) = period.and_then(|p| Some((p, row.filed(p, item)?))) else {
        return out.noted(format!("The filings known carry no {} for this period.", item.label()));
    };
    let (fiscal_year, label) = row.label(p);
    if filed.taken_as_none {
        out.notes.push(format!("The filing names no {}, which then counts as none.", item.label()));
    }
    let splits = row.splits_since(filed.filed_on);
    if filed.value != 0.0 {
        match item.kind() {
            ItemKind::PerShare if splits != 1.0 => out.notes.push(format!("Divided by {splits} for splits since the filing.")),
            ItemKind::Shares if splits != 1.0 => out.notes.push(format!("Multiplied by {splits} for splits since the filing.")),
            _ => {}
        }
        if item.kind() == ItemKind::PerShare && row.shares_per_unit() != 1.0 {
            out.notes.push(format!("One traded unit stands for {} shares.", row.shares_per_unit()));
        }
        let to = match item.kind() {
            ItemKind::Flow | ItemKind::Balance => row.as_of.base,
            ItemKind::PerShare => row.listing_currency(),
            ItemKind::Shares | ItemKind::Ratio => filed.currency,
        };
        if let (true, Ok(rate)) = (to != filed.currency, row.fx(filed.currency, to)) {
            out.notes.push(format!("1 {} was {} {to} on {}.", filed.currency, short(rate), row.t()));
        }
    }
    out.source = Some(Filing {
        document: filed.source.to_owned(),
        filed_on: filed.filed_on,
        fiscal_year: Some(fiscal_year),
        period: Some(label),
        period_end: Some(row.period_end(p)),
        as_filed: (!filed.taken_as_none).then_some(filed.value),
        currency: matches!(item.kind(), ItemKind::Flow | ItemKind::Balance | ItemKind::PerShare).then(|| filed.currency.to_string()),
    });
    out
}

/// A figure in the reporting currency put into the one in which amounts are shown.
fn in_unit(row: &CompanyAt<'_>, item: Item, value: Option<f64>) -> Num {
    let value = value.ok_or(Why::NoItem(item))?;
    Ok(match item.kind() {
        ItemKind::Flow | ItemKind::Balance => value * row.reporting_to_base()?,
        ItemKind::PerShare => value * row.reporting_to_listing()?,
        ItemKind::Shares | ItemKind::Ratio => value,
    })
}

fn unit(item: Item) -> Unit {
    match item.kind() {
        ItemKind::Flow | ItemKind::Balance => Unit::Money,
        ItemKind::PerShare => Unit::PerShare,
        ItemKind::Shares => Unit::Count,
        ItemKind::Ratio => Unit::Percent,
    }
}

fn short(rate: f64) -> String {
    format!("{:.6}", rate).trim_end_matches('0').trim_end_matches('.').to_owned()
}

fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}
