//! What became of orders and holdings.

use super::super::{line::Line, look::Look};
use crate::{
    AppError,
    ledger::{index_compared, own_ledger},
};
use artemon_core::{
    domain::Day,
    ledger::{Booked, What, event_says},
    wording::figures::{percent, signed, whole},
};
use serde::Serialize;
use utoipa::ToSchema;

/// Lines at most.
const MOST: usize = 100;

/// Orders and holdings.
#[derive(Clone, Debug, Default, Serialize, ToSchema)]
pub struct LedgerLines {
    /// What all is worth, since the earlier day and against the index; empty without anything in the ledger.
    pub sentence: String,
    /// The newest first.
    pub happened: Vec<LedgerLine>,
}

/// Something that happened to an order or a holding.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LedgerLine {
    #[serde(flatten)]
    pub line: Line,
    #[schema(value_type = String)]
    pub date: Day,
    pub account: String,
    /// Empty where it is about no company of the dataset.
    pub symbol: String,
    pub name: String,
    pub says: String,
}

pub(crate) fn ledger(look: &Look<'_>) -> Result<LedgerLines, AppError> {
    let own = own_ledger(look.ctx)?;
    let journal = own.ledger.journal();
    if journal.is_empty() {
        return Ok(LedgerLines::default());
    }
    let (from, end) = (after(journal, look.since()), after(journal, look.t()));
    let tells = |b: &&Booked| {
        matches!(
            b.event.what,
            What::Fill { .. }
                | What::OrderExpired { .. }
                | What::DividendDue { .. }
                | What::DividendPaid { .. }
                | What::Delisted { .. }
                | What::Split { .. }
        ) || matches!(&b.event.what, What::Order(o) if o.linked_to.is_some())
    };
    let happened = journal[from.min(end)..end].iter().rev().filter(tells).take(MOST).map(|b| line(look, b)).collect();
    Ok(LedgerLines { sentence: sentence(look)?, happened })
}

/// The first event after a day.
fn after(journal: &[Booked], day: Day) -> usize {
    journal.partition_point(|b| b.event.date <= day)
}

fn line(look: &Look<'_>, b: &Booked) -> LedgerLine {
    let security = b.effect.filled.as_ref().map(|f| &f.1).or_else(|| b.event.what.security());
    let c = security.and_then(|s| look.ctx.snapshot().find(s.key())).map(|i| look.now.as_of.company(i));
    LedgerLine {
        line: look.away.line("ledger", &b.n.to_string(), &b.event.date),
        date: b.event.date,
        account: b.event.account.to_string(),
        symbol: c.as_ref().map_or_else(String::new, |c| c.symbol().to_owned()),
        name: c.as_ref().map_or_else(|| security.map_or_else(String::new, |s| s.name().to_string()), |c| c.company().name.clone()),
        says: event_says(b),
    }
}

/// "Worth 104,210 ZOC, +1.2 % since then; the same money in the Broad would be worth 101,900."
fn sentence(look: &Look<'_>) -> Result<String, AppError> {
    let (ctx, t) = (look.ctx, look.t());
    let index = index_compared(ctx, t, None)?;
    let told = own_ledger(ctx)?.told(ctx, t, index.as_deref());
    let Some(now) = told.wealth.last() else { return Ok(String::new()) };
    let base = ctx.settings().base;
    let then = told.wealth.iter().rev().find(|w| w.day <= look.since());
    // What was paid in since then is no gain.
    let moved = then.filter(|w| w.value > 0.0).map(|w| (now.value - (now.paid_in - w.paid_in)) / w.value - 1.0);
    let moved = moved.map_or_else(String::new, |m| format!(", {} since then", signed(m, percent)));
    let name = |id: &str| ctx.snapshot().indexes().find(|i| i.0 == id).map(|i| i.1.to_owned());
    let same = now.index.zip(index.as_deref().and_then(name));
    let same = same.map_or_else(String::new, |(worth, name)| format!("; the same money in {name} would be worth {}", whole(worth)));
    Ok(format!("Worth {} {base}{moved}{same}.", whole(now.value)))
}
