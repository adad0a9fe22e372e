//! Double-entry books, quarter by quarter, in whole units: every balance sheet balances, cash flow ties to cash, and
//! equity rolls forward.

use crate::{
    character::{Character, Fate, Story},
    economy::{Economy, QUARTERS},
    quarter::{Quarter, TAX_RATE},
    random::Chance,
    regimes, stories,
};
use artemon_core::domain::Kind;

/// What a fall of output by one part in a hundred takes from the margin of a usual company.
const CYCLE_IN_MARGIN: f64 = 0.85;
/// The share of a stray margin that nobody counts on.
const COMES_BACK: f64 = 0.6;
/// The share of losses that is saved by cuts.
const CUT: f64 = 0.5;
/// By which share margins of the good stray less.
const STEADIER: f64 = 0.75;
/// Quality below which a company is bad.
const BAD: f64 = -0.3;
/// What a unit of quality adds to margin.
const QUALITY_IN_MARGIN: f64 = 0.109;
/// Turns of usual earnings that are paid for a unit of growth a year, for one of quality, and for one of past growth, which many
/// believe will go on.
const FOR_GROWTH: f64 = 80.0;
const FOR_QUALITY: f64 = 6.2;
const FOR_PAST: f64 = 4.0;
/// By which share of the difference others correct what they believe of quality in a quarter.
const LEARNS: f64 = 0.08;
/// How much too high others think the growth of a trade that melts.
const UNSEEN: f64 = 0.07;
/// Revenue of a quarter above which growth slows.
const LARGE: f64 = 3e8;
/// Interest a year on debt.
const DEBT_RATE: f64 = 0.0234;
/// Cash that a company keeps, in quarters of revenue; what lies idle above that, and how much of it is paid out a quarter.
const ENOUGH_CASH: f64 = 0.39;
const IDLE_ABOVE: f64 = 0.15;
const IDLE_PAID: f64 = 0.2;

/// What changes from quarter to quarter beside the books.
struct Course {
    quality: f64,
    /// Quality as others have come to believe in: they follow its changes slowly.
    believed: f64,
    growth: f64,
    /// Growth that others still believe in though it is over.
    unseen: f64,
    margin_shift: f64,
    /// What makers' cost takes from gross margin, and overhead gives back.
    gross_shift: f64,
    /// How much longer customers take to pay.
    later: f64,
    season: [f64; 4],
}

/// The books of one company from its first quarter to the last.
pub(crate) fn keep(c: &Character, economy: &Economy) -> Vec<Quarter> {
    let mut x = Chance::new(c.seed, c.index, 20);
    let swing = x.between(0.0, 0.12);
    let phase = x.below(4);
    let season = std::array::from_fn(|q| 1.0 + swing * if (q + phase).is_multiple_of(4) { 1.0 } else { -1.0 / 3.0 });
    let mut course = Course {
        quality: c.quality,
        believed: c.quality,
        growth: c.growth,
        unseen: 0.0,
        margin_shift: 0.0,
        gross_shift: 0.0,
        later: 1.0,
        season,
    };
    let mut books: Vec<Quarter> = vec![opening(c, &mut x)];
    for q in 1..QUARTERS {
        course.go_on(c, q, books[q - 1].revenue, &mut x);
        let mut next = quarter(c, &books[q - 1], &course, q, economy, &mut x);
        next.appeal += FOR_PAST * grown(&books, &next);
        books.push(next);
    }
    books
}

/// Usual earnings' growth a year over five years, within bounds; none while there is no such past or no profit.
fn grown(books: &[Quarter], now: &Quarter) -> f64 {
    let before = books.len().checked_sub(20).map_or(0.0, |i| books[i].normal_eps);
    if before <= 0.0 || now.normal_eps <= 0.0 { 0.0 } else { ((now.normal_eps / before).powf(0.2) - 1.0).clamp(-0.15, 0.25) }
}

