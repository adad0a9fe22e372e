//! The page Today: what happened since one last looked, what of it matters, what comes next.

use super::{
    followed::{as_followed, followed},
    line::Away,
    look::Look,
    sections::{
        AlertLines, ComingLine, FlagLine, InsiderLines, LedgerLines, LowLines, MoverLines, ScreenLine, UnderLine, VerdictLine, alerts,
        bought, coming, flags, ledger, lows, movers, screens, under, verdicts,
    },
    visit,
};
use crate::{AppError, Ctx};
use artemon_core::{domain::Day, today::MovesOver, wording::figures::in_words};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What is asked of the page.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct TodayRequest {
    /// The day; the newest session when absent.
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
    /// What happened after this day is told; since the last visit when absent, or for a day of the past since a week before it.
    #[schema(value_type = Option<String>)]
    pub since: Option<Day>,
    /// Symbols that are marked now.
    pub marked: Vec<String>,
    /// Over how long moves are told; by the time since when absent.
    pub moves: Option<MovesOver>,
    /// Which insiders' purchases are told.
    pub insiders: InsiderFilter,
}

/// Which insiders' trades are wanted: all where nothing is said.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct InsiderFilter {
    /// Of these roles.
    pub roles: Vec<String>,
    /// Of companies of these countries.
    pub countries: Vec<String>,
    /// Of at least this amount together, in the base currency.
    pub least: Option<f64>,
}

/// The page: one part a section.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TodayAnswer {
    #[schema(value_type = String)]
    pub as_of: Day,
    #[schema(value_type = String)]
    pub since: Day,
    /// When the last visit ended; none when it is not since then.
    pub ended_at: Option<String>,
    /// What there is to act on, in a sentence.
    pub sentence: String,
    /// Nothing new at all.
    pub quiet: bool,
    /// The currency of whole-company amounts.
    pub base: String,
    /// How many companies the person follows.
    pub followed: usize,
    pub under: Vec<UnderLine>,
    pub insiders: InsiderLines,
    pub lows: LowLines,
    pub screens: Vec<ScreenLine>,
    pub movers: MoverLines,
    pub coming: Vec<ComingLine>,
    pub flags: Vec<FlagLine>,
    pub verdicts: Vec<VerdictLine>,
    pub alerts: AlertLines,
    pub ledger: LedgerLines,
}

/// The page as of a day.
///
/// # Errors
/// Days outside the data or in the wrong order; when what is the person's own cannot be read.
pub fn today(ctx: &Ctx, request: &TodayRequest) -> Result<TodayAnswer, AppError> {
    let t = ctx.date(request.as_of)?;
    let (since, ended_at) = since(ctx, request, t)?;
    let all = followed(ctx, &request.marked);
    let look = Look { ctx, now: ctx.section(t), then: ctx.section(since), followed: as_followed(&all), all, away: Away::of(ctx)? };
    let moves = request.moves.unwrap_or_else(|| moves_over(since, t));
    let mut answer = TodayAnswer {
        as_of: t,
        since,
        ended_at,
        sentence: String::new(),
        quiet: false,
        base: ctx.settings().base.to_string(),
        followed: look.all.len(),
        under: under(&look),
        insiders: bought(&look, &request.insiders),
        lows: lows(&look),
        screens: screens(&look)?,
        movers: movers(&look, moves),
        coming: coming(&look)?,
        flags: flags(&look),
        verdicts: verdicts(&look),
        alerts: alerts(&look)?,
        ledger: ledger(&look)?,
    };
    (answer.sentence, answer.quiet) = in_a_sentence(&answer);
    Ok(answer)
}

fn since(ctx: &Ctx, request: &TodayRequest, t: Day) -> Result<(Day, Option<String>), AppError> {
    let first = ctx.snapshot().sessions().map_or(t, |s| s.0);
    if let Some(since) = request.since {
        if since > t {
            let problem = format!("it is after {t}; choose an earlier day");
            return Err(AppError::Unusable { what: format!("The day {since}"), problem });
        }
        return Ok((since.max(first), None));
    }
    if request.as_of.is_some_and(|asked| Ok(asked) != ctx.date(None).map_err(drop)) {
        return Ok((t.plus_days(-7).max(first), None));
    }
    let visit = visit::since(ctx)?;
    Ok((visit.since.max(first), visit.ended_at))
}

/// A day's moves since yesterday, those of a week or month when more has passed.
fn moves_over(since: Day, t: Day) -> MovesOver {
    match t.days_since(since) {
        ..=3 => MovesOver::Day,
        4..=13 => MovesOver::Week,
        _ => MovesOver::Month,
    }
}

/// "Two prices to act on, seven companies bought by insiders, one verdict changed."; and whether there is nothing at all.
fn in_a_sentence(a: &TodayAnswer) -> (String, bool) {
    let here = |n: usize, one: &str, many: &str| (n > 0).then(|| format!("{} {}", in_words(n), if n == 1 { one } else { many }));
    let under = a.under.iter().filter(|u| !u.line.away && u.new).count();
    // Not all of them have a line.
    let bought = a.insiders.count - a.insiders.companies.iter().filter(|i| i.line.away).count();
    let screens = a.screens.iter().filter(|s| !s.line.away && (!s.entered.is_empty() || !s.left.is_empty())).count();
    let verdicts = a.verdicts.iter().filter(|v| !v.line.away).count();
    let flags = a.flags.iter().filter(|f| !f.line.away).count();
    let alerts = a.alerts.count - a.alerts.said.iter().filter(|f| f.line.away).count();
    let happened = a.ledger.happened.iter().filter(|l| !l.line.away).count();
    let parts: Vec<String> = [
        here(under, "price to act on", "prices to act on"),
        here(alerts, "alert", "alerts"),
        here(happened, "entry in your ledger", "entries in your ledger"),
        here(bought, "company bought by insiders", "companies bought by insiders"),
        here(screens, "screen changed", "screens changed"),
        here(verdicts, "verdict changed", "verdicts changed"),
        here(flags, "company with new flags", "companies with new flags"),
    ]
    .into_iter()
    .flatten()
    .collect();
    let quiet = parts.is_empty();
    let told = if quiet { "nothing new".to_owned() } else { parts[..parts.len().min(3)].join(", ") };
    (told, quiet)
}
