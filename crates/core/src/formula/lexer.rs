//! Text to tokens with their positions.

use super::error::{FormulaError, Position};
use crate::domain::{Day, SpanUnit};

/// The longest formula accepted, in bytes.
const MAX_LENGTH: usize = 4000;

#[derive(Clone, Debug, PartialEq)]
pub(super) enum Token {
    Number(f64),
    /// A whole number directly followed by d, w, m or y: a period, or millions for m.
    Counted(f64, SpanUnit),
    Text(String),
    Date(Day),
    Name(String),
    /// An operator or punctuation.
    Sign(&'static str),
    End,
}

#[derive(Clone, Debug)]
pub(super) struct Lexed {
    pub(super) token: Token,
    pub(super) at: Position,
}

const SIGNS: &[&str] = &["<=", ">=", "!=", "<", ">", "=", "+", "-", "−", "*", "×", "/", "÷", "^", "%", "(", ")", ","];

pub(super) fn lex(text: &str) -> Result<Vec<Lexed>, FormulaError> {
    if text.len() > MAX_LENGTH {
        let at = Position { start: MAX_LENGTH, end: text.len() };
        return Err(FormulaError::new(
            at,
            format!("The formula is longer than {MAX_LENGTH} characters; split it into measures of your own."),
        ));
    }
    let mut lexer = Lexer { text, at: 0 };
    let mut out = Vec::new();
    loop {
        let next = lexer.next()?;
        let end = next.token == Token::End;
        out.push(next);
        if end {
            return Ok(out);
        }
    }
}

struct Lexer<'a> {
    text: &'a str,
    at: usize,
}

impl Lexer<'_> {
    fn rest(&self) -> &str {
        &self.text[self.at..]
    }

    fn take_while(&mut self, keep: impl Fn(char) -> bool) -> String {
        let rest = self.rest();
        let end = rest.find(|c| !keep(c)).unwrap_or(rest.len());
        let taken = rest[..end].to_owned();
        self.at += end;
        taken
    }

    fn next(&mut self) -> Result<Lexed, FormulaError> {
        self.take_while(char::is_whitespace);
        let start = self.at;
        let token = match self.rest().chars().next() {
            None => Token::End,
            Some(c) if c.is_ascii_digit() || (c == '.' && self.rest()[1..].starts_with(|d: char| d.is_ascii_digit())) => {
                self.number_or_date()?
            }
            Some(c) if c.is_alphabetic() || c == '_' => Token::Name(self.take_while(|c| c.is_alphanumeric() || c == '_')),
            Some('"') => self.quoted()?,
            Some(c) => self.sign(c)?,
        };
        Ok(Lexed { token, at: Position { start, end: self.at } })
    }

    fn sign(&mut self, c: char) -> Result<Token, FormulaError> {
        let found = SIGNS.iter().copied().find(|s| self.rest().starts_with(s));
        let at = Position { start: self.at, end: self.at + c.len_utf8() };
        let sign = found.ok_or_else(|| FormulaError::new(at, format!("\"{c}\" has no meaning in a formula.")))?;
        self.at += sign.len();
        Ok(Token::Sign(match sign {
            "−" => "-",
            "×" => "*",
            other => other,
        }))
    }

    fn quoted(&mut self) -> Result<Token, FormulaError> {
        let start = self.at;
        let Some(end) = self.rest()[1..].find('"') else {
            let at = Position { start, end: self.text.len() };
            return Err(FormulaError::new(at, "The text has no closing quotation mark: add \" at its end."));
        };
        let text = self.rest()[1..=end].to_owned();
        self.at += end + 2;
        Ok(Token::Text(text))
    }

    fn number_or_date(&mut self) -> Result<Token, FormulaError> {
        if let Some(day) = self.date()? {
            return Ok(Token::Date(day));
        }
        let start = self.at;
        let digits = self.digits();
        let value: f64 = digits.parse().map_err(|_| {
            FormulaError::new(Position { start, end: self.at }, format!("\"{digits}\" is not a number; write it like 1250.5."))
        })?;
        self.with_suffix(value, start)
    }

    /// A date is exactly four, two and two digits with hyphens and nothing number-like around.
    fn date(&mut self) -> Result<Option<Day>, FormulaError> {
        let shape = |i: usize, c: u8| if i == 4 || i == 7 { c == b'-' } else { c.is_ascii_digit() };
        let bytes = self.rest().as_bytes();
        let fits = bytes.len() >= 10 && bytes[..10].iter().enumerate().all(|(i, &c)| shape(i, c));
        if !fits || bytes.get(10).is_some_and(|c| c.is_ascii_digit() || *c == b'.') {
            return Ok(None);
        }
        let at = Position { start: self.at, end: self.at + 10 };
        let text = &self.rest()[..10];
        let day = text.parse().map_err(|_| FormulaError::new(at, format!("The calendar has no day {text}.")))?;
        self.at += 10;
        Ok(Some(day))
    }

    fn digits(&mut self) -> String {
        let mut text = self.take_while(|c| c.is_ascii_digit());
        if self.rest().starts_with('.') {
            self.at += 1;
            text = format!("{text}.{}", self.take_while(|c| c.is_ascii_digit()));
        }
        text
    }

    fn with_suffix(&mut self, value: f64, start: usize) -> Result<Token, FormulaError> {
        let suffix = self.take_while(|c| c.is_alphanumeric() || c == '_');
        let counted = |unit| Ok(Token::Counted(value, unit));
        match suffix.as_str() {
            "" => Ok(Token::Number(value)),
            "k" => Ok(Token::Number(value * 1e3)),
            "bn" => Ok(Token::Number(value * 1e9)),
            "d" => counted(SpanUnit::Days),
            "w" => counted(SpanUnit::Weeks),
            "m" => counted(SpanUnit::Months),
            "y" => counted(SpanUnit::Years),
            _ => Err(FormulaError::new(
                Position { start, end: self.at },
                format!("\"{suffix}\" cannot follow a number; use % k m bn for numbers and d w m y for periods."),
            )),
        }
    }
}
