//! Decisions as they were written, and reviews of them: neither is ever changed.

use super::{
    People,
    person::PersonId,
    schema::{decision_reviews, decisions},
};
use crate::{StoreError, moment::now};
use diesel::{prelude::*, sqlite::SqliteConnection};

/// A decision as it was written; bodies are JSON.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = decisions)]
#[allow(missing_docs)]
pub struct KeptDecision {
    pub id: String,
    /// As YYYY-MM-DD.
    pub decided_on: String,
    pub company: String,
    /// The order that was given with it.
    pub order_name: Option<String>,
    pub body: String,
}

/// A decision to be written.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct NewDecision {
    pub decided_on: String,
    pub company: String,
    pub order_name: Option<String>,
    pub body: String,
}

/// A review of a decision; bodies are JSON.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = decision_reviews)]
#[allow(missing_docs)]
pub struct KeptReview {
    pub decision_id: String,
    /// Of the decision's, from 1.
    pub n: i32,
    pub body: String,
}

impl People {
    /// The decisions of a person, oldest first.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn decisions(&self, person: &PersonId) -> Result<Vec<KeptDecision>, StoreError> {
        use decisions as d;
        let mine = d::table.filter(d::person_id.eq(person.as_str())).order_by((d::decided_on, d::made_at));
        Ok(mine.select(KeptDecision::as_select()).load(&mut *self.reader()?)?)
    }

    /// The reviews of all decisions of a person, those of a decision oldest first.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn decision_reviews(&self, person: &PersonId) -> Result<Vec<KeptReview>, StoreError> {
        use decision_reviews as r;
        let mine = r::table.inner_join(decisions::table).filter(decisions::person_id.eq(person.as_str()));
        Ok(mine.order_by((r::decision_id, r::n)).select(KeptReview::as_select()).load(&mut *self.reader()?)?)
    }

    /// Writes a decision down; gives its id.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn decide(&self, person: &PersonId, new: &NewDecision) -> Result<String, StoreError> {
        Ok(insert_decision(&mut self.writer(), person, new)?)
    }

    /// Adds a review to a decision; gives its number, or none when the person has no such decision.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn review(&self, person: &PersonId, decision: &str, body: &str) -> Result<Option<i32>, StoreError> {
        use decision_reviews as r;
        let added = self.writer().immediate_transaction::<_, diesel::result::Error, _>(|c| {
            let mine = decisions::table.filter(decisions::person_id.eq(person.as_str())).filter(decisions::id.eq(decision));
            if mine.count().get_result::<i64>(c)? == 0 {
                return Ok(None);
            }
            let of_it = r::table.filter(r::decision_id.eq(decision));
            let n = of_it.select(diesel::dsl::max(r::n)).first::<Option<i32>>(c)?.unwrap_or(0) + 1;
            let row = (r::decision_id.eq(decision), r::n.eq(n), r::body.eq(body), r::made_at.eq(now()));
            diesel::insert_into(r::table).values(row).execute(c)?;
            Ok(Some(n))
        })?;
        Ok(added)
    }
}

pub(super) fn insert_decision(c: &mut SqliteConnection, person: &PersonId, new: &NewDecision) -> QueryResult<String> {
    use decisions as d;
    let id = uuid::Uuid::new_v4().to_string();
    let row = (
        d::id.eq(&id),
        d::person_id.eq(person.as_str()),
        d::decided_on.eq(&new.decided_on),
        d::company.eq(&new.company),
        d::order_name.eq(&new.order_name),
        d::body.eq(&new.body),
        d::made_at.eq(now()),
    );
    diesel::insert_into(d::table).values(row).execute(c)?;
    Ok(id)
}
