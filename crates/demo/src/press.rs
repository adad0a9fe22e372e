//! What the papers wrote of a company: results, dividends, splits, offers and ends, and the chapters of its story.

use crate::{
    character::{Character, Ending, Story},
    economy::{Economy, day},
    names::Name,
    prices::Traded,
    quarter::Quarter,
    random::Chance,
};
use artemon_core::domain::{Day, Item, News, Period, Record, Statement};

const PAPERS: [&str; 4] = ["The Reach Gazette", "Harbour Courier", "Calder Ledger", "Vesper Lamp"];
/// Growth of earnings beyond which a headline speaks of it.
const NOTABLE: f64 = 0.12;

pub(crate) fn report(c: &Character, name: &Name, books: &[Quarter], market: &Traded, out: &mut Vec<Record>) {
    let mut x = Chance::new(c.seed, c.index, 70);
    let mut written: Vec<(Day, String, String)> = Vec::new();
    results(&name.name, out, &mut x, &mut written);
    actions(&name.name, books, market, &mut written);
    notices(c, &name.name, &mut written);
    endings(c, &name.name, market, &mut x, &mut written);
    written.extend(chapters(c.story).iter().map(|&(d, h, s)| (day(d), format!("{} {h}", name.name), s.to_owned())));
    let record = |(date, headline, summary): (Day, String, String)| {
        let (hour, minute) = (6 + x.below(11), x.below(60));
        Record::News(Box::new(News {
            company_id: Some(c.id.clone()),
            published_at: format!("{date}T{hour:02}:{minute:02}:00Z"),
            headline,
            summary,
            source: PAPERS[if x.happens(0.6) { 0 } else { 1 + x.below(3) }].to_owned(),
        }))
    };
    let on_sessions = |(date, headline, summary)| (crate::calendar::weekday(date), headline, summary);
    let news: Vec<Record> = written.into_iter().map(on_sessions).filter(|w| c.trades_on(w.0)).map(record).collect();
    out.extend(news);
}

/// Yearly results against those of the year before.
fn results(name: &str, filed: &[Record], x: &mut Chance, out: &mut Vec<(Day, String, String)>) {
    let mut before: Option<&Statement> = None;
    for year in filed.iter().filter_map(|r| match r {
        Record::Statement(s) if s.period == Period::FY && s.items.get(Item::Revenue).is_some() => Some(s),
        _ => None,
    }) {
        if let Some(pair) = before.and_then(|b| figures(b, year)) {
            out.extend(result(name, year, pair, x));
        }
        before = Some(year);
    }
}

/// Income and revenue of a year and of the one before.
fn figures(before: &Statement, now: &Statement) -> Option<[f64; 4]> {
    let of = |s: &Statement, item| s.items.get(item);
    Some([of(before, Item::NetIncome)?, of(now, Item::NetIncome)?, of(before, Item::Revenue)?, of(now, Item::Revenue)?])
}

fn result(name: &str, year: &Statement, [was, is, sold, sells]: [f64; 4], x: &mut Chance) -> Option<(Day, String, String)> {
    let sales = format!(
        "Sales {} {:.0} % in {}.",
        if sells >= sold { "rose" } else { "fell" },
        (sells / sold - 1.0).abs() * 100.0,
        year.fiscal_year
    );
    let change = is / was - 1.0;
    let said = match (was > 0.0, is > 0.0) {
        (true, false) => {
            ["slips into the red", "ends the year with a loss", "loses money for the first time in a while"][x.below(3)].to_owned()
        }
        (false, true) => ["earns money again", "is out of the red", "turns the corner"][x.below(3)].to_owned(),
        (false, false) => ["stays in the red", "loses money for another year"][x.below(2)].to_owned(),
        _ if change > 1.0 => "more than doubles its earnings".to_owned(),
        _ if change > NOTABLE => [
            format!("earns {:.0} % more", change * 100.0),
            "lifts earnings on fuller books".to_owned(),
            "has its best year so far".to_owned(),
        ][if x.happens(0.6) { 0 } else { 1 }]
        .clone(),
        _ if change < -NOTABLE => {
            [format!("earns {:.0} % less", -change * 100.0), "feels weaker orders".to_owned(), "warns of a thin year ahead".to_owned()]
                [if x.happens(0.6) { 0 } else { 1 + x.below(2) }]
            .clone()
        }
        _ if x.happens(0.35) => ["holds its earnings", "reports a year without surprises"][x.below(2)].to_owned(),
        _ => return None,
    };
    Some((year.filed_on, format!("{name} {said}"), sales))
}

