//! Imports files in one transaction: parsed on some threads, stored on another.

use super::{
    identify::{Deferred, identify, identify_deferred, identify_known},
    register::{Register, remember_entities},
    report::{ImportReport, ImportRequest, Source},
    touched::Touched,
};
use crate::{AppError, Ctx, alerts::data_changed};
use artemon_core::domain::{Bar, Day, Record, Table};
use artemon_formats::{
    Known, Progress, ReadError, ReadReport, Reading, company_facts,
    data_package::read_tables,
    filings, insider_sets,
    mapped_table::{self, Mapping, Sample},
    ownership_xml, price_files, sdmx_csv, statement_report,
    statement_sets::{self, NewFilers},
};
use artemon_store::{Batch, Dataset, FolderLock, NewImport, People, PersonId, StoreError, moment};
use std::{
    ops::{ControlFlow, RangeInclusive},
    path::Path,
    sync::{
        Arc, Mutex, PoisonError,
        mpsc::{Receiver, SyncSender, sync_channel},
    },
    time::Instant,
};

/// Rows handed from one thread to the other at once: about as much work to store as a year of bars, so that neither
/// parser waits for the other's turn.
const HANDED: usize = 16;
/// As many bars of one listing and year are handed over by themselves.
const RUN: usize = 16;
/// Such hands that may wait.
const WAITING: usize = 512;

/// Hears how far an import is; may end it.
pub trait Watch: Sync {
    /// Called every few thousand rows.
    fn progress(&self, progress: Progress) -> ControlFlow<()>;
}

impl<F: Fn(Progress) -> ControlFlow<()> + Sync> Watch for F {
    fn progress(&self, progress: Progress) -> ControlFlow<()> {
        self(progress)
    }
}

/// Imports into a data folder that no other program has open.
///
/// # Errors
/// A folder in use; files that cannot be read; bad rows, unless they are to be skipped; a store that refuses.
pub fn import(folder: &Path, request: &ImportRequest, watch: &dyn Watch) -> Result<ImportReport, AppError> {
    let _lock = FolderLock::take(folder)?;
    let (store, people) = (Dataset::open(folder)?, People::open(folder)?);
    // What is damaged is replaced by what comes; nothing is known of it before everything was looked at.
    store.check()?;
    let register = register(&store, &people, &people.local(), request)?;
    let report = run(&store, request, register.as_ref(), watch, None)?;
    // The past may be another now.
    store.forget_gauges()?;
    remember(&people, &people.local(), request, &report)?;
    Ok(report.into())
}

/// Imports into the open dataset; readers keep theirs until the new one is there.
///
/// # Errors
/// As [`import`].
pub fn import_here(ctx: &Ctx, request: &ImportRequest, watch: &dyn Watch) -> Result<ImportReport, AppError> {
    let home = &ctx.home;
    let begun = Instant::now();
    let _one = home.changing();
    let before = home.dataset();
    let mut touched = Touched::new(before.engine.snapshot());
    let register = register(&home.store, &home.people, &ctx.person, request)?;
    let report = run(&home.store, request, register.as_ref(), watch, Some(&mut touched))?;
    home.store.forget_gauges()?;
    tracing::info!("an import landed in {} ms", begun.elapsed().as_millis());
    remember(&home.people, &ctx.person, request, &report)?;
    if !touched.is_nothing() {
        home.swap(before.after(&touched, &home.store, home.options.base)?);
        data_changed(home);
    }
    Ok(report.into())
}

/// Companies as filings need them, where there are any.
fn register<'s>(store: &'s Dataset, people: &People, person: &PersonId, request: &ImportRequest) -> Result<Option<Register<'s>>, AppError> {
    let needs_none =
        |s: &Source| matches!(s, Source::Package(_) | Source::Table(..) | Source::Observations(..) | Source::StatementReports(_));
    if request.sources.iter().all(needs_none) {
        return Ok(None);
    }
    let register = Register::read(store, people, person)?.noting_rows(request.sources.len() > 1);
    Ok(Some(register.only(&request.only)?))
}

