//! The companies that pass a screen, by page or all of them.

use super::{
    news::{CompanyNews, newest_news},
    run::{ScreenAnswer, screen as counted},
};
use crate::{
    AppError, Ctx,
    figures::{
        compact::{Cells, CompactRange, CompactSpread, cells, compact_range},
        figure::Figure,
        grouping::{Grouping, Medians},
    },
    valuing::spread::{Spread, spread},
};
use artemon_core::{
    Why,
    engine::Section,
    formula::{OwnRange, Value},
    panel::CompanyAt,
    screening::{self, Screen, Shown},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Most rows of one page.
const MOST: usize = 200;

/// The companies that pass a screen, as a table lists them.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ScreenList {
    /// The screen's document, of the newest session unless it says a date.
    pub screen: Screen,
    /// Only those whose name, symbol, sector, industry or country has this in it.
    #[serde(default)]
    pub text: String,
    /// Those of one group together, groups by name; within a group in the screen's order.
    #[serde(default)]
    pub group: Option<Grouping>,
}

impl From<Screen> for ScreenList {
    fn from(screen: Screen) -> ScreenList {
        ScreenList { screen, text: String::new(), group: None }
    }
}

/// Which of the companies listed are wanted.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RowsRequest {
    /// All of them.
    pub list: ScreenList,
    /// The first of them, from 0.
    #[serde(default)]
    pub offset: usize,
    /// How many; 200 at most.
    pub rows: usize,
    /// Whether with their newest headlines.
    #[serde(default)]
    pub news: bool,
}

/// A page of the companies that pass a screen.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct RowsAnswer {
    /// Companies that pass and have the text, all pages together.
    pub survivors: usize,
    /// Those of the page.
    pub rows: Vec<ScreenRow>,
}

/// A company that passes, as a table shows it: figures to six digits.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ScreenRow {
    pub symbol: String,
    pub name: String,
    pub currency: String,
    #[serde(flatten)]
    pub cells: Cells,
    /// For columns that are own-history ranks, the range behind the rank: low, lower quartile, median, upper quartile, high,
    /// today, and today's rank.
    #[schema(value_type = Vec<Option<Vec<f64>>>)]
    pub ranges: Vec<Option<CompactRange>>,
    pub spread: Option<CompactSpread>,
    /// Its newest headline, where that was asked for.
    pub news: Option<CompanyNews>,
}

/// What a screen comes to with all its companies, every figure in full.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct WholeScreen {
    #[serde(flatten)]
    pub answer: ScreenAnswer,
    pub rows: Vec<RowAnswer>,
}

/// A company that passes.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct RowAnswer {
    pub symbol: String,
    pub name: String,
    pub currency: String,
    pub values: Vec<Figure>,
    /// For columns that are own-history ranks, the range behind the rank.
    pub ranges: Vec<Option<OwnRange>>,
    pub spread: Option<Spread>,
}

/// A page of the companies listed.
///
/// # Errors
/// A universe that cannot be formed, a mistake in a sort key, a date outside the data.
pub fn screen_rows(ctx: &Ctx, RowsRequest { list, offset, rows: wanted, news }: &RowsRequest) -> Result<RowsAnswer, AppError> {
    let section = ctx.section(ctx.date(list.screen.as_of)?);
    let survivors = listed(list, &section)?;
    let page: Vec<usize> = survivors.iter().skip(*offset).take((*wanted).min(MOST)).copied().collect();
    let companies = page.iter().filter(|_| *news).map(|place| section.as_of.company(section.members()[*place]));
    let mut news = newest_news(section.as_of, &companies.collect::<Vec<_>>()).into_iter();
    let rows = rows(&list.screen, &section, &page).map(|row| ScreenRow {
        cells: cells(row.values),
        ranges: row.ranges.iter().map(|r| r.as_ref().map(compact_range)).collect(),
        spread: row.spread.as_ref().map(CompactSpread::from),
        symbol: row.symbol,
        name: row.name,
        currency: row.currency,
        news: news.next().flatten(),
    });
    Ok(RowsAnswer { survivors: survivors.len(), rows: rows.collect() })
}

