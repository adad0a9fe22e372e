//! Tokens to a tree. From loose to tight: or, and, not, comparisons, + −, * /, unary −, ^ (right associative).

use super::{
    ast::{Expr, Node, Operator},
    error::{FormulaError, Position},
    lexer::{Lexed, Token, lex},
};
use crate::domain::{Span, SpanUnit};

/// How deeply a formula may be nested.
const MAX_DEPTH: u32 = 60;

/// Parses a formula.
///
/// # Errors
/// The first mistake with its position.
pub fn parse(text: &str) -> Result<Expr, FormulaError> {
    let mut parser = Parser { tokens: lex(text)?, at: 0, depth: 0 };
    if parser.peek().token == Token::End {
        return Err(FormulaError::new(
            Position::default(),
            "The formula is empty: write a measure such as pe, or a comparison such as pe < 15.",
        ));
    }
    let expr = parser.or()?;
    match parser.peek() {
        Lexed { token: Token::End, .. } => Ok(expr),
        Lexed { at, .. } => {
            Err(FormulaError::new(*at, format!("\"{}\" was not expected here; is an operator missing before it?", &text[at.start..at.end])))
        }
    }
}

struct Parser {
    tokens: Vec<Lexed>,
    at: usize,
    depth: u32,
}

type Parsed = Result<Expr, FormulaError>;

impl Parser {
    fn peek(&self) -> &Lexed {
        &self.tokens[self.at.min(self.tokens.len() - 1)]
    }

    fn advance(&mut self) -> Lexed {
        let token = self.peek().clone();
        self.at += 1;
        token
    }

    fn sign(&mut self, sign: &str) -> bool {
        let found = matches!(&self.peek().token, Token::Sign(s) if *s == sign);
        self.at += usize::from(found);
        found
    }

    fn word(&mut self, word: &str) -> bool {
        let found = matches!(&self.peek().token, Token::Name(n) if n == word);
        self.at += usize::from(found);
        found
    }

    fn expect(&mut self, sign: &str, message: &str) -> Result<Position, FormulaError> {
        let at = self.peek().at;
        if self.sign(sign) { Ok(at) } else { Err(FormulaError::new(at, message)) }
    }

    fn nested(&mut self, parse: impl FnOnce(&mut Parser) -> Parsed) -> Parsed {
        self.depth += 1;
        if self.depth > MAX_DEPTH {
            return Err(FormulaError::new(
                self.peek().at,
                format!("The formula is nested more than {MAX_DEPTH} deep; split it into measures of your own."),
            ));
        }
        let out = parse(self);
        self.depth -= 1;
        out
    }

    fn or(&mut self) -> Parsed {
        let mut left = self.and()?;
        while self.word("or") {
            left = binary(Operator::Or, left, self.and()?);
        }
        Ok(left)
    }

    fn and(&mut self) -> Parsed {
        let mut left = self.not()?;
        while self.word("and") {
            left = binary(Operator::And, left, self.not()?);
        }
        Ok(left)
    }

    fn not(&mut self) -> Parsed {
        let start = self.peek().at;
        if !self.word("not") {
            return self.comparison();
        }
        let x = self.nested(Parser::not)?;
        Ok(Expr { at: start.to(x.at), node: Node::Not(Box::new(x)) })
    }

    fn comparison(&mut self) -> Parsed {
        let left = self.sum()?;
        let compared = if self.word("between") {
            self.between(left)?
        } else if self.word("in") {
            self.one_of(left)?
        } else if let Some(op) = self.comparison_operator() {
            binary(op, left, self.sum()?)
        } else {
            return Ok(left);
        };
        let at = self.peek().at;
        if self.comparison_operator().is_some() || self.word("between") || self.word("in") {
            return Err(FormulaError::new(at, "Comparisons cannot be chained: write a < b and b < c, or b between a and c."));
        }
        Ok(compared)
    }

    fn comparison_operator(&mut self) -> Option<Operator> {
        const ALL: [Operator; 6] =
            [Operator::Less, Operator::LessOrEqual, Operator::Greater, Operator::GreaterOrEqual, Operator::Equal, Operator::NotEqual];
        ALL.into_iter().find(|op| self.sign(op.sign()))
    }

    fn between(&mut self, x: Expr) -> Parsed {
        let low = self.sum()?;
        if !self.word("and") {
            return Err(FormulaError::new(self.peek().at, "\"between\" needs two bounds: write x between 5 and 10."));
        }
        let high = self.sum()?;
        Ok(Expr { at: x.at.to(high.at), node: Node::Between(Box::new(x), Box::new(low), Box::new(high)) })
    }

