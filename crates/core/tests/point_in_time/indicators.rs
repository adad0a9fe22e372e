//! Indicators agree with an independent library: `indicators/make.py` says which and how its values were made.

use super::world::{World, day};
use artemon_core::{
    domain::{Bar, Record},
    measures::compile,
};

#[test]
fn indicators_agree_with_an_independent_library() {
    let mut world = World::new();
    let mut last = String::new();
    for line in include_str!("indicators/bars.csv").lines().skip(1) {
        let cells: Vec<&str> = line.split(',').collect();
        let number = |i: usize| cells[i].parse::<f64>().unwrap();
        let bar = Bar { date: day(cells[0]), open: number(1), high: number(2), low: number(3), close: number(4), volume: number(5) };
        world = world.row(Record::Price { symbol: "SYM".into(), bar });
        cells[0].clone_into(&mut last);
    }
    let context = world.context();
    let company = context.as_of(day(&last)).company(0);
    let expected: std::collections::BTreeMap<String, f64> = serde_json::from_str(include_str!("indicators/expected.json")).unwrap();
    assert!(expected.len() > 40);
    for (formula, want) in expected {
        let got = context.evaluate(&compile(&formula).unwrap(), &[company]).value(0).number().unwrap();
        assert!((got - want).abs() <= 1e-11 * want.abs(), "{formula}: {got}, the library {want}");
    }
}
