//! Trades of insiders as their ownership filings state them → rows, amendments applied to what was filed before.

use crate::domain::{Currency, Day, InsiderTrade, Role};
use std::sync::Arc;

/// Securities that are no shares, by a word of their title.
const NO_SHARES: [&str; 6] = ["preferred", "unit", "note", "bond", "debenture", "warrant"];

/// An ownership filing.
#[derive(Clone, Debug, PartialEq)]
pub struct OwnershipFiling {
    /// Its reference.
    pub filing_id: String,
    /// The day on which it became public.
    pub filed_on: Day,
    /// Whether it amends an earlier one.
    pub is_amendment: bool,
    /// Whether its cover says that its trades were made under a plan; a footnote at a trade says it more precisely.
    pub is_planned: bool,
    /// The owner who reports; of several the first.
    pub owner: ReportingOwner,
    /// The transactions of shares, and of what are none.
    pub trades: Vec<FiledTrade>,
}

/// Who reports.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct ReportingOwner {
    /// The register's number, ten digits.
    pub id: String,
    /// The name as written.
    pub name: String,
    /// The title of an officer.
    pub title: String,
    /// Whether the owner is an officer.
    pub is_officer: bool,
    /// Whether the owner is a director.
    pub is_director: bool,
    /// Whether the owner holds more than ten percent.
    pub is_large_holder: bool,
}

/// A transaction as filed.
#[derive(Clone, Debug, PartialEq)]
pub struct FiledTrade {
    /// The security's title.
    pub security: String,
    /// The day of the trade.
    pub traded_on: Day,
    /// The transaction code.
    pub code: String,
    /// Whether shares were acquired, and not disposed of.
    pub acquired: bool,
    /// How many.
    pub shares: f64,
    /// The price of one; `None` where only a footnote tells, or nothing.
    pub price: Option<f64>,
    /// How many are held afterwards.
    pub shares_after: Option<f64>,
    /// Whether they are held directly.
    pub direct: bool,
    /// The texts of its footnotes.
    pub footnotes: Vec<String>,
}

/// What became of a transaction that made no new row of its own, or not only that.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum TradeNote {
    /// It is of no share.
    OtherSecurity,
    /// An amendment repeats it as it was.
    RepeatedUnchanged,
    /// It replaces the row of an earlier filing.
    Replaces,
}

/// The rows of a filing.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct FiledTrades {
    /// New rows, and rows of earlier filings that it replaced.
    pub rows: Vec<InsiderTrade>,
    /// What became of its other transactions: the note, and the security or the filing that it is about.
    pub notes: Vec<(TradeNote, String)>,
}

impl ReportingOwner {
    /// What the owner is to the company: an officer by the title, else a director, else a large holder; `None` where nothing is said.
    #[must_use]
    pub fn role(&self) -> Option<Role> {
        if self.is_officer {
            return Some(officer(&self.title));
        }
        let other = self.is_large_holder.then_some(Role::LargeHolder);
        if self.is_director { Some(Role::Director) } else { other }
    }
}

/// The chief executive or of finance by the title, neither when former, deputy or assistant.
fn officer(title: &str) -> Role {
    let title = title.to_lowercase();
    let words: Vec<&str> = title.split(|c: char| !c.is_alphanumeric()).collect();
    if ["former", "deputy", "assistant"].iter().any(|w| words.contains(w)) {
        return Role::Officer;
    }
    if words.contains(&"ceo") || title.contains("chief executive") {
        Role::ChiefExecutive
    } else if words.contains(&"cfo") || title.contains("chief financial") {
        Role::ChiefFinancial
    } else {
        Role::Officer
    }
}

impl FiledTrade {
    /// Whether it is of shares.
    #[must_use]
    pub fn is_of_shares(&self) -> bool {
        let title = self.security.to_lowercase();
        !title.split(|c: char| !c.is_alphanumeric()).any(|word| NO_SHARES.contains(&word.strip_suffix('s').unwrap_or(word)))
    }

