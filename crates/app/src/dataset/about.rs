//! What is open.

use crate::Ctx;
use artemon_core::domain::Day;
use serde::Serialize;
use utoipa::ToSchema;

/// What is open.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct About {
    /// The dataset's name.
    pub name: String,
    /// Base currency.
    pub base: String,
    /// The newest session: today, as far as the data knows.
    #[schema(value_type = Option<String>)]
    pub last_day: Option<Day>,
    /// The oldest session.
    #[schema(value_type = Option<String>)]
    pub first_day: Option<Day>,
    /// Companies in the dataset, delisted ones included.
    pub companies: usize,
    /// The assumption set in use.
    pub assumptions: String,
    /// Its required margin of safety.
    pub margin: f64,
    /// Its minimum quality, 0–100.
    pub least_quality: f64,
    /// How many things of the person's own wait to be repaired or matched with a company.
    pub repairs: usize,
    /// How many parts of what is one's own and of the dataset are damaged on the disk.
    pub damaged: usize,
    /// The version of the product.
    pub version: String,
}

/// What is open.
#[must_use]
pub fn about(ctx: &Ctx) -> About {
    let (days, settings) = (ctx.snapshot().sessions(), ctx.settings());
    About {
        name: ctx.dataset.name.clone(),
        base: settings.base.to_string(),
        last_day: days.map(|d| d.1),
        first_day: days.map(|d| d.0),
        companies: ctx.snapshot().company_count(),
        assumptions: settings.assumptions.label(),
        margin: settings.assumptions.margin,
        least_quality: settings.assumptions.least_quality,
        damaged: ctx.home.people.damaged().len() + ctx.dataset.aside.len(),
        repairs: ctx.own.broken.len() + ctx.own.unmatched.len(),
        version: env!("CARGO_PKG_VERSION").to_owned(),
    }
}
