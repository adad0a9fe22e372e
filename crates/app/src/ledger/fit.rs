//! Whether an order fits what is held: weights before and after, how alike prices moved, what the whole looks like.

use super::{
    asked::{Asked, OrderRequest},
    books::own_ledger,
    terms::{LedgerTerms, ledger_terms},
};
use crate::{AppError, Ctx, figures::compact::six_digits};
use artemon_core::{
    formula::Unit,
    ledger::{number, worth},
    panel::{CompanyAt, CompanyIndex},
    price::{MonthlyReturns, correlation, monthly_returns, together},
    wording::figures::percent,
};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// From this correlation on two are said to move alike.
const ALIKE: f64 = 0.7;

/// A weight before and after an order, of all holdings and cash.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Weight {
    /// "company", "sector", "country", "currency", "kind", "soundness", "other" or "cash".
    pub of: &'static str,
    pub name: String,
    pub before: f64,
    pub after: f64,
    /// Above which it is warned of.
    pub limit: Option<f64>,
}

/// How an order fits what is held.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FitAnswer {
    pub sentence: String,
    /// The heaviest after the order first, by what they are weights of.
    pub weights: Vec<Weight>,
    /// The most alike first.
    pub overlap: Vec<Overlap>,
    /// With all holdings together, at their weights.
    pub with_whole: Option<f64>,
    pub look_through: Vec<LookThrough>,
}

/// How alike two shares moved in the last 36 months.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Overlap {
    pub symbol: String,
    pub name: String,
    pub weight: f64,
    /// Of monthly total returns in the base currency; none with fewer than 24 months in common.
    pub correlation: Option<f64>,
}

/// A figure of all companies held together, at their weights.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LookThrough {
    pub label: &'static str,
    pub formula: &'static str,
    pub unit: Unit,
    pub before: Option<f64>,
    pub after: Option<f64>,
    /// Which part of the companies' worth it covers after the order.
    pub covers: f64,
}

const FIGURES: [(&str, &str, Unit); 4] = [
    ("Earnings yield", "earnings_yield", Unit::Percent),
    ("Quality", "quality", Unit::Rank),
    ("Margin of safety", "margin_of_safety", Unit::Percent),
    ("Debt to equity", "debt_to_equity", Unit::Ratio),
];

/// What is held, and what an order adds to it or takes from it, in the base currency.
pub(super) struct Portfolio<'a> {
    companies: BTreeMap<CompanyIndex, (CompanyAt<'a>, f64)>,
    /// Of what is on no exchange of the dataset.
    others: f64,
    whole: f64,
    of: CompanyIndex,
    added: f64,
}

impl<'a> Portfolio<'a> {
    /// `value` is that of the order in the account's currency, below zero of a sale.
    pub(super) fn of(asked: &Asked<'a>, value: f64) -> Result<Portfolio<'a>, AppError> {
        let (ctx, own) = (asked.ctx, own_ledger(asked.ctx)?);
        let as_of = ctx.engine.as_of(asked.c.t());
        let (held, whole) = worth(&own.ledger, as_of);
        let mut out = Portfolio { companies: BTreeMap::new(), others: 0.0, whole, of: asked.c.index, added: 0.0 };
        for h in held {
            match ctx.snapshot().find(h.security.key()) {
                Some(i) => out.companies.entry(i).or_insert_with(|| (as_of.company(i), 0.0)).1 += h.value_base,
                None => out.others += h.value_base,
            }
        }
        out.companies.entry(asked.c.index).or_insert_with(|| (as_of.company(asked.c.index), 0.0));
        let to_base = asked.account.currency.parse().ok().and_then(|c| as_of.fx(c, ctx.settings().base));
        out.added = value * to_base.unwrap_or_default();
        Ok(out)
    }

    /// Each company with its value before and after.
    fn values(&self) -> impl Iterator<Item = (&CompanyAt<'a>, f64, f64)> {
        self.companies.iter().map(|(i, (c, value))| (c, *value, value + if *i == self.of { self.added } else { 0.0 }))
    }

    /// The weights of classes of companies; nothing where nothing is held.
    fn classes(&self, of: &'static str, limit: Option<f64>, class: impl Fn(&CompanyAt<'a>) -> String) -> Vec<Weight> {
        if self.whole <= 0.0 {
            return Vec::new();
        }
        let mut all: BTreeMap<String, (f64, f64)> = BTreeMap::new();
        for (c, before, after) in self.values() {
            let sum = all.entry(class(c)).or_default();
            *sum = (sum.0 + before / self.whole, sum.1 + after / self.whole);
        }
        let weight = |(name, (before, after))| Weight { of, name, before, after, limit };
        let mut all: Vec<Weight> = all.into_iter().map(weight).collect();
        all.sort_by(|a, b| b.after.total_cmp(&a.after));
        all
    }

