//! The elements of an ownership filing.

use crate::{
    BadCell, ReadError,
    xml::{Node, tree},
};
use artemon_core::{
    domain::Day,
    filings::{FiledTrade, OwnershipFiling, ReportingOwner, number},
};
use rust_decimal::prelude::ToPrimitive;
use std::collections::HashMap;

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

/// An ownership filing as its file states it.
#[derive(Clone, Debug)]
pub struct OwnershipDocument {
    /// The form: 3, 4, 5, or an amendment such as 4/A.
    pub form: String,
    /// The company.
    pub issuer: Issuer,
    /// Who reports; several report one trade together.
    pub owners: Vec<ReportingOwner>,
    /// Whether the cover says that trades were made under a plan.
    pub is_planned: bool,
    /// The transactions of the table of securities that are no derivatives.
    pub transactions: Vec<RawTransaction>,
    /// Holdings, of derivatives too: they are no trades.
    pub holdings: u64,
    /// Transactions of derivatives.
    pub derivative_transactions: u64,
    /// Texts by their ids.
    pub footnotes: HashMap<String, String>,
    /// The day of the latest signature.
    pub signed_on: Option<Day>,
}

/// A transaction as written.
#[derive(Clone, Debug, Default)]
pub struct RawTransaction {
    security: String,
    date: String,
    code: String,
    acquired: String,
    shares: String,
    price: String,
    price_footnotes: Vec<String>,
    shares_after: String,
    direct: String,
    footnotes: Vec<String>,
}

/// The document of a text.
///
/// # Errors
/// What keeps it from being read, without a full stop.
pub(super) fn document(text: &str) -> Result<OwnershipDocument, String> {
    let root = tree(text)?;
    if root.name != super::ROOT {
        return Err("it is no ownership filing: its outermost element is another".to_owned());
    }
    let owners: Vec<ReportingOwner> = root.children("reportingOwner").map(owner).collect();
    if owners.is_empty() {
        return Err("it names no reporting owner".to_owned());
    }
    let issuer = root.child("issuer");
    let of_issuer = |name| issuer.map(|i| i.text_of(name).to_owned()).unwrap_or_default();
    let (shares, derivatives) = (root.child("nonDerivativeTable"), root.child("derivativeTable"));
    let count = |table: Option<&Node>, name| table.map_or(0, |t| t.children(name).count() as u64);
    let footnotes = root.child("footnotes").into_iter().flat_map(|f| f.children("footnote"));
    let signed = root.children("ownerSignature").filter_map(|s| day(s.text_of("signatureDate")));
    Ok(OwnershipDocument {
        form: root.text_of("documentType").to_owned(),
        issuer: Issuer { cik: of_issuer("issuerCik"), name: of_issuer("issuerName"), symbol: of_issuer("issuerTradingSymbol") },
        owners,
        is_planned: is_true(root.text_of("aff10b5One")),
        transactions: shares.into_iter().flat_map(|t| t.children("nonDerivativeTransaction")).map(transaction).collect(),
        holdings: count(shares, "nonDerivativeHolding") + count(derivatives, "derivativeHolding"),
        derivative_transactions: count(derivatives, "derivativeTransaction"),
        footnotes: footnotes.map(|f| (f.id.clone(), f.text.trim().to_owned())).collect(),
        signed_on: signed.max(),
    })
}

fn is_true(text: &str) -> bool {
    matches!(text, "1" | "true" | "TRUE" | "True")
}

/// A date without its time zone.
fn day(text: &str) -> Option<Day> {
    text.trim().get(..10)?.parse().ok()
}

fn owner(node: &Node) -> ReportingOwner {
    let relation = node.child("reportingOwnerRelationship");
    let is = |name| relation.is_some_and(|r| is_true(r.text_of(name)));
    ReportingOwner {
        id: format!("{:0>10}", node.text_of("rptOwnerCik")),
        name: node.text_of("rptOwnerName").to_owned(),
        title: relation.map(|r| r.text_of("officerTitle").to_owned()).unwrap_or_default(),
        is_officer: is("isOfficer"),
        is_director: is("isDirector"),
        is_large_holder: is("isTenPercentOwner"),
    }
}

