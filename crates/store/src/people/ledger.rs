//! Accounts, and the journal of what happened in them. What a session did lands at once, with the mark that it was worked: a break in
//! between repeats it without booking anything twice.

use super::{
    People,
    decisions::{NewDecision, insert_decision},
    person::PersonId,
    schema::{accounts, broker_worked, ledger_events, statement_imports},
};
use crate::{StoreError, moment::now};
use diesel::{
    prelude::*,
    result::{DatabaseErrorKind, Error as DieselError},
    sqlite::SqliteConnection,
};

/// An account.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = accounts)]
#[allow(missing_docs)]
pub struct KeptAccount {
    pub id: String,
    pub name: String,
    pub currency: String,
    pub kind: String,
    pub lots: String,
}

/// Something that happened in an account.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = ledger_events)]
pub struct KeptEvent {
    /// Of the person's events, from 1.
    pub n: i64,
    #[allow(missing_docs)]
    pub account_id: String,
    /// As YYYY-MM-DD.
    pub date: String,
    /// As JSON.
    pub body: String,
    /// By what it is the same event.
    pub key: String,
}

/// Something that is to be added to the journal.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct NewEvent {
    pub account_id: String,
    pub date: String,
    pub body: String,
    pub key: String,
}

/// What lands in the journal at once.
#[derive(Clone, Copy, Debug, Default)]
pub struct Landing<'l> {
    #[allow(missing_docs)]
    pub events: &'l [NewEvent],
    /// The decision that they carry out.
    pub decision: Option<&'l NewDecision>,
    /// The statement that they come from.
    pub import: Option<&'l NewStatement>,
    /// The session that the broker has worked with them.
    pub worked: Option<&'l str>,
}

/// What landed.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Landed {
    /// The number of the first event.
    pub first: i64,
    /// The id of the import.
    pub import: Option<String>,
}

/// A statement that is imported.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct NewStatement {
    pub account_id: String,
    /// The name of its file.
    pub file: String,
}

/// A statement that was imported.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = statement_imports)]
#[allow(missing_docs)]
pub struct KeptStatement {
    pub id: String,
    pub account_id: String,
    pub file: String,
    pub imported_at: String,
}

