//! The starting figures of a valuation, each a formula that can be opened.

use super::{Assumptions, EarningsBase};
use crate::{
    Num, Why,
    domain::{Currency, Kind, RateSeries},
    estimates,
    formula::{Answers, Compiled},
    measures::compile_own,
    panel::CompanyAt,
    price,
};
use std::sync::LazyLock;

/// The starting figures of one company; amounts a traded unit in the listing's currency.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Inputs {
    pub kind: Kind,
    pub currency: Currency,
    pub price: Num,
    /// E0, by the set's choice.
    pub earnings: Num,
    /// F0: mean free cash flow of three fiscal years.
    pub cash_flow: Num,
    /// B0: common equity.
    pub book: Num,
    /// D0: regular dividends of about a year.
    pub dividend: Num,
    /// What counts as paid out: D0, or with net buying back of shares.
    pub paid: Num,
    /// 1 when each of the last five fiscal years had a regular dividend; undefined otherwise.
    pub dividend_each_year: Num,
    /// X before clamping: the median P/E of the own ten years.
    pub own_pe: Num,
    pub own_ps: Num,
    pub own_pb: Num,
    pub own_ev_ebit: Num,
    pub own_pffo: Num,
    /// Median return on equity of five fiscal years.
    pub roe: Num,
    pub past_growth: Num,
    pub analysts_growth: Num,
    pub inflation: Num,
    pub aaa_yield: Num,
    pub government_yield: Num,
    pub tax: Num,
    /// Operating income of the latest twelve months, a diluted unit.
    pub operating_income: Num,
    /// Mean of depreciation less capital expenditure over three fiscal years, a diluted unit.
    pub reinvestment: Num,
    /// Revenue of the latest twelve months, a diluted unit.
    pub revenue: Num,
    /// Mean operating margin of some fiscal years (five in the shipped set).
    pub mean_margin: Num,
    /// Debt, preferred and minority capital, less cash and short-term investments, a diluted unit.
    pub net_claims: Num,
    /// Debt a unit outstanding.
    pub debt_outstanding: Num,
    /// Interest on debt, as a fraction.
    pub interest_rate: Num,
    /// Funds from operations, a diluted unit.
    pub ffo: Num,
    /// Revenue, book, EBIT and net claims a unit outstanding.
    pub revenue_outstanding: Num,
    pub book_outstanding: Num,
    pub ebit_outstanding: Num,
    pub net_claims_outstanding: Num,
}

/// A figure behind [`Inputs`] that is the same under every set; amounts in the reporting currency.
#[derive(Clone, Copy, Debug)]
enum Figure {
    Shares,
    DilutedShares,
    Book,
    OwnPe,
    OwnPs,
    OwnPb,
    OwnEvEbit,
    OwnPffo,
    Roe,
    PastGrowth,
    Tax,
    OperatingIncome,
    Reinvestment,
    Revenue,
    NetClaims,
    Debt,
    InterestRate,
    Ffo,
    LeastDividend,
}

impl Figure {
    const ALL: [Figure; 19] = [
        Figure::Shares,
        Figure::DilutedShares,
        Figure::Book,
        Figure::OwnPe,
        Figure::OwnPs,
        Figure::OwnPb,
        Figure::OwnEvEbit,
        Figure::OwnPffo,
        Figure::Roe,
        Figure::PastGrowth,
        Figure::Tax,
        Figure::OperatingIncome,
        Figure::Reinvestment,
        Figure::Revenue,
        Figure::NetClaims,
        Figure::Debt,
        Figure::InterestRate,
        Figure::Ffo,
        Figure::LeastDividend,
    ];

