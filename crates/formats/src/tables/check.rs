//! Checks a row against the rows before it: what it refers to, and double keys.

use super::{
    fields::{CellError, Fields},
    odd_codes::OddCodes,
};
use artemon_core::domain::{Day, Record};
use std::{
    collections::{HashMap, HashSet},
    hash::{BuildHasher, Hash, RandomState},
    sync::Arc,
};

/// The keys that rows may refer to beside those of the import itself.
#[derive(Clone, Debug, Default)]
pub struct Known {
    /// Company ids.
    pub companies: HashSet<Arc<str>>,
    /// Symbols.
    pub symbols: HashSet<Arc<str>>,
    /// Index ids.
    pub indexes: HashSet<Arc<str>>,
}

/// The keys met so far in an import.
pub(crate) struct Checker {
    known: Known,
    seen: Seen,
    /// The days met of each symbol's prices, one bit a day.
    days: Vec<Days>,
    /// Where each symbol's days are.
    places: HashMap<Arc<str>, usize>,
    /// The symbol of the row before: files mostly have one listing's days in a row.
    last: Option<(Arc<str>, usize)>,
    odd: OddCodes,
}

impl Checker {
    pub(crate) fn new(known: Known) -> Checker {
        Checker { known, seen: Seen::default(), days: Vec::new(), places: HashMap::new(), last: None, odd: OddCodes::default() }
    }

    /// The keys known at the end, those of the import among them; and the codes met that are in no list.
    pub(crate) fn end(self) -> (Known, Vec<String>) {
        (self.known, self.odd.in_words())
    }

    /// Forgets the keys of the table before.
    pub(crate) fn begin_table(&mut self) {
        self.seen = Seen::default();
        self.days = Vec::new();
        self.places = HashMap::new();
        self.last = None;
    }

    pub(crate) fn check(&mut self, f: &Fields<'_>, record: &Record) -> Result<(), CellError> {
        self.odd.note(record);
        match record {
            Record::Company(c) => {
                self.unique(f, 0, &c.id)?;
                self.known.companies.insert(c.id.clone());
                Ok(())
            }
            Record::Listing(l) => {
                self.company(f, 1, &l.company_id)?;
                self.unique(f, 0, &l.symbol)?;
                if l.primary && !self.seen.insert(&("primary", &l.company_id)) {
                    return Err(f.bad(6, "the only primary listing of its company", "Set primary to false for all listings but one."));
                }
                self.known.symbols.insert(l.symbol.clone());
                Ok(())
            }
            Record::Statement(s) => {
                self.company(f, 0, &s.company_id)?;
                self.unique(f, 4, &(&s.company_id, s.fiscal_year, s.period, s.filed_on))
            }
            Record::Price { symbol, bar } => self.price(f, symbol, bar.date),
            Record::Action(a) => {
                self.symbol(f, &a.symbol)?;
                self.unique(f, 1, &(&a.symbol, a.ex_date, a.kind))
            }
            _ => self.check_people_and_market(f, record),
        }
    }

    fn check_people_and_market(&mut self, f: &Fields<'_>, record: &Record) -> Result<(), CellError> {
        if let Some(company) = record.company_id() {
            let column = usize::from(matches!(record, Record::IndexMember(_)));
            self.company(f, column, company)?;
        }
        match record {
            Record::Estimate(e) => self.unique(f, 1, &(&e.company_id, e.published_on, e.metric, e.fiscal_year, e.period)),
            Record::InsiderTrade(t) => {
                let key = (&t.company_id, &t.filing_id, &t.insider_id, t.traded_on, &t.code, t.acquired, t.filed_on);
                self.unique(f, 1, &(key, t.shares.to_bits(), t.price.map(f64::to_bits)))
            }
            Record::Ownership(o) => self.unique(f, 1, &(&o.company_id, o.as_of, o.filed_on)),
            Record::Rate(r) => self.unique(f, 0, &(r.date, r.currency, r.series)),
            Record::Fx(r) => self.unique(f, 0, &(r.date, r.base, r.quote)),
            Record::Officer(o) => self.unique(f, 1, &(&o.company_id, &o.name, &o.role, o.since)),
            Record::Event(e) => self.unique(f, 1, &(&e.company_id, e.date, e.kind)),
            Record::News(n) => self.unique(f, 2, &(&n.company_id, &n.published_at, &n.headline)),
            Record::Annotation(a) => self.unique(f, 2, &(&a.company_id, a.kind, &a.name)),
            Record::Index(i) => {
                self.unique(f, 0, &i.id)?;
                self.known.indexes.insert(i.id.clone());
                Ok(())
            }
            Record::IndexMember(m) => {
                self.index(f, &m.index_id)?;
                self.unique(f, 2, &(&m.index_id, &m.company_id, m.from))
            }
            Record::IndexLevel(l) => {
                self.index(f, &l.index_id)?;
                self.unique(f, 1, &(&l.index_id, l.date))
            }
            _ => Ok(()),
        }
    }

