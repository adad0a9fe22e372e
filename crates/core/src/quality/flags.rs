//! Red flags: what could be wrong, each a condition with the figures that show it.

use super::components::Suits;
use crate::{
    Num, Why,
    domain::Period,
    formula::{Answers, Compiled},
    measures::compile_own,
    panel::CompanyAt,
};
use std::sync::LazyLock;

/// How a flag is checked.
#[derive(Clone, Copy, Debug)]
pub enum Check {
    /// By a condition.
    Condition(&'static str),
    /// The net margin of the latest twelve months is above that of each of the five fiscal years before its own.
    Peak,
    /// Nothing has been filed for longer than the company's rhythm allows.
    OldFiling,
}

/// A red flag.
#[derive(Clone, Copy, Debug)]
#[allow(missing_docs)]
pub struct RedFlag {
    pub id: &'static str,
    /// What is wrong, as a sentence.
    pub says: &'static str,
    pub check: Check,
    /// The figures that show it: in words, and as formulas.
    pub figures: &'static [(&'static str, &'static str)],
    pub suits: Suits,
}

const fn flag(id: &'static str, says: &'static str, condition: &'static str, figures: &'static [(&'static str, &'static str)]) -> RedFlag {
    RedFlag { id, says, check: Check::Condition(condition), figures, suits: Suits::All }
}

const fn plain(flag: RedFlag) -> RedFlag {
    RedFlag { suits: Suits::Plain, ..flag }
}

/// Every flag.
pub const FLAGS: &[RedFlag] = &[
    flag("loss", "It lost money in its newest fiscal year.", "fy(net_income, 0) < 0", &[("net income of the year", "fy(net_income, 0)")]),
    flag(
        "eps_down_two_years",
        "Earnings per share have fallen two years in a row.",
        "fy(eps_diluted, 0) < fy(eps_diluted, 1) and fy(eps_diluted, 1) < fy(eps_diluted, 2)",
        &[
            ("earnings per share", "fy(eps_diluted, 0)"),
            ("a year before", "fy(eps_diluted, 1)"),
            ("two years before", "fy(eps_diluted, 2)"),
        ],
    ),
    plain(flag(
        "current_liabilities",
        "It owes more within a year than its current assets.",
        "current_assets < current_liabilities",
        &[("current assets", "current_assets"), ("current liabilities", "current_liabilities")],
    )),
    plain(flag("debt_to_equity", "Its debt is more than twice its equity.", "debt_to_equity > 2", &[("debt to equity", "debt_to_equity")])),
    flag(
        "negative_equity",
        "Its common equity is negative.",
        "equity - preferred_equity < 0",
        &[("common equity", "equity - preferred_equity")],
    ),
    flag(
        "fcf_negative",
        "Free cash flow was negative in two of three years.",
        "fy_count(free_cash_flow < 0, 3) >= 2",
        &[
            ("free cash flow of the year", "fy(free_cash_flow, 0)"),
            ("a year before", "fy(free_cash_flow, 1)"),
            ("two years before", "fy(free_cash_flow, 2)"),
        ],
    ),
    flag(
        "dividend_not_covered",
        "It pays more dividends than it has free cash.",
        "dividends_paid > 0 and dividends_paid > free_cash_flow",
        &[("dividends paid", "dividends_paid"), ("free cash flow", "free_cash_flow")],
    ),
    flag(
        "shares_issued",
        "The number of its shares grows by over 3 % a year.",
        "share_count_growth(3) > 0.03",
        &[("growth a year over three years", "share_count_growth(3)")],
    ),
    flag("goodwill", "Goodwill is over half of its equity.", "goodwill_to_equity > 0.5", &[("goodwill to equity", "goodwill_to_equity")]),
    flag(
        "distress",
        "Its accounts look like those of companies near distress.",
        "if(else(inventory, 0) >= 0.05 * total_assets, altman_z < 1.81, altman_z2 < 1.1)",
        &[("Altman's Z", "altman_z"), ("Altman's Z″", "altman_z2")],
    ),
    flag("beneish", "Its accounts look like those of companies that flattered them.", "beneish_m > -1.78", &[("Beneish's M", "beneish_m")]),
    flag(
        "receivables",
        "What customers owe grows over ten points faster than sales.",
        "fy(receivables, 0) ÷ fy(receivables, 1) - fy(revenue, 0) ÷ fy(revenue, 1) > 0.1",
        &[
            ("owed by customers", "fy(receivables, 0)"),
            ("a year before", "fy(receivables, 1)"),
            ("sales", "fy(revenue, 0)"),
            ("sales a year before", "fy(revenue, 1)"),
        ],
    ),
    flag(
        "one_off_gains",
        "One-off gains make its earnings look large.",
        "eps_diluted ÷ eps_adjusted > 1.5",
        &[("reported earnings per share", "eps_diluted"), ("adjusted ones", "eps_adjusted")],
    ),
    RedFlag {
        id: "earnings_at_peak",
        says: "Its margin is higher than in each of the five years before.",
        check: Check::Peak,
        figures: &[("net margin", "net_margin"), ("highest of five fiscal years", "fy_high(net_margin, 5)")],
        suits: Suits::All,
    },
    flag(
        "insider_selling",
        "Three or more insiders sold, and sales outweigh purchases, within three months.",
        "insider_sellers(3) >= 3 and insider_net_buying(3) < 0",
        &[("insiders who sold", "insider_sellers(3)"), ("net buying of insiders in three months", "insider_net_buying(3)")],
    ),
    flag(
        "pledged",
        "Over a quarter of the controlling stake is pledged.",
        "pledged_stake > 0.25",
        &[("share of the stake pledged", "pledged_stake")],
    ),
    RedFlag {
        id: "old_filing",
        says: "It has filed nothing for longer than its rhythm allows.",
        check: Check::OldFiling,
        figures: &[("days since the newest period ended", "fiscal_age"), ("days from its end to its filing", "filing_delay")],
        suits: Suits::All,
    },
    flag("short_record", "Fewer than five fiscal years are known.", "statement_years < 5", &[("fiscal years known", "statement_years")]),
];

/// Months of filings that show how often a company reports.
const RHYTHM_MONTHS: i32 = 24;

/// The margin of now, the highest of the five newest fiscal years, and of the five before the newest.
const MARGINS: [&str; 3] = [
    "net_margin",
    "fy_high(net_margin, 5)",
    "max(fy(net_margin, 1), fy(net_margin, 2), fy(net_margin, 3), fy(net_margin, 4), fy(net_margin, 5))",
];

fn compiled() -> &'static (Vec<Option<Compiled>>, Vec<Compiled>) {
    static COMPILED: LazyLock<(Vec<Option<Compiled>>, Vec<Compiled>)> = LazyLock::new(|| {
        let one = |f: &RedFlag| if let Check::Condition(text) = f.check { Some(compile_own(text)) } else { None };
        (FLAGS.iter().map(one).collect(), MARGINS.into_iter().map(compile_own).collect())
    });
    &COMPILED
}

