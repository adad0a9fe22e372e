//! Daily bars, a chunk a listing and year.

use super::Sink;
use crate::{
    StoreError,
    dataset::{bars, digest::of_chunk, schema::price_chunks},
};
use artemon_core::{
    domain::{Bar, Record},
    panel::BarColumns,
};
use diesel::{connection::DefaultLoadingMode, prelude::*, sqlite::SqliteConnection};
use std::{
    collections::{HashMap, HashSet},
    sync::Arc,
};

#[derive(Queryable, Insertable)]
#[diesel(table_name = price_chunks)]
struct ChunkRow {
    symbol: String,
    year: i32,
    bars: Vec<u8>,
}

type Key = (Arc<str>, i32);
/// A symbol with its chunks by year.
type Listing = (Arc<str>, Vec<(i32, Vec<u8>)>);

/// Gathers bars and adds them to their chunks; of two bars of one day the new one counts.
#[derive(Debug, Default)]
pub(crate) struct PriceWriter {
    chunks: HashMap<Key, Vec<Bar>>,
    gathered: usize,
    /// The chunk being filled: files mostly have one listing's days in a row.
    open: Option<(Key, Vec<Bar>)>,
    /// The chunks that are in the table; read when the first is written.
    known: Option<HashSet<Key>>,
    /// What the chunks of each symbol add up to more than before.
    grown: HashMap<Arc<str>, i64>,
}

impl PriceWriter {
    /// Adds a bar; says how many wait to be written.
    pub(crate) fn put(&mut self, symbol: Arc<str>, bar: Bar) -> usize {
        self.gathered += 1;
        let year = bar.date.year();
        match &mut self.open {
            Some((key, bars)) if key.1 == year && (Arc::ptr_eq(&key.0, &symbol) || *key.0 == *symbol) => bars.push(bar),
            _ => {
                self.close();
                self.open = Some(((symbol, year), vec![bar]));
            }
        }
        self.gathered
    }

    /// Adds bars of one calendar year, written at once unless others of the chunk wait.
    pub(crate) fn put_many(&mut self, c: &mut SqliteConnection, symbol: Arc<str>, bars: Vec<Bar>) -> Result<(), StoreError> {
        let Some(first) = bars.first() else { return Ok(()) };
        let key = (symbol, first.date.year());
        self.close();
        match self.chunks.get_mut(&key) {
            Some(waiting) => {
                self.gathered += bars.len();
                waiting.extend(bars);
                Ok(())
            }
            None => self.write(c, key, bars),
        }
    }

    fn close(&mut self) {
        if let Some((key, bars)) = self.open.take() {
            self.chunks.entry(key).or_default().extend(bars);
        }
    }

    /// Writes all that wait.
    pub(crate) fn flush(&mut self, c: &mut SqliteConnection) -> Result<(), StoreError> {
        self.close();
        self.gathered = 0;
        if self.chunks.is_empty() {
            return Ok(());
        }
        let mut chunks: Vec<(Key, Vec<Bar>)> = self.chunks.drain().collect();
        chunks.sort_unstable_by(|a, b| a.0.cmp(&b.0));
        chunks.into_iter().try_for_each(|(key, new)| self.write(c, key, new))
    }

    fn write(&mut self, c: &mut SqliteConnection, key: Key, new: Vec<Bar>) -> Result<(), StoreError> {
        let known = match &mut self.known {
            Some(known) => known,
            none => none.insert(known_chunks(c)?),
        };
        let before = if known.contains(&key) { chunk(c, &key.0, key.1)? } else { None };
        let less = before.as_ref().map_or(0, |bytes| of_chunk(&key.0, key.1, bytes));
        let kept = before.map_or(Some(Vec::new()), |bytes| bars::decode(&bytes)).ok_or_else(|| damaged(&key.0, key.1))?;
        let row = ChunkRow { symbol: key.0.to_string(), year: key.1, bars: bars::encode(&merged(kept, new)) };
        let grown = self.grown.entry(key.0.clone()).or_default();
        *grown = grown.wrapping_add(of_chunk(&key.0, key.1, &row.bars)).wrapping_sub(less);
        diesel::replace_into(price_chunks::table).values(row).execute(c)?;
        known.insert(key);
        Ok(())
    }

    /// What the chunks of each symbol add up to more than before.
    pub(crate) fn grown(&mut self) -> HashMap<Arc<str>, i64> {
        std::mem::take(&mut self.grown)
    }
}

