//! Names, types, units and arities: from a tree to a plan.

use super::{
    ast::{Expr, Node, Operator},
    catalogue::{Args, Body, Catalogue, Kinds, Measure, Param, ParamKind, Unit},
    error::{Checked, FormulaError, Position},
    functions::{self, Form, Function},
    library::Library,
    parser::parse,
    plan::{FlagPlan, Math, Named, NumPlan, Plan, TextPlan},
};
use crate::domain::{BarSize, Item, ItemKind, Metric, Span, SpanUnit};
use std::{collections::HashMap, sync::Arc};

/// The most years or sessions a count may ask for.
const MAX_COUNT: f64 = 10_000.0;

pub(super) struct Checker<'l> {
    /// The measures that ship.
    catalogue: &'l Catalogue,
    /// The user's own measures, for suggestions.
    library: Option<&'l Library>,
    /// Parameters of the measure whose formula is being checked.
    params: HashMap<String, Expr>,
    /// Inside the formula of a catalogue entry, where its internal words are allowed.
    pub(super) internal: bool,
    /// Inside a function over fiscal years.
    pub(super) fiscal: bool,
    pub(super) warnings: Vec<String>,
}

impl<'l> Checker<'l> {
    /// For a formula that a user types.
    pub(super) fn of_user(library: &'l Library) -> Checker<'l> {
        Checker { library: Some(library), internal: false, ..Checker::of_product(library.catalogue()) }
    }

    /// For a formula of the product's own.
    pub(super) fn of_product(catalogue: &'l Catalogue) -> Checker<'l> {
        Checker { catalogue, library: None, params: HashMap::new(), internal: true, fiscal: false, warnings: Vec::new() }
    }

    pub(super) fn check(&mut self, e: &Expr) -> Checked<Plan> {
        match &e.node {
            Node::Number(v) => Ok(Plan::Number(NumPlan::Constant(*v), Unit::Ratio)),
            Node::Counted(Span { count, unit: SpanUnit::Months }) => {
                Ok(Plan::Number(NumPlan::Constant(f64::from(*count) * 1e6), Unit::Ratio))
            }
            Node::Counted(_) => {
                Err(FormulaError::new(e.at, "A period stands only where a function asks for one, as in own_rank(pe, 10y)."))
            }
            Node::Flag(b) => Ok(Plan::Flag(FlagPlan::Constant(*b))),
            Node::Text(t) => Ok(Plan::Text(TextPlan::Constant(t.as_str().into()))),
            Node::Date(d) => Ok(Plan::Number(NumPlan::Constant(f64::from(d.epoch_days())), Unit::Date)),
            Node::Name(name) => self.name(name, &[], e.at),
            Node::Call(name, args) => self.call(name, args, e.at),
            Node::Negate(x) => {
                let (x, unit) = self.number(x)?;
                Ok(Plan::Number(NumPlan::Negate(Box::new(x)), unit))
            }
            Node::Not(x) => Ok(Plan::Flag(FlagPlan::Not(Box::new(self.flag(x)?)))),
            Node::Binary(op, a, b) => self.binary(*op, a, b),
            Node::Between(x, low, high) => self.between(x, low, high),
            Node::In(x, options) => self.one_of(x, options),
            Node::Own { id, unit, body } => self.own_measure(id, *unit, body, e.at),
        }
    }

    fn own_measure(&mut self, id: &str, unit: Option<Unit>, body: &Expr, at: Position) -> Checked<Plan> {
        let said = |e: FormulaError| FormulaError { position: at, message: format!("In your measure {id}: {}", e.message), ..e };
        let plan = self.check(body).map_err(said)?;
        let plan = match (plan, unit) {
            (Plan::Number(p, _), Some(unit)) => Plan::Number(p, unit),
            (plan, _) => plan,
        };
        let label = self.library.and_then(|l| l.get(id)).map_or(id, |m| m.label.as_str()).to_owned();
        let unit = plan.unit();
        Ok(named(plan, Named { formula: id.into(), label, unit, measure: None, args: Args::default() }))
    }

    pub(super) fn number(&mut self, e: &Expr) -> Checked<(NumPlan, Unit)> {
        match self.check(e)? {
            Plan::Number(p, unit) => Ok((p, unit)),
            other => Err(FormulaError::new(e.at, format!("A number is needed here, but this is a {}.", other.unit()))),
        }
    }

    pub(super) fn flag(&mut self, e: &Expr) -> Checked<FlagPlan> {
        match self.check(e)? {
            Plan::Flag(p) => Ok(p),
            other => Err(FormulaError::new(e.at, format!("A condition is needed here, such as pe < 15, but this is a {}.", other.unit()))),
        }
    }

    fn binary(&mut self, op: Operator, a: &Expr, b: &Expr) -> Checked<Plan> {
        use Operator::{Add, And, Divide, DivideByPositive, Equal, Multiply, NotEqual, Or, Power, Subtract};
        match op {
            And | Or => {
                let (left, right) = (Box::new(self.flag(a)?), Box::new(self.flag(b)?));
                Ok(Plan::Flag(FlagPlan::Logic { and: op == And, left, right }))
            }
            Add | Subtract | Multiply | Divide | DivideByPositive | Power => {
                let ((left, l), (right, r)) = (self.number(a)?, self.number(b)?);
                Ok(Plan::Number(NumPlan::Binary(op, Box::new(left), Box::new(right)), unit_of(op, l, r)))
            }
            Equal | NotEqual => match (self.check(a)?, self.check(b)?) {
                (Plan::Text(left), Plan::Text(right)) => Ok(Plan::Flag(FlagPlan::TextEqual { equal: op == Equal, left, right })),
                (left, right) => self.compare(op, (left, a.at), (right, b.at)),
            },
            _ => {
                let (left, right) = (self.check(a)?, self.check(b)?);
                self.compare(op, (left, a.at), (right, b.at))
            }
        }
    }

    fn compare(&mut self, op: Operator, (left, at_left): (Plan, Position), (right, at_right): (Plan, Position)) -> Checked<Plan> {
        match (left, right) {
            (Plan::Number(l, lu), Plan::Number(r, ru)) => {
                self.warn_of_units(lu, ru);
                Ok(Plan::Flag(FlagPlan::Compare(op, Box::new(l), Box::new(r))))
            }
            (l, r) => Err(FormulaError::new(
                at_left.to(at_right),
                format!("A {} cannot be compared with a {} by {}.", l.unit(), r.unit(), op.sign()),
            )),
        }
    }

    fn warn_of_units(&mut self, a: Unit, b: Unit) {
        let money = |u| matches!(u, Unit::Money | Unit::PerShare);
        let other = |u| matches!(u, Unit::Percent | Unit::Days | Unit::Date | Unit::Count | Unit::Rank);
        let apart = |a: Unit, b: Unit| money(a) && (other(b) || (money(b) && a != b));
        if apart(a, b) || apart(b, a) {
            self.warnings.push(format!("This compares {a} with {b}."));
        }
    }

    fn between(&mut self, x: &Expr, low: &Expr, high: &Expr) -> Checked<Plan> {
        let x = Box::new(self.number(x)?.0);
        let (low, high) = (Box::new(self.number(low)?.0), Box::new(self.number(high)?.0));
        let left = Box::new(FlagPlan::Compare(Operator::GreaterOrEqual, x.clone(), low));
        let right = Box::new(FlagPlan::Compare(Operator::LessOrEqual, x, high));
        Ok(Plan::Flag(FlagPlan::Logic { and: true, left, right }))
    }

    fn one_of(&mut self, x: &Expr, options: &[Expr]) -> Checked<Plan> {
        match self.check(x)? {
            Plan::Number(p, _) => {
                let options = options.iter().map(|o| Ok(self.number(o)?.0)).collect::<Checked<_>>()?;
                Ok(Plan::Flag(FlagPlan::OneOf(Box::new(p), options)))
            }
            Plan::Text(p) => {
                let text = |o: &Expr, plan| match plan {
                    Plan::Text(t) => Ok(t),
                    _ => Err(FormulaError::new(o.at, "A text in quotation marks is needed here.")),
                };
                let options = options.iter().map(|o| text(o, self.check(o)?)).collect::<Checked<_>>()?;
                Ok(Plan::Flag(FlagPlan::TextOneOf(p, options)))
            }
            Plan::Flag(_) => Err(FormulaError::new(x.at, "\"in\" works on numbers and texts; this is a flag.")),
        }
    }

    /// A bare name, or a call of a measure.
    fn name(&mut self, name: &str, args: &[Expr], at: Position) -> Checked<Plan> {
        if let Some(given) = self.params.get(name).filter(|_| args.is_empty()).cloned() {
            return self.check(&given);
        }
        if self.internal && args.is_empty() {
            match name {
                "no_debt_cost" => return Ok(Plan::Number(NumPlan::Constant(f64::INFINITY), Unit::Ratio)),
                "dividend_of_year" if self.fiscal => return Ok(Plan::Number(NumPlan::YearDividend, Unit::PerShare)),
                "assumed_tax" => return Ok(Plan::Number(NumPlan::AssumedTax, Unit::Percent)),
                _ => {}
            }
        }
        if let Some(measure) = self.catalogue.find(name).filter(|m| !(self.internal && m.is_bare_item() && args.is_empty())) {
            return self.measure(measure, args, at);
        }
        match name.parse::<Item>() {
            Ok(item) if args.is_empty() => Ok(self.item(item)),
            _ => Err(self.unknown(name, at)),
        }
    }

    fn item(&self, item: Item) -> Plan {
        let unit = match item.kind() {
            ItemKind::Flow | ItemKind::Balance => Unit::Money,
            ItemKind::PerShare => Unit::PerShare,
            ItemKind::Shares => Unit::Count,
            ItemKind::Ratio => Unit::Percent,
        };
        if self.internal {
            return Plan::Number(NumPlan::Item(item), unit);
        }
        scoped(Plan::Number(NumPlan::Item(item), unit), Kinds::NONE)
    }

    fn measure(&mut self, measure: &'static Measure, args: &[Expr], at: Position) -> Checked<Plan> {
        let args = self.bound(measure, args, at)?;
        if self.fiscal && !matches!(measure.body, Body::Formula(_)) {
            return Err(FormulaError::new(at, format!("{} cannot be computed from one fiscal year.", measure.id)));
        }
        let plan = match measure.body {
            Body::Formula(text) => self.catalogue_formula(text, args.clone(), measure.unit, at)?,
            Body::Number(kernel) => Plan::Number(NumPlan::Kernel(kernel, kernel_args(measure.params, &args)), measure.unit),
            Body::Flag(kernel) => Plan::Flag(FlagPlan::Kernel(kernel, kernel_args(measure.params, &args))),
            Body::Text(kernel) => Plan::Text(TextPlan::Kernel(kernel, kernel_args(measure.params, &args))),
            Body::Value(field) => Plan::Number(NumPlan::Value(field), measure.unit),
            Body::Judgement(word) => Plan::Text(TextPlan::Judgement(word)),
        };
        let written: Vec<String> = args.iter().map(|(_, arg)| arg.to_string()).collect();
        let defaults = measure.params.iter().zip(&written).all(|(p, w)| p.default == Some(w));
        let formula = if defaults { measure.id.to_owned() } else { format!("{}({})", measure.id, written.join(", ")) };
        let (label, args) = (measure.label.to_owned(), kernel_args(measure.params, &args));
        Ok(named(scoped(plan, measure.not_for), Named { formula: formula.into(), label, unit: measure.unit, measure: Some(measure), args }))
    }

    /// The formula of a catalogue entry, checked with its own parameters.
    fn catalogue_formula(&mut self, text: &str, args: Vec<(String, Expr)>, unit: Unit, at: Position) -> Checked<Plan> {
        let expr = parse(text)?;
        let params = args.into_iter().collect();
        let mut inner = Checker { params, fiscal: self.fiscal, ..Checker::of_product(self.catalogue) };
        let plan = inner.check(&expr).map_err(|e| FormulaError { position: at, ..e })?;
        Ok(match plan {
            Plan::Number(p, _) => Plan::Number(p, unit),
            other => other,
        })
    }

    /// Arguments by parameter, defaults filled in.
    fn bound(&self, measure: &Measure, args: &[Expr], at: Position) -> Checked<Vec<(String, Expr)>> {
        if args.len() > measure.params.len() {
            return Err(FormulaError::new(at, format!("{} takes {}.", measure.id, measure.signature_words())));
        }
        let mut out = Vec::new();
        for (i, param) in measure.params.iter().enumerate() {
            let given = args.get(i).map(|a| self.substituted(a));
            let missing =
                || FormulaError::new(at, format!("{} takes {}: write {}.", measure.id, measure.signature_words(), measure.example()));
            let arg = match (given, param.default) {
                (Some(a), _) => a,
                (None, Some(text)) => parse(text)?,
                (None, None) => return Err(missing()),
            };
            check_argument(param.kind, &arg)?;
            out.push((param.name.to_owned(), arg));
        }
        Ok(out)
    }

    fn substituted(&self, arg: &Expr) -> Expr {
        match &arg.node {
            Node::Name(name) => self.params.get(name).map_or_else(|| arg.clone(), |p| Expr { at: arg.at, ..p.clone() }),
            _ => arg.clone(),
        }
    }

    fn call(&mut self, name: &str, args: &[Expr], at: Position) -> Checked<Plan> {
        match functions::find(name, self.internal) {
            Some(function) => self.function(function, args, at),
            None => self.name(name, args, at),
        }
    }

    fn function(&mut self, f: &Function, args: &[Expr], at: Position) -> Checked<Plan> {
        match f.form {
            Form::Fiscal(stat) => self.fiscal_call(f, stat, args, at),
            Form::FiscalCount => self.fiscal_count(f, args, at),
            Form::Interim(stat) => self.interim_call(f, stat, args, at),
            Form::QuarterCount => self.quarter_count(f, args, at),
            Form::Own(stat) => self.own_call(f, stat, args, at),
            Form::Peers { rank } => self.peers_call(f, rank, args, at),
            Form::Ago { change } => self.ago_call(f, change, args, at),
            Form::If => self.if_call(f, args, at),
            Form::Else => self.else_call(f, args, at),
            Form::Defined => {
                let [x] = exactly(f, args, at)?;
                Ok(Plan::Flag(FlagPlan::Defined(Box::new(self.check(x)?))))
            }
            Form::Extreme { highest } => self.extreme(f, highest, args, at),
            Form::Round => self.round(f, args, at),
            Form::Math(math) => self.math(f, math, args, at),
            Form::MeanBalance { capital } => {
                let [x] = exactly(f, args, at)?;
                let (body, unit) = self.number(x)?;
                Ok(Plan::Number(NumPlan::MeanBalance { capital, body: Box::new(body) }, unit))
            }
            Form::AShare => {
                let [x, shares] = exactly(f, args, at)?;
                let plan = NumPlan::AShare(Box::new(self.number(x)?.0), Box::new(self.number(shares)?.0));
                Ok(Plan::Number(plan, Unit::PerShare))
            }
        }
    }

    fn math(&mut self, f: &Function, math: Math, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x] = exactly(f, args, at)?;
        let (body, unit) = self.number(x)?;
        let unit = if matches!(math, Math::Abs | Math::Sqrt) { unit } else { Unit::Ratio };
        Ok(Plan::Number(NumPlan::Math(math, Box::new(body)), unit))
    }

    fn extreme(&mut self, f: &Function, highest: bool, args: &[Expr], at: Position) -> Checked<Plan> {
        if args.is_empty() {
            return Err(takes(f, at));
        }
        let checked: Vec<_> = args.iter().map(|a| self.number(a)).collect::<Checked<_>>()?;
        let unit = checked[0].1;
        let of = checked.into_iter().map(|c| c.0).collect();
        Ok(Plan::Number(NumPlan::Extreme { highest, of }, unit))
    }

    fn round(&mut self, f: &Function, args: &[Expr], at: Position) -> Checked<Plan> {
        let (x, digits) = match args {
            [x] => (x, 0),
            [x, digits] => (x, self.count(digits, 0)?),
            _ => return Err(takes(f, at)),
        };
        let (body, unit) = self.number(x)?;
        Ok(Plan::Number(NumPlan::Round(Box::new(body), digits.min(12).cast_signed()), unit))
    }

    fn if_call(&mut self, f: &Function, args: &[Expr], at: Position) -> Checked<Plan> {
        let [condition, a, b] = exactly(f, args, at)?;
        let condition = Box::new(self.flag(condition)?);
        match (self.check(a)?, self.check(b)?) {
            (Plan::Number(x, unit), Plan::Number(y, _)) => Ok(Plan::Number(NumPlan::If(condition, Box::new(x), Box::new(y)), unit)),
            (Plan::Flag(x), Plan::Flag(y)) => Ok(Plan::Flag(FlagPlan::If(condition, Box::new(x), Box::new(y)))),
            _ => Err(FormulaError::new(a.at.to(b.at), "Both answers of if must be numbers, or both conditions.")),
        }
    }

    fn else_call(&mut self, f: &Function, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x, fallback] = exactly(f, args, at)?;
        match (self.check(x)?, self.check(fallback)?) {
            (Plan::Number(a, unit), Plan::Number(b, _)) => Ok(Plan::Number(NumPlan::Else(Box::new(a), Box::new(b)), unit)),
            (Plan::Flag(a), Plan::Flag(b)) => Ok(Plan::Flag(FlagPlan::Else(Box::new(a), Box::new(b)))),
            _ => Err(FormulaError::new(x.at.to(fallback.at), "Both parts of else must be numbers, or both conditions.")),
        }
    }

