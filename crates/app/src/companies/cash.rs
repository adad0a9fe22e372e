//! Where the cash of each year came from and went: sources above, uses below, and what was kept.

use super::statements::{At, StatementTable, table};
use crate::{AppError, Ctx};
use artemon_core::domain::Day;

/// Fiscal years shown.
const YEARS: u32 = 12;

/// What came in is positive, what went out negative, and they add up to what was kept.
const LINES: [(&str, &str, &str); 6] = [
    ("operations", "Operating cash flow", "operating_cash_flow"),
    ("investment", "Investment and acquisitions", "0 - capital_expenditure - else(acquisitions, 0)"),
    ("dividends", "Dividends", "0 - else(dividends_paid, 0)"),
    ("buybacks", "Shares bought back, less issued", "else(shares_issued, 0) - else(shares_repurchased, 0)"),
    ("debt", "Debt issued, less repaid", "else(debt_issued, 0) - else(debt_repaid, 0)"),
    (
        "kept",
        "Kept",
        "operating_cash_flow - capital_expenditure - else(acquisitions, 0) - else(dividends_paid, 0) + else(shares_issued, 0) \
            - else(shares_repurchased, 0) + else(debt_issued, 0) - else(debt_repaid, 0)",
    ),
];

/// The cash of the last fiscal years, the newest first: operating cash flow, investment, dividends, net buybacks, change in debt, and
/// what was kept.
///
/// # Errors
/// An unknown company, a date outside the data.
pub fn cash_picture(ctx: &Ctx, symbol: &str, as_of: Option<Day>) -> Result<StatementTable, AppError> {
    let c = ctx.company(symbol, ctx.date(as_of)?)?;
    let years: Vec<At> = (0..YEARS).map(At::Year).take_while(|at| at.period(&c).is_some()).collect();
    let line = |(id, label, formula): (&'static str, &'static str, &'static str)| {
        (id, label.to_owned(), id == "kept", years.iter().map(|at| at.of(formula)).collect())
    };
    Ok(table(&ctx.engine, &c, &years, LINES.into_iter().map(line)))
}
