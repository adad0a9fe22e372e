//! What measures that are no formulas were computed from.

use super::{
    explanation::{Explanation, Filing},
    filed,
};
use crate::{
    Num,
    domain::{InsiderTrade, Item, Metric},
    formula::{
        catalogue::{Args, Family, Measure, Unit},
        column::Value,
        host::View,
    },
    insiders,
    panel::{CompanyAt, OwnershipRow},
};

/// Rows listed at most.
const MOST: usize = 24;

/// The inputs of a measure that is computed by a kernel.
pub(super) fn of(measure: &Measure, c: &CompanyAt<'_>, args: &Args, view: View<'_>) -> Vec<Explanation> {
    match (measure.family, measure.id) {
        (_, "price") => Vec::new(),
        (_, "market_cap") => vec![price(c), shares(c)],
        (_, "dividend_yield") => [vec![price(c)], dividends(c)].concat(),
        (_, "dividend_years") => dividends(c),
        (_, "pe_forward") => [vec![price(c)], estimates(c, &[Metric::Eps])].concat(),
        (_, "analysts_growth") => estimates(c, &[Metric::LongTermGrowth, Metric::Eps]),
        (_, "long_term_growth") => estimates(c, &[Metric::LongTermGrowth]),
        (_, "target_upside" | "target_error") => [vec![price(c)], estimates(c, &[Metric::PriceTarget])].concat(),
        (_, "analyst_rating") => estimates(c, &[Metric::Rating]),
        (_, "forward_ebit") => estimates(c, &[Metric::Ebit]),
        (_, "revenue_surprise") => surprise(c, Metric::Revenue, args.count),
        (_, "eps_surprise" | "eps_surprise_amount") => surprise(c, Metric::Eps, args.count),
        (_, "chief_tenure") => officers(c),
        (_, "institution_stake") => ownership(c, "Institutions' stake", |o| o.institutions),
        (_, "controlling_stake") => ownership(c, "Controlling stake", |o| o.controlling),
        (_, "pledged_stake") => ownership(c, "Pledged stake", |o| o.pledged),
        (_, "insider_stake" | "stake_change" | "stake_rising_quarters") => ownership(c, "Insiders' stake", |o| o.insiders),
        (Family::Insiders, _) => trades(c, args),
        (Family::Quarters, _) => estimates(c, &[args.metric.unwrap_or(Metric::Eps)]),
        (Family::Size | Family::Price, _) => vec![price(c), sessions(c)],
        (Family::Value, _) => models(c, view),
        _ => Vec::new(),
    }
}

pub(super) fn price(c: &CompanyAt<'_>) -> Explanation {
    let on = c.bars().last_date().map(|d| format!("The close of {d}, the last session by then."));
    let out = Explanation::number("price", Unit::PerShare, c.price()).labelled("Price");
    on.into_iter().fold(out, Explanation::noted)
}

fn sessions(c: &CompanyAt<'_>) -> Explanation {
    let (bars, dates) = (c.bars(), c.bars().dates());
    #[allow(clippy::cast_precision_loss)]
    let out = Explanation::number("sessions", Unit::Count, Ok(bars.len() as f64)).labelled("Sessions known");
    match (dates.first(), dates.last()) {
        (Some(first), Some(last)) => out.noted(format!("From {first} to {last}, on today's split basis.")),
        _ => out,
    }
}

fn shares(c: &CompanyAt<'_>) -> Explanation {
    filed::latest(Item::SharesOutstanding, c)
}

/// The newest dividends, those of two years at most.
pub(super) fn dividends(c: &CompanyAt<'_>) -> Vec<Explanation> {
    let Ok(all) = c.dividends() else { return Vec::new() };
    let from = c.t().plus_months(-24);
    let one = |d: crate::panel::Dividend| {
        let label = if d.special { "Special dividend" } else { "Dividend" };
        Explanation::number(format!("ex {}", d.ex_date), Unit::PerShare, Ok(d.amount)).labelled(label)
    };
    all.rev().take_while(|d| d.ex_date > from).take(MOST).map(one).collect()
}

