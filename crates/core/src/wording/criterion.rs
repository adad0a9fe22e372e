//! A criterion as a sentence, and as it is typed.

use super::{formula::label, number::write_number};
use crate::{
    formula::{Expr, Library, Node, Operator, Unit, compile_in, parse},
    measures,
    screening::Criterion,
};
use serde::Serialize;

/// A criterion as a sentence in two parts.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Sentence {
    /// What is measured.
    pub what: String,
    /// How much of it is asked for; empty for conditions.
    pub bound: String,
}

/// A criterion in words; the unit is that of its formula's answers.
#[must_use]
pub fn sentence(c: &Criterion, unit: Option<Unit>, library: &Library) -> Sentence {
    let years = counted_years(&c.formula);
    let what = years.as_ref().map_or_else(|| label(&c.formula, library), |(label, _)| label.clone());
    let unit = unit.unwrap_or(Unit::Ratio);
    let show = |x: f64| years.as_ref().map_or_else(|| write_number(x, unit), |(_, n)| format!("{} of {n}", write_number(x, unit)));
    let bound = match (c.min, c.max, &c.equals) {
        (Some(min), Some(max), _) => format!("from {} to {}", show(min), show(max)),
        (Some(min), None, _) => format!("at least {}", show(min)),
        (None, Some(max), _) => format!("at most {}", show(max)),
        (None, None, Some(serde_json::Value::Bool(false))) => "does not hold".to_owned(),
        (None, None, Some(serde_json::Value::Bool(true))) => "holds".to_owned(),
        (None, None, Some(value)) => {
            value.as_f64().map_or_else(|| format!("is {}", value.as_str().unwrap_or_default()), |v| format!("is {}", show(v)))
        }
        (None, None, None) if !c.one_of.is_empty() => format!("is {}", c.one_of.join(" or ")),
        _ => String::new(),
    };
    let bound = match (c.negate, bound.as_str()) {
        (false, _) => bound,
        (true, "") => "does not hold".to_owned(),
        (true, _) => match bound.strip_prefix("is ") {
            Some(rest) => format!("is not {rest}"),
            None => format!("not {bound}"),
        },
    };
    Sentence { what, bound }
}

/// A count of fiscal years: its label, and out of how many.
fn counted_years(formula: &str) -> Option<(String, String)> {
    let Node::Call(name, args) = parse(formula).ok()?.node else { return None };
    let m = measures::find(&name).filter(|m| m.unit == Unit::Count && m.id.ends_with("_years"))?;
    let [n] = &args[..] else { return None };
    Some((m.label.to_owned(), n.to_string()))
}

/// A criterion as typed: a comparison of a figure with a number becomes the figure with bounds, a list of texts the texts it
/// may be, so that it has a distribution, can be loosened and has near misses. What cannot be read so stays a condition.
///
/// Bounds are inclusive: of a count "more than 3" is at least 4; of a figure that is no count it makes no difference that can be
/// seen.
#[must_use]
pub fn read_criterion(text: &str, library: &Library) -> Criterion {
    let condition = Criterion { formula: text.trim().to_owned(), enabled: true, ..Criterion::default() };
    parse(text).ok().and_then(|e| bounded(&e, library)).unwrap_or(condition)
}

fn bounded(e: &Expr, library: &Library) -> Option<Criterion> {
    match &e.node {
        Node::Not(x) => bounded(x, library).map(|c| Criterion { negate: !c.negate, ..c }),
        Node::Between(x, low, high) => {
            let (low, high) = (constant(low)?, constant(high)?);
            numeric(x, library).map(|(c, _)| Criterion { min: Some(low), max: Some(high), ..c })
        }
        Node::In(x, options) => {
            let texts = options.iter().map(text_of).collect::<Option<Vec<String>>>()?;
            textual(x, library).map(|c| Criterion { one_of: texts, ..c })
        }
        Node::Binary(Operator::And, a, b) => both(bounded(a, library)?, &bounded(b, library)?),
        Node::Binary(op, a, b) => compared(*op, a, b, library).or_else(|| compared(mirrored(*op)?, b, a, library)),
        _ => None,
    }
}

/// Two bounds of one figure, as in `5 <= pe and pe <= 12`.
fn both(a: Criterion, b: &Criterion) -> Option<Criterion> {
    let plain = |c: &Criterion| !c.negate && c.equals.is_none() && c.one_of.is_empty();
    let distinct = (a.min.is_none() || b.min.is_none()) && (a.max.is_none() || b.max.is_none());
    (a.formula == b.formula && plain(&a) && plain(b) && distinct).then(|| Criterion { min: a.min.or(b.min), max: a.max.or(b.max), ..a })
}

