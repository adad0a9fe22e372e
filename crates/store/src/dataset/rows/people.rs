//! Analysts' estimates, insiders' trades, ownership.

use super::{
    Only, Sink,
    insert::{Bound, Target, replace_all},
    texts::{Coded, Key, Shared},
};
use crate::{
    StoreError,
    dataset::schema::{estimates, insider_trades, ownership},
};
use artemon_core::domain::{CodeError, Currency, Day, Estimate, InsiderTrade, Metric, Ownership, Period, Record, Role};
use diesel::{connection::DefaultLoadingMode, prelude::*, sqlite::SqliteConnection};
use std::str::FromStr;

#[derive(Queryable)]
struct EstimateRow {
    company_id: Key,
    published_on: i32,
    metric: Coded<Metric>,
    fiscal_year: i32,
    period: Coded<Maybe<Period>>,
    mean: f64,
    low: Option<f64>,
    high: Option<f64>,
    analysts: Option<f64>,
}

/// A price that is not known, where it is part of a key and cannot be empty.
const PRICE_NOT_KNOWN: f64 = -1.0;

/// A code that may be missing, such as the part of a fiscal year that an estimate is for: then the text is empty.
struct Maybe<T>(Option<T>);

impl<T: FromStr<Err = CodeError>> FromStr for Maybe<T> {
    type Err = CodeError;
    fn from_str(text: &str) -> Result<Maybe<T>, CodeError> {
        if text.is_empty() { Ok(Maybe(None)) } else { text.parse().map(|code| Maybe(Some(code))) }
    }
}

#[derive(Queryable)]
struct TradeRow {
    company_id: Key,
    filing_id: String,
    filed_on: i32,
    traded_on: i32,
    insider_id: Shared,
    insider_name: Shared,
    role: Coded<Maybe<Role>>,
    code: Shared,
    acquired: bool,
    shares: f64,
    price: f64,
    currency: Coded<Currency>,
    shares_after: Option<f64>,
    direct: bool,
    planned: bool,
    superseded_on: Option<i32>,
}

#[derive(Queryable)]
struct OwnershipRow {
    company_id: Key,
    as_of: i32,
    filed_on: i32,
    insiders: Option<f64>,
    controlling: Option<f64>,
    institutions: Option<f64>,
    pledged: Option<f64>,
}

impl Target for EstimateRow {
    const TABLE: &'static str = "estimates";
    const COLUMNS: &'static str = "company_id,published_on,metric,fiscal_year,period,mean,low,high,analysts";
}

impl Target for TradeRow {
    const TABLE: &'static str = "insider_trades";
    const COLUMNS: &'static str = "company_id,filing_id,filed_on,traded_on,insider_id,insider_name,role,code,acquired,shares,price,\
        currency,shares_after,direct,planned,superseded_on";
}

impl Target for OwnershipRow {
    const TABLE: &'static str = "ownership";
    const COLUMNS: &'static str = "company_id,as_of,filed_on,insiders,controlling,institutions,pledged";
}

pub(crate) fn write_estimates(c: &mut SqliteConnection, rows: &[Estimate]) -> QueryResult<()> {
    use Bound::{MaybeNumber, Number, Text, Whole};
    replace_all::<EstimateRow, _, _>(c, rows, |x| {
        [
            Text(&x.company_id),
            Whole(x.published_on.epoch_days()),
            Text(x.metric.code()),
            Whole(x.fiscal_year.unwrap_or(0)),
            Text(x.period.map_or("", artemon_core::domain::Period::code)),
            Number(x.mean),
            MaybeNumber(x.low),
            MaybeNumber(x.high),
            MaybeNumber(x.analysts),
        ]
    })
}

