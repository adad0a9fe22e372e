//! Rows of text to the rows of a statement.

use super::{StatementField as Field, StatementHead, StatementMapping};
use crate::{
    mapped_table::{date, number},
    statement::{LeftOut, StatedSecurity, Statement, StatementError, StatementKind, StatementRow},
};
use artemon_core::domain::Day;
use rust_decimal::Decimal;
use std::str::FromStr;

/// Larger amounts are no amounts.
const MOST: i64 = 1_000_000_000_000_000_000;

/// The rows of a file under a mapping. What means nothing is left out with why.
///
/// # Errors
/// A mapping that names columns the file does not have, or no date; a cell that cannot be meant.
pub fn read(head: &StatementHead, mapping: &StatementMapping) -> Result<Statement, StatementError> {
    if let Some(header) = mapping.columns.values().find(|h| !head.headers.contains(h)) {
        return Err(StatementError::Not(format!("it has no column \"{header}\"")));
    }
    if !mapping.columns.contains_key(&Field::TradedOn) {
        return Err(StatementError::Not("no column says on which day something happened; choose one".to_owned()));
    }
    let mut out = Statement::default();
    for (line, cells) in &head.rows {
        let row = Row { head, mapping, line: *line, cells };
        match row.kind()? {
            Ok(kind) => out.rows.push(row.row(kind)?),
            Err(why) => out.left_out.push(LeftOut { id: format!("line {line}"), what: row.text(Field::Kind).to_owned(), why }),
        }
    }
    Ok(out)
}

struct Row<'r> {
    head: &'r StatementHead,
    mapping: &'r StatementMapping,
    line: u64,
    cells: &'r [String],
}

impl Row<'_> {
    fn text(&self, field: Field) -> &str {
        let place = self.mapping.columns.get(&field).and_then(|h| self.head.headers.iter().position(|x| x == h));
        place.and_then(|p| self.cells.get(p)).map_or("", String::as_str)
    }

    fn bad(&self, field: Field, expected: &str) -> StatementError {
        let column = self.mapping.columns.get(&field).map_or("", String::as_str);
        let value: String = self.text(field).chars().take(40).collect();
        StatementError::Bad { place: format!("Line {}, {column}", self.line), problem: format!("\"{value}\" is no {expected}") }
    }

    fn figure(&self, field: Field) -> Result<Option<Decimal>, StatementError> {
        let text = self.text(field);
        if text.is_empty() || text == "-" {
            return Ok(None);
        }
        let plain = number(text, self.mapping.decimal, 1.0);
        let found =
            plain.and_then(|n| Decimal::from_str(&n).or_else(|_| Decimal::from_scientific(&n)).ok()).filter(|x| x.abs() <= MOST.into());
        found.map(Some).ok_or_else(|| self.bad(field, "amount"))
    }

    fn day(&self, field: Field) -> Result<Day, StatementError> {
        let day = date(self.text(field), self.mapping.dates).and_then(|d| d.parse().ok());
        day.ok_or_else(|| self.bad(field, "day in the order that was chosen"))
    }

    /// What happened, or why the row is left out.
    fn kind(&self) -> Result<Result<StatementKind, String>, StatementError> {
        let word = self.text(Field::Kind).to_lowercase();
        if !word.is_empty() {
            return Ok(match self.mapping.meant(&word).map(|w| w.means) {
                Some(Some(kind)) => Ok(kind),
                Some(None) => Err("the mapping leaves it out".to_owned()),
                None => Err("the mapping does not say what the word means".to_owned()),
            });
        }
        // Without a word: units that come in are bought, and what moves no units is paid in or out.
        let (units, total) = (self.figure(Field::Units)?, self.figure(Field::Total)?);
        Ok(match (units.filter(|u| !u.is_zero()), total.filter(|t| !t.is_zero())) {
            (Some(units), total) if units.is_sign_negative() || total.is_some_and(|t| t.is_sign_positive()) => Ok(StatementKind::Sell),
            (Some(_), _) => Ok(StatementKind::Buy),
            (None, Some(total)) if total.is_sign_negative() => Ok(StatementKind::Withdrawal),
            (None, Some(_)) => Ok(StatementKind::Deposit),
            (None, None) => Err("it moves neither cash nor shares".to_owned()),
        })
    }

    fn row(&self, kind: StatementKind) -> Result<StatementRow, StatementError> {
        let out = matches!(kind, StatementKind::Sell | StatementKind::TransferOut);
        let costs = |field| Ok(self.figure(field)?.map(|x| x.abs()));
        Ok(StatementRow {
            place: self.line,
            id: self.text(Field::Id).to_owned(),
            traded_on: self.day(Field::TradedOn)?,
            settled_on: if self.text(Field::SettledOn).is_empty() { None } else { Some(self.day(Field::SettledOn)?) },
            kind,
            security: StatedSecurity {
                isin: self.text(Field::Isin).to_owned(),
                symbol: self.text(Field::Symbol).to_owned(),
                name: self.text(Field::Name).to_owned(),
            },
            units: self.figure(Field::Units)?.map(|u| if out { -u.abs() } else { u.abs() }),
            price: costs(Field::Price)?,
            commission: costs(Field::Commission)?,
            fees: costs(Field::Fees)?,
            withheld: costs(Field::Withheld)?,
            total: self.figure(Field::Total)?.map(|t| signed(kind, t)),
            currency: self.text(Field::Currency).to_uppercase(),
            memo: self.text(Field::Memo).to_owned(),
        })
    }
}

