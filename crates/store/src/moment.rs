//! Moments as they are kept and told: RFC 3339 in UTC, to the second. Such texts sort as the moments do.

use chrono::{DateTime, SecondsFormat, Utc};

/// A moment as it is kept.
#[must_use]
pub fn text(at: DateTime<Utc>) -> String {
    at.to_rfc3339_opts(SecondsFormat::Secs, true)
}

/// Now, as it is kept.
#[must_use]
pub fn now() -> String {
    text(Utc::now())
}

/// The moment that a text tells, in any zone; none where it tells none.
#[must_use]
pub fn read(text: &str) -> Option<DateTime<Utc>> {
    DateTime::parse_from_rfc3339(text).ok().map(|at| at.to_utc())
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]
    use super::*;

    #[test]
    fn a_moment_is_read_as_it_was_written() {
        let at = read("2026-12-01T08:00:00.900+02:00").unwrap();
        assert_eq!(text(at), "2026-12-01T06:00:00Z");
        assert_eq!(read(&text(at)).map(text), Some(text(at)));
        assert_eq!(read("yesterday"), None);
        assert!(text(at) < now());
    }
}