    fn tells_plan(&self) -> bool {
        self.footnotes.iter().any(|f| f.contains("10b5-1"))
    }
}

impl OwnershipFiling {
    /// The filing's rows for a company. `known` are the company's rows of this owner by the day of filing; they are kept up to date.
    ///
    /// Of an amendment a line that is known already adds nothing; else it replaces the known row that is equal in day, code, direction and
    /// ownership and in shares or price, or is the only one equal in the first four; else it is new. Lines that it leaves out stay. A
    /// replaced row is kept with the day on which it was superseded.
    pub fn rows(&self, company_id: &Arc<str>, currency: Currency, known: &mut Vec<InsiderTrade>) -> FiledTrades {
        let mut filed = FiledTrades::default();
        let any_footnote = self.trades.iter().any(FiledTrade::tells_plan);
        let (of_shares, others): (Vec<_>, Vec<_>) = self.trades.iter().partition(|t| t.is_of_shares());
        filed.notes.extend(others.iter().map(|t| (TradeNote::OtherSecurity, t.security.clone())));
        let rows = of_shares.into_iter().map(|trade| {
            let planned = if any_footnote { trade.tells_plan() } else { self.is_planned };
            self.row(trade, planned, company_id, currency)
        });
        let mut rows: Vec<InsiderTrade> = rows.collect();
        // What of this very filing is known stays as it became.
        rows.retain(|row| !known.iter().any(|k| k.filing_id == row.filing_id && same_line(k, row)));
        for row in &rows {
            if self.is_amendment && known.iter().any(|k| is_current(k) && same_line(k, row)) {
                filed.notes.push((TradeNote::RepeatedUnchanged, row.filing_id.clone()));
                continue;
            }
            if let Some(at) = self.is_amendment.then(|| replaced(known, row, &rows)).flatten() {
                known[at].superseded_on = Some(self.filed_on);
                filed.notes.push((TradeNote::Replaces, known[at].filing_id.clone()));
                filed.rows.push(known[at].clone());
            }
            known.push(row.clone());
            filed.rows.push(row.clone());
        }
        filed
    }

    fn row(&self, trade: &FiledTrade, planned: bool, company_id: &Arc<str>, currency: Currency) -> InsiderTrade {
        InsiderTrade {
            company_id: company_id.clone(),
            filing_id: self.filing_id.clone(),
            filed_on: self.filed_on,
            traded_on: trade.traded_on,
            insider_id: self.owner.id.as_str().into(),
            insider_name: self.owner.name.as_str().into(),
            role: self.owner.role(),
            code: trade.code.as_str().into(),
            acquired: trade.acquired,
            shares: trade.shares,
            price: trade.price,
            currency,
            shares_after: trade.shares_after,
            direct: trade.direct,
            planned,
            superseded_on: None,
        }
    }
}

const fn is_current(row: &InsiderTrade) -> bool {
    row.superseded_on.is_none()
}

fn same_deal(a: &InsiderTrade, b: &InsiderTrade) -> bool {
    (&a.insider_id, a.traded_on, &a.code, a.acquired, a.direct) == (&b.insider_id, b.traded_on, &b.code, b.acquired, b.direct)
}

fn same_number(a: f64, b: f64) -> bool {
    a.total_cmp(&b).is_eq()
}

fn same_price(a: &InsiderTrade, b: &InsiderTrade) -> bool {
    a.price.zip(b.price).map_or(a.price.is_none() && b.price.is_none(), |(a, b)| same_number(a, b))
}

fn same_line(a: &InsiderTrade, b: &InsiderTrade) -> bool {
    same_deal(a, b) && same_number(a.shares, b.shares) && same_price(a, b)
}

