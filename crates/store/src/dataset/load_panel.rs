//! The whole dataset, or some companies of it, into a panel: some companies at a time, on all cores.

use super::{
    Dataset, SetAside,
    checksums::{self, Adding, Sums},
    is_by_symbol, is_shared,
    rows::{self, Chosen, prices},
    schema::{companies, listings},
    sound::sound_rows,
};
use crate::{StoreError, db::at_one_moment};
use artemon_core::{
    domain::{Record, Table},
    panel::{Changes, PanelBuilder, PanelPart, Snapshot},
};
use diesel::{prelude::*, sqlite::SqliteConnection};
use std::{
    collections::{HashMap, HashSet},
    sync::Mutex,
};

/// Companies read at once by one thread: bounds the rows that wait to be sorted into the panel.
const COMPANIES_AT_ONCE: usize = 100;

impl Dataset {
    /// Everything but what is damaged: that is set aside.
    ///
    /// # Errors
    /// When the database cannot be read at all.
    pub fn load_panel(&self) -> Result<Snapshot, StoreError> {
        let (ids, kept) = at_one_moment(&mut *self.reader()?, |c| {
            let ids: Vec<String> = companies::table.select(companies::id).order_by(companies::id).load(c)?;
            Ok((ids, checksums::kept_in(c, Table::Companies)?))
        })?;
        let known: HashSet<&String> = ids.iter().collect();
        let gone = kept.into_keys().filter(|owner| !known.contains(owner));
        let mut aside: Vec<SetAside> =
            gone.map(|owner| SetAside { table: Table::Companies, company: Some(owner.clone()), owner }).collect();
        let parts = self.load_parts(&ids, With::Bars, &mut aside)?;
        let market = self.load_market(&mut aside)?;
        aside.sort();
        self.remember_aside(&aside);
        Ok(market.join(parts))
    }

    /// Some companies as they are now: those of `anew` whole, of `facts` all but their bars; and what belongs to no company when
    /// asked for.
    ///
    /// # Errors
    /// When the database cannot be read at all.
    pub fn load_changed(&self, anew: &[String], facts: &[String], market: bool) -> Result<Changes, StoreError> {
        let mut aside = Vec::new();
        let changes = Changes {
            companies: self.load_parts(anew, With::Bars, &mut aside)?,
            facts: self.load_parts(facts, With::FactsAlone, &mut aside)?,
            market: market.then(|| self.load_market(&mut aside)).transpose()?,
            ..Changes::default()
        };
        let read: HashSet<&String> = anew.iter().chain(facts).collect();
        self.look_anew(|a| a.company.as_ref().map_or(market && is_shared(a.table), |company| read.contains(company)), aside);
        Ok(changes)
    }

    fn load_parts(&self, ids: &[String], with: With, aside: &mut Vec<SetAside>) -> Result<Vec<PanelPart>, StoreError> {
        let waiting = Mutex::new(ids.chunks(COMPANIES_AT_ONCE));
        let threads = std::thread::available_parallelism().map_or(2, usize::from).min(4).min(ids.len().div_ceil(COMPANIES_AT_ONCE));
        let work = || {
            let mut c = self.reader()?;
            let (mut parts, mut aside) = (Vec::new(), Vec::new());
            loop {
                let next = waiting.lock().unwrap_or_else(std::sync::PoisonError::into_inner).next();
                let Some(ids) = next else { return Ok::<_, StoreError>((parts, aside)) };
                // As of one moment: what another program writes meanwhile would not be as it was written.
                at_one_moment(&mut c, |c| match read_sound(c, ids, with) {
                    Ok(part) => {
                        parts.push(part);
                        Ok(())
                    }
                    Err(_) => read_apart(c, ids, with, &mut parts, &mut aside),
                })?;
            }
        };
        let read = std::thread::scope(|s| {
            let all: Vec<_> = (0..threads).map(|_| s.spawn(work)).collect();
            let ended = || StoreError::Damaged { what: "reading the dataset ended early".to_owned() };
            all.into_iter().map(|t| t.join().unwrap_or_else(|_| Err(ended()))).collect::<Result<Vec<_>, _>>()
        })?;
        let (parts, asides): (Vec<_>, Vec<_>) = read.into_iter().unzip();
        aside.extend(asides.into_iter().flatten());
        Ok(parts.into_iter().flatten().collect())
    }

    /// With what belongs to no company.
    fn load_market(&self, aside: &mut Vec<SetAside>) -> Result<PanelBuilder, StoreError> {
        let mut builder = PanelBuilder::default();
        at_one_moment(&mut *self.reader()?, |c| read_shared(c, &mut builder, aside))?;
        Ok(builder)
    }
}

/// What is read of companies.
#[derive(Clone, Copy, PartialEq, Eq)]
enum With {
    Bars,
    FactsAlone,
}

