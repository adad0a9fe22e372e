//! Documents of a company: a note, a case. There is one of a kind, named by the company's id; after another dataset has come it is
//! found by ISIN.

use super::{VersionEntry, as_new, check, kind::DocumentKind, saved};
use crate::{AppError, Ctx, DocumentFile};
use artemon_core::panel::CompanyAt;
use artemon_store::Document;
use serde::{Deserialize, Serialize, de::DeserializeOwned};
use std::time::Duration;
use utoipa::ToSchema;

/// While somebody writes, versions that stay are at least so far apart.
const APART: Duration = Duration::from_secs(10 * 60);

/// What is one's own of a company, with how the company was known when it was saved.
#[derive(Clone, Debug, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub(crate) struct OfCompany<T> {
    company: Known,
    pub(crate) own: T,
}

/// A company as last seen.
#[derive(Clone, Debug, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct Known {
    symbol: String,
    isin: String,
    name: String,
}

impl Known {
    fn of(c: &CompanyAt<'_>) -> Known {
        Known {
            symbol: c.symbol().to_owned(),
            isin: c.listing().map(|l| l.isin.clone()).unwrap_or_default(),
            name: c.company().name.clone(),
        }
    }
}

/// What is kept of a company of a kind; with version 0 when nothing is.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Kept<T> {
    /// The document's id, once there is one.
    pub id: Option<String>,
    /// What a change is made to.
    pub version: i32,
    pub saved_at: Option<String>,
    pub own: T,
    /// Every version that stays, oldest first.
    pub versions: Vec<VersionEntry>,
}

/// What is kept of a company.
pub(crate) fn kept<T: DeserializeOwned + Default>(ctx: &Ctx, kind: DocumentKind, c: &CompanyAt<'_>) -> Result<Kept<T>, AppError> {
    let Some(found) = find(ctx, kind, c)? else {
        return Ok(Kept { id: None, version: 0, saved_at: None, own: T::default(), versions: Vec::new() });
    };
    let body = serde_json::from_str(&found.body).unwrap_or_default();
    let OfCompany { own, .. } = check::parsed(kind, &body)?;
    let versions = super::document(ctx, &found.head.id, None)?.versions;
    Ok(Kept { version: found.head.version, saved_at: Some(found.head.saved_at), id: Some(found.head.id), own, versions })
}

/// What is kept of all companies that the dataset has, by symbol.
pub(crate) fn all_kept<T: DeserializeOwned>(ctx: &Ctx, kind: DocumentKind) -> Result<Vec<(String, T)>, AppError> {
    let of_company = |d: Document| {
        let kept: OfCompany<T> = serde_json::from_str(&d.body).ok()?;
        let known = [&d.head.name, &kept.company.isin].into_iter().find_map(|key| ctx.snapshot().find(key))?;
        Some((ctx.snapshot().company(known).id.to_string(), kept.own))
    };
    Ok(ctx.home.people.whole_documents(&ctx.person, kind.code())?.into_iter().filter_map(of_company).collect())
}

/// The company that a document is about, as last seen.
pub(crate) fn company_name(ctx: &Ctx, document: &Document) -> String {
    let known = serde_json::from_str::<OfCompany<serde_json::Value>>(&document.body).map(|of| of.company.name);
    known.unwrap_or_else(|_| ctx.snapshot().find(&document.head.name).map_or_else(String::new, |i| ctx.snapshot().company(i).name.clone()))
}

fn find(ctx: &Ctx, kind: DocumentKind, c: &CompanyAt<'_>) -> Result<Option<Document>, AppError> {
    let people = &ctx.home.people;
    if let Some(head) = people.document_named(&ctx.person, kind.code(), &c.company().id)? {
        return Ok(people.document(&ctx.person, &head.id, None)?);
    }
    let isin = Known::of(c).isin;
    let is_it = |d: &Document| {
        let known = serde_json::from_str::<OfCompany<serde_json::Value>>(&d.body);
        // One whose company is still there under its id belongs to that company.
        known.is_ok_and(|k| k.company.isin == isin) && ctx.snapshot().find(&d.head.name).is_none()
    };
    Ok(people.whole_documents(&ctx.person, kind.code())?.into_iter().filter(|_| !isin.is_empty()).find(is_it))
}

/// Keeps something of a company, if nobody saved another since `made_to`; 0 when nothing was kept.
pub(crate) fn keep<T: Serialize>(ctx: &Ctx, kind: DocumentKind, c: &CompanyAt<'_>, made_to: i32, own: T) -> Result<(), AppError> {
    let body = serde_json::to_value(OfCompany { company: Known::of(c), own }).unwrap_or_default();
    let new = DocumentFile { kind, folder: String::new(), name: c.company().id.to_string(), note: String::new(), body };
    new.check(ctx)?;
    let (text, people) = (new.body.to_string(), &ctx.home.people);
    let outcome = match find(ctx, kind, c)? {
        None => people.add_document(&ctx.person, as_new(&new, &text))?,
        Some(found) => people.save_apart(&ctx.person, &found.head.id, made_to, as_new(&new, &text), APART)?,
    };
    saved(outcome, kind, &c.company().name).map(drop)
}
