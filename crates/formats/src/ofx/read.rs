//! Elements to the rows of statements.

use crate::statement::{LeftOut, StatedPosition, StatedSecurity, Statement, StatementError, StatementKind, StatementRow};
use crate::xml::Node;
use artemon_core::domain::Day;
use rust_decimal::Decimal;
use std::{collections::HashMap, str::FromStr};

/// Larger amounts are no amounts.
const MOST: i64 = 1_000_000_000_000_000_000;

pub(super) fn statements(root: &Node) -> Result<Vec<Statement>, StatementError> {
    let securities = securities(root);
    let mut of = Vec::new();
    for tag in ["INVSTMTRS", "STMTRS", "CCSTMTRS"] {
        root.all(tag, &mut of);
    }
    if of.is_empty() {
        return Err(StatementError::Not("it has no statement of an account in it".to_owned()));
    }
    of.into_iter().map(|node| Reader { securities: &securities, node }.statement()).collect()
}

/// The securities that are listed, by the id that transactions name.
fn securities(root: &Node) -> HashMap<String, StatedSecurity> {
    let mut all = Vec::new();
    root.all("SECINFO", &mut all);
    let security = |n: &Node| {
        let (id, kind) = (n.text_of("UNIQUEID").to_owned(), n.text_of("UNIQUEIDTYPE"));
        let security = StatedSecurity {
            isin: if kind.eq_ignore_ascii_case("ISIN") { id.clone() } else { String::new() },
            symbol: n.text_of("TICKER").to_owned(),
            name: n.text_of("SECNAME").to_owned(),
        };
        (id, security)
    };
    all.into_iter().map(security).collect()
}

struct Reader<'n> {
    securities: &'n HashMap<String, StatedSecurity>,
    node: &'n Node,
}

impl Reader<'_> {
    fn statement(&self) -> Result<Statement, StatementError> {
        let mut out = Statement {
            account: self.node.text_of("ACCTID").to_owned(),
            currency: self.node.text_of("CURDEF").to_owned(),
            ..Statement::default()
        };
        let list = ["INVTRANLIST", "BANKTRANLIST"].into_iter().find_map(|tag| self.node.find(tag));
        let transactions = list.map_or(&[][..], |n| &n.within);
        let (mut reversed, mut place) = (Vec::new(), 0);
        for t in transactions.iter().filter(|t| !t.within.is_empty()) {
            place += 1;
            let id = t.text_of("FITID").to_owned();
            let names = t.text_of("REVERSALFITID");
            if !names.is_empty() {
                out.left_out.push(LeftOut { id: id.clone(), what: t.name.clone(), why: format!("it takes back {names}") });
                reversed.push((names.to_owned(), id));
                continue;
            }
            match self.row(t, place)? {
                Some(row) if out.rows.iter().any(|r| !id.is_empty() && r.id == id) => {
                    out.left_out.push(LeftOut {
                        id: row.id,
                        what: t.name.clone(),
                        why: "another of the same identifier is in the file".to_owned(),
                    });
                }
                Some(row) => out.rows.push(row),
                None => out.left_out.push(LeftOut { id, what: t.name.clone(), why: "nothing of its kind is kept".to_owned() }),
            }
        }
        for (taken_back, by) in reversed {
            if let Some(at) = out.rows.iter().position(|r| r.id == taken_back) {
                let row = out.rows.remove(at);
                out.left_out.push(LeftOut { id: row.id, what: row.kind.code().to_owned(), why: format!("it was taken back by {by}") });
            }
        }
        self.ends(&mut out)?;
        Ok(out)
    }

    /// What was held and in cash at the end.
    fn ends(&self, out: &mut Statement) -> Result<(), StatementError> {
        let mut held = Vec::new();
        if let Some(list) = self.node.find("INVPOSLIST") {
            list.all("INVPOS", &mut held);
        }
        for p in held {
            let Some(units) = figure(p, "UNITS")? else { continue };
            let (price, value) = (figure(p, "UNITPRICE")?, figure(p, "MKTVAL")?);
            out.positions.push(StatedPosition { security: self.security(p), units, price, value });
        }
        let cash =
            [("INVBAL", "AVAILCASH"), ("LEDGERBAL", "BALAMT")].into_iter().find_map(|(within, tag)| Some((self.node.find(within)?, tag)));
        if let Some((balance, tag)) = cash
            && let Some(amount) = figure(balance, tag)?
        {
            let on = [balance.text_of("DTASOF"), self.node.text_of("DTASOF"), self.node.text_of("DTEND")];
            let on = on.into_iter().find(|t| !t.is_empty()).unwrap_or_default();
            out.cash = Some((day(on, "DTASOF")?, amount));
        }
        Ok(())
    }

    fn security(&self, of: &Node) -> StatedSecurity {
        let Some(id) = of.find("SECID") else { return StatedSecurity::default() };
        let (unique, kind) = (id.text_of("UNIQUEID"), id.text_of("UNIQUEIDTYPE"));
        let mut found = self.securities.get(unique).cloned().unwrap_or_default();
        if kind.eq_ignore_ascii_case("ISIN") {
            unique.clone_into(&mut found.isin);
        }
        if kind.eq_ignore_ascii_case("TICKER") && found.symbol.is_empty() {
            unique.clone_into(&mut found.symbol);
        }
        if found == StatedSecurity::default() {
            unique.clone_into(&mut found.name);
        }
        found
    }

    /// A transaction; none of what is not kept.
    fn row(&self, t: &Node, place: u64) -> Result<Option<StatementRow>, StatementError> {
        let Some(kind) = kind(t) else { return Ok(None) };
        let on = [t.text_of("DTTRADE"), t.text_of("DTPOSTED")].into_iter().find(|x| !x.is_empty()).unwrap_or_default();
        let sum = |tags: &[&str]| -> Result<Option<Decimal>, StatementError> {
            let all = tags.iter().map(|tag| figure(t, tag)).collect::<Result<Vec<_>, _>>()?;
            Ok(all.into_iter().flatten().reduce(|a, b| a + b))
        };
        let bank = t.find("STMTTRN");
        let units = match kind {
            StatementKind::Split => figure(t, "NUMERATOR")?.zip(figure(t, "DENOMINATOR")?.filter(|d| !d.is_zero())).map(|(n, d)| n / d),
            StatementKind::Sell | StatementKind::TransferOut => figure(t, "UNITS")?.map(|u| -u.abs()),
            _ => figure(t, "UNITS")?.map(|u| u.abs()),
        };
        let memo = [t.text_of("MEMO"), bank.map_or("", |b| b.text_of("NAME"))].into_iter().find(|m| !m.is_empty()).unwrap_or_default();
        let currency = t.find("CURRENCY").map_or("", |c| c.text_of("CURSYM"));
        Ok(Some(StatementRow {
            place,
            id: t.text_of("FITID").to_owned(),
            traded_on: day(on, "DTTRADE")?,
            settled_on: Some(t.text_of("DTSETTLE")).filter(|d| !d.is_empty()).map(|d| day(d, "DTSETTLE")).transpose()?,
            kind,
            security: self.security(t),
            units,
            price: figure(t, "UNITPRICE")?,
            commission: figure(t, "COMMISSION")?,
            fees: sum(&["FEES", "TAXES", "LOAD"])?,
            withheld: figure(t, "WITHHOLDING")?,
            total: if bank.is_some() { figure(t, "TRNAMT")? } else { figure(t, "TOTAL")? },
            currency: if currency.is_empty() { self.node.text_of("CURDEF") } else { currency }.to_owned(),
            memo: memo.to_owned(),
        }))
    }
}