    const fn formula(self) -> &'static str {
        match self {
            Figure::Shares => "shares_outstanding",
            Figure::DilutedShares => "else(shares_diluted, shares_outstanding)",
            Figure::Book => "equity - preferred_equity",
            Figure::OwnPe => "own_median(pe, 10y)",
            Figure::OwnPs => "own_median(ps, 10y)",
            Figure::OwnPb => "own_median(pb, 10y)",
            Figure::OwnEvEbit => "own_median(ev_ebit, 10y)",
            Figure::OwnPffo => "own_median(pffo, 10y)",
            Figure::Roe => "fy_median(roe, 5)",
            Figure::PastGrowth => "else(eps_trend(5), else(eps_growth(5), eps_growth(3)))",
            Figure::Tax => "else(effective_tax, assumed_tax)",
            Figure::OperatingIncome => "operating_income",
            Figure::Reinvestment => "fy_average(depreciation_amortization - capital_expenditure, 3)",
            Figure::Revenue => "revenue",
            Figure::NetClaims => "short_term_debt + long_term_debt + preferred_equity + minority_interest - cash - short_term_investments",
            Figure::Debt => "short_term_debt + long_term_debt",
            Figure::InterestRate => "interest_expense ÷ (short_term_debt + long_term_debt)",
            Figure::Ffo => "funds_from_operations",
            Figure::LeastDividend => "fy_low(dividend_of_year, 5)",
        }
    }
}

/// Earnings of the start, by choice: the first three a unit, the last of the company.
const EARNINGS: [&str; 4] = ["eps", "fy_average(eps, 3)", "fy_average(eps, 5)", "fy_median(net_margin, 5) * revenue"];
/// Free cash flow of the start: all of it, or after pay in shares.
const CASH: [&str; 2] = [
    "fy_average(operating_cash_flow - capital_expenditure, 3)",
    "fy_average(operating_cash_flow - capital_expenditure - stock_compensation, 3)",
];
const BUYBACK: &str = "net_buyback";
/// The most fiscal years of which the operating margin may be averaged.
const MOST_MARGIN_YEARS: u32 = 10;

/// The compiled formulas of the start.
struct Starting {
    /// By [`Figure`].
    always: Vec<Compiled>,
    earnings: [Compiled; 4],
    cash: [Compiled; 2],
    buyback: Compiled,
    /// Mean operating margin of one fiscal year, two, three …
    margins: Vec<Compiled>,
}

fn starting() -> &'static Starting {
    static COMPILED: LazyLock<Starting> = LazyLock::new(|| Starting {
        always: Figure::ALL.map(|figure| compile_own(figure.formula())).into(),
        earnings: EARNINGS.map(compile_own),
        cash: CASH.map(compile_own),
        buyback: compile_own(BUYBACK),
        margins: (1..=MOST_MARGIN_YEARS).map(|n| compile_own(&format!("fy_average(operating_margin, {n})"))).collect(),
    });
    &COMPILED
}

/// The formulas behind the inputs that ask for own histories, among others.
pub(crate) fn input_formulas() -> &'static [Compiled] {
    &starting().always
}

/// The formulas behind the inputs under the shipped set's choices.
pub(super) fn usual_formulas() -> impl Iterator<Item = &'static Compiled> {
    let (formulas, usual) = (starting(), Assumptions::standard());
    formulas.always.iter().chain([chosen_earnings(&usual), chosen_cash(&usual), chosen_margin(&usual)])
}

fn chosen_earnings(a: &Assumptions) -> &'static Compiled {
    &starting().earnings[a.earnings as usize]
}

fn chosen_cash(a: &Assumptions) -> &'static Compiled {
    &starting().cash[usize::from(a.cash_after_stock_pay)]
}

fn chosen_margin(a: &Assumptions) -> &'static Compiled {
    &starting().margins[(a.margin_years.clamp(1, MOST_MARGIN_YEARS) - 1) as usize]
}

/// The inputs of a chunk of rows.
pub(super) fn inputs(sheet: &dyn Answers<'_>, a: &Assumptions) -> Vec<Inputs> {
    let rows = sheet.rows();
    let formulas = starting();
    let columns: Vec<Vec<Num>> = formulas.always.iter().map(|f| sheet.reporting_numbers(f)).collect();
    let earnings = sheet.reporting_numbers(chosen_earnings(a));
    let cash = sheet.reporting_numbers(chosen_cash(a));
    let margin = sheet.reporting_numbers(chosen_margin(a));
    let buyback = a.payout_with_buybacks.then(|| sheet.reporting_numbers(&formulas.buyback));
    let row = |i: usize| {
        let figures: Vec<Num> = columns.iter().map(|c| c[i]).collect();
        let chosen = Chosen { earnings: earnings[i], cash: cash[i], margin: margin[i], buyback: buyback.as_ref().map(|b| b[i]) };
        from_figures(&rows[i], &figures, chosen, a)
    };
    (0..rows.len()).map(row).collect()
}

