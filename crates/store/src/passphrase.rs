//! Passphrases: which are taken, and what is kept of them.

use std::collections::HashSet;
use std::sync::LazyLock;

use argon2::password_hash::rand_core::OsRng;
use argon2::password_hash::{PasswordHash, PasswordHasher, PasswordVerifier, SaltString};
use argon2::{Algorithm, Argon2, Params, Version};

use crate::StoreError;

/// Shortest passphrase that is taken, in characters.
pub const SHORTEST: usize = 12;
/// Longest, so that nobody keeps the processor busy with a book.
pub const LONGEST: usize = 256;

/// Words that most guesses begin with, one a line.
const COMMON: &str = include_str!("../../../data/common_passphrases.txt");

/// argon2id with 19 MiB, two passes, one lane: the least that the OWASP password storage cheat sheet (2023) advises. A small server has some
/// hundred megabytes, and several may sign in at once.
fn argon2() -> Argon2<'static> {
    let params = Params::new(19 * 1024, 2, 1, None).expect("parameters within argon2's bounds");
    Argon2::new(Algorithm::Argon2id, Version::V0x13, params)
}

/// Why a passphrase is not taken; nothing when it is. `email` must not be the passphrase.
///
/// # Errors
/// The reason, for whoever chooses.
pub fn checked(passphrase: &str, email: &str) -> Result<(), String> {
    let length = passphrase.chars().count();
    if length < SHORTEST {
        return Err(format!("it has {length} characters; {SHORTEST} are the fewest: three or four words do"));
    }
    if length > LONGEST {
        return Err(format!("it has {length} characters; {LONGEST} are the most"));
    }
    let bare = bare(passphrase);
    if bare.chars().collect::<HashSet<char>>().len() < 5 {
        return Err("it is the same few characters over and over".to_owned());
    }
    let name = email.split('@').next().unwrap_or_default().to_lowercase();
    if passphrase.to_lowercase() == email || (name.len() > 3 && rest_after(&bare, &name).len() < 4) {
        return Err("it is the e-mail address, which everybody knows".to_owned());
    }
    if is_common(&bare) {
        return Err("it is on the list of passphrases that are guessed first".to_owned());
    }
    Ok(())
}

/// The letters of a passphrase with the usual disguises taken off.
fn bare(passphrase: &str) -> String {
    let plain = |c: char| match c {
        '0' => 'o',
        '1' | '!' => 'i',
        '3' => 'e',
        '4' | '@' => 'a',
        '5' | '$' => 's',
        '7' => 't',
        other => other,
    };
    passphrase.to_lowercase().chars().map(plain).filter(|c| c.is_alphanumeric()).collect()
}

/// What is left of a text when a word is taken out wherever it stands.
fn rest_after(text: &str, word: &str) -> String {
    text.replace(word, "")
}

/// Whether a passphrase is made of listed words and little besides.
fn is_common(bare: &str) -> bool {
    static WORDS: LazyLock<Vec<String>> = LazyLock::new(|| {
        let mut words: Vec<String> = COMMON.lines().map(bare_line).filter(|word| !word.is_empty()).collect();
        words.sort_by_key(|word| std::cmp::Reverse(word.len()));
        words
    });
    let mut left = bare.to_owned();
    for word in WORDS.iter() {
        if left.contains(word.as_str()) {
            left = rest_after(&left, word);
        }
    }
    left.len() < 5
}

fn bare_line(line: &str) -> String {
    bare(line.trim())
}

/// What is kept of a passphrase. It takes its time, on a thread of its own.
///
/// # Errors
/// When the thread stops.
pub async fn kept(passphrase: String) -> Result<String, StoreError> {
    let hashed = tokio::task::spawn_blocking(move || {
        let salt = SaltString::generate(&mut OsRng);
        argon2().hash_password(passphrase.as_bytes(), &salt).map(|hash| hash.to_string())
    });
    let hashed = hashed.await.map_err(|error| StoreError::Away(error.to_string()))?;
    hashed.map_err(|error| StoreError::Refused(error.to_string()))
}

/// Whether a passphrase is the one of which this was kept. Without anything kept it takes as long, and is none: how long an answer takes
/// tells nobody whether there is an account.
///
/// # Errors
/// When the thread stops.
pub async fn matches(passphrase: String, kept: Option<String>) -> Result<bool, StoreError> {
    static NOBODYS: LazyLock<String> = LazyLock::new(|| {
        let salt = SaltString::generate(&mut OsRng);
        argon2().hash_password(b"nobody's", &salt).map(|hash| hash.to_string()).unwrap_or_default()
    });
    let checked = tokio::task::spawn_blocking(move || {
        let known = kept.is_some();
        let kept = kept.unwrap_or_else(|| NOBODYS.clone());
        let same = PasswordHash::new(&kept)
            .is_ok_and(|hash| argon2().verify_password(passphrase.as_bytes(), &hash).is_ok());
        known && same
    });
    checked.await.map_err(|error| StoreError::Away(error.to_string()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn short_common_and_known_passphrases_are_refused_with_the_reason() {
        let why = |passphrase: &str| checked(passphrase, "iris@example.org").unwrap_err();
        assert!(why("short").contains("5 characters"));
        assert!(why(&"x".repeat(300)).contains("300"));
        assert!(why("aaaaaaaaaaaaaaa").contains("over and over"));
        assert!(why("Password123456").contains("guessed first"));
        assert!(why("P@ssw0rdP@ssw0rd").contains("guessed first"));
        assert!(why("qwertyuiop123").contains("guessed first"));
        assert!(why("iris@example.org").contains("e-mail"));
        assert!(why("irisirisiris").contains("over and over") || why("irisirisiris").contains("e-mail"));
        for good in ["three grey herons wade", "correct towels dry slowly", "7 Ruder am Steg im Nebel"] {
            assert_eq!(checked(good, "iris@example.org"), Ok(()), "{good}");
        }
    }

    #[tokio::test]
    async fn what_is_kept_tells_the_passphrase_from_others_and_hides_it() {
        let hash = kept("three grey herons wade".to_owned()).await.unwrap();
        assert!(hash.starts_with("$argon2id$v=19$m=19456,t=2,p=1$") && !hash.contains("heron"));
        assert!(matches("three grey herons wade".to_owned(), Some(hash.clone())).await.unwrap());
        assert!(!matches("three grey herons".to_owned(), Some(hash)).await.unwrap());
        assert!(!matches("nobody's".to_owned(), None).await.unwrap());
    }
}
