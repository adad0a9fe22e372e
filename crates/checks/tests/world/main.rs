//! The demo world is like a market in which it is hard to find something good: its figures beside the ranges wanted of them, on
//! five days and for five seeds. `make world` prints them as the table in `docs/demo-world.md`.
#![allow(clippy::unwrap_used, clippy::cast_precision_loss)]

mod figures;
mod made;
mod returns;

use made::Made;

/// Whichever seed is taken.
#[test]
fn the_figures_are_near_their_ranges() {
    let far: Vec<String> = (1..=5)
        .flat_map(|seed| figures::all(&Made::of(seed)).into_iter().filter(|f| !f.is_near()).map(move |f| format!("seed {seed} {f}")))
        .collect();
    assert!(far.is_empty(), "{}", far.join("\n"));
}

#[test]
#[ignore = "prints the figures; run by `make world`"]
fn figures_of_the_world() {
    let seeds: Vec<u64> = std::env::var("SEEDS").map_or_else(|_| vec![1], |s| s.split(',').map(|n| n.parse().unwrap()).collect());
    for seed in seeds {
        let figures = figures::all(&Made::of(seed));
        let outside = figures.iter().filter(|f| !f.fits()).count();
        println!("\nseed {seed}: {outside} of {} outside of their range\n", figures.len());
        println!("| figure | wanted | {} |", figures::DAYS.join(" | "));
        println!("|---|---|{}", "---|".repeat(figures::DAYS.len()));
        figures.iter().for_each(|f| println!("{f}"));
    }
}
