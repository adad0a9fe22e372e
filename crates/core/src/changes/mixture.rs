//! Starting figures of which some are of one date and the rest of another.

use crate::{
    Num,
    domain::Day,
    engine::Context,
    panel::{CompanyAt, CompanyIndex},
    valuation::{CompanyValue, Inputs, Override, Premises},
};
use serde::Serialize;
use std::sync::Arc;

/// A group of what a value is computed from.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Cause {
    /// Statements, dividends, splits and ownership.
    Filings,
    /// What analysts expect.
    Estimates,
    /// Yields of bonds, and inflation.
    Rates,
    /// The multiples usual in its own history.
    OwnMultiples,
    /// Exchange rates between the currency of its accounts and that of its price.
    Currencies,
    /// The set of assumptions, and what is assumed of the company.
    Assumptions,
    /// The price, by which debt and equity are weighed.
    Price,
}

impl Cause {
    /// All of them, the weightiest kind first.
    pub const ALL: [Cause; 7] =
        [Cause::Filings, Cause::Estimates, Cause::Rates, Cause::OwnMultiples, Cause::Currencies, Cause::Assumptions, Cause::Price];

    /// As one says it.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Cause::Filings => "filings",
            Cause::Estimates => "estimates",
            Cause::Rates => "rates",
            Cause::OwnMultiples => "own multiples",
            Cause::Currencies => "currencies",
            Cause::Assumptions => "assumptions",
            Cause::Price => "price",
        }
    }

    pub(super) const fn bit(self) -> u32 {
        1 << self as u32
    }
}

/// One of the two dates: what was started from, on the split basis of the later date.
pub(super) struct Side<'s> {
    pub(super) company: CompanyAt<'s>,
    pub(super) value: CompanyValue,
    pub(super) inputs: Inputs,
    pub(super) premises: Premises<'s>,
    /// The product of the split ratios between this date and the later one.
    pub(super) splits: f64,
}

impl<'s> Side<'s> {
    pub(super) fn new(context: &'s Context, t: Day, company: CompanyIndex, later: &CompanyAt<'_>) -> Side<'s> {
        let value = context.value_company(t, company);
        let splits = later.splits_since(t);
        let inputs = value.found.on_basis(splits);
        Side { company: context.as_of(t).company(company), value, inputs, premises: context.settings().premises(), splits }
    }

    /// What is assumed of the company.
    pub(super) fn own(&self) -> Option<&'s Arc<Override>> {
        self.premises.overrides.of(&self.company.company().id)
    }
}

/// Both dates.
pub(super) struct Mixture<'s> {
    pub(super) before: Side<'s>,
    pub(super) after: Side<'s>,
}

impl<'s> Mixture<'s> {
    /// The side of a cause in a mixture, given by the bits of the causes that have changed.
    pub(super) fn side(&self, changed: u32, cause: Cause) -> &Side<'s> {
        if changed & cause.bit() == 0 { &self.before } else { &self.after }
    }

    /// The starting figures of a mixture.
    pub(super) fn inputs(&self, changed: u32) -> Inputs {
        let of = |cause| &self.side(changed, cause).inputs;
        let (multiples, rates) = (of(Cause::OwnMultiples), of(Cause::Rates));
        let mut filings = of(Cause::Filings).clone();
        if let Some(exchanged) = self.exchanged(changed) {
            filings.amounts().into_iter().for_each(|amount| *amount = amount.and_then(|a| Ok(a * exchanged?)));
        }
        Inputs {
            price: of(Cause::Price).price,
            analysts_growth: of(Cause::Estimates).analysts_growth,
            own_pe: multiples.own_pe,
            own_ps: multiples.own_ps,
            own_pb: multiples.own_pb,
            own_ev_ebit: multiples.own_ev_ebit,
            own_pffo: multiples.own_pffo,
            inflation: rates.inflation,
            aaa_yield: rates.aaa_yield,
            government_yield: rates.government_yield,
            ..filings
        }
    }

    /// What amounts of the filings of one date are multiplied by for the exchange rate of the other; `None` when both are of one
    /// date.
    fn exchanged(&self, changed: u32) -> Option<Num> {
        let (filings, market) = (&self.side(changed, Cause::Filings).company, &self.side(changed, Cause::Currencies).company);
        let then = || market.fx(filings.reporting_currency(), market.listing_currency());
        (filings.t() != market.t()).then(|| Ok(then()? / filings.reporting_to_listing()?))
    }

    /// Whether a cause changed anything.
    pub(super) fn moved(&self, cause: Cause) -> bool {
        if cause == Cause::Assumptions {
            let (before, after) = (&self.before, &self.after);
            return before.premises.assumptions != after.premises.assumptions || before.own() != after.own();
        }
        let all = Cause::ALL.into_iter().map(Cause::bit).sum::<u32>();
        self.inputs(0) != self.inputs(cause.bit()) || self.inputs(all) != self.inputs(all & !cause.bit())
    }

    /// The days of the filings that came between the dates, oldest first.
    pub(super) fn filings(&self) -> Vec<Day> {
        let mut days = self.after.company.filings_after(self.before.company.t()).to_vec();
        days.dedup();
        days
    }
}
