//! Companies and listings.

use super::{Only, Sink, code, day, days};
use crate::{
    StoreError,
    dataset::schema::{companies, listings},
};
use artemon_core::domain::{Company, Listing, Record};
use diesel::{connection::DefaultLoadingMode, prelude::*, sqlite::SqliteConnection};

#[derive(Queryable, Insertable)]
#[diesel(table_name = companies, treat_none_as_default_value = false)]
struct CompanyRow {
    id: String,
    name: String,
    country: String,
    sector: String,
    industry: String,
    currency: String,
    /// 0 where it is not known.
    fiscal_year_end_month: i32,
    kind: String,
    description: String,
    employees: Option<f64>,
    founded: Option<i32>,
    lei: String,
}

#[derive(Queryable, Insertable)]
#[diesel(table_name = listings, treat_none_as_default_value = false)]
struct ListingRow {
    symbol: String,
    company_id: String,
    mic: String,
    isin: String,
    currency: String,
    shares_per_unit: f64,
    is_primary: bool,
    listed_on: Option<i32>,
    delisted_on: Option<i32>,
    delisting_return: Option<f64>,
}

pub(crate) fn write(c: &mut SqliteConnection, rows: &[Company]) -> QueryResult<()> {
    let row = |x: &Company| CompanyRow {
        id: x.id.to_string(),
        name: x.name.clone(),
        country: x.country.clone(),
        sector: x.sector.clone(),
        industry: x.industry.clone(),
        currency: x.currency.to_string(),
        fiscal_year_end_month: x.fiscal_year_end_month.unwrap_or(0).into(),
        kind: x.kind.to_string(),
        description: x.description.clone(),
        employees: x.employees,
        founded: x.founded,
        lei: x.lei.clone(),
    };
    rows.iter().try_for_each(|x| diesel::replace_into(companies::table).values(row(x)).execute(c).map(drop))
}

pub(crate) fn write_listings(c: &mut SqliteConnection, rows: &[Listing]) -> QueryResult<()> {
    let row = |x: &Listing| ListingRow {
        symbol: x.symbol.to_string(),
        company_id: x.company_id.to_string(),
        mic: x.mic.clone(),
        isin: x.isin.clone(),
        currency: x.currency.to_string(),
        shares_per_unit: x.shares_per_unit,
        is_primary: x.primary,
        listed_on: days(x.listed_on),
        delisted_on: days(x.delisted_on),
        delisting_return: x.delisting_return,
    };
    rows.iter().try_for_each(|x| diesel::replace_into(listings::table).values(row(x)).execute(c).map(drop))
}

pub(crate) fn read(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    let all = companies::table.order_by(companies::id).into_boxed();
    let query = if let Some(only) = only { all.filter(companies::id.eq_any(only.companies)) } else { all };
    for r in query.load_iter::<CompanyRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::Company(Company {
            id: r.id.into(),
            name: r.name,
            country: r.country,
            sector: r.sector,
            industry: r.industry,
            currency: code(&r.currency)?,
            fiscal_year_end_month: u8::try_from(r.fiscal_year_end_month).ok().filter(|month| *month > 0),
            kind: code(&r.kind)?,
            description: r.description,
            employees: r.employees,
            founded: r.founded,
            lei: r.lei,
        }))?;
    }
    Ok(())
}

pub(crate) fn read_listings(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    let all = listings::table.order_by(listings::symbol).into_boxed();
    let query = if let Some(only) = only { all.filter(listings::company_id.eq_any(only.companies)) } else { all };
    for r in query.load_iter::<ListingRow, DefaultLoadingMode>(c)? {
        let r = r?;
        sink(Record::Listing(Listing {
            symbol: r.symbol.into(),
            company_id: r.company_id.into(),
            mic: r.mic,
            isin: r.isin,
            currency: code(&r.currency)?,
            shares_per_unit: r.shares_per_unit,
            primary: r.is_primary,
            listed_on: day(r.listed_on),
            delisted_on: day(r.delisted_on),
            delisting_return: r.delisting_return,
        }))?;
    }
    Ok(())
}
