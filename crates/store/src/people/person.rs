//! Who there is, and the file that holds what is theirs.

use super::schema::persons;
use crate::{db::Sort, files::PEOPLE, moment::now};
use diesel::{
    backend::Backend,
    deserialize::{self, FromSql, FromSqlRow},
    expression::AsExpression,
    prelude::*,
    serialize::{self, Output, ToSql},
    sql_types::Text,
    sqlite::{Sqlite, SqliteConnection},
};
use diesel_migrations::{EmbeddedMigrations, embed_migrations};

const MIGRATIONS: EmbeddedMigrations = embed_migrations!("migrations/people");
pub(crate) const SORT: Sort = Sort {
    file: PEOPLE,
    application: 0x4152_5031,
    known_by: "persons",
    migrations: || MIGRATIONS,
    cache: 4_000,
    // What was confirmed is on the disk.
    synchronous: "FULL",
};

/// By which a person is known.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, AsExpression, FromSqlRow)]
#[diesel(sql_type = Text)]
pub struct PersonId(pub(super) String);

impl FromSql<Text, Sqlite> for PersonId {
    fn from_sql(bytes: <Sqlite as Backend>::RawValue<'_>) -> deserialize::Result<PersonId> {
        <String as FromSql<Text, Sqlite>>::from_sql(bytes).map(PersonId)
    }
}

impl ToSql<Text, Sqlite> for PersonId {
    fn to_sql<'b>(&'b self, out: &mut Output<'b, '_, Sqlite>) -> serialize::Result {
        <String as ToSql<Text, Sqlite>>::to_sql(&self.0, out)
    }
}

impl PersonId {
    /// The id of a person that was known by it before.
    #[must_use]
    pub fn known(id: &str) -> PersonId {
        PersonId(id.to_owned())
    }

    /// The id as text.
    #[must_use]
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

/// The person at this machine.
pub const LOCAL: &str = "local";

pub(crate) fn add_local(c: &mut SqliteConnection) -> QueryResult<()> {
    let row = (persons::id.eq(LOCAL), persons::name.eq(""), persons::created_at.eq(now()));
    diesel::insert_or_ignore_into(persons::table).values(row).execute(c)?;
    Ok(())
}

/// A text that nobody can guess: 256 random bits.
#[must_use]
pub fn unguessable() -> String {
    rand::random::<[u8; 32]>().iter().map(|byte| format!("{byte:02x}")).collect()
}
