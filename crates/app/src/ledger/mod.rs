//! Accounts, orders and what came of them.

mod accounts;
mod books;
mod orders;
mod page;
mod replay;
mod work;

pub use accounts::{Entered, EnteredTrade, Made, NewAccount, add_account, remove_account, rename_account, take_back, write_down};
pub(crate) use books::{OwnLedger, order_states};
pub(crate) use page::index_compared;
pub use orders::{Given, OrderRequest, OrderSheet, Weight, cancel_order, order_sheet, place_order};
pub use page::{AccountRow, ClosedRow, HoldingRow, JournalRow, LedgerPage, LedgerRequest, NamedIndex, OrderRow, WealthPoint, ledger_page};
pub use replay::replay_ledger;
pub(crate) use work::work_sessions;
