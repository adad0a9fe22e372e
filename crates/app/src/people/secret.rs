//! What nobody can guess, and how it is kept.

use sha2::{Digest, Sha256};

pub(super) use artemon_store::unguessable;

/// How a secret is kept: by it the secret is found, and not the other way round. It must be one that nobody can guess.
pub(crate) fn hash(secret: &str) -> String {
    Sha256::digest(secret.as_bytes()).iter().map(|byte| format!("{byte:02x}")).collect()
}

#[cfg(test)]
mod tests {
    #[test]
    fn a_secret_is_256_bits_and_kept_as_its_digest() {
        let (one, other) = (super::unguessable(), super::unguessable());
        assert!(one.len() == 64 && one != other && one.bytes().all(|b| b.is_ascii_hexdigit()));
        // FIPS 180-2, appendix B.1.
        assert_eq!(super::hash("abc"), "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
    }
}
