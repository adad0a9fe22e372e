//! Why a figure is undefined.

use crate::domain::Item;
use serde::{Serialize, Serializer};
use std::fmt;

/// A figure: its value, or the reason why there is none. Never NaN; infinite only for [`Why::NoDebtCost`]'s special value.
pub type Num = Result<f64, Why>;

/// The reason why a figure is undefined.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Why {
    /// The statements known at the date do not carry this item.
    NoItem(Item),
    /// No session on or before the date.
    NoPrice,
    /// No volume is known of some of the sessions.
    NoVolume,
    /// No exchange rate at most 31 days old, directly or through a third currency.
    NoFx,
    /// The dataset has no dividends or splits at all.
    NoActions,
    /// The company has no insider trades in the dataset.
    NoInsiderData,
    /// The company has no ownership rows in the dataset.
    NoOwnership,
    /// No estimate published in the last 12 months.
    NoEstimate,
    /// No interest or inflation rate for the reporting currency.
    NoRate,
    /// Nobody is known in that office.
    NoOfficer,
    /// The company belongs to no index with levels.
    NoIndex,
    /// Trading turned at no such price twice.
    NoLevel,
    /// The company's own record has no such text.
    NoText,
    /// The newest period ended more than 15 months before the date.
    Stale,
    /// Fewer years, months or sessions than the measure needs.
    HistoryTooShort,
    /// A denominator, or an end of a growth rate, is zero or negative.
    NotPositive,
    /// Arithmetic without an answer: division by zero, a root of a negative number, overflow.
    NoAnswer,
    /// The measure means nothing for this kind of company.
    NotMeaningful,
    /// Fewer than five companies to compare with.
    FewPeers,
    /// Fewer than three valuations, or all of one model.
    TooLittle,
    /// The answer lies outside the range searched.
    OutsideRange,
    /// There is no debt cost to cover: better than every number, but no number.
    NoDebtCost,
    /// The company is not listed and traded at the date.
    NotListed,
}

impl fmt::Display for Why {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let text = match self {
            Why::NoItem(item) => return write!(f, "no {}", item.label()),
            Why::NoPrice => "no price",
            Why::NoVolume => "the volume of a session is not known",
            Why::NoFx => "no exchange rate",
            Why::NoActions => "no dividend data",
            Why::NoInsiderData => "no insider data",
            Why::NoOwnership => "no ownership data",
            Why::NoEstimate => "no estimate",
            Why::NoRate => "no interest rate",
            Why::NoOfficer => "no such officer",
            Why::NoIndex => "in no index",
            Why::NoLevel => "no such level",
            Why::NoText => "not given",
            Why::Stale => "stale",
            Why::HistoryTooShort => "history too short",
            Why::NotPositive => "denominator not positive",
            Why::NoAnswer => "no answer",
            Why::NotMeaningful => "not meaningful for this kind",
            Why::FewPeers => "fewer than 5 peers",
            Why::TooLittle => "too little to value",
            Why::OutsideRange => "outside range",
            Why::NoDebtCost => "no debt cost",
            Why::NotListed => "not listed at this date",
        };
        f.write_str(text)
    }
}

impl Serialize for Why {
    fn serialize<S: Serializer>(&self, s: S) -> Result<S::Ok, S::Error> {
        s.collect_str(self)
    }
}
