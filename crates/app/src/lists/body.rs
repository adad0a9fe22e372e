//! The documented JSON form of a list.

use crate::{AppError, Ctx, documents::known::KnownCompany};
use artemon_core::{
    domain::Day,
    limits,
    panel::{CompanyIndex, Snapshot},
};
use serde::{Deserialize, Serialize};
use std::{
    collections::{BTreeSet, HashSet},
    sync::Arc,
};
use utoipa::ToSchema;

/// Companies of a list at most.
const MOST_MEMBERS: usize = 5_000;
/// The longest note, in characters.
const LONGEST_NOTE: usize = 20_000;

/// Companies that a person follows, in the order of their hand.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct ListBody {
    /// The companies.
    pub members: Vec<Member>,
    /// Formulas of the columns beside those of every list.
    pub columns: Vec<String>,
}

/// A company on a list.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Member {
    /// As last seen.
    pub company: KnownCompany,
    /// What the person says of it.
    #[serde(default)]
    pub own: MemberOwn,
    /// The session on which it was added.
    #[schema(value_type = String)]
    pub added_on: Day,
    /// The price then, a traded unit in the listing's currency; none when it was not known.
    #[serde(default)]
    pub price_then: Option<f64>,
    /// From where it was added: the name of a screen, or another words.
    #[serde(default)]
    pub from: String,
}

/// What a person says of a company on a list. How sound they think it is belongs to the company, whatever list it is on.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct MemberOwn {
    /// Markdown.
    pub note: String,
    /// The price to pay at most, a traded unit in the listing's currency; the computed one when there is none.
    pub price: Option<f64>,
}

impl MemberOwn {
    /// Refuses what cannot be meant.
    pub(crate) fn check(&self) -> Result<(), AppError> {
        let refused = |what: &str, problem: &str| Err(AppError::Unusable { what: what.to_owned(), problem: problem.to_owned() });
        if self.price.is_some_and(|p| !p.is_finite() || p <= 0.0) {
            return refused("The price to pay", "it must be above 0");
        }
        limits::fits(&self.note, LONGEST_NOTE).or_else(|problem| refused("The note", &problem))
    }
}

impl ListBody {
    /// Refuses what cannot be meant.
    pub(crate) fn check(&self, ctx: &Ctx) -> Result<(), AppError> {
        let refused = |problem: String| Err(AppError::Unusable { what: "The list".to_owned(), problem });
        if self.members.len() > MOST_MEMBERS {
            return refused(format!("it would have {} companies; {MOST_MEMBERS} are the most", self.members.len()));
        }
        let mut seen = HashSet::new();
        if let Some(twice) = self.members.iter().find(|m| !seen.insert(&m.company.id)) {
            return refused(format!("{} is on it twice", twice.company.symbol));
        }
        self.members.iter().try_for_each(|m| m.own.check())?;
        self.columns.iter().try_for_each(|f| ctx.engine.compile(f).map(drop).map_err(|e| AppError::formula(f, e)))
    }
}

/// A list as it is used.
#[derive(Clone, Debug)]
pub(crate) struct OwnList {
    pub(crate) id: String,
    pub(crate) name: String,
    pub(crate) folder: String,
    pub(crate) version: i32,
    pub(crate) saved_at: String,
    pub(crate) body: ListBody,
    /// The position of each member in the dataset, where it has it.
    pub(crate) found: Vec<Option<CompanyIndex>>,
    /// Their ids in the dataset.
    ids: BTreeSet<Arc<str>>,
}

impl OwnList {
    pub(crate) fn new(head: artemon_store::DocumentHead, body: ListBody, snapshot: &Snapshot) -> OwnList {
        let found: Vec<Option<CompanyIndex>> = body.members.iter().map(|m| m.company.find(snapshot)).collect();
        let ids = found.iter().flatten().map(|i| snapshot.company(*i).id.clone()).collect();
        OwnList { id: head.id, name: head.name, folder: head.folder, version: head.version, saved_at: head.saved_at, body, found, ids }
    }

    /// Its name with the ids of its companies, as screens ask for it.
    pub(crate) fn companies(&self) -> (String, BTreeSet<Arc<str>>) {
        (self.name.clone(), self.ids.clone())
    }

    /// Its members that the dataset has.
    pub(crate) fn known(&self) -> impl Iterator<Item = (CompanyIndex, &Member)> {
        self.found.iter().zip(&self.body.members).filter_map(|(found, member)| Some(((*found)?, member)))
    }
}