fn actions(name: &str, books: &[Quarter], market: &Traded, out: &mut Vec<(Day, String, String)>) {
    for (date, ratio) in &market.splits {
        let headline =
            if *ratio > 1.0 { format!("{name} splits its shares {ratio:.0} for 1") } else { format!("{name} puts ten shares together") };
        out.push((date.plus_days(-24), headline, "Holders need do nothing.".to_owned()));
    }
    let specials = market.dividends.iter().filter(|d| d.special);
    for paid in specials {
        out.push((
            paid.ex_date.plus_days(-24),
            format!("{name} pays a special dividend"),
            "It has more in its till than its works need.".to_owned(),
        ));
    }
    let regular: Vec<_> = market.dividends.iter().filter(|d| !d.special).collect();
    for pair in regular.windows(2).filter(|w| w[1].ex_date.days_since(w[0].ex_date) > 400) {
        out.push((pair[1].ex_date.plus_days(-24), format!("{name} pays a dividend again"), String::new()));
    }
    let written_off = (8..books.len()).filter(|q| books[*q].written_off > 0.2 * books[*q].revenue);
    for q in written_off {
        let date = Economy::first_day(q).plus_days(118);
        out.push((date, format!("{name} writes off what it bought"), "It paid more for others than they earn.".to_owned()));
    }
    let bought = (8..books.len()).filter(|q| books[*q].acquired > 0.0);
    for q in bought {
        let date = Economy::first_day(q).plus_days(30);
        out.push((date, format!("{name} buys a smaller rival"), "The price is paid in cash and from credit.".to_owned()));
    }
}

/// Trading that stops and goes on, and a change of the currency of reports.
fn notices(c: &Character, name: &str, out: &mut Vec<(Day, String, String)>) {
    if let Some((from, to)) = c.suspended {
        out.push((from, format!("{name}: trading suspended"), "The exchange waits for figures that it can believe.".to_owned()));
        if c.trades_on(to) {
            out.push((to, format!("{name} is traded again"), String::new()));
        }
    }
    if let Some(year) = c.crowns_from {
        let said = format!("Most of its sales are made there. It begins with the fiscal year {year}.");
        out.push((day((year, 1, 15)), format!("{name} will report in Orrin crowns"), said));
    }
}

fn endings(c: &Character, name: &str, market: &Traded, x: &mut Chance, out: &mut Vec<(Day, String, String)>) {
    match (c.delisted, market.offer) {
        (Some((end, Ending::Takeover)), Some(offer)) => {
            let premium = format!("The offer is {:.0} % above the last price.", offer.premium * 100.0);
            out.push((offer.made_on, format!("{name} to be bought at {:.2} a share", offer.price), premium));
            out.push((end.plus_days(-3), format!("{name} leaves the exchange"), "Nearly all holders took the offer.".to_owned()));
        }
        (Some((end, Ending::Failure)), _) => {
            let doubts = ["asks its lenders for time", "cannot renew its credit", "puts off its accounts"][x.below(3)];
            out.push((end.plus_days(-200), format!("{name} {doubts}"), String::new()));
            out.push((end.plus_days(-2), format!("{name} closes its doors"), "Nothing will be left for its owners.".to_owned()));
        }
        _ => {}
    }
}

type Chapter = ((i32, u32, u32), &'static str, &'static str);

/// What was written of the characters.
fn chapters(story: Option<Story>) -> &'static [Chapter] {
    match story {
        Some(Story::Steady) => &[((2026, 5, 12), "turns away orders for want of looms", "A new hall is to open in the autumn.")],
        Some(Story::Trap) => {
            &[((2019, 2, 4), "loses the sole right to its fever drops", "Two rivals sell them at half the price from today.")]
        }
        Some(Story::Issuer) => &[((2025, 9, 22), "issues new shares once more", "It is the sixth issue in as many years.")],
        Some(Story::FamilyBuys) => {
            &[((2025, 11, 3), "founders add to their holding again", "The family now holds close to half of all shares.")]
        }
        Some(Story::Recovered) => &[
            ((2020, 9, 14), "lays up half its fleet", "Lenders grant time until the spring."),
            ((2021, 12, 6), "sells its two northern lines", "The price repays a third of its debt."),
        ],
        Some(Story::Cluster) => &[
            ((2026, 3, 20), "works burn down", "Nobody was hurt. It will be eight weeks before lamps are made again."),
            ((2026, 6, 8), "lights its furnaces again", "Four of its directors have bought shares since the fire."),
        ],
        Some(Story::Fraud) => &[(
            (2026, 4, 27),
            "has grown by a quarter once more",
            "Asked about unpaid bills, its chief speaks of generous terms for large customers.",
        )],
        Some(Story::Peak) => &[((2025, 10, 6), "cannot saw as fast as it sells", "Its chief warns that such prices do not last.")],
        Some(Story::OneOff) => &[((2026, 2, 16), "sells its old harbour sheds", "Warehouses will be built in their place.")],
        Some(Story::BuysBack) => {
            &[((2026, 1, 19), "will go on buying its own shares", "A third of all shares has been bought back in ten years.")]
        }
        Some(Story::Hollow) => &[((2019, 2, 25), "borrows to pay its owners", "The special dividend is nine years of earnings.")],
        Some(Story::Bargain) => &[((2024, 6, 3), "earns next to nothing", "It owes nobody anything.")],
        Some(Story::Late) => &[
            ((2025, 12, 1), "puts off its accounts", "Its auditors ask for more time."),
            ((2026, 2, 9), "main holder has pledged shares", "They secure a loan for a villa and a yacht yard."),
        ],
        None => &[],
    }
}
