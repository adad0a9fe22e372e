//! The dataset: what it holds, what is doubtful, imports and exports.

use super::{Answer, download, named_file, streamed::streamed};
use crate::{
    caller::{Caller, Data},
    error::Problem,
    extract::{Body, Form, Path, Query},
};
use artemon_app::{
    ConceptMapping, Concepts, CsvPreview, DataAnswer, ExportForm, ExportRequest, FeedReport, FeedRequest, FeedSource, FeedState, Findings,
    FindingsRequest, Holdings, HoldingsRequest, JobInfo, PreviewRequest, StartImport, Upload, UploadFolder, csv_preview, data, export_into,
    feed_state, findings_list, holdings, import_report, inspect_upload, new_upload, start_upload,
};
use artemon_core::{domain::Table, filings::Taxonomy};
use axum::{
    Json,
    body::Body as Bytes,
    extract::{Multipart, multipart::MultipartError},
    http::StatusCode,
    response::Response,
};
use serde::Deserialize;
use std::io;
use tokio::io::AsyncWriteExt;
use utoipa::{IntoParams, ToSchema};

/// What the dataset holds: coverage by table and year, doubts, imports.
#[utoipa::path(get, path = "/api/data", tag = "data", responses((status = 200, body = DataAnswer)))]
pub(crate) async fn dataset(caller: Caller) -> Answer<DataAnswer> {
    caller.run(data).await
}

/// The companies with what is there of each.
#[utoipa::path(post, path = "/api/data/companies", tag = "data", request_body = HoldingsRequest, responses((status = 200, body = Holdings)))]
pub(crate) async fn dataset_companies(caller: Caller, Body(request): Body<HoldingsRequest>) -> Answer<Holdings> {
    caller.run(move |ctx| Ok(holdings(ctx, &request))).await
}

/// Doubts about the data.
#[utoipa::path(post, path = "/api/data/findings", tag = "data", request_body = FindingsRequest,
    responses((status = 200, body = Findings), (status = 404, body = Problem)))]
pub(crate) async fn dataset_findings(caller: Caller, Body(request): Body<FindingsRequest>) -> Answer<Findings> {
    caller.run(move |ctx| findings_list(ctx, &request)).await
}

/// Where the simulated feed of the demo world stands.
#[utoipa::path(get, path = "/api/feed", tag = "data", responses((status = 200, body = FeedState)))]
pub(crate) async fn feed(caller: Caller) -> Answer<FeedState> {
    caller.run(feed_state).await
}

/// Brings the next sessions of the simulated feed.
#[utoipa::path(post, path = "/api/feed", tag = "data", request_body = FeedRequest,
    responses((status = 200, body = FeedReport), (status = 422, body = Problem)))]
pub(crate) async fn next_sessions(caller: Caller<Data>, Body(request): Body<FeedRequest>) -> Answer<FeedReport> {
    caller.run_at_length(move |ctx| artemon_app::next_sessions(ctx, request)).await
}

/// Reads sessions from a server on this machine from now on, or again those of the demo world.
#[utoipa::path(put, path = "/api/feed/source", tag = "data", request_body = FeedSource,
    responses((status = 200, body = FeedState), (status = 422, body = Problem)))]
pub(crate) async fn choose_feed(caller: Caller<Data>, Body(source): Body<FeedSource>) -> Answer<FeedState> {
    caller.run(move |ctx| artemon_app::choose_feed(ctx, &source)).await
}

/// Files of a form.
#[derive(ToSchema)]
#[allow(dead_code)] // describes the form
pub(crate) struct UploadForm {
    /// Files, each with its path in the folder that was dropped.
    #[schema(value_type = Vec<String>, format = Binary)]
    files: Vec<String>,
}

/// Brings files in any format, or a folder of them. Nothing is taken yet.
#[utoipa::path(post, path = "/api/uploads", tag = "data", request_body(content = UploadForm, content_type = "multipart/form-data"),
    responses((status = 200, body = Upload), (status = 422, body = Problem)))]
pub(crate) async fn upload_files(caller: Caller<Data>, Form(mut form): Form) -> Answer<Upload> {
    let mut folder = new_upload(&caller.ctx()?)?;
    if let Err(problem) = store_files(&mut folder, &mut form).await {
        folder.remove();
        return Err(problem);
    }
    let id = folder.id.clone();
    let inspected = caller.run(move |ctx| inspect_upload(ctx, &id)).await;
    if inspected.is_err() {
        folder.remove();
    }
    inspected
}

async fn store_files(folder: &mut UploadFolder, form: &mut Multipart) -> Result<(), Problem> {
    let broken = |e: MultipartError| {
        Problem::new(StatusCode::BAD_REQUEST, "malformed-request", &format!("{}. Send the files again.", e.body_text()))
    };
    let full = |e: io::Error| {
        Problem::new(StatusCode::INSUFFICIENT_STORAGE, "unwritable", &format!("The files cannot be kept: {e}. Make room and try again."))
    };
    while let Some(mut field) = form.next_field().await.map_err(broken)? {
        let name = field.file_name().unwrap_or_default().to_owned();
        let mut file = tokio::fs::File::create(folder.place(&name)?).await.map_err(full)?;
        while let Some(piece) = field.chunk().await.map_err(broken)? {
            folder.count(piece.len())?;
            file.write_all(&piece).await.map_err(full)?;
        }
        file.flush().await.map_err(full)?;
    }
    Ok(())
}

