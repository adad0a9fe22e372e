//! Screens against a plain reading of what they promise: every count of a screen is what one gets by asking each company
//! by itself, and by running the screen again without a criterion.

use super::{context, records};
use artemon_core::{
    domain::Kind,
    engine::{Context, Section},
    formula::Value,
    measures::compile,
    screening::{self, Block, Criterion, Histogram, Need, Screen, ScreenUniverse},
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
    let blocks = (0..chance.random_range(1..4)).map(|_| block(chance)).collect();
    let universe = ScreenUniverse { min_market_cap: chance.random_bool(0.3).then_some(5e8), ..ScreenUniverse::default() };
    Screen { universe, blocks, ..Screen::default() }
}

/// One company at a time, one criterion at a time: what a screen promises, read off slowly.
struct Plain<'s> {
    screen: &'s Screen,
    /// The companies looked among, as places in the section.
    universe: Vec<usize>,
    /// By criterion, then by company of the universe: its number, if it has one.
    numbers: Vec<Vec<Option<f64>>>,
}

impl Plain<'_> {
    fn of<'s>(context: &Context, screen: &'s Screen, section: &Section<'_>) -> Plain<'s> {
        let company = |place: usize| section.as_of.company(section.members()[place]);
        let number = |formula: &str, place: usize| {
            let Value::Number(v) = context.evaluate(&compile(formula).unwrap(), &[company(place)]).value(0) else { return None };
            Some(v)
        };
        let above_floor = |place: usize| {
            let floor = screen.universe.min_market_cap;
            floor.is_none_or(|least| number("market_cap", place).is_some_and(|v| v >= least))
        };
        let sectors = &screen.universe.sectors;
        let wanted = |place: &usize| {
            let of = company(*place).company();
            of.kind != Kind::Fund && (sectors.is_empty() || sectors.contains(&of.sector)) && above_floor(*place)
        };
        let universe: Vec<usize> = (0..section.members().len()).filter(wanted).collect();
        let criteria = screen.blocks.iter().flat_map(|b| &b.criteria);
        let numbers = criteria.map(|c| universe.iter().map(|place| number(&c.formula, *place)).collect()).collect();
        Plain { screen, universe, numbers }
    }

    /// The criteria with their blocks, counted over all blocks.
    fn criteria(&self) -> impl Iterator<Item = (usize, usize, &Criterion)> {
        let all = self.screen.blocks.iter().enumerate().flat_map(|(b, block)| block.criteria.iter().map(move |c| (b, c)));
        all.enumerate().map(|(place, (b, c))| (place, b, c))
    }

    /// Whether a company meets a criterion; `None` where its figure is undefined.
    fn meets(&self, criterion: usize, company: usize) -> Option<bool> {
        let (.., c) = self.criteria().nth(criterion).unwrap();
        let v = self.numbers[criterion][company]?;
        Some((c.min.is_none_or(|min| v >= min) && c.max.is_none_or(|max| v <= max)) != c.negate)
    }

    /// Whether a company passes a block, without one criterion.
    fn passes_block(&self, block: usize, company: usize, but: Option<usize>) -> bool {
        let on = self.criteria().filter(|(place, b, c)| *b == block && c.enabled && but != Some(*place));
        let met: Vec<bool> = on.map(|(place, ..)| self.meets(place, company) == Some(true)).collect();
        let count = met.iter().filter(|met| **met).count();
        met.is_empty()
            || match self.screen.blocks[block].need {
                Need::All => count == met.len(),
                Need::Any => count >= 1,
                Need::AtLeast(k) => count >= k.min(met.len()),
            }
    }

    /// Who passes, as places in the universe, without one criterion.
    fn passing(&self, but: Option<usize>) -> Vec<usize> {
        let passes = |company: &usize| (0..self.screen.blocks.len()).all(|b| self.passes_block(b, *company, but));
        (0..self.universe.len()).filter(passes).collect()
    }

    /// Companies left after each step, and those of the lost that had no figure.
    fn narrowing(&self) -> Vec<(usize, usize)> {
        let mut left: Vec<usize> = (0..self.universe.len()).collect();
        let mut steps = vec![(left.len(), 0)];
        for (b, block) in self.screen.blocks.iter().enumerate() {
            let mine: Vec<usize> = self.criteria().filter(|(_, of, c)| *of == b && c.enabled).map(|(place, ..)| place).collect();
            if block.need == Need::All {
                for place in mine {
                    let unknown = left.iter().filter(|c| self.meets(place, **c).is_none()).count();
                    left.retain(|c| self.meets(place, *c) == Some(true));
                    steps.push((left.len(), unknown));
                }
            } else if !mine.is_empty() {
                let (stay, lost): (Vec<usize>, Vec<usize>) = left.into_iter().partition(|c| self.passes_block(b, *c, None));
                let unknown = lost.iter().filter(|c| mine.iter().any(|place| self.meets(*place, **c).is_none())).count();
                left = stay;
                steps.push((left.len(), unknown));
            }
        }
        steps
    }

    /// Who would be back without a criterion.
    fn back(&self, criterion: usize) -> Vec<usize> {
        let now = self.passing(None);
        self.passing(Some(criterion)).into_iter().filter(|c| !now.contains(c)).collect()
    }

    fn histogram(&self, criterion: usize) -> Option<Histogram> {
        let (.., c) = self.criteria().nth(criterion)?;
        let values = self.passing(Some(criterion)).into_iter().filter_map(|company| self.numbers[criterion][company]);
        Histogram::of(values.filter(|v| v.is_finite()).collect(), [c.min, c.max].into_iter().flatten())
    }

    /// Whom exactly one criterion keeps out, which it does not meet: company and criterion.
    fn near(&self) -> Vec<(usize, usize)> {
        let on: Vec<usize> = self.criteria().filter(|(.., c)| c.enabled).map(|(place, ..)| place).collect();
        let back: Vec<(usize, Vec<usize>)> = on.into_iter().map(|place| (place, self.back(place))).collect();
        let near = |company: usize| {
            let by: Vec<usize> = back.iter().filter(|(_, b)| b.contains(&company)).map(|(place, _)| *place).collect();
            (by.len() == 1 && self.meets(by[0], company) == Some(false)).then(|| (self.universe[company], by[0]))
        };
        (0..self.universe.len()).filter_map(near).collect()
    }
}

