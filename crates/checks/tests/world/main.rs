//! The demo world is like a market in which it is hard to find something good: its figures beside the ranges wanted of them, on
//! five days and for five seeds. `make world` prints them as the table in `docs/demo-world.md`.
#![allow(clippy::unwrap_used, clippy::cast_precision_loss)]

mod figures;
mod made;
mod reports;
mod returns;

use figures::Figure;
use made::Made;

/// Whichever seed is taken, on each day; and on average of all seeds and days within the range itself.
#[test]
fn the_figures_are_as_wanted() {
    let worlds: Vec<Vec<Figure>> = (1..=5).map(|seed| figures::all(&Made::of(seed))).collect();
    let seeds = (1..).zip(&worlds).flat_map(|(seed, figures)| figures.iter().map(move |f| (seed, f)));
    let far = seeds.filter(|(_, f)| !f.is_near()).map(|(seed, f)| format!("seed {seed} {f}"));
    let averages = Figure::of_all(&worlds).into_iter().filter(|f| !f.fits_on_average()).map(|f| format!("on average {f}"));
    let wrong: Vec<String> = far.chain(averages).collect();
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
#[ignore = "prints the figures; run by `make world`"]
fn figures_of_the_world() {
    let worlds: Vec<Vec<Figure>> = (1..=5).map(|seed| figures::all(&Made::of(seed))).collect();
    println!("\n| figure | wanted | {} | five worlds |", figures::DAYS.join(" | "));
    println!("|---|---|{}---|", "---|".repeat(figures::DAYS.len()));
    worlds[0].iter().zip(Figure::of_all(&worlds)).for_each(|(shipped, all)| println!("{}", figures::row(shipped, &all)));
}
