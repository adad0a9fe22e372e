//! The formula as written: a tree with positions.

use super::error::Position;
use crate::domain::{Day, Span};
use std::fmt;

/// An operator with two operands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[allow(missing_docs)]
pub enum Operator {
    Add,
    Subtract,
    Multiply,
    /// Undefined only for a denominator of 0.
    Divide,
    /// Undefined for a denominator ≤ 0: the catalogue's ÷.
    DivideByPositive,
    Power,
    Less,
    LessOrEqual,
    Greater,
    GreaterOrEqual,
    Equal,
    NotEqual,
    And,
    Or,
}

impl Operator {
    /// As written.
    #[must_use]
    pub const fn sign(self) -> &'static str {
        match self {
            Operator::Add => "+",
            Operator::Subtract => "-",
            Operator::Multiply => "*",
            Operator::Divide => "/",
            Operator::DivideByPositive => "÷",
            Operator::Power => "^",
            Operator::Less => "<",
            Operator::LessOrEqual => "<=",
            Operator::Greater => ">",
            Operator::GreaterOrEqual => ">=",
            Operator::Equal => "=",
            Operator::NotEqual => "!=",
            Operator::And => "and",
            Operator::Or => "or",
        }
    }
}

/// A node with its position in the text.
#[derive(Clone, Debug, PartialEq)]
pub struct Expr {
    /// What it is.
    pub node: Node,
    /// Where it stands.
    pub at: Position,
}

/// What an expression is.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum Node {
    Number(f64),
    Flag(bool),
    Text(String),
    Date(Day),
    /// A whole number with a period's unit; `6m` may also be six million.
    Counted(Span),
    Name(String),
    Call(String, Vec<Expr>),
    Negate(Box<Expr>),
    Not(Box<Expr>),
    Binary(Operator, Box<Expr>, Box<Expr>),
    Between(Box<Expr>, Box<Expr>, Box<Expr>),
    In(Box<Expr>, Vec<Expr>),
    /// A measure of the user's own, with its formula in place of its name.
    Own {
        id: String,
        unit: Option<super::Unit>,
        body: Box<Expr>,
    },
}

/// The canonical text: equal formulas print equally, whatever their spaces and parentheses.
impl fmt::Display for Expr {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match &self.node {
            Node::Number(v) => write!(f, "{v}"),
            Node::Flag(b) => write!(f, "{b}"),
            Node::Text(t) => write!(f, "\"{t}\""),
            Node::Date(d) => write!(f, "{d}"),
            Node::Counted(span) => write!(f, "{span}"),
            Node::Name(name) => f.write_str(name),
            Node::Call(name, args) => write!(f, "{name}({})", list(args)),
            Node::Negate(x) => write!(f, "(-{x})"),
            Node::Not(x) => write!(f, "(not {x})"),
            Node::Binary(op, a, b) => write!(f, "({a} {} {b})", op.sign()),
            Node::Between(x, low, high) => write!(f, "({x} between {low} and {high})"),
            Node::Own { body, .. } => write!(f, "{body}"),
            Node::In(x, options) => write!(f, "({x} in ({}))", list(options)),
        }
    }
}

fn list(args: &[Expr]) -> String {
    args.iter().map(Expr::to_string).collect::<Vec<_>>().join(", ")
}
