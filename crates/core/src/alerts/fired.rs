//! What became true from one session to the next.

use super::words;
use crate::{
    domain::Day,
    engine::{Context, Section},
    formula::{Column, Compiled},
    insiders,
    panel::CompanyIndex,
    screening::{self, Screen, UniverseError},
    today::{Followed, coming, new_flags, verdict_changes},
};
use std::{collections::BTreeMap, sync::Arc};

/// A condition that may become true.
#[derive(Clone, Debug)]
pub enum Condition<'a> {
    /// A formula that is true or false.
    Formula(Arc<Compiled>, &'a str),
    /// The price comes under what one would pay: the price typed, else `buy_below`.
    UnderPrice,
    /// A screen's companies enter it, leave it.
    Screen {
        /// The screen; its own date counts for nothing.
        screen: &'a Screen,
        #[allow(missing_docs)]
        entered: bool,
        #[allow(missing_docs)]
        left: bool,
    },
    /// Several insiders buy close to each other.
    Cluster,
    /// A red flag is raised.
    Flags,
    /// The verdict is another.
    Verdict,
    /// Results, a dividend or the like are so many days ahead.
    Dates(u32),
}

/// Something that became true.
#[derive(Clone, Debug, PartialEq)]
pub struct Fired {
    /// Of which company.
    pub company: CompanyIndex,
    /// What, in a sentence.
    pub sentence: String,
}

/// What became true of some companies from a session to the next, by symbol. Who leaves a screen or enters it may be anybody.
///
/// # Errors
/// A screen that cannot be run.
pub fn fired(
    context: &Context,
    condition: &Condition<'_>,
    (before, at): (Day, Day),
    companies: &[Followed],
) -> Result<Vec<Fired>, UniverseError> {
    let mut all = match condition {
        Condition::Formula(formula, text) => became_true(context, formula, (before, at), companies, |_| words::formula(text, context)),
        Condition::UnderPrice => under_price(context, (before, at), companies),
        Condition::Cluster => clusters(context, (before, at), companies),
        Condition::Flags => flags(context, (before, at), companies),
        Condition::Verdict => verdicts(context, (before, at), companies),
        Condition::Dates(days) => dates(context, (before, at), *days, companies),
        Condition::Screen { screen, entered, left } => through_screen(context, screen, (*entered, *left), (before, at))?,
    };
    all.sort_by_key(|f| f.company);
    Ok(all)
}

/// The flags of a formula for companies at a date; of one that was not in the universe it is not true.
fn holds(context: &Context, formula: &Compiled, t: Day, companies: &[CompanyIndex]) -> Vec<bool> {
    let rows: Vec<_> = companies.iter().map(|i| context.as_of(t).company(*i)).collect();
    let Column::Flag(answers) = context.evaluate(formula, &rows) else { return vec![false; rows.len()] };
    rows.iter().zip(answers).map(|(c, holds)| holds == Ok(true) && c.in_universe()).collect()
}

fn became_true(
    context: &Context,
    formula: &Compiled,
    (before, at): (Day, Day),
    companies: &[Followed],
    says: impl Fn(CompanyIndex) -> String,
) -> Vec<Fired> {
    let all: Vec<CompanyIndex> = companies.iter().map(|f| f.company).collect();
    let now = holds(context, formula, at, &all);
    // What it was is asked of those alone of which it is true.
    let true_now: Vec<CompanyIndex> = all.into_iter().zip(now).filter(|(_, now)| *now).map(|(i, _)| i).collect();
    let then = holds(context, formula, before, &true_now);
    let new = true_now.into_iter().zip(then).filter(|(_, then)| !then);
    new.map(|(company, _)| Fired { company, sentence: says(company) }).collect()
}

fn under_price(context: &Context, (before, at): (Day, Day), companies: &[Followed]) -> Vec<Fired> {
    let (typed, computed): (Vec<Followed>, Vec<Followed>) = companies.iter().partition(|f| f.typed.is_some());
    let price = |f: &Followed, t: Day| {
        // On the split basis of the later session, as prices that are typed today.
        let c = context.as_of(at).company(f.company);
        let bars = c.bars();
        bars.upto(t).checked_sub(1).map(|i| bars.close(i))
    };
    let under = |f: &Followed, t: Day| price(f, t).zip(f.typed).is_some_and(|(p, limit)| p <= limit);
    let new = typed.iter().filter(|f| under(f, at) && !under(f, before));
    let mut all: Vec<Fired> = new.map(|f| Fired { company: f.company, sentence: words::under(price(f, at), f.typed, true) }).collect();
    if let Ok(formula) = context.compile("price <= buy_below") {
        let values = context.valuations(at);
        let says = |i: CompanyIndex| {
            let v = &values[i as usize];
            words::under(v.price.ok(), v.buy_below(&context.settings().assumptions).ok(), false)
        };
        all.extend(became_true(context, &formula, (before, at), &computed, says));
    }
    all
}

fn clusters(context: &Context, span: (Day, Day), companies: &[Followed]) -> Vec<Fired> {
    let Ok(formula) = context.compile("insider_cluster") else { return Vec::new() };
    let says = |i: CompanyIndex| words::cluster(insiders::clusters(&context.as_of(span.1).company(i)).last());
    became_true(context, &formula, span, companies, says)
}

fn flags(context: &Context, (before, at): (Day, Day), companies: &[Followed]) -> Vec<Fired> {
    let new = new_flags(context, at, before, companies);
    new.iter().map(|f| Fired { company: f.company, sentence: words::flags(&f.flags) }).collect()
}

fn verdicts(context: &Context, (before, at): (Day, Day), companies: &[Followed]) -> Vec<Fired> {
    let changed = verdict_changes(context, at, before, companies);
    changed.iter().filter_map(|v| Some(Fired { company: v.company, sentence: words::verdict(v.before.as_ref()?, v) })).collect()
}

/// Dates that came within so many days.
fn dates(context: &Context, (before, at): (Day, Day), days: u32, companies: &[Followed]) -> Vec<Fired> {
    let days = i32::try_from(days).unwrap_or(0);
    let ahead = coming(context, at, days, companies.iter().map(|f| f.company));
    let mut of: BTreeMap<CompanyIndex, Vec<String>> = BTreeMap::new();
    for c in ahead.iter().filter(|c| c.date > before.plus_days(days)) {
        of.entry(c.company).or_default().push(words::coming(c));
    }
    of.into_iter().map(|(company, said)| Fired { company, sentence: format!("{}.", said.join("; ")) }).collect()
}

fn through_screen(
    context: &Context,
    screen: &Screen,
    (entered, left): (bool, bool),
    (before, at): (Day, Day),
) -> Result<Vec<Fired>, UniverseError> {
    let changes = screening::changes(screen, &Section::new(context, before), &Section::new(context, at))?;
    let name = &screen.name;
    let came = changes.entered.iter().filter(|_| entered);
    let went = changes.left.iter().filter(|_| left);
    let came = came.map(|c| Fired { company: c.company, sentence: format!("Entered \u{201c}{name}\u{201d}.") });
    Ok(came.chain(went.map(|c| Fired { company: c.company, sentence: format!("Left \u{201c}{name}\u{201d}.") })).collect())
}
