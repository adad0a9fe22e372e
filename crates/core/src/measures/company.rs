//! What a company is and how fresh its figures are.

use crate::{
    Num, Why,
    domain::Item,
    formula::{Args, Body, Family, Measure, Unit},
    panel::CompanyAt,
};
use std::sync::Arc;

/// Mean days of a year in the Gregorian calendar.
const DAYS_A_YEAR: f64 = 365.25;

const fn entry(id: &'static str, label: &'static str, unit: Unit, meaning: &'static str, body: Body) -> Measure {
    Measure::new(Family::Company, id, label, unit, meaning, body)
}

pub(super) const MEASURES: &[Measure] = &[
    entry("sector", "Sector", Unit::Text, "The sector the company works in.", Body::Text(|c, _| text(&c.company().sector)))
        .undefined("the company's record has none"),
    entry("industry", "Industry", Unit::Text, "The industry within its sector.", Body::Text(|c, _| text(&c.company().industry)))
        .undefined("the company's record has none"),
    entry("country", "Country", Unit::Text, "The country of its seat (ISO 3166-1).", Body::Text(|c, _| text(&c.company().country)))
        .undefined("the company's record has none"),
    entry(
        "kind",
        "Kind",
        Unit::Text,
        "Operating company, bank, insurer, property company, holding or fund.",
        Body::Text(|c, _| Ok(c.kind().code().into())),
    )
    .undefined("never for a known company"),
    entry("age_listed", "Listed for", Unit::Years, "Years since its shares were first listed.", Body::Number(age_listed))
        .undefined("the listing has no first day"),
    entry("fiscal_age", "Age of figures", Unit::Days, "Days since the end of the newest reported period.", Body::Number(fiscal_age))
        .lower()
        .undefined("nothing is filed"),
    entry(
        "filing_delay",
        "Filing delay",
        Unit::Days,
        "Days from the end of the newest period to its first filing.",
        Body::Number(filing_delay),
    )
    .lower()
    .undefined("nothing is filed"),
    entry("statement_years", "Years on record", Unit::Count, "How many fiscal years are known.", Body::Number(statement_years))
        .higher()
        .undefined("nothing is filed"),
];

fn text(value: &str) -> Result<Arc<str>, Why> {
    if value.is_empty() { Err(Why::NoText) } else { Ok(value.into()) }
}

/// Years since `listed_on`, by 365.25 days.
fn age_listed(c: &CompanyAt<'_>, _: &Args) -> Num {
    let listed = c.listing().and_then(|l| l.listed_on).ok_or(Why::HistoryTooShort)?;
    Ok(f64::from(c.t().days_since(listed)) / DAYS_A_YEAR)
}

fn fiscal_age(c: &CompanyAt<'_>, _: &Args) -> Num {
    Ok(f64::from(c.t().days_since(c.period_end(c.newest_filed()?))))
}

fn filing_delay(c: &CompanyAt<'_>, _: &Args) -> Num {
    let p = c.newest_filed()?;
    Ok(f64::from(c.first_filed(p).days_since(c.period_end(p))))
}

#[allow(clippy::cast_precision_loss)]
fn statement_years(c: &CompanyAt<'_>, _: &Args) -> Num {
    c.newest_filed()?;
    match c.years().count() {
        0 => Err(Why::NoItem(Item::Revenue)),
        n => Ok(n as f64),
    }
}
