//! Screens against a plain reading of what they promise: every count of a screen is what one gets by asking each company
//! by itself, and by running the screen again without a criterion.

use super::{context, records};
use artemon_core::{
    engine::{Context, Section},
    formula::Value,
    measures::compile,
    panel::CompanyAt,
    screening::{self, Block, Criterion, Need, Screen, ScreenResult},
};
use artemon_demo::World;
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;

/// What may be asked, with bounds between which some companies lie.
const ASKED: [(&str, f64, f64); 10] = [
    ("pe", 5.0, 40.0),
    ("roe", 0.0, 0.3),
    ("net_margin", 0.0, 0.25),
    ("debt_to_equity", 0.0, 2.0),
    ("own_rank(pb, 5y)", 0.0, 100.0),
    ("eps_growth(5)", -0.1, 0.3),
    ("dividend_yield", 0.0, 0.06),
    ("current_ratio", 0.5, 3.0),
    ("from_low_52w", 0.0, 1.0),
    ("margin_of_safety", -0.5, 0.6),
];

fn criterion(formula: &str, min: Option<f64>, max: Option<f64>) -> Criterion {
    let (formula, note) = (formula.to_owned(), String::new());
    Criterion { formula, min, max, equals: None, one_of: Vec::new(), negate: false, enabled: true, note }
}

fn any_screen(chance: &mut ChaCha8Rng) -> Screen {
    let any = |chance: &mut ChaCha8Rng| {
        let (formula, low, high) = ASKED[chance.random_range(0..ASKED.len())];
        let bound = |chance: &mut ChaCha8Rng| chance.random_bool(0.6).then(|| low + (high - low) * chance.random::<f64>());
        let (min, max) = (bound(chance), bound(chance));
        // One bound at least, and in order.
        let (min, max) = match (min, max) {
            (None, None) => (Some(f64::midpoint(low, high)), None),
            (Some(a), Some(b)) if a > b => (Some(b), Some(a)),
            other => other,
        };
        let (negate, enabled) = (chance.random_bool(0.2), chance.random_bool(0.85));
        Criterion { negate, enabled, ..criterion(formula, min, max) }
    };
    let block = |chance: &mut ChaCha8Rng| {
        let need = [Need::All, Need::Any, Need::AtLeast(2)][chance.random_range(0..3)];
        let criteria = (0..chance.random_range(1..5)).map(|_| any(chance)).collect();
        Block { need, criteria }
    };
    Screen { blocks: (0..chance.random_range(1..4)).map(|_| block(chance)).collect(), ..Screen::default() }
}

/// Whether a company passes a criterion; `None` where its figure is undefined.
fn passes(context: &Context, criterion: &Criterion, company: &CompanyAt<'_>) -> Option<bool> {
    let row = context.as_of(company.t()).company(company.index);
    let column = context.evaluate(&compile(&criterion.formula).unwrap(), &[row]);
    let Value::Number(v) = column.value(0) else { return None };
    let within = criterion.min.is_none_or(|min| v >= min) && criterion.max.is_none_or(|max| v <= max);
    Some(within != criterion.negate)
}

fn passes_all(context: &Context, screen: &Screen, company: &CompanyAt<'_>) -> bool {
    screen.blocks.iter().all(|block| {
        let on: Vec<bool> = block.criteria.iter().filter(|c| c.enabled).map(|c| passes(context, c, company) == Some(true)).collect();
        let met = on.iter().filter(|met| **met).count();
        on.is_empty()
            || match block.need {
                Need::All => met == on.len(),
                Need::Any => met >= 1,
                Need::AtLeast(k) => met >= k.min(on.len()),
            }
    })
}

/// The screen without a criterion, counted over all blocks.
fn without(screen: &Screen, place: usize) -> Screen {
    let mut out = screen.clone();
    out.blocks.iter_mut().flat_map(|b| &mut b.criteria).nth(place).unwrap().enabled = false;
    out
}

fn symbols(result: &ScreenResult, section: &Section<'_>) -> Vec<u32> {
    let mut all: Vec<u32> = result.survivors.iter().map(|i| section.members()[*i]).collect();
    all.sort_unstable();
    all
}

#[test]
fn every_count_of_a_screen_is_that_of_a_plain_reading() {
    let whole = context(records().iter());
    let t = World::last_day().plus_days(-200);
    let (section, universe) = (Section::new(&whole, t), whole.as_of(t).universe());
    let mut chance = ChaCha8Rng::seed_from_u64(11);
    let (mut some, mut nearly) = (0, 0);
    for _ in 0..60 {
        let screen = any_screen(&mut chance);
        let result = screening::run(&screen, &section).unwrap();
        let expected: Vec<u32> = universe.iter().filter(|c| passes_all(&whole, &screen, c)).map(|c| c.index).collect();
        assert_eq!(symbols(&result, &section), expected, "{screen:?}");
        let alone: Vec<u32> = screening::survivors(&screen, &section).unwrap().iter().map(|p| section.members()[*p]).collect();
        assert_eq!(alone, expected, "the survivors alone of {screen:?}");
        assert_eq!(result.steps.last().map(|s| s.left), Some(expected.len()), "the narrowing ends with the survivors: {screen:?}");
        some += usize::from(!expected.is_empty());
        for (place, criterion) in screen.blocks.iter().flat_map(|b| &b.criteria).enumerate() {
            let answers: Vec<Option<bool>> = universe.iter().map(|c| passes(&whole, criterion, c)).collect();
            let count = |answer| answers.iter().filter(|a| **a == answer).count();
            let (counted, back) = (&result.criteria[place], result.criteria[place].back_if_dropped);
            let alone = (counted.pass_alone, counted.fail_alone, counted.undefined);
            assert_eq!(alone, (count(Some(true)), count(Some(false)), count(None)), "{criterion:?}");
            if criterion.enabled {
                let dropped = symbols(&screening::run(&without(&screen, place), &section).unwrap(), &section);
                assert_eq!(back, dropped.iter().filter(|c| !expected.contains(c)).count(), "criterion {place} of {screen:?}");
            }
        }
        // Who nearly passes: kept out by one criterion that could be loosened, and back without it.
        for miss in &result.near_misses {
            nearly += 1;
            let back = symbols(&screening::run(&without(&screen, miss.criterion), &section).unwrap(), &section);
            assert!(back.contains(&miss.company) && !expected.contains(&miss.company), "{miss:?} of {screen:?}");
        }
        let sizes: Vec<f64> = result.near_misses.iter().filter_map(|m| m.miss_relative).map(f64::abs).collect();
        assert!(sizes.windows(2).all(|w| w[0] <= w[1]), "nearest first: {sizes:?}");
    }
    assert!(some > 20 && nearly > 100, "{some} screens leave somebody, {nearly} near misses");
}

/// A bound loosened never loses a company, one tightened never gains one.
#[test]
fn bounds_are_monotone() {
    let whole = context(records().iter());
    let section = Section::new(&whole, World::last_day());
    for (formula, low, high) in ASKED {
        let mut before: Option<Vec<u32>> = None;
        for step in 0..=10 {
            let max = low + (high - low) * f64::from(step) / 10.0;
            let only = Block { need: Need::All, criteria: vec![criterion(formula, None, Some(max))] };
            let screen = Screen { blocks: vec![only], ..Screen::default() };
            let now = symbols(&screening::run(&screen, &section).unwrap(), &section);
            assert!(before.is_none_or(|b| b.iter().all(|c| now.contains(c))), "{formula} at most {max}");
            before = Some(now);
        }
    }
}
