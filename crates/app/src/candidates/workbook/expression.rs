//! Arithmetic written down as a spreadsheet's formulas, with the figures that they give now.

use artemon_core::{Num, Why, valuation::Amount};
use std::{
    cell::RefCell,
    ops::{Add, Div, Mul, Neg, Sub},
};

/// Where formulas are written; one a company.
#[derive(Debug, Default)]
pub(super) struct Pad {
    formulas: RefCell<Vec<Text>>,
    /// Conditions without which a value means nothing.
    conditions: RefCell<Vec<String>>,
}

#[derive(Clone, Debug)]
struct Text {
    text: String,
    binds: Binds,
    value: Option<f64>,
}

/// How tightly a formula holds together: parentheses stand where they are needed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum Binds {
    Sum,
    Product,
    Alone,
}

impl Pad {
    /// A cell or a name, with what stands in it now.
    pub(super) fn cell(&self, name: impl Into<String>, value: Num) -> Expression<'_> {
        self.write(Text { text: name.into(), binds: Binds::Alone, value: value.ok() })
    }

    fn write(&self, text: Text) -> Expression<'_> {
        let mut all = self.formulas.borrow_mut();
        all.push(text);
        Expression::Written(self, all.len() - 1)
    }

    /// The conditions since they were last taken.
    pub(super) fn take_conditions(&self) -> Vec<String> {
        self.conditions.take()
    }
}

/// What a cell says after the equals sign, and what it comes to now.
#[derive(Clone, Copy, Debug)]
pub(super) enum Expression<'p> {
    /// The same for every company.
    Number(f64),
    /// The formula of a pad, by its place.
    Written(&'p Pad, usize),
}

impl<'p> Expression<'p> {
    fn text(self) -> Text {
        match self {
            Expression::Number(v) => {
                let binds = if v < 0.0 { Binds::Sum } else { Binds::Alone };
                Text { text: v.to_string(), binds, value: Some(v) }
            }
            Expression::Written(pad, place) => pad.formulas.borrow()[place].clone(),
        }
    }

    /// What it gives now; undefined where a figure is missing.
    pub(super) fn value(self) -> Num {
        self.text().value.ok_or(Why::NoAnswer)
    }

    fn pad(self, other: Expression<'p>) -> Option<&'p Pad> {
        match (self, other) {
            (Expression::Written(pad, _), _) | (_, Expression::Written(pad, _)) => Some(pad),
            _ => None,
        }
    }

    /// Two formulas in one; two numbers are computed.
    fn with(
        self,
        other: Expression<'p>,
        binds: Binds,
        compute: fn(f64, f64) -> f64,
        write: impl Fn(String, String) -> String,
    ) -> Expression<'p> {
        let (a, b) = (self.text(), other.text());
        let value = a.value.zip(b.value).map(|(a, b)| compute(a, b)).filter(|v| v.is_finite());
        match self.pad(other) {
            None => Expression::Number(value.unwrap_or(f64::NAN)),
            Some(pad) => pad.write(Text { text: write(a.within(binds), b.within(binds)), binds, value }),
        }
    }

    /// As [`Expression::with`]; what follows the sign is held together.
    fn less(self, other: Expression<'p>, binds: Binds, compute: fn(f64, f64) -> f64, sign: char) -> Expression<'p> {
        let tight = other.text();
        let second = if tight.binds <= binds { format!("({})", tight.text) } else { tight.text };
        self.with(other, binds, compute, |a, _| format!("{a}{sign}{second}"))
    }
}

impl Text {
    fn within(&self, outer: Binds) -> String {
        if self.binds < outer { format!("({})", self.text) } else { self.text.clone() }
    }
}

impl std::fmt::Display for Expression<'_> {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.text().text)
    }
}

impl<'p> Add for Expression<'p> {
    type Output = Expression<'p>;
    fn add(self, other: Expression<'p>) -> Expression<'p> {
        self.with(other, Binds::Sum, |a, b| a + b, |a, b| format!("{a}+{b}"))
    }
}

impl<'p> Mul for Expression<'p> {
    type Output = Expression<'p>;
    fn mul(self, other: Expression<'p>) -> Expression<'p> {
        self.with(other, Binds::Product, |a, b| a * b, |a, b| format!("{a}*{b}"))
    }
}

impl<'p> Sub for Expression<'p> {
    type Output = Expression<'p>;
    fn sub(self, other: Expression<'p>) -> Expression<'p> {
        self.less(other, Binds::Sum, |a, b| a - b, '-')
    }
}

impl<'p> Div for Expression<'p> {
    type Output = Expression<'p>;
    fn div(self, other: Expression<'p>) -> Expression<'p> {
        self.less(other, Binds::Product, |a, b| a / b, '/')
    }
}

impl<'p> Neg for Expression<'p> {
    type Output = Expression<'p>;
    fn neg(self) -> Expression<'p> {
        Expression::Number(0.0) - self
    }
}

impl Amount for Expression<'_> {
    fn of(number: f64) -> Self {
        Expression::Number(number)
    }

    fn least(self, other: Self) -> Self {
        self.chosen(other, f64::min, "MIN")
    }

    fn most(self, other: Self) -> Self {
        self.chosen(other, f64::max, "MAX")
    }

