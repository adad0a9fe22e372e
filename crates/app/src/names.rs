//! Names that people give.

/// Whether a character cannot be seen in a name, or changes how the rest of it reads: controls, and marks of direction.
pub(crate) fn is_unprintable(c: char) -> bool {
    c.is_control() || matches!(c, '\u{200b}' | '\u{200e}' | '\u{200f}' | '\u{202a}'..='\u{202e}' | '\u{2060}'..='\u{2069}' | '\u{feff}')
}

/// Refuses a name that has not between 1 and `longest` characters in one line; says why, without a full stop.
pub(crate) fn check_name(name: &str, longest: usize) -> Result<(), String> {
    let length = name.trim().chars().count();
    if !(1..=longest).contains(&length) {
        return Err(format!("it must have between 1 and {longest} characters"));
    }
    if name.chars().any(is_unprintable) {
        return Err("it has characters that cannot be seen; type it again".to_owned());
    }
    Ok(())
}

/// Refuses a name that could be taken for a path where it stands in an address.
pub(crate) fn check_no_path(name: &str) -> Result<(), String> {
    if name.contains(['/', '\\']) || name.contains("..") {
        return Err("it has \"/\", \"\\\" or \"..\", which lead elsewhere in an address; leave them out".to_owned());
    }
    Ok(())
}

/// The longest sentence that is shown as it is, in characters.
const LONGEST_SENTENCE: usize = 800;

/// A sentence that may repeat what somebody sent: the middle of a very long one is left out, and characters that cannot be seen are
/// shown by a mark, so that they change nothing of how the rest reads.
#[must_use]
pub fn readable(sentence: &str) -> String {
    let seen = |c: char| if is_unprintable(c) && c != '\n' { '\u{fffd}' } else { c };
    let length = sentence.chars().count();
    if length <= LONGEST_SENTENCE {
        return sentence.chars().map(seen).collect();
    }
    let part = LONGEST_SENTENCE / 2;
    sentence.chars().take(part).chain(" … ".chars()).chain(sentence.chars().skip(length - part)).map(seen).collect()
}

#[cfg(test)]
mod tests {
    use super::{check_name, check_no_path, readable};

    #[test]
    fn what_was_sent_is_repeated_readably() {
        assert_eq!(readable("The name \"a\u{202e}b\0\" is é.\n"), "The name \"a\u{fffd}b\u{fffd}\" is é.\n");
        let long = readable(&format!("The name \"{}\" is too long.", "é".repeat(5_000)));
        assert!(long.chars().count() == 803 && long.starts_with("The name \"é") && long.ends_with("é\" is too long."), "{long}");
    }

    #[test]
    fn names_are_plain_text_in_one_line() {
        for good in ["P/E below 10", "Größe ≥ 5 Mrd.", "A.B", "मूल्य", "क्\u{200d}ष"] {
            assert_eq!(check_name(good, 80), Ok(()), "{good}");
        }
        for bad in ["", "  ", "a\nb", "a\0b", "pay\u{202e}fdp", "zero\u{200b}width", &"x".repeat(81)] {
            assert!(check_name(bad, 80).is_err(), "{bad:?}");
        }
        assert!(check_no_path("Careful, v. 2.1").is_ok());
        assert!(["a/b", "a\\b", "a..b"].iter().all(|bad| check_no_path(bad).is_err()));
    }
}
