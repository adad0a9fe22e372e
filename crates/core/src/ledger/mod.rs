//! The ledger: from a journal of events to lots, cash, income, gains and returns.
//!
//! A journal is only added to. [`Ledger`] books event after event; whatever stands in the books follows from the journal and the
//! prices and rates of its days, so that reading it again from the first event gives the same. Amounts are decimals; prices, rates and
//! returns that are only looked at are floating-point numbers.

mod amounts;
mod booking;
mod books;
mod corrections;
mod event;
mod income;
mod instructions;
mod line;
mod lots;
mod report;
mod results;
mod returns;
mod same_money;
mod story;
mod track;
mod words;
mod worth;

pub use amounts::{Sum, decimal, number};
pub use booking::LedgerError;
pub use books::{AccountBooks, Booked, Due, Effect, Ledger, OpenOrder};
pub use corrections::{Correction, corrections};
pub use event::{Account, AccountKind, At, Event, Good, LotRule, Order, Recorded, Security, SellRule, Side, What};
pub use income::{IncomeLine, Sureness, income_calendar};
pub use instructions::{AtWord, Entry, Instruction, LedgerDocument, Quantity, SellRuleWords, Traded, Wanted, sell_rule_of};
pub use line::JournalLine;
pub use lots::{Lot, Position};
pub use report::{AccountReport, HoldingReport, LotReport, RealisedOf, Report, Told, TotalReport, WealthDay, reports, told};
pub use results::{YearResult, years};
pub use returns::{Flow, xirr};
pub use story::{OrderState, OrderStory, order_stories};
pub use track::{DayOf, Track, days_of, track};
pub use words::event_says;
pub use worth::{Held, worth};
