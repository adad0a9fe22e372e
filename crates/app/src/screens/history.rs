//! A screen over time: who entered and left, what it would have found in other years, and how two versions of it differ.

use crate::{AppError, Ctx, documents, figures::figure::Figure};
use artemon_core::{
    domain::Day,
    engine::Section,
    formula::Unit,
    panel::CompanyAt,
    price::total_return,
    screening::{self, Change, Criterion, Screen, Turned},
    stats,
    wording::{differences, sentence},
};
use artemon_store::KeptRun;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Two versions of a screen.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct CompareScreens {
    pub before: Screen,
    pub after: Screen,
}

/// How they differ, a sentence each; none when they are the same.
#[must_use]
pub fn compare_screens(ctx: &Ctx, asked: &CompareScreens) -> Vec<String> {
    differences(&asked.before, &asked.after, &ctx.settings().library)
}

/// A screen and an earlier date.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChangesRequest {
    /// The screen's document; its date is the later one, the newest session when absent.
    pub screen: Screen,
    /// The earlier date.
    #[schema(value_type = String)]
    pub since: Day,
}

/// Who came and who went.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ChangesAnswer {
    /// The earlier date.
    #[schema(value_type = String)]
    pub since: Day,
    /// The later one.
    #[schema(value_type = String)]
    pub as_of: Day,
    /// Pass now and did not then, by symbol.
    pub entered: Vec<ChangeAnswer>,
    /// Passed then and do not now.
    pub left: Vec<ChangeAnswer>,
    /// How many pass on both dates.
    pub stayed: usize,
}

/// A company that passes on one of the dates only.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ChangeAnswer {
    pub symbol: String,
    pub name: String,
    /// On the other date the screen does not look at it: not listed, outside the universe, under a floor.
    pub outside: bool,
    /// The criteria that turned.
    pub turned: Vec<TurnedAnswer>,
}

/// A criterion that turned for a company.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct TurnedAnswer {
    /// The criterion, counted over all blocks.
    pub criterion: usize,
    /// What is measured, in words.
    pub what: String,
    /// What is asked of it.
    pub bound: String,
    /// In which unit.
    pub unit: Option<Unit>,
    /// On the earlier date.
    pub then: Figure,
    /// On the later one.
    pub now: Figure,
}

/// Who entered and who left a screen since a date, and why.
///
/// # Errors
/// A universe that cannot be formed, dates outside the data or in the wrong order.
pub fn screen_changes(ctx: &Ctx, ChangesRequest { screen, since }: &ChangesRequest) -> Result<ChangesAnswer, AppError> {
    let (then, now) = (ctx.date(Some(*since))?, ctx.date(screen.as_of)?);
    if then > now {
        let problem = format!("it is after the date of the screen, {now}; choose an earlier one");
        return Err(AppError::Unusable { what: format!("The date {then}"), problem });
    }
    let (before, after) = (ctx.section(then), ctx.section(now));
    let found = screening::changes(screen, &before, &after)?;
    let criteria: Vec<&Criterion> = screen.blocks.iter().flat_map(|b| &b.criteria).collect();
    let change = |c: Change| ChangeAnswer {
        symbol: ctx.snapshot().symbol(c.company).to_owned(),
        name: ctx.snapshot().company(c.company).name.clone(),
        outside: c.outside,
        turned: c.turned.into_iter().map(|t| turned(t, &criteria, &after)).collect(),
    };
    let all = |of: Vec<Change>| of.into_iter().map(change).collect();
    Ok(ChangesAnswer { since: then, as_of: now, stayed: found.stayed, entered: all(found.entered), left: all(found.left) })
}

fn turned(t: Turned, criteria: &[&Criterion], section: &Section<'_>) -> TurnedAnswer {
    let criterion = criteria[t.criterion];
    let unit = section.compile(&criterion.formula).ok().map(|c| c.unit);
    let said = sentence(criterion, unit, &section.context().settings().library);
    TurnedAnswer { criterion: t.criterion, what: said.what, bound: said.bound, unit, then: t.then.into(), now: t.now.into() }
}

/// What a saved screen finds, and what changed since it was run for an earlier session.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct SavedRun {
    /// The session it was run for.
    #[schema(value_type = String)]
    pub as_of: Day,
    /// How many companies pass.
    pub found: usize,
    /// How many passed at the last run for an earlier session.
    pub found_before: Option<i32>,
    /// Who entered and left since that run, by the screen as it is now.
    pub changes: Option<ChangesAnswer>,
}

/// Runs a saved screen for the newest session and remembers it; what changed since its last run for an earlier session is told.
///
/// # Errors
/// When there is no such screen, or it cannot be run.
pub fn run_saved_screen(ctx: &Ctx, id: &str) -> Result<SavedRun, AppError> {
    let found = documents::document(ctx, id, None)?;
    let screen = Screen { as_of: None, ..documents::screen_of(&found)? };
    let as_of = ctx.date(None)?;
    let passing = screening::survivors(&screen, &ctx.section(as_of))?.len();
    let people = &ctx.home.people;
    let last = people.run_before(&ctx.person, id, &as_of.to_string())?;
    people.remember_run(id, &KeptRun { as_of: as_of.to_string(), found: i32::try_from(passing).unwrap_or(i32::MAX) })?;
    let since = last.as_ref().and_then(|run| run.as_of.parse().ok()).filter(|since| ctx.date(Some(*since)).is_ok());
    let changes = since.map(|since| screen_changes(ctx, &ChangesRequest { screen, since })).transpose()?;
    Ok(SavedRun { as_of, found: passing, found_before: last.map(|run| run.found), changes })
}

/// A screen, and the year of which the same day is wanted.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct YearRequest {
    /// The document, of the newest session unless it says a date.
    pub screen: Screen,
    /// How many years before that date; 0 is the date itself.
    pub years_before: u8,
}

/// A screen on the same day of an earlier year.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct YearAnswer {
    /// The day.
    #[schema(value_type = String)]
    pub as_of: Day,
    /// How many companies passed.
    pub found: usize,
    /// Their median total return over the twelve months after; `None` while these lie ahead and when none
    /// passed.
    pub year_after: Option<f64>,
    /// That of all companies that the screen looked among.
    pub all_year_after: Option<f64>,
}

/// A screen on the same day of an earlier year; `None` for a day before the data. One year at a time, so that whoever asks for many
/// sees them come.
///
/// # Errors
/// A universe that cannot be formed, a date outside the data.
pub fn screen_year(ctx: &Ctx, YearRequest { screen, years_before }: &YearRequest) -> Result<Option<YearAnswer>, AppError> {
    let day = ctx.date(screen.as_of)?.plus_months(-12 * i32::from(*years_before));
    if ctx.date(Some(day)).is_err() {
        return Ok(None);
    }
    let section = ctx.section(day);
    let passing = screening::survivors(screen, &section)?;
    let everyone = Screen { blocks: Vec::new(), sort: Vec::new(), limit: None, ..screen.clone() };
    let all = screening::survivors(&everyone, &section)?;
    let after = day.plus_months(12);
    let seen = ctx.snapshot().sessions().is_some_and(|(_, last)| after <= last);
    let middle = |places: &[usize]| {
        let returned = |place: &usize| {
            let company: CompanyAt<'_> = section.as_of.company(section.members()[*place]);
            total_return(&company, after).ok()
        };
        seen.then(|| stats::median(&places.iter().filter_map(returned).collect::<Vec<_>>())).flatten()
    };
    Ok(Some(YearAnswer { as_of: day, found: passing.len(), year_after: middle(&passing), all_year_after: middle(&all) }))
}
