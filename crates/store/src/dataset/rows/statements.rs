//! Filings.

use super::{
    Only, Sink,
    insert::{Bound, Target, replace},
    texts::{Coded, Key, Packed},
};
use crate::{
    StoreError,
    dataset::{items, schema::statements},
};
use artemon_core::domain::{Currency, Day, Period, Record, Statement};
use diesel::{connection::DefaultLoadingMode, prelude::*, sqlite::SqliteConnection};

#[derive(Queryable)]
struct FilingRow {
    company_id: Key,
    fiscal_year: i32,
    period: Coded<Period>,
    filed_on: i32,
    period_end: i32,
    currency: Coded<Currency>,
    source: String,
    items: Packed,
}

impl Target for FilingRow {
    const TABLE: &'static str = "statements";
    const COLUMNS: &'static str = "company_id,fiscal_year,period,filed_on,period_end,currency,source,items";
}

pub(crate) fn write(c: &mut SqliteConnection, filed: &[Statement]) -> QueryResult<()> {
    filed.iter().try_for_each(|s| {
        let values = [
            Bound::Text(&s.company_id),
            Bound::Whole(s.fiscal_year),
            Bound::Text(s.period.code()),
            Bound::Whole(s.filed_on.epoch_days()),
            Bound::Whole(s.period_end.epoch_days()),
            Bound::Text(s.currency.as_str()),
            Bound::Text(&s.source),
            Bound::Bytes(&items::encode(&s.items)),
        ];
        replace::<FilingRow>(c, &values)
    })
}

pub(crate) fn read(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    use statements::dsl as s;
    let all = statements::table.order_by((s::company_id, s::fiscal_year, s::period, s::filed_on)).into_boxed();
    let query = if let Some(only) = only { all.filter(s::company_id.eq_any(only.companies)) } else { all };
    for row in query.load_iter::<FilingRow, DefaultLoadingMode>(c)? {
        let row = row?;
        let damaged = || StoreError::Damaged { what: format!("a filing of {} of {} fails its checksum", row.company_id, row.fiscal_year) };
        let items = row.items.0.ok_or_else(damaged)?;
        sink(Record::Statement(Box::new(Statement {
            company_id: row.company_id.0,
            fiscal_year: row.fiscal_year,
            period: row.period.0,
            period_end: Day::from_epoch_days(row.period_end),
            filed_on: Day::from_epoch_days(row.filed_on),
            currency: row.currency.0,
            source: row.source,
            items,
        })))?;
    }
    Ok(())
}
