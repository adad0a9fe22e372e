//! Actions, rates and exchange rates.

use super::{Only, Sink, code, day, days};
use crate::{
    StoreError,
    schema::{actions, fx, rates},
};
use artemon_core::domain::{Action, Day, FxRate, Rate, Record};
use diesel::{prelude::*, sqlite::SqliteConnection};

#[derive(Queryable, Insertable)]
#[diesel(table_name = actions, treat_none_as_default_value = false)]
struct ActionRow {
    symbol: String,
    ex_date: i32,
    kind: String,
    ratio: Option<f64>,
    amount: Option<f64>,
    declared_on: Option<i32>,
    record_date: Option<i32>,
    pay_date: Option<i32>,
}

#[derive(Queryable, Insertable)]
#[diesel(table_name = rates)]
struct RateRow {
    date: i32,
    currency: String,
    series: String,
    value: f64,
}

#[derive(Queryable, Insertable)]
#[diesel(table_name = fx)]
struct FxRow {
    date: i32,
    base: String,
    quote: String,
    rate: f64,
}

pub(crate) fn write_actions(c: &mut SqliteConnection, rows: &[Action]) -> QueryResult<()> {
    let row = |x: &Action| ActionRow {
        symbol: x.symbol.to_string(),
        ex_date: x.ex_date.epoch_days(),
        kind: x.kind.to_string(),
        ratio: x.ratio,
        amount: x.amount,
        declared_on: days(x.declared_on),
        record_date: days(x.record_date),
        pay_date: days(x.pay_date),
    };
    rows.iter().try_for_each(|x| diesel::replace_into(actions::table).values(row(x)).execute(c).map(drop))
}

pub(crate) fn write_rates(c: &mut SqliteConnection, rows: &[Rate]) -> QueryResult<()> {
    let row =
        |x: &Rate| RateRow { date: x.date.epoch_days(), currency: x.currency.to_string(), series: x.series.to_string(), value: x.value };
    rows.iter().try_for_each(|x| diesel::replace_into(rates::table).values(row(x)).execute(c).map(drop))
}

pub(crate) fn write_fx(c: &mut SqliteConnection, rows: &[FxRate]) -> QueryResult<()> {
    let row = |x: &FxRate| FxRow { date: x.date.epoch_days(), base: x.base.to_string(), quote: x.quote.to_string(), rate: x.rate };
    rows.iter().try_for_each(|x| diesel::replace_into(fx::table).values(row(x)).execute(c).map(drop))
}

pub(crate) fn read_actions(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    let all = actions::table.order_by((actions::symbol, actions::ex_date, actions::kind)).into_boxed();
    let query = if let Some(only) = only { all.filter(actions::symbol.eq_any(only.symbols)) } else { all };
    for r in query.load::<ActionRow>(c)? {
        sink(Record::Action(Action {
            symbol: r.symbol.into(),
            ex_date: Day::from_epoch_days(r.ex_date),
            kind: code(&r.kind)?,
            ratio: r.ratio,
            amount: r.amount,
            declared_on: day(r.declared_on),
            record_date: day(r.record_date),
            pay_date: day(r.pay_date),
        }));
    }
    Ok(())
}

pub(crate) fn read_rates(c: &mut SqliteConnection, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    for r in rates::table.order_by((rates::currency, rates::series, rates::date)).load::<RateRow>(c)? {
        sink(Record::Rate(Rate {
            date: Day::from_epoch_days(r.date),
            currency: code(&r.currency)?,
            series: code(&r.series)?,
            value: r.value,
        }));
    }
    Ok(())
}

pub(crate) fn read_fx(c: &mut SqliteConnection, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    for r in fx::table.order_by((fx::base, fx::quote, fx::date)).load::<FxRow>(c)? {
        sink(Record::Fx(FxRate { date: Day::from_epoch_days(r.date), base: code(&r.base)?, quote: code(&r.quote)?, rate: r.rate }));
    }
    Ok(())
}