/// Remembers how tables were mapped, and whose identifiers are.
fn remember(people: &People, person: &PersonId, request: &ImportRequest, report: &ReadReport) -> Result<(), AppError> {
    remember_entities(people, person, &report.identified)?;
    for source in &request.sources {
        if let Source::Table(table, mapping) = source {
            let mapping = serde_json::to_string(&mapping.for_others()).unwrap_or_default();
            people.remember_mapping(person, &Sample::of_table(table)?.signature(), &mapping)?;
        }
    }
    Ok(())
}

/// The mapping of a file's header: remembered (then true) or guessed.
pub(crate) fn mapping_for(people: &People, person: &PersonId, sample: &Sample) -> Result<(Option<Mapping>, bool), AppError> {
    let remembered = people.mapping(person, &sample.signature())?.and_then(|m| serde_json::from_str::<Mapping>(&m).ok());
    match remembered.filter(|m| m.fits(&sample.headers).is_ok()) {
        Some(mapping) => Ok((Some(mapping), true)),
        None => Ok((mapped_table::guess(sample), false)),
    }
}

/// The request with the id of a company where a mapping names a company for all rows by its symbol or ISIN.
fn with_company_ids(store: &Dataset, request: &ImportRequest, known: &Known) -> Result<ImportRequest, StoreError> {
    let mut request = request.clone();
    let mappings = request.sources.iter_mut().filter_map(|s| if let Source::Table(_, mapping) = s { Some(mapping) } else { None });
    let whose = mappings.flat_map(|mapping| &mut mapping.fixed).filter(|cell| cell.column == "company_id");
    for cell in whose.filter(|cell| !known.companies.contains(cell.value.as_str())) {
        if let [Some(id)] = &store.find_companies(std::slice::from_ref(&cell.value))?[..] {
            cell.value.clone_from(id);
        }
    }
    Ok(request)
}

fn run(
    store: &Dataset,
    request: &ImportRequest,
    register: Option<&Register<'_>>,
    watch: &dyn Watch,
    touched: Option<&mut Touched<'_>>,
) -> Result<ReadReport, AppError> {
    let keys = store.keys()?;
    let known = Known { companies: keys.companies, symbols: keys.symbols, indexes: keys.indexes };
    let request = &with_company_ids(store, request, &known)?;
    let done = store.write_anew(|batch| {
        std::thread::scope(|s| {
            let (send, receive) = sync_channel(WAITING);
            let shared = SharedWatch { watch, parts: Mutex::default() };
            let parser = s.spawn(move || parse(request, known, register, &send, &shared));
            let stored = take(batch, receive, touched);
            let parsed = parser.join().unwrap_or_else(|_| Err(ReadError::Taking("reading ended early".into())));
            stored?;
            let report = parsed?;
            if report.bad_rows > 0 && !request.skip_bad_rows {
                return Err(AppError::BadRows(Box::new(report)));
            }
            batch.keep_import(&landed(&request.title, &report))?;
            Ok(report)
        })
    });
    done.inspect_err(|e| {
        if let Err(e) = store.keep_import(&ended(&request.title, e)) {
            tracing::warn!("an import that brought nothing was not written down: {e}");
        }
    })
}

/// What a parser hands over: rows of any table, or the bars of one listing in one year.
enum Handed {
    Rows(Vec<Record>),
    Bars(Arc<str>, Vec<Bar>),
}

/// Stores what the parsers hand over. When it fails they find nobody listening and end.
fn take(batch: &mut Batch<'_>, receive: Receiver<Handed>, mut touched: Option<&mut Touched<'_>>) -> Result<(), StoreError> {
    for handed in receive {
        match handed {
            Handed::Bars(symbol, bars) => {
                if let Some(touched) = &mut touched {
                    bars.iter().for_each(|bar| touched.note_bar(&symbol, bar));
                }
                batch.put_bars(symbol, bars)?;
            }
            Handed::Rows(records) => {
                for record in records {
                    if let Some(touched) = &mut touched {
                        touched.note(&record);
                    }
                    batch.put(record)?;
                }
            }
        }
    }
    Ok(())
}

type Sender = SyncSender<Handed>;