    /// Whether it is above zero is asked in the spreadsheet; here it goes on.
    fn positive(self) -> Result<Self, Why> {
        let Expression::Written(pad, _) = self else { return Ok(self) };
        let text = self.text();
        pad.conditions.borrow_mut().push(format!("N({})>0", text.text));
        Ok(pad.write(Text { value: text.value.filter(|v| *v > 0.0), ..text }))
    }

    /// The mean of those above zero, what is undefined counting as none; how many there are is asked in the spreadsheet.
    fn shares_of_mean(
        parts: &[(&'static str, Result<Self, Why>)],
        fewest: usize,
        mut take: impl FnMut(&'static str, Self),
    ) -> Result<(), Why> {
        let known: Vec<(&'static str, Self)> = parts.iter().filter_map(|(words, part)| Some((*words, (*part).ok()?))).collect();
        let Some(pad) = known.iter().find_map(|(_, part)| part.pad(*part)) else { return Err(Why::TooLittle) };
        let if_positive = |part: Self, then: &str| format!("IFERROR(IF({part}>0,{then},0),0)");
        let count = known.iter().map(|(_, part)| if_positive(*part, "1")).collect::<Vec<_>>().join("+");
        pad.conditions.borrow_mut().push(format!("{count}>={fewest}"));
        let counting = known.iter().filter(|(_, part)| part.value().is_ok_and(|v| v > 0.0)).count();
        for (words, part) in known {
            let value = (counting >= fewest).then(|| part.value().map_or(0.0, |v| v.max(0.0)) / counting as f64);
            let text = format!("{}/({count})", if_positive(part, &part.to_string()));
            take(words, pad.write(Text { text, binds: Binds::Product, value }));
        }
        Ok(())
    }
}

impl<'p> Expression<'p> {
    fn chosen(self, other: Expression<'p>, compute: fn(f64, f64) -> f64, name: &str) -> Expression<'p> {
        match self.with(other, Binds::Sum, compute, |a, b| format!("{name}({a},{b})")) {
            Expression::Written(pad, place) => {
                pad.formulas.borrow_mut()[place].binds = Binds::Alone;
                Expression::Written(pad, place)
            }
            number @ Expression::Number(_) => number,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn formulas_have_the_parentheses_they_need() {
        let pad = Pad::default();
        let [a, b, c] = [("A1", 8.0), ("B1", 4.0), ("C1", 2.0)].map(|(name, value)| pad.cell(name, Ok(value)));
        let one = Expression::of(1.0);
        for (formula, text, value) in [
            (a + b * c, "A1+B1*C1", 16.0),
            ((a + b) * c, "(A1+B1)*C1", 24.0),
            (a - (b - c), "A1-(B1-C1)", 6.0),
            (a - b - c, "A1-B1-C1", 2.0),
            (a / (b * c), "A1/(B1*C1)", 1.0),
            (a / b / c, "A1/B1/C1", 1.0),
            (a * (b / c), "A1*B1/C1", 16.0),
            (one - a, "1-A1", -7.0),
            (-(a + b), "0-(A1+B1)", -12.0),
            (a * Expression::of(-2.0), "A1*(-2)", -16.0),
            (a.least(b + c), "MIN(A1,B1+C1)", 6.0),
            (a.most(b) * c, "MAX(A1,B1)*C1", 16.0),
            (one + Expression::of(2.0), "3", 3.0),
        ] {
            assert_eq!((formula.to_string().as_str(), formula.value()), (text, Ok(value)));
        }
    }

    #[test]
    fn what_is_missing_has_a_formula_and_no_figure() {
        let pad = Pad::default();
        let (a, none) = (pad.cell("A1", Ok(-3.0)), pad.cell("B1", Err(Why::NoPrice)));
        assert_eq!(((a * none).to_string(), (a * none).value().is_err()), ("A1*B1".to_owned(), true));
        assert!(a.positive().unwrap().value().is_err());
        assert_eq!(pad.take_conditions(), ["N(A1)>0"]);
        assert_eq!(pad.take_conditions(), [""; 0]);
    }

    /// Of 6, nothing known and −3 one counts, which is too few of two.
    #[test]
    fn a_mean_counts_what_is_above_zero() {
        let pad = Pad::default();
        let [a, b, c] = [("A1", Ok(6.0)), ("B1", Err(Why::NoPrice)), ("C1", Ok(-3.0))].map(|(name, value)| Ok(pad.cell(name, value)));
        let mean = |parts: &[(&'static str, Result<Expression<'_>, Why>)]| {
            let mut sum = 0.0;
            Amount::shares_of_mean(parts, 2, |_, share: Expression<'_>| sum += share.value().unwrap_or(f64::NAN)).unwrap();
            sum
        };
        assert!(mean(&[("a", a), ("b", b), ("c", c)]).is_nan());
        let d = Ok(pad.cell("D1", Ok(2.0)));
        assert_eq!(mean(&[("a", a), ("b", b), ("c", c), ("d", d)]), 4.0);
        assert_eq!(pad.take_conditions()[0], "IFERROR(IF(A1>0,1,0),0)+IFERROR(IF(B1>0,1,0),0)+IFERROR(IF(C1>0,1,0),0)>=2");
    }
}
