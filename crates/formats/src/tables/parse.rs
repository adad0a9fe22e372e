//! Rows of cells → records of the dataset, with the checks that one row alone allows.

use super::{
    columns::STATEMENT_KEY_COUNT,
    fields::{CellError, Fields},
};
use artemon_core::domain::{
    Action, ActionKind, Annotation, Bar, Company, Estimate, Event, FxRate, Index, IndexLevel, IndexMember, InsiderTrade, Item, Items,
    Listing, Metric, News, Officer, Ownership, Rate, Record, Statement, Table, is_isin,
};
use std::sync::Arc;

type Parsed = Result<Record, CellError>;

/// Parses one row of a table. `symbol` shares the text of equal symbols.
pub(crate) fn parse(table: Table, f: &Fields<'_>, symbol: &mut Arc<str>) -> Parsed {
    match table {
        Table::Companies => company(f),
        Table::Listings => listing(f),
        Table::Statements => statement(f),
        Table::Prices => price(f, symbol),
        Table::Actions => action(f),
        Table::Estimates => estimate(f),
        Table::InsiderTrades => trade(f),
        Table::Ownership => ownership(f),
        Table::Rates => rate(f),
        Table::Fx => fx(f),
        Table::Officers => officer(f),
        Table::Events => event(f),
        Table::News => news(f),
        Table::Indexes => index(f),
        Table::IndexMembers => member(f),
        Table::IndexLevels => level(f),
        Table::Annotations => annotation(f),
    }
}

fn company(f: &Fields<'_>) -> Parsed {
    let month = f.optional_whole(6)?;
    let country = f.text(2)?;
    if !(country.is_empty() || country.len() == 2 && country.bytes().all(|b| b.is_ascii_uppercase())) {
        return Err(f.bad(2, "a country code of two capital letters", "Use the code of ISO 3166-1, or leave it empty."));
    }
    let fiscal_year_end_month = match month.map(u8::try_from) {
        None => None,
        Some(Ok(month @ 1..=12)) => Some(month),
        Some(_) => return Err(f.bad(6, "a month from 1 to 12", "Write the month as a number, or leave it empty.")),
    };
    Ok(Record::Company(Company {
        id: f.shared(0)?,
        name: f.key(1)?.to_owned(),
        country,
        sector: f.text(3)?,
        industry: f.text(4)?,
        currency: f.code(5)?,
        fiscal_year_end_month,
        kind: f.code(7)?,
        description: f.text(8)?,
        employees: f.optional_number(9)?,
        founded: f.optional_whole(10)?,
        lei: f.text(11)?,
    }))
}

fn listing(f: &Fields<'_>) -> Parsed {
    let isin = f.text(3)?;
    if !isin.is_empty() && !is_isin(&isin) {
        return Err(f.bad(3, "an ISIN with its check digit", "Check for a mistyped digit, or leave it empty."));
    }
    let (listed_on, delisted_on) = (f.optional_day(7)?, f.optional_day(8)?);
    if delisted_on.is_some_and(|end| listed_on.is_some_and(|start| end < start)) {
        return Err(f.bad(8, "a date on or after listed_on", "Check which of the two dates is right."));
    }
    let shares_per_unit = f.optional_number(5)?.unwrap_or(1.0);
    if shares_per_unit <= 0.0 {
        return Err(f.bad(5, "a number above 0", "Write how many ordinary shares one traded unit stands for."));
    }
    Ok(Record::Listing(Listing {
        symbol: f.shared(0)?,
        company_id: f.shared(1)?,
        mic: f.text(2)?,
        isin,
        currency: f.code(4)?,
        shares_per_unit,
        primary: f.flag(6, true)?,
        listed_on,
        delisted_on,
        delisting_return: f.optional_number(9)?,
    }))
}

fn statement(f: &Fields<'_>) -> Parsed {
    let (period_end, filed_on) = (f.day(3)?, f.day(4)?);
    if filed_on < period_end {
        return Err(f.bad(4, "a date on or after period_end", "A period cannot be reported before it ends; check both dates."));
    }
    let mut items = Items::default();
    for (i, &item) in Item::ALL.iter().enumerate() {
        items.set(item, f.optional_number(STATEMENT_KEY_COUNT + i)?);
    }
    Ok(Record::Statement(Box::new(Statement {
        company_id: f.shared(0)?,
        fiscal_year: f.whole(1)?,
        period: f.code(2)?,
        period_end,
        filed_on,
        currency: f.code(5)?,
        source: f.text(6)?,
        items,
    })))
}

