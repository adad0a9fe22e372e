//! A prepared insert whose values are bound one by one.
//!
//! The insert that Diesel derives from a struct walks it several times a row; for millions of rows of many columns that
//! costs more than the database's own work. Here the text is fixed and one walk binds the values.

use diesel::{
    prelude::*,
    query_builder::{AstPass, QueryFragment, QueryId},
    serialize::ToSql,
    sql_types::{Binary, Bool, Double, HasSqlType, Integer, Nullable, Text},
    sqlite::{Sqlite, SqliteConnection},
};

/// A value of a row.
#[derive(Clone, Copy, Debug)]
pub(crate) enum Bound<'v> {
    Text(&'v str),
    MaybeText(Option<&'v str>),
    Whole(i32),
    MaybeWhole(Option<i32>),
    Number(f64),
    MaybeNumber(Option<f64>),
    Flag(bool),
    Bytes(&'v [u8]),
}

/// Which table, as a type: by it the prepared statement is found again.
pub(crate) trait Target: 'static {
    /// The table's name.
    const TABLE: &'static str;
    /// Its columns, separated by commas.
    const COLUMNS: &'static str;
}

struct Insert<'v, T> {
    values: &'v [Bound<'v>],
    target: std::marker::PhantomData<T>,
}

impl<T: Target> QueryId for Insert<'_, T> {
    type QueryId = T;
    const HAS_STATIC_QUERY_ID: bool = true;
}

impl<T: Target> QueryFragment<Sqlite> for Insert<'_, T> {
    fn walk_ast<'b>(&'b self, mut out: AstPass<'_, 'b, Sqlite>) -> QueryResult<()> {
        out.push_sql("REPLACE INTO ");
        out.push_sql(T::TABLE);
        out.push_sql(" (");
        out.push_sql(T::COLUMNS);
        out.push_sql(") VALUES (");
        for (i, value) in self.values.iter().enumerate() {
            if i > 0 {
                out.push_sql(",");
            }
            bind(value, &mut out)?;
        }
        out.push_sql(")");
        Ok(())
    }
}

fn bind<'b>(value: &'b Bound<'b>, out: &mut AstPass<'_, 'b, Sqlite>) -> QueryResult<()> {
    fn put<'b, S, U: ToSql<S, Sqlite> + ?Sized>(out: &mut AstPass<'_, 'b, Sqlite>, value: &'b U) -> QueryResult<()>
    where
        Sqlite: HasSqlType<S>,
    {
        out.push_bind_param::<S, U>(value)
    }
    match value {
        Bound::Text(v) => put::<Text, str>(out, v),
        Bound::MaybeText(v) => put::<Nullable<Text>, _>(out, v),
        Bound::Whole(v) => put::<Integer, _>(out, v),
        Bound::MaybeWhole(v) => put::<Nullable<Integer>, _>(out, v),
        Bound::Number(v) => put::<Double, _>(out, v),
        Bound::MaybeNumber(v) => put::<Nullable<Double>, _>(out, v),
        Bound::Flag(v) => put::<Bool, _>(out, v),
        Bound::Bytes(v) => put::<Binary, [u8]>(out, v),
    }
}

impl<T> RunQueryDsl<SqliteConnection> for Insert<'_, T> {}

/// Inserts a row, replacing one of the same key.
pub(crate) fn replace<T: Target>(c: &mut SqliteConnection, values: &[Bound<'_>]) -> QueryResult<()> {
    Insert::<T> { values, target: std::marker::PhantomData }.execute(c).map(drop)
}
