//! A snapshot with its cache; and the same as one person sees it.

use super::{
    cache::{Cache, Keep},
    cancel::Cancel,
    key::{Key, What},
    settings::{Fingerprints, Settings},
};
use crate::{
    Num, Why,
    domain::Day,
    formula::{
        self, Answers, Column, Compiled, Depends, Explanation, Fingerprint, FormulaError, FromFilings, History, Host, Identity, Judgement,
        MadeHistories, OwnRange, Reach, Unit, ValueField, ValueTable, View,
    },
    insiders::{self, Followed},
    panel::{AsOf, CompanyAt, CompanyIndex, FilingState, Snapshot},
    price::MarketReturns,
    valuation::{self, CompanyValue, Start, Valuation, What as Valued},
};
use std::{any::TypeId, fmt::Debug, sync::Arc};

/// Memory for what is computed for once only, in bytes: the columns and valuations of a date.
const APART_BYTES: u64 = 200_000_000;

/// Sessions that may follow each other before what is kept of the earliest is let go.
const SETTLED: usize = 64;

/// A snapshot of the dataset with what was computed from it.
#[derive(Clone, Debug)]
pub struct Engine {
    snapshot: Arc<Snapshot>,
    generation: u64,
    /// Up to which days what is kept belongs to earlier generations: nothing known by then has changed since. By day.
    settled: Vec<(Day, u64)>,
    /// The generation to which own histories belong: they hold whole months, so that sessions of one month share them.
    histories: u64,
    /// The generation of the month before, whose histories go on being right up to a day.
    histories_before: Option<(u64, Day)>,
    cache: Cache,
    /// Where what serves one day or one state of filings is kept: the same, unless it is computed apart.
    narrow: Cache,
}

impl Engine {
    /// Of a snapshot; nothing is kept yet.
    #[must_use]
    pub fn new(snapshot: Snapshot) -> Engine {
        Engine::with_cache(snapshot, Cache::default())
    }

    /// Of a snapshot, with a cache of its own.
    #[must_use]
    pub fn with_cache(snapshot: Snapshot, cache: Cache) -> Engine {
        Engine {
            snapshot: Arc::new(snapshot),
            generation: 0,
            settled: Vec::new(),
            histories: 0,
            histories_before: None,
            narrow: cache.clone(),
            cache,
        }
    }

    /// Of the snapshot that follows: what depends on one company's filings alone, and on nothing new, stays kept.
    #[must_use]
    pub fn next(&self, snapshot: Snapshot) -> Engine {
        let generation = self.generation + 1;
        self.cache.forget_before(generation, &[], generation);
        let (snapshot, cache) = (Arc::new(snapshot), self.cache.clone());
        let narrow = cache.clone();
        Engine { snapshot, generation, settled: Vec::new(), histories: generation, histories_before: None, cache, narrow }
    }

    /// Of the snapshot that follows when all that came became known after a day: what is kept as of that day and of those before it
    /// stays as well.
    #[must_use]
    pub fn next_session(&self, snapshot: Snapshot, last: Day) -> Engine {
        // What is kept names companies by their positions.
        if !snapshot.has_companies_of(&self.snapshot) {
            return self.next(snapshot);
        }
        let generation = self.generation + 1;
        let known = self.settled.iter().copied().filter(|(day, _)| *day < last);
        let settled: Vec<(Day, u64)> = known.chain([(last, self.generation)]).collect();
        let settled = settled[settled.len().saturating_sub(SETTLED)..].to_vec();
        let same_month = snapshot.sessions().is_some_and(|(_, newest)| newest.month_index() == last.month_index());
        let (histories, histories_before) = if same_month {
            (self.histories, self.histories_before)
        } else {
            (generation, Some((self.histories, last.month_start().plus_days(-1))))
        };
        self.cache.forget_before(generation, &settled, histories_before.map_or(histories, |before| before.0));
        let (snapshot, cache) = (Arc::new(snapshot), self.cache.clone());
        Engine { snapshot, generation, settled, histories, histories_before, narrow: cache.clone(), cache }
    }

    /// Where something is kept.
    fn cache_of(&self, key: &Key) -> &Cache {
        match key.what {
            What::Compiled(..) | What::History(..) | What::Whole(_) => &self.cache,
            _ => &self.narrow,
        }
    }

    /// The generation to which something kept belongs.
    fn generation_of(&self, what: &What) -> u64 {
        if let What::History(..) = what {
            return self.histories;
        }
        let day = what.day();
        let of = |t: Day| self.settled.iter().find(|(upto, _)| t <= *upto).map(|(_, generation)| *generation);
        day.and_then(of).unwrap_or(self.generation)
    }

    /// The data.
    #[must_use]
    pub fn snapshot(&self) -> &Snapshot {
        &self.snapshot
    }

