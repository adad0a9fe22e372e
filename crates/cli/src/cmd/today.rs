//! `today`: what happened between two days to the companies of a document.

use super::screen::load;
use crate::{
    args::{Shared, TodayArgs},
    output::print,
};
use artemon_app::{TodayDocument, today_document};
use artemon_core::today::Asked;
use serde_json::Value;
use std::path::Path;

pub(crate) fn run(shared: &Shared, args: &TodayArgs) -> anyhow::Result<()> {
    let file = args.file.display();
    let text = std::fs::read_to_string(&args.file).map_err(|e| anyhow::anyhow!("{file} cannot be read: {e}."))?;
    let asked: Asked = serde_json::from_str(&text)
        .map_err(|e| anyhow::anyhow!("{file} is not a document of this command: {e}. The documented form is in docs/today.md."))?;
    let folder = args.file.parent().unwrap_or(Path::new("."));
    let screens = asked.screens.iter().map(|name| Ok((name.clone(), load(&beside(folder, name))?))).collect::<anyhow::Result<Vec<_>>>()?;
    let found = today_document(&shared.open()?, asked, &screens)?;
    print(shared.format, &found, &["section", "symbol", "what"], &lines(&found))
}

/// A screen's file beside the document, or the name of a ready-made screen.
fn beside(folder: &Path, name: &str) -> String {
    let file = folder.join(name);
    if file.exists() { file.to_string_lossy().into_owned() } else { name.to_owned() }
}

/// A line for each that has a symbol, with all else that is said of it.
fn lines(found: &TodayDocument) -> Vec<Vec<String>> {
    let all = serde_json::to_value(&found.result).unwrap_or_default();
    let mut lines = Vec::new();
    all.as_object().into_iter().flatten().for_each(|(section, value)| gather(section, value, &mut lines));
    lines
}

fn gather(section: &str, value: &Value, lines: &mut Vec<Vec<String>>) {
    match value {
        Value::Array(all) => all.iter().for_each(|v| gather(section, v, lines)),
        Value::Object(fields) => match fields.get("symbol").or_else(|| fields.get("name")).and_then(Value::as_str) {
            Some(symbol) => {
                let said = fields.iter().filter(|(k, v)| !["symbol", "name"].contains(&k.as_str()) && !v.is_null());
                let said: Vec<String> =
                    said.map(|(k, v)| format!("{k} {}", v.as_str().map_or_else(|| v.to_string(), str::to_owned))).collect();
                lines.push(vec![section.to_owned(), symbol.to_owned(), said.join(", ")]);
            }
            None => fields.iter().for_each(|(key, v)| gather(&format!("{section} {key}"), v, lines)),
        },
        _ => {}
    }
}
