//! A company's next years as somebody forecasts them: income, cash and earnings a share, and what they are worth.

use crate::{Num, Why};
use serde::{Deserialize, Serialize};

/// The most years that are forecast.
pub const MOST_YEARS: usize = 10;

/// What is forecast of one fiscal year, as fractions.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ForecastYear {
    /// Revenue over that of the year before, less one.
    pub revenue_growth: f64,
    /// Operating income ÷ revenue.
    pub operating_margin: f64,
    /// Tax ÷ income before tax.
    pub tax_rate: f64,
    /// Capital expenditure less depreciation ÷ added revenue.
    pub reinvestment: f64,
    /// Shares over those of the year before, less one.
    pub share_change: f64,
}

impl ForecastYear {
    /// The fields with their names and bounds.
    fn bounded(&self) -> [(&'static str, f64, f64, f64); 5] {
        [
            ("revenue growth", self.revenue_growth, -0.9, 3.0),
            ("operating margin", self.operating_margin, -2.0, 1.0),
            ("tax rate", self.tax_rate, 0.0, 0.9),
            ("reinvestment", self.reinvestment, -5.0, 5.0),
            ("change in shares", self.share_change, -0.5, 1.0),
        ]
    }

    /// What is wrong with it, in words.
    ///
    /// # Errors
    /// A field outside of what can be meant.
    pub fn check(&self) -> Result<(), String> {
        let wrong = self.bounded().into_iter().find(|(_, x, low, high)| !(*low..=*high).contains(x));
        wrong.map_or(Ok(()), |(name, _, low, high)| {
            Err(format!("the {name} of a year must lie between {:.0} % and {:.0} %", low * 100.0, high * 100.0))
        })
    }
}

/// From what a forecast starts: amounts of the whole company in one currency.
#[derive(Clone, Copy, Debug)]
pub struct ForecastStart {
    /// Of the latest twelve months.
    pub revenue: f64,
    /// Interest of the latest twelve months, which is taken to stay.
    pub interest: f64,
    /// What turns an amount of the company into one a traded unit of today, in the currency of the price.
    pub a_share: f64,
}

/// How the forecast is valued.
#[derive(Clone, Copy, Debug)]
pub struct ForecastTerms {
    /// The multiple of earnings at which all is sold in the last year.
    pub exit_multiple: f64,
    /// The share of earnings that is paid out.
    pub payout: f64,
    /// The required return a year.
    pub required_return: f64,
    /// The growth of cash after the last year, below the required return.
    pub terminal_growth: f64,
}

/// A forecast year worked out; amounts as in [`ForecastStart`], those a share in the currency of the price.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct ForecastIncome {
    pub revenue: f64,
    pub operating_income: f64,
    pub net_income: f64,
    pub free_cash_flow: f64,
    pub eps: f64,
    pub cash_per_share: f64,
}

/// The years of a forecast:
/// revenue grows; operating income = revenue × margin; net income = (operating income − interest) × (1 − tax), a loss before tax
/// is not taxed; free cash flow = net income − reinvestment × added revenue.
#[must_use]
pub fn incomes(start: &ForecastStart, years: &[ForecastYear]) -> Vec<ForecastIncome> {
    let (mut revenue, mut shares) = (start.revenue, 1.0);
    let year = |y: &ForecastYear| {
        let before = revenue;
        revenue *= 1.0 + y.revenue_growth;
        shares *= 1.0 + y.share_change;
        let operating_income = revenue * y.operating_margin;
        let pretax = operating_income - start.interest;
        let net_income = pretax - y.tax_rate * pretax.max(0.0);
        let free_cash_flow = net_income - y.reinvestment * (revenue - before);
        let each = start.a_share / shares;
        ForecastIncome {
            revenue,
            operating_income,
            net_income,
            free_cash_flow,
            eps: net_income * each,
            cash_per_share: free_cash_flow * each,
        }
    };
    years.iter().map(year).collect()
}

/// Model 1 on the path: Σ p E_t ÷ (1 + r)^t + E_n X ÷ (1 + r)^n; undefined when the last earnings are not above zero.
pub fn worth_by_earnings(incomes: &[ForecastIncome], terms: &ForecastTerms) -> Num {
    let last = incomes.last().map(|i| i.eps).filter(|e| *e > 0.0).ok_or(Why::NotPositive)?;
    let paid: f64 = discounted(incomes, terms, |i| terms.payout * i.eps.max(0.0)).sum();
    Ok(paid + last * terms.exit_multiple * factor(incomes.len(), terms))
}