    /// The company of the order, its sector and its currency: those with limits.
    pub(super) fn limited(&self, limits: &LedgerTerms) -> Vec<Weight> {
        let Some((own, _)) = self.companies.get(&self.of) else { return Vec::new() };
        let only = |all: Vec<Weight>, name: String| all.into_iter().find(|w| w.name == name);
        let company = self.classes("company", Some(limits.one_company), |c| c.company().id.to_string());
        let company = only(company, own.company().id.to_string()).map(|w| Weight { name: own.company().name.clone(), ..w });
        let sector = only(self.sectors(limits), sector(own));
        let currency = only(self.currencies(limits), currency(own));
        [company, sector, currency].into_iter().flatten().collect()
    }

    fn sectors(&self, limits: &LedgerTerms) -> Vec<Weight> {
        self.classes("sector", Some(limits.one_sector), sector)
    }

    fn currencies(&self, limits: &LedgerTerms) -> Vec<Weight> {
        self.classes("currency", Some(limits.one_currency), currency)
    }
}

fn sector(c: &CompanyAt<'_>) -> String {
    c.company().sector.clone()
}

fn currency(c: &CompanyAt<'_>) -> String {
    c.listing_currency().to_string()
}

/// How an order would fit what is held.
///
/// # Errors
/// As [`super::order_sheet`].
pub fn order_fit(ctx: &Ctx, request: &OrderRequest) -> Result<FitAnswer, AppError> {
    let asked = Asked::of(ctx, request)?;
    let limits = ledger_terms(ctx)?;
    let all = Portfolio::of(&asked, asked.value().map_or(0.0, number))?;
    let (overlap, with_whole) = overlap(&all);
    let mut weights = all.limited(&limits);
    weights.truncate(1);
    weights.extend(all.sectors(&limits));
    weights.extend(all.classes("country", None, |c| c.company().country.clone()));
    weights.extend(all.currencies(&limits));
    weights.extend(all.classes("kind", None, |c| c.company().kind.to_string()));
    let soundness = grades(ctx, &all);
    weights.extend(all.classes("soundness", None, |c| soundness.get(&c.index).cloned().unwrap_or_else(|| "not rated".to_owned())));
    if all.whole > 0.0 {
        let cash = all.whole - all.others - all.values().map(|v| v.1).sum::<f64>();
        let others = all.others / all.whole;
        if others > 0.0 {
            weights.push(Weight { of: "other", name: "not in the dataset".to_owned(), before: others, after: others, limit: None });
        }
        weights.push(Weight {
            of: "cash",
            name: "cash".to_owned(),
            before: cash / all.whole,
            after: (cash - all.added) / all.whole,
            limit: None,
        });
    }
    let mut answer = FitAnswer { sentence: String::new(), weights, overlap, with_whole, look_through: look_through(ctx, &all) };
    answer.sentence = sentence(&answer, &asked);
    Ok(answer)
}

/// The soundness of each company as it is written.
fn grades(ctx: &Ctx, all: &Portfolio<'_>) -> BTreeMap<CompanyIndex, String> {
    const NUMERALS: [&str; 4] = ["I", "II", "III", "none"];
    let rows: Vec<CompanyAt<'_>> = all.values().map(|v| ctx.engine.as_of(v.0.t()).company(v.0.index)).collect();
    let Ok(formula) = ctx.engine.compile("soundness") else { return BTreeMap::new() };
    let column = ctx.engine.evaluate(&formula, &rows);
    let grade = |row: usize| column.value(row).number().ok().and_then(|n| NUMERALS.get((n.round() as usize).checked_sub(1)?));
    rows.iter().enumerate().filter_map(|(row, c)| Some((c.index, (*grade(row)?).to_owned()))).collect()
}