#[test]
fn every_count_of_a_screen_is_that_of_a_plain_reading() {
    let whole = context(records().iter());
    let section = Section::new(&whole, World::last_day().plus_days(-200));
    let mut chance = ChaCha8Rng::seed_from_u64(11);
    let (mut some, mut nearly) = (0, 0);
    for _ in 0..60 {
        let screen = any_screen(&mut chance);
        let (result, plain) = (screening::run(&screen, &section, usize::MAX).unwrap(), Plain::of(&whole, &screen, &section));
        assert_eq!(result.universe.places().collect::<Vec<_>>(), plain.universe, "{screen:?}");
        let expected: Vec<usize> = plain.passing(None).into_iter().map(|c| plain.universe[c]).collect();
        assert_eq!(screening::survivors(&screen, &section).unwrap(), expected, "{screen:?}");
        assert_eq!(result.survivors, expected.len(), "{screen:?}");
        let steps: Vec<(usize, usize)> = result.steps.iter().map(|s| (s.left, s.no_data)).collect();
        assert_eq!(steps, plain.narrowing(), "the narrowing of {screen:?}");
        some += usize::from(!expected.is_empty());
        for (place, _, criterion) in plain.criteria() {
            let counted = &result.criteria[place];
            let count = |answer| (0..plain.universe.len()).filter(|c| plain.meets(place, *c) == answer).count();
            let alone = (counted.pass_alone, counted.fail_alone, counted.undefined);
            assert_eq!(alone, (count(Some(true)), count(Some(false)), count(None)), "{criterion:?}");
            assert_eq!(counted.undefined_why.values().sum::<usize>(), counted.undefined);
            if criterion.enabled {
                assert_eq!(counted.back_if_dropped, plain.back(place).len(), "criterion {place} of {screen:?}");
                assert_eq!(counted.histogram, plain.histogram(place), "criterion {place} of {screen:?}");
            }
        }
        let mut near: Vec<(usize, usize)> = result.near_misses.iter().map(|m| (section.place(m.company).unwrap(), m.criterion)).collect();
        near.sort_unstable();
        assert_eq!(near, plain.near(), "who nearly passes {screen:?}");
        nearly += near.len();
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
        let mut before: Option<Vec<usize>> = None;
        for step in 0..=10 {
            let max = low + (high - low) * f64::from(step) / 10.0;
            let only = Block { need: Need::All, criteria: vec![criterion(formula, None, Some(max))] };
            let screen = Screen { blocks: vec![only], ..Screen::default() };
            let now = screening::survivors(&screen, &section).unwrap();
            assert!(before.is_none_or(|b| b.iter().all(|c| now.contains(c))), "{formula} at most {max}");
            before = Some(now);
        }
    }
}
