//! A person's own case of a company: the next years forecast low, likely and high, and what they would be worth.

use crate::{
    AppError, Ctx,
    documents::{
        kind::DocumentKind,
        of_company::{Kept, all_kept, keep, kept},
    },
    figures::figure::{Figure, number},
};
use artemon_core::{
    Num, Why,
    domain::{Day, Kind},
    engine::Context,
    forecast::{self, ForecastIncome, ForecastStart, ForecastTerms, ForecastYear, MOST_YEARS},
    limits::{self, TEXT},
    panel::CompanyAt,
    stats,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Exit multiples that can be meant.
const MULTIPLES: std::ops::RangeInclusive<f64> = 1.0..=100.0;
/// Fiscal years whose habits are shown.
const HABIT_YEARS: u32 = 5;
/// Years of a case that nobody has written.
const USUAL_YEARS: usize = 5;

/// One course of the next years.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Case {
    /// Year by year, 10 at most.
    pub years: Vec<ForecastYear>,
    /// The multiple of earnings at which it could be sold in the last year.
    pub exit_multiple: f64,
    /// Why, in the person's words.
    #[serde(default)]
    pub why: String,
}

/// The three courses that are kept together.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
#[allow(missing_docs)]
pub struct Cases {
    /// The day from whose figures they start; today when absent.
    #[schema(value_type = Option<String>)]
    pub made_on: Option<Day>,
    pub low: Option<Case>,
    pub likely: Option<Case>,
    pub high: Option<Case>,
}

impl Case {
    fn check(&self) -> Result<(), AppError> {
        let refused = |problem: String| Err(AppError::Unusable { what: "The case".to_owned(), problem });
        if self.years.is_empty() || self.years.len() > MOST_YEARS {
            return refused(format!("it has {} years; between 1 and {MOST_YEARS} are forecast", self.years.len()));
        }
        if !MULTIPLES.contains(&self.exit_multiple) {
            return refused(format!("an exit multiple lies between {} and {}", MULTIPLES.start(), MULTIPLES.end()));
        }
        limits::fits(&self.why, TEXT).or_else(|problem| refused(format!("the reason is too long: {problem}")))?;
        self.years.iter().try_for_each(ForecastYear::check).or_else(refused)
    }
}

impl Cases {
    fn all(&self) -> impl Iterator<Item = &Case> {
        [&self.low, &self.likely, &self.high].into_iter().flatten()
    }

    pub(crate) fn check(&self) -> Result<(), AppError> {
        self.all().try_for_each(Case::check)
    }
}

/// The cases of a company worked out.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CasesAnswer {
    /// The day from whose figures the cases start.
    #[schema(value_type = String)]
    pub made_on: Day,
    /// The fiscal year before the first that is forecast.
    pub after_year: Option<i32>,
    /// How many of the forecast years are reported by now.
    pub passed: usize,
    /// Why nothing can be forecast.
    pub reason: Option<String>,
    /// What the last five years did, in the order of the fields of a year, the exit multiple last.
    pub habits: Vec<Habit>,
    /// Earnings a share of the last fiscal years in the listing's currency, oldest first.
    pub past: Vec<PastYear>,
    pub low: Option<CaseAnswer>,
    pub likely: Option<CaseAnswer>,
    pub high: Option<CaseAnswer>,
}

/// What a figure did in the last five years.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Habit {
    pub low: Option<f64>,
    pub median: Option<f64>,
    pub high: Option<f64>,
}

/// A fiscal year that is over.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PastYear {
    pub fiscal_year: i32,
    pub eps: f64,
}

/// A case worked out; amounts of the company in the base currency, those a share in the listing's.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CaseAnswer {
    pub case: Case,
    pub years: Vec<CaseYear>,
    /// Dividends and a sale at the exit multiple, discounted.
    pub worth_by_earnings: Figure,
    /// Free cash flow and what follows it, discounted.
    pub worth_by_cash: Figure,
    /// The mean of what is defined of both.
    pub worth: Figure,
    /// The price over what would be earned in the third and in the fifth year from now.
    pub price_to_third: Figure,
    pub price_to_fifth: Figure,
}

/// A forecast year, and what came of it.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CaseYear {
    pub fiscal_year: i32,
    #[serde(flatten)]
    pub income: ForecastIncome,
    /// What was reported since, once it is.
    pub reported_revenue: Option<f64>,
    pub reported_eps: Option<f64>,
}

/// The cases that the person keeps of a company.
///
/// # Errors
/// An unknown company.
pub fn own_cases(ctx: &Ctx, symbol: &str) -> Result<Kept<Cases>, AppError> {
    kept(ctx, DocumentKind::Case, &ctx.company(symbol, ctx.date(None)?)?)
}

/// Keeps the cases of a company, if they were not changed elsewhere since the version that the change was made to.
///
/// # Errors
/// An unknown company, a case that cannot be meant, a change made elsewhere.
pub fn save_cases(ctx: &Ctx, symbol: &str, made_to: i32, cases: Cases) -> Result<(), AppError> {
    keep(ctx, DocumentKind::Case, &ctx.company(symbol, ctx.date(None)?)?, made_to, cases)
}