/// The known row that a line of an amendment replaces; never one that another of its lines repeats, nor one of its own.
fn replaced(known: &[InsiderTrade], line: &InsiderTrade, lines: &[InsiderTrade]) -> Option<usize> {
    let may =
        |k: &InsiderTrade| is_current(k) && k.filing_id != line.filing_id && same_deal(k, line) && !lines.iter().any(|l| same_line(k, l));
    let all: Vec<usize> = (0..known.len()).filter(|i| may(&known[*i])).collect();
    let near = |i: &&usize| same_number(known[**i].shares, line.shares) || (line.price.is_some() && same_price(&known[**i], line));
    all.iter().find(near).copied().or(if let [only] = all.as_slice() { Some(*only) } else { None })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day(text: &str) -> Day {
        text.parse().unwrap()
    }

    fn bought(shares: f64, price: f64) -> FiledTrade {
        FiledTrade {
            security: "Ordinary Shares".to_owned(),
            traded_on: day("2024-03-04"),
            code: "P".to_owned(),
            acquired: true,
            shares,
            price: Some(price),
            shares_after: None,
            direct: true,
            footnotes: Vec::new(),
        }
    }

    fn filing(id: &str, filed_on: &str, is_amendment: bool, trades: &[FiledTrade]) -> OwnershipFiling {
        let owner = ReportingOwner { id: "1".to_owned(), ..ReportingOwner::default() };
        OwnershipFiling {
            filing_id: id.to_owned(),
            filed_on: day(filed_on),
            is_amendment,
            is_planned: false,
            owner,
            trades: trades.to_vec(),
        }
    }

    #[test]
    fn roles_follow_from_flags_and_titles() {
        let of = |title: &str| {
            ReportingOwner { title: title.to_owned(), is_officer: true, is_director: true, ..ReportingOwner::default() }.role()
        };
        assert_eq!(of("President and CEO"), Some(Role::ChiefExecutive));
        assert_eq!(of("SVP, Chief Financial Officer"), Some(Role::ChiefFinancial));
        assert_eq!(of("Deputy Chief Executive"), Some(Role::Officer));
        assert_eq!(of("Ceoline keeper"), Some(Role::Officer));
        let holder = ReportingOwner { is_large_holder: true, ..ReportingOwner::default() };
        assert_eq!((holder.role(), ReportingOwner::default().role()), (Some(Role::LargeHolder), None));
    }

    #[test]
    fn shares_are_told_from_other_securities_by_whole_words() {
        let of = |security: &str| FiledTrade { security: security.to_owned(), ..bought(1.0, 1.0) }.is_of_shares();
        assert!(of("Common Stock") && of("Class A United Shares") && of("Noteworthy Ordinary Shares"));
        assert!(!of("Series A Preferred Stock") && !of("Common Units") && !of("Convertible notes") && !of("Warrant (right to buy)"));
    }

    /// An amendment of two lines of which one is as before: the other replaces the row that agrees in price, once; both are kept.
    #[test]
    fn an_amendment_replaces_what_it_corrects_and_nothing_else() {
        let (company, currency) = ("C1".into(), "ZOC".parse().unwrap());
        let mut known = Vec::new();
        filing("a", "2024-03-06", false, &[bought(1500.0, 18.2), bought(800.0, 18.35)]).rows(&company, currency, &mut known);
        let amendment = filing("b", "2024-03-20", true, &[bought(1500.0, 18.2), bought(880.0, 18.35)]);
        let filed = amendment.rows(&company, currency, &mut known);
        assert_eq!(filed.notes.iter().map(|n| n.0).collect::<Vec<_>>(), [TradeNote::RepeatedUnchanged, TradeNote::Replaces]);
        let rows: Vec<_> = filed.rows.iter().map(|r| (r.filing_id.as_str(), r.shares, r.superseded_on)).collect();
        assert_eq!(rows, [("a", 800.0, Some(day("2024-03-20"))), ("b", 880.0, None)]);
        // The same amendment again finds everything as it is.
        assert!(amendment.rows(&company, currency, &mut known).rows.is_empty());
        // A line that agrees with two in neither shares nor price is new.
        let other = filing("c", "2024-03-21", true, &[bought(5.0, 1.0)]).rows(&company, currency, &mut known);
        assert!(other.notes.is_empty() && other.rows.len() == 1);
    }
}