pub(crate) fn write_trades(c: &mut SqliteConnection, rows: &[InsiderTrade]) -> QueryResult<()> {
    use Bound::{Flag, MaybeNumber, MaybeWhole, Number, Text, Whole};
    replace_all::<TradeRow, _, _>(c, rows, |x| {
        [
            Text(&x.company_id),
            Text(&x.filing_id),
            Whole(x.filed_on.epoch_days()),
            Whole(x.traded_on.epoch_days()),
            Text(&x.insider_id),
            Text(&x.insider_name),
            Text(x.role.map_or("", Role::code)),
            Text(&x.code),
            Flag(x.acquired),
            Number(x.shares),
            Number(x.price.unwrap_or(PRICE_NOT_KNOWN)),
            Text(x.currency.as_str()),
            MaybeNumber(x.shares_after),
            Flag(x.direct),
            Flag(x.planned),
            MaybeWhole(x.superseded_on.map(Day::epoch_days)),
        ]
    })
}

pub(crate) fn write_ownership(c: &mut SqliteConnection, rows: &[Ownership]) -> QueryResult<()> {
    use Bound::{MaybeNumber, Text, Whole};
    replace_all::<OwnershipRow, _, _>(c, rows, |x| {
        let (as_of, filed_on) = (Whole(x.as_of.epoch_days()), Whole(x.filed_on.epoch_days()));
        let shares = [x.insiders, x.controlling, x.institutions, x.pledged].map(MaybeNumber);
        let [insiders, controlling, institutions, pledged] = shares;
        [Text(&x.company_id), as_of, filed_on, insiders, controlling, institutions, pledged]
    })
}

pub(crate) fn read_estimates(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    use estimates::dsl as e;
    let all = estimates::table.order_by((e::company_id, e::published_on, e::metric, e::fiscal_year, e::period)).into_boxed();
    let query = if let Some(only) = only { all.filter(e::company_id.eq_any(only.companies)) } else { all };
    let rows = query.load_iter::<EstimateRow, DefaultLoadingMode>(c)?;
    for r in rows {
        let r = r?;
        sink(Record::Estimate(Estimate {
            company_id: r.company_id.0,
            published_on: Day::from_epoch_days(r.published_on),
            metric: r.metric.0,
            fiscal_year: Some(r.fiscal_year).filter(|y| *y != 0),
            period: r.period.0.0,
            mean: r.mean,
            low: r.low,
            high: r.high,
            analysts: r.analysts,
        }))?;
    }
    Ok(())
}

pub(crate) fn read_ownership(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    let all = ownership::table.order_by((ownership::company_id, ownership::as_of, ownership::filed_on)).into_boxed();
    let query = if let Some(only) = only { all.filter(ownership::company_id.eq_any(only.companies)) } else { all };
    for r in query.load_iter::<OwnershipRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::Ownership(Ownership {
            company_id: r.company_id.0,
            as_of: Day::from_epoch_days(r.as_of),
            filed_on: Day::from_epoch_days(r.filed_on),
            insiders: r.insiders,
            controlling: r.controlling,
            institutions: r.institutions,
            pledged: r.pledged,
        }))?;
    }
    Ok(())
}

pub(crate) fn read_trades(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    use insider_trades::dsl as t;
    // The order of the primary key: the database need not sort.
    let key = (t::company_id, t::filing_id, t::insider_id, t::traded_on, t::code, t::acquired, t::shares, t::price, t::filed_on);
    let all = insider_trades::table.order_by(key).into_boxed();
    let query = if let Some(only) = only { all.filter(t::company_id.eq_any(only.companies)) } else { all };
    for r in query.load_iter::<TradeRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::InsiderTrade(Box::new(InsiderTrade {
            company_id: r.company_id.0,
            filing_id: r.filing_id,
            filed_on: Day::from_epoch_days(r.filed_on),
            traded_on: Day::from_epoch_days(r.traded_on),
            insider_id: r.insider_id.0,
            insider_name: r.insider_name.0,
            role: r.role.0.0,
            code: r.code.0,
            acquired: r.acquired,
            shares: r.shares,
            price: Some(r.price).filter(|p| *p >= 0.0),
            currency: r.currency.0,
            shares_after: r.shares_after,
            direct: r.direct,
            planned: r.planned,
            superseded_on: r.superseded_on.map(Day::from_epoch_days),
        })))?;
    }
    Ok(())
}
