//! Lines of the page in words.

use super::{Gauge, GaugeStanding, Purchases, SectorMove, UnderPrice, VerdictChange};
use crate::{
    domain::{EventKind, Role},
    insiders::{self, Followed},
    panel::CompanyAt,
    price,
    wording::figures::{amount, count, in_words, ordinal, percent, signed},
};
use std::collections::BTreeSet;

/// "third day under your price of 19.05", "under 45.00 for the first day; a margin of 31 %": how long, under what, by how much.
#[must_use]
pub fn under_words(u: &UnderPrice, margin: Option<f64>) -> String {
    let limit = format!("{}{}", if u.typed { "your price of " } else { "" }, amount(u.limit));
    let how_long = match u.sessions {
        _ if u.longer => format!("under {limit} for more than {}", count(u.sessions, "session")),
        1 => format!("came under {limit} in the last session"),
        n => format!("{} session under {limit}", ordinal(n)),
    };
    match margin.filter(|m| *m > 0.0) {
        Some(m) => format!("{how_long}; {} under its value", percent(m)),
        None => how_long,
    }
}

/// Roles worth naming among several buyers.
const NAMED: [Role; 3] = [Role::ChiefExecutive, Role::ChiefFinancial, Role::ControllingHolder];

/// "4 people within 30 days, chief executive among them; +18 % on what they held; after a fall of 34 %": who bought, against what they
/// held, and what makes it more or less of a sign.
#[must_use]
pub fn purchase_words(p: &Purchases<'_>, c: &CompanyAt<'_>) -> String {
    let mut parts = vec![buyers(p, c)];
    parts.extend(against_holdings(p));
    parts.extend(how_often(p));
    parts.extend(fall(p, c));
    parts.extend(stake(c));
    parts.extend(p.late.then(|| "filed late".to_owned()));
    parts.join("; ")
}

fn buyers(p: &Purchases<'_>, c: &CompanyAt<'_>) -> String {
    let together = insiders::clusters(c).last().map(|cluster| cluster.buyers).filter(|n| p.cluster && *n > p.buyers.len());
    if let [one] = &p.buyers[..] {
        let among = together.map(|n| format!(", one of {n} who bought within 30 days")).unwrap_or_default();
        let role = one.newest.role.map(|r| format!(", {}", role(r))).unwrap_or_default();
        return format!("{}{role}{among}", one.newest.insider_name);
    }
    let within = match together {
        Some(n) => format!(" of {n} who bought within 30 days"),
        None if p.cluster => " within 30 days".to_owned(),
        None => String::new(),
    };
    let roles: BTreeSet<Role> = p.buyers.iter().filter_map(|b| b.newest.role).filter(|r| NAMED.contains(r)).collect();
    let named: Vec<&str> = NAMED.into_iter().filter(|r| roles.contains(r)).map(role).collect();
    let among = if named.is_empty() { String::new() } else { format!(", {} among them", named.join(" and ")) };
    format!("{} people{within}{among}", p.buyers.len())
}

/// A role in words.
#[must_use]
pub const fn role(role: Role) -> &'static str {
    match role {
        Role::ChiefExecutive => "chief executive",
        Role::ChiefFinancial => "finance chief",
        Role::Director => "director",
        Role::Officer => "officer",
        Role::LargeHolder => "large holder",
        Role::ControllingHolder => "controlling holder",
    }
}

/// What all bought against what they held before, where that is known of all.
fn against_holdings(p: &Purchases<'_>) -> Option<String> {
    let whose = if p.buyers.len() == 1 { "was held" } else { "they held" };
    let (mut bought, mut held) = (0.0, 0.0);
    let mut counted = BTreeSet::new();
    for (trade, signs) in &p.trades {
        bought += trade.shares;
        if counted.insert(&trade.insider_id) {
            match signs.of_holding {
                Some(of) => held += trade.shares / of,
                None if signs.new_holding => {}
                None => return None,
            }
        }
    }
    Some(if held > 0.0 { format!("{} on what {whose}", signed(bought / held, percent)) } else { "nothing was held before".to_owned() })
}

fn how_often(p: &Purchases<'_>) -> Option<String> {
    let times = p.buyers.iter().filter_map(|b| b.purchase_of_year).max()?;
    let first = p.trades.iter().any(|(_, s)| s.first_in_two_years == Some(true));
    match times {
        2.. => Some(format!("{} purchase in a year", ordinal(times as usize))),
        _ if first && p.buyers.len() == 1 => Some("first purchase in two years".to_owned()),
        _ => None,
    }
}

