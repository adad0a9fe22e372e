//! The change of a value in a sentence.

use super::{
    mixture::Cause,
    value::{ChangedFigure, Part, ValueChange, ValuePoint},
};
use crate::{
    Num,
    formula::Unit,
    wording::figures::{amount, count, date, percent, signed},
};
use std::cmp::Ordering;

/// Parts below this share of the value are not told of.
const TOLD_FROM: f64 = 0.005;
/// Parts told of at most.
const TOLD: usize = 3;

/// "Value 182 → 171: −16 from the filing of 8 Jun 2026 (operating margin 9.3 % → 8.1 %), +5.00 from lower rates."
pub(super) fn sentence(change: &ValueChange) -> String {
    let (before, after) = (&change.before, &change.after);
    let (was, is) = match (before.value, after.value, change.value.as_ref().err()) {
        (Ok(was), Ok(is), None) => (was, is),
        (Err(_), Err(why), _) => return format!("It cannot be valued: {why}."),
        (Err(why), _, _) => return format!("On {} it could not be valued: {why}.", date(before.date)),
        (_, Err(why), _) => return format!("It can no longer be valued: {why}. On {} it could.", date(before.date)),
        (_, _, Some(why)) => return format!("The causes cannot be told: {why}."),
    };
    let least = TOLD_FROM * was.abs().max(is.abs());
    let parts = change.value.iter().flatten().filter(|p| p.amount.abs() >= least).take(TOLD);
    let told: Vec<String> = parts.map(|p| format!("{} from {}", signed(p.amount, amount), causes(p, change))).collect();
    let head = format!("Value {} → {}", amount(was), amount(is));
    if told.is_empty() { format!("{head}: nothing that counts has changed.") } else { format!("{head}: {}.", told.join(", ")) }
}

fn causes(part: &Part, change: &ValueChange) -> String {
    let each: Vec<String> = part.causes.iter().map(|c| cause(*c, part, change)).collect();
    match &each[..] {
        [] => String::new(),
        [one] => one.clone(),
        [first @ .., last] => format!("{} and {last}, which cannot be parted", first.join(", ")),
    }
}

fn cause(cause: Cause, part: &Part, change: &ValueChange) -> String {
    match cause {
        Cause::Filings => filings(change),
        Cause::Estimates => format!("{} expectations of analysts", if part.amount < 0.0 { "lower" } else { "higher" }),
        Cause::Rates => rates(&change.before, &change.after).to_owned(),
        Cause::OwnMultiples => format!("{} usual multiples of its own", if part.amount < 0.0 { "lower" } else { "higher" }),
        Cause::Currencies => "exchange rates".to_owned(),
        Cause::Assumptions => "other assumptions".to_owned(),
        Cause::Price => "the weight of debt at the price".to_owned(),
    }
}

/// By the return that is required, or where that stays by the yield of good bonds.
fn rates(before: &ValuePoint, after: &ValuePoint) -> &'static str {
    let pairs = [(before.required_return, after.required_return), (before.aaa_yield, after.aaa_yield)];
    let moved = pairs.into_iter().find_map(|(was, is)| was.ok()?.partial_cmp(&is.ok()?).filter(|o| o.is_ne()));
    match moved {
        Some(Ordering::Greater) => "lower rates",
        Some(_) => "higher rates",
        None => "other rates",
    }
}

fn filings(change: &ValueChange) -> String {
    let what = match &change.filings[..] {
        [] => "the passing of time in its filings".to_owned(),
        [day] => format!("the filing of {}", date(*day)),
        [.., newest] => format!("{} up to {}", count(change.filings.len(), "filing"), date(*newest)),
    };
    change.figures.first().and_then(figure).map_or(what.clone(), |f| format!("{what} ({f})"))
}

fn figure(f: &ChangedFigure) -> Option<String> {
    let write = |x: Num| x.map(|x| if f.unit == Unit::Percent { percent(x) } else { amount(x) });
    let (was, is) = (write(f.before).ok()?, write(f.after).ok()?);
    (was != is).then(|| format!("{} {was} → {is}", f.label))
}