fn kind(t: &Node) -> Option<StatementKind> {
    Some(match t.name.as_str() {
        "BUYSTOCK" | "BUYMF" | "BUYOTHER" | "BUYDEBT" => StatementKind::Buy,
        "SELLSTOCK" | "SELLMF" | "SELLOTHER" | "SELLDEBT" => StatementKind::Sell,
        "INCOME" => match t.text_of("INCOMETYPE") {
            "DIV" => StatementKind::Dividend,
            "INTEREST" => StatementKind::Interest,
            "CGLONG" | "CGSHORT" => StatementKind::CapitalGain,
            _ => StatementKind::Income,
        },
        "REINVEST" => StatementKind::Reinvest,
        "TRANSFER" if t.text_of("TFERACTION").eq_ignore_ascii_case("OUT") => StatementKind::TransferOut,
        "TRANSFER" => StatementKind::TransferIn,
        "INVEXPENSE" => StatementKind::Fee,
        "SPLIT" => StatementKind::Split,
        "RETOFCAP" => StatementKind::ReturnOfCapital,
        "INVBANKTRAN" | "STMTTRN" => match (t.text_of("TRNTYPE"), t.text_of("TRNAMT").starts_with('-')) {
            ("SRVCHG" | "FEE", _) => StatementKind::Fee,
            ("INT", _) => StatementKind::Interest,
            ("DIV", _) => StatementKind::Dividend,
            (_, false) => StatementKind::Deposit,
            (_, true) => StatementKind::Withdrawal,
        },
        _ => return None,
    })
}

/// A figure; none where the element is absent or empty. A comma may stand for the point.
fn figure(of: &Node, tag: &str) -> Result<Option<Decimal>, StatementError> {
    let text = of.text_of(tag);
    if text.is_empty() {
        return Ok(None);
    }
    let number = Decimal::from_str(&text.replace(',', ".")).or_else(|_| Decimal::from_scientific(text));
    let number = number.ok().filter(|x| x.abs() <= MOST.into());
    let bad = || StatementError::Bad {
        place: format!("{} {}", of.name, of.text_of("FITID")),
        problem: format!("{tag} is \"{}\", no amount", short(text)),
    };
    number.map(Some).ok_or_else(bad)
}

/// The day that is written; the time and its zone are passed over.
fn day(text: &str, tag: &str) -> Result<Day, StatementError> {
    let part = |range: std::ops::Range<usize>| text.get(range).and_then(|t| t.parse::<u32>().ok());
    let day = (|| Day::from_ymd(i32::try_from(part(0..4)?).ok()?, part(4..6)?, part(6..8)?))();
    day.ok_or_else(|| StatementError::Bad { place: tag.to_owned(), problem: format!("\"{}\" is no day", short(text)) })
}

fn short(text: &str) -> String {
    text.chars().take(40).collect()
}
