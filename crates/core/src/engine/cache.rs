//! What was computed, kept within a bound of memory: least recently used first out, made once however many ask.

use super::key::{Key, What};
use crate::domain::Day;
use moka::{policy::EvictionPolicy, sync};
use std::{any::Any, sync::Arc};

/// Something that can be kept.
pub trait Keep: Any + Send + Sync {
    /// Roughly the memory it takes, in bytes.
    fn bytes(&self) -> usize;
}

/// Memory that kept answers may take together, in bytes, unless told otherwise.
const BYTES: u64 = 800_000_000;

#[derive(Clone)]
struct Entry {
    kept: Arc<dyn Any + Send + Sync>,
    kilobytes: u32,
}

impl Entry {
    fn of<T: Keep>(value: Arc<T>) -> Entry {
        let kilobytes = u32::try_from(value.bytes() / 1024).unwrap_or(u32::MAX).max(1);
        Entry { kept: value, kilobytes }
    }

    /// The value; keys of one kind are used with one type only.
    fn value<T: Keep>(self) -> Option<Arc<T>> {
        self.kept.downcast().ok()
    }
}

/// The cache, shared by clones.
#[derive(Clone)]
pub struct Cache(sync::Cache<Key, Entry>);

impl std::fmt::Debug for Cache {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Cache").field("entries", &self.0.entry_count()).field("kilobytes", &self.0.weighted_size()).finish()
    }
}

impl Default for Cache {
    fn default() -> Cache {
        Cache::bounded(BYTES)
    }
}

impl Cache {
    /// With a bound of memory, in bytes.
    #[must_use]
    pub fn bounded(bytes: u64) -> Cache {
        let cache = sync::Cache::builder()
            .max_capacity(bytes / 1024)
            .weigher(|_, entry: &Entry| entry.kilobytes)
            .eviction_policy(EvictionPolicy::lru())
            .support_invalidation_closures();
        Cache(cache.build())
    }

    pub(super) fn get<T: Keep>(&self, key: &Key) -> Option<Arc<T>> {
        self.0.get(key).and_then(Entry::value)
    }

    pub(super) fn keep<T: Keep>(&self, key: Key, value: Arc<T>) {
        self.0.insert(key, Entry::of(value));
    }

    /// The value under a key; made by one of those who ask for it at the same time, while the others wait.
    ///
    /// A task of the thread pool does not wait, since the one it waits for might itself wait for the task's thread: it
    /// makes the value for itself.
    pub(super) fn get_or_make<T: Keep>(&self, key: Key, make: impl FnOnce() -> Arc<T>) -> Arc<T> {
        if let Some(found) = self.get(&key) {
            return found;
        }
        if rayon::current_thread_index().is_some() {
            let made = make();
            self.keep(key, made.clone());
            return made;
        }
        let mut mine = None;
        let entry = self.0.get_with(key, || {
            let made = make();
            mine = Some(made.clone());
            Entry::of(made)
        });
        mine.or_else(|| entry.value()).unwrap_or_else(|| unreachable!("keys of one kind are used with one type"))
    }

    /// Lets go of what belongs to data older than a generation, but for what is settled, as of days up to one, of its generation, and
    /// for own histories since theirs.
    pub(super) fn forget_before(&self, generation: u64, settled: &[(Day, u64)], histories: u64) {
        let settled = settled.to_vec();
        let stays = move |key: &Key| match (&key.what, key.what.day()) {
            (What::History(..), _) => key.generation.is_some_and(|g| g >= histories),
            (_, Some(t)) => settled.iter().any(|(upto, g)| t <= *upto && key.generation == Some(*g)),
            _ => false,
        };
        // The only error is a cache without support for closures, which it was built with.
        self.0.invalidate_entries_if(move |key, _| key.generation.is_some_and(|g| g < generation) && !stays(key)).ok();
    }
}
