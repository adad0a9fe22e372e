//! Indexes, their members and levels.

use super::{Only, Sink, code, day, days};
use crate::{
    StoreError,
    dataset::schema::{index_levels, index_members, indexes},
};
use artemon_core::domain::{Day, Index, IndexLevel, IndexMember, Record};
use diesel::{connection::DefaultLoadingMode, prelude::*, sqlite::SqliteConnection};

#[derive(Queryable, Insertable)]
#[diesel(table_name = indexes)]
struct IndexRow {
    id: String,
    name: String,
    currency: String,
}

#[derive(Queryable, Insertable)]
#[diesel(table_name = index_members, treat_none_as_default_value = false)]
struct MemberRow {
    index_id: String,
    company_id: String,
    from_day: i32,
    to_day: Option<i32>,
}

#[derive(Queryable, Insertable)]
#[diesel(table_name = index_levels)]
struct LevelRow {
    index_id: String,
    date: i32,
    level: f64,
}

pub(crate) fn write(c: &mut SqliteConnection, rows: &[Index]) -> QueryResult<()> {
    let row = |x: &Index| IndexRow { id: x.id.to_string(), name: x.name.clone(), currency: x.currency.to_string() };
    rows.iter().try_for_each(|x| diesel::replace_into(indexes::table).values(row(x)).execute(c).map(drop))
}

pub(crate) fn write_members(c: &mut SqliteConnection, rows: &[IndexMember]) -> QueryResult<()> {
    let row = |x: &IndexMember| MemberRow {
        index_id: x.index_id.to_string(),
        company_id: x.company_id.to_string(),
        from_day: x.from.epoch_days(),
        to_day: days(x.to),
    };
    rows.iter().try_for_each(|x| diesel::replace_into(index_members::table).values(row(x)).execute(c).map(drop))
}

pub(crate) fn write_levels(c: &mut SqliteConnection, rows: &[IndexLevel]) -> QueryResult<()> {
    let row = |x: &IndexLevel| LevelRow { index_id: x.index_id.to_string(), date: x.date.epoch_days(), level: x.level };
    rows.iter().try_for_each(|x| diesel::replace_into(index_levels::table).values(row(x)).execute(c).map(drop))
}

pub(crate) fn read(c: &mut SqliteConnection, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    for r in indexes::table.order_by(indexes::id).load_iter::<IndexRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::Index(Index { id: r.id.into(), name: r.name, currency: code(&r.currency)? }))?;
    }
    Ok(())
}

pub(crate) fn read_members(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    use index_members::dsl as m;
    let all = index_members::table.order_by((m::index_id, m::company_id, m::from_day)).into_boxed();
    let query = if let Some(only) = only { all.filter(m::company_id.eq_any(only.companies)) } else { all };
    for r in query.load_iter::<MemberRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::IndexMember(IndexMember {
            index_id: r.index_id.into(),
            company_id: r.company_id.into(),
            from: Day::from_epoch_days(r.from_day),
            to: day(r.to_day),
        }))?;
    }
    Ok(())
}

pub(crate) fn read_levels(c: &mut SqliteConnection, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    for r in index_levels::table.order_by((index_levels::index_id, index_levels::date)).load_iter::<LevelRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::IndexLevel(IndexLevel { index_id: r.index_id.into(), date: Day::from_epoch_days(r.date), level: r.level }))?;
    }
    Ok(())
}
