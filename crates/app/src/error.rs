//! Why a request was refused: each a sentence that says what is wrong and what to do.

use artemon_core::{backtest::BacktestError, domain::Day, formula::FormulaError, screening::UniverseError};
use artemon_formats::{ReadError, ReadReport, WriteError};
use artemon_store::StoreError;
use std::path::PathBuf;

/// A refused request. Nothing was changed.
#[derive(Debug, thiserror::Error)]
#[allow(missing_docs)]
pub enum AppError {
    #[error("{error}")]
    Formula { formula: String, error: FormulaError },
    #[error("There is no company with the symbol, ISIN or id {}.{}", .unknown.join(", "), .hint)]
    UnknownCompanies { unknown: Vec<String>, hint: String },
    #[error("The dataset begins on {first}; {asked} is before it. Choose a date from {first} to {last}.")]
    BeforeData { asked: Day, first: Day, last: Day },
    #[error("The dataset ends on {last}; nothing is known of {asked}. Choose a date from {first} to {last}.")]
    AfterData { asked: Day, first: Day, last: Day },
    #[error("The dataset is empty. Import a Data Package first.")]
    Empty,
    #[error("The data folder {folder} holds no dataset yet. Import a Data Package into it first.")]
    NoDataset { folder: PathBuf },
    #[error("{what} does not exist.")]
    Missing { what: String },
    #[error(
        "\"{name}\" was changed elsewhere: version {version} was saved at {saved_at}. Look at it, then save yours on top of it or under another name."
    )]
    ChangedSince { name: String, version: i32, saved_at: String },
    #[error("{what}. Nothing was changed; try again in a moment.")]
    Busy { what: String },
    #[error("Sign in first.")]
    NotSignedIn,
    #[error("The name, the passphrase or the code is not right.")]
    WrongCredentials,
    #[error("Type the code that your authenticator shows, or one of your recovery codes.")]
    CodeNeeded,
    #[error("Type your passphrase again first: this cannot be undone.")]
    ConfirmFirst,
    #[error("Turn your second factor on first: everybody here must have one.")]
    SecondFactorFirst,
    #[error("{what}.")]
    NotAllowed { what: String },
    #[error("That was tried too often. Try again in {}.", waiting(*.seconds))]
    TooManyAttempts { seconds: u64 },
    #[error("{0}")]
    Measure(String),
    #[error(transparent)]
    Universe(UniverseError),
    #[error(transparent)]
    Backtest(BacktestError),
    #[error("{0}")]
    Refused(String),
    #[error("{what} is not usable: {problem}.")]
    Unusable { what: String, problem: String },
    #[error("The package has {} bad {}, so nothing was taken. Correct them, or import the good rows alone. The first: {}", .0.bad_rows, if .0.bad_rows == 1 { "row" } else { "rows" }, .0.bad.first().map(ToString::to_string).unwrap_or_default())]
    BadRows(Box<ReadReport>),
    #[error(transparent)]
    Read(#[from] ReadError),
    #[error(transparent)]
    Write(#[from] WriteError),
    #[error(transparent)]
    Store(#[from] StoreError),
}

impl AppError {
    /// A stable name of the sort of problem, for programs.
    #[must_use]
    pub const fn kind(&self) -> &'static str {
        match self {
            AppError::Formula { .. } => "formula",
            AppError::UnknownCompanies { .. } => "unknown-company",
            AppError::BeforeData { .. } | AppError::AfterData { .. } => "date-outside-data",
            AppError::Empty => "empty-dataset",
            AppError::NoDataset { .. } => "no-dataset",
            AppError::Busy { .. } | AppError::Store(StoreError::Busy) => "busy",
            AppError::Missing { .. } => "missing",
            AppError::ChangedSince { .. } => "changed-since",
            AppError::NotSignedIn => "not-signed-in",
            AppError::WrongCredentials => "wrong-credentials",
            AppError::CodeNeeded => "code-needed",
            AppError::ConfirmFirst => "confirm-first",
            AppError::SecondFactorFirst => "second-factor-first",
            AppError::NotAllowed { .. } => "not-allowed",
            AppError::TooManyAttempts { .. } => "too-many-attempts",
            AppError::Measure(_) => "measure",
            AppError::Universe(_) => "universe",
            AppError::Backtest(_) => "backtest",
            AppError::Unusable { .. } => "unusable",
            AppError::Refused(_) => "refused",
            AppError::BadRows(_) => "bad-rows",
            AppError::Read(_) => "unreadable-package",
            AppError::Write(_) => "unwritable-package",
            AppError::Store(_) => "store",
        }
    }

    /// What a log may keep of it: what was asked for or typed may be private, what is wrong with the disk is not.
    #[must_use]
    pub fn for_log(&self) -> String {
        match self {
            AppError::Store(e) => e.to_string(),
            other => other.kind().to_owned(),
        }
    }

    /// Whether the fault lies with the product or the machine and not with the request.
    #[must_use]
    pub const fn is_ours(&self) -> bool {
        matches!(self, AppError::Store(e) if !matches!(e, StoreError::Busy))
    }

    pub(crate) fn formula(formula: &str, error: FormulaError) -> AppError {
        AppError::Formula { formula: formula.to_owned(), error }
    }
}

fn waiting(seconds: u64) -> String {
    if seconds < 100 { format!("{seconds} seconds") } else { format!("{} minutes", seconds.div_ceil(60)) }
}

impl From<UniverseError> for AppError {
    fn from(e: UniverseError) -> AppError {
        match e {
            UniverseError::UnknownSymbols(unknown) => AppError::UnknownCompanies { unknown, hint: String::new() },
            other => AppError::Universe(other),
        }
    }
}

impl From<BacktestError> for AppError {
    fn from(e: BacktestError) -> AppError {
        match e {
            BacktestError::Universe(e) => e.into(),
            BacktestError::Formula { formula, error } => AppError::Formula { formula, error },
            other => AppError::Backtest(other),
        }
    }
}
