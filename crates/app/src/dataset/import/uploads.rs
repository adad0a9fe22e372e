//! Files brought by the browser: what they are, what is asked of them, and how they are to be taken.

use super::{
    brought::{Brought, files_below},
    filing_preview::{FileAnswers, FilingPreview, of_statements, of_trades},
    register::Register,
    report::{ImportRequest, Source},
    run::mapping_for,
    start::start_import,
    upload_folder::upload,
};
use crate::{AppError, Ctx, jobs::JobInfo};
use artemon_core::domain::Table;
use artemon_formats::{
    ReadError, TableFile, columns,
    filings::FilingSource,
    mapped_table::{Mapping, PreviewRow, Sample, for_table, for_turned, preview},
    price_files::{PriceAnswers, PriceFiles},
    registry::{Format, recognise},
    required,
    sdmx_csv::{self, ObservationAnswers, Observations},
    statement_sets::NewFilers,
};
use serde::{Deserialize, Serialize};
use std::path::{Path, PathBuf};
use utoipa::ToSchema;

/// Rows of a preview.
const PREVIEWED: usize = 8;

/// Files that were brought.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Upload {
    /// By which the next step names them.
    pub id: String,
    pub title: String,
    /// Whether they are a Data Package, which needs no mapping.
    pub is_package: bool,
    /// CSV files with their guessed or remembered mappings.
    pub files: Vec<CsvPreview>,
    /// Filings with what is known of what a person is asked.
    pub filings: Vec<FilingPreview>,
    /// Files of which nothing is asked.
    pub unasked: Vec<String>,
    /// Files of prices that belong together: one a symbol, or one a day; or a zip of them.
    pub prices: Vec<String>,
    /// Series of observations, with what a person must choose.
    pub observations: Vec<ObservationFile>,
    /// Whether filers may be among them that no company is known of.
    pub brings_filers: bool,
    /// Files that cannot be taken, each with the reason.
    pub ignored: Vec<IgnoredFile>,
}

/// A file of observations.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ObservationFile {
    pub file: String,
    #[serde(flatten)]
    pub holds: Observations,
}

/// What a person said of a file of observations.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct ObservationsSaid {
    pub file: String,
    pub answers: ObservationAnswers,
}

/// A file that cannot be taken.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct IgnoredFile {
    pub file: String,
    pub reason: String,
}

/// A CSV file as it will be taken.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CsvPreview {
    pub file: String,
    pub headers: Vec<String>,
    /// Where it is turned on its side: what its rows are called.
    pub labels: Vec<String>,
    pub mapping: Option<Mapping>,
    /// Whether the mapping is that of an earlier file with this header.
    pub remembered: bool,
    /// The table's columns.
    pub columns: Vec<String>,
    pub required: Vec<String>,
    /// The first rows as they will be taken.
    pub rows: Vec<PreviewRow>,
    /// What keeps the mapping from being used.
    pub problem: Option<String>,
}

/// A mapping to be looked at before it is used.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct PreviewRequest {
    pub file: String,
    /// Another table, its mapping to be guessed.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub table: Option<Table>,
    /// Years stand in its columns and items in its rows: the mapping to statements is to be guessed so.
    #[serde(default)]
    pub turned: bool,
    #[serde(default)]
    pub mapping: Option<Mapping>,
}

/// How brought files are to be taken.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct StartImport {
    #[serde(default)]
    pub skip_bad_rows: bool,
    /// Of bulk files only these companies: keys, symbols, ISINs or numbers of the register; none for all.
    #[serde(default)]
    pub only: Vec<String>,
    /// Leave out filers of bulk files that no company is known of.
    #[serde(default)]
    pub known_only: bool,
    /// What is said of files of prices that belong together.
    #[serde(default)]
    pub prices: PriceAnswers,
    /// One for each file of observations of which something is said.
    #[serde(default)]
    pub observations: Vec<ObservationsSaid>,
    /// One for each CSV file that is to be taken.
    #[serde(default)]
    pub mappings: Vec<FileMapping>,
    /// One for each filing that is to be taken.
    #[serde(default)]
    pub filings: Vec<FileAnswers>,
}

/// The mapping of one file.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct FileMapping {
    pub file: String,
    pub mapping: Mapping,
}

