//! A list as a table: what one says of each company, what is computed of it, and what became of it since it was added.

use super::{
    OwnList,
    body::{Member, MemberOwn},
    list_of, symbol,
};
use crate::{
    AppError, Ctx,
    figures::compact::{Cells, CompactSpread, cells, six_digits},
    valuing::spread::spread,
};
use artemon_core::{
    domain::Day,
    engine::Section,
    formula::{Column, Unit, Value},
    panel::{CompanyAt, CompanyIndex},
    price::price_return,
    today::median_return,
    valuation::Valuation,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How a list is looked at.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct ListRowsRequest {
    /// Formulas of the columns; those of the list when absent.
    pub columns: Option<Vec<String>>,
    /// The date; the newest session when absent.
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
}

/// A list as a table, in the order of the person's hand.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ListRows {
    pub id: String,
    pub name: String,
    pub folder: String,
    /// The newest version of the document.
    pub version: i32,
    #[schema(value_type = String)]
    pub as_of: Day,
    /// The formulas of the columns, each with its unit or why it has no answers.
    pub columns: Vec<ListColumn>,
    pub rows: Vec<ListRow>,
}

/// A column beside those of every list.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ListColumn {
    pub formula: String,
    pub label: String,
    pub unit: Option<Unit>,
    pub problem: Option<String>,
}

/// A company on a list; amounts a traded unit in the listing's currency, figures to six digits.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ListRow {
    pub symbol: String,
    pub name: String,
    pub currency: String,
    /// Whether the dataset has it, and it is listed and traded at the date.
    pub listed: bool,
    /// What the person says of it.
    pub own: MemberOwn,
    /// 1 (best) to 4.
    pub soundness: Option<u8>,
    /// The same as the person thinks, and why.
    pub mine: Option<u8>,
    pub reason: String,
    pub price: Option<f64>,
    /// The price to pay at most: that of the person, or the computed one.
    pub pay: Option<f64>,
    /// Whether the price is at or under it.
    pub under: bool,
    /// The verdict's code.
    pub verdict: String,
    pub spread: Option<CompactSpread>,
    #[schema(value_type = String)]
    pub added_on: Day,
    /// The price when it was added, on the split basis of the date.
    pub price_then: Option<f64>,
    /// How the price changed since, as a fraction.
    pub since: Option<f64>,
    /// How that of the median company did.
    pub universe_since: Option<f64>,
    /// From where it was added.
    pub from: String,
    #[serde(flatten)]
    pub cells: Cells,
}

/// A list as a table.
///
/// # Errors
/// An unknown list, a date outside the data.
pub fn list_rows(ctx: &Ctx, id: &str, request: &ListRowsRequest) -> Result<ListRows, AppError> {
    let list = list_of(ctx, id)?;
    let t = ctx.date(request.as_of)?;
    let section = ctx.section(t);
    let formulas = request.columns.as_ref().unwrap_or(&list.body.columns);
    let companies: Vec<CompanyAt<'_>> = list.known().map(|(i, _)| section.as_of.company(i)).collect();
    let columns: Vec<(ListColumn, Option<Column>)> = formulas.iter().map(|f| column(ctx, f, &companies)).collect();
    let values = ctx.engine.valuations(t);
    let mut known = 0;
    let rows = list.found.iter().zip(&list.body.members).map(|(found, member)| {
        let Some(company) = *found else { return missing(ctx, member) };
        let of_columns = columns.iter().map(|(_, c)| c.as_ref().map_or(Value::Undefined(artemon_core::Why::NoAnswer), |c| c.value(known)));
        let cells = cells(of_columns.collect());
        known += 1;
        row(ctx, &section, &values[company as usize], company, member, cells)
    });
    let rows = rows.collect();
    Ok(ListRows {
        id: list.id.clone(),
        name: list.name.clone(),
        folder: list.folder.clone(),
        version: list.version,
        as_of: t,
        columns: columns.into_iter().map(|c| c.0).collect(),
        rows,
    })
}