    fn unknown(&self, name: &str, at: Position) -> FormulaError {
        let own = self.library.into_iter().flat_map(Library::iter).map(|m| m.id.as_str());
        let items = Item::ALL.iter().map(|i| i.code());
        let known = self.catalogue.iter().map(|m| m.id).chain(items).chain(functions::functions().map(|f| f.name)).chain(own);
        let mut near: Vec<_> = known.map(|k| (resemblance(&name.to_lowercase(), k), k)).filter(|(s, _)| *s > 0.8).collect();
        near.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.cmp(b.1)));
        near.dedup_by_key(|n| n.1);
        let suggestions: Vec<String> = near.into_iter().take(3).map(|(_, k)| k.to_owned()).collect();
        let hint = if suggestions.is_empty() {
            " The list of measures shows all names.".to_owned()
        } else {
            format!(" Did you mean {}?", suggestions.join(", "))
        };
        FormulaError { message: format!("There is no measure or function \"{name}\".{hint}"), position: at, suggestions }
    }

    pub(super) fn count(&self, e: &Expr, least: u32) -> Checked<u32> {
        let e = &self.substituted(e);
        match e.node {
            #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
            Node::Number(v) if v.fract() == 0.0 && (f64::from(least)..=MAX_COUNT).contains(&v) => Ok(v as u32),
            _ => Err(FormulaError::new(e.at, format!("A whole number from {least} to 10,000 is needed here."))),
        }
    }

    pub(super) fn period(&self, e: &Expr) -> Checked<(Position, Span)> {
        let e = &self.substituted(e);
        match e.node {
            Node::Counted(span) if span.count > 0 => Ok((e.at, span)),
            _ => Err(FormulaError::new(e.at, "A period is needed here, such as 10y, 6m, 3w or 5d.")),
        }
    }
}

