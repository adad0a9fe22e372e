//! Whom the person follows, and why.

use crate::{Ctx, ledger::own_ledger};
use artemon_core::{panel::CompanyIndex, today};
use std::collections::BTreeMap;

/// A company that the person follows.
#[derive(Clone, Debug, Default, PartialEq)]
pub(crate) struct Follow {
    /// The price that the person typed; of several the highest.
    pub(crate) typed: Option<f64>,
    /// Names of the lists that it is on.
    pub(crate) lists: Vec<String>,
    /// The person assumes something of it.
    pub(crate) assumed: bool,
    /// Some of it is held, or an order for it works.
    pub(crate) held: bool,
    pub(crate) ordered: bool,
    /// It is marked now.
    pub(crate) marked: bool,
}

impl Follow {
    /// Why it is followed, in words.
    pub(crate) fn why(&self) -> String {
        let own = if self.held { Some("held") } else { self.ordered.then_some("ordered") };
        let reasons: Vec<&str> = own.into_iter().chain(self.lists.iter().map(String::as_str)).collect();
        match self {
            _ if !reasons.is_empty() => reasons.join(", "),
            Follow { assumed: true, .. } => "your assumptions".to_owned(),
            _ => "marked".to_owned(),
        }
    }
}

/// Everybody that the person follows: held, ordered, on lists, with assumptions of one's own, and marked.
pub(crate) fn followed(ctx: &Ctx, marked: &[String]) -> BTreeMap<CompanyIndex, Follow> {
    let mut all: BTreeMap<CompanyIndex, Follow> = BTreeMap::new();
    for list in &ctx.own.lists {
        for (company, member) in list.known() {
            let follow = all.entry(company).or_default();
            follow.lists.push(list.name.clone());
            follow.typed = member.own.price.into_iter().chain(follow.typed).reduce(f64::max);
        }
    }
    for company in ctx.settings().overrides.iter().filter_map(|(id, _)| ctx.snapshot().find(id)) {
        all.entry(company).or_default().assumed = true;
    }
    // A ledger that cannot be read says so where it is opened.
    if let Ok(own) = own_ledger(ctx) {
        let company = |key: &str| ctx.snapshot().find(key);
        for books in own.ledger.accounts() {
            books.positions.keys().filter_map(|key| company(key)).for_each(|i| all.entry(i).or_default().held = true);
        }
        own.ledger.orders().filter_map(|(_, o)| company(o.order.security.key())).for_each(|i| all.entry(i).or_default().ordered = true);
    }
    for company in marked.iter().filter_map(|symbol| ctx.snapshot().find(symbol)) {
        all.entry(company).or_default().marked = true;
    }
    all
}

/// The same as the computation takes it.
pub(crate) fn as_followed(all: &BTreeMap<CompanyIndex, Follow>) -> Vec<today::Followed> {
    all.iter().map(|(company, follow)| today::Followed { company: *company, typed: follow.typed }).collect()
}
