//! Documents of one mechanism: every saved version is kept, what is deleted can be restored, and a change made elsewhere in
//! between is never overwritten.

use super::{
    People,
    person::PersonId,
    schema::{document_versions, documents},
};
use crate::{
    StoreError,
    moment::{self, now},
};
use diesel::{
    dsl::sql,
    prelude::*,
    result::{DatabaseErrorKind, Error as QueryError},
    sql_types::BigInt,
    sqlite::SqliteConnection,
};
use std::time::Duration;

/// A document without its contents.
#[derive(Clone, Debug, PartialEq, Eq, Queryable)]
#[allow(missing_docs)]
pub struct DocumentHead {
    pub id: String,
    pub kind: String,
    pub folder: String,
    pub name: String,
    /// The newest version, from 1.
    pub version: i32,
    pub created_at: String,
    /// When it was deleted, for those that can be restored.
    pub deleted_at: Option<String>,
    /// Of the newest version.
    pub note: String,
    pub saved_at: String,
}

/// A document with its contents.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Document {
    /// All but the contents.
    pub head: DocumentHead,
    /// The JSON of its newest version, or of the one asked for.
    pub body: String,
}

/// A version without its contents.
#[derive(Clone, Debug, PartialEq, Eq, Queryable)]
#[allow(missing_docs)]
pub struct DocumentVersion {
    pub version: i32,
    pub note: String,
    pub saved_at: String,
}

/// What is to be saved.
#[derive(Clone, Copy, Debug)]
#[allow(missing_docs)]
pub struct NewDocument<'d> {
    pub kind: &'d str,
    pub folder: &'d str,
    pub name: &'d str,
    pub note: &'d str,
    pub body: &'d str,
}

/// What became of a document that was to be saved.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Saved {
    /// It is kept as this.
    As(DocumentHead),
    /// Somebody saved a newer version in between; nothing was changed.
    ChangedSince(DocumentHead),
    /// Another document of the kind has the name; nothing was changed.
    NameTaken,
    /// There is none, or not of this person.
    Missing,
}

/// Inserts a document of the first version; gives its id.
pub(crate) fn insert_document(c: &mut SqliteConnection, person: &str, new: &NewDocument<'_>, saved_at: &str) -> QueryResult<String> {
    // An id that cannot be guessed.
    let id = uuid::Uuid::new_v4().to_string();
    use documents as d;
    let row = (
        d::id.eq(&id),
        d::person_id.eq(person),
        d::kind.eq(new.kind),
        d::folder.eq(new.folder),
        d::name.eq(new.name),
        d::version.eq(1),
        d::created_at.eq(saved_at),
    );
    diesel::insert_into(d::table).values(row).execute(c)?;
    insert_version(c, &id, 1, new.body, new.note, saved_at)?;
    Ok(id)
}

/// Inserts the next version of a document without a note.
pub(crate) fn insert_next_version(c: &mut SqliteConnection, id: &str, version: i32, body: &str, saved_at: &str) -> QueryResult<()> {
    diesel::update(documents::table.find(id)).set(documents::version.eq(version)).execute(c)?;
    insert_version(c, id, version, body, "", saved_at)
}

/// Inserts a version of a document.
fn insert_version(c: &mut SqliteConnection, id: &str, version: i32, body: &str, note: &str, saved_at: &str) -> QueryResult<()> {
    use document_versions as v;
    let row = (v::document_id.eq(id), v::version.eq(version), v::body.eq(body), v::note.eq(note), v::saved_at.eq(saved_at));
    diesel::insert_into(v::table).values(row).execute(c).map(drop)
}

macro_rules! heads {
    () => {{
        use document_versions as v;
        use documents as d;
        d::table.inner_join(v::table.on(v::document_id.eq(d::id).and(v::version.eq(d::version)))).select((
            d::id,
            d::kind,
            d::folder,
            d::name,
            d::version,
            d::created_at,
            d::deleted_at,
            v::note,
            v::saved_at,
        ))
    }};
}

