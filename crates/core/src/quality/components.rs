//! The components of quality: what is measured, from which value on it counts, and for how many points.

use super::{
    measured::Measured,
    scale::{Anchors, Scale},
};
use crate::{
    Why,
    domain::Kind,
    formula::{Answers, Compiled, Pillar, Unit},
    measures::compile_own,
};
use std::sync::LazyLock;

/// Which kinds of company a component or flag is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Suits {
    /// Everybody.
    All,
    /// All but banks and insurers.
    Plain,
    /// Banks and insurers.
    Financial,
    /// Banks.
    Banks,
    /// Insurers.
    Insurers,
}

impl Suits {
    /// Whether it is for a kind.
    #[must_use]
    pub const fn kind(self, kind: Kind) -> bool {
        let (bank, insurer) = (matches!(kind, Kind::Bank), matches!(kind, Kind::Insurer));
        match self {
            Suits::All => true,
            Suits::Plain => !bank && !insurer,
            Suits::Financial => bank || insurer,
            Suits::Banks => bank,
            Suits::Insurers => insurer,
        }
    }

    /// For whom, where not for all.
    #[must_use]
    pub const fn words(self) -> Option<&'static str> {
        match self {
            Suits::All => None,
            Suits::Plain => Some("not banks and insurers"),
            Suits::Financial => Some("banks and insurers"),
            Suits::Banks => Some("banks"),
            Suits::Insurers => Some("insurers"),
        }
    }
}

/// A component: what is measured, and how it counts in the shipped set.
#[derive(Clone, Copy, Debug)]
#[allow(missing_docs)]
pub struct Component {
    pub pillar: Pillar,
    pub id: &'static str,
    pub label: &'static str,
    /// The formula of what is measured.
    pub measure: &'static str,
    pub anchors: Anchors,
    /// Scores 1 whatever is measured.
    pub full_when: Option<&'static str>,
    /// Scores 0 whatever is measured: the base is a loss.
    pub zero_when: Option<&'static str>,
    pub suits: Suits,
}

const fn component(
    pillar: Pillar,
    id: &'static str,
    label: &'static str,
    measure: &'static str,
    (floor, full): (f64, f64),
    points: f64,
) -> Component {
    Component { pillar, id, label, measure, anchors: Anchors { floor, full, points }, full_when: None, zero_when: None, suits: Suits::All }
}

impl Component {
    const fn zero_when(self, condition: &'static str) -> Component {
        Component { zero_when: Some(condition), ..self }
    }

    const fn full_when(self, condition: &'static str) -> Component {
        Component { full_when: Some(condition), ..self }
    }

    const fn only(self, suits: Suits) -> Component {
        Component { suits, ..self }
    }
}

use Pillar::{Alignment, Balance, Growth, OwnersCash, Profitability};

/// A loss in the newest fiscal year.
const EPS_LOST: &str = "fy(eps, 0) <= 0";
/// Common equity has been lost.
const EQUITY_LOST: &str = "equity - preferred_equity <= 0";

