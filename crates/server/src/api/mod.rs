//! Handlers, one file an area: extract, call the use case, map.

pub(crate) mod about;
pub(crate) mod alerts;
pub(crate) mod assumptions;
pub(crate) mod backtests;
pub(crate) mod candidates;
pub(crate) mod companies;
pub(crate) mod data;
pub(crate) mod decisions;
pub(crate) mod documents;
pub(crate) mod evidence;
pub(crate) mod formulas;
pub(crate) mod ledger;
pub(crate) mod lists;
pub(crate) mod measures;
pub(crate) mod own;
pub(crate) mod safety;
pub(crate) mod screens;
pub(crate) mod today;

use crate::error::Problem;
use axum::{
    Json,
    body::Body,
    http::header,
    response::{IntoResponse, Response},
};

type Answer<T> = Result<Json<T>, Problem>;

/// A file to be kept.
fn download(kind: &str, name: &str, body: impl Into<Body>) -> Response {
    let named = format!("attachment; filename=\"{}\"", name.replace(['"', '\\', '\r', '\n'], "_"));
    ([(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, named)], body.into()).into_response()
}
