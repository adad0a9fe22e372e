//! The committed description of the API, and the types made from it, are those of the handlers.

use std::path::Path;

#[test]
fn the_committed_description_is_current() {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/openapi.json");
    let now = format!("{}\n", artemon_server::openapi().to_pretty_json().unwrap());
    if std::env::var_os("UPDATE_OPENAPI").is_some() {
        std::fs::write(&path, &now).unwrap();
    }
    let committed = std::fs::read_to_string(&path).unwrap_or_default();
    assert!(committed == now, "web/openapi.json is stale: run `make api`");
}

/// Rust code below a folder.
fn code(folder: &Path, into: &mut String) {
    for entry in std::fs::read_dir(folder).unwrap().flatten() {
        let path = entry.path();
        if path.is_dir() {
            code(&path, into);
        } else if path.extension().is_some_and(|e| e == "rs") {
            *into += &std::fs::read_to_string(path).unwrap();
        }
    }
}

/// Names may be shortened by `…`.
#[test]
fn each_test_that_the_page_on_security_names_is_there() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let page = std::fs::read_to_string(root.join("docs/security.md")).unwrap();
    let mut all = String::new();
    code(&root.join("crates"), &mut all);
    let is_a_test = |name: &&str| name.matches('_').count() >= 3 && name.chars().all(|c| c.is_ascii_lowercase() || "_:…".contains(c));
    let named: Vec<&str> = page.split('`').skip(1).step_by(2).filter(is_a_test).collect();
    let missing: Vec<&&str> = named
        .iter()
        .filter(|name| {
            let short = name.rsplit("::").next().unwrap().trim_end_matches(['…', '_']);
            !["fn", "mod"].iter().any(|kind| all.contains(&format!("{kind} {short}")))
        })
        .collect();
    assert!(named.len() > 20 && missing.is_empty(), "{missing:?} of {}", named.len());
}
