//! What a person is told who mistypes a formula, and what equal formulas have in common.

use super::Unit;
use crate::measures::compile;
use proptest::prelude::*;

#[test]
fn mistakes_are_said_with_their_place_and_what_was_meant() {
    let mistyped = [
        "net_magin > 5%",
        "pe_ratio",
        "eps_growth(5",
        "pe < 10 < 20",
        "fy(price, 1)",
        "fy(fy(revenue, 1), 1)",
        "own_rank(pe, 2y)",
        "own_rank(pe, 120)",
        "rank_in(pe, planet)",
        "eps_growth(2.5)",
        "order_share(-1)",
        "sector > 3",
        "if(pe, 1, 2)",
        "min()",
        "\"open",
        "10y + 1",
        "3 in (\"a\")",
        "pe pb",
    ];
    let said: Vec<String> = mistyped.iter().map(|f| compile(f).expect_err(f).underlined(f)).collect();
    insta::assert_snapshot!(said.join("\n\n"));
}

#[test]
fn units_follow_from_what_is_computed() {
    let unit = |f: &str| compile(f).unwrap().unit;
    assert_eq!(unit("price * 2"), Unit::PerShare);
    assert_eq!(unit("market_cap / 1m"), Unit::Money);
    assert_eq!(unit("market_cap / revenue"), Unit::Ratio);
    assert_eq!(unit("fy_growth(revenue, 5)"), Unit::Percent);
    assert_eq!(unit("own_rank(pe, 10y)"), Unit::Rank);
    assert_eq!(unit("fy_count(eps > 0, 5) >= 3"), Unit::Flag);
    assert_eq!(unit("sector"), Unit::Text);
    assert!(compile("market_cap > net_margin").unwrap().warnings[0].contains("compares money with percent"));
    assert!(compile("pe < 15").unwrap().warnings.is_empty());
}

/// Columns are kept by a formula's canonical text: formulas that mean the same must share it, others must not.
#[test]
fn equal_formulas_have_one_text() {
    let text = |f: &str| compile(f).unwrap().text;
    assert_eq!(text("pe<15 AND roe>=.1".replace("AND", "and").as_str()), text("  pe < 15 and (roe >= 0.1)"));
    assert_eq!(text("12.5 %"), text("0.125"));
    assert_ne!(text("(1 - 2) - 3"), text("1 - (2 - 3)"));
    assert_ne!(text("-(2 ^ 2)"), text("(-2) ^ 2"));
    assert_eq!(text("eps_growth(5)"), text("eps_growth( 5 )"));
}

/// Nesting without end is refused, not followed until the stack is used up.
#[test]
fn nesting_has_a_limit() {
    let deep = format!("{}1{}", "(".repeat(20_000), ")".repeat(20_000));
    assert!(compile(&deep).is_err());
    let long = vec!["pe"; 2_000].join(" + ");
    let _ = compile(&long);
}

proptest! {
    /// Whatever is typed is answered, and what compiles compiles to itself.
    #[test]
    fn anything_typed_is_answered(text in "(pe|roe|eps_growth|fy|own_rank|if|not|and|or|between|in|[0-9]{1,3}|5y|3%|[-+*/^(),<>=! \"])( ?(pe|fy|1|2y|[-+*/(),<>]))*") {
        if let Ok(c) = compile(&text) {
            prop_assert_eq!(compile(&c.text).map(|again| again.text), Ok(c.text));
        }
    }
}
