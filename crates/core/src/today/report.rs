//! The page between two days as a document, for the command line and whoever reads on by program.

use super::{
    Coming, Followed, Gauge, MovedBy, Mover, Movers, MovesOver, NewFlags, Purchases, Standing, UnderPrice, VerdictChange, YearlyLows,
    coming, gauge, gauge_at, gauge_days, movers, new_flags, newest_headline, purchases, standing, under_my_price, verdict_changes,
    yearly_lows,
};
use crate::{
    Num,
    domain::{Currency, Day, EventKind, Period, Role},
    engine::{Context, Section, Settings},
    formula::FormulaError,
    panel::{CompanyIndex, Snapshot},
    quality::FLAGS,
    screening::{self, Screen, UniverseError},
    valuation::Verdict,
};
use serde::{Deserialize, Serialize};

/// What is asked: two days, whom one follows, which screens.
#[derive(Clone, Debug, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Asked {
    /// The currency of whole-company amounts; that of the settings when there is none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub base: Option<Currency>,
    /// The earlier day.
    pub last_visit: Day,
    /// The later day.
    pub today: Day,
    /// How many days ahead dates are told.
    #[serde(default = "a_fortnight")]
    pub days_ahead: i32,
    /// How many rises and falls are told.
    #[serde(default = "a_few")]
    pub movers: usize,
    /// Whom one follows.
    pub followed: Vec<AskedOf>,
    /// Names of screens.
    #[serde(default)]
    pub screens: Vec<String>,
}

const fn a_fortnight() -> i32 {
    14
}

const fn a_few() -> usize {
    3
}

/// A company that one follows.
#[derive(Clone, Debug, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct AskedOf {
    /// Symbol, ISIN or id.
    pub symbol: String,
    /// What one would pay.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub price: Option<f64>,
}

/// Why there is no report.
#[derive(Debug, thiserror::Error)]
pub enum ReportError {
    /// No company has the symbol.
    #[error("no company has the symbol, ISIN or id \"{0}\"")]
    Unknown(String),
    /// A screen that cannot be run.
    #[error("the screen \"{0}\" cannot be run: {1}")]
    Screen(String, UniverseError),
    /// A shipped measure is missing.
    #[error(transparent)]
    Formula(#[from] FormulaError),
}

/// The page as a document: one part a section.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct Report {
    pub under_my_price: Vec<UnderLine>,
    pub insiders_bought: Vec<InsiderLine>,
    pub yearly_lows: LowLines,
    pub screens: Vec<ScreenLine>,
    pub movers: MoverLines,
    pub coming: Vec<ComingLine>,
    pub new_flags: Vec<FlagLine>,
    pub verdict_changes: Vec<VerdictLine>,
    pub gauge: GaugePair,
    pub gauge_ten_years: GaugeYears,
}

/// A company under one's price; amounts a traded unit in the listing's currency.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct UnderLine {
    pub symbol: String,
    pub price: f64,
    pub limit: f64,
    /// "typed" or "buy_below".
    pub limit_is: &'static str,
    /// The how manieth session in a row.
    pub day: usize,
    pub since: Day,
    pub new: bool,
}

/// What the insiders of a company bought.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct InsiderLine {
    pub symbol: String,
    pub amount_base: f64,
    pub cluster: bool,
    pub executive: bool,
    pub after_a_fall: bool,
    pub late: bool,
    pub people: Vec<BuyerLine>,
    /// Ids of the filings.
    pub trades: Vec<String>,
}

/// One of the buyers.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct BuyerLine {
    pub insider_id: String,
    pub role: Option<Role>,
    pub purchases: usize,
    /// In the listing's currency.
    pub amount: f64,
    pub against_held: Vec<Option<f64>>,
    pub nth_in_12_months: Option<u32>,
}

/// Who is at a yearly low.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct LowLines {
    pub sound: Vec<LowLine>,
    pub all: Vec<String>,
    pub count: usize,
}

/// A sound company at its low.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct LowLine {
    pub symbol: String,
    pub soundness: &'static str,
    pub from_low_52w: f64,
    pub quality: f64,
    pub red_flags: f64,
}

/// What changed in a screen.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct ScreenLine {
    pub screen: String,
    pub name: String,
    pub entered: Vec<String>,
    pub left: Vec<String>,
    pub now: usize,
}

/// Who moved most over each length of time.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct MoverLines {
    pub day: RisesAndFalls,
    pub week: RisesAndFalls,
    pub month: RisesAndFalls,
}

