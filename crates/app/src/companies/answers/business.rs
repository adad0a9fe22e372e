//! What it does, what it earns, and what the market pays for that.

use super::{
    super::peers::places,
    {Mark, Subject, judged, number},
};
use artemon_core::{
    Why,
    wording::figures::{percent, times},
};

/// Where it stands among those of its industry; that is no judgement.
pub(super) fn does(s: &Subject<'_>) -> Option<(Mark, String)> {
    if !s.company.in_universe() {
        return Some((Mark::Open, "It is not traded on this date, so that it has no place among others.".to_owned()));
    }
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

pub(super) fn earnings(c: &Subject<'_>) -> Option<(Mark, String)> {
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
        .map(|g| format!(", about {} a year over five years{}", percent(g), smoothness(c)))
        .unwrap_or_default();
    let mark = if losses == 0.0 { judged(rises / n, 0.66, 0.34) } else { judged(losses, 0.5, 2.5).max_of(Mark::Mixed) };
    Some((mark, format!("Higher in {rises} of the last {n} years, {record}{pace}.")))
}

/// How close the earnings keep to their trend: R² of the line through their logarithms.
fn smoothness(c: &Subject<'_>) -> &'static str {
    match number(c, "eps_trend_fit(5)") {
        Ok(fit) if fit >= 0.85 => ", smoothly",
        Ok(fit) if fit < 0.4 => ", by leaps",
        Ok(_) => ", unevenly",
        Err(_) => "",
    }
}

pub(super) fn multiple(c: &Subject<'_>) -> Option<(Mark, String)> {
    let pe = match number(c, "pe") {
        Ok(pe) => pe,
        Err(Why::NotPositive) => return Some((Mark::Fails, "There are no earnings to pay for.".to_owned())),
        Err(_) => return None,
    };
    let (rank, usual) = (number(c, "own_rank(pe, 10y)"), number(c, "own_median(pe, 10y)"));
    let (Ok(rank), Ok(usual)) = (rank, usual) else {
        return Some((Mark::Open, format!("Today's price is {} times earnings; its own history is too short to compare.", times(pe))));
    };
    let place = if rank <= 50.0 {
        format!("cheaper than in {:.0}\u{202f}% of", 100.0 - rank)
    } else {
        format!("dearer than in {rank:.0}\u{202f}% of")
    };
    Some((
        judged(rank, 33.0, 67.0),
        format!("Today's {} times earnings is {place} its own ten years; the usual multiple is {}.", times(pe), times(usual)),
    ))
}

pub(super) fn margin(c: &Subject<'_>) -> Option<(Mark, String)> {
    let (now, usual) = (number(c, "net_margin").ok()?, number(c, "fy_average(net_margin, 5)"));
    let roe = number(c, "roe").map(|r| format!(" Return on equity is {}.", percent(r))).unwrap_or_default();
    let against = usual.map(|u| format!("; the mean of five years is {}", percent(u))).unwrap_or_default();
    let fell = usual.is_ok_and(|u| now < 0.8 * u);
    let mark = judged(now, 0.08, 0.02);
    let mark = if fell { mark.max_of(Mark::Mixed) } else { mark };
    Some((mark, format!("{} of sales is left as profit{against}.{roe}", percent(now))))
}
