//! What makes a document sound.

use super::{body::plain, kind::DocumentKind, of_company::OfCompany};
use crate::{
    AppError, Ctx,
    alerts::AlertBody,
    companies::{Cases, Note},
    lists::ListBody,
    names::check_no_path,
};
use artemon_core::{
    formula::{LibraryError, OwnMeasure},
    screening::Screen,
    valuation::Assumptions,
};
use serde_json::Value;

impl DocumentKind {
    /// Refuses a body that is not of the kind, or cannot be meant.
    pub(super) fn check(self, name: &str, body: &Value, ctx: &Ctx) -> Result<(), AppError> {
        match self {
            DocumentKind::Screen => parsed::<Screen>(self, body).map(drop),
            DocumentKind::ColumnSet => {
                let columns: Vec<String> = parsed(self, body)?;
                columns.iter().try_for_each(|f| ctx.engine.compile(f).map(drop).map_err(|e| AppError::formula(f, e)))
            }
            DocumentKind::AssumptionSet => {
                if name.eq_ignore_ascii_case(&Assumptions::standard().name) {
                    let problem = "the set of that name ships with the product and stays as it is; give yours another name".to_owned();
                    return Err(AppError::Unusable { what: format!("The name \"{name}\""), problem });
                }
                check_no_path(name).map_err(|problem| AppError::Unusable { what: format!("The name \"{name}\""), problem })?;
                let set: Assumptions = parsed(self, body)?;
                set.check().map_err(|problem| AppError::Unusable { what: format!("The assumption set \"{name}\""), problem })
            }
            DocumentKind::Measure => {
                let measure: OwnMeasure = parsed(self, body)?;
                if measure.id != name {
                    let problem = format!("the document of the measure {} must be named so too", measure.id);
                    return Err(AppError::Unusable { what: format!("The name \"{name}\""), problem });
                }
                ctx.settings().library.with(&measure).map(drop).map_err(|e| refused_measure(e, &measure.formula))
            }
            DocumentKind::Note => parsed::<OfCompany<Note>>(self, body).and_then(|note| note.own.check()),
            DocumentKind::Case => parsed::<OfCompany<Cases>>(self, body).and_then(|cases| cases.own.check()),
            DocumentKind::Alert => parsed::<AlertBody>(self, body).and_then(|alert| alert.check(ctx)),
            DocumentKind::List => parsed::<ListBody>(self, body).and_then(|list| list.check(ctx)),
        }
    }

    /// Refuses to delete what others need.
    pub(super) fn check_deletion(self, name: &str, ctx: &Ctx) -> Result<(), AppError> {
        match self {
            DocumentKind::Measure => ctx.settings().library.without(name).map(drop).map_err(|e| refused_measure(e, "")),
            _ => Ok(()),
        }
    }
}

pub(super) fn parsed<T: serde::de::DeserializeOwned>(kind: DocumentKind, body: &Value) -> Result<T, AppError> {
    T::deserialize(body).map_err(|e| AppError::Unusable { what: format!("The {}", kind.label()), problem: plain(&e) })
}

fn refused_measure(e: LibraryError, formula: &str) -> AppError {
    match e {
        LibraryError::Formula(error) => AppError::formula(formula, error),
        other => AppError::Measure(other.to_string()),
    }
}