impl People {
    /// The documents of a kind, by folder and name; deleted ones when asked for.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn documents(&self, person: &PersonId, kind: &str, deleted: bool) -> Result<Vec<DocumentHead>, StoreError> {
        use documents as d;
        let mine =
            heads!().filter(d::person_id.eq(person.as_str())).filter(d::kind.eq(kind)).filter(d::deleted_at.is_not_null().eq(deleted));
        Ok(mine.order_by((d::folder, d::name)).load(&mut *self.reader()?)?)
    }

    /// The documents of a kind that are not deleted, each with its newest contents, by name.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn whole_documents(&self, person: &PersonId, kind: &str) -> Result<Vec<Document>, StoreError> {
        use documents as d;
        let heads = self.documents(person, kind, false)?;
        let bodies: std::collections::HashMap<String, String> = documents::table
            .inner_join(
                document_versions::table.on(document_versions::document_id.eq(d::id).and(document_versions::version.eq(d::version))),
            )
            .filter(d::person_id.eq(person.as_str()))
            .filter(d::kind.eq(kind))
            .filter(d::deleted_at.is_null())
            .select((d::id, document_versions::body))
            .load::<(String, String)>(&mut *self.reader()?)?
            .into_iter()
            .collect();
        // Between the two reads a document may have come or gone: it then has no body here and is left out.
        let mut all: Vec<Document> =
            heads.into_iter().filter_map(|head| Some(Document { body: bodies.get(&head.id)?.clone(), head })).collect();
        all.sort_by(|a, b| a.head.name.cmp(&b.head.name));
        Ok(all)
    }

    /// A document by id, in its newest version or another; `None` when there is none, or not of this person.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn document(&self, person: &PersonId, id: &str, version: Option<i32>) -> Result<Option<Document>, StoreError> {
        let mut c = self.reader()?;
        let Some(head) = head(&mut c, person, id)? else { return Ok(None) };
        let version = version.unwrap_or(head.version);
        let body = document_versions::table.find((id, version)).select(document_versions::body).first(&mut *c).optional()?;
        Ok(body.map(|body| Document { head, body }))
    }

    /// A document by kind and name, unless it is deleted.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn document_named(&self, person: &PersonId, kind: &str, name: &str) -> Result<Option<DocumentHead>, StoreError> {
        use documents as d;
        let mine = heads!().filter(d::person_id.eq(person.as_str())).filter(d::kind.eq(kind)).filter(d::name.eq(name));
        Ok(mine.filter(d::deleted_at.is_null()).first(&mut *self.reader()?).optional()?)
    }

    /// The saved versions of a document, oldest first.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn document_versions(&self, person: &PersonId, id: &str) -> Result<Vec<DocumentVersion>, StoreError> {
        use document_versions as v;
        let mut c = self.reader()?;
        if head(&mut c, person, id)?.is_none() {
            return Ok(Vec::new());
        }
        Ok(v::table.filter(v::document_id.eq(id)).select((v::version, v::note, v::saved_at)).order_by(v::version).load(&mut *c)?)
    }

    /// Keeps a new document.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn add_document(&self, person: &PersonId, new: NewDocument<'_>) -> Result<Saved, StoreError> {
        let mut c = self.writer();
        named(c.immediate_transaction(|c| {
            let id = insert_document(c, person.as_str(), &new, &now())?;
            head(c, person, &id)
        }))
    }

    /// Keeps the next version of a document, under the name and in the folder given; refused when its newest version is not
    /// the one that the change was made to.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn save_document(&self, person: &PersonId, id: &str, made_to: i32, new: NewDocument<'_>) -> Result<Saved, StoreError> {
        self.save_apart(person, id, made_to, new, Duration::ZERO)
    }

    /// The same for what is saved while somebody writes: the version before, unless it is the first or older than `apart`, is
    /// replaced.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn save_apart(
        &self,
        person: &PersonId,
        id: &str,
        made_to: i32,
        new: NewDocument<'_>,
        apart: Duration,
    ) -> Result<Saved, StoreError> {
        use documents as d;
        let mut c = self.writer();
        let mut changed = None;
        let saved = named(c.immediate_transaction(|c| {
            let Some(now_kept) = head(c, person, id)?.filter(|h| h.deleted_at.is_none() && h.kind == new.kind) else { return Ok(None) };
            if now_kept.version != made_to {
                changed = Some(now_kept);
                return Ok(None);
            }
            let version = made_to + 1;
            let values = (d::version.eq(version), d::folder.eq(new.folder), d::name.eq(new.name));
            diesel::update(d::table.find(id)).set(values).execute(c)?;
            insert_version(c, id, version, new.body, new.note, &now())?;
            forget_replaced(c, &now_kept, apart)?;
            head(c, person, id)
        }))?;
        Ok(changed.map_or(saved, Saved::ChangedSince))
    }

    /// Deletes a document until it is restored, or restores it.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn delete_document(&self, person: &PersonId, id: &str, delete: bool) -> Result<Saved, StoreError> {
        use documents as d;
        let mut c = self.writer();
        named(c.immediate_transaction(|c| {
            if head(c, person, id)?.is_none_or(|h| h.deleted_at.is_some() == delete) {
                return Ok(None);
            }
            diesel::update(d::table.find(id)).set(d::deleted_at.eq(delete.then(now))).execute(c)?;
            head(c, person, id)
        }))
    }

    /// Bytes that a person's documents take, with all their versions.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn bytes_of_documents(&self, person: &PersonId) -> Result<i64, StoreError> {
        use document_versions as v;
        let mine = v::table.inner_join(documents::table.on(documents::id.eq(v::document_id)));
        let bytes = sql::<BigInt>("coalesce(sum(octet_length(body)), 0)");
        Ok(mine.filter(documents::person_id.eq(person.as_str())).select(bytes).first(&mut *self.reader()?)?)
    }

    /// The document of a kind and name that was deleted last.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn deleted_document(&self, person: &PersonId, kind: &str, name: &str) -> Result<Option<DocumentHead>, StoreError> {
        use documents as d;
        let mine = heads!().filter(d::person_id.eq(person.as_str())).filter(d::kind.eq(kind)).filter(d::name.eq(name));
        Ok(mine.filter(d::deleted_at.is_not_null()).order_by(d::deleted_at.desc()).first(&mut *self.reader()?).optional()?)
    }
}

/// Forgets the version before a new one, unless it is the first or old enough to stay.
fn forget_replaced(c: &mut SqliteConnection, before: &DocumentHead, apart: Duration) -> QueryResult<()> {
    let age = moment::read(&before.saved_at).and_then(|saved| (chrono::Utc::now() - saved).to_std().ok());
    if before.version > 1 && age.is_some_and(|age| age < apart) {
        diesel::delete(document_versions::table.find((&before.id, before.version))).execute(c)?;
    }
    Ok(())
}

fn head(c: &mut SqliteConnection, person: &PersonId, id: &str) -> QueryResult<Option<DocumentHead>> {
    use documents as d;
    heads!().filter(d::person_id.eq(person.as_str())).filter(d::id.eq(id)).first(c).optional()
}

/// What became of a change whose only bound is that names are unique.
fn named(done: QueryResult<Option<DocumentHead>>) -> Result<Saved, StoreError> {
    match done {
        Ok(head) => Ok(head.map_or(Saved::Missing, Saved::As)),
        Err(QueryError::DatabaseError(DatabaseErrorKind::UniqueViolation, _)) => Ok(Saved::NameTaken),
        Err(e) => Err(e.into()),
    }
}
