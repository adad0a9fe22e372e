//! The company page: the record, the years, what was paid, what it is worth, who bought.

use super::{
    answers::{Answer, answers},
    episodes::{OwnRecord, own_record},
    months::{MonthPoint, months},
    search::{CompanyHit, hit},
    years::{YearColumn, YearRow, columns, years},
};
use crate::{
    AppError, Ctx,
    dataset::doubts::{FindingAnswer, doubts_at},
    figures::figure::{Figure, value},
    valuing::value::{ValueAnswer, answer},
};
use artemon_core::{
    domain::{Day, EventKind, Listing, Officer, Role},
    engine::Context,
    formula::{Better, Measure, OwnRange, Unit},
    measures,
    panel::CompanyAt,
    wording::figures,
};
use serde::Serialize;
use utoipa::ToSchema;

/// Months of price and value shown.
const MONTHS: i32 = 240;

/// Everything on the page of one company.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CompanyPage {
    #[schema(value_type = String)]
    pub as_of: Day,
    pub company: CompanyHit,
    pub industry: String,
    pub description: String,
    pub employees: Option<f64>,
    pub founded: Option<i32>,
    pub exchange: String,
    /// The base currency: that of whole-company amounts.
    pub base: String,
    /// The listing's currency: that of amounts a share.
    pub currency: String,
    #[schema(value_type = Option<String>)]
    pub price_date: Option<Day>,
    /// Figures beside the page, in order.
    pub figures: Vec<NamedFigure>,
    pub answers: Vec<Answer>,
    /// What of each year means something for its kind.
    pub year_columns: Vec<YearColumn>,
    /// Newest first; years ahead that are estimated come first.
    pub years: Vec<YearRow>,
    pub ranges: Vec<NamedRange>,
    pub months: Vec<MonthPoint>,
    /// How often it was far under its value, and what came of it.
    pub record: OwnRecord,
    pub value: ValueAnswer,
    /// Those in office, the chief executive first.
    pub officers: Vec<OfficerRow>,
    /// What is due soon, as far as it is known.
    pub ahead: Vec<DateAhead>,
    pub listings: Vec<ListingRow>,
    /// Doubts about its data, which stand beside the figures.
    pub doubts: Vec<FindingAnswer>,
}

/// A figure with its name and unit.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct NamedFigure {
    pub formula: String,
    pub label: String,
    pub meaning: String,
    pub unit: Unit,
    pub figure: Figure,
}

/// Where a measure stands in its own ten years.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct NamedRange {
    pub measure: String,
    pub label: String,
    pub unit: Unit,
    /// Whether a low place is the better one.
    pub lower_is_better: bool,
    pub range: Option<OwnRange>,
    pub reason: Option<String>,
}

/// A person in office.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct OfficerRow {
    pub name: String,
    pub role: String,
    #[schema(value_type = Option<String>)]
    pub since: Option<Day>,
    /// Whole years in office.
    pub years: Option<i32>,
    pub birth_year: Option<i32>,
}

/// Something that is due.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct DateAhead {
    #[schema(value_type = String)]
    pub date: Day,
    /// "results", "ex-dividend 0.42 ZOC", …
    pub what: String,
    pub confirmed: bool,
}

/// Where a share is traded, or was.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ListingRow {
    pub symbol: String,
    pub exchange: String,
    pub currency: String,
    #[schema(value_type = Option<String>)]
    pub listed_on: Option<Day>,
    #[schema(value_type = Option<String>)]
    pub delisted_on: Option<Day>,
}

/// The page of a company at a date.
///
/// # Errors
/// An unknown company, a date outside the data.
pub fn company_page(ctx: &Ctx, symbol: &str, as_of: Option<Day>) -> Result<CompanyPage, AppError> {
    let t = ctx.date(as_of)?;
    let c = ctx.company(symbol, t)?;
    let context = &ctx.engine;
    let valued = context.value_company(t, c.index);
    let (company, listing) = (c.company(), c.listing());
    let months = months(context, &c, MONTHS);
    Ok(CompanyPage {
        as_of: t,
        company: hit(&c),
        industry: company.industry.clone(),
        description: company.description.clone(),
        employees: company.employees,
        founded: company.founded,
        exchange: listing.map(|l| l.mic.clone()).unwrap_or_default(),
        base: ctx.settings().base.to_string(),
        currency: c.listing_currency().to_string(),
        price_date: c.bars().last_date(),
        figures: headline_figures(context, &c),
        answers: answers(context, &c, &valued),
        year_columns: columns(context, &c),
        years: years(context, &c),
        ranges: RANGES.iter().map(|m| range(context, &c, m)).collect(),
        record: own_record(&c, &months),
        months,
        value: answer(context, &c, valued, None)?,
        officers: officers(&c),
        ahead: ahead(&c),
        listings: c.listings().map(listing_row).collect(),
        doubts: doubts_at(&ctx.dataset, c.index, t),
    })
}