/// What was brought.
///
/// # Errors
/// Nothing that can be read.
pub fn inspect_upload(ctx: &Ctx, id: &str) -> Result<Upload, AppError> {
    let folder = upload(ctx, id)?;
    let files = files_in(&folder);
    let title = title(&files);
    let mut upload = Upload {
        id: id.to_owned(),
        title,
        is_package: false,
        files: Vec::new(),
        filings: Vec::new(),
        unasked: Vec::new(),
        prices: Vec::new(),
        observations: Vec::new(),
        brings_filers: false,
        ignored: Vec::new(),
    };
    if package_in(&folder, &files).is_some() {
        return Ok(Upload { is_package: true, ..upload });
    }
    let brought = Brought::of(std::slice::from_ref(&folder))?;
    if brought.is_empty() {
        let first = brought.unknown.into_iter().next();
        return Err(first.map_or(ReadError::NoDescriptor { path: folder }, |(_, reason)| reason).into());
    }
    upload.files = brought.tables.iter().map(|table| look(ctx, table, &table_name(&folder, table))).collect::<Result<_, _>>()?;
    if !(brought.filings.is_empty() && brought.ownership.is_empty()) {
        let home = &ctx.home;
        let register = Register::read(&home.store, &home.people, &ctx.person)?;
        let statements = brought.filings.iter().map(|s| of_statements(&register, &name_in(&folder, &s.path), s));
        let trades = brought.ownership.iter().map(|s| of_trades(&register, &name_in(&folder, &s.path), s));
        upload.filings = statements.chain(trades).collect();
    }
    let unasked = brought.packages.iter().chain(&brought.identifiers).chain(&brought.facts);
    let sets = brought.statement_sets.iter().chain(&brought.insider_sets);
    upload.unasked = unasked.chain(sets).map(|path| name_in(&folder, path)).collect();
    upload.prices = brought.prices.iter().flat_map(|files| price_names(&folder, files)).collect();
    for path in &brought.observations {
        upload.observations.push(ObservationFile { file: name_in(&folder, path), holds: sdmx_csv::survey(path)? });
    }
    upload.brings_filers = !brought.statement_sets.is_empty();
    let ignored = |(path, reason): &(PathBuf, ReadError)| IgnoredFile { file: name_in(&folder, path), reason: reason.to_string() };
    upload.ignored = brought.unknown.iter().map(ignored).collect();
    Ok(upload)
}

/// The name of a file by its path in the folder of an upload.
fn name_in(folder: &Path, path: &Path) -> String {
    path.strip_prefix(folder).unwrap_or(path).to_string_lossy().into_owned()
}

/// The name of a table: of a sheet that of its file and its own.
fn table_name(folder: &Path, table: &TableFile) -> String {
    let file = name_in(folder, &table.path);
    table.sheet.as_ref().map_or_else(|| file.clone(), |sheet| format!("{file}: {sheet}"))
}

/// The table of a name.
fn named_table(folder: &Path, files: &[String], name: &str) -> Result<TableFile, ReadError> {
    let is_brought = |file: &str| files.iter().any(|f| f == file);
    if is_brought(name) {
        return Ok(TableFile::of(&folder.join(name)));
    }
    let of_sheet = name.match_indices(": ").find_map(|(at, _)| is_brought(&name[..at]).then(|| (&name[..at], &name[at + 2..])));
    let missing = || ReadError::MissingFile { file: name.to_owned() };
    let (file, sheet) = of_sheet.ok_or_else(missing)?;
    Ok(TableFile { path: folder.join(file), sheet: Some(sheet.to_owned()) })
}

fn price_names(folder: &Path, files: &PriceFiles) -> Vec<String> {
    match files {
        PriceFiles::Files(all) => all.iter().map(|path| name_in(folder, path)).collect(),
        PriceFiles::Zip(path) => vec![name_in(folder, path)],
    }
}

fn look(ctx: &Ctx, table: &TableFile, name: &str) -> Result<CsvPreview, AppError> {
    let sample = Sample::of_table(table)?;
    let (mapping, remembered) = mapping_for(&ctx.home.people, &ctx.person, &sample)?;
    Ok(CsvPreview { remembered, ..shown(table, name, &sample, mapping) })
}

/// Starts to import what was brought.
///
/// # Errors
/// Files that are gone; a mapping that cannot be used; another import that is running.
pub fn start_upload(ctx: &Ctx, id: &str, start: StartImport) -> Result<JobInfo, AppError> {
    let folder = upload(ctx, id)?;
    let files = files_in(&folder);
    let sources = match package_in(&folder, &files) {
        Some(package) => vec![Source::Package(package)],
        None => chosen(&folder, &files, &start)?,
    };
    let request = ImportRequest {
        title: title(&files),
        sources,
        skip_bad_rows: start.skip_bad_rows,
        only: start.only,
        new_filers: if start.known_only { NewFilers::LeaveOut } else { NewFilers::Add },
    };
    start_import(ctx, request, Some(folder))
}

