//! `price-behaviour`: turns, levels, gaps and candles of prices, and what followed insiders' purchases.

use crate::{
    args::{BehaviourArgs, Shared},
    output::print,
};
use artemon_app::{Behaviour, behaviour};

pub(crate) fn run(shared: &Shared, args: &BehaviourArgs) -> anyhow::Result<()> {
    let ctx = shared.open()?;
    let found = behaviour(&ctx, &args.symbols, args.as_of)?;
    let rows: Vec<Vec<String>> = found.iter().flat_map(|(symbol, b)| lines(symbol, b)).collect();
    print(shared.format, &found, &["symbol", "what", "date", "from", "to"], &rows)
}

/// What is seen of a company, a line each: the levels around its price, the open gaps, the shapes of bars.
fn lines(symbol: &str, b: &Behaviour) -> Vec<Vec<String>> {
    let line = |what: String, date: String, from: String, to: String| vec![symbol.to_owned(), what, date, from, to];
    let number = |x: f64| format!("{x:.4}");
    let levels = [("support", &b.support), ("resistance", &b.resistance)].into_iter().flat_map(|(name, levels)| {
        let one = move |l: &artemon_app::PriceLevel| (format!("{name}, {} turns", l.touches), l.level);
        levels.iter().flatten().map(one).collect::<Vec<_>>()
    });
    let levels = levels.map(|(what, level)| line(what, String::new(), number(level), String::new()));
    let gaps = b.gaps.iter().flatten();
    let gaps = gaps.map(|g| line(format!("open gap {}", g.kind), g.date.to_string(), number(g.open_low), number(g.open_high)));
    let shapes = b.candles.iter().flat_map(|(size, found)| found.iter().map(move |p| (size, p)));
    let shape = |p: &artemon_app::Pattern| serde_json::to_value(p.pattern).ok().and_then(|v| v.as_str().map(|s| s.replace('_', " ")));
    let shapes = shapes
        .map(|(size, p)| line(format!("{} by {size}", shape(p).unwrap_or_default()), p.date.to_string(), String::new(), String::new()));
    let after = b.after_purchases.iter().flatten().filter_map(|(months, f)| Some((months, f.purchases, f.median?)));
    let after = after.map(|(months, n, median)| {
        line(format!("{months} after {n} purchases of insiders, against all"), String::new(), number(median), String::new())
    });
    levels.chain(gaps).chain(shapes).chain(after).collect()
}
