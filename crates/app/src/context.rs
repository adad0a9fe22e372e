//! The first argument of every use case: who asks, and what is seen with whose settings.

use crate::{
    AppError,
    dataset::{demo::WORLD, opened::Opened},
    home::Home,
    people::Visitor,
    settings::OwnSettings,
};
use artemon_core::{
    domain::Day,
    engine::{Cancel, Context, Section, Settings},
    panel::{CompanyAt, Snapshot},
};
use artemon_store::PersonId;
use std::sync::Arc;

/// A request's context. The dataset and the person's settings stay as they were when it was made.
#[derive(Clone, Debug)]
pub struct Ctx {
    pub(crate) home: Arc<Home>,
    pub(crate) person: PersonId,
    /// From where; nothing is said of it at the terminal.
    pub(crate) visitor: Arc<Visitor>,
    pub(crate) dataset: Arc<Opened>,
    pub(crate) own: Arc<OwnSettings>,
    /// Computes with the person's settings.
    pub(crate) engine: Context,
}

impl Ctx {
    /// The date asked for, or the newest session.
    ///
    /// # Errors
    /// A date outside the data; an empty dataset.
    pub(crate) fn date(&self, asked: Option<Day>) -> Result<Day, AppError> {
        let (first, last) = self.snapshot().sessions().ok_or(AppError::Empty)?;
        let t = asked.unwrap_or(last);
        if t < first {
            return Err(AppError::BeforeData { asked: t, first, last });
        }
        if t > last.plus_days(10) {
            return Err(AppError::AfterData { asked: t, first, last });
        }
        Ok(t)
    }

    /// The same person's context as of now.
    ///
    /// # Errors
    /// As [`Home::ctx`].
    pub fn anew(&self) -> Result<Ctx, AppError> {
        Ok(self.home.ctx(&self.person, self.engine.cancel().clone())?.asked_from(self.visitor.clone()))
    }

    /// The same context, asked from somewhere.
    #[must_use]
    pub fn asked_from(self, visitor: Arc<Visitor>) -> Ctx {
        Ctx { visitor, ..self }
    }

    /// Whether sessions are simulated: the dataset is the demo world.
    pub(crate) fn is_simulated(&self) -> bool {
        self.home.store.setting(WORLD).ok().flatten().is_some()
    }

    pub(crate) fn snapshot(&self) -> &Snapshot {
        self.engine.snapshot()
    }

    pub(crate) fn settings(&self) -> &Settings {
        self.engine.settings()
    }

    /// The universe at a date.
    pub(crate) fn section(&self, t: Day) -> Section<'_> {
        Section::new(&self.engine, t)
    }

    /// A company at a date, by symbol, ISIN or id.
    pub(crate) fn company(&self, key: &str, t: Day) -> Result<CompanyAt<'_>, AppError> {
        Ok(self.engine.as_of(t).company(self.find(key)?))
    }

    /// The position of a company by symbol, ISIN or id.
    pub(crate) fn find(&self, key: &str) -> Result<u32, AppError> {
        self.snapshot().find(key).ok_or_else(|| self.unknown(vec![key.to_owned()]))
    }

    /// Refuses a symbol, ISIN or id that no company has.
    ///
    /// # Errors
    /// When none has it.
    pub fn check_company(&self, key: &str) -> Result<(), AppError> {
        self.find(key).map(drop)
    }

    /// Refuses unknown companies, with the nearest known symbol.
    pub(crate) fn unknown(&self, unknown: Vec<String>) -> AppError {
        let near = unknown.first().and_then(|u| {
            let u = u.to_uppercase();
            let scored = self.snapshot().keys().filter(|k| k.len() <= 6).map(|k| (strsim::jaro_winkler(&u, k), k));
            scored.filter(|s| s.0 > 0.75).max_by(|a, b| a.0.total_cmp(&b.0).then(b.1.cmp(a.1))).map(|s| s.1.to_owned())
        });
        let hint = near.map_or_else(|| " Look it up by name under Companies.".to_owned(), |n| format!(" Did you mean {n}?"));
        AppError::UnknownCompanies { unknown, hint }
    }
}

impl Home {
    /// The context of a request by a person, given up when `cancel` says so.
    ///
    /// # Errors
    /// When what the person computes with cannot be read.
    pub fn ctx(self: &Arc<Home>, person: &PersonId, cancel: Cancel) -> Result<Ctx, AppError> {
        let dataset = self.dataset();
        let own = self.own_settings(person, &dataset)?;
        let engine = dataset.engine.context(own.settings.clone()).given_up_by(cancel);
        Ok(Ctx { home: self.clone(), person: person.clone(), visitor: Arc::default(), dataset, own, engine })
    }

    /// The context of the person at this machine.
    ///
    /// # Errors
    /// As [`Home::ctx`].
    pub fn local_ctx(self: &Arc<Home>) -> Result<Ctx, AppError> {
        self.ctx(&self.local(), Cancel::default())
    }
}