fn takes(f: &Function, at: Position) -> FormulaError {
    FormulaError::new(at, format!("{} takes {}.", f.name, f.arguments))
}

pub(super) fn exactly<'a, const N: usize>(f: &Function, args: &'a [Expr], at: Position) -> Checked<[&'a Expr; N]> {
    let refs: Vec<&Expr> = args.iter().collect();
    refs.try_into().map_err(|_| takes(f, at))
}

/// Puts a measure's formula into its own span of twelve months and guards it against kinds it means nothing for.
pub(super) fn scoped(plan: Plan, not_for: Kinds) -> Plan {
    let scope = plan.part().has_items();
    let flows = if scope { plan.part().flows() } else { Vec::new() };
    let money = matches!(plan.unit(), Unit::Money | Unit::PerShare);
    let reporting = scope && !money && plan.part().is_pure();
    match plan {
        Plan::Number(body, unit) => {
            let body = if scope { NumPlan::Scope { flows, reporting, body: Box::new(body) } } else { body };
            Plan::Number(if not_for == Kinds::NONE { body } else { NumPlan::Guard(not_for, Box::new(body)) }, unit)
        }
        Plan::Flag(body) => {
            let body = if scope { FlagPlan::Scope { flows, reporting, body: Box::new(body) } } else { body };
            Plan::Flag(if not_for == Kinds::NONE { body } else { FlagPlan::Guard(not_for, Box::new(body)) })
        }
        text @ Plan::Text(_) => text,
    }
}

