//! What it is worth, and what is expected of it.

use super::{Mark, Subject, judged, number, sentence, worst};
use artemon_core::{
    Num,
    valuation::Status,
    wording::figures::{amount, count, percent},
};

pub(super) fn worth(c: &Subject<'_>) -> Option<(Mark, String)> {
    let v = &c.valued.valuation;
    let (value, low, high): (Num, Num, Num) = (v.value, v.low, v.high);
    let (Ok(value), Ok(low), Ok(high), Ok(margin)) = (value, low, high, v.margin_of_safety()) else {
        let why = v.value.err().map(|w| w.to_string()).unwrap_or_default();
        return Some((Mark::Open, format!("It cannot be valued: {why}.")));
    };
    let kept = v.cells.iter().filter(|c| c.status == Status::Kept).count();
    let place = if margin >= 0.0 { format!("{} below it", percent(margin)) } else { format!("{} above it", percent(-margin)) };
    let asked = v.required_margin(&c.context.settings().assumptions);
    let sentence = format!(
        "About {} {} by {kept} valuations, half of them between {} and {}; the price is {place}.",
        amount(value),
        v.currency,
        amount(low),
        amount(high)
    );
    Some((judged(margin, asked, 0.0), sentence))
}

/// Quarters in which surprises are counted.
const SURPRISES: u32 = 8;

/// What analysts expect, and how the newest quarters came out against what had been expected.
pub(super) fn expected(s: &Subject<'_>) -> Option<(Mark, String)> {
    let growth = number(s, "estimated_growth(eps, 2)").or(number(s, "estimated_growth(eps, 1)"));
    let revision = number(s, "estimate_revision(90)");
    let surprises: Vec<f64> = (0..SURPRISES).filter_map(|k| number(s, &format!("eps_surprise({k})")).ok()).collect();
    let mut parts = Vec::new();
    if let Ok(g) = growth {
        let analysts = number(s, "analysts_count").map_or("Analysts".to_owned(), |n| count(n as usize, "analyst"));
        parts.push(format!("{analysts} expect earnings to {} a year", grown(g)));
    }
    if let Ok(r) = revision {
        parts.push(format!("their estimates {} within three months", revised(r)));
    }
    if let Some(newest) = surprises.first() {
        let above = surprises.iter().filter(|x| **x > 0.0).count();
        let by = if *newest < 0.0 { "below" } else { "above" };
        let last = format!("the last quarter came {} {by} what was expected", percent(newest.abs()));
        parts.push(format!("{last}, {above} of the last {} were above", surprises.len()));
    }
    if parts.is_empty() {
        return Some((Mark::Open, "Nobody estimates its earnings.".to_owned()));
    }
    let marks = [
        growth.map_or(Mark::Holds, |g| judged(g, 0.03, -0.02)),
        revision.map_or(Mark::Holds, |r| judged(r, -0.02, -0.1)),
        surprises.first().map_or(Mark::Holds, |x| judged(*x, -0.02, -0.15)),
    ];
    Some((worst(&marks), sentence(&parts)))
}

fn grown(x: f64) -> String {
    if x < 0.0 { format!("fall {}", percent(-x)) } else { format!("grow {}", percent(x)) }
}

fn revised(x: f64) -> String {
    match x {
        x if x >= 0.0005 => format!("rose {}", percent(x)),
        x if x <= -0.0005 => format!("fell {}", percent(-x)),
        _ => "stayed as they were".to_owned(),
    }
}
