//! What is kept says how much memory it takes: exactly what the allocator gives for a copy of it.
#![allow(clippy::unwrap_used)]

#[path = "world/mod.rs"]
mod world;

use artemon_core::{
    domain::{Item::*, Period},
    valuation::{Model, Valuation},
};
use stats_alloc::{INSTRUMENTED_SYSTEM, Region, StatsAlloc};
use std::alloc::System;
use world::{World, day};

#[global_allocator]
static ALLOCATOR: &StatsAlloc<System> = &INSTRUMENTED_SYSTEM;

/// The bytes of a copy in a box; what it shares with others is not copied.
fn copied<T: Clone>(value: &T) -> usize {
    let region = Region::new(ALLOCATOR);
    let copy = Box::new(value.clone());
    let taken = region.change().bytes_allocated;
    drop(copy);
    taken
}

/// One test alone, since the allocator counts for all threads.
#[test]
fn kept_values_say_what_they_take() {
    let items = [(EpsDiluted, 2.0), (NetIncome, 200.0), (Equity, 1000.0), (SharesOutstanding, 100.0), (OperatingCashFlow, 250.0)];
    let w = (2014..2024).fold(World::new().price("2024-03-01", 30.0), |w, y| {
        w.filed((y, Period::FY), &format!("{y}-12-31"), &format!("{}-02-20", y + 1), &items)
    });
    let found = &w.context().valuations(day("2024-03-01"))[0];
    let valuation = Valuation { models: vec![(Model::EarningsMultiple, 30.0); 3], ..found.clone() };
    let quality = &*valuation.quality;
    assert!([valuation.cells.len(), valuation.growth.len(), quality.components.len(), quality.flags.len()].iter().all(|n| *n > 0));
    assert_eq!(quality.bytes(), copied(quality));
    assert_eq!(valuation.bytes(), copied(&valuation) + quality.bytes());
}