    fn unique(&mut self, f: &Fields<'_>, column: usize, key: &impl Hash) -> Result<(), CellError> {
        if self.seen.insert(key) { Ok(()) } else { Err(double(f, column)) }
    }

    /// Whether a session of a listing may be taken: the listing is known, and the day is new.
    pub(crate) fn may_take(&mut self, symbol: &Arc<str>, date: Day) -> bool {
        let place = match &self.last {
            Some((last, place)) if Arc::ptr_eq(last, symbol) => Some(*place),
            _ => self.known.symbols.contains(symbol).then(|| self.new_place(symbol)),
        };
        place.is_some_and(|place| self.days[place].insert(date))
    }

    /// Prices are many: their days are kept as bits.
    fn price(&mut self, f: &Fields<'_>, symbol: &Arc<str>, date: Day) -> Result<(), CellError> {
        let place = match &self.last {
            Some((last, place)) if Arc::ptr_eq(last, symbol) => *place,
            _ => self.place(f, symbol)?,
        };
        if self.days[place].insert(date) { Ok(()) } else { Err(double(f, 1)) }
    }

    fn place(&mut self, f: &Fields<'_>, symbol: &Arc<str>) -> Result<usize, CellError> {
        if !self.places.contains_key(symbol) {
            self.symbol(f, symbol)?;
        }
        Ok(self.new_place(symbol))
    }

    fn new_place(&mut self, symbol: &Arc<str>) -> usize {
        let place = *self.places.entry(symbol.clone()).or_insert_with(|| {
            self.days.push(Days::default());
            self.days.len() - 1
        });
        self.last = Some((symbol.clone(), place));
        place
    }

    fn company(&self, f: &Fields<'_>, column: usize, id: &Arc<str>) -> Result<(), CellError> {
        if self.known.companies.contains(id) {
            return Ok(());
        }
        Err(f.bad(column, "the key of a known company", "Add the company to companies.csv, or correct the key."))
    }

    fn symbol(&self, f: &Fields<'_>, symbol: &Arc<str>) -> Result<(), CellError> {
        if self.known.symbols.contains(symbol) {
            return Ok(());
        }
        Err(f.bad(0, "the symbol of a known listing", "Add the listing to listings.csv, or correct the symbol."))
    }

    fn index(&self, f: &Fields<'_>, id: &Arc<str>) -> Result<(), CellError> {
        if self.known.indexes.contains(id) {
            return Ok(());
        }
        Err(f.bad(0, "the key of a known index", "Add the index to indexes.csv, or correct the key."))
    }
}

fn double(f: &Fields<'_>, column: usize) -> CellError {
    f.bad(column, "a new key: the file has this row already", "Remove one of the two rows.")
}

/// Keys by two independent 64-bit hashes: 16 bytes a key, and no collision to be met in practice.
#[derive(Default)]
struct Seen {
    keys: HashSet<(u64, u64)>,
    hashers: (RandomState, RandomState),
}

impl Seen {
    /// Whether the key is new.
    fn insert(&mut self, key: &impl Hash) -> bool {
        self.keys.insert((self.hashers.0.hash_one(key), self.hashers.1.hash_one(key)))
    }
}

/// A set of days: bits from the first block of days met.
#[derive(Default)]
struct Days {
    first_block: i32,
    blocks: Vec<u64>,
}

impl Days {
    /// Whether the day is new.
    fn insert(&mut self, day: Day) -> bool {
        /// The most blocks (about 350 years): days beyond are not compared.
        const MOST: i32 = 2000;
        let (block, bit) = (day.epoch_days().div_euclid(64), day.epoch_days().rem_euclid(64));
        if self.blocks.is_empty() {
            self.first_block = block;
        }
        let last = self.first_block + i32::try_from(self.blocks.len()).unwrap_or(i32::MAX);
        if block.max(last) - block.min(self.first_block) > MOST {
            return true;
        }
        if block < self.first_block {
            let missing = usize::try_from(self.first_block - block).unwrap_or(0);
            self.blocks.splice(0..0, std::iter::repeat_n(0, missing));
            self.first_block = block;
        }
        let at = usize::try_from(block - self.first_block).unwrap_or(0);
        if at >= self.blocks.len() {
            self.blocks.resize(at + 1, 0);
        }
        let fresh = self.blocks[at] >> bit & 1 == 0;
        self.blocks[at] |= 1 << bit;
        fresh
    }
}
