//! What a company's page says: its sentences, its years and its newest trades, of a company of each kind and of those with
//! something odd about them. Read line by line before they were taken.

use crate::{golden, now};
use artemon_app::{CompanyPage, Figure, Owners, company_page, owners};
use std::fmt::Write;

fn short(figure: &Figure) -> String {
    let told = serde_json::to_value(figure).unwrap();
    match told["value"].as_f64() {
        Some(v) if v.abs() >= 1e6 => format!("{:.3}m", v / 1e6),
        Some(v) => format!("{v:.4}"),
        None => format!("({})", told["reason"].as_str().unwrap_or("?")),
    }
}

/// The page as lines.
fn lines(page: &CompanyPage, owners: &Owners) -> String {
    let mut out = String::new();
    let c = &page.company;
    writeln!(out, "{} {} · {} · {} · {} as of {}", c.symbol, c.name, c.kind, page.base, page.currency, page.as_of).unwrap();
    for a in &page.answers {
        writeln!(out, "[{}] {} {}", serde_json::to_value(a.mark).unwrap().as_str().unwrap(), a.question, a.sentence).unwrap();
    }
    writeln!(out, "{}", page.record.sentence).unwrap();
    for y in page.years.iter().take(5) {
        let estimated = if y.estimated { " estimated" } else { "" };
        let figures = [
            ("eps", &y.eps),
            ("revenue", &y.revenue),
            ("margin", &y.net_margin),
            ("roe", &y.roe),
            ("fcf", &y.free_cash_flow),
            ("low", &y.price_low),
            ("high", &y.price_high),
            ("pe", &y.pe_low),
            ("to", &y.pe_high),
        ];
        let all: Vec<String> = figures.iter().map(|(name, f)| format!("{name} {}", short(f))).collect();
        writeln!(out, "{}{estimated}: {}", y.fiscal_year, all.join(" · ")).unwrap();
    }
    for t in owners.trades.iter().take(3) {
        let counts = if t.counts { "" } else { " (does not count)" };
        writeln!(
            out,
            "{} {} {} {:.0} at {:.2} {} = {}{counts}",
            t.traded_on,
            t.role,
            t.what,
            t.shares,
            t.price.unwrap(),
            t.currency,
            short(&t.amount)
        )
        .unwrap();
    }
    out
}

/// Operating, bank, insurer, property, holding, fund; losses, negative equity, no debt, two listings' currencies, a taken-over,
/// a wiped-out, a stale and a fresh one.
const SYMBOLS: [&str; 14] =
    ["DRUA", "NEVN", "TANO", "QUAP", "VELQ", "BRAR", "BRAM", "TANE", "TORD", "MIRJ", "VELT", "TANS", "FENU", "OLIW"];

#[test]
fn pages_say_what_they_said() {
    let (_folder, home) = golden();
    let mut said = String::new();
    for symbol in SYMBOLS {
        let page = company_page(&now(&home), symbol, None).unwrap_or_else(|e| panic!("{symbol}: {e}"));
        let owners = owners(&now(&home), symbol, None).unwrap();
        writeln!(said, "{}", lines(&page, &owners)).unwrap();
    }
    insta::assert_snapshot!(said);
}

/// What stands beside every year of a company means something for its kind: no column is empty in all of them.
#[test]
fn no_column_of_the_years_is_empty() {
    let (_folder, home) = golden();
    for (symbol, kind) in [("DRUA", "operating"), ("NEVN", "bank"), ("TANO", "insurer"), ("QUAP", "property"), ("VELQ", "holding")] {
        let page = company_page(&now(&home), symbol, None).unwrap();
        assert_eq!(page.company.kind, kind, "{symbol}");
        assert!(page.year_columns.len() > 2, "{symbol}");
        for (i, column) in page.year_columns.iter().enumerate() {
            let known = page.years.iter().filter_map(|y| y.of_kind.get(i)).any(|f| serde_json::to_value(f).unwrap()["value"].is_number());
            assert!(known, "{symbol}: {} is never known", column.label);
        }
    }
}

/// A page as of an earlier date knows nothing of what came later: no year, trade or month of it.
#[test]
fn an_earlier_page_knows_nothing_later() {
    let (_folder, home) = golden();
    let t = "2023-08-13".parse().unwrap();
    for symbol in SYMBOLS {
        let Ok(page) = company_page(&now(&home), symbol, Some(t)) else { continue };
        assert!(page.years.iter().all(|y| y.estimated || y.filed_on.is_some_and(|d| d <= t)), "{symbol}");
        assert!(page.years.windows(2).all(|w| w[0].fiscal_year > w[1].fiscal_year), "{symbol}: newest first");
        let owners = owners(&now(&home), symbol, Some(t)).unwrap();
        assert!(owners.trades.iter().all(|x| x.filed_on <= t) && owners.stakes.iter().all(|s| s.as_of <= t), "{symbol}");
        assert!(page.months.iter().all(|m| m.date <= t) && page.months.windows(2).all(|w| w[0].date < w[1].date), "{symbol}");
        let estimated: Vec<bool> = page.years.iter().map(|y| y.estimated).collect();
        assert!(estimated.windows(2).all(|w| w[0] >= w[1]), "{symbol}: years ahead come first");
    }
}

/// Amounts of the company are in the base currency, those a share in the listing's: the two differ by the rate alone.
#[test]
fn another_base_changes_amounts_and_not_shares() {
    let (folder, home) = golden();
    let page = company_page(&now(&home), "DRUA", None).unwrap();
    drop(home);
    let other = artemon_app::Home::open(artemon_app::Options {
        folder: folder.path().to_owned(),
        base: Some("XFB".parse().unwrap()),
        ..artemon_app::Options::default()
    })
    .unwrap();
    let in_other = company_page(&now(&other), "DRUA", None).unwrap();
    assert_eq!((page.base.as_str(), in_other.base.as_str(), page.currency == in_other.currency), ("XFA", "XFB", true));
    let number = |f: &Figure| serde_json::to_value(f).unwrap()["value"].as_f64();
    let mut rates = Vec::new();
    for (a, b) in page.years.iter().zip(&in_other.years).filter(|(a, _)| !a.estimated) {
        assert_eq!((number(&a.eps), number(&a.price_low)), (number(&b.eps), number(&b.price_low)));
        rates.extend(number(&a.revenue).zip(number(&b.revenue)).map(|(a, b)| b / a));
    }
    assert!(rates.len() > 5 && (rates[0] - 1.0).abs() > 0.01);
    assert!(rates.iter().all(|r| (r - rates[0]).abs() < 1e-9), "one rate, that of the date: {rates:?}");
}
