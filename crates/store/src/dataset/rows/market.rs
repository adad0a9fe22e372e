//! Actions, rates and exchange rates.

use super::{
    Only, Sink, code, day, days,
    insert::{Bound, Target, replace_all},
    texts::{Coded, Key},
};
use crate::{
    StoreError,
    dataset::schema::{actions, fx, rates},
};
use artemon_core::domain::{Action, ActionKind, Day, FxRate, Rate, Record};
use diesel::{connection::DefaultLoadingMode, prelude::*, sqlite::SqliteConnection};

#[derive(Queryable)]
struct ActionRow {
    symbol: Key,
    ex_date: i32,
    kind: Coded<ActionKind>,
    ratio: Option<f64>,
    amount: Option<f64>,
    declared_on: Option<i32>,
    record_date: Option<i32>,
    pay_date: Option<i32>,
}

impl Target for ActionRow {
    const TABLE: &'static str = "actions";
    const COLUMNS: &'static str = "symbol,ex_date,kind,ratio,amount,declared_on,record_date,pay_date";
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
    use Bound::{MaybeNumber, MaybeWhole, Text, Whole};
    replace_all::<ActionRow, _, _>(c, rows, |x| {
        [
            Text(&x.symbol),
            Whole(x.ex_date.epoch_days()),
            Text(x.kind.code()),
            MaybeNumber(x.ratio),
            MaybeNumber(x.amount),
            MaybeWhole(days(x.declared_on)),
            MaybeWhole(days(x.record_date)),
            MaybeWhole(days(x.pay_date)),
        ]
    })
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
    for r in query.load_iter::<ActionRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::Action(Action {
            symbol: r.symbol.0,
            ex_date: Day::from_epoch_days(r.ex_date),
            kind: r.kind.0,
            ratio: r.ratio,
            amount: r.amount,
            declared_on: day(r.declared_on),
            record_date: day(r.record_date),
            pay_date: day(r.pay_date),
        }))?;
    }
    Ok(())
}

pub(crate) fn read_rates(c: &mut SqliteConnection, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    for r in rates::table.order_by((rates::currency, rates::series, rates::date)).load_iter::<RateRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::Rate(Rate {
            date: Day::from_epoch_days(r.date),
            currency: code(&r.currency)?,
            series: code(&r.series)?,
            value: r.value,
        }))?;
    }
    Ok(())
}

pub(crate) fn read_fx(c: &mut SqliteConnection, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    for r in fx::table.order_by((fx::base, fx::quote, fx::date)).load_iter::<FxRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::Fx(FxRate { date: Day::from_epoch_days(r.date), base: code(&r.base)?, quote: code(&r.quote)?, rate: r.rate }))?;
    }
    Ok(())
}
