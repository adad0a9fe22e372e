//! Bytes to text, strictly: what cannot be read is said with its place and never replaced.

use encoding_rs::{UTF_16BE, UTF_16LE};
use std::{
    borrow::Cow,
    io::{self, Read as _},
};

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

/// Bytes read at once.
const CHUNK: usize = 256 << 10;

/// Text while it is read, given on as UTF-8 without a mark; what is none ends the reading with its place.
pub(crate) struct TextReader<R> {
    inner: R,
    /// What decodes it, where it is in UTF-16.
    wide: Option<encoding_rs::Decoder>,
    raw: Vec<u8>,
    /// Checked text, and how much of it was given on.
    ready: Vec<u8>,
    given: usize,
    lines: u64,
    ended: bool,
}

impl<R: io::Read> TextReader<R> {
    /// Looks at the first bytes.
    pub(crate) fn new(mut inner: R) -> io::Result<TextReader<R>> {
        let mut raw = Vec::new();
        inner.by_ref().take(3).read_to_end(&mut raw)?;
        let encoding = if raw.starts_with(&[0xFF, 0xFE]) {
            Some(UTF_16LE)
        } else if raw.starts_with(&[0xFE, 0xFF]) {
            Some(UTF_16BE)
        } else {
            None
        };
        raw.drain(
            ..if encoding.is_some() {
                2
            } else if raw == [0xEF, 0xBB, 0xBF] {
                3
            } else {
                0
            },
        );
        let wide = encoding.map(encoding_rs::Encoding::new_decoder_without_bom_handling);
        Ok(TextReader { inner, wide, raw, ready: Vec::new(), given: 0, lines: 0, ended: false })
    }

    /// The encoding, where it is not UTF-8.
    pub(crate) fn encoding(&self) -> Option<&'static str> {
        self.wide.as_ref().map(|decoder| decoder.encoding().name())
    }

    fn fill(&mut self) -> io::Result<()> {
        self.ready.clear();
        self.given = 0;
        while self.ready.is_empty() && !self.ended {
            let read = self.inner.by_ref().take(CHUNK as u64).read_to_end(&mut self.raw)?;
            self.ended = read == 0;
            if self.wide.is_some() { self.decode()? } else { self.check()? }
        }
        if let Some(at) = self.ready.iter().position(|b| *b == 0) {
            let line = self.lines + line(&self.ready[..at]) as u64;
            return Err(no_text(&format!("line {line}: a NUL character; save the file as plain text")));
        }
        self.lines += self.ready.iter().filter(|b| **b == b'\n').count() as u64;
        Ok(())
    }

    /// Whole characters go on; one that is cut in two waits for its rest.
    fn check(&mut self) -> io::Result<()> {
        let whole = match std::str::from_utf8(&self.raw) {
            Ok(_) => self.raw.len(),
            Err(e) if e.error_len().is_none() && !self.ended => e.valid_up_to(),
            Err(e) => {
                let before = &self.raw[..e.valid_up_to()];
                let column = before.iter().rev().take_while(|b| **b != b'\n').count() + 1;
                let (byte, line) = (self.raw[e.valid_up_to()], self.lines + line(before) as u64);
                let problem = format!("line {line}: not UTF-8 (byte {byte:02X} at column {column}); save the file in the encoding UTF-8");
                return Err(no_text(&problem));
            }
        };
        self.ready.extend(self.raw.drain(..whole));
        Ok(())
    }

    fn decode(&mut self) -> io::Result<()> {
        let Some(decoder) = &mut self.wide else { return Ok(()) };
        let most = decoder.max_utf8_buffer_length_without_replacement(self.raw.len()).unwrap_or(self.raw.len() * 3 + 16);
        self.ready.resize(most, 0);
        let (result, read, written) = decoder.decode_to_utf8_without_replacement(&self.raw, &mut self.ready, self.ended);
        self.ready.truncate(written);
        self.raw.drain(..read);
        match result {
            encoding_rs::DecoderResult::Malformed(..) => {
                let name = decoder.encoding().name();
                Err(no_text(&format!("line {}: it is marked as {name} and is not", self.lines + line(&self.ready) as u64)))
            }
            _ => Ok(()),
        }
    }
}

impl<R: io::Read> io::Read for TextReader<R> {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        if self.given == self.ready.len() {
            self.fill()?;
        }
        let n = buffer.len().min(self.ready.len() - self.given);
        buffer[..n].copy_from_slice(&self.ready[self.given..self.given + n]);
        self.given += n;
        Ok(n)
    }
}

fn no_text(problem: &str) -> io::Error {
    io::Error::new(io::ErrorKind::InvalidData, problem)
}

/// Whether a text is a JSON object, by its beginning.
pub(crate) fn is_object(text: &str) -> bool {
    text.trim_start().starts_with('\u{7b}')
}

/// What is quoted of a text that may be long.
pub(crate) fn shortened(text: &str, longest: usize) -> String {
    if text.chars().count() <= longest { text.to_owned() } else { text.chars().take(longest).chain(['…']).collect() }
}

/// The first of some names, and how many more there are.
#[must_use]
pub fn some_of(names: &[&str], most: usize) -> String {
    let more = if names.len() > most { format!(" and {} more", names.len() - most) } else { String::new() };
    format!("{}{more}", names[..names.len().min(most)].join(", "))
}

/// The number of the line that these bytes end in.
fn line(before: &[u8]) -> usize {
    before.iter().filter(|b| **b == b'\n').count() + 1
}

#[cfg(test)]
mod tests {
    use super::{CHUNK, TextReader, decode};
    use std::io::Read;

    fn read(bytes: &[u8]) -> Result<String, String> {
        let mut text = String::new();
        TextReader::new(bytes).and_then(|mut r| r.read_to_string(&mut text)).map_err(|e| e.to_string())?;
        Ok(text)
    }

    /// Also where characters lie over the borders of what is read at once.
    #[test]
    fn text_is_read_as_it_comes() {
        assert_eq!(read(b"\xEF\xBB\xBFa").unwrap(), "a");
        assert_eq!(read(b"\xFF\xFEa\0\xFC\0").unwrap(), "aü");
        assert_eq!(read(b"").unwrap(), "");
        let long: String = "aüß€".repeat(CHUNK / 5);
        assert_eq!(read(long.as_bytes()).unwrap(), long);
        let wide: Vec<u8> = [0xFF, 0xFE].into_iter().chain(long.encode_utf16().flat_map(u16::to_le_bytes)).collect();
        assert_eq!(read(&wide).unwrap(), long);
        let late = [&b"x\n".repeat(CHUNK)[..], b"\x00"].concat();
        for (bytes, says) in [
            (&b"a\nb\0"[..], "line 2: a NUL character"),
            (b"a\nb\nx\xEFy", "line 3: not UTF-8 (byte EF at column 2)"),
            (b"a\xE2\x82", "line 1: not UTF-8 (byte E2 at column 2)"),
            (b"\xFF\xFE\0\xD8", "line 1: it is marked as UTF-16LE and is not"),
            (&late, &format!("line {}: a NUL character", CHUNK + 1)),
        ] {
            let said = read(bytes).unwrap_err();
            assert!(said.starts_with(says), "{said}");
        }
    }

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
