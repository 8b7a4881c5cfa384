//! Texts that nobody guesses, and what is kept of them: of a secret that leads somewhere only its digest is stored, so that whoever
//! reads the tables cannot use it.

use std::fmt;

use sha2::{Digest, Sha256};
use uuid::Uuid;

/// A secret that is given out once. It is never printed by accident.
#[derive(Clone, PartialEq, Eq)]
pub struct Secret(String);

impl Secret {
    /// A new one: 244 random bits.
    pub fn new() -> Self {
        Self(format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple()))
    }

    /// One that came back.
    pub fn of(text: &str) -> Self {
        Self(text.to_owned())
    }

    /// The text, for whoever it is meant for.
    pub fn expose(&self) -> &str {
        &self.0
    }

    /// What is stored of it.
    pub(crate) fn digest(&self) -> Vec<u8> {
        Sha256::digest(self.0.as_bytes()).to_vec()
    }
}

impl Default for Secret {
    fn default() -> Self {
        Self::new()
    }
}

impl fmt::Debug for Secret {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("(secret)")
    }
}

#[cfg(test)]
mod tests {
    use super::Secret;

    #[test]
    fn a_secret_is_long_its_own_and_not_printed() {
        let (one, other) = (Secret::new(), Secret::new());
        assert!(one != other && one.expose().len() == 64);
        assert_eq!(one.digest(), Secret::of(one.expose()).digest());
        assert!(!format!("{one:?}").contains(one.expose()));
    }
}