fn estimates(c: &CompanyAt<'_>, metrics: &[Metric]) -> Vec<Explanation> {
    let mut seen = Vec::new();
    let mut out = Vec::new();
    for e in c.estimates().filter(|e| metrics.contains(&e.metric) && e.period.is_none()) {
        if seen.contains(&(e.metric, e.fiscal_year)) || out.len() >= MOST {
            continue;
        }
        seen.push((e.metric, e.fiscal_year));
        let (unit, rate) = match e.metric {
            Metric::Eps => (Unit::PerShare, c.reporting_to_listing()),
            Metric::PriceTarget => (Unit::PerShare, Ok(1.0)),
            Metric::Revenue | Metric::Ebit => (Unit::Money, c.reporting_to_base()),
            Metric::LongTermGrowth => (Unit::Percent, Ok(1.0)),
            Metric::Rating => (Unit::Ratio, Ok(1.0)),
        };
        let year = e.fiscal_year.map(|y| format!(", fiscal year {y}")).unwrap_or_default();
        let by = e.analysts.map(|n| format!(" by {n} analysts")).unwrap_or_default();
        out.push(
            Explanation::number(e.metric.code(), unit, rate.map(|r| e.mean * r))
                .labelled(format!("Mean estimate{year}"))
                .noted(format!("Published on {}{by}.", e.published_on)),
        );
    }
    out
}

fn surprise(c: &CompanyAt<'_>, metric: Metric, k: u32) -> Vec<Explanation> {
    let Ok(s) = crate::estimates::surprise(c, metric, k) else { return Vec::new() };
    let (unit, rate) =
        if metric == Metric::Eps { (Unit::PerShare, c.reporting_to_listing()) } else { (Unit::Money, c.reporting_to_base()) };
    let put = |v: f64| rate.map(|r| v * r);
    let item = if metric == Metric::Eps { Item::EpsAdjusted } else { Item::Revenue };
    let reported = Explanation::number("reported", unit, put(s.reported))
        .labelled("As first reported")
        .noted(format!("Announced on {}.", s.announced));
    let expected = Explanation::number("expected", unit, put(s.expected))
        .labelled("Last estimate before")
        .noted(format!("Published on {}.", s.estimated));
    vec![filed::quarter_of(reported, item, s.quarter, &c.at(s.filed)), expected]
}

fn trades(c: &CompanyAt<'_>, args: &Args) -> Vec<Explanation> {
    let months = if args.count > 0 { args.count } else { 12 };
    let from = c.t().plus_months(-months.cast_signed());
    let counts = |t: &&InsiderTrade| t.traded_on > from && !t.planned && (t.is_purchase() || t.is_sale());
    let one = |t: &InsiderTrade| {
        let what = if t.is_purchase() { "bought" } else { "sold" };
        let filing = Filing {
            document: t.filing_id.clone(),
            filed_on: t.filed_on,
            fiscal_year: None,
            period: None,
            period_end: None,
            as_filed: t.amount(),
            currency: Some(t.currency.to_string()),
        };
        let out = Explanation::number(format!("{} {what} on {}", t.insider_name, t.traded_on), Unit::Money, insiders::amount(c, t));
        let price = t.price.map_or_else(|| "a price that only a footnote tells".to_owned(), |price| format!("{price} {}", t.currency));
        Explanation { source: Some(filing), ..out.noted(format!("{} shares at {price}.", t.shares)) }
    };
    c.insider_trades().rev().filter(counts).take(MOST).map(one).collect()
}

fn ownership(c: &CompanyAt<'_>, label: &'static str, stake: fn(&OwnershipRow) -> Option<f64>) -> Vec<Explanation> {
    let one = |o: OwnershipRow| {
        let value = stake(&o).ok_or(crate::Why::NoOwnership);
        Explanation::number(format!("as of {}", o.as_of), Unit::Percent, value).labelled(label).noted(format!("Filed on {}.", o.filed_on))
    };
    c.ownership().rev().take(8).map(one).collect()
}

fn officers(c: &CompanyAt<'_>) -> Vec<Explanation> {
    let one = |o: &crate::domain::Officer| {
        let since = o.since.map(|d| format!("In office since {d}.")).unwrap_or_default();
        Explanation::new(o.role.replace('_', " "), Unit::Text, Value::Text(o.name.as_str().into())).noted(since)
    };
    c.officers().filter(|o| o.role == crate::domain::Role::ChiefExecutive.code()).map(one).collect()
}

/// The models that made the value.
fn models(c: &CompanyAt<'_>, view: View<'_>) -> Vec<Explanation> {
    let part = |(name, unit, figure): (&'static str, Unit, Num)| match name {
        "intrinsic_value" => Explanation::number(name, unit, figure).labelled("Intrinsic value"),
        model => Explanation::number(model, unit, figure).labelled("Model"),
    };
    std::iter::once(price(c)).chain(view.host.value_parts(c.as_of, c.index).into_iter().map(part)).collect()
}