    /// Something about the snapshot as a whole, made when first asked for; there is one of a type.
    pub fn whole<T: Keep>(&self, make: impl FnOnce() -> T) -> Arc<T> {
        let key = Key { generation: Some(self.generation), what: What::Whole(TypeId::of::<T>()), settings: Default::default() };
        self.cache.get_or_make(key, || Arc::new(make()))
    }

    /// As one person sees it.
    #[must_use]
    pub fn context(&self, settings: Arc<Settings>) -> Context {
        let fingerprints = Fingerprints::of(&settings);
        Context { engine: self.clone(), settings, fingerprints, cancel: Cancel::default() }
    }
}

/// The engine as one person sees it.
#[derive(Clone, Debug)]
pub struct Context {
    engine: Engine,
    settings: Arc<Settings>,
    fingerprints: Fingerprints,
    cancel: Cancel,
}

impl Context {
    /// The same data under other settings.
    #[must_use]
    pub fn with(&self, settings: Settings) -> Context {
        Context { cancel: self.cancel.clone(), ..self.engine.context(Arc::new(settings)) }
    }

    /// The same, given up when `cancel` says so.
    #[must_use]
    pub fn given_up_by(self, cancel: Cancel) -> Context {
        Context { cancel, ..self }
    }

    /// The same with a cache of its own for what serves one day or one state of filings: what is computed for once only does not push
    /// out what is asked for again. Own histories, which serve all days, are shared.
    #[must_use]
    pub fn apart(&self) -> Context {
        let engine = Engine { narrow: Cache::bounded(APART_BYTES), ..self.engine.clone() };
        Context { engine, ..self.clone() }
    }

    /// What tells whether anybody still waits.
    #[must_use]
    pub fn cancel(&self) -> &Cancel {
        &self.cancel
    }

    /// The data with its cache.
    #[must_use]
    pub fn engine(&self) -> &Engine {
        &self.engine
    }

    /// The data.
    #[must_use]
    pub fn snapshot(&self) -> &Snapshot {
        &self.engine.snapshot
    }

    /// What is computed with.
    #[must_use]
    pub fn settings(&self) -> &Settings {
        &self.settings
    }

