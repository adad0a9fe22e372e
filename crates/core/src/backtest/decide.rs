//! What is decided at a rebalance, from what was known then.

use super::{BacktestError, document::Backtest};
use crate::{
    domain::Day,
    engine::{Context, Keep, Section},
    formula::{Compiled, Unit},
    panel::CompanyIndex,
    screening::{self, Screen, UniverseError},
};
use std::{cmp::Ordering, collections::BTreeSet, fmt::Debug, sync::Arc};

/// Whom a universe holds on a day.
#[derive(Debug)]
pub(super) struct Among {
    /// In order of symbol.
    pub(super) candidates: Vec<CompanyIndex>,
    /// Their market values in the base currency, where they have one.
    pub(super) caps: Vec<Option<f64>>,
}

/// What is decided on a day.
#[derive(Debug)]
pub(super) struct Decision {
    pub(super) day: Day,
    /// Whom the screen looks among, its floors counted.
    pub(super) among: Arc<Among>,
    /// Those that pass, in the order in which they are picked, as places among the candidates.
    picked: Vec<u32>,
    /// Candidates for which the screen has no answer, and those that pass without one to what is picked by.
    pub(super) undefined: usize,
}

impl Decision {
    /// Whom the screen looks among, in order of symbol.
    pub(super) fn candidates(&self) -> &[CompanyIndex] {
        &self.among.candidates
    }

    /// The market value of a candidate.
    pub(super) fn cap(&self, company: CompanyIndex) -> Option<f64> {
        self.candidates().binary_search(&company).ok().and_then(|place| self.among.caps[place])
    }

    /// Those that pass, in the order in which they are picked.
    pub(super) fn picks(&self) -> impl Iterator<Item = CompanyIndex> {
        self.picked.iter().map(|place| self.candidates()[*place as usize])
    }
}

impl Keep for Among {
    fn bytes(&self) -> usize {
        size_of_val(&*self.candidates) + size_of_val(&*self.caps)
    }
}

impl Keep for Decision {
    fn bytes(&self) -> usize {
        size_of_val(&*self.picked) + size_of::<Decision>()
    }
}

/// What decides, checked: the screen with what picks among those that pass.
#[derive(Debug)]
pub(super) struct Chooser {
    screen: Screen,
    by: Option<Arc<Compiled>>,
    descending: bool,
    pub(super) market_cap: Arc<Compiled>,
    formulas: Vec<Arc<Compiled>>,
    listed: Option<BTreeSet<Arc<str>>>,
}

impl Chooser {
    /// Of a backtest's settings.
    ///
    /// # Errors
    /// What is picked by has a mistake or is no number; a criterion has one: it would count as switched off, and a backtest of another
    /// screen than the one that is meant says nothing.
    pub(super) fn new(context: &Context, settings: &Backtest, screen: &Screen) -> Result<Chooser, BacktestError> {
        let by = settings.by.as_ref().map(|text| number(context, text)).transpose()?;
        Chooser::of(context, screen, by, settings.descending)
    }

    /// Of everyone whom a universe holds.
    pub(super) fn everyone(context: &Context, screen: &Screen) -> Result<Chooser, BacktestError> {
        Chooser::of(context, screen, None, true)
    }

    fn of(context: &Context, screen: &Screen, by: Option<Arc<Compiled>>, descending: bool) -> Result<Chooser, BacktestError> {
        let screen = Screen { name: String::new(), as_of: None, columns: Vec::new(), ..screen.clone() };
        let criteria = screen.blocks.iter().flat_map(|b| &b.criteria).filter(|c| c.enabled).map(|c| &c.formula);
        let texts = criteria.chain(screen.sort.iter().map(|s| &s.formula));
        let floors: Vec<String> = screening::floor_formulas(&screen.universe).collect();
        let compiled = texts.chain(&floors).map(|text| checked(context, text)).collect::<Result<Vec<_>, _>>()?;
        let market_cap = checked(context, "market_cap")?;
        let formulas = compiled.into_iter().chain(by.clone()).chain([market_cap.clone()]).collect();
        let listed = screen.universe.list.as_ref().and_then(|name| context.settings().lists.get(name)).cloned();
        Ok(Chooser { screen, by, descending, market_cap, formulas, listed })
    }

