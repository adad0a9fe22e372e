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