fn overlap(all: &Portfolio<'_>) -> (Vec<Overlap>, Option<f64>) {
    let Some((own, _)) = all.companies.get(&all.of) else { return (Vec::new(), None) };
    let own = monthly_returns(own);
    let others: Vec<(&CompanyAt<'_>, f64, MonthlyReturns)> = all
        .values()
        .filter(|(c, before, _)| c.index != all.of && *before > 0.0)
        .map(|(c, before, _)| (c, before, monthly_returns(c)))
        .collect();
    let of = |(c, before, returns): &(&CompanyAt<'_>, f64, MonthlyReturns)| Overlap {
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        weight: before / all.whole,
        correlation: correlation(&own, returns).map(six_digits),
    };
    let mut found: Vec<Overlap> = others.iter().map(of).collect();
    found.sort_by(|a, b| b.correlation.unwrap_or(-2.0).total_cmp(&a.correlation.unwrap_or(-2.0)));
    let whole = together(&others.into_iter().map(|(_, before, returns)| (before, returns)).collect::<Vec<_>>());
    (found, correlation(&own, &whole).map(six_digits))
}

fn look_through(ctx: &Ctx, all: &Portfolio<'_>) -> Vec<LookThrough> {
    let rows: Vec<(CompanyAt<'_>, f64, f64)> =
        all.values().map(|(c, before, after)| (ctx.engine.as_of(c.t()).company(c.index), before, after)).collect();
    let companies: Vec<CompanyAt<'_>> = rows.iter().map(|r| ctx.engine.as_of(r.0.t()).company(r.0.index)).collect();
    let figure = |(label, formula, unit): (&'static str, &'static str, Unit)| {
        let column = ctx.engine.compile(formula).ok().map(|f| ctx.engine.evaluate(&f, &companies));
        let value = |row: usize| column.as_ref().and_then(|c| c.value(row).number().ok()).filter(|x| x.is_finite());
        let mean = |weight: &dyn Fn(usize) -> f64| {
            let known: Vec<(f64, f64)> = (0..rows.len()).filter_map(|row| Some((weight(row), value(row)?))).collect();
            let whole: f64 = known.iter().map(|k| k.0).sum();
            ((whole > 0.0).then(|| known.iter().map(|(w, x)| w * x).sum::<f64>() / whole), whole)
        };
        let ((before, _), (after, known)) = (mean(&|row| rows[row].1), mean(&|row| rows[row].2));
        let held: f64 = rows.iter().map(|r| r.2).sum();
        let covers = if held > 0.0 { known / held } else { 0.0 };
        LookThrough { label, formula, unit, before: before.map(six_digits), after: after.map(six_digits), covers: six_digits(covers) }
    };
    FIGURES.into_iter().map(figure).collect()
}

/// "Pharma would be 34 % of what you hold, after 28 %; it moved most like Quist & Sons (0.81)."
fn sentence(answer: &FitAnswer, asked: &Asked<'_>) -> String {
    let sector = answer.weights.iter().find(|w| w.of == "sector" && w.name == asked.c.company().sector);
    let Some(sector) = sector else { return "Nothing is held yet that it could be held against.".to_owned() };
    let alike = answer.overlap.first().and_then(|o| Some((o, o.correlation?)));
    let moved = match alike {
        Some((o, r)) if r >= ALIKE => format!("it moved most like {}, which you hold ({r:.2})", o.name),
        Some((o, r)) => format!("nothing that you hold moved much like it; nearest is {} ({r:.2})", o.name),
        None => "there is nothing among your holdings to compare its price with".to_owned(),
    };
    format!("{} would be {} of what you hold, now {}; {moved}.", sector.name, percent(sector.after), percent(sector.before))
}
