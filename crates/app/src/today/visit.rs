//! Since when something is new: up to which session the person has seen what happened.

use crate::{AppError, Ctx};
use artemon_core::domain::Day;
use artemon_store::{Visit, moment};
use chrono::{DateTime, Duration, Utc};
use serde::Serialize;
use utoipa::ToSchema;

/// Without a look for so long a visit has ended.
const ENDS_AFTER: Duration = Duration::hours(4);
/// At the first visit, and where nothing is new, one looks back so many days.
const FIRST_LOOK_BACK: i32 = 7;

/// Since when things are new.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct VisitAnswer {
    /// What happened after this day is new.
    #[schema(value_type = String)]
    pub since: Day,
    /// When the last visit ended, as RFC 3339; none at the first one.
    pub ended_at: Option<String>,
}

/// The person looks at what happened: since the visit that ended last.
///
/// # Errors
/// When it cannot be kept.
pub fn look(ctx: &Ctx) -> Result<VisitAnswer, AppError> {
    let (t, now) = (ctx.date(None)?, ctx.home.clock.now());
    let visit = next(ctx.home.people.visit(&ctx.person)?, t, now);
    ctx.home.people.keep_visit(&ctx.person, &visit)?;
    Ok(answer(&visit, t))
}

/// The person has seen all there is: what comes from now on is new.
///
/// # Errors
/// When it cannot be kept.
pub fn seen_all(ctx: &Ctx) -> Result<VisitAnswer, AppError> {
    let (t, now) = (ctx.date(None)?, moment::text(ctx.home.clock.now()));
    let visit = Visit { since: Some(t.to_string()), seen: t.to_string(), looked_at: now.clone(), ended_at: Some(now) };
    ctx.home.people.keep_visit(&ctx.person, &visit)?;
    Ok(answer(&visit, t))
}

/// Since when things are new, without looking.
pub(super) fn since(ctx: &Ctx) -> Result<VisitAnswer, AppError> {
    let t = ctx.date(None)?;
    Ok(ctx
        .home
        .people
        .visit(&ctx.person)?
        .map_or_else(|| VisitAnswer { since: t.plus_days(-FIRST_LOOK_BACK), ended_at: None }, |v| answer(&v, t)))
}

fn next(before: Option<Visit>, t: Day, now: DateTime<Utc>) -> Visit {
    let looked_at = moment::text(now);
    let Some(before) = before else { return Visit { since: None, seen: t.to_string(), looked_at, ended_at: None } };
    let last = moment::read(&before.looked_at).unwrap_or(now);
    if now - last < ENDS_AFTER {
        // The same visit: what comes meanwhile was seen as well. A dataset that begins again takes its days with it.
        return Visit { seen: t.to_string(), looked_at, ..before };
    }
    Visit { since: Some(before.seen), seen: t.to_string(), looked_at, ended_at: Some(before.looked_at) }
}

fn answer(visit: &Visit, t: Day) -> VisitAnswer {
    let since = visit.since.as_ref().and_then(|s| s.parse().ok()).filter(|s| *s <= t);
    VisitAnswer { since: since.unwrap_or_else(|| t.plus_days(-FIRST_LOOK_BACK)), ended_at: visit.ended_at.clone() }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day(text: &str) -> Day {
        text.parse().unwrap()
    }

    fn at(text: &str) -> DateTime<Utc> {
        text.parse().unwrap()
    }

    /// Looked on Friday evening, twice within the hour while a session came in, and again on Monday morning.
    #[test]
    fn a_visit_goes_on_until_nobody_looked_for_hours() {
        let friday = next(None, day("2026-06-25"), at("2026-06-26T17:00:00Z"));
        assert_eq!(answer(&friday, day("2026-06-25")), VisitAnswer { since: day("2026-06-18"), ended_at: None });
        let later = next(Some(friday), day("2026-06-26"), at("2026-06-26T18:00:00Z"));
        assert_eq!((later.since.as_deref(), later.seen.as_str()), (None, "2026-06-26"));
        let monday = next(Some(later), day("2026-06-29"), at("2026-06-29T06:00:00Z"));
        let answered = answer(&monday, day("2026-06-29"));
        assert_eq!((answered.since, answered.ended_at.as_deref()), (day("2026-06-26"), Some("2026-06-26T18:00:00Z")));
        // Looking again changes nothing.
        let again = next(Some(monday), day("2026-06-29"), at("2026-06-29T06:30:00Z"));
        assert_eq!(answer(&again, day("2026-06-29")).since, day("2026-06-26"));
    }

    /// After a reset the data ends before what was seen: one looks back a week of what there is.
    #[test]
    fn a_dataset_that_begins_again_is_looked_back_upon() {
        let visit = Visit { since: Some("2026-12-01".into()), seen: "2026-12-04".into(), looked_at: String::new(), ended_at: None };
        assert_eq!(answer(&visit, day("2026-06-30")).since, day("2026-06-23"));
    }
}
