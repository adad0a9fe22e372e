//! A formula in words.

use crate::{
    formula::{Catalogue, Expr, Library, Measure, Node, ParamKind, parse},
    measures,
};

/// What a formula is called: the label of a measure with its arguments, "P/E in its own 10 years", or the formula itself.
#[must_use]
pub fn label(formula: &str, library: &Library) -> String {
    parse(formula).ok().and_then(|e| of_tree(&e, library)).unwrap_or_else(|| formula.trim().to_owned())
}

fn of_tree(e: &Expr, library: &Library) -> Option<String> {
    match &e.node {
        Node::Name(name) => {
            library.get(name).map(|m| m.label.clone()).or_else(|| Some(measure(name, library.catalogue())?.label.to_owned()))
        }
        Node::Call(name, args) => call(name, args, library),
        _ => None,
    }
}

fn measure(name: &str, catalogue: &Catalogue) -> Option<&'static Measure> {
    catalogue.find(name)
}

/// What stands before and after the words of a function's first argument.
const OWN: [(&str, &str); 4] = [
    ("own_rank", "in its own"),
    ("own_median", ", median of its own"),
    ("own_low", ", lowest of its own"),
    ("own_high", ", highest of its own"),
];

fn call(name: &str, args: &[Expr], library: &Library) -> Option<String> {
    if let (Some((_, words)), [x, window]) = (OWN.iter().find(|o| o.0 == name), args) {
        let inner = of_tree(x, library)?;
        let gap = if words.starts_with(',') { "" } else { " " };
        return Some(format!("{inner}{gap}{words} {}", period(&window.to_string())));
    }
    if let ("fy", [x, k]) = (name, args) {
        let inner = of_tree(x, library).unwrap_or_else(|| x.to_string());
        return Some(match k.node {
            Node::Number(0.0) => format!("{inner}, newest fiscal year"),
            Node::Number(1.0) => format!("{inner}, fiscal year before the newest"),
            _ => format!("{inner}, {k} fiscal years before the newest"),
        });
    }
    let m = measures::find(name)?;
    let argument = |(param, arg): (&crate::formula::Param, &Expr)| {
        let text = arg.to_string();
        match (param.kind, param.name) {
            (ParamKind::Count, "n") if m.unit != crate::formula::Unit::PerShare && name.contains("growth") => format!("{text} years"),
            (ParamKind::Count, "months") => format!("{text} months"),
            (ParamKind::Period, _) => period(&text),
            _ => text,
        }
    };
    let arguments: Vec<String> = m.params.iter().zip(args).map(argument).collect();
    Some(if arguments.is_empty() { m.label.to_owned() } else { format!("{}, {}", m.label, arguments.join(", ")) })
}

/// `10y` as "10 years".
fn period(text: &str) -> String {
    let (count, unit) = text.split_at(text.len().saturating_sub(1));
    let word = match unit {
        "y" => "year",
        "m" => "month",
        "w" => "week",
        "d" => "day",
        _ => return text.to_owned(),
    };
    if count == "1" { format!("1 {word}") } else { format!("{count} {word}s") }
}