/// Over one of them.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct RisesAndFalls {
    pub rises: Vec<MoverLine>,
    pub falls: Vec<MoverLine>,
}

/// A company that moved, with its newest headline.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct MoverLine {
    pub symbol: String,
    pub change: f64,
    pub headline: Option<String>,
    pub published_at: Option<String>,
}

/// A date ahead.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct ComingLine {
    pub date: Day,
    pub symbol: String,
    pub kind: EventKind,
}

/// Flags raised since.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct FlagLine {
    pub symbol: String,
    pub flags: Vec<&'static str>,
}

/// A verdict that changed: each pair before and after.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct VerdictLine {
    pub symbol: String,
    pub before: Option<Verdict>,
    pub after: Verdict,
    pub price: [Option<f64>; 2],
    pub buy_below: [Option<f64>; 2],
    pub quality: [Option<f64>; 2],
    pub by: Option<Vec<MovedBy>>,
    pub filings: Vec<FilingLine>,
}

/// A period that was filed in between.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct FilingLine {
    pub fiscal_year: i32,
    pub period: Period,
    pub filed_on: Day,
}

/// The market on both days.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct GaugePair {
    pub last_visit: Gauge,
    pub today: Gauge,
}

/// The market at the end of a month.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct GaugeMonth {
    pub date: Day,
    #[serde(flatten)]
    pub gauge: Gauge,
}

/// The market over ten years, by month.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct GaugeYears {
    pub months: Vec<GaugeMonth>,
    pub median_pe_rank: Option<f64>,
    pub median_price_to_value_rank: Option<f64>,
    pub median_of_median_pe: Option<f64>,
}

/// The page between two days. Screens come with the names by which they are asked for.
///
/// # Errors
/// An unknown company, a screen that cannot be run.
pub fn report(context: &Context, asked: &Asked, screens: &[(String, Screen)]) -> Result<Report, ReportError> {
    let base = asked.base.unwrap_or(context.settings().base);
    let context = &context.with(Settings { base, ..context.settings().clone() });
    let (t, since) = (asked.today, asked.last_visit);
    let (now, then) = (Section::new(context, t), Section::new(context, since));
    let lines = Lines { context, snapshot: context.snapshot(), t };
    let followed = followed(context.snapshot(), &asked.followed)?;
    Ok(Report {
        under_my_price: under_my_price(context, t, since, &followed, usize::MAX).into_iter().map(|u| lines.under(u)).collect(),
        insiders_bought: purchases(&now, since).into_iter().map(|p| lines.insiders(p)).collect(),
        yearly_lows: lines.lows(&yearly_lows(context, &now)),
        screens: screens.iter().map(|(name, screen)| lines.screen(name, screen, (&then, &now))).collect::<Result<_, _>>()?,
        movers: lines.movers(&now, asked.movers),
        coming: coming(context, t, asked.days_ahead, followed.iter().map(|f| f.company)).into_iter().map(|c| lines.coming(c)).collect(),
        new_flags: new_flags(context, t, since, &followed).into_iter().map(|f| lines.flags(&f)).collect(),
        verdict_changes: verdict_changes(context, t, since, &followed).into_iter().map(|v| lines.verdict(&v)).collect(),
        gauge: GaugePair { last_visit: gauge(&then)?, today: gauge(&now)? },
        gauge_ten_years: years(context, t)?,
    })
}

fn followed(snapshot: &Snapshot, asked: &[AskedOf]) -> Result<Vec<Followed>, ReportError> {
    let find = |a: &AskedOf| {
        let company = snapshot.find(&a.symbol).ok_or_else(|| ReportError::Unknown(a.symbol.clone()))?;
        Ok(Followed { company, typed: a.price })
    };
    asked.iter().map(find).collect()
}

fn years(context: &Context, t: Day) -> Result<GaugeYears, FormulaError> {
    let days = gauge_days(context, t);
    let months: Vec<Gauge> = days.iter().map(|d| gauge_at(context, *d)).collect::<Result<_, _>>()?;
    let at = standing(&months);
    Ok(GaugeYears {
        months: days.into_iter().zip(months).map(|(date, gauge)| GaugeMonth { date, gauge }).collect(),
        median_pe_rank: at.median_pe_rank,
        median_price_to_value_rank: at.median_price_to_value_rank,
        median_of_median_pe: at.median_of_median_pe,
    })
}

/// What is found, as lines of the document.
struct Lines<'a> {
    context: &'a Context,
    snapshot: &'a Snapshot,
    t: Day,
}

