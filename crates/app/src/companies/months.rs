//! Price and value month by month.

use artemon_core::{Num, domain::Day, engine::Context, panel::CompanyAt, valuation::Valuation};
use serde::Serialize;
use utoipa::ToSchema;

/// A month's last price with the value of the time, from what was known then, on today's split basis.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MonthPoint {
    #[schema(value_type = String)]
    pub date: Day,
    pub price: f64,
    pub value: Option<f64>,
    /// The middle half of the valuations.
    pub low: Option<f64>,
    pub high: Option<f64>,
    pub eps: Option<f64>,
}

/// The months before the date, as many as wanted, oldest first; those without a price are left out.
pub(crate) fn months(context: &Context, c: &CompanyAt<'_>, wanted: i32) -> Vec<MonthPoint> {
    let since = c.t().plus_months(-wanted);
    let rows = context.as_of(c.t()).company(c.index).month_rows(since);
    let values = context.value_series(c.t(), c.index, since);
    let Ok(eps) = context.compile("eps").map(|f| context.evaluate(&f, &rows)) else { return Vec::new() };
    let point = |(i, (date, v)): (usize, &(Day, Valuation))| {
        let basis = c.splits_since(*date);
        let on_basis = |v: Num| v.ok().map(|v| v / basis);
        Some(MonthPoint {
            date: *date,
            price: on_basis(v.price)?,
            value: on_basis(v.value),
            low: on_basis(v.low),
            high: on_basis(v.high),
            eps: on_basis(eps.value(i).number()),
        })
    };
    values.iter().enumerate().filter_map(point).collect()
}
