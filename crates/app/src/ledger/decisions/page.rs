//! All decisions: which to look at again, what came of each, and the record.

use super::{
    super::{books::order_states, index::index_compared},
    decide::{Body, Screened},
    review::Review,
};
use crate::{AppError, Ctx, documents::known::KnownCompany, figures::compact::six_digits};
use artemon_core::{
    decisions::{Choice, Judged, Outcome, Record, outcome, record},
    domain::Day,
    ledger::OrderState,
    panel::{CompanyAt, CompanyIndex},
};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, HashMap};
use utoipa::ToSchema;

/// What is asked for.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct DecisionsRequest {
    /// The day; the newest session when absent.
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
    /// The index that decisions are held against; the broadest when absent.
    pub index: Option<String>,
    /// Of this company only.
    pub symbol: Option<String>,
}

/// Decisions and what came of them.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct DecisionsPage {
    #[schema(value_type = String)]
    pub as_of: Day,
    /// The id of the index that they are held against.
    pub index: Option<String>,
    /// The newest first.
    pub decisions: Vec<DecisionRow>,
    /// Those that are three years old.
    pub settled: Record,
    /// All of them, as it stands today.
    pub so_far: Record,
    /// What was put away, as it stands today.
    pub put_away: Record,
    /// By the screen from which the companies came, as it stands today.
    pub screens: Vec<ScreenRecord>,
}

/// What came of the decisions about companies from one screen.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ScreenRecord {
    pub screen: Screened,
    pub record: Record,
}

/// A decision; amounts a share in the listing's currency, on today's split basis.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct DecisionRow {
    pub id: String,
    #[schema(value_type = String)]
    pub decided_on: Day,
    /// Empty of a company that the dataset does not have.
    pub symbol: String,
    pub name: String,
    pub choice: Choice,
    pub order: Option<String>,
    /// Where its order stands.
    pub order_state: Option<OrderState>,
    /// Nothing came of its order, so that it counts for nothing.
    pub not_carried_out: bool,
    pub thesis: String,
    pub wrong: String,
    pub confidence: Option<f64>,
    pub screen: Option<Screened>,
    pub currency: String,
    pub price_then: Option<f64>,
    pub value_then: Option<f64>,
    pub verdict_then: String,
    pub price_now: Option<f64>,
    /// Total return of the share and the index since then, for three years at most, in the base currency.
    pub share_since: Option<f64>,
    pub index_since: Option<f64>,
    /// Three years are over.
    pub settled: bool,
    /// Whether it was right, as it stands.
    pub right: Option<bool>,
    /// When it is to be looked at again; none once it is closed.
    #[schema(value_type = Option<String>)]
    pub review_on: Option<Day>,
    /// That day has come.
    pub due: bool,
    pub closed: bool,
    /// Of the last review that says it.
    pub lesson: String,
    pub reviews: usize,
}

/// A decision as it was read.
pub(in crate::ledger) struct Read {
    pub(super) id: String,
    pub(super) decided_on: Day,
    pub(super) known: KnownCompany,
    pub(super) company: Option<CompanyIndex>,
    pub(super) order: Option<String>,
    pub(super) body: Body,
    pub(super) reviews: Vec<Review>,
}

impl Read {
    pub(super) fn closed(&self) -> bool {
        self.reviews.iter().any(|r| r.closes)
    }

    /// Of the last review that says it.
    fn lesson(&self) -> String {
        self.reviews.iter().rev().map(|r| r.lesson.trim()).find(|l| !l.is_empty()).unwrap_or_default().to_owned()
    }

    /// When it is to be looked at again.
    pub(super) fn review_on(&self) -> Option<Day> {
        let last = self.reviews.iter().rev().find_map(|r| r.next_on);
        // A review that names no next day answers the one that was due.
        let first = if self.reviews.is_empty() { self.body.reasons.review_on } else { None };
        last.or(first).filter(|_| !self.closed())
    }
}

