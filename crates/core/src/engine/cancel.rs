//! The end of a computation for which nobody waits any more.

use std::{
    panic::{AssertUnwindSafe, catch_unwind, resume_unwind},
    sync::{
        Arc,
        atomic::{AtomicBool, Ordering},
    },
};

/// Told when nobody waits any more; clones are told together.
#[derive(Clone, Debug, Default)]
pub struct Cancel(Arc<AtomicBool>);

/// A computation was given up: nobody waits for its answer.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Cancelled;

impl Cancel {
    /// Nobody waits any more.
    pub fn cancel(&self) {
        self.0.store(true, Ordering::Relaxed);
    }

    /// Whether nobody waits any more.
    #[must_use]
    pub fn is_cancelled(&self) -> bool {
        self.0.load(Ordering::Relaxed)
    }

    /// Ends the computation when nobody waits any more, by unwinding to [`Cancelled::caught`]: a long way down through loops on
    /// all cores that have nothing to say about it.
    pub fn check(&self) {
        if self.is_cancelled() {
            resume_unwind(Box::new(Cancelled));
        }
    }
}

impl Cancelled {
    /// Runs a computation that may be given up.
    ///
    /// # Errors
    /// When it was.
    pub fn caught<T>(run: impl FnOnce() -> T) -> Result<T, Cancelled> {
        catch_unwind(AssertUnwindSafe(run)).map_err(|payload| match payload.downcast::<Cancelled>() {
            Ok(cancelled) => *cancelled,
            Err(other) => resume_unwind(other),
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rayon::prelude::*;

    #[test]
    fn a_computation_on_all_cores_ends_when_nobody_waits() {
        let cancel = Cancel::default();
        let count = |n: u32| {
            (0..n).into_par_iter().map(|i| {
                if i == 5 {
                    cancel.cancel();
                }
                cancel.check();
                i
            })
        };
        assert_eq!(Cancelled::caught(|| count(5).sum::<u32>()), Ok(10));
        assert_eq!(Cancelled::caught(|| count(1_000).sum::<u32>()), Err(Cancelled));
        assert!(cancel.is_cancelled());
    }
}
