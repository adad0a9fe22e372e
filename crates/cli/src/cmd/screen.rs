//! `screen`: from the many to a few.

use crate::{
    args::{Format, ScreenArgs, Shared},
    output::{figure, print},
};
use artemon_app::{RowAnswer, ScreenAnswer, ready_screen, ready_screens, whole_screen};
use artemon_core::screening::Screen;
use std::path::Path;

pub(crate) fn run(shared: &Shared, args: &ScreenArgs) -> anyhow::Result<()> {
    let mut document = load(&args.screen)?;
    document.as_of = args.as_of.or(document.as_of);
    let ctx = shared.open()?;
    let whole = whole_screen(&ctx, &document)?;
    if shared.format == Format::Table {
        narrowing(&whole.answer);
    }
    let headers: Vec<&str> = ["symbol", "name"].into_iter().chain(whole.answer.columns.iter().map(|c| c.formula.as_str())).collect();
    let row =
        |r: &RowAnswer| [r.symbol.clone(), r.name.clone()].into_iter().chain(r.values.iter().map(|v| figure(shared.format, v))).collect();
    let rows: Vec<Vec<String>> = whole.rows.iter().map(row).collect();
    print(shared.format, &whole, &headers, &rows)
}

/// A screen's file, or a ready-made screen by name.
pub(crate) fn load(name: &str) -> anyhow::Result<Screen> {
    if let Some(screen) = ready_screen(name) {
        return Ok(screen);
    }
    if !Path::new(name).exists() {
        let known: Vec<_> = ready_screens().into_iter().map(|s| s.id).collect();
        anyhow::bail!("There is no file and no ready-made screen \"{name}\". The ready-made ones are {}.", known.join(", "));
    }
    let text = std::fs::read_to_string(name).map_err(|e| anyhow::anyhow!("{name} cannot be read: {e}."))?;
    serde_json::from_str(&text).map_err(|e| anyhow::anyhow!("{name} is not a screen: {e}. The documented form is in docs/screens.md."))
}

fn narrowing(answer: &ScreenAnswer) {
    for step in &answer.steps {
        let hint = if step.no_data > 0 { format!("  ({} for want of data)", step.no_data) } else { String::new() };
        eprintln!("{:>6}  {}{hint}", step.left, step.step);
    }
    for c in answer.criteria.iter().filter(|c| c.error.is_some()) {
        eprintln!("switched off: {} — {}", c.formula, c.error.as_ref().map(|e| e.message.as_str()).unwrap_or_default());
    }
}
