//! What a request brings: body, query and path, refused with a problem document where they are malformed.

use crate::error::Problem;
use axum::{
    Json,
    extract::{self, FromRequest, FromRequestParts, Multipart, Request},
    http::{StatusCode, request::Parts},
};
use serde::de::DeserializeOwned;

/// A JSON body.
pub(crate) struct Body<T>(pub(crate) T);

impl<S: Send + Sync, T: DeserializeOwned> FromRequest<S> for Body<T> {
    type Rejection = Problem;
    async fn from_request(request: Request, state: &S) -> Result<Self, Problem> {
        let parsed = Json::<T>::from_request(request, state).await;
        parsed.map(|Json(t)| Body(t)).map_err(|e| malformed(e.status(), &e.body_text()))
    }
}

/// Files of a form.
pub(crate) struct Form(pub(crate) Multipart);

impl<S: Send + Sync> FromRequest<S> for Form {
    type Rejection = Problem;
    async fn from_request(request: Request, state: &S) -> Result<Self, Problem> {
        let form = Multipart::from_request(request, state).await;
        form.map(Form).map_err(|e| malformed(e.status(), &e.body_text()))
    }
}

/// What comes after the question mark.
pub(crate) struct Query<T>(pub(crate) T);

impl<S: Send + Sync, T: DeserializeOwned> FromRequestParts<S> for Query<T> {
    type Rejection = Problem;
    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        let parsed = extract::Query::<T>::from_request_parts(parts, state).await;
        parsed.map(|extract::Query(t)| Query(t)).map_err(|e| malformed(e.status(), &e.body_text()))
    }
}

/// The variable parts of a path.
pub(crate) struct Path<T>(pub(crate) T);

impl<S: Send + Sync, T: DeserializeOwned + Send> FromRequestParts<S> for Path<T> {
    type Rejection = Problem;
    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        let parsed = extract::Path::<T>::from_request_parts(parts, state).await;
        parsed.map(|extract::Path(t)| Path(t)).map_err(|e| malformed(e.status(), &e.body_text()))
    }
}

/// What the parsers say before the reason.
const SAID_BEFORE: [&str; 4] = [
    "Failed to deserialize the JSON body into the target type: ",
    "Failed to parse the request body as JSON: ",
    "Failed to deserialize query string: ",
    "Invalid URL: ",
];

fn malformed(status: StatusCode, said: &str) -> Problem {
    let what = SAID_BEFORE.iter().find_map(|before| said.strip_prefix(before)).unwrap_or(said);
    let sentence = format!("The request is not understood: {what}. Send what /api/openapi.json describes.");
    Problem::new(status, "malformed-request", &sentence)
}

/// A date in a query, refused kindly when it is none.
pub(crate) fn day(text: Option<&str>) -> Result<Option<artemon_core::domain::Day>, Problem> {
    text.filter(|t| !t.is_empty()).map(required_day).transpose()
}

/// A date that must be there.
pub(crate) fn required_day(text: &str) -> Result<artemon_core::domain::Day, Problem> {
    let sentence = format!("\"{text}\" is not a date. Write it like 2024-06-30.");
    text.parse().map_err(|_| Problem::new(StatusCode::UNPROCESSABLE_ENTITY, "malformed-date", &sentence))
}
