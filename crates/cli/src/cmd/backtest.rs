//! `backtest` and `value-check`: would this way of choosing have worked?

use crate::{
    args::{BacktestArgs, Format, Shared, ValueCheckArgs},
    output::print,
};
use artemon_app::{
    Backtest, Ctx, ProposeBacktest, ScreenRef, backtest_here, backtests, candidates_here, check_measure, holdings_here, propose_backtest,
};
use artemon_core::{
    backtest::{Outcome, ValueCheck, words},
    domain::Day,
};
use serde_json::{Value, json};
use std::path::Path;

pub(crate) fn run(shared: &Shared, args: &BacktestArgs) -> anyhow::Result<()> {
    let ctx = shared.open()?;
    let settings = asked(&ctx, &args.backtest)?;
    let outcome = backtest_here(&ctx, &settings)?;
    if shared.format == Format::Table {
        eprintln!("{}, {} to {}", words(&settings), outcome.first, outcome.last);
        outcome.said.iter().for_each(|sentence| eprintln!("Beware: {sentence}"));
    }
    match shared.format {
        Format::Json => print(shared.format, &in_full(&ctx, &settings, &outcome)?, &[], &[]),
        Format::Csv => print(shared.format, &outcome, &TRADES, &trades(&outcome)),
        Format::Table => print(shared.format, &outcome, &["figure", "value"], &figures(&outcome)),
    }
}

/// The settings of a file, of a kept backtest, or sensible ones for a screen.
fn asked(ctx: &Ctx, name: &str) -> anyhow::Result<Backtest> {
    if Path::new(name).is_file() {
        let text = std::fs::read_to_string(name).map_err(|e| anyhow::anyhow!("{name} cannot be read: {e}."))?;
        return serde_json::from_str(&text)
            .map_err(|e| anyhow::anyhow!("{name} is not a backtest: {e}. The documented form is in docs/backtests.md."));
    }
    if let Some(kept) = backtests(ctx)?.backtests.into_iter().find(|b| b.name == name || b.id == name) {
        return Ok(kept.settings);
    }
    Ok(propose_backtest(ctx, &ProposeBacktest { screen: ScreenRef::Name(name.to_owned()), by: None })?)
}

/// The documented form: the settings, and the result with whom each decision chose from, and what was held at the end of each trade
/// session and of the one after it.
fn in_full(ctx: &Ctx, settings: &Backtest, outcome: &Outcome) -> anyhow::Result<Value> {
    let mut result = serde_json::to_value(outcome)?;
    let candidates = candidates_here(ctx, settings)?;
    result["candidates"] = candidates.into_iter().map(|(decision, symbols)| json!({"decision": decision, "symbols": symbols})).collect();
    let after = |day: &Day| outcome.daily.dates.iter().find(|d| *d > day).copied();
    let days = outcome.rebalances.iter().flat_map(|r| [Some(r.trade), after(&r.trade)]).flatten().chain([outcome.last]);
    result["holdings_at"] = days.map(|day| json!(holdings_here(ctx, settings, outcome, day))).collect();
    Ok(json!({"backtest": settings, "result": result}))
}

const TRADES: [&str; 5] = ["date", "symbol", "amount", "price", "why"];

fn trades(outcome: &Outcome) -> Vec<Vec<String>> {
    let why = |t| serde_json::to_value(t).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default();
    let row = |t: &artemon_core::backtest::TradeOutcome| {
        vec![t.date.to_string(), t.symbol.clone(), t.amount.to_string(), t.price.to_string(), why(t.why)]
    };
    outcome.trades.iter().map(row).collect()
}

fn figures(o: &Outcome) -> Vec<Vec<String>> {
    let percent = |x: f64| format!("{:.2} %", 100.0 * x);
    let or_none = |x: Option<f64>| x.map_or_else(|| "-".to_owned(), |x| format!("{x:.2}"));
    let rows = [
        ("annual return", percent(o.annualised_return)),
        ("of the benchmark", percent(o.benchmark_annualised_return)),
        ("excess", percent(o.excess)),
        ("90 % interval of the excess", o.bootstrap.map_or_else(String::new, |b| format!("{} to {}", percent(b.low), percent(b.high)))),
        ("better than random portfolios", format!("{:.1} of 100", o.luck.percentile)),
        ("volatility", o.annual_volatility.map_or_else(|| "-".to_owned(), percent)),
        ("maximum drawdown", percent(o.max_drawdown)),
        ("Sharpe ratio", or_none(o.sharpe)),
        ("Sortino ratio", or_none(o.sortino)),
        ("turnover a year", percent(o.turnover_a_year)),
        ("held on average", format!("{:.1}", o.average_held)),
        ("rebalances", o.rebalances.len().to_string()),
    ];
    rows.into_iter().map(|(label, value)| vec![label.to_owned(), value]).collect()
}

pub(crate) fn check(shared: &Shared, args: &ValueCheckArgs) -> anyhow::Result<()> {
    let ctx = shared.open()?;
    let asked = if Path::new(&args.check).is_file() {
        let text = std::fs::read_to_string(&args.check).map_err(|e| anyhow::anyhow!("{} cannot be read: {e}.", args.check))?;
        serde_json::from_str::<ValueCheck>(&text)
            .map_err(|e| anyhow::anyhow!("{} is not a value check: {e}. The documented form is in docs/backtests.md.", args.check))?
    } else {
        let whole = propose_backtest(&ctx, &ProposeBacktest { screen: ScreenRef::Document(Box::default()), by: None })?;
        let (from, to) = (args.from.unwrap_or(whole.from), args.to.unwrap_or(whole.to));
        ValueCheck { formula: args.check.clone(), universe: Default::default(), from, to, every: args.every, base: whole.base }
    };
    let found = check_measure(&ctx, &asked)?;
    if shared.format == Format::Table {
        eprintln!("{}", found.sentence);
        found.said.iter().for_each(|sentence| eprintln!("Beware: {sentence}"));
    }
    let number = |x: f64| if shared.format == Format::Table { format!("{:.2} %", 100.0 * x) } else { x.to_string() };
    let rows = found.outcome.dates.iter().map(|d| {
        let fifths = d.fifths.iter().chain([&d.spread]).map(|x| number(*x));
        [d.decision.to_string(), d.n.to_string()].into_iter().chain(fifths).collect()
    });
    let answer = json!({"value_check": asked, "result": found});
    print(shared.format, &answer, &["decision", "n", "lowest fifth", "2", "3", "4", "highest fifth", "spread"], &rows.collect::<Vec<_>>())
}
