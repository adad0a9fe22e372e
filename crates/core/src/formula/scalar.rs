//! The rules for single values: arithmetic, comparison and three-valued (Kleene) logic.

use super::{ast::Operator, plan::Math};
use crate::{Num, Why};

type Flag = Result<bool, Why>;

pub(super) fn arithmetic(op: Operator, a: Num, b: Num) -> Num {
    let (a, b) = (finite(a)?, finite(b)?);
    match op {
        Operator::Add => checked(a + b),
        Operator::Subtract => checked(a - b),
        Operator::Multiply => checked(a * b),
        Operator::Divide if b == 0.0 => Err(Why::NoAnswer),
        Operator::DivideByPositive if b <= 0.0 => Err(Why::NotPositive),
        Operator::Power => checked(a.powf(b)),
        _ => checked(a / b),
    }
}

/// The special value of no debt cost has no place in arithmetic.
pub(super) fn finite(a: Num) -> Num {
    a.and_then(|v| if v.is_finite() { Ok(v) } else { Err(Why::NoDebtCost) })
}

pub(super) fn checked(v: f64) -> Num {
    if v.is_finite() { Ok(v) } else { Err(Why::NoAnswer) }
}

pub(super) fn compare(op: Operator, a: Num, b: Num) -> Flag {
    let (a, b) = (a?, b?);
    #[allow(clippy::float_cmp)]
    Ok(match op {
        Operator::Less => a < b,
        Operator::LessOrEqual => a <= b,
        Operator::Greater => a > b,
        Operator::GreaterOrEqual => a >= b,
        Operator::Equal => a == b,
        _ => a != b,
    })
}

pub(super) fn and(a: Flag, b: Flag) -> Flag {
    match (a, b) {
        (Ok(false), _) | (_, Ok(false)) => Ok(false),
        (Ok(true), Ok(true)) => Ok(true),
        (Err(why), _) | (_, Err(why)) => Err(why),
    }
}

pub(super) fn or(a: Flag, b: Flag) -> Flag {
    and(a.map(|x| !x), b.map(|x| !x)).map(|x| !x)
}

/// Whether `x` equals one of the options: true as soon as one equals, undefined when none does and one is undefined.
pub(super) fn one_of<T: PartialEq>(x: &Result<T, Why>, options: impl Iterator<Item = Result<T, Why>>) -> Flag {
    let x = x.as_ref().map_err(|w| *w)?;
    let mut undefined = None;
    for option in options {
        match option {
            Ok(o) if o == *x => return Ok(true),
            Ok(_) => {}
            Err(why) => undefined = Some(why),
        }
    }
    undefined.map_or(Ok(false), Err)
}

pub(super) fn math(function: Math, x: Num) -> Num {
    let x = finite(x)?;
    match function {
        Math::Abs => Ok(x.abs()),
        Math::Sqrt if x < 0.0 => Err(Why::NoAnswer),
        Math::Sqrt => Ok(x.sqrt()),
        Math::Ln if x <= 0.0 => Err(Why::NoAnswer),
        Math::Ln => Ok(x.ln()),
        Math::Exp => checked(x.exp()),
    }
}

/// Half away from zero, to `digits` decimals.
pub(super) fn round(x: Num, digits: i32) -> Num {
    let scale = 10f64.powi(digits);
    checked((finite(x)? * scale).round() / scale)
}

pub(super) fn extreme(highest: bool, values: impl Iterator<Item = Num>) -> Num {
    let pick = |a: f64, b: f64| if highest { a.max(b) } else { a.min(b) };
    let mut best: Option<f64> = None;
    for v in values {
        let v = v?;
        best = Some(best.map_or(v, |b| pick(b, v)));
    }
    best.ok_or(Why::NoAnswer)
}
