//! How two versions of a screen differ, in words.

use super::{
    criterion::{Sentence, sentence},
    formula::label,
    number::write_number,
};
use crate::{
    formula::{Library, Unit, compile_in},
    screening::{Block, Criterion, Need, Screen, ScreenUniverse, SortKey},
};

/// What was changed from one screen to another, a sentence each; none when they are the same.
#[must_use]
pub fn differences(before: &Screen, after: &Screen, library: &Library) -> Vec<String> {
    let mut out = Vec::new();
    turned(&mut out, "Name", &before.name, &after.name);
    universe(&mut out, &before.universe, &after.universe);
    let date = |s: &Screen| s.as_of.map_or_else(|| "the newest session".to_owned(), |d| d.to_string());
    turned(&mut out, "Date", &date(before), &date(after));
    blocks(&mut out, &before.blocks, &after.blocks);
    criteria(&mut out, before, after, library);
    columns(&mut out, before, after, library);
    let order = |s: &Screen| listed(s.sort.iter().map(|k| sorted(k, library)), "symbol");
    turned(&mut out, "Order", &order(before), &order(after));
    let most = |s: &Screen| s.limit.map_or_else(|| "all".to_owned(), |n| n.to_string());
    turned(&mut out, "Companies shown at most", &most(before), &most(after));
    out
}

fn turned(out: &mut Vec<String>, what: &str, before: &str, after: &str) {
    if before != after {
        out.push(format!("{what}: {before} → {after}"));
    }
}

fn listed(words: impl IntoIterator<Item = impl AsRef<str>>, none: &str) -> String {
    let all: Vec<String> = words.into_iter().map(|w| w.as_ref().to_owned()).collect();
    if all.is_empty() { none.to_owned() } else { all.join(", ") }
}

fn universe(out: &mut Vec<String>, before: &ScreenUniverse, after: &ScreenUniverse) {
    let mut lists = |what, none, of: fn(&ScreenUniverse) -> Vec<String>| {
        turned(out, what, &listed(of(before), none), &listed(of(after), none));
    };
    lists("Countries", "all", |u| u.countries.clone());
    lists("Sectors", "all", |u| u.sectors.clone());
    lists("Industries", "all", |u| u.industries.clone());
    lists("Kinds", "all but funds", |u| u.kinds.iter().map(ToString::to_string).collect());
    lists("Index", "none", |u| u.index.iter().cloned().collect());
    lists("List", "none", |u| u.list.iter().cloned().collect());
    let only = |u: &ScreenUniverse| if u.symbols.is_empty() { "all".to_owned() } else { format!("{} by symbol", u.symbols.len()) };
    if before.symbols != after.symbols {
        out.push(format!("Companies: {} → {}", only(before), only(after)));
    }
    let amount = |x: Option<f64>| x.map_or_else(|| "none".to_owned(), |v| write_number(v, Unit::Money));
    let mut floor = |what, of: fn(&ScreenUniverse) -> Option<f64>| turned(out, what, &amount(of(before)), &amount(of(after)));
    floor("Minimum price", |u| u.min_price);
    floor("Minimum market value", |u| u.min_market_cap);
    floor("Minimum traded value a day", |u| u.min_traded_value);
    let order = |u: &ScreenUniverse| {
        let in_words = |o: crate::screening::OrderFloor| {
            format!("{}, at most {} of a day's trading", write_number(o.amount, Unit::Money), write_number(o.max_share, Unit::Percent))
        };
        u.order.map_or_else(|| "none".to_owned(), in_words)
    };
    turned(out, "Amount to invest", &order(before), &order(after));
}

/// What a block asks for.
fn need(block: &Block) -> String {
    match block.need {
        Need::All => "all of its criteria".to_owned(),
        Need::Any => "any of its criteria".to_owned(),
        Need::AtLeast(k) => format!("at least {k} of its criteria"),
    }
}

fn blocks(out: &mut Vec<String>, before: &[Block], after: &[Block]) {
    for i in 0..before.len().max(after.len()) {
        match (before.get(i), after.get(i)) {
            (Some(b), Some(a)) => turned(out, &format!("Block {}", i + 1), &need(b), &need(a)),
            (None, Some(a)) => out.push(format!("Block {} added: {}", i + 1, need(a))),
            (Some(_), None) => out.push(format!("Block {} removed", i + 1)),
            (None, None) => {}
        }
    }
}

/// A criterion with the block it stands in.
type Placed<'s> = (usize, &'s Criterion);

fn placed(screen: &Screen) -> Vec<Placed<'_>> {
    screen.blocks.iter().enumerate().flat_map(|(b, block)| block.criteria.iter().map(move |c| (b, c))).collect()
}