/// How the cases that the person keeps came out.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
pub struct CasesRecord {
    /// Companies of which a forecast year is reported.
    pub companies: usize,
    /// Such years.
    pub years: usize,
    /// The mean of |forecast earnings − reported| ÷ |reported| of the likely case; absent without any.
    pub mean_error: Option<f64>,
}

/// How far the likely cases of all companies were off so far.
///
/// # Errors
/// When they cannot be read.
pub fn cases_record(ctx: &Ctx) -> Result<CasesRecord, AppError> {
    let (mut companies, mut errors) = (0, Vec::new());
    for (symbol, cases) in all_kept::<Cases>(ctx, DocumentKind::Case)? {
        let Some(likely) = work_out(ctx, &symbol, cases, None)?.likely else { continue };
        let off = |y: &CaseYear| y.reported_eps.filter(|r| *r != 0.0).map(|r| (y.income.eps - r).abs() / r.abs());
        let of_company: Vec<f64> = likely.years.iter().filter_map(off).collect();
        companies += usize::from(!of_company.is_empty());
        errors.extend(of_company);
    }
    Ok(CasesRecord { companies, years: errors.len(), mean_error: stats::mean(&errors) })
}

/// Works out cases of a company at a date; those that are absent are filled with what the last years did. Nothing is kept.
///
/// # Errors
/// An unknown company, a date outside the data, a case that cannot be meant.
pub fn work_out(ctx: &Ctx, symbol: &str, cases: Cases, as_of: Option<Day>) -> Result<CasesAnswer, AppError> {
    cases.check()?;
    let t = ctx.date(as_of)?;
    let made_on = cases.made_on.map_or(Ok(t), |day| ctx.date(Some(day)))?.min(t);
    let (then, now) = (ctx.company(symbol, made_on)?, ctx.company(symbol, t)?);
    let context = &ctx.engine;
    let habits = habits(context, &then);
    let ground = Ground::of(context, &then, &now);
    let year = |c: &CompanyAt<'_>| c.year0().ok().map(|p| c.label(p).0);
    let after_year = year(&then);
    let passed = after_year.zip(year(&now)).and_then(|(then, now)| usize::try_from(now - then).ok()).unwrap_or_default();
    let answer = |case: Option<Case>, lean: Lean| {
        let (ground, after) = (ground.as_ref().ok()?, after_year?);
        let case = case.or_else(|| usual(&habits, lean))?;
        Some(worked_out(context, &now, ground, (after, passed), case))
    };
    Ok(CasesAnswer {
        made_on,
        after_year,
        passed,
        reason: ground.as_ref().err().map(Why::to_string),
        past: past(context, &now),
        low: answer(cases.low, Lean::Low),
        likely: answer(cases.likely, Lean::Likely),
        high: answer(cases.high, Lean::High),
        habits,
    })
}

/// From what cases start, and how they are valued.
struct Ground {
    start: ForecastStart,
    payout: f64,
    required_return: Num,
    terminal_growth: f64,
    price: Num,
}

impl Ground {
    /// The figures of the day on which the case was made, on the split basis of today; valued at today's rates and price.
    fn of(context: &Context, c: &CompanyAt<'_>, now: &CompanyAt<'_>) -> Result<Ground, Why> {
        // The income of these does not follow from revenue and operating margin.
        if matches!(c.kind(), Kind::Bank | Kind::Insurer | Kind::Fund | Kind::Holding) {
            return Err(Why::NotMeaningful);
        }
        let revenue = number(context, c, "revenue")?;
        let shares = number(context, c, "else(shares_diluted, shares_outstanding)")?;
        if revenue <= 0.0 || shares <= 0.0 {
            return Err(Why::NotPositive);
        }
        let a_share = c.shares_per_unit() / shares / c.listing_to_base()? / now.splits_since(c.t());
        let value = context.value_company(now.t(), now.index);
        let required_return = value.assumptions.required_return(&value.inputs);
        let gap = value.assumptions.terminal_gap;
        Ok(Ground {
            start: ForecastStart { revenue, interest: number(context, c, "interest_expense").unwrap_or(0.0), a_share },
            payout: value.inputs.payout(),
            terminal_growth: required_return.map_or(0.0, |r| value.assumptions.terminal_growth.min(r - gap)),
            required_return,
            price: now.price(),
        })
    }
}

