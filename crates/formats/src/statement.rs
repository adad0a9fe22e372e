//! What an account's statement says, whatever its format.

use artemon_core::domain::Day;
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};

/// A statement of one account over some time.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Statement {
    /// By which its keeper knows the account; empty where the file does not say.
    pub account: String,
    /// As it is written.
    pub currency: String,
    /// In the order of the file.
    pub rows: Vec<StatementRow>,
    /// What was held at its end.
    pub positions: Vec<StatedPosition>,
    /// The cash at its end, and the day of that.
    pub cash: Option<(Day, Decimal)>,
    /// What is in the file and not among the rows, with why.
    pub left_out: Vec<LeftOut>,
}

/// What happened.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum StatementKind {
    Buy,
    Sell,
    Dividend,
    Interest,
    CapitalGain,
    Income,
    /// Income that bought more: no cash moves.
    Reinvest,
    TransferIn,
    TransferOut,
    Fee,
    /// `units` are the new ones for one old.
    Split,
    ReturnOfCapital,
    Deposit,
    Withdrawal,
}

impl StatementKind {
    #[allow(missing_docs)]
    pub const ALL: [StatementKind; 14] = [
        StatementKind::Buy,
        StatementKind::Sell,
        StatementKind::Dividend,
        StatementKind::Interest,
        StatementKind::CapitalGain,
        StatementKind::Income,
        StatementKind::Reinvest,
        StatementKind::TransferIn,
        StatementKind::TransferOut,
        StatementKind::Fee,
        StatementKind::Split,
        StatementKind::ReturnOfCapital,
        StatementKind::Deposit,
        StatementKind::Withdrawal,
    ];

    /// As it is written in files.
    #[must_use]
    pub const fn code(self) -> &'static str {
        match self {
            StatementKind::Buy => "buy",
            StatementKind::Sell => "sell",
            StatementKind::Dividend => "dividend",
            StatementKind::Interest => "interest",
            StatementKind::CapitalGain => "capital_gain",
            StatementKind::Income => "income",
            StatementKind::Reinvest => "reinvest",
            StatementKind::TransferIn => "transfer_in",
            StatementKind::TransferOut => "transfer_out",
            StatementKind::Fee => "fee",
            StatementKind::Split => "split",
            StatementKind::ReturnOfCapital => "return_of_capital",
            StatementKind::Deposit => "deposit",
            StatementKind::Withdrawal => "withdrawal",
        }
    }
}

/// Something that happened: amounts in `currency`, units above zero for what comes in and below for what goes out.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct StatementRow {
    /// Where it stands in the file, counted from 1: a line of a table, a transaction otherwise.
    pub place: u64,
    /// By which its keeper knows it; empty where the file does not say.
    pub id: String,
    pub traded_on: Day,
    pub settled_on: Option<Day>,
    pub kind: StatementKind,
    pub security: StatedSecurity,
    pub units: Option<Decimal>,
    pub price: Option<Decimal>,
    pub commission: Option<Decimal>,
    /// Fees, taxes and loads together.
    pub fees: Option<Decimal>,
    pub withheld: Option<Decimal>,
    /// The cash that moved; of a reinvestment the income that was spent.
    pub total: Option<Decimal>,
    pub currency: String,
    pub memo: String,
}

/// A security as a statement names it; empty what it does not say.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct StatedSecurity {
    pub isin: String,
    pub symbol: String,
    pub name: String,
}

/// What was held at the end of a statement.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct StatedPosition {
    pub security: StatedSecurity,
    pub units: Decimal,
    pub price: Option<Decimal>,
    pub value: Option<Decimal>,
}

/// Something that was not taken.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, utoipa::ToSchema)]
#[allow(missing_docs)]
pub struct LeftOut {
    pub id: String,
    /// What it is.
    pub what: String,
    /// Why it was left out.
    pub why: String,
}

/// Why a statement cannot be read.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[allow(missing_docs)]
pub enum StatementError {
    #[error("It is no statement that can be read: {0}.")]
    Not(String),
    #[error("It is cut off: {0}. Download it again.")]
    CutOff(String),
    #[error("{place}: {problem}.")]
    Bad { place: String, problem: String },
}
