//! Files brought by the browser: kept aside until it is said how they are to be taken.

use super::{
    brought::{Brought, files_below},
    filing_preview::{FileAnswers, FilingPreview, of_statements, of_trades},
    register::Register,
    report::{ImportRequest, Source},
    run::mapping_for,
    start::start_import,
};
use crate::{AppError, Ctx, jobs::JobInfo, names::is_unprintable};
use artemon_core::domain::Table;
use artemon_formats::{
    ReadError, TableFile, columns,
    filings::FilingSource,
    mapped_table::{Mapping, PreviewRow, Sample, for_table, preview},
    price_files::{PriceAnswers, PriceFiles},
    registry::{Format, recognise},
    required,
    sdmx_csv::{self, ObservationAnswers, Observations},
    statement_sets::NewFilers,
};
use serde::{Deserialize, Serialize};
use std::{
    fs,
    path::{Component, Path, PathBuf},
};
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

/// Files of one upload, uploads that wait, and the longest name of a file with its folders.
const FILES: usize = 1_000;
const UPLOADS: usize = 20;
const LONGEST_NAME: usize = 200;

/// How much may be brought at once unless said otherwise, in bytes.
pub const UPLOAD_BYTES: u64 = 8 << 30;

/// The folder in which brought files wait.
#[derive(Debug)]
pub struct UploadFolder {
    /// Its name.
    pub id: String,
    path: PathBuf,
    files: usize,
    /// Bytes that may still come.
    left: u64,
}

impl UploadFolder {
    /// Where a file of this name may be written; its folders are made.
    ///
    /// # Errors
    /// A name that no file can have or that leads out of the folder; too many files; a folder that cannot be written.
    pub fn place(&mut self, name: &str) -> Result<PathBuf, AppError> {
        let refused = |problem: &str| {
            let shown: String = name.chars().filter(|c| !c.is_control()).take(60).collect();
            Err(AppError::Unusable { what: format!("The file name \"{shown}\""), problem: problem.to_owned() })
        };
        let relative = Path::new(name);
        if name.is_empty() || !relative.components().all(|c| matches!(c, Component::Normal(_))) {
            return refused("it does not name a file inside the folder that was dropped; rename the file and bring it again");
        }
        if name.chars().any(is_unprintable) {
            return refused("it has characters that cannot be seen; rename the file and bring it again");
        }
        if name.len() > LONGEST_NAME {
            return refused(&format!("it is longer than {LONGEST_NAME} bytes; rename the file and bring it again"));
        }
        self.files += 1;
        if self.files > FILES {
            let problem = format!("more than {FILES} files were brought at once; bring them as one zip or in parts");
            return Err(AppError::Unusable { what: "The upload".to_owned(), problem });
        }
        let path = self.path.join(relative);
        if path.exists() {
            return refused("two files of this name were brought; bring each once");
        }
        let parent = path.parent().unwrap_or(&self.path);
        fs::create_dir_all(parent).map_err(|source| ReadError::Io { file: name.to_owned(), source })?;
        Ok(path)
    }

    /// Counts bytes that came.
    ///
    /// # Errors
    /// When they are more than may come.
    pub fn count(&mut self, bytes: usize) -> Result<(), AppError> {
        let left = self.left.checked_sub(bytes as u64).ok_or_else(|| AppError::Unusable {
            what: "The upload".to_owned(),
            problem: "it is larger than uploads may be. Import the files at the terminal, or start the server with a larger --upload-limit"
                .to_owned(),
        })?;
        self.left = left;
        Ok(())
    }

    /// Forgets the files.
    pub fn remove(self) {
        fs::remove_dir_all(self.path).ok();
    }
}

fn uploads(folder: &Path) -> PathBuf {
    folder.join("uploads")
}

/// Forgets whatever waits: nobody who brought it has the page open any more.
pub(crate) fn forget_uploads(folder: &Path) {
    fs::remove_dir_all(uploads(folder)).ok();
}

/// A new folder for files to come. Those that wait for longer than a day are forgotten, and the oldest where many wait.
///
/// # Errors
/// When it cannot be made.
pub fn new_upload(ctx: &Ctx) -> Result<UploadFolder, AppError> {
    let all = uploads(ctx.home.folder());
    forget_old(&all);
    let id = ctx.home.clock.now().format("%Y%m%d%H%M%S%f").to_string();
    let path = all.join(&id);
    fs::create_dir_all(&path).map_err(|source| ReadError::Io { file: path.display().to_string(), source })?;
    Ok(UploadFolder { id, path, files: 0, left: ctx.home.options.upload_bytes.unwrap_or(UPLOAD_BYTES) })
}

fn upload(ctx: &Ctx, id: &str) -> Result<PathBuf, AppError> {
    let path = uploads(ctx.home.folder()).join(id);
    if id.bytes().all(|b| b.is_ascii_digit()) && path.is_dir() {
        return Ok(path);
    }
    let problem = "they are not here any more; choose them again".to_owned();
    Err(AppError::Unusable { what: "The files".to_owned(), problem })
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
    let mapping = request.mapping.clone().or_else(|| request.table.map(|t| for_table(&sample, t)));
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

/// Names are times, so that the oldest comes first.
fn forget_old(uploads: &Path) {
    const DAY: u64 = 24 * 60 * 60;
    let mut waiting: Vec<PathBuf> = fs::read_dir(uploads).into_iter().flatten().flatten().map(|entry| entry.path()).collect();
    waiting.sort();
    let too_many = waiting.len().saturating_sub(UPLOADS - 1);
    for (i, path) in waiting.iter().enumerate() {
        let age = fs::metadata(path).and_then(|m| m.modified()).ok().and_then(|m| m.elapsed().ok());
        if i < too_many || age.is_some_and(|a| a.as_secs() > DAY) {
            fs::remove_dir_all(path).ok();
        }
    }
}