/// The medians of the screen's columns over the companies listed, and over each group in the order of their rows.
///
/// # Errors
/// As [`screen_rows`].
pub fn screen_medians(ctx: &Ctx, list: &ScreenList) -> Result<Medians, AppError> {
    let section = ctx.section(ctx.date(list.screen.as_of)?);
    let columns = screening::columns(&list.screen, &section);
    let number = |(_, column): &Shown, place: usize| column.as_ref().ok().and_then(|(_, values)| values.value(place).number().ok());
    let numbers = |place: &usize| columns.iter().map(|column| number(column, *place)).collect();
    let listed = listed(list, &section)?;
    Ok(Medians::of(list.group, section.as_of.snapshot, &listed, |place: &usize| section.members()[*place], numbers))
}

/// The symbols of all companies listed, in their order: what one steps through.
///
/// # Errors
/// As [`screen_rows`].
pub fn screen_symbols(ctx: &Ctx, list: &ScreenList) -> Result<Vec<String>, AppError> {
    let section = ctx.section(ctx.date(list.screen.as_of)?);
    let symbol = |place: usize| section.as_of.snapshot.symbol(section.members()[place]).to_owned();
    Ok(listed(list, &section)?.into_iter().map(symbol).collect())
}

/// The companies listed, by place in the section.
pub(super) fn listed(list: &ScreenList, section: &Section<'_>) -> Result<Vec<usize>, AppError> {
    let mut places = named(&list.text, screening::survivors(&list.screen, section)?, section);
    if let Some(group) = list.group {
        group.arrange(section.as_of.snapshot, &mut places, |place| section.members()[*place]);
    }
    Ok(places)
}

/// Those in whose names, groups or country a text is.
fn named(text: &str, mut places: Vec<usize>, section: &Section<'_>) -> Vec<usize> {
    let text = text.trim().to_lowercase();
    if !text.is_empty() {
        let snapshot = section.as_of.snapshot;
        places.retain(|place| {
            let index = section.members()[*place];
            let c = snapshot.company(index);
            let words = [&*c.name, snapshot.symbol(index), &*c.sector, &*c.industry, &*c.country];
            words.iter().any(|word| word.to_lowercase().contains(&text))
        });
    }
    places
}

/// A screen with all its companies, as of its own date or the newest session.
///
/// # Errors
/// As [`counted`] and [`screen_rows`].
pub fn whole_screen(ctx: &Ctx, screen: &Screen) -> Result<WholeScreen, AppError> {
    whole_list(ctx, &screen.clone().into())
}

/// What a screen comes to, with all companies listed.
pub(super) fn whole_list(ctx: &Ctx, list: &ScreenList) -> Result<WholeScreen, AppError> {
    let (screen, section) = (&list.screen, ctx.section(ctx.date(list.screen.as_of)?));
    let listed = listed(list, &section)?;
    let row = |row: Row| RowAnswer {
        symbol: row.symbol,
        name: row.name,
        currency: row.currency,
        values: row.values.into_iter().map(Figure::from).collect(),
        ranges: row.ranges,
        spread: row.spread,
    };
    Ok(WholeScreen { answer: counted(ctx, screen)?, rows: rows(screen, &section, &listed).map(row).collect() })
}

/// A company that passes, with its answers in full.
pub(super) struct Row {
    pub(super) symbol: String,
    pub(super) name: String,
    pub(super) currency: String,
    pub(super) values: Vec<Value>,
    ranges: Vec<Option<OwnRange>>,
    spread: Option<Spread>,
}

/// The rows of some survivors (places in the section).
pub(super) fn rows(screen: &Screen, section: &Section<'_>, places: &[usize]) -> impl Iterator<Item = Row> {
    let companies: Vec<CompanyAt<'_>> = places.iter().map(|p| section.as_of.company(section.members()[*p])).collect();
    let ranges: Vec<Option<Vec<Option<OwnRange>>>> =
        screen.columns.iter().map(|f| section.compile(f).ok().and_then(|c| section.context().own_ranges(&c, &companies))).collect();
    let values = section.context().valuations(section.t());
    let columns = screening::columns(screen, section);
    let cell = |(_, column): &Shown, place: usize| match column {
        Ok((_, values)) => values.value(place),
        Err(_) => Value::Undefined(Why::NoAnswer),
    };
    let row = |(i, c): (usize, &CompanyAt<'_>)| Row {
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        currency: c.listing_currency().to_string(),
        values: columns.iter().map(|column| cell(column, places[i])).collect(),
        ranges: ranges.iter().map(|r| r.as_ref().and_then(|r| r[i])).collect(),
        spread: spread(&values[c.index as usize], &section.context().settings().assumptions),
    };
    companies.iter().enumerate().map(row).collect::<Vec<_>>().into_iter()
}