/// What is to be taken of what was brought.
fn chosen(folder: &Path, files: &[String], start: &StartImport) -> Result<Vec<Source>, AppError> {
    let brought = Brought::of(&[folder.to_owned()])?;
    let mut sources: Vec<Source> = brought.packages.iter().cloned().map(Source::Package).collect();
    sources.extend(mapped(folder, files, &start.mappings)?);
    sources.extend(brought.unasked());
    sources.extend(brought.prices.iter().map(|files| Source::Prices(files.clone(), start.prices.clone())));
    sources.extend(brought.observations.iter().map(|path| {
        let name = name_in(folder, path);
        let said = start.observations.iter().find(|s| s.file == name).map(|s| s.answers.clone());
        Source::Observations(path.clone(), said.unwrap_or_default())
    }));
    let (mut statements, mut trades) = (Vec::new(), Vec::new());
    for FileAnswers { file, answers } in start.filings.iter().cloned() {
        if !files.contains(&file) {
            return Err(ReadError::MissingFile { file }.into());
        }
        let path = folder.join(file);
        let of = if recognise(&path)? == Format::Ownership { &mut trades } else { &mut statements };
        of.push(FilingSource { path, answers });
    }
    sources.extend((!statements.is_empty()).then_some(Source::Filings(statements)));
    sources.extend((!trades.is_empty()).then_some(Source::Ownership(trades)));
    if sources.is_empty() {
        let problem = "no file is mapped to a table, and no filing is chosen".to_owned();
        return Err(AppError::Unusable { what: "The import".to_owned(), problem });
    }
    Ok(sources)
}

/// A brought CSV file under a mapping.
///
/// # Errors
/// Files that are gone or cannot be read.
pub fn csv_preview(ctx: &Ctx, id: &str, request: &PreviewRequest) -> Result<CsvPreview, AppError> {
    let folder = upload(ctx, id)?;
    let table = named_table(&folder, &files_in(&folder), &request.file)?;
    let sample = Sample::of_table(&table)?;
    let turned = || if request.turned { for_turned(&sample) } else { None };
    let mapping = request.mapping.clone().or_else(turned).or_else(|| request.table.map(|t| for_table(&sample, t)));
    Ok(shown(&table, &request.file, &sample, mapping))
}

fn shown(table: &TableFile, name: &str, sample: &Sample, mapping: Option<Mapping>) -> CsvPreview {
    let problem = mapping.as_ref().map_or_else(|| Some("choose the table that it holds".to_owned()), |m| m.check(&sample.headers).err());
    let rows = mapping.as_ref().filter(|_| problem.is_none()).map(|m| preview(table, m, PREVIEWED));
    let (rows, unreadable) = match rows {
        Some(Ok(rows)) => (rows, None),
        Some(Err(e)) => (Vec::new(), Some(e.to_string())),
        None => (Vec::new(), None),
    };
    let table = mapping.as_ref().map(|m| m.table);
    CsvPreview {
        file: name.to_owned(),
        headers: sample.headers.clone(),
        labels: mapping.as_ref().and_then(|m| m.turned.as_ref()).map(|t| sample.labels(&t.labels)).unwrap_or_default(),
        columns: table.map(|t| columns(t).iter().map(|c| c.name.to_owned()).collect()).unwrap_or_default(),
        required: table.map(|t| required(t).iter().map(|c| (*c).to_owned()).collect()).unwrap_or_default(),
        mapping,
        remembered: false,
        rows,
        problem: problem.or(unreadable),
    }
}

/// The tables with their mappings, in the order of their tables: what others refer to comes first.
fn mapped(folder: &Path, files: &[String], mappings: &[FileMapping]) -> Result<Vec<Source>, AppError> {
    let mut all = Vec::new();
    for FileMapping { file, mapping } in mappings.iter().cloned() {
        let table = named_table(folder, files, &file)?;
        all.push((mapping.table, Source::Table(table, mapping)));
    }
    all.sort_by_key(|s| s.0);
    Ok(all.into_iter().map(|s| s.1).collect())
}

/// The files below a folder, by their paths in it.
fn files_in(folder: &Path) -> Vec<String> {
    files_below(folder).iter().map(|path| name_in(folder, path)).collect()
}

/// The package among the files: one zip, or the folder of the descriptor.
fn package_in(folder: &Path, files: &[String]) -> Option<PathBuf> {
    if let [one] = files
        && let path = folder.join(one)
        && recognise(&path).is_ok_and(|format| format == Format::DataPackage)
    {
        return Some(path);
    }
    let descriptor = files.iter().filter(|f| Path::new(f).file_name().is_some_and(|n| n == "datapackage.json"));
    let shallowest = descriptor.min_by_key(|f| f.matches(['/', '\\']).count())?;
    folder.join(shallowest).parent().map(Path::to_owned)
}

fn title(files: &[String]) -> String {
    match files {
        [one] => one.clone(),
        [first, ..] => match first.split_once('/') {
            Some((folder, _)) if files.iter().all(|f| f.starts_with(&format!("{folder}/"))) => folder.to_owned(),
            _ => format!("{first} and {} more", files.len() - 1),
        },
        [] => "nothing".to_owned(),
    }
}
