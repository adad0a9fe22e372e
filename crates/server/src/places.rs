//! Places for computations: so many at once on the machine, and so many of one person, so that nobody is kept waiting by another's.

use crate::error::Problem;
use artemon_app::PersonId;
use axum::http::StatusCode;
use std::{
    collections::HashMap,
    sync::{Arc, Mutex, PoisonError},
};
use tokio::sync::{OwnedSemaphorePermit, Semaphore};

/// Computations at once, for each core: a short one beside long ones need not wait, and a hundred do not keep each other up.
const OF_A_CORE: usize = 4;
/// Requests of one person that may wait for a place.
const WAITING: usize = 200;
/// Streams of changes that one person may listen to: a tab or two in each browser.
const STREAMS: usize = 30;

/// Places for computations.
#[derive(Debug)]
pub(crate) struct Places {
    all: Arc<Semaphore>,
    /// How many of them one person may have.
    of_one: usize,
    by_person: Mutex<HashMap<PersonId, Turns>>,
}

/// What one person may have at once.
#[derive(Clone, Debug)]
struct Turns {
    working: Arc<Semaphore>,
    waiting: Arc<Semaphore>,
    listening: Arc<Semaphore>,
}

/// A place that is taken until it is dropped.
#[derive(Debug)]
pub(crate) struct Place {
    _all: OwnedSemaphorePermit,
    _own: OwnedSemaphorePermit,
}

impl Places {
    /// As many as the machine has cores for; among several people one has at most half of them.
    pub(crate) fn new(shared: bool) -> Places {
        let all = std::thread::available_parallelism().map_or(OF_A_CORE, |cores| OF_A_CORE * cores.get());
        Places::of(all, if shared { all.div_ceil(2) } else { all })
    }

    fn of(all: usize, of_one: usize) -> Places {
        Places { all: Arc::new(Semaphore::new(all)), of_one, by_person: Mutex::default() }
    }

    fn turns(&self, person: &PersonId) -> Turns {
        let mut all = self.by_person.lock().unwrap_or_else(PoisonError::into_inner);
        let semaphore = |permits| Arc::new(Semaphore::new(permits));
        let new = || Turns { working: semaphore(self.of_one), waiting: semaphore(self.of_one + WAITING), listening: semaphore(STREAMS) };
        all.entry(person.clone()).or_insert_with(new).clone()
    }

    /// A place among those who listen to changes, as long as it is kept.
    pub(crate) fn listen(&self, person: &PersonId) -> Result<OwnedSemaphorePermit, Problem> {
        self.turns(person).listening.try_acquire_owned().map_err(|_| busy())
    }

    /// Waits for a place. Who goes away meanwhile leaves the queue; where too many of a person wait the next is refused.
    pub(crate) async fn take(&self, person: &PersonId) -> Result<Place, Problem> {
        let turns = self.turns(person);
        let _waits = turns.waiting.try_acquire().map_err(|_| busy())?;
        let own = turns.working.clone().acquire_owned().await.map_err(|_| busy())?;
        let all = self.all.clone().acquire_owned().await.map_err(|_| busy())?;
        Ok(Place { _all: all, _own: own })
    }
}

fn busy() -> Problem {
    let sentence = "You asked for too much at once. Nothing was changed; try again in a moment.";
    Problem::new(StatusCode::SERVICE_UNAVAILABLE, "busy", sentence)
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::time::Duration;

    #[tokio::test]
    async fn one_person_leaves_places_to_another() {
        let (places, soon) = (Places::of(4, 2), Duration::from_millis(50));
        let (anna, bert) = (PersonId::known("anna"), PersonId::known("bert"));
        let hers = [places.take(&anna).await.unwrap(), places.take(&anna).await.unwrap()];
        assert!(tokio::time::timeout(soon, places.take(&anna)).await.is_err(), "a third of hers waits");
        let his = tokio::time::timeout(soon, places.take(&bert)).await.expect("his does not wait");
        drop(hers);
        assert!(tokio::time::timeout(soon, places.take(&anna)).await.is_ok());
        drop(his);
        // Two work, and as many wait as may.
        let many: Vec<_> = (0..WAITING + 4).map(|_| places.take(&anna)).collect();
        let taken = futures_util::future::join_all(many.into_iter().map(|wait| tokio::time::timeout(soon, wait)));
        let (more, taken) = tokio::join!(
            async {
                tokio::task::yield_now().await;
                tokio::time::timeout(soon, places.take(&anna)).await.expect("it is refused at once")
            },
            taken
        );
        let streams: Vec<_> = (0..STREAMS).map(|_| places.listen(&anna).unwrap()).collect();
        assert!(places.listen(&anna).is_err() && places.listen(&bert).is_ok());
        drop(streams);
        assert!(places.listen(&anna).is_ok());
        assert!(more.is_err_and(|problem| problem.status == 503), "what nobody could wait for is refused");
        assert_eq!(taken.iter().filter(|taken| matches!(taken, Ok(Ok(_)))).count(), 2);
    }
}
