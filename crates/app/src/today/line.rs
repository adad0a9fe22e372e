//! What all lines of the page have: by what they are known, and whether they were put away.

use crate::{AppError, Ctx};
use serde::{Deserialize, Serialize};
use std::{collections::HashMap, fmt::Display};
use utoipa::ToSchema;

/// A line of the page.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Line {
    /// By which it is known from day to day.
    pub key: String,
    /// What it says, in short: a line that was put away comes back when it says something else.
    pub state: String,
    /// Put away as it is.
    pub away: bool,
}

/// The lines that a person put away.
pub(super) struct Away(HashMap<String, String>);

impl Away {
    pub(super) fn of(ctx: &Ctx) -> Result<Away, AppError> {
        Ok(Away(ctx.home.people.put_away(&ctx.person)?))
    }

    pub(super) fn line(&self, section: &str, of: &str, state: &dyn Display) -> Line {
        let (key, state) = (format!("{section}/{of}"), state.to_string());
        Line { away: self.0.get(&key) == Some(&state), key, state }
    }
}

/// Lines to be put away until they say something else, or to be taken back.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PutAway {
    /// The lines, each with its state; without a state it is taken back.
    pub lines: Vec<PutLine>,
}

/// A line to be put away.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct PutLine {
    pub key: String,
    pub state: Option<String>,
}

/// The longest key and state, in characters, and lines at once.
const LONGEST: usize = 2_000;
const MOST: usize = 2_000;

/// Puts lines away until they say something else, or takes them back.
///
/// # Errors
/// More than can be meant; when it cannot be kept.
pub fn put_away(ctx: &Ctx, request: PutAway) -> Result<(), AppError> {
    let too_long = |l: &PutLine| l.key.len() > LONGEST || l.state.as_ref().is_some_and(|s| s.len() > LONGEST);
    if request.lines.len() > MOST || request.lines.iter().any(too_long) {
        return Err(AppError::Unusable { what: "The request".to_owned(), problem: "it holds more than a page has".to_owned() });
    }
    let lines: Vec<(String, Option<String>)> = request.lines.into_iter().map(|l| (l.key, l.state)).collect();
    Ok(ctx.home.people.put_lines_away(&ctx.person, &lines)?)
}
