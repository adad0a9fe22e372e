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
pub(crate) mod people;
pub(crate) mod safety;
pub(crate) mod screens;
pub(crate) mod sharing;
mod streamed;
pub(crate) mod today;

use crate::error::Problem;
use axum::{
    Json,
    body::Body,
    http::header,
    response::{IntoResponse, Response},
};
use std::collections::BTreeMap;
use utoipa::{
    IntoResponses,
    openapi::{ContentBuilder, RefOr, ResponseBuilder, response::Response as Described},
};

type Answer<T> = Result<Json<T>, Problem>;

/// A file to be kept.
fn download(kind: &str, name: &str, body: impl Into<Body>) -> Response {
    ([(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, attachment(name))], body.into()).into_response()
}

/// Under which name a file is kept (RFC 6266): in plain characters for whoever knows no others, and as it is.
fn attachment(name: &str) -> String {
    let plain: String = name.chars().map(|c| if c.is_ascii_alphanumeric() || " -_.,()".contains(c) { c } else { '_' }).collect();
    let whole = percent_encoding::utf8_percent_encode(name, percent_encoding::NON_ALPHANUMERIC);
    format!("attachment; filename=\"{plain}\"; filename*=UTF-8''{whole}")
}

/// Files of results: what they end in, and their media type.
const RESULTS: [(&str, &str); 5] = [
    ("csv", "text/csv; charset=utf-8"),
    ("tsv", "text/tab-separated-values; charset=utf-8"),
    ("xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
    ("parquet", "application/vnd.apache.parquet"),
    ("json", "application/json"),
];

/// A file of results, in one of the formats that can be asked for.
struct Results;

impl IntoResponses for Results {
    fn responses() -> BTreeMap<String, RefOr<Described>> {
        let plain = RESULTS.iter().filter_map(|(_, media)| media.split(';').next());
        let described = ResponseBuilder::new().description("The file, in the format that was asked for");
        let described = plain.fold(described, |described, media| described.content(media, ContentBuilder::new().build()));
        BTreeMap::from([("200".to_owned(), RefOr::T(described.build()))])
    }
}

/// A file to be kept; its name says its format, and archives are zips.
fn named_file(name: &str, body: impl Into<Body>) -> Response {
    let media = RESULTS.iter().find(|(ending, _)| name.ends_with(ending)).map_or("application/zip", |(_, media)| media);
    download(media, name, body)
}

#[cfg(test)]
mod tests {
    use super::attachment;

    #[test]
    fn a_name_is_neither_a_path_nor_another_header() {
        let said = attachment("../Größe\"\r\nSet-Cookie: a=b.csv");
        assert_eq!(
            said,
            "attachment; filename=\".._Gr__e___Set-Cookie_ a_b.csv\"; \
             filename*=UTF-8''%2E%2E%2FGr%C3%B6%C3%9Fe%22%0D%0ASet%2DCookie%3A%20a%3Db%2Ecsv"
        );
        assert!(attachment("Cheap (2).csv").starts_with("attachment; filename=\"Cheap (2).csv\";"));
    }
}