impl Course {
    /// Quality fades towards the mean over decades, growth towards what quality and size allow.
    fn go_on(&mut self, c: &Character, q: usize, revenue: f64, x: &mut Chance) {
        // The bad are mended or given up sooner than the good grow idle.
        let back = if self.quality < BAD { 0.055 } else { 0.006 };
        self.quality += back * (0.0 - self.quality) + 0.052 * x.normal();
        self.quality = self.quality.clamp(-1.2, 1.2);
        self.believed += LEARNS * (self.quality - self.believed);
        // The largest have nobody left to take customers from.
        let size = (revenue / LARGE).ln().max(0.0);
        self.growth += 0.05 * (0.050 + 0.018 * self.quality - 0.02 * size - self.growth) + 0.006 * x.normal();
        // The good are steadier.
        let steadier = (1.0 - STEADIER * self.quality).clamp(0.35, 1.7);
        self.margin_shift = 0.915 * self.margin_shift + 0.0190 * c.wobble * steadier * x.normal();
        self.gross_shift = 0.8 * self.gross_shift + 0.034 * x.normal();
        if c.is_dying(q) {
            self.growth = self.growth.min(-0.10);
            self.margin_shift -= 0.014;
        }
        if c.story.is_none() {
            self.follow(c.fate, q);
        }
        match c.story {
            Some(Story::Steady) => {
                self.quality = self.quality.max(0.6);
                self.growth = self.growth.clamp(0.05, 0.09);
                self.margin_shift = 0.0;
            }
            Some(Story::Trap) if q > 58 => {
                self.quality = 0.35 - 0.009 * (q - 58) as f64;
                self.growth = self.growth.clamp(-0.03, -0.02);
                self.margin_shift = 0.0;
            }
            Some(Story::Recovered) if (64..72).contains(&q) => self.margin_shift -= 0.045,
            Some(Story::Recovered) if q >= 72 => self.margin_shift = self.margin_shift.max(-0.01),
            Some(Story::FamilyBuys | Story::Cluster) => self.quality = self.quality.max(0.3),
            Some(Story::Hollow) => self.quality = self.quality.max(0.55),
            Some(Story::BuysBack) => self.quality = self.quality.max(0.6),
            Some(Story::Issuer) => self.growth = self.growth.max(0.08),
            Some(Story::Fraud) => {
                self.quality = self.quality.max(0.1);
                self.growth = if q > 76 { 0.24 } else { self.growth.max(0.08) };
                self.later += if q > 76 { 0.15 } else { 0.0 };
            }
            Some(Story::Peak) if q > 80 => self.margin_shift = 0.09,
            Some(Story::Bargain) => {
                self.quality = -0.3;
                self.margin_shift = 0.0;
                self.growth = self.growth.clamp(-0.02, 0.01);
            }
            Some(Story::Late) => self.quality = self.quality.min(0.0),
            _ => {}
        }
    }
}

impl Course {
    fn follow(&mut self, fate: Fate, q: usize) {
        match fate {
            Fate::Dilutes | Fate::RollsUp => self.quality = self.quality.min(0.1),
            Fate::Melts(from) if q < from => self.quality = self.quality.min(-0.05),
            Fate::Melts(_) => {
                self.growth = self.growth.clamp(-0.07, -0.03);
                self.quality -= 0.017;
                self.unseen = UNSEEN;
            }
            Fate::Turns(at) if (at..at + 8).contains(&q) => self.margin_shift -= 0.03,
            Fate::Turns(at) if (at + 8..at + 20).contains(&q) => self.margin_shift = (self.margin_shift + 0.02).min(0.01),
            Fate::Compounds => {
                self.quality = self.quality.max(0.5);
                self.growth = self.growth.max(0.06);
                self.margin_shift *= 0.9;
            }
            _ => {}
        }
    }
}

