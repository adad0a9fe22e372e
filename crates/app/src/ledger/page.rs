//! The place: accounts, holdings, orders, what was closed, and the whole against an index.

use super::{
    books::own_ledger,
    decisions::{bought_for, due_reviews, read},
    index::index_compared,
    rows::{AccountRow, ClosedRow, HoldingRow, JournalRow, Look, OrderRow, WealthPoint, account_row, closed, line, orders, said, thinned},
};
use crate::{AppError, Ctx};
use artemon_core::{
    domain::Day,
    ledger::{Booked, TotalReport, What},
};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use utoipa::ToSchema;

/// Lines of the journal unless more are asked for, and at most.
const LINES: usize = 100;
pub(super) const MOST_LINES: usize = 20_000;

/// What is asked for.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct LedgerRequest {
    /// The day; the newest session when absent.
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
    /// The index that the same money is compared with; the first of the dataset when absent.
    pub index: Option<String>,
    /// How many lines of the journal; a hundred when absent.
    pub lines: Option<usize>,
}

/// The place. Amounts of an account are in its currency, those of the whole in the base currency.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LedgerPage {
    #[schema(value_type = String)]
    pub as_of: Day,
    pub base: String,
    /// The id and name of the index compared with, and of those that can be.
    pub index: Option<String>,
    pub indexes: Vec<NamedIndex>,
    pub accounts: Vec<AccountRow>,
    pub total: TotalReport,
    pub holdings: Vec<HoldingRow>,
    /// The newest first.
    pub orders: Vec<OrderRow>,
    pub closed: Vec<ClosedRow>,
    pub wealth: Vec<WealthPoint>,
    /// The newest first.
    pub journal: Vec<JournalRow>,
    pub journal_lines: usize,
    /// Decisions that are to be looked at again.
    pub due: usize,
    /// How many entries rest on data that were corrected since: each says it in the journal.
    pub corrected: usize,
    /// The day after which simulated accounts go on, where the dataset begins again: their entries are of later days than it has.
    #[schema(value_type = Option<String>)]
    pub stands_still_until: Option<Day>,
}

/// An index that the same money can be compared with.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct NamedIndex {
    pub id: String,
    pub name: String,
}

/// The place as of a day.
///
/// # Errors
/// A day outside the data, an unknown index; when the ledger cannot be read.
pub fn ledger_page(ctx: &Ctx, request: &LedgerRequest) -> Result<LedgerPage, AppError> {
    let t = ctx.date(request.as_of)?;
    let own = own_ledger(ctx)?;
    let named = |(id, name, _): (&str, &str, _)| NamedIndex { id: id.to_owned(), name: name.to_owned() };
    let indexes: Vec<NamedIndex> = ctx.snapshot().indexes().map(named).collect();
    let index = index_compared(ctx, t, request.index.as_deref())?;
    let told = own.told(ctx, t, index.as_deref());
    let known: Vec<&Booked> = own.ledger.journal().iter().filter(|b| b.event.date <= t).collect();
    let report = told.reports.first();
    let accounts = report.map_or(&[][..], |r| &r.accounts);
    let mut total = report.map(|r| r.total_base.clone()).unwrap_or_default();
    // What was earned in some months says little of a year.
    let is_a_year = |since: Option<Day>| since.is_some_and(|since| t.days_since(since) >= 365);
    let put_in = |b: &&&Booked| matches!(b.event.what, What::Deposit { .. });
    if !is_a_year(known.iter().find(put_in).map(|b| b.event.date)) {
        (total.xirr, total.index_xirr) = (None, None);
    }
    let first = |name: &str| known.iter().filter(put_in).find(|b| *b.event.account == *name).map(|b| b.event.date);
    let decisions = read(ctx, t)?;
    let look = Look { ctx, t, whole: total.value, said: said(ctx, t, accounts), bought_for: bought_for(ctx, &decisions, t) };
    let corrected: HashMap<u64, &str> = own.corrections(ctx).iter().map(|c| (c.n, c.says.as_str())).collect();
    let journal = known.iter().rev().take(request.lines.unwrap_or(LINES).min(MOST_LINES));
    Ok(LedgerPage {
        as_of: t,
        base: ctx.settings().base.to_string(),
        index,
        indexes,
        accounts: own
            .accounts
            .iter()
            .map(|a| account_row(a, accounts.iter().find(|r| *r.account == *a.name), is_a_year(first(&a.name))))
            .collect(),
        holdings: accounts.iter().flat_map(|a| a.holdings.iter().map(|h| look.holding(a, h))).collect(),
        orders: orders(&look, &own.ledger, t),
        closed: accounts.iter().flat_map(|a| closed(&look, a)).collect(),
        wealth: thinned(&told.wealth),
        journal: journal.map(|b| line(b, own.can_be_taken_back(b), corrected.get(&b.n).copied())).collect(),
        corrected: corrected.len(),
        stands_still_until: own.stands_still_until(ctx),
        journal_lines: known.len(),
        due: due_reviews(&decisions).iter().filter(|d| d.1 <= t).count(),
        total,
    })
}