fn price(f: &Fields<'_>, symbol: &mut Arc<str>) -> Parsed {
    let key = f.key(0)?;
    if **symbol != *key {
        *symbol = key.into();
    }
    let maybe = |column| f.optional_number(column).map(|n| n.unwrap_or(f64::NAN));
    let bar = Bar { date: f.day(1)?, open: maybe(2)?, high: maybe(3)?, low: maybe(4)?, close: f.number(5)?, volume: maybe(6)? };
    if let Some((column, expected, remedy)) = bar_problem(&bar) {
        return Err(f.bad(column, expected, remedy));
    }
    Ok(Record::Price { symbol: symbol.clone(), bar: bar.traded() })
}

/// What keeps a bar from being taken: the column, what was expected, what to do. A price that is not known is between any others.
pub(crate) fn bar_problem(bar: &Bar) -> Option<(usize, &'static str, &'static str)> {
    const WHICH: &str = "Check which of the day's prices is wrong.";
    let bar = bar.traded();
    let prices = [(4, bar.low), (5, bar.close), (2, bar.open), (3, bar.high)];
    if let Some((column, _)) = prices.iter().find(|(_, price)| price.is_infinite()) {
        return Some((*column, "a number", "Correct the number, or leave it empty."));
    }
    if let Some((column, _)) = prices.iter().find(|(_, price)| *price <= 0.0) {
        return Some((*column, "a price above 0", "Check the price; leave the whole row out when nothing was traded."));
    }
    if let Some((column, _)) = [(2, bar.open), (5, bar.close)].iter().find(|(_, price)| *price < bar.low || *price > bar.high) {
        return Some((*column, "between low and high", WHICH));
    }
    if bar.low > bar.high {
        return Some((4, "a low up to the high", WHICH));
    }
    (bar.volume < 0.0 || bar.volume.is_infinite()).then_some((6, "a volume of 0 or more", "Check the sign."))
}

fn action(f: &Fields<'_>) -> Parsed {
    let kind = f.code(2)?;
    let (ratio, amount) = (f.optional_number(3)?, f.optional_number(4)?);
    match kind {
        ActionKind::Split if ratio.is_none_or(|r| r <= 0.0) => {
            return Err(f.bad(3, "a split's ratio above 0", "Write how many new shares come for one old, such as 2 or 0.1."));
        }
        ActionKind::Dividend | ActionKind::SpecialDividend if amount.is_none_or(|a| a < 0.0) => {
            return Err(f.bad(4, "a dividend of 0 or more", "Write the amount a share."));
        }
        _ => {}
    }
    Ok(Record::Action(Action {
        symbol: f.shared(0)?,
        ex_date: f.day(1)?,
        kind,
        ratio,
        amount,
        declared_on: f.optional_day(5)?,
        record_date: f.optional_day(6)?,
        pay_date: f.optional_day(7)?,
    }))
}

fn estimate(f: &Fields<'_>) -> Parsed {
    let metric: Metric = f.code(2)?;
    let fiscal_year = f.optional_whole(3)?;
    if matches!(metric, Metric::Eps | Metric::Revenue | Metric::Ebit) && fiscal_year.is_none() {
        return Err(f.bad(3, "a fiscal year", "Write the year that the estimate is for."));
    }
    Ok(Record::Estimate(Estimate {
        company_id: f.shared(0)?,
        published_on: f.day(1)?,
        metric,
        fiscal_year,
        period: f.optional_code(4)?,
        mean: f.number(5)?,
        low: f.optional_number(6)?,
        high: f.optional_number(7)?,
        analysts: f.optional_number(8)?,
    }))
}

fn trade(f: &Fields<'_>) -> Parsed {
    let (filed_on, traded_on) = (f.day(2)?, f.day(3)?);
    if filed_on < traded_on {
        return Err(f.bad(2, "a date on or after traded_on", "A trade cannot be filed before it was made; check both dates."));
    }
    let superseded_on = f.optional_day(15)?;
    if superseded_on.is_some_and(|day| day < filed_on) {
        return Err(f.bad(15, "a date on or after filed_on", "A trade cannot be superseded before it was filed; check both dates."));
    }
    let price = f.optional_number(10)?;
    if price.is_some_and(|price| price < 0.0) {
        return Err(f.bad(10, "a price of 0 or more", "Leave it empty where it is not known."));
    }
    Ok(Record::InsiderTrade(Box::new(InsiderTrade {
        company_id: f.shared(0)?,
        filing_id: f.text(1)?,
        filed_on,
        traded_on,
        insider_id: f.shared(4)?,
        insider_name: f.text(5)?.into(),
        role: f.optional_code(6)?,
        code: f.shared(7)?,
        acquired: f.flag(8, true)?,
        shares: f.number(9)?,
        price,
        currency: f.code(11)?,
        shares_after: f.optional_number(12)?,
        direct: f.flag(13, true)?,
        planned: f.flag(14, false)?,
        superseded_on,
    })))
}

