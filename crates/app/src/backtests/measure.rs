//! Does a measure tell what follows?

use crate::{AppError, Ctx};
use artemon_core::{
    backtest::{ValueCheck, ValueCheckOutcome, value_check},
    wording::{figures::signed, label},
};
use serde::Serialize;
use utoipa::ToSchema;

/// A t-statistic below this is what chance gives often.
const SIGNIFICANT: f64 = 2.0;

/// Fifths of the universe by a measure, and what followed.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MeasureCheckAnswer {
    /// The measure in words.
    pub label: String,
    /// What it shows, in a sentence.
    pub sentence: String,
    /// What to know before it is believed.
    pub said: Vec<String>,
    #[serde(flatten)]
    pub outcome: ValueCheckOutcome,
}

/// Checks a measure over past dates.
///
/// # Errors
/// As [`value_check`].
pub fn check_measure(ctx: &Ctx, asked: &ValueCheck) -> Result<MeasureCheckAnswer, AppError> {
    let outcome = value_check(&ctx.engine, asked, |_, _| {})?;
    let label = label(&asked.formula, &ctx.settings().library);
    let percent = |x: f64| artemon_core::wording::figures::percent(x);
    let spread = signed(outcome.mean_spread, percent);
    let chance = match outcome.t_statistic {
        Some(t) if t.abs() < SIGNIFICANT => "a difference that chance gives often",
        Some(_) => "more than chance often gives",
        None => "of one date only, which says nothing",
    };
    let months = if asked.every == 1 { "month".to_owned() } else { format!("{} months", asked.every) };
    let sentence = format!("The fifth with the highest {label} brought {spread} over the lowest in the {months} after: {chance}.");
    let mut said = Vec::new();
    if asked.every < 3 {
        said.push("Figures change by the quarter, prices by the day: with dates closer than that the t-statistic is too large.".to_owned());
    }
    if outcome.undefined_share > 0.2 {
        said.push(format!("For {} of the companies it has no answer: they are in no fifth.", percent(outcome.undefined_share)));
    }
    if outcome.dates.len() < 20 {
        said.push(format!("These are {} dates only: too few to mean much (20 are wanted).", outcome.dates.len()));
    }
    Ok(MeasureCheckAnswer { label, sentence, said, outcome })
}