const FIGURES: &[&str] = &[
    "price",
    "change(1d)",
    "from_low_52w",
    "from_high_52w",
    "market_cap",
    "pe",
    "pe_forward",
    "pb",
    "ev_ebit",
    "dividend_yield",
    "roe",
    "net_margin",
    "debt_to_equity",
    "interest_cover",
    "eps_growth(5)",
    "expected_return",
    "return_over_bonds",
    "insider_stake",
    "insider_net_buying_ratio(12)",
    "chief_tenure",
];

const RANGES: &[&str] = &["pe", "pb", "ps", "ev_ebit", "fcf_yield", "operating_margin"];

/// The figures beside the page, in order.
pub(crate) fn headline_figures(context: &Context, c: &CompanyAt<'_>) -> Vec<NamedFigure> {
    FIGURES.iter().filter_map(|f| named(context, c, f)).collect()
}

fn named(context: &Context, c: &CompanyAt<'_>, formula: &str) -> Option<NamedFigure> {
    let measure = measures::find(formula.split('(').next()?)?;
    let figure = value(context, c, formula)?.into();
    Some(NamedFigure {
        formula: formula.to_owned(),
        label: label_of(measure, formula),
        meaning: measure.meaning.to_owned(),
        unit: measure.unit,
        figure,
    })
}

/// The measure's name with its years or months.
fn label_of(measure: &Measure, formula: &str) -> String {
    let argument = formula.split_once('(').map(|(_, rest)| rest.trim_end_matches(')'));
    match (argument, measure.params.first().map(|p| p.name)) {
        (Some(n), Some("n")) => format!("{}, {n} years", measure.label),
        (Some(n), Some("months")) => format!("{}, {n} months", measure.label),
        _ => measure.label.to_owned(),
    }
}

fn range(context: &Context, c: &CompanyAt<'_>, id: &str) -> NamedRange {
    let formula = format!("own_rank({id}, 10y)");
    let row = [context.as_of(c.t()).company(c.index)];
    let range = context.compile(&formula).ok().and_then(|f| context.own_ranges(&f, &row)).and_then(|r| r[0]);
    let reason = if range.is_none() { value(context, c, &formula).and_then(|v| v.why()) } else { None };
    let measure = measures::find(id);
    NamedRange {
        measure: id.to_owned(),
        label: measure.map_or(id, |m| m.label).to_owned(),
        unit: measure.map_or(Unit::Ratio, |m| m.unit),
        lower_is_better: measure.is_some_and(|m| m.better == Better::Lower),
        range,
        reason: reason.map(|w| w.to_string()),
    }
}

fn officers(c: &CompanyAt<'_>) -> Vec<OfficerRow> {
    let row = |o: &Officer| OfficerRow {
        name: o.name.clone(),
        role: o.role.replace('_', " "),
        since: o.since,
        years: o.since.map(|since| (c.t().month_index() - since.month_index()) / 12),
        birth_year: o.birth_year,
    };
    let chief = Role::ChiefExecutive.code();
    let mut all: Vec<&Officer> = c.officers().collect();
    all.sort_by_key(|o| (o.role != chief, o.since));
    all.into_iter().map(row).collect()
}

fn ahead(c: &CompanyAt<'_>) -> Vec<DateAhead> {
    let what = |kind: EventKind| match kind {
        EventKind::Earnings => "results",
        EventKind::ExDividend => "ex-dividend",
        EventKind::DividendPayment => "dividend paid",
        EventKind::Meeting => "general meeting",
    };
    let currency = c.listing_currency();
    let events = c.events_ahead().map(|e| DateAhead { date: e.date, what: what(e.kind).to_owned(), confirmed: e.confirmed });
    let declared = c.declared_dividends().map(|d| {
        let what = format!("ex-dividend, {} {currency} a share", figures::amount(d.amount));
        DateAhead { date: d.ex_date, what, confirmed: true }
    });
    let mut all: Vec<DateAhead> = declared.chain(events).collect();
    all.sort_by_key(|d| d.date);
    // A declared dividend says more than the event of its day.
    all.dedup_by(|later, first| later.date == first.date && first.what.starts_with(&later.what));
    all
}

fn listing_row(l: &Listing) -> ListingRow {
    ListingRow {
        symbol: l.symbol.to_string(),
        exchange: l.mic.clone(),
        currency: l.currency.to_string(),
        listed_on: l.listed_on,
        delisted_on: l.delisted_on,
    }
}