/// The decisions of the person up to a day, oldest first, with their reviews up to it.
pub(in crate::ledger) fn read(ctx: &Ctx, t: Day) -> Result<Vec<Read>, AppError> {
    let broken = |problem: String| AppError::Unusable { what: "A decision as it is kept".to_owned(), problem };
    let mut reviews: HashMap<String, Vec<Review>> = HashMap::new();
    for kept in ctx.home.people.decision_reviews(&ctx.person)? {
        let review: Review = serde_json::from_str(&kept.body).map_err(|e| broken(e.to_string()))?;
        if review.on.is_none_or(|on| on <= t) {
            reviews.entry(kept.decision_id).or_default().push(review);
        }
    }
    let mut all = Vec::new();
    for kept in ctx.home.people.decisions(&ctx.person)? {
        let decided_on: Day = kept.decided_on.parse().map_err(|_| broken(format!("\"{}\" is no day", kept.decided_on)))?;
        if decided_on > t {
            continue;
        }
        let known: KnownCompany = serde_json::from_str(&kept.company).map_err(|e| broken(e.to_string()))?;
        let body: Body = serde_json::from_str(&kept.body).map_err(|e| broken(e.to_string()))?;
        let (company, reviews) = (known.find(ctx.snapshot()), reviews.remove(&kept.id).unwrap_or_default());
        all.push(Read { id: kept.id, decided_on, known, company, order: kept.order_name, body, reviews });
    }
    Ok(all)
}

/// The decisions that are to be looked at again, with their days: of companies of the dataset.
pub(in crate::ledger) fn due_reviews(all: &[Read]) -> Vec<(CompanyIndex, Day)> {
    all.iter().filter_map(|d| Some((d.company?, d.review_on()?))).collect()
}

/// Why a company was bought: of the first decision to buy it that is not closed, or the last that is.
#[derive(Clone, Debug)]
pub(in crate::ledger) struct BoughtFor {
    pub(in crate::ledger) decision: String,
    pub(in crate::ledger) thesis: String,
    /// On today's split basis.
    pub(in crate::ledger) value_then: Option<f64>,
    pub(in crate::ledger) due: bool,
    /// What was learnt from it.
    pub(in crate::ledger) lesson: String,
    closed: bool,
}

/// Why companies were bought.
pub(in crate::ledger) fn bought_for(ctx: &Ctx, decisions: &[Read], t: Day) -> HashMap<CompanyIndex, BoughtFor> {
    let mut all: HashMap<CompanyIndex, BoughtFor> = HashMap::new();
    for d in decisions.iter().filter(|d| d.body.choice == Choice::Buy) {
        let Some(company) = d.company else { continue };
        let splits = ctx.engine.as_of(t).company(company).splits_since(d.decided_on);
        let of = BoughtFor {
            thesis: d.body.reasons.thesis.lines().next().unwrap_or_default().to_owned(),
            value_then: d.body.seen.value.map(|v| six_digits(v / splits)),
            due: d.review_on().is_some_and(|day| day <= t),
            lesson: d.lesson(),
            closed: d.closed(),
            decision: d.id.clone(),
        };
        if all.get(&company).is_none_or(|known| known.closed) {
            all.insert(company, of);
        }
    }
    all
}

/// From which screen each company came that was bought: that of the first decision that names one.
pub(in crate::ledger) fn origins(decisions: &[Read]) -> HashMap<CompanyIndex, &str> {
    let mut all = HashMap::new();
    for d in decisions.iter().filter(|d| d.body.choice == Choice::Buy) {
        if let Some((company, screen)) = d.company.zip(d.body.screen.as_ref()) {
            all.entry(company).or_insert(screen.name.as_str());
        }
    }
    all
}

