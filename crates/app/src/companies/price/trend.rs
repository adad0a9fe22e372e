//! The check of the trend by day, week and month, read out for people who do not read charts.

use super::super::answers::{Mark, Subject, number};
use artemon_core::{
    domain::BarSize,
    price::trend_tests,
    wording::figures::{date, percent},
};

/// What so many of the six signs say.
const SAID: [&str; 7] = ["falling", "falling", "falling more than rising", "undecided", "rising more than falling", "rising", "rising"];

/// The answer to the question what the price says: it confirms, it is no reason to buy.
pub(crate) fn price(s: &Subject<'_>) -> Option<(Mark, String)> {
    let horizons = [(BarSize::Day, "day"), (BarSize::Week, "week"), (BarSize::Month, "month")];
    let signs = horizons.map(|(size, name)| (name, trend_tests(s.company, size).ok().map(|t| t.iter().filter(|held| **held).count())));
    let known: Vec<(&str, usize)> = signs.into_iter().filter_map(|(name, n)| Some((name, n?))).collect();
    let Some(place) = year(s) else {
        let sessions = s.company.bars().len();
        let since = s.company.bars().dates().first().map(|d| format!(", since {}", date(*d))).unwrap_or_default();
        return (sessions > 0)
            .then(|| (Mark::Open, format!("Prices of {sessions} sessions are known{since}: too few for a year's range.")));
    };
    if known.is_empty() {
        return Some((Mark::Open, format!("{place}; its history is too short to judge a trend.")));
    }
    let said: Vec<String> = known.iter().map(|(name, n)| format!("by {name} {} ({n} of 6 signs)", SAID[*n])).collect();
    let (held, of) = (known.iter().map(|k| k.1).sum::<usize>(), 6 * known.len());
    let mark = match () {
        () if held * 3 >= of * 2 => Mark::Holds,
        () if held * 3 <= of => Mark::Fails,
        () => Mark::Mixed,
    };
    Some((mark, format!("{place}; {}.", said.join(", "))))
}

/// Where the price is between the low and the high of a year.
fn year(s: &Subject<'_>) -> Option<String> {
    let (low, high) = (number(s, "from_low_52w").ok()?, number(s, "from_high_52w").ok()?);
    let strength = number(s, "rsi(14)").ok();
    let tired = match strength {
        Some(r) if r < 30.0 => ", oversold",
        Some(r) if r > 70.0 => ", overbought",
        _ => "",
    };
    Some(format!("The price is {} above its yearly low and {} under its high{tired}", percent(low), percent(-high)))
}