fn named(plan: Plan, name: Named) -> Plan {
    match plan {
        Plan::Number(body, unit) => Plan::Number(NumPlan::Named(Arc::new(name), Box::new(body)), unit),
        Plan::Flag(body) => Plan::Flag(FlagPlan::Named(Arc::new(name), Box::new(body))),
        text @ Plan::Text(_) => text,
    }
}

fn check_argument(kind: ParamKind, arg: &Expr) -> Checked<()> {
    let whole = |v: f64, least: f64| v.fract() == 0.0 && (least..=MAX_COUNT).contains(&v);
    let fits = match (kind, &arg.node) {
        (ParamKind::Count, Node::Number(v)) => whole(*v, 1.0),
        (ParamKind::Back, Node::Number(v)) => whole(*v, 0.0),
        (ParamKind::Period, Node::Counted(span)) => span.count > 0,
        (ParamKind::Period, Node::Name(n)) => n == "ytd",
        (ParamKind::Amount | ParamKind::Factor, Node::Number(v)) => *v > 0.0,
        (ParamKind::Amount, Node::Counted(span)) => span.unit == SpanUnit::Months && span.count > 0,
        (ParamKind::Bars, Node::Name(n)) => n.parse::<BarSize>().is_ok(),
        (ParamKind::Estimated, Node::Name(n)) => estimated(n).is_some(),
        (ParamKind::Item, _) => true,
        _ => false,
    };
    let wanted = match kind {
        ParamKind::Count => "A whole number from 1 to 10,000 is needed here.",
        ParamKind::Back => "A whole number from 0 (the newest) to 10,000 is needed here.",
        ParamKind::Period => "A period is needed here, such as 5d, 6m, 1y or ytd.",
        ParamKind::Amount => "An amount in the base currency is needed here, such as 20k.",
        ParamKind::Factor => "A number above 0 is needed here, such as 2.",
        ParamKind::Bars => "The size of bars is needed here: day, week or month.",
        ParamKind::Estimated => "What is estimated is needed here: eps, revenue or ebit.",
        ParamKind::Item => "A formula of statement items is needed here, such as eps.",
    };
    if fits { Ok(()) } else { Err(FormulaError::new(arg.at, wanted)) }
}

