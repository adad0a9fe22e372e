//! A company at a glance: what one wants to know before opening its page.

use super::months::months;
use crate::{AppError, Ctx, figures::compact::six_digits};
use artemon_core::{
    domain::{Day, News},
    panel::CompanyAt,
};
use serde::Serialize;
use utoipa::ToSchema;

/// Months shown: ten years.
const MONTHS: i32 = 120;

/// Price and value of the last ten years, and the newest headline.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Glance {
    pub symbol: String,
    pub name: String,
    pub industry: String,
    pub country: String,
    /// Of price and value.
    pub currency: String,
    /// The last price of each month, oldest first, to six digits.
    pub prices: Vec<f64>,
    /// The value of each of these months, from what was known then.
    pub values: Vec<Option<f64>>,
    /// The first of the months.
    #[schema(value_type = Option<String>)]
    pub first: Option<Day>,
    /// The last of the months.
    #[schema(value_type = Option<String>)]
    pub last: Option<Day>,
    /// The newest published by the date.
    pub headline: Option<Headline>,
}

/// A headline.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Headline {
    #[schema(value_type = Option<String>)]
    pub published_on: Option<Day>,
    pub text: String,
    pub source: String,
}

impl From<&News> for Headline {
    fn from(n: &News) -> Headline {
        Headline { published_on: n.published_on(), text: n.headline.clone(), source: n.source.clone() }
    }
}

/// A company at a glance, at a date.
///
/// # Errors
/// An unknown company, a date outside the data.
pub fn glance(ctx: &Ctx, symbol: &str, as_of: Option<Day>) -> Result<Glance, AppError> {
    let c: CompanyAt<'_> = ctx.company(symbol, ctx.date(as_of)?)?;
    let points = months(&ctx.engine, &c, MONTHS);
    let company = c.company();
    Ok(Glance {
        symbol: c.symbol().to_owned(),
        name: company.name.clone(),
        industry: company.industry.clone(),
        country: company.country.clone(),
        currency: c.listing_currency().to_string(),
        first: points.first().map(|m| m.date),
        last: points.last().map(|m| m.date),
        prices: points.iter().map(|m| six_digits(m.price)).collect(),
        values: points.iter().map(|m| m.value.map(six_digits)).collect(),
        headline: c.news().next_back().map(Headline::from),
    })
}