/// The decisions of the person as of a day.
///
/// # Errors
/// A day outside the data, an unknown company or index; when they cannot be read.
pub fn decisions(ctx: &Ctx, request: &DecisionsRequest) -> Result<DecisionsPage, AppError> {
    let t = ctx.date(request.as_of)?;
    let only = request.symbol.as_deref().map(|s| ctx.find(s)).transpose()?;
    let index = index_compared(ctx, t, request.index.as_deref())?;
    let states = order_states(ctx, t)?;
    let all: Vec<Read> = read(ctx, t)?.into_iter().filter(|d| only.is_none() || d.company == only).collect();
    let rows: Vec<DecisionRow> = all.iter().rev().map(|d| row(ctx, d, t, index.as_deref(), &states)).collect();
    let counted: Vec<&DecisionRow> = rows.iter().filter(|r| !r.not_carried_out).collect();
    let of = |wanted: &dyn Fn(&DecisionRow) -> bool| record(&counted.iter().filter(|r| wanted(r)).map(|r| judged(r)).collect::<Vec<_>>());
    let screens: BTreeMap<&str, &Screened> = counted.iter().filter_map(|r| r.screen.as_ref()).map(|s| (s.id.as_str(), s)).collect();
    let of_screen = |s: &Screened| ScreenRecord {
        screen: s.clone(),
        record: of(&|r| r.choice == Choice::Buy && r.screen.as_ref().is_some_and(|of| of.id == s.id)),
    };
    Ok(DecisionsPage {
        as_of: t,
        settled: of(&|r| r.settled),
        so_far: of(&|_| true),
        put_away: of(&|r| r.choice == Choice::NotNow),
        screens: screens.into_values().map(of_screen).collect(),
        index,
        decisions: rows,
    })
}

fn judged(r: &DecisionRow) -> Judged {
    Judged { confidence: r.confidence, right: r.right, excess: r.share_since.zip(r.index_since).map(|(own, index)| own - index) }
}

pub(super) fn row(ctx: &Ctx, d: &Read, t: Day, index: Option<&str>, states: &HashMap<String, (OrderState, bool)>) -> DecisionRow {
    let then: Option<CompanyAt<'_>> = d.company.map(|i| ctx.engine.as_of(d.decided_on).company(i));
    let now = then.as_ref().map(|c| c.at(t));
    let since = then.as_ref().and_then(|c| outcome(&ctx.engine, c, t, index));
    let on_basis = |amount: Option<f64>| {
        let splits = now.as_ref().map_or(1.0, |c| c.splits_since(d.decided_on));
        amount.map(|a| six_digits(a / splits))
    };
    let state = d.order.as_ref().and_then(|o| states.get(o));
    let over = |s: &OrderState| matches!(s, OrderState::Expired | OrderState::Cancelled);
    let (seen, reasons) = (&d.body.seen, &d.body.reasons);
    DecisionRow {
        id: d.id.clone(),
        decided_on: d.decided_on,
        symbol: now.as_ref().map_or_else(String::new, |c| c.symbol().to_owned()),
        name: now.as_ref().map_or_else(|| d.known.name.clone(), |c| c.company().name.clone()),
        choice: d.body.choice,
        order: d.order.clone(),
        order_state: state.map(|s| s.0),
        not_carried_out: state.is_some_and(|(state, filled)| over(state) && !filled),
        thesis: reasons.thesis.clone(),
        wrong: reasons.wrong.clone(),
        confidence: reasons.confidence,
        screen: d.body.screen.clone(),
        currency: seen.currency.clone(),
        price_then: on_basis(seen.price),
        value_then: on_basis(seen.value),
        verdict_then: seen.verdict.clone(),
        price_now: now.as_ref().and_then(|c| c.price().ok()).map(six_digits),
        share_since: since.and_then(|s: Outcome| s.share.ok()).map(six_digits),
        index_since: since.and_then(|s| s.index).map(six_digits),
        settled: since.is_some_and(|s| s.settled),
        right: since.and_then(|s| s.proves(d.body.choice)),
        review_on: d.review_on(),
        due: d.review_on().is_some_and(|day| day <= t),
        closed: d.closed(),
        lesson: d.lesson(),
        reviews: d.reviews.len(),
    }
}
