//! The elements of an ownership filing.

use crate::{
    ownership::{Issuer, RawTransaction, TradeForm},
    xml::{Node, tree},
};
use artemon_core::{
    domain::Day,
    filings::{FiledTrade, OwnershipFiling, ReportingOwner},
};
use std::collections::HashMap;

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

/// How this form writes transactions.
pub(super) const TRADES: TradeForm = TradeForm {
    date: "transactionDate",
    acquired: "transactionAcquiredDisposedCode",
    shares: "transactionShares",
    price: "transactionPricePerShare",
    shares_after: "sharesOwnedFollowingTransaction",
    day,
};

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
        line: 0,
        security: value("securityTitle"),
        date: value(TRADES.date),
        code: node.text_of("transactionCode").to_owned(),
        acquired: value(TRADES.acquired),
        shares: value(TRADES.shares),
        price: value(TRADES.price),
        price_footnotes: node.find(TRADES.price).map(&notes).unwrap_or_default(),
        shares_after: value(TRADES.shares_after),
        direct: value("directOrIndirectOwnership"),
        footnotes: notes(node),
    }
}

impl OwnershipDocument {
    pub(super) fn filing(&self, filing_id: String, filed_on: Day, trades: Vec<FiledTrade>) -> OwnershipFiling {
        let owner = self.owners.first().cloned().unwrap_or_default();
        OwnershipFiling { filing_id, filed_on, is_amendment: self.form.trim().ends_with("/A"), is_planned: self.is_planned, owner, trades }
    }
}
