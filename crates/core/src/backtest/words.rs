//! Settings in words.

use super::document::{Backtest, Benchmark, Exit, ExitRule, Weights};
use crate::wording::figures::percent;

/// How it buys, holds and compares, in a sentence.
#[must_use]
pub fn words(settings: &Backtest) -> String {
    let held = match (settings.top, &settings.by) {
        (None, _) => "all that pass, at most 50".to_owned(),
        (Some(1), by) => format!("the first one{}", by_what(by.as_deref(), settings.descending)),
        (Some(top), by) => format!("the first {top}{}", by_what(by.as_deref(), settings.descending)),
    };
    let weights = match (settings.weights, settings.max_weight) {
        (Weights::Equal, _) => "in equal parts".to_owned(),
        (Weights::MarketCap, None) => "by market value".to_owned(),
        (Weights::MarketCap, Some(most)) => format!("by market value, none above {}", percent(most)),
    };
    let every = match settings.every {
        1 => "every month".to_owned(),
        12 => "every year".to_owned(),
        n => format!("every {n} months"),
    };
    let exit = match settings.exit {
        Exit::Rebalance => String::new(),
        Exit::Each(rule) => format!(", each sold {}", exit_words(rule)),
    };
    format!("{held}, {weights}, {every}{exit}, against {}", benchmark_words(&settings.benchmark))
}

fn by_what(by: Option<&str>, descending: bool) -> String {
    by.map_or_else(String::new, |by| format!(" by {by}, {} first", if descending { "highest" } else { "lowest" }))
}

fn exit_words(rule: ExitRule) -> String {
    let parts = [
        rule.gain.map(|gain| format!("at a gain of {}", percent(gain))),
        rule.at_value.then(|| "when the price reaches the value".to_owned()),
        rule.months.map(|months| format!("after {months} months at most")),
    ];
    parts.into_iter().flatten().collect::<Vec<_>>().join(" or ")
}

/// What it is compared with.
fn benchmark_words(benchmark: &Benchmark) -> String {
    match benchmark {
        Benchmark::UniverseEqual => "its universe in equal parts".to_owned(),
        Benchmark::UniverseCap => "its universe by market value".to_owned(),
        Benchmark::Index(id) => format!("the index {id}"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn settings_are_said_in_a_sentence() {
        let said = |json: &str| words(&serde_json::from_str(json).unwrap());
        let plain = r#"{"screen": "x", "from": "2010-01-31", "to": "2020-01-31", "base": "ZOC""#;
        assert_eq!(
            said(&format!("{plain}}}")),
            "all that pass, at most 50, in equal parts, every 3 months, against its universe in equal parts"
        );
        let told = said(&format!(
            r#"{plain}, "top": 5, "by": "score", "weights": "market_cap", "max_weight": 0.4, "every": 12,
                "exit": {{"gain": 0.5, "at_value": true, "months": 24}}, "benchmark": {{"index": "R300"}}}}"#
        ));
        assert_eq!(
            told,
            "the first 5 by score, highest first, by market value, none above 40\u{202f}%, every year, each sold at a gain of 50\u{202f}% or when the \
             price reaches the value or after 24 months at most, against the index R300"
        );
    }
}
