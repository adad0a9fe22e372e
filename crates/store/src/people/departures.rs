//! A person leaves: what is theirs is deleted, or what others can work with is handed over; and everything of theirs as rows, to be taken
//! along.

use super::{
    LOCAL, People,
    audit::{NewEntry, insert_entry},
    checksums,
    credentials::owners,
    person::{PersonId, add_local},
    schema::persons,
};
use crate::StoreError;
use diesel::{
    connection::SimpleConnection,
    prelude::*,
    result::Error as QueryError,
    sql_types::{BigInt, Text},
    sqlite::SqliteConnection,
};

/// What became of a person who was to leave.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Departed {
    /// They are gone.
    Gone,
    /// There is no such person, or none who takes over.
    Missing,
    /// There would be no owner left; nothing was changed.
    LastOwner,
}

/// What is not taken along: what lets somebody in, and how it was seen that the file is sound.
const KEPT_BACK: [&str; 6] = ["credentials", "recovery_codes", "sessions", "devices", "access_tokens", "addresses"];

#[derive(QueryableByName)]
struct Line {
    #[diesel(sql_type = Text)]
    line: String,
}

#[derive(QueryableByName)]
struct Count {
    #[diesel(sql_type = BigInt)]
    count: i64,
}

/// Documents that others can work with. Those of a name that the other has already wait among the deleted ones, where nothing of the
/// other's would be overwritten by them.
const HANDED_OVER: &str = "kind IN ('screen', 'column_set', 'assumption_set', 'measure', 'list', 'case', 'note')";

impl People {
    /// Removes a person with all that is theirs; documents and backtests go to somebody else, where one is named.
    ///
    /// # Errors
    /// When it cannot be written. Nothing is changed then.
    pub fn remove_person(&self, person: &PersonId, heir: Option<&PersonId>, entry: &NewEntry<'_>) -> Result<Departed, StoreError> {
        let mut c = self.writer();
        let mut left = Departed::Gone;
        let done = c.immediate_transaction(|c| {
            let known = |c: &mut SqliteConnection, id: &PersonId| {
                persons::table.find(id.as_str()).count().get_result::<i64>(c).map(|found| found == 1)
            };
            if !known(c, person)? || heir.is_some_and(|heir| heir == person || !known(c, heir).unwrap_or_default()) {
                left = Departed::Missing;
                return Err(QueryError::RollbackTransaction);
            }
            if let Some(heir) = heir {
                hand_over(c, person.as_str(), heir.as_str())?;
            }
            remove(c, person.as_str())?;
            if owners(c)? == 0 {
                left = Departed::LastOwner;
                return Err(QueryError::RollbackTransaction);
            }
            insert_entry(c, entry)
        });
        match done {
            Err(QueryError::RollbackTransaction) => Ok(left),
            done => Ok(done.map(|()| Departed::Gone)?),
        }
    }

    /// The rows of each table that are a person's, each a line of JSON, without what lets anybody in.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn everything_of(&self, person: &PersonId) -> Result<Vec<(String, Vec<String>)>, StoreError> {
        let mut c = self.reader()?;
        let c = &mut *c;
        let mut out = Vec::new();
        for table in checksums::tables(c)?.into_iter().filter(|table| !KEPT_BACK.contains(&table.as_str())) {
            let Some(theirs) = theirs(c, &table)? else { continue };
            let columns = checksums::names(c, &format!("SELECT name FROM pragma_table_info('{table}') WHERE type <> 'BLOB' ORDER BY cid"))?;
            let pairs: Vec<String> = columns.iter().map(|column| format!("'{column}', \"{column}\"")).collect();
            let rows = format!("SELECT json_object({}) AS line FROM main.\"{table}\" WHERE {theirs}", pairs.join(", "));
            let lines = diesel::sql_query(rows).bind::<Text, _>(person.as_str()).load::<Line>(c)?;
            out.push((table, lines.into_iter().map(|l| l.line).collect()));
        }
        Ok(out)
    }
}

/// Which rows of a table are a person's: those that name them, or that belong to something that does.
fn theirs(c: &mut SqliteConnection, table: &str) -> QueryResult<Option<String>> {
    let has = |c: &mut SqliteConnection, column: &str| {
        let asked = format!("SELECT count(*) AS count FROM pragma_table_info('{table}') WHERE name = '{column}'");
        diesel::sql_query(asked).get_result::<Count>(c).map(|n| n.count > 0)
    };
    if table == "persons" {
        return Ok(Some("id = ?".to_owned()));
    }
    for (column, of) in [("person_id", ""), ("document_id", "documents"), ("decision_id", "decisions")] {
        if has(c, column)? {
            let within = format!("\"{column}\" IN (SELECT id FROM main.\"{of}\" WHERE person_id = ?)");
            return Ok(Some(if of.is_empty() { "person_id = ?".to_owned() } else { within }));
        }
    }
    Ok(None)
}

fn hand_over(c: &mut SqliteConnection, person: &str, heir: &str) -> QueryResult<()> {
    let taken = "EXISTS (SELECT 1 FROM documents AS other WHERE other.person_id = ?2 AND other.kind = documents.kind \
                 AND other.name = documents.name AND other.deleted_at IS NULL)";
    // What they share is not the other's to share unasked.
    run(c, "DELETE FROM shares WHERE person_id = ?1", &[person])?;
    let aside = format!("UPDATE documents SET deleted_at = created_at WHERE person_id = ?1 AND deleted_at IS NULL AND {taken}");
    run(c, &aside, &[person, heir])?;
    run(c, &format!("UPDATE documents SET person_id = ?2 WHERE person_id = ?1 AND {HANDED_OVER}"), &[person, heir])?;
    run(c, "UPDATE backtests SET person_id = ?2 WHERE person_id = ?1", &[person, heir])?;
    run(c, "UPDATE persons SET revision = revision + 1 WHERE id = ?1", &[heir])
}

fn remove(c: &mut SqliteConnection, person: &str) -> QueryResult<()> {
    let reviews = "DELETE FROM decision_reviews WHERE decision_id IN (SELECT id FROM decisions WHERE person_id = ?1)";
    run(c, reviews, &[person])?;
    for table in ["decisions", "ledger_events", "statement_imports", "accounts", "backtests", "persons"] {
        let column = if table == "persons" { "id" } else { "person_id" };
        run(c, &format!("DELETE FROM {table} WHERE {column} = ?1"), &[person])?;
    }
    // The machine keeps a person, who has nothing then.
    if person == LOCAL { add_local(c) } else { Ok(()) }
}

fn run(c: &mut SqliteConnection, sql: &str, with: &[&str]) -> QueryResult<()> {
    match with {
        [one] => diesel::sql_query(sql).bind::<Text, _>(*one).execute(c).map(drop),
        [one, other] => diesel::sql_query(sql).bind::<Text, _>(*one).bind::<Text, _>(*other).execute(c).map(drop),
        _ => c.batch_execute(sql),
    }
}