fn column(ctx: &Ctx, formula: &str, companies: &[CompanyAt<'_>]) -> (ListColumn, Option<Column>) {
    let label = artemon_core::wording::label(formula, &ctx.settings().library);
    let of = |unit, problem| ListColumn { formula: formula.to_owned(), label: label.clone(), unit, problem };
    match ctx.engine.compile(formula) {
        Ok(compiled) => (of(Some(compiled.unit), None), Some(ctx.engine.evaluate(&compiled, companies))),
        Err(e) => (of(None, Some(e.to_string())), None),
    }
}

fn row(ctx: &Ctx, section: &Section<'_>, v: &Valuation, company: CompanyIndex, member: &Member, cells: Cells) -> ListRow {
    let (c, a) = (section.as_of.company(company), &ctx.settings().assumptions);
    let price = c.price().ok();
    let pay = member.own.price.or_else(|| v.buy_below(a).ok());
    let since = since(&c, member);
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)] // 1 to 4
    let soundness = v.quality.soundness().ok().map(|s| s as u8);
    ListRow {
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        currency: c.listing_currency().to_string(),
        listed: c.in_universe(),
        own: member.own.clone(),
        soundness,
        mine: v.own.as_ref().and_then(|o| o.soundness),
        reason: v.own.as_ref().map(|o| o.reason.clone()).unwrap_or_default(),
        price: price.map(six_digits),
        pay: pay.map(six_digits),
        under: price.zip(pay).is_some_and(|(price, pay)| price <= pay),
        verdict: v.verdict(a).to_string(),
        spread: spread(v, a).as_ref().map(CompactSpread::from),
        added_on: member.added_on,
        price_then: since.and_then(|s| price.map(|p| six_digits(p / (1.0 + s)))),
        since: since.map(six_digits),
        universe_since: since.and_then(|_| median_return(section, member.added_on)).map(six_digits),
        from: member.from.clone(),
        cells,
    }
}

/// How the price changed since a company was added; where the data of that day is no longer there, against the price kept then.
fn since(c: &CompanyAt<'_>, member: &Member) -> Option<f64> {
    if c.t() < member.added_on {
        return None;
    }
    price_return(&c.at(member.added_on), c.t()).ok().or_else(|| {
        let then = member.price_then.filter(|p| *p > 0.0)? / c.splits_since(member.added_on);
        Some(c.price().ok()? / then - 1.0)
    })
}

/// A company that the dataset does not have.
fn missing(ctx: &Ctx, member: &Member) -> ListRow {
    ListRow {
        symbol: symbol(ctx, None, member),
        name: member.company.name.clone(),
        currency: String::new(),
        listed: false,
        own: member.own.clone(),
        soundness: None,
        mine: None,
        reason: String::new(),
        price: None,
        pay: member.own.price,
        under: false,
        verdict: "cannot value".to_owned(),
        spread: None,
        added_on: member.added_on,
        price_then: member.price_then,
        since: None,
        universe_since: None,
        from: member.from.clone(),
        cells: cells(Vec::new()),
    }
}

/// A list of which a company is a member, with what one says of it there.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Membership {
    pub id: String,
    pub name: String,
    pub folder: String,
    /// None when it is not on this list.
    pub member: Option<MemberOwn>,
    #[schema(value_type = Option<String>)]
    pub added_on: Option<Day>,
    /// How the price changed since, as a fraction.
    pub since: Option<f64>,
    pub from: String,
}

/// All lists of the person, with what is said there of a company.
///
/// # Errors
/// An unknown company.
pub fn company_lists(ctx: &Ctx, key: &str, as_of: Option<Day>) -> Result<Vec<Membership>, AppError> {
    let c = ctx.company(key, ctx.date(as_of)?)?;
    let of = |list: &OwnList| {
        let member = list.known().find(|(i, _)| *i == c.index).map(|(_, m)| m);
        Membership {
            id: list.id.clone(),
            name: list.name.clone(),
            folder: list.folder.clone(),
            member: member.map(|m| m.own.clone()),
            added_on: member.map(|m| m.added_on),
            since: member.and_then(|m| since(&c, m)).map(six_digits),
            from: member.map(|m| m.from.clone()).unwrap_or_default(),
        }
    };
    Ok(ctx.own.lists.iter().map(of).collect())
}