fn known_chunks(c: &mut SqliteConnection) -> QueryResult<HashSet<Key>> {
    let keys: Vec<(String, i32)> = price_chunks::table.select((price_chunks::symbol, price_chunks::year)).load(c)?;
    Ok(keys.into_iter().map(|(symbol, year)| (symbol.into(), year)).collect())
}

fn chunk(c: &mut SqliteConnection, symbol: &str, year: i32) -> QueryResult<Option<Vec<u8>>> {
    price_chunks::table.find((symbol, year)).select(price_chunks::bars).first(c).optional()
}

/// Both, oldest first; of two bars of one day the later one counts.
fn merged(mut kept: Vec<Bar>, mut new: Vec<Bar>) -> Vec<Bar> {
    kept.append(&mut new);
    if kept.windows(2).all(|w| w[0].date < w[1].date) {
        return kept;
    }
    kept.reverse();
    kept.sort_by_key(|b| b.date);
    kept.dedup_by_key(|b| b.date);
    kept
}

fn damaged(symbol: &str, year: i32) -> StoreError {
    StoreError::Damaged { what: format!("the prices of {symbol} in {year} fail their checksum") }
}

/// Gives the bars of a listing, if its chunks add up to what was kept; says whether they do.
pub(crate) fn read_sound(c: &mut SqliteConnection, symbol: &str, kept: Option<i64>, sink: &mut Sink<'_>) -> Result<bool, StoreError> {
    let (mut chunks, mut sum) = (Vec::new(), 0i64);
    let read = each_chunk(c, Some(&[symbol.to_owned()]), |symbol, year, bytes| {
        sum = sum.wrapping_add(of_chunk(symbol, year, &bytes));
        chunks.push(bars::decode(&bytes));
        Ok(())
    });
    if read.is_err() || kept != Some(sum) || chunks.iter().any(Option::is_none) {
        return Ok(false);
    }
    let symbol: Arc<str> = symbol.into();
    for bar in chunks.into_iter().flatten().flatten() {
        sink(Record::Price { symbol: symbol.clone(), bar })?;
    }
    Ok(true)
}

/// Gives all bars of each listing as columns; answers what the chunks of each add up to.
pub(crate) fn read_columns(
    c: &mut SqliteConnection,
    symbols: &[String],
    mut sink: impl FnMut(&Arc<str>, BarColumns),
) -> Result<HashMap<String, i64>, StoreError> {
    let mut current: Option<Listing> = None;
    let mut sums: HashMap<String, i64> = HashMap::new();
    let mut finish = |listing: Option<Listing>| {
        let Some((symbol, chunks)) = listing else { return Ok(()) };
        sums.insert(symbol.to_string(), chunks.iter().map(|(year, bytes)| of_chunk(&symbol, *year, bytes)).fold(0, i64::wrapping_add));
        sink(&symbol, columns(&symbol, &chunks)?);
        Ok::<(), StoreError>(())
    };
    each_chunk(c, Some(symbols), |symbol, year, bytes| {
        match &mut current {
            Some((same, chunks)) if same == symbol => chunks.push((year, bytes)),
            _ => finish(current.replace((symbol.clone(), vec![(year, bytes)])))?,
        }
        Ok(())
    })?;
    finish(current)?;
    Ok(sums)
}

fn columns(symbol: &str, chunks: &[(i32, Vec<u8>)]) -> Result<BarColumns, StoreError> {
    let mut out = BarColumns::default();
    out.reserve(chunks.iter().map(|(_, bytes)| bars::count(bytes)).sum());
    for (year, bytes) in chunks {
        bars::decode_into(bytes, &mut out).ok_or_else(|| damaged(symbol, *year))?;
    }
    Ok(out)
}

/// Gives every chunk of some symbols, or of all.
pub(crate) fn each_chunk(
    c: &mut SqliteConnection,
    symbols: Option<&[String]>,
    mut take: impl FnMut(&Arc<str>, i32, Vec<u8>) -> Result<(), StoreError>,
) -> Result<(), StoreError> {
    let all = price_chunks::table.order_by((price_chunks::symbol, price_chunks::year)).into_boxed();
    let query = if let Some(symbols) = symbols { all.filter(price_chunks::symbol.eq_any(symbols)) } else { all };
    let mut symbol: Arc<str> = "".into();
    for row in query.load_iter::<ChunkRow, DefaultLoadingMode>(c)? {
        let row = row?;
        if *symbol != *row.symbol {
            symbol = row.symbol.as_str().into();
        }
        take(&symbol, row.year, row.bars)?;
    }
    Ok(())
}
