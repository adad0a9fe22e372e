//! The starting figures of a valuation, each a formula that can be opened.

use super::Assumptions;
use crate::{
    Num, Why,
    domain::{Currency, Kind, RateSeries},
    estimates,
    formula::{Compiled, Sheet, compile_internal},
    panel::CompanyAt,
    price,
};
use std::sync::LazyLock;

/// The starting figures of one company; amounts a traded unit in the listing's currency.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct Inputs {
    pub kind: Kind,
    pub currency: Currency,
    pub price: Num,
    /// Required return r.
    pub required_return: Num,
    /// E0: earnings of the latest twelve months.
    pub earnings: Num,
    /// F0: mean free cash flow of three fiscal years.
    pub cash_flow: Num,
    /// B0: common equity.
    pub book: Num,
    /// D0: regular dividends of about a year.
    pub dividend: Num,
    /// Whether each of the last five fiscal years had a dividend.
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
    pub tax: Num,
    /// Operating income of the latest twelve months, a diluted unit.
    pub operating_income: Num,
    /// Mean of depreciation less capital expenditure over three fiscal years, a diluted unit.
    pub reinvestment: Num,
    /// Revenue of the latest twelve months, a diluted unit.
    pub revenue: Num,
    /// Mean operating margin of five fiscal years.
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

/// The formulas behind [`Inputs`], in the order in which [`from_figures`] reads them; amounts in the reporting currency.
const FORMULAS: [&str; 21] = [
    "shares_outstanding",
    "else(shares_diluted, shares_outstanding)",
    "eps",
    "fy_average(operating_cash_flow - capital_expenditure, 3)",
    "equity - preferred_equity",
    "own_median(pe, 10y)",
    "own_median(ps, 10y)",
    "own_median(pb, 10y)",
    "own_median(ev_ebit, 10y)",
    "own_median(pffo, 10y)",
    "fy_median(roe, 5)",
    "else(eps_trend(5), else(eps_growth(5), eps_growth(3)))",
    "else(effective_tax, assumed_tax)",
    "operating_income",
    "fy_average(depreciation_amortization - capital_expenditure, 3)",
    "revenue",
    "fy_average(operating_margin, 5)",
    "short_term_debt + long_term_debt + preferred_equity + minority_interest - cash - short_term_investments",
    "short_term_debt + long_term_debt",
    "interest_expense ÷ (short_term_debt + long_term_debt)",
    "funds_from_operations",
];

/// The compiled formulas behind the inputs.
pub(crate) fn input_formulas() -> &'static [Compiled] {
    static COMPILED: LazyLock<Vec<Compiled>> = LazyLock::new(|| {
        let compile = |t: &str| compile_internal(t).unwrap_or_else(|e| unreachable!("own formula {t}: {e}"));
        FORMULAS.into_iter().map(compile).collect()
    });
    &COMPILED
}

/// The inputs of a chunk of rows.
pub(super) fn inputs(sheet: &Sheet<'_, '_>) -> Vec<Inputs> {
    let rows = sheet.rows;
    let columns: Vec<Vec<Num>> = input_formulas().iter().map(|f| sheet.reporting_numbers(f)).collect();
    let row = |i: usize| {
        let figures: Vec<Num> = columns.iter().map(|c| c[i]).collect();
        from_figures(&rows[i], &figures)
    };
    (0..rows.len()).map(row).collect()
}

fn from_figures(c: &CompanyAt<'_>, f: &[Num]) -> Inputs {
    let assumptions: &Assumptions = &c.view.settings.assumptions;
    let fx = c.reporting_to_listing();
    // A whole-company amount for one traded unit in the listing's currency.
    let each = |amount: Num, shares: Num| match (amount?, shares?) {
        (_, shares) if shares <= 0.0 => Err(Why::NotPositive),
        (amount, shares) => Ok(amount / shares * c.shares_per_unit() * fx?),
    };
    let (outstanding, diluted) = (|amount| each(amount, f[0]), |amount| each(amount, f[1]));
    Inputs {
        kind: c.kind(),
        currency: c.listing_currency(),
        price: c.price(),
        required_return: assumptions.required_return(c),
        dividend: price::regular_dividend(c),
        dividend_each_year: dividend_each_year(c),
        analysts_growth: estimates::growth(c),
        inflation: c.rate(RateSeries::Inflation).or(Ok(assumptions.usual_inflation)),
        aaa_yield: c.rate(RateSeries::AaaCorporateYield),
        earnings: f[2].and_then(|eps| Ok(eps * fx?)),
        cash_flow: diluted(f[3]),
        book: diluted(f[4]),
        own_pe: f[5],
        own_ps: f[6],
        own_pb: f[7],
        own_ev_ebit: f[8],
        own_pffo: f[9],
        roe: f[10],
        past_growth: f[11],
        tax: f[12],
        operating_income: diluted(f[13]),
        reinvestment: diluted(f[14]),
        revenue: diluted(f[15]),
        mean_margin: f[16],
        net_claims: diluted(f[17]),
        debt_outstanding: outstanding(f[18]),
        interest_rate: f[19],
        ffo: diluted(f[20]),
        revenue_outstanding: outstanding(f[15]),
        book_outstanding: outstanding(f[4]),
        ebit_outstanding: outstanding(f[13]),
        net_claims_outstanding: outstanding(f[17]),
    }
}

/// 1 when each of the last five fiscal years had a regular dividend; undefined otherwise.
fn dividend_each_year(c: &CompanyAt<'_>) -> Num {
    for k in 0..5 {
        if price::year_dividend(c, c.year(k)?)? <= 0.0 {
            return Err(Why::NotPositive);
        }
    }
    Ok(1.0)
}

impl Inputs {
    /// Payout p = clamp(D0 ÷ E0, 0, 1), 0 when E0 ≤ 0.
    #[must_use]
    pub fn payout(&self) -> f64 {
        share_paid(self.dividend, self.earnings)
    }

    /// Payout of a property company: clamp(D0 ÷ FFO0, 0, 1).
    #[must_use]
    pub fn payout_of_ffo(&self) -> f64 {
        share_paid(self.dividend, self.ffo)
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
        let (r, equity, debt) = (self.required_return?, self.price?, self.debt_outstanding?);
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

    /// A company of which nothing is known.
    pub(crate) fn plain() -> Inputs {
        let none = Err(Why::HistoryTooShort);
        Inputs {
            kind: Kind::Operating,
            currency: "ZOC".parse().unwrap(),
            price: none,
            required_return: none,
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