/// The figures that a set chooses.
#[derive(Clone, Copy)]
struct Chosen {
    earnings: Num,
    cash: Num,
    margin: Num,
    buyback: Option<Num>,
}

fn from_figures(c: &CompanyAt<'_>, figures: &[Num], chosen: Chosen, assumptions: &Assumptions) -> Inputs {
    let of = |figure: Figure| figures[figure as usize];
    let Chosen { earnings, cash, margin, buyback } = chosen;
    let fx = c.reporting_to_listing();
    // A whole-company amount for one traded unit in the listing's currency.
    let each = |amount: Num, shares: Num| match (amount?, shares?) {
        (_, shares) if shares <= 0.0 => Err(Why::NotPositive),
        (amount, shares) => Ok(amount / shares * c.shares_per_unit() * fx?),
    };
    let (outstanding, diluted) = (|amount| each(amount, of(Figure::Shares)), |amount| each(amount, of(Figure::DilutedShares)));
    let dividend = price::regular_dividend(c);
    let bought_back = buyback.and_then(|b| diluted(b).ok());
    Inputs {
        kind: c.kind(),
        currency: c.listing_currency(),
        price: c.price(),
        dividend,
        paid: bought_back.map_or(dividend, |b| Ok((dividend? + b).max(0.0))),
        dividend_each_year: of(Figure::LeastDividend).and_then(|least| if least > 0.0 { Ok(1.0) } else { Err(Why::NotPositive) }),
        analysts_growth: estimates::growth(c),
        inflation: c.rate(RateSeries::Inflation).or(Ok(assumptions.usual_inflation)),
        aaa_yield: c.rate(RateSeries::AaaCorporateYield),
        government_yield: c.rate(RateSeries::Government10yYield),
        earnings: if assumptions.earnings == EarningsBase::Normal { diluted(earnings) } else { earnings.and_then(|e| Ok(e * fx?)) },
        cash_flow: diluted(cash),
        book: diluted(of(Figure::Book)),
        own_pe: of(Figure::OwnPe),
        own_ps: of(Figure::OwnPs),
        own_pb: of(Figure::OwnPb),
        own_ev_ebit: of(Figure::OwnEvEbit),
        own_pffo: of(Figure::OwnPffo),
        roe: of(Figure::Roe),
        past_growth: of(Figure::PastGrowth),
        tax: of(Figure::Tax),
        operating_income: diluted(of(Figure::OperatingIncome)),
        reinvestment: diluted(of(Figure::Reinvestment)),
        revenue: diluted(of(Figure::Revenue)),
        mean_margin: margin,
        net_claims: diluted(of(Figure::NetClaims)),
        debt_outstanding: outstanding(of(Figure::Debt)),
        interest_rate: of(Figure::InterestRate),
        ffo: diluted(of(Figure::Ffo)),
        revenue_outstanding: outstanding(of(Figure::Revenue)),
        book_outstanding: outstanding(of(Figure::Book)),
        ebit_outstanding: outstanding(of(Figure::OperatingIncome)),
        net_claims_outstanding: outstanding(of(Figure::NetClaims)),
    }
}

impl Inputs {
    /// The amounts that come from statements: they move with the exchange rate of the accounts.
    pub(crate) fn amounts(&mut self) -> [&mut Num; 13] {
        [
            &mut self.earnings,
            &mut self.cash_flow,
            &mut self.book,
            &mut self.operating_income,
            &mut self.reinvestment,
            &mut self.revenue,
            &mut self.net_claims,
            &mut self.debt_outstanding,
            &mut self.ffo,
            &mut self.revenue_outstanding,
            &mut self.book_outstanding,
            &mut self.ebit_outstanding,
            &mut self.net_claims_outstanding,
        ]
    }

