//! A message before it is sent: the same words as plain text and as HTML that needs no pictures.

use serde::Serialize;
use std::fmt::Write;
use utoipa::ToSchema;

/// A message.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Letter {
    pub subject: String,
    /// What there is, in a sentence.
    pub intro: String,
    pub parts: Vec<LetterPart>,
    /// Below a rule: where to go, how to end it.
    pub footer: Vec<LetterLine>,
}

/// A part under a heading.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LetterPart {
    pub title: String,
    pub lines: Vec<LetterLine>,
}

/// A line, which may lead somewhere.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LetterLine {
    pub head: String,
    pub text: String,
    /// An address; empty where it leads nowhere.
    pub link: String,
}

impl LetterLine {
    pub(super) fn new(head: impl Into<String>, text: impl Into<String>, link: impl Into<String>) -> LetterLine {
        LetterLine { head: head.into(), text: text.into(), link: link.into() }
    }
}

/// Letters of a line of text.
const WIDTH: usize = 76;

impl Letter {
    /// As plain text, in lines that any mail program shows whole.
    #[must_use]
    pub fn text(&self) -> String {
        let mut out = format!("{}\n", wrapped(&self.intro, ""));
        for part in self.parts.iter().filter(|p| !p.lines.is_empty()) {
            let _ = write!(out, "\n{}\n{}\n", part.title, "-".repeat(part.title.chars().count()));
            for line in &part.lines {
                let _ = writeln!(out, "{}", wrapped(&told(line), "  "));
                if !line.link.is_empty() {
                    let _ = writeln!(out, "  {}", line.link);
                }
            }
        }
        if !self.footer.is_empty() {
            out.push_str("\n--\n");
        }
        for line in &self.footer {
            let _ = writeln!(out, "{}", [told(line), line.link.clone()].join(" ").trim());
        }
        out
    }

    /// As HTML: words, rules and links.
    #[must_use]
    pub fn html(&self) -> String {
        let mut body = format!("<p style=\"font-size:17px;margin:0 0 16px\">{}</p>", escaped(&self.intro));
        for part in self.parts.iter().filter(|p| !p.lines.is_empty()) {
            let _ = write!(body, "<h2 style=\"{HEADING}\">{}</h2>", escaped(&part.title));
            for line in &part.lines {
                let _ = write!(body, "<p style=\"margin:0;padding:6px 0;border-bottom:1px solid #ddd5c7\">{}</p>", line.html());
            }
        }
        let footer: Vec<String> = self.footer.iter().map(LetterLine::html).collect();
        format!(
            "<!DOCTYPE html><html lang=\"en\"><head><meta charset=\"utf-8\"><title>{}</title></head><body style=\"{BODY}\">\
             <div style=\"max-width:640px;margin:0 auto\">{body}<p style=\"color:#5d6570;font-size:13px;margin-top:24px\">{}</p></div></body></html>",
            escaped(&self.subject),
            footer.join("<br>")
        )
    }
}

const BODY: &str =
    "margin:0;padding:24px;background:#fbf8f2;color:#1d2733;font-family:Georgia,'Times New Roman',serif;font-size:15px;line-height:1.45";
const HEADING: &str = "font-size:17px;margin:22px 0 2px;padding-bottom:4px;border-bottom:1px solid #1d2733";

impl LetterLine {
    fn html(&self) -> String {
        let head = match (self.head.is_empty(), self.link.is_empty()) {
            (true, _) => String::new(),
            (false, true) => format!("<b>{}</b>", escaped(&self.head)),
            (false, false) => {
                format!(
                    "<a href=\"{}\" style=\"color:#0e6573;font-weight:bold;text-decoration:none\">{}</a>",
                    escaped(&self.link),
                    escaped(&self.head)
                )
            }
        };
        if self.text.is_empty() || head.is_empty() {
            head + &escaped(&self.text)
        } else {
            format!("{head} <span>{}</span>", escaped(&self.text))
        }
    }
}

fn told(line: &LetterLine) -> String {
    let both: Vec<&str> = [line.head.as_str(), line.text.as_str()].into_iter().filter(|t| !t.is_empty()).collect();
    both.join(": ")
}

/// A text in lines; those after the first begin with `indent`.
fn wrapped(text: &str, indent: &str) -> String {
    let (mut out, mut length) = (String::new(), 0);
    // Blanks that do not break are blanks here: not every mail program knows them.
    for word in text.replace(['\u{202f}', '\u{a0}'], " ").split_whitespace() {
        let letters = word.chars().count();
        if length > 0 && length + 1 + letters > WIDTH {
            let _ = write!(out, "\n{indent}");
            length = indent.len();
        } else if length > 0 {
            out.push(' ');
            length += 1;
        }
        out.push_str(word);
        length += letters;
    }
    out
}

fn escaped(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}

#[cfg(test)]
mod tests {
    use super::*;

    fn letter() -> Letter {
        Letter {
            subject: "Two prices & more".to_owned(),
            intro: "Two prices to act on.".to_owned(),
            parts: vec![
                LetterPart {
                    title: "Under my price".to_owned(),
                    lines: vec![LetterLine::new("Quarrel <& Sons>", "third day under 19.05", "http://127.0.0.1:8017/companies/QUA")],
                },
                LetterPart { title: "Empty".to_owned(), lines: Vec::new() },
            ],
            footer: vec![LetterLine::new("End this digest", "", "http://127.0.0.1:8017/end/abc")],
        }
    }

    #[test]
    fn text_and_html_say_the_same() {
        insta::assert_snapshot!("letter as text", letter().text());
        insta::assert_snapshot!("letter as html", letter().html());
    }

    #[test]
    fn lines_are_short_enough_for_any_program() {
        let long = Letter { intro: "word ".repeat(60), ..letter() };
        assert!(long.text().lines().all(|l| l.chars().count() <= WIDTH));
    }
}
