//! Accounts, orders and what came of them.

mod accounts;
mod books;
mod dates;
mod decisions;
mod file;
mod fit;
mod orders;
mod page;
mod replay;
mod results;
mod statements;
mod terms;
mod work;

pub use accounts::{Entered, EnteredTrade, Made, NewAccount, add_account, remove_account, rename_account, take_back, write_down};
pub(crate) use books::{OwnLedger, own_ledger};
pub(crate) use dates::{OwnDate, own_dates};
pub use decisions::{
    Decided, DecisionAnswer, DecisionRow, DecisionsPage, DecisionsRequest, FigureThenAndNow, NewDecision, Reasons, Review, ScreenRecord,
    Screened, Seen, SeenFigure, add_review, decide, decision, decisions,
};
pub use file::{LedgerFormat, ledger_file};
pub use fit::{FitAnswer, LookThrough, Overlap, Weight, order_fit};
pub use orders::{Given, OrderChange, OrderRequest, OrderSheet, cancel_order, change_order, order_sheet, place_order};
pub(crate) use page::index_compared;
pub use page::{AccountRow, ClosedRow, HoldingRow, JournalRow, LedgerPage, LedgerRequest, NamedIndex, OrderRow, WealthPoint, ledger_page};
pub use replay::replay_ledger;
pub use results::{GroupResult, IncomeMonth, IncomeRow, ResultsAnswer, ledger_results};
pub use statements::{
    AccountStatement, AccountStatementRequest, AccountStatementRow, Difference, RowState, StatementImport, StatementMappingAnswer,
    account_statement, statement_imports, undo_statement,
};
pub use terms::{LedgerTerms, ledger_terms, save_ledger_terms};
pub(crate) use work::work_sessions;
