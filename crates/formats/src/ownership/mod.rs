//! What the forms of ownership filings have in common: issuers, transactions as written, and what becomes of them.

use crate::{BadCell, ReadError, ReadNote, reading::Take};
use artemon_core::{
    domain::{Currency, Day, InsiderTrade},
    filings::{FiledTrade, ReportingOwner, TradeNote, number},
};
use rust_decimal::prelude::ToPrimitive;
use std::sync::Arc;

/// What to do about a value that cannot be used.
const REMEDY: &str = "Correct the filing's file, or skip bad rows: then the trade is left out.";

/// The company whose shares are traded.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Issuer {
    /// The register's number.
    pub cik: String,
    /// The name.
    pub name: String,
    /// The symbol as written.
    pub symbol: String,
}

/// Companies as ownership filings need them: each with the currency of its primary listing.
pub trait Issuers {
    /// The company of a symbol, in any case.
    fn listed(&self, symbol: &str) -> Option<(Arc<str>, Currency)>;
    /// The company of a register's number.
    fn registered(&self, cik: &str) -> Option<(Arc<str>, Currency)>;
    /// The company of a key.
    fn company(&self, company_id: &str) -> Option<(Arc<str>, Currency)>;
    /// The known trades of a company, by the day of filing.
    ///
    /// # Errors
    /// When they cannot be read.
    fn trades(&self, company_id: &str) -> Result<Vec<InsiderTrade>, ReadError>;
}

/// How a form writes transactions.
pub(crate) struct TradeForm {
    pub(crate) date: &'static str,
    pub(crate) acquired: &'static str,
    pub(crate) shares: &'static str,
    pub(crate) price: &'static str,
    pub(crate) shares_after: &'static str,
    /// A day as it writes it.
    pub(crate) day: fn(&str) -> Option<Day>,
}

/// A transaction as written.
#[derive(Clone, Debug, Default)]
pub struct RawTransaction {
    pub(crate) line: u64,
    pub(crate) security: String,
    pub(crate) date: String,
    pub(crate) code: String,
    pub(crate) acquired: String,
    pub(crate) shares: String,
    pub(crate) price: String,
    pub(crate) price_footnotes: Vec<String>,
    pub(crate) shares_after: String,
    pub(crate) direct: String,
    /// The ids of all its footnotes.
    pub(crate) footnotes: Vec<String>,
}

impl RawTransaction {
    /// The footnote by which alone the price is told.
    pub(crate) fn price_footnote(&self) -> Option<&str> {
        self.price_footnotes.first().filter(|_| self.price.is_empty()).map(String::as_str)
    }

    /// The transaction, if its values can be used; `text` knows the footnotes.
    pub(crate) fn trade(&self, form: &TradeForm, filed_on: Day, text: impl Fn(&str) -> Option<String>) -> Result<FiledTrade, Box<BadCell>> {
        let bad = |column: &str, value: &str, expected: &str| Box::new(BadCell::at("", self.line, column, value, expected, REMEDY));
        let earliest = Day::from_ymd(1900, 1, 1).unwrap_or(Day::MIN);
        let traded_on = (form.day)(&self.date).filter(|d| *d >= earliest).ok_or_else(|| bad(form.date, &self.date, "a date"))?;
        if traded_on > filed_on {
            return Err(bad(form.date, &self.date, "a day up to that of the filing"));
        }
        let acquired = match self.acquired.as_str() {
            "A" => true,
            "D" => false,
            other => return Err(bad(form.acquired, other, "A or D")),
        };
        let amount = |column, text: &str| match text {
            "" => Ok(None),
            text => match number(text).filter(|n| !n.is_sign_negative() || n.is_zero()).and_then(|n| n.to_f64()) {
                Some(n) => Ok(Some(n)),
                None => Err(bad(column, text, "a number of 0 or more")),
            },
        };
        Ok(FiledTrade {
            security: self.security.clone(),
            traded_on,
            code: self.code.clone(),
            acquired,
            shares: amount(form.shares, &self.shares)?.ok_or_else(|| bad(form.shares, "", "a number of 0 or more"))?,
            price: amount(form.price, &self.price)?,
            shares_after: amount(form.shares_after, &self.shares_after)?,
            direct: self.direct != "I",
            footnotes: self.footnotes.iter().filter_map(|id| text(id)).collect(),
        })
    }
}

/// Writes down what became of a filing.
pub(crate) struct Notes<'n, 'r> {
    /// The file, or the filing in it.
    pub(crate) file: String,
    pub(crate) take: &'n mut Take<'r>,
}

impl Notes<'_, '_> {
    pub(crate) fn note(&mut self, what: &str, count: u64, detail: &str) {
        if count > 0 {
            self.take.report.note(ReadNote { file: self.file.clone(), what: what.to_owned(), count, detail: detail.to_owned() });
        }
    }

    /// What makes no rows, other owners, and a role that is not told but by `relation`.
    pub(crate) fn of_filing(&mut self, holdings: u64, derivatives: u64, owners: &[ReportingOwner], relation: &str) {
        self.note("holding", holdings, "");
        self.note("derivative transaction", derivatives, "");
        owners.iter().skip(1).for_each(|owner| self.note("joint owner", 1, &owner.name));
        if owners.first().is_some_and(|o| o.role().is_none()) {
            self.note("role not known", 1, relation);
        }
    }

    pub(crate) fn of_price(&mut self, transaction: &RawTransaction) {
        if let Some(footnote) = transaction.price_footnote() {
            self.note("price in a footnote", 1, footnote);
        }
    }

    pub(crate) fn of_rows(&mut self, notes: &[(TradeNote, String)]) {
        for (note, about) in notes {
            match note {
                TradeNote::OtherSecurity => self.note("other security", 1, about),
                TradeNote::RepeatedUnchanged => self.note("repeated unchanged", 1, ""),
                TradeNote::Replaces => self.note("replaces", 1, about),
            }
        }
    }
}