fn parse(
    request: &ImportRequest,
    mut known: Known,
    register: Option<&Register<'_>>,
    send: &Sender,
    watch: &SharedWatch<'_>,
) -> Result<ReadReport, ReadError> {
    let (mut report, mut deferred) = (ReadReport::default(), Deferred::default());
    let hands = Hands { send, watch, register };
    for source in &request.sources {
        let read = match source {
            Source::Package(path) => parse_package(path, &mut known, hands),
            Source::Table(table, mapping) => hands.read(0, |hand| mapped_table::read(table, mapping, &mut known, hand)),
            Source::StatementReports(paths) => hands.read(0, |hand| statement_report::read(paths, &mut known, hand)),
            Source::Observations(path, answers) => hands.read(0, |hand| sdmx_csv::read(path, answers, hand)),
            other => {
                let register = register.ok_or_else(|| ReadError::Taking("filings are read without the companies".into()))?;
                hands.read(0, |hand| of_register(other, request.new_filers(), register, &mut deferred, hand))
            }
        };
        report.add(read?);
    }
    if let Some(register) = register {
        report.add(hands.read(0, |hand| identify_deferred(deferred, register, hand))?);
        report.notes.extend(register.unlisted());
    }
    Ok(report)
}

/// What cannot be read without the companies.
fn of_register(
    source: &Source,
    new: NewFilers,
    register: &Register<'_>,
    deferred: &mut Deferred,
    hand: &mut Hand<'_>,
) -> Result<ReadReport, ReadError> {
    match source {
        Source::Package(_) | Source::Table(..) | Source::Observations(..) | Source::StatementReports(_) => Ok(ReadReport::default()),
        Source::Prices(files, answers) => {
            let mut report = identify_known(deferred, register, hand)?;
            report.add(price_files::read(files, answers, register, hand)?);
            Ok(report)
        }
        Source::Identifiers(path) => identify(path, register, deferred, hand),
        Source::CompanyFacts(path) => company_facts::read(path, register, hand),
        Source::StatementSets(paths) => statement_sets::read(paths, &register.own, register, new, hand),
        Source::InsiderSets(paths) => {
            let mut report = identify_known(deferred, register, hand)?;
            report.add(insider_sets::read(paths, register, hand)?);
            Ok(report)
        }
        Source::Filings(all) => filings::read(all, &register.own, register, hand),
        Source::Ownership(all) => ownership_xml::read(all, register, hand),
    }
}

/// What others refer to first; then the prices, which are most of a package, beside the rest.
fn parse_package(path: &Path, known: &mut Known, hands: Hands<'_>) -> Result<ReadReport, ReadError> {
    let keys = [Table::Companies, Table::Listings];
    let rest: Vec<Table> = Table::ALL.iter().copied().filter(|t| !keys.contains(t) && *t != Table::Prices).collect();
    let read = |part, tables: &[Table], known: &mut Known| hands.read(part, |hand| read_tables(path, tables, known, hand));
    let mut report = read(0, &keys, known)?;
    let (prices, others) = std::thread::scope(|s| {
        let mut prices_know = known.clone();
        let prices = s.spawn(move || read(1, &[Table::Prices], &mut prices_know));
        let others = read(2, &rest, known);
        (prices.join().unwrap_or_else(|_| Err(ReadError::Taking("reading ended early".into()))), others)
    });
    report.add(prices?);
    report.add(others?);
    report.rows.sort_by_key(|r| r.0);
    Ok(report)
}

/// Adds up what several readers report of their progress.
struct SharedWatch<'w> {
    watch: &'w dyn Watch,
    /// Rows and bytes of each reader.
    parts: Mutex<[(u64, u64); 3]>,
}

impl SharedWatch<'_> {
    fn progress(&self, part: usize, p: Progress) -> ControlFlow<()> {
        let mut parts = self.parts.lock().unwrap_or_else(PoisonError::into_inner);
        parts[part] = (p.rows, p.bytes);
        let (rows, bytes) = parts.iter().fold((0, 0), |all, part| (all.0 + part.0, all.1 + part.1));
        self.watch.progress(Progress { rows, bytes, ..p })
    }
}

/// By which readers hand over their rows.
#[derive(Clone, Copy)]
struct Hands<'w> {
    send: &'w Sender,
    watch: &'w SharedWatch<'w>,
    register: Option<&'w Register<'w>>,
}

