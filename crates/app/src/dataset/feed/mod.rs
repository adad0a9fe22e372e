//! Sessions that come in one after another: those of the demo world, of a server on this machine that hands them out as packages, or
//! packages that a script puts into a folder.

mod folder;
mod http;
mod stand_in;

pub use folder::take_incoming;
pub use stand_in::{StandIn, stand_in};

use super::{
    demo::{DemoFeed, WORLD, world_of},
    import::{report::TableRows, touched::Touched},
};
use crate::{
    AppError, Ctx,
    alerts::data_changed,
    people::noted,
    ports::{Feed, Session},
};
use artemon_core::domain::{Day, Record, Table};
use artemon_demo::World;
use artemon_formats::Known;
use artemon_store::Dataset;
use http::HttpFeed;
use serde::{Deserialize, Serialize};
use std::{collections::BTreeMap, sync::Arc};
use utoipa::ToSchema;

/// Sessions that can be asked for at once: a quarter.
const MOST_AT_ONCE: usize = 63;
/// Headlines that an answer carries.
const HEADLINES: usize = 12;
/// The setting that holds the address of a feed on this machine.
const ADDRESS: &str = "feed_address";

/// Where the feed stands.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct FeedState {
    /// Whether there is one: the dataset is the demo world, or an address is set.
    pub available: bool,
    /// The address that it is read from; none for the demo world's own.
    pub address: Option<String>,
    /// The session that comes next; none when the feed is at its end or there is none.
    #[schema(value_type = Option<String>)]
    pub next: Option<Day>,
    /// Sessions that are left.
    pub left: usize,
    /// Why it does not answer.
    pub problem: Option<String>,
}

/// How many sessions to bring.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FeedRequest {
    /// At least 1, at most 63.
    pub sessions: usize,
}

/// Where to read sessions from.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FeedSource {
    /// A server on this machine, like http://127.0.0.1:8019; none for the demo world's own sessions.
    pub address: Option<String>,
}

/// What sessions brought.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FeedReport {
    /// The first and the last session brought.
    #[schema(value_type = String)]
    pub from: Day,
    #[schema(value_type = String)]
    pub to: Day,
    /// New and changed rows by table.
    pub tables: Vec<TableRows>,
    /// The newest headlines of the market and of companies.
    pub headlines: Vec<String>,
    pub state: FeedState,
}

/// Where the feed stands. What is to come of the demo world is made when a session is first asked for.
///
/// # Errors
/// When the store cannot be read.
pub fn feed_state(ctx: &Ctx) -> Result<FeedState, AppError> {
    let last = ctx.home.dataset().engine.snapshot().sessions().map(|s| s.1);
    let state = |address, ahead: Vec<Day>, problem| FeedState {
        available: true,
        address,
        next: ahead.first().copied(),
        left: ahead.len(),
        problem,
    };
    if let Some(address) = address(ctx)? {
        let ahead = HttpFeed::of(&address).and_then(|feed| feed.ahead(last.unwrap_or(Day::MIN)));
        return Ok(match ahead {
            Ok(ahead) => state(Some(address), ahead, None),
            Err(problem) => state(Some(address), Vec::new(), Some(problem)),
        });
    }
    if world(ctx)?.is_none() {
        return Ok(FeedState { available: false, ..state(None, Vec::new(), None) });
    }
    let ahead = World::feed_days().into_iter().filter(|d| last.is_some_and(|l| *d > l)).collect();
    Ok(state(None, ahead, None))
}

/// Reads sessions from a server on this machine from now on, or again those of the demo world.
///
/// # Errors
/// An address that is not one of this machine, or does not answer.
pub fn choose_feed(ctx: &Ctx, source: &FeedSource) -> Result<FeedState, AppError> {
    let address = source.address.as_deref().map(str::trim).unwrap_or_default();
    if !address.is_empty() {
        HttpFeed::of(address).and_then(|feed| feed.ahead(Day::MIN)).map_err(|problem| refused(&problem))?;
    }
    ctx.home.store.write::<(), AppError>(|batch| Ok(batch.set(ADDRESS, address)?))?;
    feed_state(ctx)
}