impl People {
    /// The accounts of a person, in the order in which they were made.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn accounts(&self, person: &PersonId) -> Result<Vec<KeptAccount>, StoreError> {
        let mine = accounts::table.filter(accounts::person_id.eq(person.as_str())).order_by((accounts::made_at, accounts::id));
        Ok(mine.select(KeptAccount::as_select()).load(&mut *self.reader()?)?)
    }

    /// Adds an account and gives its id; none when there is one of the name. The id that comes with it is not looked at.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn add_account(&self, person: &PersonId, account: &KeptAccount) -> Result<Option<String>, StoreError> {
        use accounts as a;
        let id = uuid::Uuid::new_v4().to_string();
        let row = (
            a::id.eq(&id),
            a::person_id.eq(person.as_str()),
            a::name.eq(&account.name),
            a::currency.eq(&account.currency),
            a::kind.eq(&account.kind),
            a::lots.eq(&account.lots),
            a::made_at.eq(now()),
        );
        match diesel::insert_into(a::table).values(row).execute(&mut *self.writer()) {
            Err(DieselError::DatabaseError(DatabaseErrorKind::UniqueViolation, _)) => Ok(None),
            done => done.map(|_| Some(id)).map_err(Into::into),
        }
    }

    /// Names an account anew; false when there is another of the name.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn rename_account(&self, person: &PersonId, id: &str, name: &str) -> Result<bool, StoreError> {
        let mine = accounts::table.filter(accounts::person_id.eq(person.as_str())).filter(accounts::id.eq(id));
        match diesel::update(mine).set(accounts::name.eq(name)).execute(&mut *self.writer()) {
            Err(DieselError::DatabaseError(DatabaseErrorKind::UniqueViolation, _)) => Ok(false),
            done => done.map(|_| true).map_err(Into::into),
        }
    }

    /// Removes an account in which nothing has happened; false when something has.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn remove_account(&self, person: &PersonId, id: &str) -> Result<bool, StoreError> {
        let mine = accounts::table.filter(accounts::person_id.eq(person.as_str())).filter(accounts::id.eq(id));
        match diesel::delete(mine).execute(&mut *self.writer()) {
            Err(DieselError::DatabaseError(DatabaseErrorKind::ForeignKeyViolation, _)) => Ok(false),
            done => done.map(|n| n > 0).map_err(Into::into),
        }
    }

    /// The journal of a person, by day, those of one day by number.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn ledger_events(&self, person: &PersonId) -> Result<Vec<KeptEvent>, StoreError> {
        use ledger_events as e;
        let mine = e::table.filter(e::person_id.eq(person.as_str())).order_by((e::date, e::n));
        Ok(mine.select(KeptEvent::as_select()).load(&mut *self.reader()?)?)
    }

    /// The highest number in the journal of a person, 0 for an empty one, and how many events there are.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn journal_end(&self, person: &PersonId) -> Result<(i64, i64), StoreError> {
        use ledger_events as e;
        let mine = e::table.filter(e::person_id.eq(person.as_str()));
        let c = &mut *self.reader()?;
        Ok((mine.select(diesel::dsl::max(e::n)).first::<Option<i64>>(c)?.unwrap_or(0), mine.count().get_result(c)?))
    }

    /// Removes events that were written down by hand; gives how many there were.
    ///
    /// # Errors
    /// When they cannot be removed.
    pub fn remove_events(&self, person: &PersonId, numbers: &[i64]) -> Result<usize, StoreError> {
        use ledger_events as e;
        let mine = e::table.filter(e::person_id.eq(person.as_str())).filter(e::n.eq_any(numbers));
        Ok(diesel::delete(mine).execute(&mut *self.writer())?)
    }

    /// Lands in the journal, all of it or nothing.
    ///
    /// # Errors
    /// When it cannot be written: then nothing is. Of an event whose key is there already nothing is written either.
    pub fn land(&self, person: &PersonId, landing: &Landing<'_>) -> Result<Landed, StoreError> {
        let landed = self.writer().immediate_transaction::<_, diesel::result::Error, _>(|c| {
            let import = landing.import.map(|import| insert_import(c, person, import)).transpose()?;
            let first = insert_events(c, person, landing.events, import.as_deref())?;
            if let Some(decision) = landing.decision {
                insert_decision(c, person, decision)?;
            }
            if let Some(session) = landing.worked {
                let row = (broker_worked::person_id.eq(person.as_str()), broker_worked::session.eq(session));
                diesel::replace_into(broker_worked::table).values(row).execute(c)?;
            }
            Ok(Landed { first, import })
        })?;
        Ok(landed)
    }

    /// The statements that a person imported, newest first, with how many events of each are in the journal.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn statement_imports(&self, person: &PersonId) -> Result<Vec<(KeptStatement, i64)>, StoreError> {
        use statement_imports as i;
        let c = &mut *self.reader()?;
        let mine = i::table.filter(i::person_id.eq(person.as_str())).order_by((i::imported_at.desc(), i::id));
        let all: Vec<KeptStatement> = mine.select(KeptStatement::as_select()).load(c)?;
        let count = |i: KeptStatement| {
            let events = ledger_events::table.filter(ledger_events::import_id.eq(&i.id)).count().get_result(c)?;
            Ok((i, events))
        };
        all.into_iter().map(count).collect()
    }

    /// The numbers of the events of an import.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn events_of_import(&self, person: &PersonId, import: &str) -> Result<Vec<i64>, StoreError> {
        use ledger_events as e;
        let of_it = e::table.filter(e::person_id.eq(person.as_str())).filter(e::import_id.eq(import));
        Ok(of_it.select(e::n).load(&mut *self.reader()?)?)
    }

    /// Takes an import back with all its events; false when there is none.
    ///
    /// # Errors
    /// When it cannot be written: then nothing is.
    pub fn remove_import(&self, person: &PersonId, import: &str) -> Result<bool, StoreError> {
        let removed = self.writer().immediate_transaction::<usize, diesel::result::Error, _>(|c| {
            let mine = ledger_events::table.filter(ledger_events::person_id.eq(person.as_str()));
            diesel::delete(mine.filter(ledger_events::import_id.eq(import))).execute(c)?;
            let of_it = statement_imports::table.filter(statement_imports::person_id.eq(person.as_str()));
            diesel::delete(of_it.filter(statement_imports::id.eq(import))).execute(c)
        })?;
        Ok(removed > 0)
    }

    /// The last session that the broker has worked for a person.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn broker_worked(&self, person: &PersonId) -> Result<Option<String>, StoreError> {
        let row = broker_worked::table.find(person.as_str()).select(broker_worked::session);
        Ok(row.first(&mut *self.reader()?).optional()?)
    }
}

/// Adds events to the end of a journal; gives the number of the first.
fn insert_events(c: &mut SqliteConnection, person: &PersonId, events: &[NewEvent], import: Option<&str>) -> QueryResult<i64> {
    use ledger_events as e;
    let mine = e::table.filter(e::person_id.eq(person.as_str()));
    let first = mine.select(diesel::dsl::max(e::n)).first::<Option<i64>>(c)?.unwrap_or(0) + 1;
    for (n, event) in (first..).zip(events) {
        let row = (
            e::person_id.eq(person.as_str()),
            e::n.eq(n),
            e::account_id.eq(&event.account_id),
            e::date.eq(&event.date),
            e::body.eq(&event.body),
            e::key.eq(&event.key),
            e::made_at.eq(now()),
            e::import_id.eq(import),
        );
        diesel::insert_into(e::table).values(row).execute(c)?;
    }
    Ok(first)
}

fn insert_import(c: &mut SqliteConnection, person: &PersonId, import: &NewStatement) -> QueryResult<String> {
    use statement_imports as i;
    let id = uuid::Uuid::new_v4().to_string();
    let row = (
        i::id.eq(&id),
        i::person_id.eq(person.as_str()),
        i::account_id.eq(&import.account_id),
        i::file.eq(&import.file),
        i::imported_at.eq(now()),
    );
    diesel::insert_into(i::table).values(row).execute(c)?;
    Ok(id)
}
