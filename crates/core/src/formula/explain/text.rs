//! A checked plan as a user would write it.

use crate::formula::{
    ast::Operator,
    figures::Judgement,
    functions::{Form, name_of},
    plan::{FlagPlan, InterimStat, NumPlan, Part, TextPlan},
};

/// The formula of a part, names for what has one.
pub(super) fn written(part: Part<'_>) -> String {
    match part {
        Part::Number(p) => number(p),
        Part::Flag(p) => flag(p),
        Part::Text(TextPlan::Constant(t)) => format!("\"{t}\""),
        Part::Text(TextPlan::Kernel(..)) => "text".to_owned(),
        Part::Text(TextPlan::Judgement(Judgement::Band)) => "value_band".to_owned(),
        Part::Text(TextPlan::Judgement(Judgement::Verdict)) => "verdict".to_owned(),
    }
}

fn number(plan: &NumPlan) -> String {
    match plan {
        NumPlan::Constant(v) if v.is_infinite() => "no debt cost".to_owned(),
        NumPlan::Constant(v) => v.to_string(),
        NumPlan::AssumedTax => "assumed tax rate".to_owned(),
        NumPlan::Item(item) => item.code().to_owned(),
        NumPlan::YearDividend => "dividends of the year".to_owned(),
        NumPlan::Named(name, _) => name.formula.to_string(),
        NumPlan::Scope { body, .. } | NumPlan::Guard(_, body) => number(body),
        NumPlan::Kernel(..) => "computed".to_owned(),
        NumPlan::Value(field) => format!("{field:?}"),
        NumPlan::Negate(x) => format!("-{}", number_in(x, SIGN)),
        NumPlan::Binary(op, a, b) => binary(*op, a, b),
        NumPlan::If(c, a, b) => format!("if({}, {}, {})", flag(c), number(a), number(b)),
        NumPlan::Else(a, b) => format!("else({}, {})", number(a), number(b)),
        NumPlan::Extreme { highest, of } => {
            let all: Vec<String> = of.iter().map(number).collect();
            format!("{}({})", name_of(Form::Extreme { highest: *highest }), all.join(", "))
        }
        NumPlan::Math(function, x) => {
            let name = name_of(Form::Math(*function));
            format!("{name}({})", number(x))
        }
        NumPlan::Round(x, digits) => format!("round({}, {digits})", number(x)),
        NumPlan::MeanBalance { body, .. } => format!("average {}", number_in(body, ALONE)),
        NumPlan::AShare(x, shares) => binary(Operator::DivideByPositive, x, shares),
        NumPlan::Fiscal { stat, n, body, .. } => format!("{}({}, {n})", name_of(Form::Fiscal(*stat)), number(body)),
        NumPlan::FiscalCount { n, body } => format!("fy_count({}, {n})", flag(body)),
        NumPlan::Interim { stat: InterimStat::Acceleration, body, .. } => format!("acceleration({})", number(body)),
        NumPlan::Interim { stat, n, body, .. } => {
            let name = name_of(Form::Interim(*stat));
            format!("{name}({}, {n})", number(body))
        }
        NumPlan::QuarterCount { n, body } => format!("q_count({}, {n})", flag(body)),
        NumPlan::Own { stat, window, body, .. } => format!("{}({}, {window})", name_of(Form::Own(*stat)), number(body)),
        NumPlan::Peers { rank, group, body, .. } => {
            format!("{}({}, {})", name_of(Form::Peers { rank: *rank }), number(body), group.code())
        }
        NumPlan::Ago { span, change, body } => format!("{}({}, {span})", name_of(Form::Ago { change: *change }), number(body)),
    }
}

