//! Who costs no more than the person would pay.

use super::super::{line::Line, look::Look};
use crate::figures::compact::six_digits;
use artemon_core::{
    domain::Day,
    today::{under_my_price, under_words},
};
use serde::Serialize;
use utoipa::ToSchema;

/// Sessions that are counted back.
const COUNTED: usize = 63;

/// A company at or under the price that the person would pay.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct UnderLine {
    #[serde(flatten)]
    pub line: Line,
    pub symbol: String,
    pub name: String,
    pub currency: String,
    pub price: f64,
    /// What the person would pay: typed, or computed.
    pub limit: f64,
    pub typed: bool,
    /// Sessions in a row; at least so many when `longer`.
    pub sessions: usize,
    pub longer: bool,
    #[schema(value_type = String)]
    pub since: Day,
    /// It came under the price since one last looked.
    pub new: bool,
    /// How long, under what, by how much.
    pub says: String,
    /// Why it is followed.
    pub why: String,
}

/// Those that are new first, then those that are under it for the shortest time.
pub(crate) fn under(look: &Look<'_>) -> Vec<UnderLine> {
    let values = look.ctx.engine.valuations(look.t());
    let mut all: Vec<UnderLine> = under_my_price(&look.ctx.engine, look.t(), look.since(), &look.followed, COUNTED)
        .into_iter()
        .map(|u| {
            let c = look.now.as_of.company(u.company);
            let margin = values[u.company as usize].margin_of_safety().ok();
            UnderLine {
                line: look.away.line("under", &c.company().id, &format!("{} {}", u.since, if u.typed { "typed" } else { "computed" })),
                symbol: c.symbol().to_owned(),
                name: c.company().name.clone(),
                currency: c.listing_currency().to_string(),
                price: six_digits(u.price),
                limit: six_digits(u.limit),
                typed: u.typed,
                sessions: u.sessions,
                longer: u.longer,
                since: u.since,
                new: u.new,
                says: under_words(&u, margin),
                why: look.why(u.company),
            }
        })
        .collect();
    all.sort_by(|a, b| b.new.cmp(&a.new).then(a.sessions.cmp(&b.sessions)).then_with(|| a.symbol.cmp(&b.symbol)));
    all
}