/// Hands the rows of one reader over to the storing thread.
struct Hand<'w> {
    hands: Hands<'w>,
    rows: Vec<Record>,
    /// Bars of one listing and year that came one after the other.
    bars: Vec<Bar>,
    bars_of: (Arc<str>, RangeInclusive<Day>),
    part: usize,
}

type Refused = Box<dyn std::error::Error + Send + Sync>;

impl<'w> Hands<'w> {
    /// Lets a reader hand over rows, the last ones too.
    fn read(self, part: usize, read: impl FnOnce(&mut Hand<'w>) -> Result<ReadReport, ReadError>) -> Result<ReadReport, ReadError> {
        let no_year = Day::MAX..=Day::MIN;
        let mut hand = Hand { hands: self, rows: Vec::new(), bars: Vec::new(), bars_of: ("".into(), no_year), part };
        let report = read(&mut hand)?;
        hand.bars_over().and_then(|()| hand.over()).map_err(ReadError::Taking)?;
        Ok(report)
    }
}

impl Hand<'_> {
    fn over(&mut self) -> Result<(), Refused> {
        let rows = std::mem::replace(&mut self.rows, Vec::with_capacity(HANDED));
        self.hand(Handed::Rows(rows))
    }

    fn hand(&self, handed: Handed) -> Result<(), Refused> {
        self.hands.send.send(handed).map_err(|_| "the rows could not be stored".into())
    }

    fn bar(&mut self, symbol: &Arc<str>, bar: Bar) -> Result<(), Refused> {
        if !self.bars_of.1.contains(&bar.date) || !(Arc::ptr_eq(&self.bars_of.0, symbol) || self.bars_of.0 == *symbol) {
            self.bars_over()?;
            self.bars_of = (symbol.clone(), bar.date.whole_year());
        }
        self.bars.push(bar);
        Ok(())
    }

    /// A few bars go with the rows, many by themselves.
    fn bars_over(&mut self) -> Result<(), Refused> {
        if self.bars.len() >= RUN {
            let bars = std::mem::replace(&mut self.bars, Vec::with_capacity(260));
            return self.hand(Handed::Bars(self.bars_of.0.clone(), bars));
        }
        let symbol = &self.bars_of.0;
        self.rows.extend(self.bars.drain(..).map(|bar| Record::Price { symbol: symbol.clone(), bar }));
        if self.rows.len() >= HANDED { self.over() } else { Ok(()) }
    }
}

impl Reading for Hand<'_> {
    fn row(&mut self, record: Record) -> Result<(), Refused> {
        if let Record::Price { symbol, bar } = &record {
            return self.bar(symbol, *bar);
        }
        if let Some(register) = self.hands.register {
            register.note(&record);
        }
        self.rows.push(record);
        if self.rows.len() >= HANDED { self.over() } else { Ok(()) }
    }

    fn progress(&mut self, progress: Progress) -> ControlFlow<()> {
        self.hands.watch.progress(self.part, progress)
    }
}

/// What is kept of an import that brought its rows.
fn landed(title: &str, report: &ReadReport) -> NewImport {
    let message = if report.bad_rows > 0 { format!("{} bad rows were left out.", report.bad_rows) } else { String::new() };
    NewImport { row_count: count(report.rows.iter().map(|t| t.1).sum()), ..entry(title, "done", message, Some(report)) }
}

/// What is kept of one that brought nothing.
fn ended(title: &str, e: &AppError) -> NewImport {
    match e {
        AppError::BadRows(report) => entry(title, "refused", e.to_string(), Some(report)),
        AppError::Read(ReadError::Cancelled) => entry(title, "cancelled", e.to_string(), None),
        _ => entry(title, "refused", e.to_string(), None),
    }
}

/// The report can be read later.
fn entry(title: &str, outcome: &str, message: String, report: Option<&ReadReport>) -> NewImport {
    NewImport {
        title: title.to_owned(),
        finished_at: moment::now(),
        outcome: outcome.to_owned(),
        message,
        row_count: 0,
        bad_rows: report.map_or(0, |r| count(r.bad_rows)),
        report: report.map(ReadReport::to_csv).unwrap_or_default(),
    }
}

fn count(n: u64) -> i64 {
    i64::try_from(n).unwrap_or(i64::MAX)
}
