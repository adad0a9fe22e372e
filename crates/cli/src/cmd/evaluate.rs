//! `evaluate`: formulas for companies.

use crate::{
    args::{EvaluateArgs, Shared},
    output::{figure, print, underlined},
};
use artemon_app::{EvaluateRequest, evaluate};

pub(crate) fn run(shared: &Shared, args: EvaluateArgs) -> anyhow::Result<()> {
    let ctx = shared.open()?;
    if args.explain {
        return super::explain::run(shared, &ctx, &args);
    }
    let request = EvaluateRequest { formulas: args.formulas, symbols: args.symbols, as_of: args.as_of };
    let answers = evaluate(&ctx, &request).map_err(underlined)?;
    let headers: Vec<&str> = ["symbol"].into_iter().chain(request.formulas.iter().map(String::as_str)).collect();
    let row = |a: &artemon_app::Evaluated| {
        [a.symbol.clone()].into_iter().chain(a.values.iter().map(|v| figure(shared.format, &v.figure))).collect()
    };
    let rows: Vec<Vec<String>> = answers.iter().map(row).collect();
    print(shared.format, &answers, &headers, &rows)
}
