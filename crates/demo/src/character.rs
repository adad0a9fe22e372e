//! What a company is like, and which part it plays.

use crate::{economy::Economy, industries::Industry};
use artemon_core::domain::{Day, Kind};
use std::sync::Arc;

/// How often a company reports.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Reporting {
    Quarterly,
    HalfYearly,
    Yearly,
}

/// What a company is like.
#[derive(Debug)]
pub(crate) struct Character {
    pub(crate) id: Arc<str>,
    pub(crate) symbol: Arc<str>,
    pub(crate) index: usize,
    pub(crate) seed: u64,
    pub(crate) industry: &'static Industry,
    pub(crate) state: usize,
    pub(crate) reporting: Reporting,
    /// Quality between −1 and 1 at the beginning; it persists and fades.
    pub(crate) quality: f64,
    /// Growth a year towards which sales tend at first.
    pub(crate) growth: f64,
    /// Debt towards which it tends, as a share of invested capital.
    pub(crate) leverage: f64,
    /// Share of income paid out.
    pub(crate) payout: f64,
    /// Share of income spent on buying back shares (negative: shares issued).
    pub(crate) buyback: f64,
    /// How much its margins change beside those of a usual company.
    pub(crate) wobble: f64,
    /// Receivables, inventory and payables as shares of a year's revenue.
    pub(crate) working: [f64; 3],
    /// Invested capital for one unit of a year's revenue.
    pub(crate) capital: f64,
    /// Revenue of its first quarter.
    pub(crate) revenue: f64,
    /// Last month of its fiscal year.
    pub(crate) year_end: u32,
    pub(crate) listed_on: Day,
    /// When and how it leaves the exchange.
    pub(crate) delisted: Option<(Day, Ending)>,
    /// Quarters for which it loses ground before its end, when it fails: some for years, some within a season.
    pub(crate) dying: usize,
    /// Quality as others see it below which it fails when it leaves.
    pub(crate) endures: f64,
    /// Listed in Orrin, in crowns and in units of several shares, though its seat is elsewhere.
    pub(crate) abroad: bool,
    /// Share of a year's revenue that it spends on a purchase of another company, in a year in which it makes one.
    pub(crate) acquirer: f64,
    /// Has preferred shares.
    pub(crate) preferred: bool,
    /// Its insiders file no trades.
    pub(crate) silent: bool,
    /// Nobody has written down who runs it.
    pub(crate) unknown_officers: bool,
    /// Share of the company in insiders' hands.
    pub(crate) insiders: f64,
    pub(crate) family: bool,
    pub(crate) story: Option<Story>,
    pub(crate) fate: Fate,
    /// Share of its income that belongs to other owners of its subsidiaries.
    pub(crate) minority: f64,
    /// The part of its book at which a holding company or a fund is priced.
    pub(crate) of_book: f64,
    /// The fiscal year from which a company of another state, listed in Orrin, reports in crowns.
    pub(crate) crowns_from: Option<i32>,
    /// Has shares of a second class, with fewer votes, listed beside the first.
    pub(crate) second_class: bool,
    /// From which day on its shares are not traded, and from which again.
    pub(crate) suspended: Option<(Day, Day)>,
    /// Days from period end to the filing.
    pub(crate) filing_days: i32,
}

/// What a business is bound for, whatever chance brings.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Fate {
    Ordinary,
    /// Its trade shrinks from a quarter of the books on, and fewer believe it than should.
    Melts(usize),
    /// Loses money for two years from a quarter of the books on, and comes back.
    Turns(usize),
    /// Good, growing, and known for it.
    Compounds,
    /// Buys one company after the other, on credit.
    RollsUp,
    /// Pays its way with new shares.
    Dilutes,
}

/// How a company leaves the exchange.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Ending {
    /// Its shares become worthless.
    Failure,
    /// Another buys all shares, at a premium.
    Takeover,
}

/// Shares that one unit of a company listed abroad stands for.
pub(crate) const SHARES_A_UNIT: f64 = 4.0;

/// A scripted part.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Story {
    /// Earns more almost every year and has fallen to its yearly low all the same.
    Steady,
    /// Looks cheap and earns it: margins sink year by year.
    Trap,
    /// Issues shares every year.
    Issuer,
    /// The founding family buys quarter after quarter.
    FamilyBuys,
    /// Nearly went under and has come back.
    Recovered,
    /// Insiders bought in a cluster after a fall.
    Cluster,
    /// Books sales that never become cash.
    Fraud,
    /// Earns more than ever at the top of its cycle and looks cheap for it.
    Peak,
    /// A sale of land makes one year's earnings look large.
    OneOff,
    /// Buys back its own shares year after year.
    BuysBack,
    /// Borrowed to pay its owners more than it had: negative equity.
    Hollow,
    /// Priced below its net current assets.
    Bargain,
    /// Files late, and its controlling holder has pledged the shares.
    Late,
}

impl Character {
    pub(crate) fn is_financial(&self) -> bool {
        matches!(self.industry.kind, Kind::Bank | Kind::Insurer)
    }

    /// The state on whose exchange its primary listing is.
    pub(crate) const fn exchange(&self) -> usize {
        if self.abroad { 0 } else { self.state }
    }

    /// Shares that one traded unit stands for.
    pub(crate) const fn shares_a_unit(&self) -> f64 {
        if self.abroad { SHARES_A_UNIT } else { 1.0 }
    }

    /// Whether it keeps part of its money in short-term investments.
    pub(crate) fn keeps_investments(&self) -> bool {
        self.industry.kind == Kind::Operating && self.index.is_multiple_of(4)
    }

    /// Whether it loses ground in a quarter of the books, on its way to failure.
    pub(crate) fn is_dying(&self, quarter: usize) -> bool {
        let end = self.delisted.filter(|d| d.1 == Ending::Failure).map(|d| Economy::quarter_of(d.0));
        end.is_some_and(|end| quarter + self.dying >= end)
    }

    /// Whether its shares are listed on a day.
    pub(crate) fn trades_on(&self, day: Day) -> bool {
        self.listed_on <= day && self.delisted.is_none_or(|d| day < d.0)
    }

    /// Whether trading in its shares is suspended on a day.
    pub(crate) fn is_suspended(&self, day: Day) -> bool {
        self.suspended.is_some_and(|(from, to)| from <= day && day < to)
    }

    /// The symbol of its shares of the second class.
    pub(crate) fn second_symbol(&self) -> Arc<str> {
        format!("{}.B", self.symbol).into()
    }

    /// Whether it is priced by what it owns.
    pub(crate) fn holds_others(&self) -> bool {
        matches!(self.industry.kind, Kind::Holding | Kind::Fund)
    }
}