    /// What was known at a date.
    #[must_use]
    pub fn as_of(&self, t: Day) -> AsOf<'_> {
        AsOf { snapshot: &self.engine.snapshot, base: self.settings.base, t }
    }

    /// That, with all that formulas need.
    #[must_use]
    pub fn view(&self, t: Day) -> View<'_> {
        View { as_of: self.as_of(t), host: self }
    }

    /// Checks a formula as its user types it.
    ///
    /// # Errors
    /// The first mistake, where it is, and what may have been meant.
    pub fn compile(&self, text: &str) -> Result<Arc<Compiled>, FormulaError> {
        let library = &self.settings.library;
        let what = What::Compiled(library.fingerprint(), text.into());
        let key = Key { generation: None, what, settings: Default::default() };
        if let Some(known) = self.engine.cache.get(&key) {
            return Ok(known);
        }
        let made = Arc::new(formula::compile_in(text, library)?);
        self.engine.cache.keep(key, made.clone());
        Ok(made)
    }

    /// Answers a formula for every row.
    #[must_use]
    pub fn evaluate<'a>(&'a self, formula: &Compiled, rows: &[CompanyAt<'a>]) -> Column {
        formula::evaluate(self.view_of(rows), formula, rows)
    }

    /// Answers several formulas for every row: what is read of their filings is read once for all.
    #[must_use]
    pub fn evaluate_all<'a>(&'a self, formulas: &[&Compiled], rows: &[CompanyAt<'a>]) -> Vec<Column> {
        formula::evaluate_all(self.view_of(rows), formulas, rows)
    }

    /// The ranges behind ranks in the own history; `None` for other formulas.
    #[must_use]
    pub fn own_ranges<'a>(&'a self, formula: &Compiled, rows: &[CompanyAt<'a>]) -> Option<Vec<Option<OwnRange>>> {
        formula::own_ranges(self.view_of(rows), formula, rows)
    }

    /// Opens a value.
    #[must_use]
    pub fn explain<'a>(&'a self, formula: &Compiled, row: &CompanyAt<'a>) -> Explanation {
        formula::explain(self.view(row.t()), formula, row)
    }

    /// The valuations of all companies of the dataset at a date, by position.
    #[must_use]
    pub fn valuations(&self, t: Day) -> Arc<Vec<Valuation>> {
        self.values_at(t).valuations.clone()
    }

    /// The valuation of one company, in full.
    #[must_use]
    pub fn value_company(&self, t: Day, company: CompanyIndex) -> CompanyValue {
        valuation::value_company(self.view(t), company, self.settings.premises())
    }

    /// The values of one company at its own month ends after a day, each from what was known then.
    #[must_use]
    pub fn value_series(&self, t: Day, company: CompanyIndex, since: Day) -> Vec<(Day, Valuation)> {
        valuation::value_series(self.view(t), company, since, self.settings.premises())
    }

    /// What followed the purchases of a company's insiders, against the mean of all companies but funds in the universe of each day.
    #[must_use]
    pub fn after_purchases(&self, c: &CompanyAt<'_>, months: i32) -> Followed {
        insiders::followed(c, months, |day| {
            let what = What::Market(day.month_start(), months);
            self.kept_or_made(what, Depends::NOTHING, || MarketReturns::of_month(c.as_of, day, months)).since(day)
        })
    }

    fn view_of<'a>(&'a self, rows: &[CompanyAt<'a>]) -> View<'a> {
        self.view(rows.first().map_or(Day::MAX, CompanyAt::t))
    }

    /// By what the settings on which formulas depend are known, with the formulas.
    pub(crate) fn settings_of(&self, formulas: &[Arc<Compiled>]) -> Fingerprint {
        let of = |f: &Arc<Compiled>| (f.identity, self.fingerprints.on(f.identity.depends));
        Fingerprint::of(&formulas.iter().map(of).collect::<Vec<_>>())
    }

    /// The key of something that depends on the data and some settings.
    fn key(&self, what: What, depends: Depends) -> Key {
        Key { generation: Some(self.engine.generation_of(&what)), what, settings: self.fingerprints.on(depends) }
    }

    /// Something of a day made of formulas' answers: kept under its type, what is told of it, and the formulas.
    pub(crate) fn derived<T: Keep, E>(
        &self,
        day: Day,
        told: &dyn Debug,
        formulas: &[Arc<Compiled>],
        make: impl FnOnce() -> Result<T, E>,
    ) -> Result<Arc<T>, E> {
        let (what, depends) = derivation::<T>(day, told, formulas);
        if let Some(found) = self.kept(what.clone(), depends) {
            return Ok(found);
        }
        let made = Arc::new(make()?);
        self.keep(what, depends, made.clone());
        Ok(made)
    }

    /// Whether that is kept.
    pub(crate) fn has_derived<T: Keep>(&self, day: Day, told: &dyn Debug, formulas: &[Arc<Compiled>]) -> bool {
        let (what, depends) = derivation::<T>(day, told, formulas);
        self.kept::<T>(what, depends).is_some()
    }

    /// Something of a day that depends on nothing but the data and what is told of it, kept under its type.
    pub(crate) fn of_day<T: Keep>(&self, day: Day, told: Fingerprint, make: impl FnOnce() -> T) -> Arc<T> {
        self.kept_or_made(What::Derived(TypeId::of::<T>(), day, told), Depends::NOTHING, make)
    }

    pub(super) fn kept<T: Keep>(&self, what: What, depends: Depends) -> Option<Arc<T>> {
        let key = self.key(what, depends);
        self.engine.cache_of(&key).get(&key)
    }

    pub(super) fn keep<T: Keep>(&self, what: What, depends: Depends, value: Arc<T>) {
        let key = self.key(what, depends);
        self.engine.cache_of(&key).keep(key, value);
    }

    pub(super) fn kept_or_made<T: Keep>(&self, what: What, depends: Depends, make: impl FnOnce() -> T) -> Arc<T> {
        let key = self.key(what, depends);
        self.engine.cache_of(&key).get_or_make(key, || Arc::new(make()))
    }

    /// Computed once and kept. Under another set only what follows from the starting figures is computed anew.
    fn values_at(&self, t: Day) -> Arc<Values> {
        let view = self.view(t);
        let start = || {
            let depends = Depends::TAX.and(Depends::START).and(Depends::QUALITY);
            self.kept_or_made(What::Start(t), depends, || Start::of_all(view, &self.settings.assumptions))
        };
        let depends = Depends::VALUATION.and(Depends::QUALITY).and(Depends::SCALE);
        self.kept_or_made(What::Values(t), depends, || Values { valuations: Arc::new(start().valued(view, self.settings.premises())) })
    }

    fn filed_key(&self, set: &'static FromFilings, state: FilingState) -> Key {
        Key { generation: None, what: What::Filed(set.fingerprint(), state), settings: self.fingerprints.on(set.depends()).without_base() }
    }
}

/// What something is made of that is made of formulas' answers, and on what it depends.
fn derivation<T: Keep>(day: Day, told: &dyn Debug, formulas: &[Arc<Compiled>]) -> (What, Depends) {
    let identities: Vec<Identity> = formulas.iter().map(|f| f.identity).collect();
    let depends = identities.iter().fold(Depends::NOTHING, |all, of| all.and(of.depends));
    (What::Derived(TypeId::of::<T>(), day, Fingerprint::of(&(told, identities))), depends)
}