/// How far the price had fallen when the last purchase after a fall was made.
fn fall(p: &Purchases<'_>, c: &CompanyAt<'_>) -> Option<String> {
    let (trade, _) = p.trades.iter().rfind(|(_, s)| s.after_a_fall == Some(true))?;
    let then = c.at(trade.traded_on.min(c.t()));
    let fallen = 1.0 - then.price().ok()? / price::high_52w(&then).ok()?;
    Some(format!("after a fall of {}", percent(fallen)))
}

/// The insiders' stake, where it rose in the newest quarter.
fn stake(c: &CompanyAt<'_>) -> Option<String> {
    let rows: Vec<f64> = c.ownership().filter_map(|o| o.insiders).collect();
    let [.., before, now] = &rows[..] else { return None };
    (now > before && percent(*now) != percent(*before)).then(|| format!("insiders' stake {} → {}", percent(*before), percent(*now)))
}

/// "a year after 7 earlier purchases: +12 % against all companies (median)"; nothing where none is half a year old.
#[must_use]
pub fn followed_words(after: impl Fn(i32) -> Followed) -> Option<String> {
    [(12, "a year"), (6, "half a year")].into_iter().find_map(|(months, time)| {
        let Followed { median, purchases } = after(months);
        let by = format!("{} against all companies", signed(median?, percent));
        Some(match purchases {
            1 => format!("{time} after an earlier purchase: {by}"),
            _ => format!("{time} after {purchases} earlier purchases: {by} (median)"),
        })
    })
}

/// What is to come, in words.
#[must_use]
pub const fn event_words(kind: EventKind) -> &'static str {
    match kind {
        EventKind::Earnings => "results",
        EventKind::ExDividend => "ex-dividend",
        EventKind::DividendPayment => "dividend paid",
        EventKind::Meeting => "shareholders meet",
    }
}

/// "Lamp oil, 9 of 9 companies down": which way a sector went.
#[must_use]
pub fn sector_words(m: &SectorMove) -> String {
    let way = if m.median < 0.0 { "down" } else { "up" };
    let all = if m.same_way == m.traded { format!("all {}", m.traded) } else { format!("{} of {}", m.same_way, m.traded) };
    format!("{all} companies {way}")
}

/// What changed a verdict, where its value did not: "Price 27.3 → 19.7, to pay at most 27.5."
#[must_use]
pub fn verdict_words(v: &VerdictChange) -> String {
    let Some(before) = &v.before else { return "It was not in the universe before.".to_owned() };
    let pair = |what: &str, was: crate::Num, is: crate::Num| {
        let (was, is) = (was.ok().map(amount)?, is.ok().map(amount)?);
        Some(if was == is { format!("{what} {is}") } else { format!("{what} {was} → {is}") })
    };
    let parts = [
        pair("price", before.price, v.after.price),
        pair("to pay at most", before.buy_below, v.after.buy_below),
        pair("quality", before.quality, v.after.quality),
    ];
    let text = parts.into_iter().flatten().collect::<Vec<_>>().join(", ");
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| format!("{}{}.", first.to_uppercase(), letters.as_str()))
}

/// "The median company costs 0.94 of its value, dearer than in 36 % of the last 120 months; 41 % of companies are priced under their
/// value."
#[must_use]
pub fn gauge_words(now: &Gauge, at: &GaugeStanding, months: usize) -> String {
    let Some(ratio) = now.median_price_to_value else { return "No company can be valued.".to_owned() };
    let mut text = format!("The median company costs {ratio:.2} of its value");
    if let Some(rank) = at.median_price_to_value_rank.filter(|_| months > 12) {
        let last = match (months + 6) / 12 {
            1 => "the last year".to_owned(),
            years => format!("the last {} years", in_words(years)),
        };
        text += &match rank {
            r if r <= 0.0 => format!(", cheaper than at any month end of {last}"),
            r if r <= 50.0 => format!(", cheaper than in {} of {last}", percent(1.0 - r / 100.0)),
            r if r < 100.0 => format!(", dearer than in {} of {last}", percent(r / 100.0)),
            _ => format!(", dearer than at any month end of {last}"),
        };
    }
    if let Some(share) = now.share_under_value {
        text += &format!("; {} of companies are priced under their value", percent(share));
    }
    text + "."
}
