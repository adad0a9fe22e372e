//! How price, value, index and sector moved from one day to another.

use crate::{AppError, Ctx};
use artemon_core::{
    Num,
    domain::Day,
    price,
    wording::figures::{date, percent},
};
use serde::Serialize;
use utoipa::ToSchema;

/// Changes as fractions from one day to another, each from what was known on its day.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Stretch {
    #[schema(value_type = String)]
    pub from: Day,
    #[schema(value_type = String)]
    pub to: Day,
    pub price: Option<f64>,
    pub value: Option<f64>,
    /// Of the index of which it is a member, in the listing's currency.
    pub index: Option<f64>,
    /// The median company of its sector.
    pub sector: Option<f64>,
    /// All of it in a sentence.
    pub sentence: String,
}

/// What moved between two days, in either order; the later may not be after the date.
///
/// # Errors
/// An unknown company, a date or day outside the data, one day twice.
pub fn stretch(ctx: &Ctx, symbol: &str, (from, to): (Day, Day), as_of: Option<Day>) -> Result<Stretch, AppError> {
    let t = ctx.date(as_of)?;
    let (from, to) = (ctx.date(Some(from.min(to)))?, ctx.date(Some(from.max(to)))?.min(t));
    if from >= to {
        return Err(AppError::Unusable { what: format!("The stretch from {from}"), problem: "it ends where it begins".to_owned() });
    }
    let (before, after) = (ctx.company(symbol, from)?, ctx.company(symbol, to)?);
    let value = |day: Day, splits: f64| ctx.engine.value_company(day, after.index).valuation.value.map(|v| v / splits);
    let change = |then: Num, now: Num| Some(now.ok()? / then.ok().filter(|v| *v > 0.0)? - 1.0);
    let index = after.first_index();
    let level = |day: Day| after.index_level(index?, day).ok();
    let company = after.company();
    let mut out = Stretch {
        from,
        to,
        price: price::price_return(&before, to).ok(),
        value: change(value(from, after.splits_since(from)), value(to, 1.0)),
        index: level(from).zip(level(to)).filter(|l| l.0 > 0.0).map(|(then, now)| now / then - 1.0),
        sector: price::sector_return(ctx.engine.as_of(t), &company.sector, from, to),
        sentence: String::new(),
    };
    let index_name = index.and_then(|id| ctx.snapshot().indexes().find(|i| i.0 == id)).map(|i| i.1);
    out.sentence = sentence(&out, index_name, &company.sector);
    Ok(out)
}

fn sentence(s: &Stretch, index: Option<&str>, sector: &str) -> String {
    let of = |what: String, change: Option<f64>| change.map(|x| format!("{what} {}", moved(x)));
    let parts: Vec<String> = [
        of("the price".to_owned(), s.price),
        of("its value".to_owned(), s.value),
        of(index.unwrap_or_default().to_owned(), s.index.filter(|_| index.is_some())),
        of(format!("the median company of {}", sector.to_lowercase()), s.sector),
    ]
    .into_iter()
    .flatten()
    .collect();
    let what = match &parts[..] {
        [] => "nothing is known that could be compared".to_owned(),
        [one] => one.clone(),
        [first @ .., last] => format!("{} and {last}", first.join(", ")),
    };
    format!("From {} to {} {what}.", date(s.from), date(s.to))
}

/// "rose 4.1 %", "fell 18 %", "stayed".
fn moved(x: f64) -> String {
    match x {
        x if x >= 0.0005 => format!("rose {}", percent(x)),
        x if x <= -0.0005 => format!("fell {}", percent(-x)),
        _ => "stayed".to_owned(),
    }
}