/// A brought CSV file under another table or mapping.
#[utoipa::path(post, path = "/api/uploads/{id}/preview", tag = "data", params(("id" = String, Path,)), request_body = PreviewRequest,
    responses((status = 200, body = CsvPreview), (status = 422, body = Problem)))]
pub(crate) async fn preview_file(caller: Caller<Data>, Path(id): Path<String>, Body(request): Body<PreviewRequest>) -> Answer<CsvPreview> {
    caller.run(move |ctx| csv_preview(ctx, &id, &request)).await
}

/// The items that a company's own concept may be, and the concepts that are mapped.
#[utoipa::path(get, path = "/api/concepts", tag = "data", responses((status = 200, body = Concepts)))]
pub(crate) async fn concepts(caller: Caller) -> Answer<Concepts> {
    caller.run(artemon_app::concepts).await
}

/// Remembers which item a company's own concept is.
#[utoipa::path(put, path = "/api/concepts", tag = "data", request_body = ConceptMapping,
    responses((status = 200, body = Concepts), (status = 422, body = Problem)))]
pub(crate) async fn map_concept(caller: Caller<Data>, Body(mapping): Body<ConceptMapping>) -> Answer<Concepts> {
    caller.run(move |ctx| artemon_app::map_concept(ctx, &mapping)).await
}

/// Starts to import what was brought.
#[utoipa::path(post, path = "/api/uploads/{id}/import", tag = "data", params(("id" = String, Path,)), request_body = StartImport,
    responses((status = 200, body = JobInfo), (status = 422, body = Problem)))]
pub(crate) async fn start_import(caller: Caller<Data>, Path(id): Path<String>, Body(start): Body<StartImport>) -> Answer<JobInfo> {
    caller.run(move |ctx| start_upload(ctx, &id, start)).await
}

/// The imports of this run of the program, newest first.
#[utoipa::path(get, path = "/api/jobs", tag = "data", responses((status = 200, body = Vec<JobInfo>)))]
pub(crate) async fn jobs(caller: Caller) -> Answer<Vec<JobInfo>> {
    caller.run(|ctx| Ok(artemon_app::jobs(ctx))).await
}

/// Cancels an import; what it did so far is undone.
#[utoipa::path(delete, path = "/api/jobs/{id}", tag = "data", params(("id" = String, Path)),
    responses((status = 204), (status = 404, body = Problem)))]
pub(crate) async fn cancel_job(caller: Caller<Data>, Path(id): Path<String>) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| artemon_app::cancel_job(ctx, &id)).await.map(|_| StatusCode::NO_CONTENT)
}

/// The report of an import: its bad rows as CSV.
#[utoipa::path(get, path = "/api/imports/{id}/report.csv", tag = "data", params(("id" = i32, Path,)),
    responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
pub(crate) async fn import_report_csv(caller: Caller<Data>, Path(id): Path<i32>) -> Result<Response, Problem> {
    let Json(text) = caller.run(move |ctx| import_report(ctx, id)).await?;
    Ok(download("text/csv; charset=utf-8", &format!("import-{id}.csv"), Bytes::from(text)))
}

/// What to export.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub(crate) struct ExportQuery {
    /// Only this table, as CSV.
    table: Option<String>,
    /// Only this company.
    symbol: Option<String>,
    /// In which form, where not as a package or, of one table, as CSV.
    #[param(inline)]
    form: Option<FileForm>,
}

/// In which form an export is asked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum FileForm {
    /// A workbook, a sheet a table.
    Xlsx,
    /// A zip of the filings as xBRL-JSON, with the concepts of ifrs-full.
    XbrlJson,
}

/// The dataset as a zipped Data Package, one table as CSV, a workbook, or the filings as xBRL-JSON.
#[utoipa::path(get, path = "/api/export", tag = "data", params(ExportQuery),
    responses((status = 200, description = "A package, a table, a workbook, or filings", content((Vec<u8> = "application/zip"), (String = "text/csv"), (Vec<u8> = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"))), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn export_dataset(caller: Caller, Query(query): Query<ExportQuery>) -> Result<Response, Problem> {
    let unknown = |_| Problem::new(StatusCode::UNPROCESSABLE_ENTITY, "unusable", "There is no such table in the dataset.");
    let table = query.table.as_deref().filter(|t| !t.is_empty()).map(str::parse::<Table>).transpose().map_err(unknown)?;
    let companies: Vec<String> = query.symbol.into_iter().filter(|s| !s.is_empty()).collect();
    if let Some(symbol) = companies.first().cloned() {
        caller.ctx()?.check_company(&symbol)?;
    }
    let mut name = companies.first().cloned().unwrap_or_else(|| if table.is_some() { String::new() } else { "artemon-dataset".to_owned() });
    if let Some(table) = table {
        name = [name.as_str(), table.code()].into_iter().filter(|part| !part.is_empty()).collect::<Vec<_>>().join("-");
    }
    let (form, ending) = match (query.form, table) {
        (Some(FileForm::Xlsx), _) => (ExportForm::Workbook, "xlsx"),
        (Some(FileForm::XbrlJson), _) => (ExportForm::XbrlJson(Taxonomy::Ifrs), "zip"),
        (None, Some(_)) => (ExportForm::Csv, "csv"),
        (None, None) => (ExportForm::Package, "zip"),
    };
    let request = ExportRequest { form, tables: table.into_iter().collect(), companies };
    let ctx = caller.ctx()?;
    let body = streamed(move |out| export_into(&ctx, &request, out).map(drop)).await?;
    Ok(named_file(&format!("{name}.{ending}"), body))
}
