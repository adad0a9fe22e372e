//! The questions a reader asks of a company, each answered in one computed sentence.

mod business;
mod people;
mod soundness;
mod worth;

use super::price;
use crate::figures::figure;
use artemon_core::{
    Num,
    domain::Kind,
    engine::Context,
    panel::CompanyAt,
    valuation::CompanyValue,
    wording::figures::{count, date},
};
use serde::Serialize;
use utoipa::ToSchema;

/// Whether what one hopes for holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Mark {
    Holds,
    Mixed,
    Fails,
    /// Not enough is known, or there is nothing to judge.
    Open,
}

/// A question with its answer.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Answer {
    pub id: &'static str,
    pub question: &'static str,
    pub mark: Mark,
    pub sentence: String,
}

/// A question's id and text, and what answers it; `None` when too little is known.
type Part = (&'static str, &'static str, fn(&Subject<'_>) -> Option<(Mark, String)>);

/// Whom the questions are asked of.
pub(super) struct Subject<'s> {
    pub(super) context: &'s Context,
    pub(super) company: &'s CompanyAt<'s>,
    /// Its valuation at the date.
    pub(super) valued: &'s CompanyValue,
}

/// A formula's answer for the subject.
pub(super) fn number(s: &Subject<'_>, formula: &str) -> Num {
    figure::number(s.context, s.company, formula)
}

/// The answers for a company, in the order in which one reads.
pub(crate) fn answers(context: &Context, company: &CompanyAt<'_>, valued: &CompanyValue) -> Vec<Answer> {
    let subject = Subject { context, company, valued };
    let parts: [Part; 12] = [
        ("does", "What does it do?", business::does),
        ("earnings", "Does it earn more each year?", business::earnings),
        ("multiple", "What did the market pay for that?", business::multiple),
        ("margin", "How well does it turn sales into profit?", business::margin),
        ("debt", "Can it pay what it owes?", soundness::debt),
        ("cash", "Where does the cash go?", soundness::cash),
        ("owners", "Who owns it, who is buying?", people::owners),
        ("expected", "What is expected?", worth::expected),
        ("worth", "What is it worth?", worth::worth),
        ("wrong", "What could be wrong?", soundness::wrong),
        ("price", "What does the price say?", price::price),
        ("people", "Who runs it, and what do I think?", people::runs),
    ];
    let one = |(id, question, answer): Part| {
        let (mark, sentence) = answer(&subject).unwrap_or_else(|| (Mark::Open, unanswered(&subject)));
        Answer { id, question, mark, sentence }
    };
    parts.into_iter().map(one).collect()
}

/// Why a question has no answer.
fn unanswered(s: &Subject<'_>) -> String {
    if s.company.kind() == Kind::Fund {
        return "It is a fund: there is no business of its own to judge.".to_owned();
    }
    if let (Err(_), Ok(newest)) = (s.company.newest_period(), s.company.newest_filed()) {
        return format!("Its newest statements end on {}: too old to say.", date(s.company.period_end(newest)));
    }
    match s.company.years().count() {
        0 => "No statements of a whole year are known on this date.".to_owned(),
        n if n < ENOUGH => format!("Too little is known to say: statements of {} only.", count(n, "year")),
        _ => "Too little is known to say: what it takes is missing in its statements.".to_owned(),
    }
}

/// Years of statements from which on questions can be answered.
const ENOUGH: usize = 3;

/// Of three marks: holds from `good`, fails from `bad`.
fn judged(x: f64, good: f64, bad: f64) -> Mark {
    let higher_is_better = good > bad;
    if (x >= good) == higher_is_better || (x - good).abs() < f64::EPSILON {
        Mark::Holds
    } else if (x <= bad) == higher_is_better {
        Mark::Fails
    } else {
        Mark::Mixed
    }
}

/// Joins parts to one sentence.
fn sentence(parts: &[String]) -> String {
    let text = parts.join("; ");
    let mut letters = text.chars();
    letters.next().map(|first| format!("{}{}.", first.to_uppercase(), letters.as_str())).unwrap_or_default()
}

fn worst(marks: &[Mark]) -> Mark {
    marks.iter().fold(Mark::Holds, |worst, m| worst.max_of(*m))
}

impl Mark {
    /// The worse of two marks.
    fn max_of(self, other: Mark) -> Mark {
        let order = |m| match m {
            Mark::Holds => 0,
            Mark::Open => 1,
            Mark::Mixed => 2,
            Mark::Fails => 3,
        };
        if order(other) > order(self) { other } else { self }
    }
}