    fn one_of(&mut self, x: Expr) -> Parsed {
        self.expect("(", "\"in\" needs a list in parentheses: write sector in (\"Health\", \"Energy\").")?;
        let (options, end) = self.arguments()?;
        Ok(Expr { at: x.at.to(end), node: Node::In(Box::new(x), options) })
    }

    fn sum(&mut self) -> Parsed {
        let mut left = self.product()?;
        loop {
            let op = if self.sign("+") {
                Operator::Add
            } else if self.sign("-") {
                Operator::Subtract
            } else {
                return Ok(left);
            };
            left = binary(op, left, self.product()?);
        }
    }

    fn product(&mut self) -> Parsed {
        let mut left = self.unary()?;
        loop {
            let op = if self.sign("*") {
                Operator::Multiply
            } else if self.sign("/") {
                Operator::Divide
            } else if self.sign("÷") {
                Operator::DivideByPositive
            } else {
                return Ok(left);
            };
            left = binary(op, left, self.unary()?);
        }
    }

    fn unary(&mut self) -> Parsed {
        let start = self.peek().at;
        if !self.sign("-") {
            return self.power();
        }
        let x = self.nested(Parser::unary)?;
        Ok(Expr { at: start.to(x.at), node: Node::Negate(Box::new(x)) })
    }

    fn power(&mut self) -> Parsed {
        let base = self.percent()?;
        if !self.sign("^") {
            return Ok(base);
        }
        let exponent = self.nested(Parser::unary)?;
        Ok(binary(Operator::Power, base, exponent))
    }

    fn percent(&mut self) -> Parsed {
        let mut x = self.primary()?;
        while let Lexed { token: Token::Sign("%"), at } = self.peek() {
            let at = x.at.to(*at);
            self.at += 1;
            x = match x.node {
                Node::Number(v) => Expr { node: Node::Number(v / 100.0), at },
                _ => return Err(FormulaError::new(at, "% follows a number, as in 12.5 %.")),
            };
        }
        Ok(x)
    }

    fn primary(&mut self) -> Parsed {
        let Lexed { token, at } = self.advance();
        let node = match token {
            Token::Number(v) => Node::Number(v),
            Token::Counted(v, unit) => counted(v, unit, at)?,
            Token::Text(t) => Node::Text(t),
            Token::Date(d) => Node::Date(d),
            Token::Name(name) => return self.name(name, at),
            Token::Sign("(") => return self.parenthesis(at),
            Token::End => return Err(FormulaError::new(at, "The formula ends too early: a value is missing at its end.")),
            Token::Sign(s) => return Err(FormulaError::new(at, format!("A value was expected before \"{s}\"."))),
        };
        Ok(Expr { node, at })
    }

    fn parenthesis(&mut self, start: Position) -> Parsed {
        let inner = self.nested(Parser::or)?;
        let end = self.expect(")", "A closing parenthesis is missing.")?;
        Ok(Expr { at: start.to(end), ..inner })
    }

    fn name(&mut self, name: String, at: Position) -> Parsed {
        match name.as_str() {
            "true" | "false" => return Ok(Expr { node: Node::Flag(name == "true"), at }),
            "and" | "or" | "between" | "in" | "not" => {
                return Err(FormulaError::new(at, format!("A value was expected before \"{name}\".")));
            }
            _ => {}
        }
        if !self.sign("(") {
            return Ok(Expr { node: Node::Name(name), at });
        }
        let (args, end) = self.arguments()?;
        Ok(Expr { at: at.to(end), node: Node::Call(name, args) })
    }

    /// The rest of a list after its opening parenthesis.
    fn arguments(&mut self) -> Result<(Vec<Expr>, Position), FormulaError> {
        let mut args = Vec::new();
        let end = self.peek().at;
        if self.sign(")") {
            return Ok((args, end));
        }
        loop {
            let arg = self.nested(Parser::or)?;
            args.push(arg);
            let at = self.peek().at;
            if self.sign(")") {
                return Ok((args, at));
            }
            self.expect(",", "A comma or a closing parenthesis is missing.")?;
        }
    }
}

fn counted(value: f64, unit: SpanUnit, at: Position) -> Result<Node, FormulaError> {
    if value.fract() == 0.0 && value <= f64::from(u32::MAX) {
        #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
        return Ok(Node::Counted(Span { count: value as u32, unit }));
    }
    match unit {
        SpanUnit::Months => Ok(Node::Number(value * 1e6)),
        _ => Err(FormulaError::new(at, "A period is a whole number of days, weeks, months or years.")),
    }
}

fn binary(op: Operator, left: Expr, right: Expr) -> Expr {
    Expr { at: left.at.to(right.at), node: Node::Binary(op, Box::new(left), Box::new(right)) }
}