fn criteria(out: &mut Vec<String>, before: &Screen, after: &Screen, library: &Library) {
    let in_words = |c: &Criterion| sentence(c, compile_in(&c.formula, library).ok().map(|f| f.unit), library);
    let mut old: Vec<Option<Placed<'_>>> = placed(before).into_iter().map(Some).collect();
    let mut kept = Vec::new();
    for (block, now) in placed(after) {
        // The same figure in the same block, else in another.
        let same = |here: bool| old.iter().position(|o| o.is_some_and(|(b, c)| c.formula == now.formula && (!here || b == block)));
        match same(true).or_else(|| same(false)).map(|i| (i, old[i].take())) {
            Some((place, Some((was, then)))) => {
                kept.push(place);
                one(out, (was, then, &in_words(then)), (block, now, &in_words(now)));
            }
            _ => out.push(format!("Added: {}", whole(&in_words(now)))),
        }
    }
    out.extend(old.into_iter().flatten().map(|(_, c)| format!("Removed: {}", whole(&in_words(c)))));
    if !kept.is_sorted() {
        out.push("Criteria stand in another order".to_owned());
    }
}

/// How one criterion was changed.
fn one(out: &mut Vec<String>, (was, then, said): (usize, &Criterion, &Sentence), (block, now, says): (usize, &Criterion, &Sentence)) {
    turned(out, &says.what, &said.bound, &says.bound);
    if was != block {
        out.push(format!("{}: moved to block {}", says.what, block + 1));
    }
    match (then.enabled, now.enabled) {
        (true, false) => out.push(format!("{}: switched off", says.what)),
        (false, true) => out.push(format!("{}: switched on", says.what)),
        _ => {}
    }
    if then.note != now.note {
        let note = if now.note.is_empty() { "note removed".to_owned() } else { format!("noted \"{}\"", now.note) };
        out.push(format!("{}: {note}", says.what));
    }
}

fn whole(s: &Sentence) -> String {
    format!("{} {}", s.what, s.bound).trim_end().to_owned()
}

fn columns(out: &mut Vec<String>, before: &Screen, after: &Screen, library: &Library) {
    let missing =
        |from: &[String], of: &[String]| -> Vec<String> { of.iter().filter(|f| !from.contains(f)).map(|f| label(f, library)).collect() };
    let (added, removed) = (missing(&before.columns, &after.columns), missing(&after.columns, &before.columns));
    if !added.is_empty() {
        out.push(format!("Columns added: {}", added.join(", ")));
    }
    if !removed.is_empty() {
        out.push(format!("Columns removed: {}", removed.join(", ")));
    }
    if added.is_empty() && removed.is_empty() && before.columns != after.columns {
        out.push("Columns stand in another order".to_owned());
    }
}

fn sorted(key: &SortKey, library: &Library) -> String {
    format!("{}, {} first", label(&key.formula, library), if key.descending { "highest" } else { "lowest" })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn screen(json: &str) -> Screen {
        serde_json::from_str(json).unwrap_or_else(|e| panic!("{e}"))
    }

    /// Every part of a screen changed once, and what stayed is not told.
    #[test]
    fn every_change_is_one_sentence() {
        let before = screen(
            r#"{"name": "Mine", "universe": {"sectors": ["Food"], "min_market_cap": 5e7}, "blocks": [{"need": "all", "criteria": [
                {"formula": "net_margin", "min": 0.08}, {"formula": "pe", "max": 12}, {"formula": "roe", "min": 0.1},
                {"formula": "eps_positive_years(6)", "min": 6}]}],
                "columns": ["pe", "roe"], "sort": [{"formula": "pe"}]}"#,
        );
        let after = screen(
            r#"{"name": "Ours", "universe": {"order": {"amount": 20000, "max_share": 0.01}}, "blocks": [{"need": 2, "criteria": [
                {"formula": "pe", "max": 15, "note": "was too tight"}, {"formula": "net_margin", "min": 0.08, "enabled": false},
                {"formula": "eps_positive_years(6)", "min": 6}]},
                {"need": "any", "criteria": [{"formula": "insider_cluster"}]}],
                "columns": ["roe", "price"], "sort": [{"formula": "pe", "descending": true}], "limit": 20}"#,
        );
        let said = differences(&before, &after, &crate::measures::library([]));
        insta::assert_snapshot!(said.join("\n"));
        assert!(differences(&after, &after, &crate::measures::library([])).is_empty());
    }

    /// A criterion that went to another block is not told as one that is gone and another that came.
    #[test]
    fn a_moved_criterion_is_the_same_one() {
        let two = |first: &str, second: &str| {
            screen(&format!(r#"{{"blocks": [{{"criteria": [{first}]}}, {{"need": "any", "criteria": [{second}]}}]}}"#))
        };
        let (pe, roe) = (r#"{"formula": "pe", "max": 12}"#, r#"{"formula": "roe", "min": 0.1}"#);
        let said = differences(&two(&format!("{pe}, {roe}"), ""), &two(roe, pe), &crate::measures::library([]));
        assert_eq!(said, ["P/E: moved to block 2", "Criteria stand in another order"]);
    }
}