/// With the sign that the kind has, whatever the file writes: cash comes in above zero.
fn signed(kind: StatementKind, total: Decimal) -> Decimal {
    match kind {
        StatementKind::Buy | StatementKind::Withdrawal | StatementKind::Fee | StatementKind::Reinvest => -total.abs(),
        StatementKind::Sell | StatementKind::Deposit | StatementKind::ReturnOfCapital => total.abs(),
        _ => total,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::csv_statement::guess;

    const FILE: &str = "Account R-1001;;;;;;\n\
        Booking date;Type;ISIN;Quantity;Price;Amount;Currency\n\
        02.01.2025;Deposit;;;;25.000,00;ZOC\n\
        13.01.2025;Purchase;XB0000010601;60;88,10;5.302,30;ZOC\n\
        14.02.2025;Dividend;XB0000010601;;;42,50;ZOC\n\
        03.03.2025;Sale;XB0000010601;20;90,00;1.790,00;ZOC\n\
        04.03.2025;Voucher;;;;5,00;ZOC\n";

    #[test]
    fn a_file_of_its_own_kind_is_guessed_and_read() {
        let head = StatementHead::of(FILE.as_bytes()).unwrap();
        let mapping = guess(&head);
        assert_eq!(
            (mapping.dates, mapping.decimal),
            (crate::mapped_table::DateOrder::DayMonthYear, crate::mapped_table::DecimalMark::Comma)
        );
        assert_eq!(mapping.meant("voucher").unwrap().means, None);
        let of = read(&head, &mapping).unwrap();
        let rows: Vec<String> = of
            .rows
            .iter()
            .map(|r| {
                let figure = |x: Option<Decimal>| x.map(|x| x.normalize().to_string()).unwrap_or_default();
                format!("{} {} {} {} {}", r.place, r.traded_on, r.kind.code(), figure(r.units), figure(r.total))
            })
            .collect();
        assert_eq!(
            rows,
            ["3 2025-01-02 deposit  25000", "4 2025-01-13 buy 60 -5302.3", "5 2025-02-14 dividend  42.5", "6 2025-03-03 sell -20 1790",]
        );
        assert_eq!((of.left_out.len(), of.left_out[0].id.as_str()), (1, "line 7"));
    }

    #[test]
    fn a_cell_that_cannot_be_meant_is_named_with_its_line() {
        let head = StatementHead::of(FILE.replace("88,10", "many").as_bytes()).unwrap();
        assert_eq!(read(&head, &guess(&head)).unwrap_err().to_string(), "Line 4, Price: \"many\" is no amount.");
        assert!(StatementHead::of(b"one line without a table").is_err());
        assert!(StatementHead::of(b"a,b\0,c\n1,2,3").is_err());
    }

    /// Without a column of words the units and the sign of the cash decide.
    #[test]
    fn signs_decide_where_there_are_no_words() {
        let head = StatementHead::of(
            b"date,symbol,quantity,amount\n2025-01-02,,,500\n2025-01-03,AB,10,-100\n2025-01-04,AB,-4,48\n2025-01-05,,,-20",
        )
        .unwrap();
        let kinds: Vec<_> = read(&head, &guess(&head)).unwrap().rows.iter().map(|r| r.kind.code()).collect();
        assert_eq!(kinds, ["deposit", "buy", "sell", "withdrawal"]);
    }
}
