//! Facts as companies file them → rows of statements: what of a filing is used, for which item and which fiscal period.
//!
//! A reader of any form of filing makes [`Fact`]s; [`Filing::rows`] decides. Every fact has one [`Outcome`], so that a person sees of
//! each figure in a filing where it went or why it went nowhere.
//!
//! 1. [`Concept`]: which item a concept serves, by the one table `concepts.csv`.
//! 2. `fiscal`: which fiscal period a fact's own start and end make, by the month in which the company's fiscal year ends.
//! 3. `agree`: facts of one concept and period that are the same figure, rounded, or contradict each other.
//! 4. `items`: the first of an item's alternatives whose concepts are there.
//! 5. `rows`: figures to date turned into quarters, and what differs from what is known already.

mod agree;
mod concept;
mod fact;
mod fiscal;
mod items;
mod known;
mod outcome;
mod ownership;
mod rows;
mod sort;

pub use concept::{Concept, CoverFact, OwnConcept, Role, Taxonomy, UnitKind, concept_of, counted};
pub use fact::{Exactness, Fact, FactUnit, FactValue, Figure, Span, number};
pub use fiscal::FiscalCalendar;
pub use known::{Known, KnownPeriod};
pub use outcome::Outcome;
pub use ownership::{FiledTrade, FiledTrades, OwnershipFiling, ReportingOwner, TradeNote};
pub use rows::{Filed, Filer, Filing, Warning};
pub use sort::{Document, commonest};
