//! Accounts, orders and what came of them.

mod accounts;
mod asked;
mod books;
mod dates;
mod decisions;
mod entries;
mod file;
mod fit;
mod index;
mod landing;
mod orders;
mod page;
mod replay;
mod results;
mod rows;
mod securities;
mod sheet;
mod statements;
mod terms;
mod work;

pub use accounts::{Made, NewAccount, add_account, remove_account, rename_account};
pub use asked::OrderRequest;
pub(crate) use books::{OwnLedger, own_ledger};
pub(crate) use dates::{OwnDate, own_dates};
pub use decisions::{
    Decided, DecisionAnswer, DecisionRow, DecisionsPage, DecisionsRequest, FigureThenAndNow, NewDecision, Reasons, Review, ScreenRecord,
    Screened, Seen, SeenFigure, add_review, decide, decision, decisions,
};
pub use entries::{Entered, EnteredTrade, take_back, write_down};
pub use file::{LedgerFormat, ledger_file};
pub use fit::{FitAnswer, LookThrough, Overlap, Weight, order_fit};
pub(crate) use index::index_compared;
pub use orders::{Given, OrderChange, cancel_order, change_order, place_order};
pub use page::{LedgerPage, LedgerRequest, NamedIndex, ledger_page};
pub use replay::replay_ledger;
pub use results::{GroupResult, IncomeMonth, IncomeRow, ResultsAnswer, ledger_results};
pub use rows::{AccountRow, ClosedRow, HoldingRow, JournalRow, OrderRow, WealthPoint};
pub use sheet::{OrderSheet, order_sheet};
pub use statements::{
    AccountStatement, AccountStatementRequest, AccountStatementRow, Difference, RowState, StatementImport, StatementMappingAnswer,
    account_statement, statement_imports, undo_statement,
};
pub use terms::{LedgerTerms, ledger_terms, save_ledger_terms};
pub(crate) use work::work_sessions;
