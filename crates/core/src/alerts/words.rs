//! What alerts say.

use super::fired::Condition;
use crate::{
    engine::Context,
    insiders::Cluster,
    quality::FLAGS,
    today::{Coming, Standing, VerdictChange, event_words, verdict_words},
    wording::{
        figures::{amount, count, date},
        label,
    },
};

pub(super) fn formula(text: &str, context: &Context) -> String {
    format!("Became true: {}.", label(text, &context.settings().library))
}

pub(super) fn under(price: Option<f64>, limit: Option<f64>, typed: bool) -> String {
    let (Some(price), Some(limit)) = (price, limit) else { return "Came under its price to pay.".to_owned() };
    let whose = if typed { "your price of" } else { "the price to pay of" };
    format!("Came to {}, under {whose} {}.", amount(price), amount(limit))
}

pub(super) fn cluster(newest: Option<&Cluster>) -> String {
    newest.map_or_else(
        || "Several insiders bought close to each other.".to_owned(),
        |c| format!("{} insiders bought between {} and {}.", c.buyers, date(c.from), date(c.to)),
    )
}

pub(super) fn flags(raised: &[usize]) -> String {
    raised.iter().map(|i| FLAGS[*i].says).collect::<Vec<_>>().join(" ")
}

pub(super) fn verdict(before: &Standing, v: &VerdictChange) -> String {
    format!("Verdict {} → {}. {}", before.verdict, v.after.verdict, verdict_words(v))
}

pub(super) fn coming(c: &Coming) -> String {
    let what = event_words(c.kind);
    let amount = c.amount.map(|x| format!(" {}", amount(x))).unwrap_or_default();
    format!("{what}{amount} on {}", date(c.date))
}

/// What an alert waits for: "the price comes under what you would pay".
#[must_use]
pub fn condition_in_words(condition: &Condition<'_>, context: &Context) -> String {
    match condition {
        Condition::Formula(_, text) => label(text, &context.settings().library),
        Condition::UnderPrice => "the price comes under what you would pay".to_owned(),
        Condition::Screen { screen, entered, left } => {
            let what = match (entered, left) {
                (true, true) => "enters or leaves",
                (false, true) => "leaves",
                _ => "enters",
            };
            format!("a company {what} \u{201c}{}\u{201d}", screen.name)
        }
        Condition::Cluster => "several insiders buy close to each other".to_owned(),
        Condition::Flags => "a red flag is raised".to_owned(),
        Condition::Verdict => "the verdict changes".to_owned(),
        Condition::Dates(days) => {
            format!("results, a dividend or a meeting is {} ahead", count(*days as usize, "day"))
        }
    }
}
