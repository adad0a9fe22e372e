//! Daily bars, a chunk a listing and year.

use super::Sink;
use crate::{StoreError, bars, schema::price_chunks};
use artemon_core::domain::{Bar, Record};
use diesel::{prelude::*, sqlite::SqliteConnection};
use std::{collections::BTreeMap, sync::Arc};

/// Chunks inserted by one statement.
const CHUNKS_A_STATEMENT: usize = 400;

#[derive(Queryable, Insertable)]
#[diesel(table_name = price_chunks)]
struct ChunkRow {
    symbol: String,
    year: i32,
    bars: Vec<u8>,
}

/// Adds bars to their chunks; of two bars of one day the new one counts.
pub(crate) fn write(c: &mut SqliteConnection, new: Vec<(Arc<str>, Bar)>) -> Result<(), StoreError> {
    let mut chunks: BTreeMap<(Arc<str>, i32), Vec<Bar>> = BTreeMap::new();
    for (symbol, bar) in new {
        chunks.entry((symbol, bar.date.year())).or_default().push(bar);
    }
    let mut rows = Vec::with_capacity(chunks.len());
    for ((symbol, year), new) in chunks {
        let kept = chunk(c, &symbol, year)?;
        rows.push(ChunkRow { symbol: symbol.to_string(), year, bars: bars::encode(&merged(kept, new)) });
    }
    for part in rows.chunks(CHUNKS_A_STATEMENT) {
        diesel::replace_into(price_chunks::table).values(part).execute(c)?;
    }
    Ok(())
}

fn chunk(c: &mut SqliteConnection, symbol: &str, year: i32) -> Result<Vec<Bar>, StoreError> {
    let found: Option<Vec<u8>> = price_chunks::table.find((symbol, year)).select(price_chunks::bars).first(c).optional()?;
    found.map_or(Ok(Vec::new()), |bytes| decoded(symbol, year, &bytes))
}

fn merged(kept: Vec<Bar>, new: Vec<Bar>) -> Vec<Bar> {
    let by_day: BTreeMap<_, _> = kept.into_iter().chain(new).map(|b| (b.date, b)).collect();
    by_day.into_values().collect()
}

fn decoded(symbol: &str, year: i32, bytes: &[u8]) -> Result<Vec<Bar>, StoreError> {
    bars::decode(bytes).ok_or_else(|| StoreError::Damaged { what: format!("the prices of {symbol} in {year} fail their checksum") })
}

pub(crate) fn read(c: &mut SqliteConnection, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    let rows = price_chunks::table
        .order_by((price_chunks::symbol, price_chunks::year))
        .load_iter::<ChunkRow, diesel::connection::DefaultLoadingMode>(c)?;
    let mut symbol: Arc<str> = "".into();
    for row in rows {
        let row = row?;
        if *symbol != *row.symbol {
            symbol = row.symbol.as_str().into();
        }
        for bar in decoded(&symbol, row.year, &row.bars)? {
            sink(Record::Price { symbol: symbol.clone(), bar });
        }
    }
    Ok(())
}
