//! Who is at a yearly low and sound.

use super::super::{line::Line, look::Look};
use crate::figures::compact::six_digits;
use artemon_core::{
    formula::Column,
    panel::{CompanyAt, Field},
    today::{SoundLow, yearly_lows},
    wording::figures::{amount, in_words, times},
};
use serde::Serialize;
use utoipa::ToSchema;

/// Lines at most.
const MOST: usize = 60;
/// Points of a small chart.
const POINTS: usize = 48;
/// Sessions that it shows.
const SESSIONS: usize = 252;

/// Who is at a yearly low.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct LowLines {
    /// The sound ones.
    pub sound: Vec<LowLine>,
    /// How many of them there are, and how many lows in all.
    pub count: usize,
    #[allow(missing_docs)]
    pub all: usize,
}

/// A sound company at its low.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LowLine {
    #[serde(flatten)]
    pub line: Line,
    pub symbol: String,
    pub name: String,
    /// 1 (best) to 3.
    pub soundness: u8,
    pub quality: f64,
    /// What speaks for it.
    pub says: String,
    pub why: String,
    /// Closes of the last year, for a small chart.
    pub closes: Vec<f64>,
}

pub(crate) fn lows(look: &Look<'_>) -> LowLines {
    let found = yearly_lows(&look.ctx.engine, &look.now);
    let shown = &found.sound[..found.sound.len().min(MOST)];
    let companies: Vec<CompanyAt<'_>> = shown.iter().map(|s| look.now.as_of.company(s.company)).collect();
    let facts = Facts::of(look, &companies);
    let line = |(i, (s, c)): (usize, (&SoundLow, &CompanyAt<'_>))| LowLine {
        line: look.away.line("lows", &c.company().id, &s.soundness),
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        soundness: s.soundness,
        quality: six_digits(s.quality),
        says: facts.says(i, s),
        why: look.why(s.company),
        closes: closes(c),
    };
    LowLines { sound: shown.iter().zip(&companies).enumerate().map(line).collect(), count: found.sound.len(), all: found.all.len() }
}

/// What is said of companies at their low, by formula.
struct Facts([Vec<Option<f64>>; 4]);

const FACTS: [&str; 4] = ["eps_rising_years(5)", "pe", "own_median(pe, 10y)", "buy_below"];

impl Facts {
    fn of(look: &Look<'_>, companies: &[CompanyAt<'_>]) -> Facts {
        Facts(FACTS.map(|formula| {
            let answers = look.ctx.engine.compile(formula).map(|f| look.ctx.engine.evaluate(&f, companies));
            match answers {
                Ok(Column::Number(all)) => all.into_iter().map(Result::ok).collect(),
                _ => vec![None; companies.len()],
            }
        }))
    }

    /// "earned more in 4 of 5 years; P/E 8.1, own usual 12.0; waits for 46.4"
    fn says(&self, i: usize, s: &SoundLow) -> String {
        let [rising, pe, usual, pay] = [0, 1, 2, 3].map(|f| self.0[f].get(i).copied().flatten());
        let mut parts = vec![format!("quality {:.0}", s.quality)];
        parts.extend(rising.filter(|n| *n >= 3.0).map(|n| format!("earned more in {} of five years", in_words(count(n)))));
        parts.extend(pe.zip(usual).map(|(pe, usual)| format!("P/E {}, own usual {}", times(pe), times(usual))));
        parts.extend(pay.map(|p| format!("to pay at most {}", amount(p))));
        parts.join("; ")
    }
}

#[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)] // a count of years
fn count(n: f64) -> usize {
    n as usize
}

/// Closes of the last year, thinned out.
fn closes(c: &CompanyAt<'_>) -> Vec<f64> {
    let bars = c.bars();
    let all = bars.series(Field::Close, bars.len().saturating_sub(SESSIONS)..bars.len());
    let step = all.len().div_ceil(POINTS).max(1);
    // Counted from the newest, which is always shown.
    let mut thin: Vec<f64> = all.iter().rev().step_by(step).copied().map(six_digits).collect();
    thin.reverse();
    thin
}
