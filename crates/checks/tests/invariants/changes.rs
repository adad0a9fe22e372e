//! What holds of every explained change of a value, on a small demo world.

use super::{context, records};
use artemon_core::{
    changes::{Cause, Part, ValueChange, value_change},
    domain::Day,
    engine::{Context, Settings},
    valuation::{Override, Overrides, RequiredReturn},
};
use artemon_demo::World;
use std::{collections::BTreeSet, sync::Arc};

/// The years back that are explained.
const BACK: [i32; 4] = [1, 3, 12, 60];

/// The changes of all companies over some spans that end on the last day, told from one context to another.
fn changes(before: &Context, after: &Context) -> Vec<ValueChange> {
    let t = World::last_day();
    let of = |index| BACK.map(|months| value_change((before, t.plus_months(-months)), (after, t), index));
    after.as_of(t).universe().iter().flat_map(|c| of(c.index)).collect()
}

fn sum(parts: &[Part]) -> f64 {
    parts.iter().map(|p| p.amount).sum()
}

/// The parts of the value add up to its change, those of the margin to that of the margin, to a billionth; and both ends are the
/// valuations of their days.
#[test]
fn the_parts_add_up_to_the_change() {
    let whole = context(records().iter());
    let all = changes(&whole, &whole);
    let mut told = 0;
    for change in &all {
        let (before, after) = (change.before, change.after);
        assert_eq!(change.value.is_ok(), before.value.is_ok() && after.value.is_ok());
        let Ok(parts) = &change.value else { continue };
        let (was, is) = (before.value.unwrap(), after.value.unwrap());
        assert!((sum(parts) - (is - was)).abs() <= 1e-9 * is.abs().max(was.abs()), "{change:?}");
        let margin = change.margin.as_ref().unwrap();
        let moved = after.margin_of_safety.unwrap() - before.margin_of_safety.unwrap();
        assert!((sum(margin) - moved).abs() <= 1e-9 * moved.abs().max(1.0), "{change:?}");
        told += 1;
    }
    assert!(told > 60, "{told} of {}", all.len());
    let causes: BTreeSet<u32> =
        all.iter().flat_map(|c| c.value.iter().flatten()).flat_map(|p| p.causes.iter().map(|c| *c as u32)).collect();
    let expected = [Cause::Filings, Cause::Estimates, Cause::Rates, Cause::OwnMultiples, Cause::Currencies];
    assert!(expected.iter().all(|c| causes.contains(&(*c as u32))), "{causes:?}");
}

/// From a day to itself nothing changes; under other assumptions on the same day, they alone do.
#[test]
fn on_one_day_only_the_assumptions_can_differ() {
    let (plain, t) = (context(records().iter()), World::last_day());
    let mut settings = Settings::standard(World::base_currency());
    settings.assumptions.required_return = RequiredReturn::Fixed(0.12);
    let strict = plain.with(settings.clone());
    let of_all = |before: &Context, after: &Context| -> Vec<ValueChange> {
        after.as_of(t).universe().iter().map(|c| value_change((before, t), (after, t), c.index)).collect()
    };
    assert!(of_all(&plain, &plain).iter().all(|c| c.value.iter().flatten().next().is_none()));
    let stricter = of_all(&plain, &strict);
    let only = |c: &ValueChange| c.value.iter().flatten().all(|p| p.causes == [Cause::Assumptions]);
    assert!(stricter.iter().all(only) && stricter.iter().any(|c| c.value.iter().flatten().next().is_some()));
    assert!(stricter.iter().filter_map(|c| c.value.as_ref().ok()).all(|parts| sum(parts) <= 0.0));
}

/// What one assumes of a company is an assumption too, and it is of that company alone.
#[test]
fn what_is_assumed_of_one_company_changes_that_one() {
    let (plain, t): (Context, Day) = (context(records().iter()), World::last_day());
    let companies: Vec<u32> = plain.as_of(t).universe().iter().map(|c| c.index).collect();
    let changes_of = |index: u32| {
        let mut settings = Settings::standard(World::base_currency());
        let own = Override { exit_multiple: Some(3.0), ..Override::default() };
        let id = plain.snapshot().company(index).id.to_string();
        settings.overrides = Arc::new(Overrides::new([(id, own)]));
        let other = plain.with(settings);
        companies
            .iter()
            .filter(|c| value_change((&plain, t), (&other, t), **c).value.is_ok_and(|p| !p.is_empty()))
            .copied()
            .collect::<Vec<_>>()
    };
    let hit = companies.iter().take(12).map(|c| (*c, changes_of(*c))).filter(|(_, changed)| !changed.is_empty()).collect::<Vec<_>>();
    assert!(hit.len() > 3 && hit.iter().all(|(c, changed)| changed == &[*c]), "{hit:?}");
}
