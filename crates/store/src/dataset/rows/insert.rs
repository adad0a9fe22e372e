//! A prepared insert whose values are bound one by one.
//!
//! The insert that Diesel derives from a struct walks it several times a row; for millions of rows of many columns that
//! costs more than the database's own work. Here the text is fixed and one walk binds the values.

use diesel::{
    prelude::*,
    query_builder::{AstPass, QueryFragment, QueryId},
    serialize::ToSql,
    sql_types::{BigInt, Binary, Bool, Double, HasSqlType, Integer, Nullable, Text},
    sqlite::{Sqlite, SqliteConnection},
};

/// A value of a row.
#[derive(Clone, Copy, Debug)]
pub(crate) enum Bound<'v> {
    Text(&'v str),
    MaybeText(Option<&'v str>),
    Whole(i32),
    Long(i64),
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

/// Rows inserted by one statement: what a statement costs by itself is shared by them.
const TOGETHER: usize = 16;

struct Insert<'v, T, const ROWS: usize> {
    /// Those of all rows, one row after the other.
    values: &'v [Bound<'v>],
    target: std::marker::PhantomData<T>,
}

/// The statement for so many rows of a table.
struct Statement<T, const ROWS: usize>(std::marker::PhantomData<T>);

impl<T: Target, const ROWS: usize> QueryId for Insert<'_, T, ROWS> {
    type QueryId = Statement<T, ROWS>;
    const HAS_STATIC_QUERY_ID: bool = true;
}

impl<T: Target, const ROWS: usize> QueryFragment<Sqlite> for Insert<'_, T, ROWS> {
    fn walk_ast<'b>(&'b self, mut out: AstPass<'_, 'b, Sqlite>) -> QueryResult<()> {
        out.push_sql("REPLACE INTO ");
        out.push_sql(T::TABLE);
        out.push_sql(" (");
        out.push_sql(T::COLUMNS);
        out.push_sql(") VALUES (");
        for (r, row) in self.values.chunks(self.values.len() / ROWS).enumerate() {
            out.push_sql(if r > 0 { "),(" } else { "" });
            for (i, value) in row.iter().enumerate() {
                out.push_sql(if i > 0 { "," } else { "" });
                bind(value, &mut out)?;
            }
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
        Bound::Long(v) => put::<BigInt, _>(out, v),
        Bound::MaybeWhole(v) => put::<Nullable<Integer>, _>(out, v),
        Bound::Number(v) => put::<Double, _>(out, v),
        Bound::MaybeNumber(v) => put::<Nullable<Double>, _>(out, v),
        Bound::Flag(v) => put::<Bool, _>(out, v),
        Bound::Bytes(v) => put::<Binary, [u8]>(out, v),
    }
}

impl<T, const ROWS: usize> RunQueryDsl<SqliteConnection> for Insert<'_, T, ROWS> {}

/// Inserts a row, replacing one of the same key.
pub(crate) fn replace<T: Target>(c: &mut SqliteConnection, values: &[Bound<'_>]) -> QueryResult<()> {
    Insert::<T, 1> { values, target: std::marker::PhantomData }.execute(c).map(drop)
}

/// Inserts rows, some at once, each replacing one of the same key.
pub(crate) fn replace_all<'r, T: Target, R, const COLUMNS: usize>(
    c: &mut SqliteConnection,
    rows: &'r [R],
    values: impl Fn(&'r R) -> [Bound<'r>; COLUMNS],
) -> QueryResult<()> {
    let groups = rows.chunks_exact(TOGETHER);
    let rest = groups.remainder();
    let mut bound = Vec::with_capacity(TOGETHER * COLUMNS);
    for group in groups {
        bound.clear();
        group.iter().for_each(|row| bound.extend_from_slice(&values(row)));
        Insert::<T, TOGETHER> { values: &bound, target: std::marker::PhantomData }.execute(c)?;
    }
    rest.iter().try_for_each(|row| replace::<T>(c, &values(row)))
}
