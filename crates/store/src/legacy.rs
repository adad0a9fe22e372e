//! Folders of older versions, which kept everything in one file: what belongs to persons moves to its own.
//!
//! Killed at any moment it can be done again: the new file is made beside and renamed when it is whole; then the old file is
//! renamed to that of the dataset, whose next migration drops what was copied.

use crate::{
    StoreError,
    db::Db,
    files::{self, DATASET, LEGACY, PEOPLE},
    moment::now,
    people::{
        documents::{NewDocument, insert_document, insert_next_version},
        person::{LOCAL, SORT, add_local},
    },
};
use diesel::{
    connection::SimpleConnection,
    prelude::*,
    sql_types::{Integer, Nullable, Text},
    sqlite::SqliteConnection,
};
use std::{fs, path::Path};

/// Parts the one file of an older version, if the folder has one.
pub(crate) fn part(folder: &Path) -> Result<(), StoreError> {
    let old = folder.join(LEGACY);
    if !old.is_file() || folder.join(DATASET).is_file() {
        return Ok(());
    }
    if !folder.join(PEOPLE).is_file() {
        let made = folder.join("moving");
        files::clear(&made)?;
        let people = Db::open(&made, &SORT)?;
        copy(&mut people.writer(), &old)?;
        drop(people);
        fs::rename(made.join(PEOPLE), folder.join(PEOPLE)).map_err(files::failed(folder))?;
        files::clear(&made)?;
    }
    files::settle(&old)?;
    fs::rename(&old, folder.join(DATASET)).map_err(files::failed(folder))
}

#[derive(QueryableByName)]
struct Measure {
    #[diesel(sql_type = Text)]
    id: String,
    #[diesel(sql_type = Text)]
    label: String,
    #[diesel(sql_type = Text)]
    note: String,
    #[diesel(sql_type = Nullable<Text>)]
    unit: Option<String>,
    #[diesel(sql_type = Text)]
    formula: String,
}

#[derive(QueryableByName)]
struct SetVersion {
    #[diesel(sql_type = Text)]
    name: String,
    #[diesel(sql_type = Integer)]
    version: i32,
    #[diesel(sql_type = Text)]
    body: String,
    #[diesel(sql_type = Text)]
    saved_at: String,
}

#[derive(QueryableByName)]
struct Table {
    #[diesel(sql_type = Text)]
    name: String,
}

/// Copies what belongs to the one person there was. Older files have fewer of the tables.
fn copy(c: &mut SqliteConnection, old: &Path) -> Result<(), StoreError> {
    add_local(c)?;
    diesel::sql_query("ATTACH ? AS old").bind::<Text, _>(old.display().to_string()).execute(c)?;
    let tables = diesel::sql_query("SELECT name FROM old.sqlite_master WHERE type = 'table'").load::<Table>(c)?;
    let has = |name: &str| tables.iter().any(|t| t.name == name);
    c.immediate_transaction(|c| {
        if has("own_measures") {
            let all = diesel::sql_query("SELECT id, label, note, unit, formula FROM old.own_measures").load::<Measure>(c)?;
            all.iter().try_for_each(|m| copy_measure(c, m))?;
        }
        if has("assumption_sets") {
            let query = |which| format!("SELECT name, version, body, saved_at FROM old.assumption_sets {which} ORDER BY name, version");
            // Files of the oldest versions do not know deleted sets.
            let kept = diesel::sql_query(query("WHERE NOT forgotten")).load::<SetVersion>(c);
            let all = kept.or_else(|_| diesel::sql_query(query("")).load::<SetVersion>(c))?;
            all.chunk_by(|a, b| a.name == b.name).try_for_each(|versions| copy_set(c, versions))?;
        }
        if has("overrides") {
            // How the companies are called is in the same file.
            diesel::sql_query(
                "INSERT INTO overrides (person_id, company_id, symbol, isin, name, body, saved_at) \
                 SELECT ?, o.company_id, coalesce(l.symbol, ''), coalesce(l.isin, ''), coalesce(c.name, ''), o.body, o.saved_at \
                 FROM old.overrides o LEFT JOIN old.companies c ON c.id = o.company_id \
                 LEFT JOIN old.listings l ON l.company_id = o.company_id AND l.is_primary",
            )
            .bind::<Text, _>(LOCAL)
            .execute(c)?;
        }
        if has("mappings") {
            let all = "INSERT INTO mappings (person_id, signature, mapping) SELECT ?, signature, mapping FROM old.mappings";
            diesel::sql_query(all).bind::<Text, _>(LOCAL).execute(c)?;
        }
        let in_use = "INSERT INTO preferences (person_id, key, value) SELECT ?, key, value FROM old.settings WHERE key = 'assumptions'";
        diesel::sql_query(in_use).bind::<Text, _>(LOCAL).execute(c).map(drop)
    })?;
    c.batch_execute("DETACH old; PRAGMA journal_mode = DELETE;").map_err(StoreError::from)
}

fn copy_measure(c: &mut SqliteConnection, m: &Measure) -> QueryResult<()> {
    let body = serde_json::json!({ "id": m.id, "label": m.label, "note": m.note, "unit": m.unit, "formula": m.formula }).to_string();
    let new = NewDocument { kind: "measure", folder: "", name: &m.id, note: "", body: &body };
    insert_document(c, LOCAL, &new, &now()).map(drop)
}

fn copy_set(c: &mut SqliteConnection, versions: &[SetVersion]) -> QueryResult<()> {
    let Some((first, later)) = versions.split_first() else { return Ok(()) };
    let new = NewDocument { kind: "assumption_set", folder: "", name: &first.name, note: "", body: &first.body };
    let id = insert_document(c, LOCAL, &new, &first.saved_at)?;
    later.iter().try_for_each(|v| insert_next_version(c, &id, v.version, &v.body, &v.saved_at))
}