fn ownership(f: &Fields<'_>) -> Parsed {
    let fraction = |column| match f.optional_number(column)? {
        Some(v) if !(0.0..=1.0).contains(&v) => Err(f.bad(column, "a fraction from 0 to 1", "Write 12.5 % as 0.125.")),
        v => Ok(v),
    };
    Ok(Record::Ownership(Ownership {
        company_id: f.shared(0)?,
        as_of: f.day(1)?,
        filed_on: f.day(2)?,
        insiders: fraction(3)?,
        controlling: fraction(4)?,
        institutions: fraction(5)?,
        pledged: fraction(6)?,
    }))
}

fn rate(f: &Fields<'_>) -> Parsed {
    Ok(Record::Rate(Rate { date: f.day(0)?, currency: f.code(1)?, series: f.code(2)?, value: f.number(3)? }))
}

fn fx(f: &Fields<'_>) -> Parsed {
    let rate = f.number(3)?;
    if rate <= 0.0 {
        return Err(f.bad(3, "a rate above 0", "Write how many units of the quote currency one of the base currency buys."));
    }
    Ok(Record::Fx(FxRate { date: f.day(0)?, base: f.code(1)?, quote: f.code(2)?, rate }))
}

fn officer(f: &Fields<'_>) -> Parsed {
    let (since, until) = (f.optional_day(3)?, f.optional_day(4)?);
    if until.is_some_and(|end| since.is_some_and(|start| end < start)) {
        return Err(f.bad(4, "a date on or after since", "Check which of the two dates is right."));
    }
    Ok(Record::Officer(Officer {
        company_id: f.shared(0)?,
        name: f.key(1)?.to_owned(),
        role: f.key(2)?.to_owned(),
        since,
        until,
        birth_year: f.optional_whole(5)?,
    }))
}

fn event(f: &Fields<'_>) -> Parsed {
    let (date, announced_on) = (f.day(1)?, f.optional_day(4)?);
    if announced_on.is_some_and(|known| known > date) {
        return Err(f.bad(4, "a date on or before date", "Check which of the two dates is right."));
    }
    Ok(Record::Event(Event { company_id: f.shared(0)?, date, kind: f.code(2)?, confirmed: f.flag(3, false)?, announced_on }))
}

fn news(f: &Fields<'_>) -> Parsed {
    let company = f.text(0)?;
    Ok(Record::News(Box::new(News {
        company_id: (!company.is_empty()).then(|| company.into()),
        published_at: f.moment(1)?,
        headline: f.key(2)?.to_owned(),
        summary: f.text(3)?,
        source: f.text(4)?,
    })))
}

fn index(f: &Fields<'_>) -> Parsed {
    Ok(Record::Index(Index { id: f.shared(0)?, name: f.key(1)?.to_owned(), currency: f.code(2)? }))
}

fn member(f: &Fields<'_>) -> Parsed {
    let (from, to) = (f.day(2)?, f.optional_day(3)?);
    if to.is_some_and(|to| to < from) {
        return Err(f.bad(3, "a date on or after from", "Check which of the two dates is right."));
    }
    Ok(Record::IndexMember(IndexMember { index_id: f.shared(0)?, company_id: f.shared(1)?, from, to }))
}

fn level(f: &Fields<'_>) -> Parsed {
    let level = f.number(2)?;
    if level <= 0.0 {
        return Err(f.bad(2, "a level above 0", "Check the level; leave the row out when it is not known."));
    }
    Ok(Record::IndexLevel(IndexLevel { index_id: f.shared(0)?, date: f.day(1)?, level }))
}

fn annotation(f: &Fields<'_>) -> Parsed {
    Ok(Record::Annotation(Box::new(Annotation {
        company_id: f.shared(0)?,
        kind: f.code(1)?,
        name: f.text(2)?,
        value: f.text(3)?,
        noted_on: f.optional_day(4)?,
    })))
}
