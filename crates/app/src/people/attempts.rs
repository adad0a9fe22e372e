//! How often somebody may try. What strangers try counts against themselves alone: nobody can keep another person out by failing in
//! their name, since each is counted apart, by name and by where it comes from, and a browser in which a person signed in before counts
//! as a place of its own.

use super::Visitor;
use crate::AppError;
use governor::{
    Quota, RateLimiter,
    clock::{Clock, DefaultClock},
    state::keyed::DefaultKeyedStateStore,
};
use std::{net::IpAddr, num::NonZeroU32, time::Duration};

type Limiter<K> = RateLimiter<K, DefaultKeyedStateStore<K>, DefaultClock>;

/// Attempts to sign in with a name from one place: so many at once, then one in so long.
const WITH_A_NAME: (u32, Duration) = (10, Duration::from_secs(20));
/// Attempts of all kinds from one address, but for browsers that are known.
const FROM_AN_ADDRESS: (u32, Duration) = (30, Duration::from_secs(3));
/// Codes of a person's second factor from one place, and from all places that are not known.
const CODES: (u32, Duration) = (5, Duration::from_secs(30));
const CODES_OF_STRANGERS: (u32, Duration) = (20, Duration::from_secs(60));
/// Places that are remembered before those that may try again are forgotten.
const REMEMBERED: usize = 10_000;

/// What was tried of late, from where.
#[derive(Debug)]
pub(crate) struct Attempts {
    by_name: Limiter<(String, String)>,
    by_address: Limiter<String>,
    codes: Limiter<(String, String)>,
    codes_of_strangers: Limiter<String>,
    clock: DefaultClock,
}

impl Default for Attempts {
    fn default() -> Attempts {
        Attempts {
            by_name: limiter(WITH_A_NAME),
            by_address: limiter(FROM_AN_ADDRESS),
            codes: limiter(CODES),
            codes_of_strangers: limiter(CODES_OF_STRANGERS),
            clock: DefaultClock::default(),
        }
    }
}

fn limiter<K: std::hash::Hash + Eq + Clone>((burst, each): (u32, Duration)) -> Limiter<K> {
    let burst = NonZeroU32::new(burst).unwrap_or(NonZeroU32::MIN);
    RateLimiter::keyed(Quota::with_period(each).unwrap_or(Quota::per_second(NonZeroU32::MIN)).allow_burst(burst))
}

/// From where somebody tries: the browser, where it is known of the person, or the address.
fn place(visitor: &Visitor, known: bool) -> String {
    match &visitor.device {
        Some(device) if known => device.clone(),
        _ => network(&visitor.address),
    }
}

/// An address, or the network of one household (RFC 6177).
fn network(address: &str) -> String {
    match address.parse() {
        Ok(IpAddr::V6(v6)) if v6.to_ipv4_mapped().is_none() => v6.segments()[..4].iter().map(|part| format!("{part:x}:")).collect(),
        _ => address.to_owned(),
    }
}

impl Attempts {
    fn check<K: std::hash::Hash + Eq + Clone>(&self, limiter: &Limiter<K>, key: &K) -> Result<(), AppError> {
        if limiter.len() > REMEMBERED {
            limiter.retain_recent();
        }
        limiter.check_key(key).map_err(|until| {
            let wait = until.wait_time_from(self.clock.now());
            AppError::TooManyAttempts { seconds: wait.as_secs() + 1 }
        })
    }

    /// Counts an attempt to come in from an address.
    ///
    /// # Errors
    /// After too many.
    pub(super) fn come_in(&self, visitor: &Visitor) -> Result<(), AppError> {
        self.check(&self.by_address, &network(&visitor.address))
    }

    /// Counts an attempt to sign in with a name, in a browser that is `known` of whoever has it.
    ///
    /// # Errors
    /// After too many.
    pub(super) fn sign_in(&self, key: &str, visitor: &Visitor, known: bool) -> Result<(), AppError> {
        if !known {
            self.come_in(visitor)?;
        }
        self.check(&self.by_name, &(key.to_owned(), place(visitor, known)))
    }

    /// Counts a passphrase that somebody types again who is signed in.
    ///
    /// # Errors
    /// After too many.
    pub(super) fn confirm(&self, person: &str) -> Result<(), AppError> {
        self.check(&self.codes, &(person.to_owned(), "again".to_owned()))
    }

    /// Counts a code of a person's second factor. The passphrase was right.
    ///
    /// # Errors
    /// After too many.
    pub(super) fn code(&self, person: &str, visitor: &Visitor, known: bool) -> Result<(), AppError> {
        if !known {
            self.check(&self.codes_of_strangers, &person.to_owned())?;
        }
        self.check(&self.codes, &(person.to_owned(), place(visitor, known)))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn from(address: &str) -> Visitor {
        Visitor { address: address.to_owned(), ..Visitor::default() }
    }

    fn until_refused(mut attempt: impl FnMut() -> Result<(), AppError>) -> usize {
        (0..).take_while(|_| attempt().is_ok()).take(1_000).count()
    }

    #[test]
    fn whoever_fails_in_anothers_name_keeps_nobody_but_themselves_out() {
        let attempts = Attempts::default();
        assert_eq!(until_refused(|| attempts.sign_in("anna", &from("192.0.2.1"), false)), 10);
        assert!(attempts.sign_in("anna", &from("192.0.2.2"), false).is_ok(), "from elsewhere she may try");
        let at_home = Visitor { device: Some("hers".to_owned()), ..from("192.0.2.1") };
        assert!(attempts.sign_in("anna", &at_home, true).is_ok(), "and in her own browser also from there");
        let claimed = attempts.sign_in("anna", &at_home, false);
        assert!(matches!(claimed, Err(AppError::TooManyAttempts { seconds: 1..=20 })), "a cookie that is not hers is none: {claimed:?}");
    }

    #[test]
    fn many_names_from_one_network_are_as_one() {
        let attempts = Attempts::default();
        let tried = (0..1_000).take_while(|n| {
            let visitor = from(&format!("2001:db8:1:2::{n:x}"));
            attempts.sign_in(&format!("name{n}"), &visitor, false).is_ok()
        });
        assert_eq!(tried.count(), 30);
        assert!(attempts.sign_in("name", &from("2001:db8:1:3::1"), false).is_ok());
    }

    #[test]
    fn codes_are_few_even_from_many_addresses() {
        let attempts = Attempts::default();
        let mut n = 0;
        let all = until_refused(|| {
            n += 1;
            attempts.code("anna", &from(&format!("192.0.2.{n}")), false)
        });
        assert_eq!(all, 20);
        let at_home = Visitor { device: Some("hers".to_owned()), ..from("192.0.2.1") };
        assert_eq!(until_refused(|| attempts.code("anna", &at_home, true)), 5, "in her own browser she may still try");
    }
}
