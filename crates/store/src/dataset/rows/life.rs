//! Officers, events and news of companies; what the user put on them.

use super::{
    Only, Sink, code, day, days,
    insert::{Bound, Target, replace_all},
};
use crate::{
    StoreError,
    dataset::schema::{annotations, events, news, officers},
};
use artemon_core::domain::{Annotation, Day, Event, News, Officer, Record};
use diesel::{connection::DefaultLoadingMode, prelude::*, sqlite::SqliteConnection};

#[derive(Queryable)]
struct OfficerRow {
    company_id: String,
    name: String,
    role: String,
    since: i32,
    until: Option<i32>,
    birth_year: Option<i32>,
}

#[derive(Queryable)]
struct EventRow {
    company_id: String,
    date: i32,
    kind: String,
    confirmed: bool,
    announced_on: Option<i32>,
}

#[derive(Queryable)]
struct NewsRow {
    company_id: Option<String>,
    published_at: String,
    headline: String,
    summary: String,
    source: String,
}

#[derive(Queryable, Insertable)]
#[diesel(table_name = annotations, treat_none_as_default_value = false)]
struct AnnotationRow {
    company_id: String,
    kind: String,
    name: String,
    value: String,
    noted_on: Option<i32>,
}

impl Target for OfficerRow {
    const TABLE: &'static str = "officers";
    const COLUMNS: &'static str = "company_id,name,role,since,until,birth_year";
}

impl Target for EventRow {
    const TABLE: &'static str = "events";
    const COLUMNS: &'static str = "company_id,date,kind,confirmed,announced_on";
}

impl Target for NewsRow {
    const TABLE: &'static str = "news";
    const COLUMNS: &'static str = "company_id,published_at,headline,summary,source";
}

pub(crate) fn write_officers(c: &mut SqliteConnection, rows: &[Officer]) -> QueryResult<()> {
    use Bound::{MaybeWhole, Text, Whole};
    replace_all::<OfficerRow, _, _>(c, rows, |x| {
        let since = Whole(x.since.unwrap_or(Day::MIN).epoch_days());
        let years = [MaybeWhole(days(x.until)), MaybeWhole(x.birth_year)];
        [Text(&x.company_id), Text(&x.name), Text(&x.role), since, years[0], years[1]]
    })
}

pub(crate) fn write_events(c: &mut SqliteConnection, rows: &[Event]) -> QueryResult<()> {
    use Bound::{Flag, MaybeWhole, Text, Whole};
    replace_all::<EventRow, _, _>(c, rows, |x| {
        let known = MaybeWhole(days(x.announced_on));
        [Text(&x.company_id), Whole(x.date.epoch_days()), Text(x.kind.code()), Flag(x.confirmed), known]
    })
}

pub(crate) fn write_news(c: &mut SqliteConnection, rows: &[News]) -> QueryResult<()> {
    use Bound::{MaybeText, Text};
    replace_all::<NewsRow, _, _>(c, rows, |x| {
        let texts = [Text(&x.published_at), Text(&x.headline), Text(&x.summary), Text(&x.source)];
        [MaybeText(x.company_id.as_deref()), texts[0], texts[1], texts[2], texts[3]]
    })
}

pub(crate) fn write_annotations(c: &mut SqliteConnection, rows: &[Annotation]) -> QueryResult<()> {
    let row = |x: &Annotation| AnnotationRow {
        company_id: x.company_id.to_string(),
        kind: x.kind.to_string(),
        name: x.name.clone(),
        value: x.value.clone(),
        noted_on: days(x.noted_on),
    };
    rows.iter().try_for_each(|x| diesel::replace_into(annotations::table).values(row(x)).execute(c).map(drop))
}

pub(crate) fn read_officers(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    use officers::dsl as o;
    let all = officers::table.order_by((o::company_id, o::since, o::name, o::role)).into_boxed();
    let query = if let Some(only) = only { all.filter(o::company_id.eq_any(only.companies)) } else { all };
    for r in query.load_iter::<OfficerRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::Officer(Officer {
            company_id: r.company_id.into(),
            name: r.name,
            role: r.role,
            since: Some(Day::from_epoch_days(r.since)).filter(|d| *d != Day::MIN),
            until: day(r.until),
            birth_year: r.birth_year,
        }))?;
    }
    Ok(())
}

pub(crate) fn read_events(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    let all = events::table.order_by((events::company_id, events::date, events::kind)).into_boxed();
    let query = if let Some(only) = only { all.filter(events::company_id.eq_any(only.companies)) } else { all };
    for r in query.load_iter::<EventRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::Event(Event {
            company_id: r.company_id.into(),
            date: Day::from_epoch_days(r.date),
            kind: code(&r.kind)?,
            confirmed: r.confirmed,
            announced_on: day(r.announced_on),
        }))?;
    }
    Ok(())
}

/// News of these companies; of all of them and of the market when there is no choice.
pub(crate) fn read_news(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    use news::dsl as n;
    let columns = (n::company_id, n::published_at, n::headline, n::summary, n::source);
    let all = news::table.select(columns).order_by((n::company_id, n::published_at, n::headline)).into_boxed();
    let query = if let Some(only) = only { all.filter(n::company_id.eq_any(only.companies)) } else { all };
    query.load_iter::<NewsRow, DefaultLoadingMode>(c)?.try_for_each(|r| sink(record(r?)))
}

/// News of the market as a whole.
pub(crate) fn read_market_news(c: &mut SqliteConnection, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    use news::dsl as n;
    let columns = (n::company_id, n::published_at, n::headline, n::summary, n::source);
    let rows = news::table.select(columns).filter(n::company_id.is_null()).load::<NewsRow>(c)?;
    rows.into_iter().try_for_each(|r| sink(record(r)))
}

fn record(r: NewsRow) -> Record {
    Record::News(Box::new(News {
        company_id: r.company_id.map(Into::into),
        published_at: r.published_at,
        headline: r.headline,
        summary: r.summary,
        source: r.source,
    }))
}

pub(crate) fn read_annotations(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    use annotations::dsl as a;
    let all = annotations::table.order_by((a::company_id, a::kind, a::name)).into_boxed();
    let query = if let Some(only) = only { all.filter(a::company_id.eq_any(only.companies)) } else { all };
    for r in query.load_iter::<AnnotationRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::Annotation(Box::new(Annotation {
            company_id: r.company_id.into(),
            kind: code(&r.kind)?,
            name: r.name,
            value: r.value,
            noted_on: day(r.noted_on),
        })))?;
    }
    Ok(())
}
