//! Decisions looked at again.

use crate::{AppError, Ctx};
use artemon_core::{
    domain::Day,
    limits::{self, TEXT},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What is thought of a decision later.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Review {
    /// The newest session when it was written; whatever is sent counts for nothing.
    #[schema(value_type = Option<String>)]
    pub on: Option<Day>,
    /// Whether the reason was right.
    pub reason_right: Option<bool>,
    /// Whether the result was.
    pub result_right: Option<bool>,
    /// What is learnt from it.
    pub lesson: String,
    /// When to look at it again.
    #[schema(value_type = Option<String>)]
    pub next_on: Option<Day>,
    /// Nothing more is to come of it.
    pub closes: bool,
}

/// Adds a review to a decision.
///
/// # Errors
/// A decision that is not there; a review that says nothing, a text that is too long, a next day that is over.
pub fn add_review(ctx: &Ctx, decision: &str, review: &Review) -> Result<(), AppError> {
    let today = ctx.date(None)?;
    let refused = |problem: String| Err(AppError::Unusable { what: "The review".to_owned(), problem });
    let says = review.reason_right.is_some() || review.result_right.is_some() || !review.lesson.trim().is_empty();
    if !says && !review.closes && review.next_on.is_none() {
        return refused("it says nothing".to_owned());
    }
    limits::fits(&review.lesson, TEXT).or_else(|problem| refused(format!("what is learnt is too long: {problem}")))?;
    if let Some(day) = review.next_on.filter(|day| *day <= today) {
        return refused(format!("the next look on {day} is not after {today}"));
    }
    let kept = Review { on: Some(today), ..review.clone() };
    let body = serde_json::to_string(&kept).unwrap_or_default();
    let added = ctx.home.people.review(&ctx.person, decision, &body)?;
    added.map(drop).ok_or_else(|| AppError::Missing { what: "The decision".to_owned() })
}
