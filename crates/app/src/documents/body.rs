//! Reads the JSON of documents and says in words why it is not understood.

use serde::de::DeserializeOwned;

/// How near a known name must be to be offered.
const NEAR: f64 = 0.85;

/// A body from its text.
///
/// # Errors
/// Why it is not of the kind, without a full stop.
pub(crate) fn read<T: DeserializeOwned>(text: &str) -> Result<T, String> {
    serde_json::from_str(text).map_err(|e| plain(&e))
}

/// The parser's reason without its lists and places, with the nearest of the names that it would have known.
pub(crate) fn plain(e: &serde_json::Error) -> String {
    let said = e.to_string();
    let (reason, expected) = said.split_once(", expected one of ").unwrap_or((&said, ""));
    let reason = reason.split(" at line ").next().unwrap_or(reason);
    let quoted = |text: &str| text.split('`').skip(1).step_by(2).map(str::to_owned).collect::<Vec<_>>();
    let unknown = quoted(reason).pop().unwrap_or_default();
    let nearest = quoted(expected).into_iter().map(|known| (strsim::jaro_winkler(&unknown, &known), known));
    let nearest = nearest.filter(|(near, _)| *near >= NEAR).max_by(|a, b| a.0.total_cmp(&b.0));
    let offered = nearest.map_or_else(String::new, |(_, known)| format!("; perhaps \"{known}\" is meant"));
    format!("{}{offered}", reason.replace('`', "\""))
}

#[cfg(test)]
mod tests {
    use super::read;
    use artemon_core::valuation::Assumptions;

    #[test]
    fn reasons_are_short_and_offer_what_is_near() {
        let said = |text: &str| read::<Assumptions>(text).unwrap_err();
        assert_eq!(said(r#"{"horizons": 10}"#), "unknown field \"horizons\"; perhaps \"horizon\" is meant");
        assert_eq!(said(r#"{"tea_leaves": 10}"#), "unknown field \"tea_leaves\"");
        assert_eq!(said(r#"{"horizon": "long"}"#), "invalid type: string \"long\", expected u32");
    }
}
