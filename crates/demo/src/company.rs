//! One company from its beginnings: its character drawn, then books, filings, prices, people.

use crate::{
    analysts, books, calendar,
    character::{Character, Ending, Fate, Reporting},
    economy::{Economy, QUARTERS, STATES, currency, day},
    filings, indexes,
    industries::INDUSTRIES,
    insiders, mistakes,
    names::Name,
    people, press, prices,
    quarter::Quarter,
    random::Chance,
    stories,
};
use artemon_core::domain::{Company, Day, Kind, Listing, Record};

/// The share of companies that leave the exchange in a year, and the first day on which one does.
const LEAVING: f64 = 0.0235;
const FIRST_LEAVE: (i32, u32, u32) = (2007, 7, 2);

/// A company with all its rows, of whatever day.
#[derive(Debug)]
pub(crate) struct Made {
    pub(crate) records: Vec<Record>,
    /// What indexes need to know of it.
    pub(crate) weight: indexes::Weight,
}

/// Everything that ever happens to one company.
pub(crate) fn make(index: usize, name: &Name, seed: u64, economy: &Economy) -> Made {
    let (c, books) = with_books(character(index, name, seed), economy);
    let due = filings::due(&c);
    let mut market = prices::trade(&c, &books, &due, economy);
    let weight = indexes::Weight::of(&c, &books, &market, economy);
    let mut out = vec![Record::Company(record(&c, name)), Record::Listing(listing(&c))];
    out.extend(second_listing(&c).or_else(|| second_class(&c)).map(Record::Listing));
    let people = people::all(&c);
    let crowns_on = filings::crowns_on(&c, &due);
    filings::file(&c, &books, &market, due, &mut out);
    analysts::estimate(&c, &books, &market, crowns_on, &mut out);
    out.extend(people.iter().filter(|_| !c.unknown_officers).map(|p| p.officer(&c)));
    insiders::trade(&c, &market, people, &mut out);
    insiders::own(&c, &mut out);
    press::report(&c, name, &books, &market, &mut out);
    calendar::announce(&c, &mut out);
    mistakes::in_prices(&c, &mut market.bars);
    market.records(&c, &mut out);
    Made { records: out, weight }
}

/// Whether a company that leaves the exchange fails or is bought shows in its books of the time.
fn with_books(c: Character, economy: &Economy) -> (Character, Vec<Quarter>) {
    let books = books::keep(&c, economy);
    let Some((end, Ending::Takeover)) = c.delisted.filter(|_| c.story.is_none()) else { return (c, books) };
    if soundness(&books[..Economy::quarter_of(end).saturating_sub(c.dying)]) >= c.endures {
        return (c, books);
    }
    // The exchange stops trading in some before it is known that nothing is left.
    let mut x = Chance::new(c.seed, c.index, 14);
    let stopped = (end.plus_days(-21 - i32::try_from(x.below(64)).unwrap_or(0)), end);
    let suspended = if x.happens(0.4) { Some(stopped) } else { c.suspended };
    let c = Character { delisted: Some((end, Ending::Failure)), suspended, ..c };
    let books = books::keep(&c, economy);
    (c, books)
}

/// How sound a company has looked over its last three years: its quality as others see it, less what it owes.
fn soundness(books: &[Quarter]) -> f64 {
    let last = &books[books.len().saturating_sub(12)..];
    let of = |q: &Quarter| 0.5 * q.quality.clamp(-0.5, 1.0) - 2.5 * (q.short_debt + q.long_debt) / q.total_assets().max(1.0);
    last.iter().map(of).sum::<f64>() / last.len().max(1) as f64
}

