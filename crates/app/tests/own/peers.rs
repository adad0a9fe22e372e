//! Where a company stands in its industry.

use crate::{golden, now};
use artemon_app::{EvaluateRequest, company_page, evaluate, peers};

/// Places by size, growth, margin and cheapness are those that sorting the figures of the industry's companies one by one gives; the
/// page says the same in words.
#[test]
fn a_company_has_its_places_in_its_industry() {
    let (_folder, home) = golden();
    let ctx = now(&home);
    let mut shared = 0;
    for symbol in ["DRUA", "NEVN", "BRAM", "TANE", "MIRJ"] {
        let told = peers(&ctx, symbol, None).unwrap();
        assert!(told.rows.iter().any(|r| r.symbol == symbol), "{symbol} is among its peers");
        assert_eq!(told.rows.len(), told.companies.min(8));
        for place in &told.places {
            let figures = |symbol: &str| {
                let asked = EvaluateRequest { formulas: vec![place.formula.clone()], symbols: vec![symbol.to_owned()], as_of: None };
                evaluate(&ctx, &asked).unwrap()[0].values[0].figure.value.number().ok()
            };
            let known: Vec<f64> = told.rows.iter().filter_map(|r| figures(&r.symbol)).collect();
            assert_eq!(place.of, known.len(), "{symbol} {}", place.formula);
            let better = |other: &f64, own: f64| if place.formula == "price_to_value" { *other < own } else { *other > own };
            let want = figures(symbol).map(|own| 1 + known.iter().filter(|other| better(other, own)).count());
            assert_eq!(place.place, want, "{symbol} {}", place.formula);
        }
        let sizes: Vec<Option<f64>> = told.rows.iter().map(|r| r.cells.values[0].number().ok()).collect();
        assert!(sizes.is_sorted_by(|a, b| a >= b), "{sizes:?}");
        let said = &company_page(&ctx, symbol, None).unwrap().answers[0];
        assert_eq!(said.id, "does");
        shared += usize::from(told.companies > 1);
        let alone = said.sentence.starts_with("The only one");
        assert_eq!(alone, told.places[0].of < 2, "{}", said.sentence);
        assert!(
            alone || said.sentence.contains(&format!("largest of {} in {}", told.places[0].of, told.group.to_lowercase())),
            "{}",
            said.sentence
        );
    }
    assert!(shared > 0);
    assert!(peers(&ctx, "NOBODY", None).is_err());
}
