//! Problem documents (RFC 9457): a stable type, a sentence, what to do.

use artemon_app::{AppError, StoreError, readable};
use axum::{
    http::{HeaderValue, StatusCode, header},
    response::{IntoResponse, Response},
};
use serde::Serialize;
use utoipa::ToSchema;

/// The media type of problem documents.
pub(crate) const PROBLEM: &str = "application/problem+json";

/// Why a request was refused.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Problem {
    /// A stable name of the sort of problem.
    #[serde(rename = "type")]
    pub kind: String,
    /// What is wrong and what to do.
    pub title: String,
    /// The status code.
    pub status: u16,
    /// For mistakes in a formula: the formula.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub formula: Option<String>,
    /// For mistakes in a formula: where, in bytes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub position: Option<artemon_core::formula::Position>,
    /// After too many attempts: in how many seconds to try again.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub wait: Option<u64>,
}

impl Problem {
    pub(crate) fn new(status: StatusCode, kind: &str, title: &str) -> Problem {
        Problem {
            kind: format!("artemon:{kind}"),
            title: readable(title),
            status: status.as_u16(),
            formula: None,
            position: None,
            wait: None,
        }
    }
}

impl From<AppError> for Problem {
    fn from(e: AppError) -> Problem {
        let status = match &e {
            AppError::UnknownCompanies { .. } | AppError::Missing { .. } | AppError::NoDataset { .. } => StatusCode::NOT_FOUND,
            AppError::NotSignedIn | AppError::WrongCredentials | AppError::CodeNeeded => StatusCode::UNAUTHORIZED,
            AppError::ConfirmFirst | AppError::SecondFactorFirst | AppError::NotAllowed { .. } => StatusCode::FORBIDDEN,
            AppError::TooManyAttempts { .. } => StatusCode::TOO_MANY_REQUESTS,
            AppError::ChangedSince { .. } => StatusCode::PRECONDITION_FAILED,
            AppError::Busy { .. } => StatusCode::SERVICE_UNAVAILABLE,
            AppError::Store(StoreError::Busy | StoreError::Locked) => StatusCode::SERVICE_UNAVAILABLE,
            AppError::Store(StoreError::Unsound { .. } | StoreError::Exists { .. }) => StatusCode::UNPROCESSABLE_ENTITY,
            AppError::Store(StoreError::Full | StoreError::Disk) => StatusCode::INSUFFICIENT_STORAGE,
            AppError::Store(_) => StatusCode::INTERNAL_SERVER_ERROR,
            _ => StatusCode::UNPROCESSABLE_ENTITY,
        };
        if e.is_ours() {
            tracing::error!("{}", e.for_log());
        }
        let e = match e {
            AppError::Store(e) => AppError::Store(e.by_name()),
            other => other,
        };
        let problem = Problem::new(status, e.kind(), &e.to_string());
        match e {
            AppError::TooManyAttempts { seconds } => Problem { wait: Some(seconds), ..problem },
            AppError::Formula { formula, error } => Problem { formula: Some(formula), position: Some(error.position), ..problem },
            _ => problem,
        }
    }
}

impl Problem {
    pub(crate) fn status(&self) -> StatusCode {
        StatusCode::from_u16(self.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR)
    }
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let text = serde_json::to_string(&self).unwrap_or_default();
        let mut answer = (self.status(), [(header::CONTENT_TYPE, PROBLEM)], text).into_response();
        if let Some(seconds) = self.wait {
            answer.headers_mut().insert(header::RETRY_AFTER, HeaderValue::from(seconds));
        }
        if self.status() == StatusCode::UNAUTHORIZED {
            // RFC 9110, 11.6.1. What browsers ask for by themselves is not meant.
            answer.headers_mut().insert(header::WWW_AUTHENTICATE, HeaderValue::from_static("Bearer"));
        }
        answer
    }
}
