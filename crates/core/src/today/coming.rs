//! What is to come in the next days for companies that one follows.

use crate::{
    domain::{Day, EventKind},
    engine::Context,
    panel::CompanyIndex,
};
use std::collections::BTreeSet;

/// Something with a date ahead.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Coming {
    /// When.
    pub date: Day,
    /// Of which company.
    pub company: CompanyIndex,
    /// What.
    pub kind: EventKind,
    /// Of a dividend that is declared: the amount a traded unit, in the listing's currency.
    pub amount: Option<f64>,
    /// Of an event: whether the date is confirmed.
    pub confirmed: Option<bool>,
}

/// The events, and the ex-dates and payments of declared dividends, within so many days after a date: by date, symbol and kind, the
/// same of one company and date once.
#[must_use]
pub fn coming(context: &Context, t: Day, days: i32, companies: impl IntoIterator<Item = CompanyIndex>) -> Vec<Coming> {
    let until = t.plus_days(days);
    let within = |date: &Day| *date > t && *date <= until;
    let mut all = Vec::new();
    for company in companies.into_iter().collect::<BTreeSet<_>>() {
        let c = context.as_of(t).company(company);
        let of = |date, kind, amount| Coming { date, company, kind, amount, confirmed: None };
        for d in c.dividends_ahead() {
            all.extend(Some(d.ex_date).filter(within).map(|date| of(date, EventKind::ExDividend, Some(d.amount))));
            all.extend(d.pay_date.filter(within).map(|date| of(date, EventKind::DividendPayment, Some(d.amount))));
        }
        let events = c.events_ahead().filter(|e| within(&e.date));
        all.extend(events.map(|e| Coming { confirmed: Some(e.confirmed), ..of(e.date, e.kind, None) }));
    }
    let key = |c: &Coming| (c.date, c.company, c.kind.code());
    // Of two that say the same, that with an amount comes first and stays.
    all.sort_by(|a, b| key(a).cmp(&key(b)).then(b.amount.is_some().cmp(&a.amount.is_some())));
    all.dedup_by(|a, b| key(a) == key(b));
    all
}