/// Model 2 on the path: Σ F_t ÷ (1 + r)^t + F_n (1 + gT) ÷ (r − gT) ÷ (1 + r)^n; undefined when the last cash is not above zero.
pub fn worth_by_cash(incomes: &[ForecastIncome], terms: &ForecastTerms) -> Num {
    let last = incomes.last().map(|i| i.cash_per_share).filter(|f| *f > 0.0).ok_or(Why::NotPositive)?;
    let growing = (1.0 + terms.terminal_growth) / (terms.required_return - terms.terminal_growth);
    let years: f64 = discounted(incomes, terms, |i| i.cash_per_share).sum();
    Ok(years + last * growing * factor(incomes.len(), terms))
}

fn discounted<'i>(
    incomes: &'i [ForecastIncome],
    terms: &'i ForecastTerms,
    of: impl Fn(&ForecastIncome) -> f64 + 'i,
) -> impl Iterator<Item = f64> + 'i {
    incomes.iter().enumerate().map(move |(t, i)| of(i) * factor(t + 1, terms))
}

fn factor(years: usize, terms: &ForecastTerms) -> f64 {
    (1.0 + terms.required_return).powi(-i32::try_from(years).unwrap_or(i32::MAX))
}

#[cfg(test)]
mod tests {
    use super::*;

    const YEAR: ForecastYear =
        ForecastYear { revenue_growth: 0.1, operating_margin: 0.2, tax_rate: 0.25, reinvestment: 0.5, share_change: -0.02 };

    /// Revenue 100 → 110; operating income 22, less interest 2 and a quarter tax 15; cash 15 − 0.5 × 10 = 10; of 10 shares 9.8 are
    /// left: 1.5306 and 1.0204 each.
    #[test]
    fn a_year_by_hand() {
        let start = ForecastStart { revenue: 100.0, interest: 2.0, a_share: 0.1 };
        let all = incomes(&start, &[YEAR, YEAR]);
        let first = all[0];
        let near = |a: f64, b: f64| (a - b).abs() < 1e-9;
        assert!(near(first.revenue, 110.0) && near(first.operating_income, 22.0) && near(first.net_income, 15.0));
        assert!(near(first.free_cash_flow, 10.0) && near(first.eps, 1.5 / 0.98) && near(first.cash_per_share, 1.0 / 0.98));
        assert!(near(all[1].revenue, 121.0) && near(all[1].eps, 0.1 * (24.2 - 2.0) * 0.75 / 0.98f64.powi(2)));
    }

    /// Earnings of 2 and 3 with half paid out, sold at 10 times: 1 ÷ 1.1 + 1.5 ÷ 1.21 + 30 ÷ 1.21. Cash of 1 a year that grows
    /// no more is worth 1 ÷ 10 % = 10, however many years are forecast.
    #[test]
    fn worth_by_hand() {
        let of = |eps: f64, cash: f64| ForecastIncome {
            revenue: 0.0,
            operating_income: 0.0,
            net_income: 0.0,
            free_cash_flow: 0.0,
            eps,
            cash_per_share: cash,
        };
        let terms = ForecastTerms { exit_multiple: 10.0, payout: 0.5, required_return: 0.1, terminal_growth: 0.0 };
        let path = [of(2.0, 1.0), of(3.0, 1.0)];
        assert!((worth_by_earnings(&path, &terms).unwrap() - (1.0 / 1.1 + 31.5 / 1.21)).abs() < 1e-12);
        assert!((worth_by_cash(&path, &terms).unwrap() - 10.0).abs() < 1e-12);
        assert_eq!(worth_by_earnings(&[of(-1.0, 1.0)], &terms), Err(Why::NotPositive));
        assert_eq!(worth_by_cash(&[of(1.0, 0.0)], &terms), Err(Why::NotPositive));
        assert_eq!(worth_by_cash(&[], &terms), Err(Why::NotPositive));
    }

    /// A loss before tax is not taxed.
    #[test]
    fn a_loss_has_no_tax() {
        let start = ForecastStart { revenue: 100.0, interest: 50.0, a_share: 1.0 };
        assert!((incomes(&start, &[YEAR])[0].net_income + 28.0).abs() < 1e-9);
    }

    #[test]
    fn what_cannot_be_meant_is_refused_in_words() {
        assert_eq!(YEAR.check(), Ok(()));
        let wrong = ForecastYear { operating_margin: 15.0, ..YEAR };
        assert_eq!(wrong.check(), Err("the operating margin of a year must lie between -200 % and 100 %".to_owned()));
        assert!(ForecastYear { tax_rate: f64::NAN, ..YEAR }.check().is_err());
    }
}
