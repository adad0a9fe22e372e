//! Flags that were raised and verdicts that changed.

use super::super::{line::Line, look::Look};
use artemon_core::{
    changes::value_change,
    quality::FLAGS,
    today::{MovedBy, VerdictChange, new_flags, verdict_changes, verdict_words},
    valuation::Verdict,
};
use serde::Serialize;
use utoipa::ToSchema;

/// Changed values whose causes are told; beyond them the page of the company tells.
const EXPLAINED: usize = 12;

/// A company with new flags.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FlagLine {
    #[serde(flatten)]
    pub line: Line,
    pub symbol: String,
    pub name: String,
    /// What is wrong, a sentence each.
    pub flags: Vec<String>,
    pub why: String,
}

/// A verdict that changed.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct VerdictLine {
    #[serde(flatten)]
    pub line: Line,
    pub symbol: String,
    pub name: String,
    /// None when it was not in the universe.
    #[schema(value_type = Option<String>)]
    pub before: Option<Verdict>,
    #[schema(value_type = String)]
    pub after: Verdict,
    pub by: Vec<MovedBy>,
    /// What changed it.
    pub says: String,
    pub why: String,
}

pub(crate) fn flags(look: &Look<'_>) -> Vec<FlagLine> {
    let line = |f: artemon_core::today::NewFlags| {
        let c = look.now.as_of.company(f.company);
        let ids: Vec<&str> = f.flags.iter().map(|i| FLAGS[*i].id).collect();
        FlagLine {
            line: look.away.line("flags", &c.company().id, &ids.join(" ")),
            symbol: c.symbol().to_owned(),
            name: c.company().name.clone(),
            flags: f.flags.iter().map(|i| FLAGS[*i].says.to_owned()).collect(),
            why: look.why(f.company),
        }
    };
    new_flags(&look.ctx.engine, look.t(), look.since(), &look.followed).into_iter().map(line).collect()
}

/// Those that became better first.
pub(crate) fn verdicts(look: &Look<'_>) -> Vec<VerdictLine> {
    let mut changes = verdict_changes(&look.ctx.engine, look.t(), look.since(), &look.followed);
    changes.sort_by_key(|v| (v.after.verdict, v.company));
    let mut explained = 0;
    let line = |v: VerdictChange| {
        let c = look.now.as_of.company(v.company);
        let explain = !v.by.is_empty() && v.by != [MovedBy::Price] && explained < EXPLAINED;
        explained += usize::from(explain);
        let says = if explain {
            let engine = &look.ctx.engine;
            format!("{} {}", verdict_words(&v), value_change((engine, look.since()), (engine, look.t()), v.company).sentence)
        } else {
            verdict_words(&v)
        };
        VerdictLine {
            line: look.away.line("verdicts", &c.company().id, &format!("{:?} {}", v.before.map(|b| b.verdict.code()), v.after.verdict)),
            symbol: c.symbol().to_owned(),
            name: c.company().name.clone(),
            before: v.before.map(|b| b.verdict),
            after: v.after.verdict,
            by: v.by,
            says,
            why: look.why(v.company),
        }
    };
    changes.into_iter().map(line).collect()
}