    /// The formulas that a decision asks for.
    pub(super) fn formulas(&self) -> &[Arc<Compiled>] {
        &self.formulas
    }

    /// Whether the decision of a day is kept.
    pub(super) fn has_decided(&self, context: &Context, day: Day) -> bool {
        context.has_derived::<Decision>(day, &self.told(), &self.formulas)
    }

    fn told(&self) -> impl Debug + '_ {
        (&self.screen, self.by.is_some(), self.descending, &self.listed)
    }

    /// The decision of a day, kept: it depends on nothing that is weighed or paid afterwards. Columns, which are asked for once only,
    /// are kept by `apart`.
    pub(super) fn decision(&self, context: &Context, apart: &Context, day: Day) -> Result<Arc<Decision>, BacktestError> {
        context.derived(day, &self.told(), &self.formulas, || {
            let section = Section::new(apart, day);
            section.prepare(&self.formulas);
            let among = self.among(context, &section)?;
            Ok(self.decide(&section, among)?)
        })
    }

    /// Whom the universe holds on a day, kept.
    pub(super) fn among(&self, context: &Context, section: &Section<'_>) -> Result<Arc<Among>, UniverseError> {
        let told = (&self.screen.universe, &self.listed);
        context.derived(section.t(), &told, std::slice::from_ref(&self.market_cap), || self.found(section))
    }

    fn found(&self, section: &Section<'_>) -> Result<Among, UniverseError> {
        let everyone = Screen { universe: self.screen.universe.clone(), ..Screen::default() };
        let places: Vec<usize> = screening::passing(&everyone, section)?.universe.places().collect();
        let caps = section.column(&self.market_cap);
        let cap = |place: &usize| caps.value(*place).number().ok().filter(|cap| *cap > 0.0);
        Ok(Among { caps: places.iter().map(cap).collect(), candidates: places.iter().map(|place| section.members()[*place]).collect() })
    }

    fn decide(&self, section: &Section<'_>, among: Arc<Among>) -> Result<Decision, UniverseError> {
        let found = screening::passing(&self.screen, section)?;
        let keys = self.by.as_ref().map(|by| section.column(by));
        let key = |place: usize| keys.as_ref().and_then(|column| column.numbers()).and_then(|numbers| numbers[place].ok());
        let has_key = |place: usize| self.by.is_none() || key(place).is_some();
        let mut picked: Vec<usize> = found.places.iter().copied().filter(|place| has_key(*place)).collect();
        if self.by.is_some() {
            let value = |place: usize| key(place).unwrap_or_default();
            // What has no debt to pay for is infinite, above every number.
            let order = |a: &usize, b: &usize| {
                let order = value(*a).partial_cmp(&value(*b)).unwrap_or(Ordering::Equal);
                (if self.descending { order.reverse() } else { order }).then(a.cmp(b))
            };
            picked.sort_by(order);
        }
        let undefined = found.unknown.count_ones(..) + found.places.iter().filter(|place| !has_key(**place)).count();
        let place = |place: usize| among.candidates.binary_search(&section.members()[place]).ok();
        let picked = picked.into_iter().filter_map(place).filter_map(|place| u32::try_from(place).ok()).collect();
        Ok(Decision { day: section.t(), undefined, picked, among })
    }
}

/// A formula that answers with a number.
pub(super) fn number(context: &Context, text: &str) -> Result<Arc<Compiled>, BacktestError> {
    let compiled = checked(context, text)?;
    match compiled.unit {
        Unit::Flag | Unit::Text => Err(BacktestError::NoNumber(text.to_owned())),
        _ => Ok(compiled),
    }
}

fn checked(context: &Context, text: &str) -> Result<Arc<Compiled>, BacktestError> {
    context.compile(text).map_err(|error| BacktestError::Formula { formula: text.to_owned(), error })
}
