//! Bytes to the dataset's rows and back. One folder a format; [`registry`] knows them all.

mod archive;
pub mod company_facts;
pub mod csv_statement;
pub mod csv_table;
pub mod data_package;
mod filers;
pub mod filings;
pub mod identifiers;
mod inline_xbrl;
pub mod insider_sets;
pub mod ofx;
pub mod ownership;
pub mod ownership_xml;
pub mod parquet_table;
mod problem;
mod reading;
pub mod registry;
mod set_files;
mod spreadsheet;
pub mod statement;
pub mod statement_sets;
mod tab_separated;
mod tables;
mod text;
mod xbrl;
mod xbrl_csv;
mod xbrl_json;
mod xbrl_xml;
mod xml;

pub use filers::{CIK_SCHEME, register_number};
pub use problem::{BadCell, ReadError, ReadNote, ReadReport, WriteError};
pub use reading::{Progress, Reading};
pub use spreadsheet::harmless;
pub use tables::{Block, BlockWriter, CellKind, Column, Known, columns, required};
pub use xbrl::{FilingFile, LEI_SCHEME, OwnConcepts, entity_parts};