fn character(index: usize, name: &Name, seed: u64) -> Character {
    let mut x = Chance::new(seed, index, 10);
    let industry = &INDUSTRIES[name.industry];
    let reporting = match x.below(10) {
        0..7 => Reporting::Quarterly,
        7..9 => Reporting::HalfYearly,
        _ => Reporting::Yearly,
    };
    let quality = (0.5 * x.normal()).clamp(-1.1, 1.1);
    let family = x.happens(0.25);
    let listed_on = if x.happens(0.62) { day((1975 + i32::try_from(x.below(31)).unwrap_or(0), 3, 1)) } else { a_day(&mut x, 2007, 2026) };
    let delisted = leaves(&mut x, listed_on).map(|end| (end, Ending::Takeover));
    let state = [0, 0, 0, 1, 1, 2][x.below(6)];
    let c = Character {
        id: format!("MR{index:05}").into(),
        symbol: name.symbol.as_str().into(),
        index,
        seed,
        industry,
        state,
        abroad: x.happens([0.0, 0.05, 0.15][state]),
        acquirer: if x.happens(0.2) { x.between(0.1, 0.6) } else { 0.0 },
        preferred: x.happens(0.05),
        silent: x.happens(0.08),
        unknown_officers: x.happens(0.03),
        reporting,
        quality,
        growth: 0.045 + 0.02 * quality + 0.025 * x.normal(),
        leverage: if x.happens(0.16) { x.between(0.63, 0.90) } else { (0.045 + 0.15 * x.normal() + 0.03 * quality).clamp(0.0, 0.75) },
        payout: if x.happens(0.70) { x.between(0.3, 0.75) } else { 0.0 },
        buyback: if x.happens(0.4) {
            x.between(0.05, 0.35)
        } else if x.happens(0.4) {
            -x.between(0.05, 0.3)
        } else {
            0.0
        },
        wobble: (0.5 * x.normal()).exp().clamp(0.3, 2.2),
        working: [x.between(0.05, 0.19), x.between(0.03, 0.17), x.between(0.13, 0.35)],
        capital: match industry.kind {
            Kind::Property => x.between(5.0, 8.0),
            Kind::Bank => x.between(1.6, 2.5),
            Kind::Insurer => x.between(0.5, 0.9),
            Kind::Holding | Kind::Fund => x.between(8.0, 14.0),
            _ => (0.45 + 1.3 * industry.gross_margin) * (1.0 + 0.2 * quality) * (0.4 * x.normal()).exp().clamp(0.4, 2.2),
        },
        revenue: (17.2 + 1.5 * x.normal().clamp(-2.6, 1.8)).exp(),
        year_end: [12, 12, 12, 12, 6, 9, 3][x.below(7)],
        listed_on,
        delisted,
        dying: 4 + x.below(8),
        endures: -0.38 + 0.1 * x.normal(),
        insiders: if family { x.between(0.2, 0.6) } else { x.between(0.001, 0.055) },
        family,
        story: None,
        fate: Fate::Ordinary,
        minority: 0.0,
        of_book: if industry.kind == Kind::Fund { x.between(0.85, 1.02) } else { x.between(0.5, 0.9) },
        crowns_from: None,
        second_class: false,
        suspended: None,
        filing_days: 28 + i32::try_from(x.below(45)).unwrap_or(0),
    };
    if mistakes::carries_one(c.index) {
        return Character { delisted: None, listed_on: day((1991, 3, 1)), reporting: Reporting::Quarterly, abroad: false, ..c };
    }
    let c = stories::told(fated(c));
    if c.story.is_some() { c } else { peculiar(c) }
}

/// Gives some companies what few have: other owners in their subsidiaries, a second class of shares, another currency from some year
/// on, weeks without trading.
fn peculiar(c: Character) -> Character {
    let mut x = Chance::new(c.seed, c.index, 13);
    let operates = c.industry.kind == Kind::Operating;
    let minority = if operates && x.happens(0.08) { x.between(0.05, 0.3) } else { 0.0 };
    let crowns_from = (c.abroad && x.happens(0.35)).then(|| 2011 + i32::try_from(x.below(14)).unwrap_or(0));
    let second_class = !c.abroad && operates && x.happens(if c.family { 0.08 } else { 0.01 });
    let (out_of_the_blue, day, days) = (x.happens(0.03), a_day(&mut x, 2008, 2026), 21 + i32::try_from(x.below(64)).unwrap_or(0));
    let suspended = (out_of_the_blue && c.trades_on(day.plus_days(days))).then(|| (day, day.plus_days(days)));
    Character { minority, crowns_from, second_class, suspended: suspended.filter(|s| c.trades_on(s.0)), ..c }
}

/// Gives some operating companies a fate of their own, and what goes with it.
fn fated(c: Character) -> Character {
    if c.industry.kind != Kind::Operating {
        return c;
    }
    let mut x = Chance::new(c.seed, c.index, 12);
    let from = 12 + x.below(QUARTERS - 24);
    match x.below(100) {
        0..15 => {
            Character { fate: Fate::Melts(from), quality: c.quality.min(0.0), payout: c.payout.max(0.4), buyback: c.buyback.max(0.0), ..c }
        }
        15..18 => Character { fate: Fate::Turns(from), ..c },
        18..23 => Character { fate: Fate::Compounds, quality: c.quality.max(0.7), leverage: 0.5 * c.leverage, ..c },
        23..27 => {
            let (acquirer, leverage) = (x.between(0.35, 0.8), x.between(0.55, 0.75));
            Character { fate: Fate::RollsUp, acquirer, leverage, payout: 0.0, buyback: 0.0, ..c }
        }
        27..31 => Character { fate: Fate::Dilutes, buyback: -x.between(0.3, 0.8), payout: 0.0, ..c },
        _ => c,
    }
}

