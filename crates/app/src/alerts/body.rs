//! The documented JSON form of an alert.

use crate::{
    AppError, Ctx,
    documents::{self, kind::DocumentKind, known::KnownCompany},
    lists::list_of,
    today::{as_followed, followed},
};
use artemon_core::{
    alerts::{Condition, condition_in_words},
    formula::Unit,
    screening::{self, Screen},
    today::Followed,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Days ahead at most.
const FURTHEST: u32 = 14;
/// Companies that one alert looks at, at most.
const MOST_COMPANIES: usize = 5_000;

/// An alert.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AlertBody {
    /// What it waits for.
    pub what: AlertWhat,
    /// Whom it looks at.
    #[serde(default)]
    pub of: AlertOf,
    /// Whether it ends after it has said something.
    #[serde(default)]
    pub repeat: Repeat,
    /// Whether it is sent by mail too.
    #[serde(default)]
    pub mail: bool,
    /// It waits for nothing until it goes on.
    #[serde(default)]
    pub paused: bool,
}

/// What an alert waits for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, tag = "kind", rename_all = "snake_case")]
pub enum AlertWhat {
    /// A formula that is true or false becomes true.
    Formula {
        #[allow(missing_docs)]
        formula: String,
    },
    /// The price comes under what one would pay.
    UnderPrice,
    /// Companies enter a saved screen, or leave it. Whom the alert looks at counts for nothing.
    Screen {
        /// The id of its document.
        screen: String,
        #[allow(missing_docs)]
        entered: bool,
        #[allow(missing_docs)]
        left: bool,
    },
    /// Several insiders buy close to each other.
    Cluster,
    /// A red flag is raised.
    Flags,
    /// The verdict changes.
    Verdict,
    /// Results, a dividend or a meeting is so many days ahead.
    Dates {
        #[allow(missing_docs)]
        days: u32,
    },
}

/// Whom an alert looks at.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, tag = "kind", rename_all = "snake_case")]
pub enum AlertOf {
    /// Everybody whom the person follows.
    #[default]
    Followed,
    /// A list, by the id of its document.
    List {
        #[allow(missing_docs)]
        list: String,
    },
    /// Whoever passes a saved screen on the session, by the id of its document.
    Screen {
        #[allow(missing_docs)]
        screen: String,
    },
    /// These companies.
    Companies {
        #[allow(missing_docs)]
        companies: Vec<KnownCompany>,
    },
}

/// How often an alert says something.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Repeat {
    #[default]
    EachTime,
    Once,
}

impl AlertBody {
    /// Refuses what cannot be meant.
    pub(crate) fn check(&self, ctx: &Ctx) -> Result<(), AppError> {
        if let AlertOf::Companies { companies } = &self.of
            && (companies.is_empty() || companies.len() > MOST_COMPANIES)
        {
            let problem = format!("it must name between one and {MOST_COMPANIES} companies");
            return Err(AppError::Unusable { what: "The alert".to_owned(), problem });
        }
        let screen = self.screen(ctx)?;
        self.condition(ctx, screen.as_ref()).map(drop)?;
        self.companies(ctx, ctx.date(None)?).map(drop)
    }

    /// The screen that it waits for.
    pub(super) fn screen(&self, ctx: &Ctx) -> Result<Option<Screen>, AppError> {
        match &self.what {
            AlertWhat::Screen { screen, .. } => saved_screen(ctx, screen).map(Some),
            _ => Ok(None),
        }
    }

    /// What it waits for, as the computation takes it; with its screen, if it waits for one.
    pub(super) fn condition<'a>(&'a self, ctx: &Ctx, screen: Option<&'a Screen>) -> Result<Condition<'a>, AppError> {
        let refused = |problem: &str| Err(AppError::Unusable { what: "The alert".to_owned(), problem: problem.to_owned() });
        Ok(match &self.what {
            AlertWhat::Formula { formula } => {
                let compiled = ctx.engine.compile(formula).map_err(|e| AppError::formula(formula, e))?;
                if compiled.unit != Unit::Flag {
                    return refused(&format!("\"{formula}\" is neither true nor false; compare it with something, as in pe < 12"));
                }
                Condition::Formula(compiled, formula)
            }
            AlertWhat::UnderPrice => Condition::UnderPrice,
            AlertWhat::Screen { entered: false, left: false, .. } => return refused("it says neither who enters nor who leaves"),
            AlertWhat::Screen { entered, left, .. } => match screen {
                Some(screen) => Condition::Screen { screen, entered: *entered, left: *left },
                None => return refused("its screen is missing"),
            },
            AlertWhat::Cluster => Condition::Cluster,
            AlertWhat::Flags => Condition::Flags,
            AlertWhat::Verdict => Condition::Verdict,
            AlertWhat::Dates { days } if (1..=FURTHEST).contains(days) => Condition::Dates(*days),
            AlertWhat::Dates { .. } => return refused(&format!("dates are known up to {FURTHEST} days ahead")),
        })
    }

    /// Whom it looks at on a session.
    pub(super) fn companies(&self, ctx: &Ctx, t: artemon_core::domain::Day) -> Result<Vec<Followed>, AppError> {
        let typed = followed(ctx, &[]);
        let known = |company: u32| Followed { company, typed: typed.get(&company).and_then(|f| f.typed) };
        Ok(match &self.of {
            AlertOf::Followed => as_followed(&typed),
            AlertOf::List { list } => {
                let own = |m: &crate::lists::Member| m.own.price;
                list_of(ctx, list)?.known().map(|(i, m)| Followed { typed: own(m).or(known(i).typed), company: i }).collect()
            }
            AlertOf::Screen { screen } => {
                let section = ctx.section(t);
                let passing = screening::survivors(&saved_screen(ctx, screen)?, &section)?;
                passing.into_iter().map(|place| known(section.members()[place])).collect()
            }
            AlertOf::Companies { companies } => companies.iter().filter_map(|c| c.find(ctx.snapshot())).map(known).collect(),
        })
    }

    /// What it waits for, and of whom, in words.
    pub(super) fn in_words(&self, ctx: &Ctx) -> String {
        let screen = self.screen(ctx).ok().flatten();
        let what = match self.condition(ctx, screen.as_ref()) {
            Ok(condition) => condition_in_words(&condition, &ctx.engine),
            Err(_) => "something that is no longer there".to_owned(),
        };
        if matches!(self.what, AlertWhat::Screen { .. }) {
            return what;
        }
        let of = match &self.of {
            AlertOf::Followed => "any company you follow".to_owned(),
            AlertOf::List { list } => list_of(ctx, list).map_or("a list that is gone".to_owned(), |l| format!("the list {}", l.name)),
            AlertOf::Screen { screen } => {
                saved_screen(ctx, screen).map_or("a screen that is gone".to_owned(), |s| format!("the screen {}", s.name))
            }
            AlertOf::Companies { companies } => match &companies[..] {
                [one] => one.name.clone(),
                all => format!("{} companies", all.len()),
            },
        };
        format!("{of}: {what}")
    }
}

/// A saved screen under the name of its document, of the newest session.
fn saved_screen(ctx: &Ctx, id: &str) -> Result<Screen, AppError> {
    let gone = || AppError::Missing { what: "The screen of the alert".to_owned() };
    let found = documents::document(ctx, id, None).map_err(|_| gone())?;
    if found.entry.deleted_at.is_some() || found.entry.kind != DocumentKind::Screen {
        return Err(gone());
    }
    Ok(Screen { as_of: None, name: found.entry.name.clone(), ..documents::screen_of(&found)? })
}
