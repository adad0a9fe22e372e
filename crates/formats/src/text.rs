//! Bytes to text, strictly: what cannot be read is said with its place and never replaced.

use encoding_rs::{UTF_16BE, UTF_16LE};
use std::borrow::Cow;

/// The text of a file in UTF-8, or in UTF-16 with a byte order mark.
///
/// # Errors
/// What keeps it from being read, without subject and full stop.
pub(crate) fn decode(bytes: &[u8]) -> Result<Cow<'_, str>, String> {
    let text = match bytes {
        [] => return Err("the file is empty".to_owned()),
        [0xFF, 0xFE, rest @ ..] => wide(UTF_16LE, rest)?,
        [0xFE, 0xFF, rest @ ..] => wide(UTF_16BE, rest)?,
        [0xEF, 0xBB, 0xBF, rest @ ..] => utf8(rest)?,
        all => utf8(all)?,
    };
    match text.find('\0') {
        Some(at) => Err(format!("line {}: a NUL character; save the file as plain text", line(&text.as_bytes()[..at]))),
        None => Ok(text),
    }
}

pub(crate) fn utf8(bytes: &[u8]) -> Result<Cow<'_, str>, String> {
    std::str::from_utf8(bytes).map(Cow::Borrowed).map_err(|e| {
        let before = &bytes[..e.valid_up_to()];
        let column = before.iter().rev().take_while(|b| **b != b'\n').count() + 1;
        let byte = bytes[e.valid_up_to()];
        format!("line {}: not UTF-8 (byte {byte:02X} at column {column}); save the file in the encoding UTF-8", line(before))
    })
}

fn wide<'b>(encoding: &'static encoding_rs::Encoding, bytes: &'b [u8]) -> Result<Cow<'b, str>, String> {
    let text = encoding.decode_without_bom_handling_and_without_replacement(bytes);
    text.ok_or_else(|| format!("it is marked as {} and is not", encoding.name()))
}

/// Whether a text is a JSON object, by its beginning.
pub(crate) fn is_object(text: &str) -> bool {
    text.trim_start().starts_with('\u{7b}')
}

/// What is quoted of a text that may be long.
pub(crate) fn shortened(text: &str, longest: usize) -> String {
    if text.chars().count() <= longest { text.to_owned() } else { text.chars().take(longest).chain(['…']).collect() }
}

/// The number of the line that these bytes end in.
fn line(before: &[u8]) -> usize {
    before.iter().filter(|b| **b == b'\n').count() + 1
}

#[cfg(test)]
mod tests {
    use super::decode;

    #[test]
    fn text_is_read_or_refused_with_its_place() {
        assert_eq!(decode(b"\xEF\xBB\xBFa").unwrap(), "a");
        assert_eq!(decode(b"\xFF\xFEa\0\xFC\0").unwrap(), "aü");
        assert_eq!(decode(b"\xFE\xFF\0a").unwrap(), "a");
        for (bytes, says) in [
            (&b""[..], "the file is empty"),
            (b"a\nb\0", "line 2: a NUL character"),
            (b"a\nb\nx\xEFy", "line 3: not UTF-8 (byte EF at column 2)"),
            (b"\xFF\xFE\0\xD8", "it is marked as UTF-16LE and is not"),
        ] {
            assert!(decode(bytes).unwrap_err().starts_with(says), "{says}");
        }
    }
}