fn transaction(node: &Node) -> RawTransaction {
    let value = |name| node.find(name).map_or("", |n| n.text_of("value")).to_owned();
    let notes = |node: &Node| {
        let mut all = Vec::new();
        node.all("footnoteId", &mut all);
        all.into_iter().map(|n| n.id.clone()).collect::<Vec<_>>()
    };
    RawTransaction {
        security: value("securityTitle"),
        date: value("transactionDate"),
        code: node.text_of("transactionCode").to_owned(),
        acquired: value("transactionAcquiredDisposedCode"),
        shares: value("transactionShares"),
        price: value("transactionPricePerShare"),
        price_footnotes: node.find("transactionPricePerShare").map(&notes).unwrap_or_default(),
        shares_after: value("sharesOwnedFollowingTransaction"),
        direct: value("directOrIndirectOwnership"),
        footnotes: notes(node),
    }
}

impl Issuer {
    pub(super) fn unknown(&self, file: &str) -> ReadError {
        ReadError::WhoseFiling { file: file.to_owned(), scheme: format!("symbol {}", self.symbol), identifier: self.cik.clone() }
    }
}

impl OwnershipDocument {
    pub(super) fn filing(&self, filing_id: String, filed_on: Day, trades: Vec<FiledTrade>) -> OwnershipFiling {
        let owner = self.owners.first().cloned().unwrap_or_default();
        OwnershipFiling { filing_id, filed_on, is_amendment: self.form.trim().ends_with("/A"), is_planned: self.is_planned, owner, trades }
    }
}

/// A value that cannot be used, the file to be named by who knows it.
fn bad(column: &str, value: &str, expected: &str) -> Box<BadCell> {
    Box::new(BadCell {
        file: String::new(),
        line: 0,
        column: column.to_owned(),
        value: value.to_owned(),
        expected: expected.to_owned(),
        remedy: "Correct the filing's file, or skip bad rows: then the trade is left out.".to_owned(),
    })
}

impl RawTransaction {
    /// The footnote by which alone the price is told.
    pub(super) fn price_footnote(&self) -> Option<&str> {
        self.price_footnotes.first().filter(|_| self.price.is_empty()).map(String::as_str)
    }

    /// The transaction, if its values can be used.
    pub(super) fn trade(&self, footnotes: &HashMap<String, String>, filed_on: Day) -> Result<FiledTrade, Box<BadCell>> {
        let earliest = Day::from_ymd(1900, 1, 1).unwrap_or(Day::MIN);
        let traded_on = day(&self.date).filter(|d| *d >= earliest);
        let traded_on = traded_on.ok_or_else(|| bad("transactionDate", &self.date, "a date"))?;
        if traded_on > filed_on {
            return Err(bad("transactionDate", &self.date, "a day up to that of the filing"));
        }
        let acquired = match self.acquired.as_str() {
            "A" => true,
            "D" => false,
            other => return Err(bad("transactionAcquiredDisposedCode", other, "A or D")),
        };
        let amount = |column, text: &str| match text {
            "" => Ok(None),
            text => match number(text).filter(|n| !n.is_sign_negative() || n.is_zero()).and_then(|n| n.to_f64()) {
                Some(n) => Ok(Some(n)),
                None => Err(bad(column, text, "a number of 0 or more")),
            },
        };
        let shares = amount("transactionShares", &self.shares)?;
        Ok(FiledTrade {
            security: self.security.clone(),
            traded_on,
            code: self.code.clone(),
            acquired,
            shares: shares.ok_or_else(|| bad("transactionShares", "", "a number of 0 or more"))?,
            price: amount("transactionPricePerShare", &self.price)?,
            shares_after: amount("sharesOwnedFollowingTransaction", &self.shares_after)?,
            direct: self.direct != "I",
            footnotes: self.footnotes.iter().filter_map(|id| footnotes.get(id).cloned()).collect(),
        })
    }
}