fn estimated(name: &str) -> Option<Metric> {
    name.parse().ok().filter(|m| matches!(m, Metric::Eps | Metric::Revenue | Metric::Ebit))
}

#[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
fn kernel_args(params: &[Param], args: &[(String, Expr)]) -> Args {
    let mut out = Args::default();
    for (param, (_, arg)) in params.iter().zip(args) {
        match (param.kind, &arg.node) {
            (ParamKind::Count | ParamKind::Back, Node::Number(v)) => out.count = *v as u32,
            (ParamKind::Amount | ParamKind::Factor, Node::Number(v)) => out.amount = *v,
            (ParamKind::Amount, Node::Counted(span)) => out.amount = f64::from(span.count) * 1e6,
            (ParamKind::Period, Node::Counted(span)) => out.span = Some(*span),
            (ParamKind::Bars, Node::Name(n)) => out.bars = n.parse().unwrap_or(out.bars),
            (ParamKind::Estimated, Node::Name(n)) => out.metric = estimated(n),
            _ => {}
        }
    }
    out
}

fn unit_of(op: Operator, a: Unit, b: Unit) -> Unit {
    let plain = |u| matches!(u, Unit::Ratio | Unit::Percent | Unit::Count);
    match op {
        Operator::Add | Operator::Subtract if a == b || b == Unit::Ratio => a,
        Operator::Add | Operator::Subtract if a == Unit::Ratio => b,
        Operator::Multiply if plain(b) && !plain(a) => a,
        Operator::Multiply if plain(a) && !plain(b) => b,
        Operator::Divide | Operator::DivideByPositive if plain(b) && !plain(a) => a,
        _ => Unit::Ratio,
    }
}

/// How much a name resembles a known one; a known name that begins the other is likely meant.
fn resemblance(name: &str, known: &str) -> f64 {
    let begins = name.strip_prefix(known).is_some_and(|rest| rest.starts_with('_'));
    const BEGINS: f64 = 0.93;
    if begins { BEGINS } else { strsim::jaro_winkler(name, known) }
}
