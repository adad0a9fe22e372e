//! Whatever is typed as a formula is answered soon: with an error that says where, or with figures. More with `make endure`.
#![allow(clippy::unwrap_used)]

#[path = "world/mod.rs"]
mod world;

use artemon_core::{
    domain::{Item::*, Period},
    engine::Context,
    formula::functions,
    measures::{catalogue, compile},
};
use proptest::{collection::vec, prelude::*, sample::select};
use std::{
    sync::LazyLock,
    time::{Duration, Instant},
};
use world::{World, day};

/// No answer may take longer.
const LONGEST: Duration = Duration::from_secs(2);

/// Twelve years and a year of prices.
static CONTEXT: LazyLock<Context> = LazyLock::new(|| {
    let prices: Vec<f64> = (0..260).map(|n| 20.0 + f64::from(n * 7 % 13)).collect();
    let w = (2012..2024).fold(World::new().sessions("2024-03-01", &prices), |w, y| {
        let items = [(EpsDiluted, 2.0), (NetIncome, 200.0), (Equity, 1000.0), (SharesOutstanding, 100.0), (Revenue, f64::from(y))];
        w.filed((y, Period::FY), &format!("{y}-12-31"), &format!("{}-02-20", y + 1), &items)
    });
    w.context()
});

/// All that a formula may be made of: every measure and function, numbers at their edges, signs, words that are none.
static WORDS: LazyLock<Vec<String>> = LazyLock::new(|| {
    let measures = catalogue().iter().map(|m| m.id.to_owned());
    let calls = functions().map(|f| format!("{}(", f.name));
    let examples = functions().map(|f| f.example.to_owned());
    let signs = "( ) ( ) ) , , + - * / ^ % < <= = != >= > and or not between in if( 1 2 3 5 10 0 -1 1y 5y 1m 3d 99999999999999999999 \
                 1e308 1e-320 0.1 50% 1bn \"Sector\" \" \u{0} \u{202e} é ∞ [ ] { } ; @ # price( eps( undefined value margin";
    measures.chain(calls).chain(examples).chain(signs.split(' ').map(str::to_owned)).collect()
});

fn answered(text: &str) -> Result<(), TestCaseError> {
    let begun = Instant::now();
    match compile(text) {
        Err(error) => {
            prop_assert!(!error.message.is_empty() && error.position.start <= error.position.end, "{error:?}");
            prop_assert!(error.position.end <= text.len().max(4_001), "{error:?}");
            // Says where, whatever stands there.
            prop_assert!(!error.underlined(text).is_empty());
        }
        Ok(formula) => {
            prop_assert_eq!(compile(&formula.text).map(|again| again.text), Ok(formula.text.clone()));
            let at = [CONTEXT.as_of(day("2024-03-01")).company(0), CONTEXT.as_of(day("2020-06-30")).company(0)];
            prop_assert_eq!(CONTEXT.evaluate(&formula, &at).len(), at.len());
        }
    }
    prop_assert!(begun.elapsed() < LONGEST, "{:?}", begun.elapsed());
    Ok(())
}

/// As many as `PROPTEST_CASES` says, or a few.
fn cases() -> ProptestConfig {
    let many = std::env::var("PROPTEST_CASES").ok().and_then(|n| n.parse().ok());
    ProptestConfig { cases: many.unwrap_or(1_000), ..ProptestConfig::default() }
}

proptest! {
    #![proptest_config(cases())]

    #[test]
    fn words_in_any_order_are_answered(words in vec(select(&**WORDS), 1..12)) {
        answered(&words.join(" "))?;
    }

    /// A call with arguments that it may or may not take.
    #[test]
    fn calls_with_any_arguments_are_answered(
        call in select(functions().map(|f| f.name).collect::<Vec<_>>()),
        arguments in vec(select(&**WORDS), 0..5),
        after in select(vec!["", " > 3", " / price", " and pe < 10"]),
    ) {
        answered(&format!("{call}({}){after}", arguments.join(", ")))?;
    }

    #[test]
    fn any_text_is_answered(text in "\\PC{0,80}") {
        answered(&text)?;
    }
}