/// Every component, pillar by pillar.
pub const COMPONENTS: &[Component] = &[
    component(Growth, "eps_rising_years", "Years of rising earnings", "eps_rising_years(5)", (0.0, 5.0), 8.0),
    component(
        Growth,
        "eps_positive_share",
        "Share of years with a profit",
        "else(eps_positive_years(10) / 10, else(eps_positive_years(9) / 9, else(eps_positive_years(8) / 8, \
            else(eps_positive_years(7) / 7, else(eps_positive_years(6) / 6, eps_positive_years(5) / 5)))))",
        (0.5, 1.0),
        5.0,
    ),
    component(Growth, "eps_growth", "Growth of earnings per share", "else(eps_trend(5), eps_growth(5))", (0.0, 0.15), 6.0)
        .zero_when(EPS_LOST),
    component(Growth, "revenue_growth", "Growth of sales", "revenue_growth(5)", (0.0, 0.10), 6.0),
    component(Profitability, "roe", "Return on equity, usual", "fy_median(roe, 5)", (0.05, 0.20), 7.0).zero_when(EQUITY_LOST),
    component(Profitability, "roic", "Return on capital, usual", "fy_median(roic, 5)", (0.04, 0.15), 8.0),
    component(Profitability, "net_margin", "Net margin", "net_margin", (0.0, 0.20), 5.0),
    component(Profitability, "gross_margin_stdev", "Swings of gross margin", "fy_stdev(gross_margin, 5)", (0.10, 0.01), 5.0),
    component(Balance, "current_ratio", "Current ratio", "current_ratio", (0.8, 2.0), 5.0).only(Suits::Plain),
    component(Balance, "debt_to_equity", "Debt to equity", "debt_to_equity", (2.0, 0.3), 5.0).zero_when(EQUITY_LOST).only(Suits::Plain),
    component(Balance, "interest_cover", "Interest cover", "interest_cover", (1.5, 10.0), 5.0).only(Suits::Plain),
    component(Balance, "net_debt_to_ebitda", "Net debt to EBITDA", "net_debt_to_ebitda", (4.0, 0.0), 5.0)
        .full_when("ebitda <= 0 and net_debt <= 0")
        .zero_when("ebitda <= 0")
        .only(Suits::Plain),
    component(Balance, "equity_ratio", "Equity ratio", "equity_ratio", (0.04, 0.12), 10.0).only(Suits::Financial),
    component(Balance, "tier1_ratio", "Tier 1 ratio", "tier1_ratio", (0.08, 0.16), 10.0).only(Suits::Banks),
    component(Balance, "combined_ratio", "Combined ratio", "combined_ratio", (1.05, 0.90), 10.0).only(Suits::Insurers),
    component(OwnersCash, "cash_conversion", "Cash for each unit of income", "cash_conversion(3)", (0.3, 1.0), 6.0)
        .zero_when("fy_sum(net_income, 3) <= 0"),
    component(OwnersCash, "fcf_positive_years", "Years with free cash", "fcf_positive_years(5)", (0.0, 5.0), 5.0),
    component(OwnersCash, "share_count_growth", "Growth of the number of shares", "share_count_growth(5)", (0.03, -0.02), 5.0),
    component(OwnersCash, "dividend_cover", "Dividend cover", "dividend_cover", (0.5, 1.5), 4.0).full_when("dividends_paid = 0"),
    component(Alignment, "insider_stake", "Insiders' stake", "insider_stake", (0.005, 0.10), 4.0),
    component(
        Alignment,
        "insider_net_buying_ratio",
        "Insiders' net buying of company",
        "insider_net_buying_ratio(12)",
        (-0.005, 0.0025),
        4.0,
    ),
    component(Alignment, "chief_tenure", "Years of the chief in office", "chief_tenure", (0.0, 5.0), 2.0),
];

struct Formulas {
    measure: Compiled,
    full_when: Option<Compiled>,
    zero_when: Option<Compiled>,
}

fn compiled() -> &'static [Formulas] {
    static COMPILED: LazyLock<Vec<Formulas>> = LazyLock::new(|| {
        let one = |c: &Component| Formulas {
            measure: compile_own(c.measure),
            full_when: c.full_when.map(compile_own),
            zero_when: c.zero_when.map(compile_own),
        };
        COMPONENTS.iter().map(one).collect()
    });
    &COMPILED
}

/// The formulas of what is measured, and of what it depends on.
pub(super) fn formulas() -> impl Iterator<Item = &'static Compiled> {
    compiled().iter().flat_map(|f| std::iter::once(&f.measure).chain(&f.full_when).chain(&f.zero_when))
}

/// The unit in which a component, by position, is measured.
#[must_use]
pub fn measured_in(component: usize) -> Unit {
    compiled()[component].measure.unit
}

/// For each row the components that suit it, scored by the shipped anchors.
pub(super) fn measure(sheet: &dyn Answers<'_>) -> Vec<Vec<Measured>> {
    let rows = sheet.rows();
    let mut out: Vec<Vec<Measured>> = rows.iter().map(|_| Vec::with_capacity(COMPONENTS.len())).collect();
    for (at, (component, formulas)) in COMPONENTS.iter().zip(compiled()).enumerate() {
        let values = sheet.numbers(&formulas.measure);
        let when = |f: &Option<Compiled>| f.as_ref().map(|f| sheet.flags(f));
        let (full, zero) = (when(&formulas.full_when), when(&formulas.zero_when));
        let holds = |flags: &Option<Vec<Result<bool, Why>>>, i: usize| flags.as_ref().is_some_and(|f| f[i] == Ok(true));
        for i in (0..rows.len()).filter(|i| component.suits.kind(rows[*i].kind())) {
            let whatever = if holds(&full, i) { Some(1.0) } else { holds(&zero, i).then_some(0.0) };
            out[i].push(Measured::new(at, values[i], whatever, Scale::shipped()));
        }
    }
    out
}