fn opening(c: &Character, x: &mut Chance) -> Quarter {
    let revenue = c.revenue.round();
    let year = 4.0 * revenue;
    let capital = year * c.capital;
    let debt = if c.is_financial() { 0.0 } else { (capital * c.leverage).round() };
    let receivables = (year * c.working[0]).round();
    let inventory = if c.industry.gross_margin < 1.0 { (year * c.working[1]).round() } else { 0.0 };
    let payables = (year * c.working[2]).round();
    let entrusted = match c.industry.kind {
        Kind::Bank => (capital * 9.0).round(),
        Kind::Insurer => (capital * 2.5).round(),
        _ => 0.0,
    };
    let cash = (year * x.between(0.03, 0.08)).round() + entrusted;
    let fixed = (capital - receivables - inventory + payables).max(capital * 0.3).round();
    let equity = cash + receivables + inventory + fixed - payables - debt - entrusted;
    let short_debt = (debt * 0.2).round();
    Quarter {
        revenue,
        cash,
        receivables,
        inventory,
        fixed,
        payables,
        short_debt,
        long_debt: debt - short_debt,
        equity,
        retained: (equity * 0.6).round(),
        shares: (year / x.between(6.0, 40.0)).round().max(500_000.0),
        preferred: if c.preferred { (0.12 * equity.max(0.0)).round() } else { 0.0 },
        entrusted,
        ..Quarter::default()
    }
}

fn quarter(c: &Character, last: &Quarter, course: &Course, q: usize, economy: &Economy, x: &mut Chance) -> Quarter {
    let mut now = Quarter { shares: last.shares, preferred: last.preferred, ..Quarter::default() };
    trade(c, last, course, q, economy, x, &mut now);
    stories::happen(c, q, &mut now);
    spend(c, last, course, x, &mut now);
    acquire(c, last, q, x, &mut now);
    finance(c, last, q, x, &mut now);
    now.normal_operating = 4.0 * normal_operating(c, course, &now, q);
    let normal_income = (now.normal_operating - 4.0 * now.interest) * (1.0 - TAX_RATE) * (1.0 - c.minority) - 4.0 * now.preferred_dividends;
    now.normal_eps = normal_income / now.shares;
    now.outlook = course.growth;
    now.quality = seen(course, &now);
    now.believed = course.believed;
    now.appeal = FOR_GROWTH * (course.growth + course.unseen) + FOR_QUALITY * course.believed;
    now
}

/// Quality as those outside can see it: in margins, growth and debt.
fn seen(course: &Course, now: &Quarter) -> f64 {
    let debt = now.short_debt + now.long_debt;
    let owed = debt / (debt + now.equity.max(0.0)).max(1.0);
    course.quality + course.margin_shift / QUALITY_IN_MARGIN + 5.0 * (course.growth - 0.05) - 0.7 * (owed - 0.3)
}

/// Share of revenue left after operating cost in a usual quarter.
fn usual_margin(c: &Character, course: &Course) -> f64 {
    let usual = match c.industry.kind {
        Kind::Bank => 0.32,
        Kind::Insurer => 0.09,
        Kind::Property => 0.45,
        Kind::Holding | Kind::Fund => 0.55,
        Kind::Operating => 0.036 + 0.22 * (c.industry.gross_margin - 0.2),
    };
    let margin = usual + (QUALITY_IN_MARGIN + 0.15 * (usual - 0.05).max(0.0)) * course.quality + course.margin_shift;
    // Who loses money cuts what it can.
    margin - CUT * margin.min(0.0)
}

/// Fixed preferred dividends of a quarter.
const PREFERRED_RATE: f64 = 0.06;
/// Margin below which purchases have not paid.
const POOR_MARGIN: f64 = 0.02;
/// What a purchased company costs above its net assets.
const GOODWILL_SHARE: f64 = 0.6;

/// Every few years an acquirer buys another company, with cash and debt.
fn acquire(c: &Character, last: &Quarter, q: usize, x: &mut Chance, now: &mut Quarter) {
    let often = if c.fate == Fate::RollsUp { 0.16 } else { 0.05 };
    let due = c.acquirer > 0.0 && x.happens(often) && q > 8;
    if due && now.net_income() > 0.0 {
        now.acquired = (c.acquirer * 4.0 * now.revenue * 0.46).round();
        let goodwill = (now.acquired * GOODWILL_SHARE).round();
        now.goodwill += goodwill;
        now.fixed += now.acquired - goodwill;
    }
    now.preferred_dividends = (last.preferred * PREFERRED_RATE / 4.0).round();
}

