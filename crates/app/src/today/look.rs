//! What the sections of the page look at.

use super::{followed::Follow, line::Away};
use crate::Ctx;
use artemon_core::{domain::Day, engine::Section, panel::CompanyIndex, today::Followed};
use std::collections::BTreeMap;

/// What the sections look at.
pub(super) struct Look<'a> {
    pub(super) ctx: &'a Ctx,
    pub(super) now: Section<'a>,
    pub(super) then: Section<'a>,
    pub(super) all: BTreeMap<CompanyIndex, Follow>,
    pub(super) followed: Vec<Followed>,
    pub(super) away: Away,
}

impl Look<'_> {
    pub(super) fn t(&self) -> Day {
        self.now.t()
    }

    pub(super) fn since(&self) -> Day {
        self.then.t()
    }

    /// Why a company is on the page.
    pub(super) fn why(&self, company: CompanyIndex) -> String {
        self.all.get(&company).map(Follow::why).unwrap_or_default()
    }
}