/// The tables of companies that make figures, but their bars.
fn tables() -> impl Iterator<Item = Table> {
    Table::ALL.iter().copied().filter(|t| !is_shared(*t) && !matches!(t, Table::Prices | Table::Annotations))
}

/// All rows of some companies but the annotations. Something is damaged where they are not as they were written.
fn read_sound(c: &mut SqliteConnection, ids: &[String], with: With) -> Result<PanelPart, StoreError> {
    let mut builder = PanelBuilder::default();
    let symbols: Vec<String> = listings::table.filter(listings::company_id.eq_any(ids)).select(listings::symbol).load(c)?;
    let kept = checksums::kept(c, &[ids, &symbols].concat())?;
    let only = Some(Chosen { companies: ids, symbols: &symbols });
    for table in tables() {
        let mut adding = Adding::default();
        rows::read(c, table, only, &mut |record| {
            adding.add_row(&record);
            builder.push(record);
            Ok(())
        })?;
        check(&kept, table, &adding.sums())?;
    }
    if with == With::Bars {
        let sums = prices::read_columns(c, &symbols, |symbol, columns| builder.push_bars(symbol, columns))?;
        check(&kept, Table::Prices, &sums)?;
    }
    Ok(builder.build_part())
}

/// By whom the rows of a table are summed up.
const fn owners<'o>(table: Table, ids: &'o [String], symbols: &'o [String]) -> &'o [String] {
    if is_by_symbol(table) { symbols } else { ids }
}

fn check(kept: &HashMap<Table, Sums>, table: Table, now: &Sums) -> Result<(), StoreError> {
    match unlike(kept, table, now).first() {
        None => Ok(()),
        Some(owner) => Err(StoreError::Damaged { what: format!("{table} of {owner} are not as they were written") }),
    }
}

fn unlike(kept: &HashMap<Table, Sums>, table: Table, now: &Sums) -> Vec<String> {
    kept.get(&table).map_or_else(|| now.keys().cloned().collect(), |kept| checksums::unlike(kept, now))
}

/// Companies of which something is damaged, one after the other: of those it is true of only who they are is read.
fn read_apart(
    c: &mut SqliteConnection,
    ids: &[String],
    with: With,
    parts: &mut Vec<PanelPart>,
    aside: &mut Vec<SetAside>,
) -> Result<(), StoreError> {
    for id in ids.chunks(1) {
        if let Ok(part) = read_sound(c, id, with) {
            parts.push(part);
            continue;
        }
        let damaged = damaged(c, &id[0])?;
        if !damaged.iter().any(|d| matches!(d.table, Table::Companies | Table::Listings)) {
            let mut builder = PanelBuilder::default();
            let only = Some(Chosen { companies: id, symbols: &[] });
            for table in [Table::Companies, Table::Listings] {
                rows::read(c, table, only, &mut pushing(&mut builder))?;
            }
            parts.push(builder.build_part());
        }
        aside.extend(damaged);
    }
    Ok(())
}

/// What of a company is damaged.
fn damaged(c: &mut SqliteConnection, id: &String) -> Result<Vec<SetAside>, StoreError> {
    let company = std::slice::from_ref(id);
    let symbols: Vec<String> = listings::table.filter(listings::company_id.eq(id)).select(listings::symbol).load(c).unwrap_or_default();
    let kept = checksums::kept(c, &[company, &symbols].concat())?;
    let mut all = Vec::new();
    for table in tables().chain([Table::Prices]) {
        let owners = owners(table, company, &symbols);
        let unlike = match checksums::now(c, table, Some(owners)) {
            Ok(now) => unlike(&kept, table, &now),
            Err(_) => owners.to_vec(),
        };
        all.extend(unlike.into_iter().map(|owner| SetAside { table, owner, company: Some(id.clone()) }));
    }
    if all.is_empty() {
        // Each by itself is as it was written, and yet it could not be read.
        all.push(SetAside { table: Table::Companies, owner: id.clone(), company: Some(id.clone()) });
    }
    Ok(all)
}

/// What belongs to no company, without the rows of whom something is damaged.
fn read_shared(c: &mut SqliteConnection, builder: &mut PanelBuilder, aside: &mut Vec<SetAside>) -> Result<(), StoreError> {
    let of_the_market = [String::new()];
    let shared = Table::ALL.iter().filter(|t| is_shared(**t)).map(|t| (*t, None));
    for (table, owners) in shared.chain([(Table::News, Some(of_the_market.as_slice()))]) {
        let kept = checksums::kept_in(c, table)?;
        let (rows, damaged) = sound_rows(c, table, owners, &kept);
        rows.into_iter().for_each(|row| builder.push(row));
        aside.extend(damaged.into_iter().map(|owner| SetAside { table, owner, company: None }));
    }
    Ok(())
}

/// Pushes every row.
fn pushing(builder: &mut PanelBuilder) -> impl FnMut(Record) -> Result<(), StoreError> + '_ {
    |record| {
        builder.push(record);
        Ok(())
    }
}