/// Of a quarter.
fn normal_operating(c: &Character, course: &Course, now: &Quarter, q: usize) -> f64 {
    let revenue = now.revenue / course.season[q % 4];
    // What margins have strayed from their mean will come back to it in part.
    revenue * (usual_margin(c, course) - COMES_BACK * course.margin_shift + regimes::margin_shift(c.industry.name, q))
}

/// How far a company goes along with the cycle: makers of what can wait far more than those of what is needed every day.
fn swings(c: &Character) -> f64 {
    c.industry.cyclicality.powf(3.0)
}

/// Sales and their cost.
fn trade(c: &Character, last: &Quarter, course: &Course, q: usize, economy: &Economy, x: &mut Chance, now: &mut Quarter) {
    let season = course.season[q % 4] / course.season[(q + 3) % 4];
    let cycle = 1.0 + swings(c) * (economy.cycle[q] - economy.cycle[q - 1]) * 1.6;
    let steady = if c.story == Some(Story::Steady) { 0.2 } else { 1.0 };
    let growth = (1.0 + course.growth).powf(0.25) * cycle.powf(steady) * (0.016 * steady * x.normal()).exp();
    now.revenue = (last.revenue * season * growth).round().max(1000.0);
    let decreed = regimes::margin_shift(c.industry.name, q);
    let margin =
        usual_margin(c, course) + decreed + steady * (swings(c) * economy.cycle[q] * CYCLE_IN_MARGIN + 0.008 * c.wobble * x.normal());
    let gross = (c.industry.gross_margin
        + 0.05 * course.quality
        + course.margin_shift
        + steady * course.gross_shift
        + 0.3 * steady * economy.cycle[q] * swings(c))
    .clamp((margin.max(0.02) + 0.02).min(0.9), 0.97);
    now.cost = if c.industry.gross_margin < 1.0 { (now.revenue * (1.0 - gross)).round() } else { (now.revenue * 0.2).round() };
    let gross = now.revenue - now.cost;
    let operating = (now.revenue * margin).round();
    now.research = if c.industry.sector == "Technology" || c.industry.sector == "Health" { (gross * 0.12).round() } else { 0.0 };
    now.selling = gross - now.research - operating;
    now.depreciation = (last.fixed * if c.industry.kind == Kind::Property { 0.006 } else { 0.022 }).round();
    now.interest = ((last.short_debt + last.long_debt) * DEBT_RATE / 4.0).round();
    now.one_off = if x.happens(0.012) { (now.revenue * x.between(-0.25, 0.35)).round() } else { 0.0 };
    now.written_off = written_off(last, margin, x);
    now.goodwill = last.goodwill - now.written_off;
    now.tax = ((now.pretax() + now.written_off).max(0.0) * TAX_RATE).round();
    now.minority_income = (c.minority * (now.pretax() + now.written_off - now.tax).max(0.0)).round();
    now.minority = last.minority + now.minority_income;
    now.stock_pay = (now.revenue * 0.002 * (1.0 + course.quality.max(0.0))).round();
}

/// Goodwill is written off when what was bought does not earn what it cost, and now and then of a sudden.
fn written_off(last: &Quarter, margin: f64, x: &mut Chance) -> f64 {
    let due = x.happens(if margin < POOR_MARGIN { 0.2 } else { 0.006 });
    let lost = x.between(0.4, 0.9);
    if due { (lost * last.goodwill).round() } else { 0.0 }
}

/// Working capital and investment; operating cash flow follows.
fn spend(c: &Character, last: &Quarter, course: &Course, x: &mut Chance, now: &mut Quarter) {
    let year = 4.0 * now.revenue;
    now.receivables = (0.7 * last.receivables + 0.3 * year * c.working[0] * course.later * (1.0 + 0.05 * x.normal())).round();
    now.inventory = if c.industry.gross_margin < 1.0 { (0.7 * last.inventory + 0.3 * year * c.working[1]).round() } else { 0.0 };
    now.payables = (0.7 * last.payables + 0.3 * year * c.working[2]).round();
    // Works are renewed in leaps.
    let leap = if x.happens(0.1) { x.between(3.5, 9.0) } else { 0.52 };
    now.capex = (now.depreciation * (1.0 + 7.5 * course.growth.clamp(-0.08, 0.2)) * leap * (1.0 + 0.2 * x.normal()).max(0.2)).round();
    now.fixed = last.fixed - now.depreciation + now.capex;
    let working = (now.receivables - last.receivables) + (now.inventory - last.inventory) - (now.payables - last.payables);
    now.entrusted = (last.entrusted * (1.0 + course.growth / 4.0)).round();
    let earned = now.net_income() + now.minority_income + now.written_off;
    now.operating_cash = earned + now.depreciation + now.stock_pay - working + (now.entrusted - last.entrusted);
}

