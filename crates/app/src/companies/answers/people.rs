//! Who owns it, and who buys.

use super::{Mark, Subject, judged, number, sentence};
use artemon_core::{
    domain::Role,
    wording::figures::{count, percent},
};

pub(super) fn owners(c: &Subject<'_>) -> Option<(Mark, String)> {
    let stake = number(c, "insider_stake");
    let mut parts: Vec<String> = stake.iter().map(|s| format!("insiders hold {}", percent(*s))).collect();
    let (buyers, sellers, net) =
        (number(c, "insider_buyers(12)"), number(c, "insider_sellers(12)"), number(c, "insider_net_buying_ratio(12)"));
    let mut mark = Mark::Mixed;
    if let (Ok(b), Ok(s)) = (buyers, sellers) {
        let many = |n: f64| if n == 0.0 { "none".to_owned() } else { n.to_string() };
        parts.push(format!("{} bought and {} sold on the open market within a year", many(b), many(s)));
        mark = match net {
            Ok(n) if n > 0.0 => Mark::Holds,
            Ok(n) if n < 0.0 && s >= 3.0 => Mark::Fails,
            _ => Mark::Mixed,
        };
    } else {
        parts.push("no trades of insiders are known".to_owned());
    }
    if number(c, "if(insider_cluster, 1, 0)") == Ok(1.0) {
        parts.push("three or more of them within 30 days".to_owned());
    }
    Some((if buyers.is_err() && stake.is_err() { Mark::Open } else { mark }, sentence(&parts)))
}

/// Who runs it, and whether the years one looks at are that person's.
pub(super) fn runs(s: &Subject<'_>) -> Option<(Mark, String)> {
    let chief = s.company.officers().find(|o| o.role == Role::ChiefExecutive.code())?;
    let Ok(tenure) = number(s, "chief_tenure") else {
        return Some((Mark::Open, format!("{} is chief executive; since when is not known.", chief.name)));
    };
    let analysed = number(s, "statement_years").unwrap_or_default().min(ANALYSED);
    let years = tenure.floor();
    let since = match years as usize {
        0 => "for less than a year".to_owned(),
        n => format!("for {}", count(n, "year")),
    };
    let covered = match analysed {
        a if a <= 0.0 => String::new(),
        a if years >= a => format!(": all of the {a} years looked at"),
        a if years < 1.0 => format!(": none of the {a} years looked at"),
        a => format!(": {years} of the {a} years looked at"),
    };
    Some((judged(tenure, 5.0, 1.0), format!("{} has been chief executive {since}{covered}.", chief.name)))
}

/// The years of statements that are read at most.
const ANALYSED: f64 = 10.0;
