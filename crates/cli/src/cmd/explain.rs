//! `evaluate --explain`: each answer opened down to its filings.

use crate::{
    args::{EvaluateArgs, Shared},
    output::{figure, print, underlined},
};
use artemon_app::{Ctx, ExplainRequest, Explained, explain};
use artemon_core::formula::Explanation;

pub(crate) fn run(shared: &Shared, ctx: &Ctx, args: &EvaluateArgs) -> anyhow::Result<()> {
    let mut opened: Vec<Explained> = Vec::new();
    for symbol in &args.symbols {
        for formula in &args.formulas {
            let request = ExplainRequest { formula: formula.clone(), symbol: symbol.clone(), as_of: args.as_of };
            opened.push(explain(ctx, &request).map_err(underlined)?);
        }
    }
    let mut rows = Vec::new();
    for one in &opened {
        lines(shared, &one.symbol, 0, &one.root, &mut rows);
    }
    print(shared.format, &opened, &["symbol", "figure", "value", "from", "rules"], &rows)
}

/// A line for a part, then those of its inputs, further in.
fn lines(shared: &Shared, symbol: &str, depth: usize, e: &Explanation, out: &mut Vec<Vec<String>>) {
    let definition = e.definition.as_ref().map(|d| format!(" = {d}")).unwrap_or_default();
    let label = e.label.as_ref().filter(|l| **l != e.formula).map(|l| format!("{l}: ")).unwrap_or_default();
    let from = e.source.as_ref().map(|s| {
        let period = s.period.zip(s.fiscal_year).map(|(p, y)| format!("{p} {y}, ")).unwrap_or_default();
        format!("{period}filed {} in {}", s.filed_on, s.document)
    });
    out.push(vec![
        symbol.to_owned(),
        format!("{}{label}{}{definition}", "  ".repeat(depth), e.formula),
        figure(shared.format, &e.value.clone().into()),
        from.unwrap_or_default(),
        e.notes.join(" "),
    ]);
    for input in &e.inputs {
        lines(shared, symbol, depth + 1, input, out);
    }
}