fn flag(plan: &FlagPlan) -> String {
    match plan {
        FlagPlan::Constant(b) => b.to_string(),
        FlagPlan::Named(name, _) => name.formula.to_string(),
        FlagPlan::Scope { body, .. } | FlagPlan::Guard(_, body) => flag(body),
        FlagPlan::Kernel(..) => "computed".to_owned(),
        FlagPlan::Compare(op, a, b) => format!("{} {} {}", number_in(a, COMPARISON + 1), op.sign(), number_in(b, COMPARISON + 1)),
        FlagPlan::TextEqual { equal, left, right } => {
            format!("{} {} {}", written(Part::Text(left)), if *equal { "=" } else { "!=" }, written(Part::Text(right)))
        }
        FlagPlan::Not(x) => format!("not {}", flag_in(x, NOT)),
        FlagPlan::Logic { and, left, right } => {
            let own = flag_binds(plan);
            format!("{} {} {}", flag_in(left, own), if *and { "and" } else { "or" }, flag_in(right, own + 1))
        }
        FlagPlan::OneOf(x, options) => {
            format!("{} in ({})", number_in(x, COMPARISON + 1), options.iter().map(number).collect::<Vec<_>>().join(", "))
        }
        FlagPlan::TextOneOf(x, options) => {
            let all: Vec<String> = options.iter().map(|o| written(Part::Text(o))).collect();
            format!("{} in ({})", written(Part::Text(x)), all.join(", "))
        }
        FlagPlan::If(c, a, b) => format!("if({}, {}, {})", flag(c), flag(a), flag(b)),
        FlagPlan::Else(a, b) => format!("else({}, {})", flag(a), flag(b)),
        FlagPlan::Defined(x) => format!("defined({})", written(x.part())),
        FlagPlan::Ago { span, body } => format!("ago({}, {span})", flag(body)),
    }
}

/// How tightly an operator binds: or, and, not, comparisons, sums, products, signs, powers.
const fn tightness(op: Operator) -> u8 {
    use Operator::{Add, And, Divide, DivideByPositive, Multiply, Or, Power, Subtract};
    match op {
        Or => 1,
        And => 2,
        Add | Subtract => 5,
        Multiply | Divide | DivideByPositive => 6,
        Power => 8,
        _ => 4,
    }
}

const NOT: u8 = 3;
const COMPARISON: u8 = 4;
const SIGN: u8 = 7;
const ALONE: u8 = 9;

fn number_binds(plan: &NumPlan) -> u8 {
    match plan {
        NumPlan::Binary(op, ..) => tightness(*op),
        NumPlan::AShare(..) => tightness(Operator::Divide),
        NumPlan::Negate(_) => SIGN,
        NumPlan::Constant(v) if *v < 0.0 => SIGN,
        NumPlan::Scope { body, .. } | NumPlan::Guard(_, body) => number_binds(body),
        _ => ALONE,
    }
}

fn flag_binds(plan: &FlagPlan) -> u8 {
    match plan {
        FlagPlan::Logic { and, .. } => tightness(if *and { Operator::And } else { Operator::Or }),
        FlagPlan::Not(_) => NOT,
        FlagPlan::Compare(..) | FlagPlan::TextEqual { .. } | FlagPlan::OneOf(..) | FlagPlan::TextOneOf(..) => COMPARISON,
        FlagPlan::Scope { body, .. } | FlagPlan::Guard(_, body) => flag_binds(body),
        _ => ALONE,
    }
}

/// In parentheses when it binds less tightly than it must.
fn number_in(plan: &NumPlan, least: u8) -> String {
    if number_binds(plan) < least { format!("({})", number(plan)) } else { number(plan) }
}

fn flag_in(plan: &FlagPlan, least: u8) -> String {
    if flag_binds(plan) < least { format!("({})", flag(plan)) } else { flag(plan) }
}

/// Operators of equal tightness go from left to right, powers from right to left.
fn binary(op: Operator, a: &NumPlan, b: &NumPlan) -> String {
    let own = tightness(op);
    let (left, right) = if op == Operator::Power { (own + 1, own) } else { (own, own + 1) };
    format!("{} {} {}", number_in(a, left), op.sign(), number_in(b, right))
}