/// Dividends, buybacks, new shares and debt; what is left is cash.
fn finance(c: &Character, last: &Quarter, q: usize, x: &mut Chance, now: &mut Quarter) {
    let income = now.net_income();
    let price = fair_share_price(last);
    let enough = (now.revenue * ENOUGH_CASH).round() + now.entrusted;
    let before = last.cash + now.operating_cash - now.capex - now.acquired - now.preferred_dividends;
    now.dividends = if before > enough && last.normal_eps > 0.0 {
        (c.payout * last.normal_eps * last.shares / 4.0).round().min((before - enough).max(0.0))
    } else {
        0.0
    };
    let spare = before - now.dividends - enough;
    // Money that lies idle goes back to the owners, a little each quarter.
    let idle = (IDLE_PAID * (spare - now.revenue * IDLE_ABOVE)).max(0.0).round();
    if c.buyback > 0.0 && spare > 0.0 {
        now.repurchased = (c.buyback * income.max(0.0) + idle).round().min(spare).max(0.0);
        now.shares -= (now.repurchased / price).floor().min(now.shares * 0.03);
    } else if idle > 0.0 && now.dividends > 0.0 {
        // Small sums raise the dividend; large ones are gathered and paid beside it once a year.
        match idle > now.dividends {
            false => now.dividends += idle,
            true if q % 4 == 1 => now.special += (2.0 * idle).min(spare),
            true => {}
        }
    } else if c.buyback < 0.0 && x.happens(0.3) {
        now.issued += (-c.buyback * now.revenue * 0.46).round();
    }
    let owners = now.dividends + now.special;
    borrow(c, last, now, before - owners - now.repurchased + now.issued, enough);
    now.shares += (now.issued / price).floor();
    now.cash = before - owners - now.repurchased + now.issued + now.debt_issued - now.debt_repaid;
    now.equity = last.equity + income + now.stock_pay - owners - now.preferred_dividends - now.repurchased + now.issued;
    now.retained = last.retained + income - owners - now.preferred_dividends;
}

/// Debt moves slowly towards its usual share of capital; a hole in cash is filled by debt first, then by new shares.
fn borrow(c: &Character, last: &Quarter, now: &mut Quarter, cash: f64, enough: f64) {
    let debt = last.short_debt + last.long_debt;
    if c.is_financial() {
        if cash < enough {
            now.issued += (enough - cash).round();
        }
        return;
    }
    let target = (last.equity.max(0.0) + debt) * c.leverage;
    let wish = (0.06 * (target - debt)).round();
    if cash < enough {
        let hole = (enough - cash).round();
        now.debt_issued = if c.story == Some(Story::Hollow) || debt < 1.4 * last.equity.max(0.0) { hole } else { (hole * 0.4).round() };
        now.issued += hole - now.debt_issued;
    } else if wish > 0.0 {
        now.debt_issued = wish;
    } else {
        let surplus = if cash > enough * 2.0 { 0.1 * (cash - enough * 2.0) } else { 0.0 };
        now.debt_repaid = (-wish + surplus).round().min(debt).min(cash - enough).max(0.0).round();
    }
    let after = debt + now.debt_issued - now.debt_repaid;
    now.short_debt = (after * 0.2).round();
    now.long_debt = after - now.short_debt;
}

/// A plain idea of what a share is worth: twelve times usual earnings, at least what it would be sold for.
pub(crate) fn fair_share_price(q: &Quarter) -> f64 {
    (12.0 * q.normal_eps).max(q.sold_for()).max(0.05)
}
