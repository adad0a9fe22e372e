//! A price against a value, as one says it.

/// Price over value below which it is said so; the last for all above.
const SAID: [(f64, &str); 10] = [
    (0.45, "less than half of value"),
    (0.58, "half of value"),
    (0.71, "a third under value"),
    (0.83, "a quarter under value"),
    (0.95, "a tenth under value"),
    (1.05, "at value"),
    (1.18, "a tenth over value"),
    (1.4, "a quarter over value"),
    (1.75, "half over value"),
    (2.5, "twice its value"),
];

/// How far a price is under or over a value: "a third under value".
#[must_use]
pub fn against_value(price_to_value: f64) -> &'static str {
    SAID.iter().find(|(below, _)| price_to_value < *below).map_or("several times its value", |(_, words)| words)
}

#[cfg(test)]
mod tests {
    use super::against_value;

    /// Each is said of the share that it names, and not far from it.
    #[test]
    fn shares_are_said_where_they_lie() {
        let said = [0.2, 0.5, 0.66, 0.75, 0.9, 1.0, 1.1, 1.25, 1.5, 2.0, 4.0].map(against_value);
        assert_eq!(
            said,
            [
                "less than half of value",
                "half of value",
                "a third under value",
                "a quarter under value",
                "a tenth under value",
                "at value",
                "a tenth over value",
                "a quarter over value",
                "half over value",
                "twice its value",
                "several times its value",
            ]
        );
        assert_eq!((against_value(0.949), against_value(0.951)), ("a tenth under value", "at value"));
    }
}
