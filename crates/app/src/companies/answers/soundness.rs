//! Whether it can pay what it owes, where its cash goes, and what could be wrong.

use super::{Mark, Subject, judged, number, sentence, worst};
use artemon_core::{
    domain::Kind,
    wording::figures::{percent, times},
};

pub(super) fn debt(c: &Subject<'_>) -> Option<(Mark, String)> {
    if matches!(c.company.kind(), Kind::Bank | Kind::Insurer) {
        let equity = number(c, "equity_ratio").ok()?;
        return Some((judged(equity, 0.08, 0.05), format!("Equity is {} of its assets.", percent(equity))));
    }
    let (leverage, cover) = (number(c, "debt_to_equity"), number(c, "interest_cover"));
    let mut parts: Vec<String> = Vec::new();
    match leverage {
        Ok(l) => parts.push(format!("debt is {} of common equity", percent(l))),
        Err(_) => parts.push("common equity is used up or not known".to_owned()),
    }
    match cover {
        Ok(x) if x.is_infinite() => parts.push("there is no debt cost".to_owned()),
        Ok(x) => parts.push(format!("operating income covers the interest {} times", times(x))),
        Err(_) => {}
    }
    let ratio = number(c, "current_ratio");
    if let Ok(r) = ratio {
        parts.push(format!("current assets are {} times current liabilities", times(r)));
    }
    let marks = [
        leverage.map_or(Mark::Fails, |l| judged(l, 0.6, 1.5)),
        cover.map_or(Mark::Mixed, |x| judged(x, 5.0, 2.0)),
        ratio.map_or(Mark::Holds, |r| judged(r, 1.2, 0.8)),
    ];
    Some((worst(&marks), sentence(&parts)))
}

/// A yearly change of the number of shares that is none.
const STILL: f64 = 0.0005;

pub(super) fn cash(c: &Subject<'_>) -> Option<(Mark, String)> {
    let shares = number(c, "share_count_growth(5)");
    let shares_mark = shares.map_or(Mark::Mixed, |g| judged(g, 0.005, 0.03));
    let kind = match c.company.kind() {
        Kind::Bank => Some("a bank"),
        Kind::Insurer => Some("an insurer"),
        _ => None,
    };
    if let Some(kind) = kind {
        let paid = number(c, "payout");
        let mut parts = vec![match paid {
            Ok(p) if p > 0.0 => format!("{} of income is paid out", percent(p)),
            _ => "no dividend is paid".to_owned(),
        }];
        parts.extend(shares_said(c));
        parts.push(format!("free cash flow says nothing of {kind}"));
        return Some((worst(&[paid.map_or(Mark::Holds, |p| judged(p, 0.7, 1.0)), shares_mark]), sentence(&parts)));
    }
    let years = number(c, "fcf_positive_years(5)").ok()?;
    let mut parts = vec![format!("free cash flow was positive in {years} of the last 5 years")];
    let cover = number(c, "dividend_cover");
    match cover {
        Ok(x) => parts.push(format!("it covers the dividend {} times", times(x))),
        Err(_) => parts.push("no dividend is paid".to_owned()),
    }
    parts.extend(shares_said(c));
    Some((worst(&[judged(years, 5.0, 2.0), cover.map_or(Mark::Holds, |x| judged(x, 1.2, 0.8)), shares_mark]), sentence(&parts)))
}

/// What becomes of the number of shares.
fn shares_said(c: &Subject<'_>) -> Option<String> {
    let (g, bought) = (number(c, "share_count_growth(5)").ok()?, number(c, "buyback_years(5)").ok()?);
    let change = match g {
        _ if g.abs() < STILL => "stays as it is".to_owned(),
        _ if g < 0.0 => format!("shrinks by {} a year", percent(-g)),
        _ => format!("grows by {} a year", percent(g)),
    };
    Some(format!("the number of shares {change}, with net buybacks in {bought} of the last 5 years"))
}

pub(super) fn wrong(c: &Subject<'_>) -> Option<(Mark, String)> {
    let v = &c.valued.valuation;
    let (flags, unchecked) = (v.quality.red_flags(), v.quality.flags.iter().filter(|f| f.is_err()).count());
    let raised = match flags {
        0 => "no red flag is raised".to_owned(),
        1 => "one red flag is raised".to_owned(),
        n => format!("{n} red flags are raised"),
    };
    let score = match v.quality.score {
        Ok(score) => format!("quality {score:.0} of 100"),
        Err(why) => format!("quality cannot be judged: {why}"),
    };
    let mark = match flags {
        _ if v.quality.score.is_err() && unchecked > flags => Mark::Open,
        0 => Mark::Holds,
        1 | 2 => Mark::Mixed,
        _ => Mark::Fails,
    };
    Some((mark, sentence(&[raised, score])))
}
