//! The simulated feed of the demo world: a session more at a time, as an evening's data would come in.

use super::{
    demo::{DemoFeed, WORLD, world_of},
    import::{report::TableRows, touched::Touched},
};
use crate::{
    AppError, Ctx,
    alerts::data_changed,
    ports::{Feed, Session},
};
use artemon_core::domain::{Day, Record, Table};
use artemon_demo::World;
use serde::{Deserialize, Serialize};
use std::{collections::BTreeMap, sync::Arc};
use utoipa::ToSchema;

/// Sessions that can be asked for at once: a quarter.
const MOST_AT_ONCE: usize = 63;
/// Headlines that an answer carries.
const HEADLINES: usize = 12;

/// Where the feed stands.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct FeedState {
    /// Whether the dataset is the demo world, which is the only one that has a feed.
    pub available: bool,
    /// The session that comes next; none when the feed is at its end or there is none.
    #[schema(value_type = Option<String>)]
    pub next: Option<Day>,
    /// Sessions that are left.
    pub left: usize,
}

/// How many sessions to bring.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FeedRequest {
    /// At least 1, at most 63.
    pub sessions: usize,
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

/// Where the feed stands. What is to come is made when a session is first asked for.
///
/// # Errors
/// When the store cannot be read.
pub fn feed_state(ctx: &Ctx) -> Result<FeedState, AppError> {
    let world = world(ctx)?;
    let days = world.map(|_| World::feed_days()).unwrap_or_default();
    let last = ctx.home.dataset().engine.snapshot().sessions().map(|s| s.1);
    let ahead: Vec<Day> = days.into_iter().filter(|d| last.is_some_and(|l| *d > l)).collect();
    Ok(FeedState { available: world.is_some(), next: ahead.first().copied(), left: ahead.len() })
}

/// Brings the next sessions in one transaction; readers keep their dataset until the next one is there.
///
/// # Errors
/// A dataset without a feed, a feed at its end, too many sessions at once, a store that refuses.
pub fn next_sessions(ctx: &Ctx, request: FeedRequest) -> Result<FeedReport, AppError> {
    if !(1..=MOST_AT_ONCE).contains(&request.sessions) {
        return Err(refused(&format!("between 1 and {MOST_AT_ONCE} sessions can be brought at once")));
    }
    let home = &ctx.home;
    let _one = home.changing();
    let feed = feed(ctx)?;
    let before = home.dataset();
    let last = before.engine.snapshot().sessions().map(|s| s.1).ok_or(AppError::Empty)?;
    let start = feed.sessions().partition_point(|s| s.0 <= last);
    let coming = &feed.sessions()[start..feed.sessions().len().min(start + request.sessions)];
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
    let (tables, headlines) = told(coming);
    Ok(FeedReport { from: first.0, to: newest.0, tables, headlines, state: feed_state(ctx)? })
}

fn world(ctx: &Ctx) -> Result<Option<World>, AppError> {
    Ok(ctx.home.store.setting(WORLD)?.and_then(|s| world_of(&s)))
}

fn feed(ctx: &Ctx) -> Result<Arc<dyn Feed>, AppError> {
    let world = world(ctx)?.ok_or_else(|| refused("only the demo world of this version has one"))?;
    Ok(ctx.home.feed.get_or_init(|| Arc::new(DemoFeed::of(world))).clone())
}

fn refused(problem: &str) -> AppError {
    AppError::Unusable { what: "The simulated feed".to_owned(), problem: problem.to_owned() }
}

fn told(sessions: &[Session]) -> (Vec<TableRows>, Vec<String>) {
    let mut counts: BTreeMap<Table, u64> = BTreeMap::new();
    let rows = || sessions.iter().rev().flat_map(|s| &s.1);
    rows().for_each(|r| *counts.entry(r.table()).or_default() += 1);
    let headline = |r: &Record| if let Record::News(n) = r { Some(n.headline.clone()) } else { None };
    let tables = counts.into_iter().map(|(table, rows)| TableRows { table, rows }).collect();
    (tables, rows().filter_map(headline).take(HEADLINES).collect())
}
