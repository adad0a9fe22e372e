//! `value`: what one company is worth.

use crate::{
    args::{Format, Shared, ValueArgs},
    output::{figure, print},
};
use artemon_app::{ValueAnswer, ValueRequest, set_named, value_with};

pub(crate) fn run(shared: &Shared, args: &ValueArgs) -> anyhow::Result<()> {
    let ctx = shared.open()?;
    let assumptions = args.assumptions.as_deref().map(|name| set_named(&ctx, name)).transpose()?;
    let answer = value_with(&ctx, &args.symbol, &ValueRequest { as_of: args.as_of, assumptions, ..ValueRequest::default() })?;
    if shared.format == Format::Table {
        summary(&answer);
    }
    let scenarios: Vec<&str> = answer.scenarios.iter().map(|s| s.id.as_str()).collect();
    let headers: Vec<&str> = ["model"].into_iter().chain(scenarios.iter().copied()).chain(["alone", "mean"]).collect();
    let cell = |m: &artemon_app::ModelAnswer, scenario: Option<&str>| {
        let found = m.cells.iter().find(|c| c.scenario.as_deref() == scenario);
        found.map(|c| figure(shared.format, &c.value)).unwrap_or_default()
    };
    let row = |m: &artemon_app::ModelAnswer| {
        let mut row = vec![m.label.to_owned()];
        row.extend(scenarios.iter().map(|s| cell(m, Some(s))));
        row.push(cell(m, None));
        row.push(m.mean.map(|v| format!("{v:.2}")).unwrap_or_default());
        row
    };
    let rows: Vec<_> = answer.models.iter().map(row).collect();
    print(shared.format, &answer, &headers, &rows)
}

fn summary(a: &ValueAnswer) {
    let show = |f: &artemon_app::Figure| figure(Format::Table, f);
    println!("{} {} as of {}, {} assumptions, in {}", a.symbol, a.name, a.as_of, a.assumptions, a.currency);
    println!("price            {}", show(&a.price));
    println!(
        "intrinsic value  {}  (half of the valuations from {} to {})",
        show(&a.intrinsic_value),
        show(&a.value_low),
        show(&a.value_high)
    );
    println!("margin of safety {}", show(&a.margin_of_safety));
    println!("pay at most      {}  (margin {})", show(&a.buy_below), a.margin);
    println!("expected return  {}  (the price implies growth of {})", show(&a.expected_return), show(&a.implied_growth));
    println!("quality          {}  (soundness {})", show(&a.quality.score), show(&a.quality.soundness));
    println!("verdict          {}", a.verdict);
    a.quality.flags.iter().filter(|f| f.raised == Some(true)).for_each(|f| println!("red flag         {}", f.says));
    println!();
}