fn worked_out(context: &Context, c: &CompanyAt<'_>, ground: &Ground, (after, passed): (i32, usize), case: Case) -> CaseAnswer {
    let incomes = forecast::incomes(&ground.start, &case.years);
    // What is over is worth nothing any more.
    let ahead = incomes.get(passed..).unwrap_or_default();
    let terms = ground.required_return.map(|required_return| ForecastTerms {
        exit_multiple: case.exit_multiple,
        payout: ground.payout,
        required_return,
        terminal_growth: ground.terminal_growth,
    });
    let by_earnings = terms.and_then(|terms| forecast::worth_by_earnings(ahead, &terms));
    let by_cash = terms.and_then(|terms| forecast::worth_by_cash(ahead, &terms));
    let known: Vec<f64> = [by_earnings, by_cash].into_iter().flatten().collect();
    let multiple = |year: usize| match ahead.get(year - 1) {
        Some(i) if i.eps > 0.0 => Ok(ground.price? / i.eps),
        Some(_) => Err(Why::NotPositive),
        None => Err(Why::HistoryTooShort),
    };
    let year = |(fiscal_year, income): (i32, &ForecastIncome)| {
        let reported = |formula: &str| reported(context, c, fiscal_year, formula);
        CaseYear { fiscal_year, income: *income, reported_revenue: reported("revenue"), reported_eps: reported("eps") }
    };
    CaseAnswer {
        years: (after + 1..).zip(&incomes).map(year).collect(),
        worth_by_earnings: by_earnings.into(),
        worth_by_cash: by_cash.into(),
        worth: stats::mean(&known).ok_or(Why::NotPositive).into(),
        price_to_third: multiple(3).into(),
        price_to_fifth: multiple(5).into(),
        case,
    }
}

/// A figure of a fiscal year that is reported.
fn reported(context: &Context, c: &CompanyAt<'_>, fiscal_year: i32, formula: &str) -> Option<f64> {
    let back = u32::try_from(c.label(c.year0().ok()?).0 - fiscal_year).ok()?;
    number(context, c, &format!("fy({formula}, {back})")).ok()
}

fn past(context: &Context, c: &CompanyAt<'_>) -> Vec<PastYear> {
    let Ok(year0) = c.year0() else { return Vec::new() };
    let label = c.label(year0).0;
    let year = |k: u32| {
        let eps = number(context, c, &format!("fy(eps, {k})")).ok()?;
        Some(PastYear { fiscal_year: label - k.cast_signed(), eps })
    };
    (0..10).rev().filter_map(year).collect()
}

/// The fields of a forecast year as formulas of the fiscal year that many years back.
const HABITS: [fn(u32) -> String; 5] = [
    |k| format!("fy(revenue, {k}) ÷ fy(revenue, {}) - 1", k + 1),
    |k| format!("fy(operating_margin, {k})"),
    |k| format!("fy(effective_tax, {k})"),
    |k| format!("fy(capital_expenditure - depreciation_amortization, {k}) ÷ abs(fy(revenue, {k}) - fy(revenue, {}))", k + 1),
    |k| format!("fy(shares_diluted, {k}) ÷ fy(shares_diluted, {}) - 1", k + 1),
];

fn habits(context: &Context, c: &CompanyAt<'_>) -> Vec<Habit> {
    let of_years = |formula: &fn(u32) -> String| {
        let values: Vec<f64> = (0..HABIT_YEARS).filter_map(|k| number(context, c, &formula(k)).ok()).filter(|v| v.is_finite()).collect();
        let at = |p| stats::percentile(&values, p);
        Habit { low: at(0.0), median: at(0.5), high: at(1.0) }
    };
    let own = |formula: &str| number(context, c, formula).ok();
    let multiple = Habit { low: own("own_low(pe, 5y)"), median: own("own_median(pe, 5y)"), high: own("own_high(pe, 5y)") };
    HABITS.iter().map(of_years).chain([multiple]).collect()
}

/// To which side a case leans that nobody has written.
#[derive(Clone, Copy)]
enum Lean {
    Low,
    Likely,
    High,
}

/// A case of what the last years did: the median of each field, for growth, margin and multiple half way to the worst or the best
/// year.
fn usual(habits: &[Habit], lean: Lean) -> Option<Case> {
    let [growth, margin, tax, reinvestment, shares, multiple] = habits else { return None };
    let leaning = |h: &Habit| {
        let median = h.median?;
        let end = match lean {
            Lean::Low => h.low,
            Lean::Likely => h.median,
            Lean::High => h.high,
        };
        Some(f64::midpoint(median, end.unwrap_or(median)))
    };
    let held = |x: Option<f64>, low: f64, high: f64, otherwise: f64| rounded(x.unwrap_or(otherwise).clamp(low, high));
    let year = ForecastYear {
        revenue_growth: held(leaning(growth), -0.5, 0.5, 0.0),
        operating_margin: held(leaning(margin), -1.0, 0.9, 0.0),
        tax_rate: held(tax.median, 0.0, 0.6, 0.25),
        reinvestment: held(reinvestment.median, -2.0, 2.0, 0.2),
        share_change: held(shares.median, -0.2, 0.2, 0.0),
    };
    let exit_multiple = (held(leaning(multiple), 5.0, 40.0, 15.0) * 10.0).round() / 10.0;
    Some(Case { years: vec![year; USUAL_YEARS], exit_multiple, why: String::new() })
}

/// To a tenth of a percent.
fn rounded(x: f64) -> f64 {
    (x * 1000.0).round() / 1000.0
}
