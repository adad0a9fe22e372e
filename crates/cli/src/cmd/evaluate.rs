//! `evaluate`: formulas for companies.

use crate::{
    args::{EvaluateArgs, Shared},
    output::{figure, print},
};
use artemon_app::{AppError, EvaluateRequest, evaluate};

pub(crate) fn run(shared: &Shared, args: EvaluateArgs) -> anyhow::Result<()> {
    let app = shared.open()?;
    if args.explain {
        return super::explain::run(shared, &app, &args);
    }
    let request = EvaluateRequest { formulas: args.formulas, symbols: args.symbols, as_of: args.as_of };
    let answers = evaluate(&app, &request).map_err(underlined)?;
    let headers: Vec<&str> = ["symbol"].into_iter().chain(request.formulas.iter().map(String::as_str)).collect();
    let row = |a: &artemon_app::Evaluated| {
        [a.symbol.clone()].into_iter().chain(a.values.iter().map(|v| figure(shared.format, &v.figure))).collect()
    };
    let rows: Vec<Vec<String>> = answers.iter().map(row).collect();
    print(shared.format, &answers, &headers, &rows)
}

/// Shows the formula with its mistake underlined.
pub(crate) fn underlined(e: AppError) -> anyhow::Error {
    match &e {
        AppError::Formula { formula, error } => anyhow::anyhow!("{}", error.underlined(formula)),
        _ => e.into(),
    }
}