impl Lines<'_> {
    fn symbol(&self, company: CompanyIndex) -> String {
        self.snapshot.symbol(company).to_owned()
    }

    fn under(&self, u: UnderPrice) -> UnderLine {
        let limit_is = if u.typed { "typed" } else { "buy_below" };
        UnderLine { symbol: self.symbol(u.company), price: u.price, limit: u.limit, limit_is, day: u.sessions, since: u.since, new: u.new }
    }

    fn insiders(&self, p: Purchases<'_>) -> InsiderLine {
        let buyer = |b: super::Buyer<'_>| BuyerLine {
            insider_id: b.newest.insider_id.to_string(),
            role: b.newest.role,
            purchases: b.purchases,
            amount: b.amount,
            against_held: b.of_holding,
            nth_in_12_months: b.purchase_of_year,
        };
        InsiderLine {
            symbol: self.symbol(p.company),
            amount_base: p.amount,
            cluster: p.cluster,
            executive: p.executive,
            after_a_fall: p.after_a_fall,
            late: p.late,
            people: p.buyers.into_iter().map(buyer).collect(),
            trades: p.trades.iter().map(|(t, _)| t.filing_id.to_string()).collect(),
        }
    }

    #[allow(clippy::cast_precision_loss)]
    fn lows(&self, lows: &YearlyLows) -> LowLines {
        let line = |s: &super::SoundLow| LowLine {
            symbol: self.symbol(s.company),
            soundness: ["I", "II", "III", "IV"][usize::from(s.soundness) - 1],
            from_low_52w: s.from_low,
            quality: s.quality,
            red_flags: s.red_flags as f64,
        };
        let all: Vec<String> = lows.all.iter().map(|c| self.symbol(*c)).collect();
        LowLines { sound: lows.sound.iter().map(line).collect(), count: all.len(), all }
    }

    fn screen(&self, name: &str, screen: &Screen, (then, now): (&Section<'_>, &Section<'_>)) -> Result<ScreenLine, ReportError> {
        let changes = screening::changes(screen, then, now).map_err(|e| ReportError::Screen(name.to_owned(), e))?;
        let symbols = |of: &[screening::Change]| of.iter().map(|c| self.symbol(c.company)).collect();
        Ok(ScreenLine {
            screen: name.to_owned(),
            name: screen.name.clone(),
            entered: symbols(&changes.entered),
            left: symbols(&changes.left),
            now: changes.stayed + changes.entered.len(),
        })
    }

    fn movers(&self, now: &Section<'_>, count: usize) -> MoverLines {
        let line = |m: &Mover| {
            let news = newest_headline(&self.context.as_of(self.t).company(m.company));
            MoverLine {
                symbol: self.symbol(m.company),
                change: m.change,
                headline: news.map(|n| n.headline.clone()),
                published_at: news.map(|n| n.published_at.clone()),
            }
        };
        let of = |over| {
            let Movers { rises, falls } = movers(now, over, count);
            RisesAndFalls { rises: rises.iter().map(line).collect(), falls: falls.iter().map(line).collect() }
        };
        MoverLines { day: of(MovesOver::Day), week: of(MovesOver::Week), month: of(MovesOver::Month) }
    }

    fn coming(&self, c: Coming) -> ComingLine {
        ComingLine { date: c.date, symbol: self.symbol(c.company), kind: c.kind }
    }

    fn flags(&self, f: &NewFlags) -> FlagLine {
        FlagLine { symbol: self.symbol(f.company), flags: f.flags.iter().map(|i| FLAGS[*i].id).collect() }
    }

    fn verdict(&self, v: &VerdictChange) -> VerdictLine {
        let c = self.context.as_of(self.t).company(v.company);
        let pair = |of: fn(&Standing) -> Num| [v.before.as_ref().and_then(|b| of(b).ok()), of(&v.after).ok()];
        let filing = |p: &u32| {
            let (fiscal_year, period) = c.label(*p);
            FilingLine { fiscal_year, period, filed_on: c.first_filed(*p) }
        };
        VerdictLine {
            symbol: self.symbol(v.company),
            before: v.before.map(|b| b.verdict),
            after: v.after.verdict,
            price: pair(|s| s.price),
            buy_below: pair(|s| s.buy_below),
            quality: pair(|s| s.quality),
            by: v.before.map(|_| v.by.clone()),
            filings: v.filings.iter().map(filing).collect(),
        }
    }
}
