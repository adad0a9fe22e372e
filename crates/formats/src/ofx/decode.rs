//! Bytes to text, by what the file says of itself.

use crate::{statement::StatementError, text};
use encoding_rs::{Encoding, UTF_8, WINDOWS_1252};
use std::borrow::Cow;

/// The text of a file. Versions 1 name their character set in the header, versions 2 are XML in UTF-8 or, with a mark, UTF-16.
pub(super) fn text(bytes: &[u8]) -> Result<Cow<'_, str>, StatementError> {
    let encoding = match bytes {
        [0xEF, 0xBB, 0xBF, ..] | [0xFF, 0xFE, ..] | [0xFE, 0xFF, ..] => UTF_8,
        _ => named(bytes)?,
    };
    if encoding == UTF_8 {
        return text::decode(bytes).map_err(StatementError::Not);
    }
    let (text, _, malformed) = encoding.decode(bytes);
    if malformed {
        return Err(StatementError::Not(format!("it is not in {}, as which it is marked", encoding.name())));
    }
    if text.contains('\0') {
        return Err(StatementError::Not("it has a NUL character in it".to_owned()));
    }
    Ok(text)
}

fn named(bytes: &[u8]) -> Result<&'static Encoding, StatementError> {
    let head = String::from_utf8_lossy(&bytes[..bytes.len().min(1_000)]).to_ascii_uppercase();
    if head.trim_start().starts_with("<?XML") {
        // XML: its reader looks at what it declares.
        return Ok(UTF_8);
    }
    let said = |key: &str| head.split(key).nth(1).and_then(|rest| rest.split(['\r', '\n', '<', ' ', '?']).next()).map(str::trim);
    match (said("ENCODING:"), said("CHARSET:")) {
        (Some("UNICODE" | "UTF-8"), _) => Ok(UTF_8),
        (_, Some("1252" | "ISO-8859-1" | "NONE" | "") | None) => Ok(WINDOWS_1252),
        (_, Some(other)) => Encoding::for_label(format!("windows-{other}").as_bytes())
            .or_else(|| Encoding::for_label(other.as_bytes()))
            .ok_or_else(|| StatementError::Not(format!("its character set {other} is not known"))),
    }
}