/// The formulas of all flags.
pub(super) fn formulas() -> impl Iterator<Item = &'static Compiled> {
    let (conditions, margins) = compiled();
    conditions.iter().flatten().chain(margins)
}

/// For each row all flags; those that do not suit its kind are not checked. A filing is overdue after so many months, of
/// those who report by the quarter, by the half-year, by the year.
pub(super) fn check(sheet: &dyn Answers<'_>, quiet_months: [u32; 3]) -> Vec<Vec<Result<bool, Why>>> {
    let rows = sheet.rows();
    let (conditions, margins) = compiled();
    let mut out: Vec<Vec<Result<bool, Why>>> = rows.iter().map(|_| Vec::with_capacity(FLAGS.len())).collect();
    for (flag, condition) in FLAGS.iter().zip(conditions) {
        let answers = match (flag.check, condition) {
            (Check::Condition(_), Some(condition)) => sheet.flags(condition),
            (Check::Peak, _) => {
                let columns: Vec<Vec<Num>> = margins.iter().map(|f| sheet.numbers(f)).collect();
                (0..rows.len()).map(|i| at_peak(&rows[i], columns[0][i], columns[1][i], columns[2][i])).collect()
            }
            _ => rows.iter().map(|r| old_filing(r, quiet_months)).collect(),
        };
        for (i, answer) in answers.into_iter().enumerate() {
            out[i].push(if flag.suits.kind(rows[i].kind()) { answer } else { Err(Why::NotMeaningful) });
        }
    }
    out
}

/// The five years before its own are fy1–fy5 when the latest twelve months are fy0.
fn at_peak(c: &CompanyAt<'_>, now: Num, newest: Num, before: Num) -> Result<bool, Why> {
    let is_year = c.period_end(c.newest_period()?) == c.period_end(c.year0()?);
    Ok(now? > if is_year { before? } else { newest? })
}

fn old_filing(c: &CompanyAt<'_>, quiet_months: [u32; 3]) -> Result<bool, Why> {
    let since = c.t().plus_months(-RHYTHM_MONTHS);
    let newest_first = c.known_periods().rev().take_while(|p| c.period_end(*p) > since);
    let periods: Vec<Period> = newest_first.map(|p| c.label(p).1).collect();
    let any = |wanted: &[Period]| periods.iter().any(|p| wanted.contains(p));
    let rhythm = match () {
        () if any(&[Period::Q1, Period::Q2, Period::Q3, Period::Q4]) => 0,
        () if any(&[Period::H1, Period::H2]) => 1,
        () => 2,
    };
    let quiet = i32::try_from(quiet_months[rhythm]).unwrap_or(i32::MAX);
    Ok(c.newest_filing().ok_or(Why::HistoryTooShort)? < c.t().plus_months(-quiet))
}