/// The valuations of all companies, by position.
pub(super) struct Values {
    pub(super) valuations: Arc<Vec<Valuation>>,
}

/// The same with the set under which price and value are judged.
#[derive(Debug)]
struct Judged {
    valuations: Arc<Vec<Valuation>>,
    settings: Arc<Settings>,
}

impl ValueTable for Judged {
    fn number(&self, row: &CompanyAt<'_>, field: ValueField) -> Num {
        self.valuations[row.index as usize].field(field, &self.settings.assumptions)
    }

    fn word(&self, row: &CompanyAt<'_>, word: Judgement) -> Result<Arc<str>, Why> {
        self.valuations[row.index as usize].word(word, &self.settings.assumptions)
    }
}

impl Host for Context {
    fn assumed_tax(&self) -> f64 {
        self.settings.assumptions.tax_rate
    }

    fn value_formulas(&self) -> &'static [Compiled] {
        valuation::input_formulas()
    }

    fn values(&self, as_of: AsOf<'_>) -> Arc<dyn ValueTable> {
        Arc::new(Judged { valuations: self.valuations(as_of.t), settings: self.settings.clone() })
    }

    fn value_numbers(&self, rows: &dyn Answers<'_>, field: ValueField) -> Vec<Num> {
        let a = &self.settings.assumptions;
        if field.is_range() {
            return rows.rows().iter().map(|r| valuation::range_number(r, field, a.range_years)).collect();
        }
        let what = if field.is_quality() { Valued::Quality } else { Valued::Value };
        let valued = valuation::value_rows(rows, what, self.settings.premises());
        valued.iter().map(|v| v.field(field, a)).collect()
    }

    fn value_words(&self, rows: &dyn Answers<'_>, word: Judgement) -> Vec<Result<Arc<str>, Why>> {
        let what = if word == Judgement::Band { Valued::Value } else { Valued::Both };
        let valued = valuation::value_rows(rows, what, self.settings.premises());
        valued.iter().map(|v| v.word(word, &self.settings.assumptions)).collect()
    }

    fn value_parts(&self, as_of: AsOf<'_>, company: CompanyIndex) -> Vec<(&'static str, Unit, Num)> {
        let valuation = self.value_company(as_of.t, company).valuation;
        let model = |(model, value): &(valuation::Model, f64)| (model.label(), Unit::PerShare, Ok(*value));
        std::iter::once(("intrinsic_value", Unit::PerShare, valuation.value)).chain(valuation.models.iter().map(model)).collect()
    }

    fn history(&self, of: &Identity, reach: Reach) -> Option<Arc<History>> {
        self.kept(What::History(*of, reach), of.depends)
    }

    fn history_before(&self, of: &Identity, reach: Reach) -> Option<(Arc<History>, Day)> {
        let (generation, upto) = self.engine.histories_before?;
        let key = Key { generation: Some(generation), ..self.key(What::History(*of, reach), of.depends) };
        Some((self.engine.cache.get(&key)?, upto))
    }

    fn history_or_make(&self, of: &Identity, reach: Reach, make: &mut dyn FnMut() -> MadeHistories) -> Arc<History> {
        let first = || {
            let mut made = make();
            let (.., first) = made.swap_remove(0);
            made.into_iter().for_each(|(of, reach, history)| self.keep(What::History(of, reach), of.depends, history));
            first
        };
        self.engine.cache.get_or_make(self.key(What::History(*of, reach), of.depends), first)
    }

    fn filed(&self, set: &'static FromFilings, state: FilingState) -> Option<Arc<[Num]>> {
        self.engine.narrow.get::<Figures>(&self.filed_key(set, state)).map(|f| f.0.clone())
    }

    fn keep_filed(&self, set: &'static FromFilings, state: FilingState, figures: Arc<[Num]>) {
        self.engine.narrow.keep(self.filed_key(set, state), Arc::new(Figures(figures)));
    }

    fn go_on(&self) {
        self.cancel.check();
    }
}

/// Figures that follow from one company's filings.
struct Figures(Arc<[Num]>);

impl Keep for Figures {
    fn bytes(&self) -> usize {
        size_of_val(&*self.0)
    }
}

impl Keep for Values {
    fn bytes(&self) -> usize {
        self.valuations.iter().map(Valuation::bytes).sum()
    }
}

impl Keep for MarketReturns {
    fn bytes(&self) -> usize {
        self.bytes()
    }
}

impl Keep for Start {
    fn bytes(&self) -> usize {
        self.bytes()
    }
}

impl Keep for History {
    fn bytes(&self) -> usize {
        self.bytes()
    }
}

impl Keep for Compiled {
    fn bytes(&self) -> usize {
        8 * 1024
    }
}
