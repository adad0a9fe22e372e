//! A first mapping from headers, words and figures.

use super::{MeantWord, StatementField, StatementHead, StatementMapping};
use crate::{
    mapped_table::{guess_dates, guess_decimal},
    statement::StatementKind,
};
use std::collections::{BTreeMap, BTreeSet};

/// What headers are called, the best first.
const NAMES: &[(StatementField, &[&str])] = &[
    (StatementField::TradedOn, &["tradedon", "tradedate", "date", "transactiondate", "bookingdate", "day", "executed", "time"]),
    (StatementField::SettledOn, &["settledon", "settlementdate", "settledate", "valuedate", "valuta"]),
    (StatementField::Id, &["id", "transactionid", "reference", "ref", "orderid", "ordernumber", "tradeid"]),
    (StatementField::Kind, &["kind", "type", "action", "transactiontype", "activity", "transaction", "side", "buysell"]),
    (StatementField::Isin, &["isin", "isincode"]),
    (StatementField::Symbol, &["symbol", "ticker", "code"]),
    (StatementField::Name, &["name", "security", "instrument", "product", "securityname", "description", "asset", "company"]),
    (StatementField::Units, &["units", "quantity", "qty", "shares", "noofshares", "number", "nominal", "volume"]),
    (StatementField::Price, &["price", "unitprice", "tradeprice", "priceshare", "pricepershare", "rate"]),
    (StatementField::Commission, &["commission", "brokerage"]),
    (StatementField::Fees, &["fees", "fee", "costs", "charges", "tax", "taxes"]),
    (StatementField::Withheld, &["withheld", "withholding", "withholdingtax", "taxwithheld"]),
    (StatementField::Total, &["total", "amount", "netamount", "net", "value", "cash", "totalamount", "debitcredit"]),
    (StatementField::Currency, &["currency", "ccy", "cur"]),
    (StatementField::Memo, &["memo", "note", "comment", "description", "details", "text"]),
];

/// Words for what happened; what a word begins with counts.
const WORDS: &[(&str, StatementKind)] = &[
    ("reinvest", StatementKind::Reinvest),
    ("return of capital", StatementKind::ReturnOfCapital),
    ("capital return", StatementKind::ReturnOfCapital),
    ("capital gain", StatementKind::CapitalGain),
    ("transfer in", StatementKind::TransferIn),
    ("transfer out", StatementKind::TransferOut),
    ("buy", StatementKind::Buy),
    ("bought", StatementKind::Buy),
    ("purchase", StatementKind::Buy),
    ("sell", StatementKind::Sell),
    ("sold", StatementKind::Sell),
    ("sale", StatementKind::Sell),
    ("div", StatementKind::Dividend),
    ("interest", StatementKind::Interest),
    ("coupon", StatementKind::Interest),
    ("income", StatementKind::Income),
    ("deposit", StatementKind::Deposit),
    ("credit", StatementKind::Deposit),
    ("payment in", StatementKind::Deposit),
    ("withdraw", StatementKind::Withdrawal),
    ("debit", StatementKind::Withdrawal),
    ("payment out", StatementKind::Withdrawal),
    ("fee", StatementKind::Fee),
    ("charge", StatementKind::Fee),
    ("commission", StatementKind::Fee),
    ("custody", StatementKind::Fee),
    ("tax", StatementKind::Fee),
    ("split", StatementKind::Split),
];

/// What the headers and the cells suggest.
#[must_use]
pub fn guess(head: &StatementHead) -> StatementMapping {
    let bare = |text: &str| text.chars().filter(|c| c.is_alphanumeric()).flat_map(char::to_lowercase).collect::<String>();
    let (mut columns, mut taken) = (BTreeMap::new(), BTreeSet::new());
    for (field, names) in NAMES {
        let found = names.iter().find_map(|n| head.headers.iter().find(|h| bare(h) == *n && !taken.contains(*h)));
        if let Some(header) = found {
            taken.insert(header.clone());
            columns.insert(*field, header.clone());
        }
    }
    let cells =
        |field: StatementField| columns.get(&field).map(|h| head.column(h).map(str::to_owned).collect::<Vec<_>>()).unwrap_or_default();
    let words: BTreeSet<String> = cells(StatementField::Kind).iter().map(|w| w.to_lowercase()).collect();
    let figures: Vec<String> = [StatementField::Total, StatementField::Price, StatementField::Units].into_iter().flat_map(cells).collect();
    let dates = cells(StatementField::TradedOn);
    StatementMapping {
        words: words.into_iter().map(|word| MeantWord { means: meant(&word), word }).collect(),
        dates: guess_dates(dates.iter().map(String::as_str)),
        decimal: guess_decimal(figures.iter().map(String::as_str)),
        columns,
    }
}

/// What a word means, where it can be told.
fn meant(word: &str) -> Option<StatementKind> {
    let exact = StatementKind::ALL.into_iter().find(|k| k.code() == word.replace(' ', "_"));
    exact.or_else(|| {
        WORDS.iter().find(|(start, _)| word.starts_with(start)).or_else(|| WORDS.iter().find(|(w, _)| word.contains(w))).map(|w| w.1)
    })
}
