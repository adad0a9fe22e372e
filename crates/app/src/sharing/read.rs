//! What a link leads to.

use super::{ShareKind, opened};
use crate::{
    AppError, Ctx,
    backtests::{BacktestAnswer, backtest},
    companies::{Case, Cases},
    documents::{self, DocumentAnswer, DocumentKind, of_company::OfCompany},
    lists::{Member, list_of},
    screens::{ColumnInfo, RowsRequest, ScreenAnswer, ScreenRow, screen, screen_rows},
};
use artemon_core::{
    domain::Day,
    forecast::ForecastYear,
    formula::{OwnMeasure, Unit},
    valuation::Assumptions,
    wording::{label, write_number},
};
use serde::{Serialize, de::DeserializeOwned};
use serde_json::Value;
use utoipa::ToSchema;

/// Companies that are shown.
const SHOWN: usize = 100;

/// Something that somebody shares, as they see it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SharedAnswer {
    /// What it is, in words, like "screen".
    pub what: String,
    #[allow(missing_docs)]
    pub name: String,
    /// In the words of whoever shares it.
    pub note: String,
    /// Who shares it.
    pub by: String,
    /// Since when, as RFC 3339.
    pub since: String,
    /// Whether that is the caller.
    pub mine: bool,
    /// What it says, a line each.
    pub lines: Vec<String>,
    /// What a screen comes to, where it is one.
    pub screen: Option<Box<SharedScreen>>,
    /// The companies of a list, where it is one.
    pub list: Option<SharedList>,
    /// The documented JSON of its kind; null for a backtest.
    #[schema(value_type = Value)]
    pub body: Value,
    /// The whole backtest, where it is one.
    pub backtest: Option<Box<BacktestAnswer>>,
}

/// What a shared screen comes to on its date, or the newest session.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SharedScreen {
    #[allow(missing_docs)]
    #[schema(value_type = String)]
    pub as_of: Day,
    /// Companies that it looks among.
    pub universe: usize,
    /// Companies that pass.
    pub survivors: usize,
    /// Columns of the rows.
    pub columns: Vec<ColumnInfo>,
    /// The first of those that pass.
    pub rows: Vec<ScreenRow>,
}

/// A shared list.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SharedList {
    /// Companies that are on it.
    pub members: usize,
    /// The first of them.
    pub companies: Vec<SharedCompany>,
}

/// A company of a shared list.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct SharedCompany {
    pub symbol: String,
    pub name: String,
    /// What whoever shares it says of the company.
    pub said: String,
}

/// What is told of a document.
#[derive(Default)]
struct Told {
    lines: Vec<String>,
    screen: Option<Box<SharedScreen>>,
    list: Option<SharedList>,
}

/// What a link leads to.
///
/// # Errors
/// A link that leads nowhere, or not any more.
pub fn shared(ctx: &Ctx, token: &str) -> Result<SharedAnswer, AppError> {
    let (share, kind, named, theirs) = opened(ctx, token)?;
    let mut answer = SharedAnswer {
        what: named.what,
        name: named.name,
        note: String::new(),
        mine: share.person == ctx.person,
        by: share.name,
        since: share.shared_at,
        lines: Vec::new(),
        screen: None,
        list: None,
        body: Value::Null,
        backtest: None,
    };
    if kind == ShareKind::Backtest {
        let of = backtest(&theirs, &share.object)?;
        answer.lines = vec![of.entry.says.clone()];
        answer.backtest = Some(Box::new(of));
        return Ok(answer);
    }
    let document = documents::document(&theirs, &share.object, None)?;
    let told = of_document(&theirs, &document)?;
    (answer.lines, answer.screen, answer.list) = (told.lines, told.screen, told.list);
    (answer.note, answer.body) = (document.entry.note, document.body);
    Ok(answer)
}

fn of_document(theirs: &Ctx, document: &DocumentAnswer) -> Result<Told, AppError> {
    match document.entry.kind {
        DocumentKind::Screen => of_screen(theirs, document),
        DocumentKind::List => of_list(theirs, &document.entry.id),
        DocumentKind::ColumnSet => {
            let formulas: Vec<String> = body(document)?;
            let library = &theirs.settings().library;
            Ok(lines(formulas.iter().map(|formula| format!("{}: {formula}", label(formula, library))).collect()))
        }
        DocumentKind::Measure => {
            let OwnMeasure { label, note, formula, .. } = body(document)?;
            Ok(lines([label, formula, note].into_iter().filter(|line| !line.is_empty()).collect()))
        }
        DocumentKind::AssumptionSet => {
            let set: Assumptions = body(document)?;
            Ok(lines(differences(&set, &Assumptions::standard())))
        }
        DocumentKind::Case => {
            let of: OfCompany<Cases> = body(document)?;
            Ok(lines(in_words(&of.own)))
        }
        DocumentKind::Note | DocumentKind::Alert => Ok(Told::default()),
    }
}