fn compared(op: Operator, x: &Expr, with: &Expr, library: &Library) -> Option<Criterion> {
    if let (Operator::Equal | Operator::NotEqual, Some(text)) = (op, text_of(with)) {
        return textual(x, library).map(|c| Criterion { one_of: vec![text], negate: op == Operator::NotEqual, ..c });
    }
    let bound = constant(with)?;
    let (c, unit) = numeric(x, library)?;
    let whole = unit == Unit::Count && bound.fract() == 0.0;
    let next = if whole { 1.0 } else { 0.0 };
    Some(match op {
        Operator::LessOrEqual => Criterion { max: Some(bound), ..c },
        Operator::Less => Criterion { max: Some(bound - next), ..c },
        Operator::GreaterOrEqual => Criterion { min: Some(bound), ..c },
        Operator::Greater => Criterion { min: Some(bound + next), ..c },
        Operator::Equal => Criterion { min: Some(bound), max: Some(bound), ..c },
        _ => return None,
    })
}

const fn mirrored(op: Operator) -> Option<Operator> {
    Some(match op {
        Operator::Less => Operator::Greater,
        Operator::LessOrEqual => Operator::GreaterOrEqual,
        Operator::Greater => Operator::Less,
        Operator::GreaterOrEqual => Operator::LessOrEqual,
        Operator::Equal => Operator::Equal,
        Operator::NotEqual => Operator::NotEqual,
        _ => return None,
    })
}

/// A formula with a number for its answer, that is none itself.
fn numeric(x: &Expr, library: &Library) -> Option<(Criterion, Unit)> {
    if constant(x).is_some() {
        return None;
    }
    let unit = compile_in(&x.to_string(), library).ok()?.unit;
    (!matches!(unit, Unit::Flag | Unit::Text)).then(|| (of(x), unit))
}

fn textual(x: &Expr, library: &Library) -> Option<Criterion> {
    let unit = compile_in(&x.to_string(), library).ok()?.unit;
    (unit == Unit::Text && text_of(x).is_none()).then(|| of(x))
}

fn of(x: &Expr) -> Criterion {
    Criterion { formula: x.to_string(), enabled: true, ..Criterion::default() }
}

/// The value of a number as typed, with its sign.
fn constant(e: &Expr) -> Option<f64> {
    match &e.node {
        Node::Number(v) => Some(*v),
        Node::Negate(x) => constant(x).map(|v| -v),
        Node::Counted(span) if span.unit == crate::domain::SpanUnit::Months => Some(f64::from(span.count) * 1e6),
        Node::Date(d) => Some(f64::from(d.epoch_days())),
        _ => None,
    }
}

fn text_of(e: &Expr) -> Option<String> {
    if let Node::Text(t) = &e.node { Some(t.clone()) } else { None }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn said(text: &str) -> String {
        let library = measures::library([]);
        let c = read_criterion(text, &library);
        let unit = compile_in(&c.formula, &library).ok().map(|f| f.unit);
        let Sentence { what, bound } = sentence(&c, unit, &library);
        let json = serde_json::to_string(&c).unwrap();
        format!("{text}\n  {json}\n  {what} | {bound}")
    }

    /// What is typed, what it becomes, and how it is said.
    #[test]
    fn typed_comparisons_become_bounds() {
        let typed = [
            "rsi(10) < 30",
            "pe between 5 and 12",
            "5 <= pe and pe <= 12",
            "market_cap > 1,200",
            "market_cap >= 500m",
            "net_margin >= 12%",
            "eps_positive_years(10) > 7",
            "eps_rising_years(5) < 3",
            "12 > pe",
            "not (pe < 8)",
            "sector = \"Utilities\"",
            "sector in (\"Utilities\", \"Materials\")",
            "country != \"XA\"",
            "own_rank(pe, 10y) <= 20",
            "pe < pb",
            "pe < 12 or pb < 1",
            "insider_cluster",
            "eps_growth(5)",
            "pe <",
            "3 < 5",
        ];
        insta::assert_snapshot!(typed.map(said).join("\n"));
    }

    #[test]
    fn bounds_are_said_with_all_their_digits() {
        let library = measures::library([]);
        let at_least = |formula: &str, min: f64, unit| {
            let c = Criterion { formula: formula.to_owned(), min: Some(min), enabled: true, ..Criterion::default() };
            sentence(&c, Some(unit), &library).bound
        };
        assert_eq!(at_least("average_volume(50)", 1_200.0, Unit::Count), "at least 1,200");
        assert_eq!(at_least("average_traded_value(50)", 20_000.0, Unit::Money), "at least 20,000");
        let c = Criterion { formula: "insider_cluster".to_owned(), negate: true, enabled: true, ..Criterion::default() };
        assert_eq!(sentence(&c, Some(Unit::Flag), &library).bound, "does not hold");
    }
}
