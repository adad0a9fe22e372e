//! Dates ahead that are the person's own: decisions to look at again, orders that end.

use super::{
    books::own_ledger,
    decisions::{due_reviews, read},
};
use crate::{AppError, Ctx};
use artemon_core::{domain::Day, ledger::Good, panel::CompanyIndex};

/// A date ahead.
pub(crate) struct OwnDate {
    pub(crate) date: Day,
    pub(crate) company: CompanyIndex,
    /// "look at it again", "order B12 ends".
    pub(crate) what: String,
}

/// The dates within some days after one, by day; what was to be looked at again before stands on the day itself.
pub(crate) fn own_dates(ctx: &Ctx, t: Day, days: i32) -> Result<Vec<OwnDate>, AppError> {
    let end = t.plus_days(days);
    let review = |(company, day): (CompanyIndex, Day)| OwnDate { date: day.max(t), company, what: "look at it again".to_owned() };
    let mut all: Vec<OwnDate> = due_reviews(&read(ctx, t)?).into_iter().filter(|r| r.1 <= end).map(review).collect();
    let own = own_ledger(ctx)?;
    for (_, open) in own.at(ctx, t).orders() {
        if let Good::Until(date) = open.order.good
            && (t..=end).contains(&date)
            && let Some(company) = ctx.snapshot().find(open.order.security.key())
        {
            all.push(OwnDate { date, company, what: format!("order {} ends", open.order.order) });
        }
    }
    all.sort_by_key(|d| d.date);
    Ok(all)
}