    /// The same on the basis of later splits: `splits` is the product of their ratios.
    pub(crate) fn on_basis(&self, splits: f64) -> Inputs {
        let mut out = self.clone();
        let per_unit = |amount: &mut Num| *amount = amount.map(|a| a / splits);
        out.amounts().into_iter().for_each(per_unit);
        [&mut out.price, &mut out.dividend, &mut out.paid].into_iter().for_each(per_unit);
        out
    }

    /// Payout p = clamp(paid ÷ E0, 0, 1), 0 when E0 ≤ 0.
    #[must_use]
    pub fn payout(&self) -> f64 {
        share_paid(self.paid, self.earnings)
    }

    /// Payout of a property company: clamp(paid ÷ FFO0, 0, 1).
    #[must_use]
    pub fn payout_of_ffo(&self) -> f64 {
        share_paid(self.paid, self.ffo)
    }

    /// X: the own median P/E within the exit bounds, 15 where there is none.
    #[must_use]
    pub fn exit_pe(&self, a: &Assumptions) -> f64 {
        self.own_pe.unwrap_or(a.usual_pe).clamp(a.exit_pe.0, a.exit_pe.1)
    }

    /// The exit multiple of FFO within its bounds.
    #[must_use]
    pub fn exit_pffo(&self, a: &Assumptions) -> f64 {
        self.own_pffo.unwrap_or(a.usual_pe).clamp(a.exit_pffo.0, a.exit_pffo.1)
    }

    /// What the business can finance itself: clamp(median roe × (1 − p), 0, cap).
    pub fn sustainable_growth(&self, a: &Assumptions) -> Num {
        Ok((self.roe? * (1.0 - self.payout())).clamp(0.0, a.sustainable_cap))
    }

    /// w = E/(D+E) r + D/(D+E) k (1 − tax), never below r − 3 points; E price and D debt a unit, k the interest on debt
    /// between the AAA yield (5 % where unknown) and 15 %, the lower of them where the interest is not known.
    pub fn firm_rate(&self, a: &Assumptions) -> Num {
        let (r, equity, debt) = (a.required_return(self)?, self.price?, self.debt_outstanding?);
        if debt <= 0.0 {
            return Ok(r);
        }
        let least = self.aaa_yield.unwrap_or(a.cost_of_debt.0);
        let k = self.interest_rate.map_or(least, |k| k.clamp(least, a.cost_of_debt.1.max(least)));
        let blended = (equity * r + debt * k * (1.0 - self.tax?)) / (debt + equity);
        Ok(blended.max(r - a.leverage_floor))
    }
}

fn share_paid(dividend: Num, of: Num) -> f64 {
    match (dividend, of) {
        (Ok(d), Ok(e)) if e > 0.0 => (d / e).clamp(0.0, 1.0),
        _ => 0.0,
    }
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;

    /// [`Figure`] counts in the order of its list: positions are never written by hand.
    #[test]
    fn figures_stand_where_they_are_looked_for() {
        assert!(Figure::ALL.iter().enumerate().all(|(i, figure)| *figure as usize == i));
    }

    /// A company of which nothing is known.
    pub(crate) fn plain() -> Inputs {
        let none = Err(Why::HistoryTooShort);
        Inputs {
            kind: Kind::Operating,
            currency: "ZOC".parse().unwrap(),
            price: none,
            paid: none,
            government_yield: none,
            earnings: none,
            cash_flow: none,
            book: none,
            dividend: none,
            dividend_each_year: none,
            own_pe: none,
            own_ps: none,
            own_pb: none,
            own_ev_ebit: none,
            own_pffo: none,
            roe: none,
            past_growth: none,
            analysts_growth: none,
            inflation: none,
            aaa_yield: none,
            tax: none,
            operating_income: none,
            reinvestment: none,
            revenue: none,
            mean_margin: none,
            net_claims: none,
            debt_outstanding: none,
            interest_rate: none,
            ffo: none,
            revenue_outstanding: none,
            book_outstanding: none,
            ebit_outstanding: none,
            net_claims_outstanding: none,
        }
    }
}
