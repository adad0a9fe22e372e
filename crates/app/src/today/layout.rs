//! How the person has the page: which sections in which order, and what of the insiders' purchases is told.

use super::page::InsiderFilter;
use crate::{AppError, Ctx};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The preference that holds it.
const KEY: &str = "today";
/// The sections, as they come at first.
const SECTIONS: [&str; 10] = ["under", "alerts", "ledger", "insiders", "lows", "screens", "movers", "verdicts", "coming", "market"];

/// How the page is laid out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct TodayLayout {
    /// Every section once, in the order in which it comes.
    pub order: Vec<String>,
    /// Those that are not shown.
    pub hidden: Vec<String>,
    /// Which insiders' purchases are told.
    pub insiders: InsiderFilter,
}

impl Default for TodayLayout {
    fn default() -> TodayLayout {
        TodayLayout { order: SECTIONS.map(str::to_owned).to_vec(), hidden: Vec::new(), insiders: InsiderFilter::default() }
    }
}

/// How the person has the page. A section that came with a newer version stands at the end.
///
/// # Errors
/// When it cannot be read.
pub fn layout(ctx: &Ctx) -> Result<TodayLayout, AppError> {
    let kept = ctx.home.people.preference(&ctx.person, KEY)?;
    let kept: TodayLayout = kept.and_then(|text| serde_json::from_str(&text).ok()).unwrap_or_default();
    Ok(complete(kept))
}

fn complete(layout: TodayLayout) -> TodayLayout {
    let known = |name: &String| SECTIONS.contains(&name.as_str());
    let mut order: Vec<String> = layout.order.into_iter().filter(known).collect();
    order.extend(SECTIONS.map(str::to_owned).into_iter().filter(|s| !order.contains(s)).collect::<Vec<_>>());
    TodayLayout { order, hidden: layout.hidden.into_iter().filter(known).collect(), ..layout }
}

/// Keeps how the person has the page.
///
/// # Errors
/// A section that there is none of; when it cannot be kept.
pub fn save_layout(ctx: &Ctx, layout: TodayLayout) -> Result<(), AppError> {
    if let Some(unknown) = layout.order.iter().chain(&layout.hidden).find(|s| !SECTIONS.contains(&s.as_str())) {
        let problem = format!("the sections are {}", SECTIONS.join(", "));
        return Err(AppError::Unusable { what: format!("The section \"{unknown}\""), problem });
    }
    let text = serde_json::to_string(&complete(layout)).unwrap_or_default();
    Ok(ctx.home.people.prefer(&ctx.person, KEY, &text)?)
}
