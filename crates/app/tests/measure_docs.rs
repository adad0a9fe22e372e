//! `docs/measures.md` is made from the catalogue: UPDATE_DOCS=1 writes it anew.
#![allow(clippy::unwrap_used)]

use artemon_app::measure_list;
use std::{fmt::Write, path::Path};

fn page() -> String {
    let mut out = "# Measures\n\nMade from the catalogue. Amounts of the whole company are in the base currency, amounts a share in the \
        listing's.\n`÷` is undefined where the denominator is zero or negative.\n"
        .to_owned();
    let mut family = None;
    for m in measure_list() {
        if family != Some(m.family) {
            family = Some(m.family);
            let name = serde_json::to_value(m.family).unwrap().as_str().unwrap().replace('_', " ");
            write!(out, "\n## {}{}\n\n", name[..1].to_uppercase(), &name[1..]).unwrap();
        }
        let formula = m.formula.map(|f| format!(" = `{}`", f.split_whitespace().collect::<Vec<_>>().join(" "))).unwrap_or_default();
        let kinds = if m.not_for.is_empty() { String::new() } else { format!(" Means nothing for: {}.", m.not_for) };
        let source = if m.source.is_empty() { String::new() } else { format!(" Source: {}.", m.source) };
        let also = if m.synonyms.is_empty() { String::new() } else { format!(" Also: {}.", m.synonyms.join(", ")) };
        let unit = m.unit.to_string();
        writeln!(
            out,
            "- **{}** `{}`{formula} ({unit}) — {} Undefined when {}.{kinds}{source}{also}",
            m.label, m.example, m.meaning, m.undefined_when
        )
        .unwrap();
    }
    out
}

#[test]
fn the_page_of_measures_is_current() {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/measures.md");
    if std::env::var_os("UPDATE_DOCS").is_some() {
        std::fs::write(&path, page()).unwrap();
    }
    assert!(
        std::fs::read_to_string(&path).unwrap_or_default() == page(),
        "run UPDATE_DOCS=1 cargo test -p artemon-app --test measure_docs"
    );
}

/// Whatever may be written is offered, with an example that is understood.
#[test]
fn every_function_is_offered_with_an_example_that_works() {
    let offered = artemon_app::function_list();
    for name in ["fy_trend_fit", "h", "h_yoy", "fy_steadiness", "own_z", "change_of", "else"] {
        assert!(offered.iter().any(|f| f.name == name), "{name}");
    }
    for f in &offered {
        let read = artemon_core::measures::compile(f.example);
        assert!(f.example.starts_with(&format!("{}(", f.name)) && read.is_ok(), "{}: {:?}", f.example, read.err().map(|e| e.message));
    }
    let mut names: Vec<&str> = offered.iter().map(|f| f.name).collect();
    names.sort_unstable();
    names.dedup();
    assert_eq!(names.len(), offered.len());
}