/// Brings the next sessions in one transaction; readers keep their dataset until the next one is there.
///
/// # Errors
/// A dataset without a feed, a feed at its end or one that goes backwards, too many sessions at once, a store that refuses.
pub fn next_sessions(ctx: &Ctx, request: FeedRequest) -> Result<FeedReport, AppError> {
    if !(1..=MOST_AT_ONCE).contains(&request.sessions) {
        return Err(refused(&format!("between 1 and {MOST_AT_ONCE} sessions can be brought at once")));
    }
    let home = &ctx.home;
    let _one = home.changing();
    let feed = feed(ctx)?;
    let before = home.dataset();
    let last = before.engine.snapshot().sessions().map(|s| s.1).ok_or(AppError::Empty)?;
    let coming = coming(&*feed, &home.store, last, request.sessions)?;
    let (Some(first), Some(newest)) = (coming.first(), coming.last()) else {
        return Err(refused("its last session has been reached; the demo world can be started anew"));
    };
    let mut touched = Touched::new(before.engine.snapshot());
    home.store.write::<(), AppError>(|batch| {
        coming.iter().flat_map(|s| &s.1).try_for_each(|r| {
            touched.note(r);
            Ok(batch.put(r.clone())?)
        })
    })?;
    home.swap(before.after(&touched, &home.store, home.options.base)?);
    data_changed(home);
    noted(ctx, "brought sessions", &format!("{} to {}", first.0, newest.0))?;
    let (tables, headlines) = told(&coming);
    Ok(FeedReport { from: first.0, to: newest.0, tables, headlines, state: feed_state(ctx)? })
}

/// The next sessions after a day. Prices of a day that is over already are refused: whoever hands them out is not where one is.
fn coming(feed: &dyn Feed, store: &Dataset, last: Day, many: usize) -> Result<Vec<Session>, AppError> {
    let keys = store.keys()?;
    let mut known = Known { companies: keys.companies, symbols: keys.symbols, indexes: keys.indexes };
    let days = feed.ahead(last).map_err(|problem| refused(&problem))?;
    let session = |day: &Day| {
        let rows = feed.session(*day, &mut known).map_err(|problem| refused(&problem))?;
        let back = rows.iter().find_map(|r| if let Record::Price { bar, .. } = r { Some(bar.date).filter(|d| *d <= last) } else { None });
        match back {
            Some(back) => Err(refused(&format!("it goes backwards: its session of {day} has prices of {back}, and {last} is over"))),
            None => Ok((*day, rows)),
        }
    };
    days.iter().take(many).map(session).collect()
}

fn world(ctx: &Ctx) -> Result<Option<World>, AppError> {
    Ok(ctx.home.store.setting(WORLD)?.and_then(|s| world_of(&s)))
}

fn address(ctx: &Ctx) -> Result<Option<String>, AppError> {
    Ok(ctx.home.store.setting(ADDRESS)?.filter(|a| !a.is_empty()))
}

fn feed(ctx: &Ctx) -> Result<Arc<dyn Feed>, AppError> {
    if let Some(address) = address(ctx)? {
        return Ok(Arc::new(HttpFeed::of(&address).map_err(|problem| refused(&problem))?));
    }
    let world = world(ctx)?.ok_or_else(|| refused("only the demo world of this version has one"))?;
    Ok(ctx.home.feed.get_or_init(|| Arc::new(DemoFeed::of(world))).clone())
}

fn refused(problem: &str) -> AppError {
    AppError::Unusable { what: "The feed".to_owned(), problem: problem.to_owned() }
}

fn told(sessions: &[Session]) -> (Vec<TableRows>, Vec<String>) {
    let mut counts: BTreeMap<Table, u64> = BTreeMap::new();
    let rows = || sessions.iter().rev().flat_map(|s| &s.1);
    rows().for_each(|r| *counts.entry(r.table()).or_default() += 1);
    let headline = |r: &Record| if let Record::News(n) = r { Some(n.headline.clone()) } else { None };
    let tables = counts.into_iter().map(|(table, rows)| TableRows { table, rows }).collect();
    (tables, rows().filter_map(headline).take(HEADLINES).collect())
}
