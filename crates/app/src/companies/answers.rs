//! The questions a reader asks of a company, each answered in one computed sentence.

use super::peers::places;
use crate::figures::figure;
use artemon_core::{
    Num,
    domain::Kind,
    engine::Context,
    panel::CompanyAt,
    valuation::{CompanyValue, Status},
    wording::figures::{amount, percent, times},
};
use serde::Serialize;
use utoipa::ToSchema;

/// Whether what one hopes for holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Mark {
    Holds,
    Mixed,
    Fails,
    /// Not enough is known, or there is nothing to judge.
    Open,
}

/// A question with its answer.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Answer {
    pub id: &'static str,
    pub question: &'static str,
    pub mark: Mark,
    pub sentence: String,
}

/// A question's id and text, and what answers it; `None` when too little is known.
type Part = (&'static str, &'static str, fn(&Subject<'_>) -> Option<(Mark, String)>);

/// Whom the questions are asked of.
struct Subject<'s> {
    context: &'s Context,
    company: &'s CompanyAt<'s>,
    /// Its valuation at the date.
    valued: &'s CompanyValue,
}

/// A formula's answer for the subject.
fn number(s: &Subject<'_>, formula: &str) -> Num {
    figure::number(s.context, s.company, formula)
}

/// The answers for a company, in the order in which one reads.
pub(crate) fn answers(context: &Context, company: &CompanyAt<'_>, valued: &CompanyValue) -> Vec<Answer> {
    let subject = Subject { context, company, valued };
    let parts: [Part; 9] = [
        ("does", "What does it do?", does),
        ("earnings", "Does it earn more each year?", earnings),
        ("multiple", "What did the market pay for that?", multiple),
        ("margin", "How well does it turn sales into profit?", margin),
        ("debt", "Can it pay what it owes?", debt),
        ("cash", "Where does the cash go?", cash),
        ("owners", "Who owns it, who is buying?", owners),
        ("worth", "What is it worth?", worth),
        ("wrong", "What could be wrong?", wrong),
    ];
    let one = |(id, question, answer): Part| {
        let (mark, sentence) = answer(&subject).unwrap_or((Mark::Open, "Too little is known to say.".to_owned()));
        Answer { id, question, mark, sentence }
    };
    parts.into_iter().map(one).collect()
}

/// Of three marks: holds from `good`, fails from `bad`.
fn judged(x: f64, good: f64, bad: f64) -> Mark {
    let higher_is_better = good > bad;
    if (x >= good) == higher_is_better || (x - good).abs() < f64::EPSILON {
        Mark::Holds
    } else if (x <= bad) == higher_is_better {
        Mark::Fails
    } else {
        Mark::Mixed
    }
}

fn earnings(c: &Subject<'_>) -> Option<(Mark, String)> {
    let known = number(c, "statement_years").ok()?;
    let n = (known - 1.0).clamp(0.0, 9.0);
    if n < 2.0 {
        return None;
    }
    let rises = number(c, &format!("eps_rising_years({n})")).ok()?;
    let profits = number(c, &format!("eps_positive_years({})", n + 1.0)).ok()?;
    let losses = n + 1.0 - profits;
    let record = match losses as u32 {
        0 => "never a loss".to_owned(),
        1 => "one year with a loss".to_owned(),
        l => format!("{l} years with a loss"),
    };
    let pace = number(c, "else(eps_trend(5), eps_growth(5))")
        .map(|g| format!(", about {} a year over five years", percent(g)))
        .unwrap_or_default();
    let mark = if losses == 0.0 { judged(rises / n, 0.66, 0.34) } else { judged(losses, 0.5, 2.5).max_of(Mark::Mixed) };
    Some((mark, format!("Higher in {rises} of the last {n} years, {record}{pace}.")))
}

fn multiple(c: &Subject<'_>) -> Option<(Mark, String)> {
    let Ok(pe) = number(c, "pe") else {
        return Some((Mark::Fails, "There are no earnings to pay for.".to_owned()));
    };
    let (rank, usual) = (number(c, "own_rank(pe, 10y)"), number(c, "own_median(pe, 10y)"));
    let (Ok(rank), Ok(usual)) = (rank, usual) else {
        return Some((Mark::Open, format!("Today's price is {} times earnings; its own history is too short to compare.", times(pe))));
    };
    let place = if rank <= 50.0 {
        format!("cheaper than in {:.0}\u{2009}% of", 100.0 - rank)
    } else {
        format!("dearer than in {rank:.0}\u{2009}% of")
    };
    Some((
        judged(rank, 33.0, 67.0),
        format!("Today's {} times earnings is {place} its own ten years; the usual multiple is {}.", times(pe), times(usual)),
    ))
}

fn margin(c: &Subject<'_>) -> Option<(Mark, String)> {
    let (now, usual) = (number(c, "net_margin").ok()?, number(c, "fy_average(net_margin, 5)"));
    let roe = number(c, "roe").map(|r| format!(" Return on equity is {}.", percent(r))).unwrap_or_default();
    let against = usual.map(|u| format!("; the mean of five years is {}", percent(u))).unwrap_or_default();
    let fell = usual.is_ok_and(|u| now < 0.8 * u);
    let mark = judged(now, 0.08, 0.02);
    let mark = if fell { mark.max_of(Mark::Mixed) } else { mark };
    Some((mark, format!("{} of sales is left as profit{against}.{roe}", percent(now))))
}

fn debt(c: &Subject<'_>) -> Option<(Mark, String)> {
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

/// Where it stands among those of its industry; that is no judgement.
fn does(s: &Subject<'_>) -> Option<(Mark, String)> {
    let (group, places) = places(s.context, s.company);
    let [size, growth, margin, value] = &places[..] else { return None };
    let group = group.to_lowercase();
    let place = size.place?;
    if size.of < 2 {
        return Some((Mark::Open, format!("The only one of its kind listed in {group}.")));
    }
    let largest = if place == 1 { "The largest".to_owned() } else { format!("The {} largest", ordinal(place)) };
    let others: Vec<String> = [(growth, "growth"), (margin, "margin"), (value, "price to value")]
        .into_iter()
        .filter_map(|(of, by)| Some(format!("{} of {} by {by}", ordinal(of.place?), of.of)))
        .collect();
    let others = if others.is_empty() { String::new() } else { format!("; {}", others.join(", ")) };
    Some((Mark::Open, format!("{largest} of {} in {group}{others}.", size.of)))
}

/// 1st, 2nd, 3rd, 4th, 11th.
fn ordinal(n: usize) -> String {
    let ending = match (n % 10, n % 100) {
        (1, tens) if tens != 11 => "st",
        (2, tens) if tens != 12 => "nd",
        (3, tens) if tens != 13 => "rd",
        _ => "th",
    };
    format!("{n}{ending}")
}

/// A yearly change of the number of shares that is none.
const STILL: f64 = 0.0005;

fn cash(c: &Subject<'_>) -> Option<(Mark, String)> {
    let years = number(c, "fcf_positive_years(5)").ok()?;
    let mut parts = vec![format!("free cash flow was positive in {years} of the last 5 years")];
    let cover = number(c, "dividend_cover");
    match cover {
        Ok(x) => parts.push(format!("it covers the dividend {} times", times(x))),
        Err(_) => parts.push("no dividend is paid".to_owned()),
    }
    let (shares, bought) = (number(c, "share_count_growth(5)"), number(c, "buyback_years(5)"));
    if let (Ok(g), Ok(b)) = (shares, bought) {
        let change = match g {
            _ if g.abs() < STILL => "stays as it is".to_owned(),
            _ if g < 0.0 => format!("shrinks by {} a year", percent(-g)),
            _ => format!("grows by {} a year", percent(g)),
        };
        parts.push(format!("the number of shares {change}, with net buybacks in {b} of the last 5 years"));
    }
    let marks = [
        judged(years, 5.0, 2.0),
        cover.map_or(Mark::Holds, |x| judged(x, 1.2, 0.8)),
        shares.map_or(Mark::Mixed, |g| judged(g, 0.005, 0.03)),
    ];
    Some((worst(&marks), sentence(&parts)))
}

fn owners(c: &Subject<'_>) -> Option<(Mark, String)> {
    let stake = number(c, "insider_stake");
    let mut parts: Vec<String> = stake.iter().map(|s| format!("insiders hold {}", percent(*s))).collect();
    let (buyers, sellers, net) =
        (number(c, "insider_buyers(12)"), number(c, "insider_sellers(12)"), number(c, "insider_net_buying_ratio(12)"));
    let mut mark = Mark::Mixed;
    if let (Ok(b), Ok(s)) = (buyers, sellers) {
        parts.push(format!("{b} bought and {s} sold on the open market within a year"));
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

fn worth(c: &Subject<'_>) -> Option<(Mark, String)> {
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

fn wrong(c: &Subject<'_>) -> Option<(Mark, String)> {
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

/// Joins parts to one sentence.
fn sentence(parts: &[String]) -> String {
    let text = parts.join("; ");
    let mut letters = text.chars();
    letters.next().map(|first| format!("{}{}.", first.to_uppercase(), letters.as_str())).unwrap_or_default()
}

fn worst(marks: &[Mark]) -> Mark {
    marks.iter().fold(Mark::Holds, |worst, m| worst.max_of(*m))
}

impl Mark {
    /// The worse of two marks.
    fn max_of(self, other: Mark) -> Mark {
        let order = |m| match m {
            Mark::Holds => 0,
            Mark::Open => 1,
            Mark::Mixed => 2,
            Mark::Fails => 3,
        };
        if order(other) > order(self) { other } else { self }
    }
}
