//! Analysts' estimates, insiders' trades, ownership.

use super::{Only, Sink, code};
use crate::{
    StoreError,
    schema::{estimates, insider_trades, ownership},
};
use artemon_core::domain::{Day, Estimate, InsiderTrade, Ownership, Record};
use diesel::{prelude::*, sqlite::SqliteConnection};

#[derive(Queryable, Insertable)]
#[diesel(table_name = estimates, treat_none_as_default_value = false)]
struct EstimateRow {
    company_id: String,
    published_on: i32,
    metric: String,
    fiscal_year: i32,
    period: String,
    mean: f64,
    low: Option<f64>,
    high: Option<f64>,
    analysts: Option<f64>,
}

#[derive(Queryable, Insertable)]
#[diesel(table_name = insider_trades, treat_none_as_default_value = false)]
struct TradeRow {
    company_id: String,
    filing_id: String,
    filed_on: i32,
    traded_on: i32,
    insider_id: String,
    insider_name: String,
    role: String,
    code: String,
    acquired: bool,
    shares: f64,
    price: f64,
    currency: String,
    shares_after: Option<f64>,
    direct: bool,
    planned: bool,
}

#[derive(Queryable, Insertable)]
#[diesel(table_name = ownership, treat_none_as_default_value = false)]
struct OwnershipRow {
    company_id: String,
    as_of: i32,
    filed_on: i32,
    insiders: Option<f64>,
    controlling: Option<f64>,
    institutions: Option<f64>,
    pledged: Option<f64>,
}

pub(crate) fn write_estimates(c: &mut SqliteConnection, rows: &[Estimate]) -> QueryResult<()> {
    let row = |x: &Estimate| EstimateRow {
        company_id: x.company_id.to_string(),
        published_on: x.published_on.epoch_days(),
        metric: x.metric.to_string(),
        fiscal_year: x.fiscal_year.unwrap_or(0),
        period: x.period.map(|p| p.to_string()).unwrap_or_default(),
        mean: x.mean,
        low: x.low,
        high: x.high,
        analysts: x.analysts,
    };
    rows.iter().try_for_each(|x| diesel::replace_into(estimates::table).values(row(x)).execute(c).map(drop))
}

pub(crate) fn write_trades(c: &mut SqliteConnection, rows: &[InsiderTrade]) -> QueryResult<()> {
    let row = |x: &InsiderTrade| TradeRow {
        company_id: x.company_id.to_string(),
        filing_id: x.filing_id.clone(),
        filed_on: x.filed_on.epoch_days(),
        traded_on: x.traded_on.epoch_days(),
        insider_id: x.insider_id.to_string(),
        insider_name: x.insider_name.clone(),
        role: x.role.to_string(),
        code: x.code.clone(),
        acquired: x.acquired,
        shares: x.shares,
        price: x.price,
        currency: x.currency.to_string(),
        shares_after: x.shares_after,
        direct: x.direct,
        planned: x.planned,
    };
    rows.iter().try_for_each(|x| diesel::replace_into(insider_trades::table).values(row(x)).execute(c).map(drop))
}

pub(crate) fn write_ownership(c: &mut SqliteConnection, rows: &[Ownership]) -> QueryResult<()> {
    let row = |x: &Ownership| OwnershipRow {
        company_id: x.company_id.to_string(),
        as_of: x.as_of.epoch_days(),
        filed_on: x.filed_on.epoch_days(),
        insiders: x.insiders,
        controlling: x.controlling,
        institutions: x.institutions,
        pledged: x.pledged,
    };
    rows.iter().try_for_each(|x| diesel::replace_into(ownership::table).values(row(x)).execute(c).map(drop))
}

pub(crate) fn read_estimates(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    use estimates::dsl as e;
    let all = estimates::table.order_by((e::company_id, e::published_on, e::metric, e::fiscal_year, e::period)).into_boxed();
    let query = if let Some(only) = only { all.filter(e::company_id.eq_any(only.companies)) } else { all };
    let rows = query.load_iter::<EstimateRow, diesel::connection::DefaultLoadingMode>(c)?;
    let mut company: std::sync::Arc<str> = "".into();
    for r in rows {
        let r = r?;
        if *company != *r.company_id {
            company = r.company_id.as_str().into();
        }
        sink(Record::Estimate(Estimate {
            company_id: company.clone(),
            published_on: Day::from_epoch_days(r.published_on),
            metric: code(&r.metric)?,
            fiscal_year: Some(r.fiscal_year).filter(|y| *y != 0),
            period: if r.period.is_empty() { None } else { Some(code(&r.period)?) },
            mean: r.mean,
            low: r.low,
            high: r.high,
            analysts: r.analysts,
        }));
    }
    Ok(())
}

pub(crate) fn read_ownership(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    let all = ownership::table.order_by((ownership::company_id, ownership::as_of, ownership::filed_on)).into_boxed();
    let query = if let Some(only) = only { all.filter(ownership::company_id.eq_any(only.companies)) } else { all };
    for r in query.load::<OwnershipRow>(c)? {
        sink(Record::Ownership(Ownership {
            company_id: r.company_id.into(),
            as_of: Day::from_epoch_days(r.as_of),
            filed_on: Day::from_epoch_days(r.filed_on),
            insiders: r.insiders,
            controlling: r.controlling,
            institutions: r.institutions,
            pledged: r.pledged,
        }));
    }
    Ok(())
}

pub(crate) fn read_trades(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    use insider_trades::dsl as t;
    let all = insider_trades::table.order_by((t::company_id, t::filed_on, t::filing_id, t::traded_on)).into_boxed();
    let query = if let Some(only) = only { all.filter(t::company_id.eq_any(only.companies)) } else { all };
    for r in query.load::<TradeRow>(c)? {
        sink(Record::InsiderTrade(Box::new(InsiderTrade {
            company_id: r.company_id.into(),
            filing_id: r.filing_id,
            filed_on: Day::from_epoch_days(r.filed_on),
            traded_on: Day::from_epoch_days(r.traded_on),
            insider_id: r.insider_id.into(),
            insider_name: r.insider_name,
            role: code(&r.role)?,
            code: r.code,
            acquired: r.acquired,
            shares: r.shares,
            price: r.price,
            currency: code(&r.currency)?,
            shares_after: r.shares_after,
            direct: r.direct,
            planned: r.planned,
        })));
    }
    Ok(())
}