/// What a set assumes that another does not, a line each.
fn differences(set: &Assumptions, other: &Assumptions) -> Vec<String> {
    let fields = |set: &Assumptions| match serde_json::to_value(set) {
        Ok(Value::Object(fields)) => fields,
        _ => serde_json::Map::new(),
    };
    let others = fields(other);
    let differs = |(name, value): &(String, Value)| !["name", "version"].contains(&name.as_str()) && others.get(name) != Some(value);
    let line = |(name, value): (String, Value)| {
        let shipped = others.get(&name).map(|value| format!(" instead of {}", shown(value))).unwrap_or_default();
        format!("{}: {}{shipped}", name.replace('_', " "), shown(&value))
    };
    let all: Vec<String> = fields(set).into_iter().filter(differs).map(line).collect();
    if all.is_empty() { vec![format!("The same as {}.", other.name)] } else { all }
}

/// A value as it is read.
fn shown(value: &Value) -> String {
    match value {
        Value::Null => "none".to_owned(),
        Value::String(text) => text.replace('_', " "),
        Value::Array(all) => all.iter().map(shown).collect::<Vec<_>>().join(", "),
        Value::Object(all) => {
            all.iter().map(|(name, of)| format!("{} {}", name.replace('_', " "), shown(of))).collect::<Vec<_>>().join(", ")
        }
        other => other.to_string(),
    }
}

/// What is forecast, a line each case.
fn in_words(cases: &Cases) -> Vec<String> {
    let percent = |x: f64| write_number(x, Unit::Percent);
    let case = |(name, case): (&str, &Option<Case>)| {
        let case = case.as_ref()?;
        let each = |of: fn(&ForecastYear) -> f64| case.years.iter().map(|y| percent(of(y))).collect::<Vec<_>>().join(", ");
        let why = if case.why.is_empty() { String::new() } else { format!(" {}", case.why) };
        Some(format!(
            "{name}: revenue growth {}; operating margin {}; {} times earnings at the end.{why}",
            each(|y| y.revenue_growth),
            each(|y| y.operating_margin),
            write_number(case.exit_multiple, Unit::Ratio),
        ))
    };
    [("Low", &cases.low), ("Likely", &cases.likely), ("High", &cases.high)].into_iter().filter_map(case).collect()
}

fn lines(lines: Vec<String>) -> Told {
    Told { lines, ..Told::default() }
}

fn body<T: DeserializeOwned>(document: &DocumentAnswer) -> Result<T, AppError> {
    let unusable = |e: serde_json::Error| AppError::Unusable { what: document.entry.name.clone(), problem: documents::body::plain(&e) };
    T::deserialize(&document.body).map_err(unusable)
}

fn of_screen(theirs: &Ctx, document: &DocumentAnswer) -> Result<Told, AppError> {
    let of = documents::screen_of(document)?;
    let answer = screen(theirs, &of)?;
    let said = answer.criteria.iter().map(|c| format!("{} {}", c.sentence.what, c.sentence.bound).trim().to_owned());
    let rows = screen_rows(theirs, &RowsRequest { list: of.into(), offset: 0, rows: SHOWN, news: false })?.rows;
    let ScreenAnswer { as_of, universe, survivors, columns, .. } = answer;
    Ok(Told { lines: said.collect(), screen: Some(Box::new(SharedScreen { as_of, universe, survivors, columns, rows })), list: None })
}

/// What one thinks of a company belongs to the company, not to the list, and is not told.
fn of_list(theirs: &Ctx, id: &str) -> Result<Told, AppError> {
    let members = &list_of(theirs, id)?.body.members;
    let company = |m: &Member| SharedCompany { symbol: m.company.symbol.clone(), name: m.company.name.clone(), said: m.own.note.clone() };
    let companies = members.iter().take(SHOWN).map(company).collect();
    Ok(Told { list: Some(SharedList { members: members.len(), companies }), ..Told::default() })
}