/// When a company leaves the exchange, if it does by the end of the feed: one in fifty a year, from three years after it came.
fn leaves(x: &mut Chance, listed_on: Day) -> Option<Day> {
    let years = -x.between(0.0, 1.0).max(f64::MIN_POSITIVE).ln() / LEAVING;
    let from = listed_on.plus_months(36).max(day(FIRST_LEAVE));
    let end = from.plus_days((years * 365.25).min(36_500.0) as i32);
    (end <= crate::World::end_of_feed().plus_months(12)).then_some(end)
}

fn a_day(x: &mut Chance, from: i32, to: i32) -> Day {
    let year = from + i32::try_from(x.below(usize::try_from(to - from).unwrap_or(0) + 1)).unwrap_or(0);
    let month = u32::try_from(1 + x.below(12)).unwrap_or(1);
    day((year, month, 15))
}

fn record(c: &Character, name: &Name) -> Company {
    let mut x = Chance::new(c.seed, c.index, 11);
    let reach = [
        "It sells at home only",
        "Half of its sales are made abroad",
        "It is known in all three states",
        "Its customers are within a day's sail",
        "Seven of ten crowns come from its oldest works",
        "It began as a partnership of two families",
        "Its largest customer takes a fifth of what it makes",
        "It has grown by opening one branch after another",
    ][x.below(8)];
    Company {
        id: c.id.clone(),
        name: name.name.clone(),
        country: STATES[c.state].country.to_owned(),
        sector: c.industry.sector.to_owned(),
        industry: c.industry.name.to_owned(),
        currency: currency(STATES[if c.crowns_from.is_some() { 0 } else { c.state }].currency),
        fiscal_year_end_month: u8::try_from(c.year_end).ok(),
        kind: c.industry.kind,
        description: stories::part_of(c.index).map_or_else(
            || format!("{}. {reach}. Seat in {}.", c.industry.does, STATES[c.state].name),
            |part| format!("{}. {}", c.industry.does, part.tells),
        ),
        employees: Some((c.revenue / x.between(30_000.0, 90_000.0) * 4.0).round().max(12.0)),
        founded: Some(c.listed_on.year() - 3 - i32::try_from(x.below(70)).unwrap_or(0)),
        lei: String::new(),
    }
}

fn listing(c: &Character) -> Listing {
    let at = &STATES[c.exchange()];
    Listing {
        symbol: c.symbol.clone(),
        company_id: c.id.clone(),
        mic: at.mic.to_owned(),
        isin: isin(STATES[c.state].country, c.index),
        currency: currency(at.currency),
        shares_per_unit: c.shares_a_unit(),
        primary: true,
        listed_on: Some(c.listed_on),
        delisted_on: c.delisted.map(|d| d.0),
        delisting_return: c.delisted.map(|d| if d.1 == Ending::Failure { -1.0 } else { 0.0 }),
    }
}

/// Companies listed abroad keep a listing at home, which is not the one that prices are of.
fn second_listing(c: &Character) -> Option<Listing> {
    let home = &STATES[c.state];
    c.abroad.then(|| Listing {
        symbol: format!("{}.H", c.symbol).into(),
        mic: home.mic.to_owned(),
        isin: String::new(),
        currency: currency(home.currency),
        shares_per_unit: 1.0,
        primary: false,
        ..listing(c)
    })
}

/// Shares of a second class are listed beside those of the first; prices that count are the first's.
fn second_class(c: &Character) -> Option<Listing> {
    let isin = isin(STATES[c.state].country, SECOND_CLASSES + c.index);
    c.second_class.then(|| Listing { symbol: c.second_symbol(), isin, primary: false, ..listing(c) })
}

/// Where the numbers of second classes begin.
const SECOND_CLASSES: usize = 5_000_000;

/// The one of ten endings that is the check digit.
fn isin(country: &str, index: usize) -> String {
    let body = format!("{country}{:09}", 1000 + index);
    let all = (0..10).map(|d| format!("{body}{d}"));
    all.into_iter().find(|i| artemon_core::domain::is_isin(i)).unwrap_or(body)
}
