//! The code of a class: what stands before the dash is the gym, the rest follows from the secret of the installation, so that nothing is stored.

use lantern_store::Secret;
use sha2::{Digest, Sha256};

use crate::State;
use crate::request::house::House;
use crate::request::slot::Slot;

/// Letters and digits that nobody takes for each other, read from ten metres.
const LETTERS: &[u8; 30] = b"abcdefghjkmnpqrstuvwxyz2345678";
/// Letters of a code.
const LENGTH: usize = 8;

/// The code of a class: `3-k7mpx2qd`.
pub(crate) fn code_of(state: &State, house: &House, slot: Slot) -> String {
    let gym = house.id().number();
    format!("{gym}-{}", letters(&state.codes, &format!("guest {gym} {slot}")))
}

fn letters(secret: &Secret, of: &str) -> String {
    let inner = Sha256::digest(format!("{} {of}", secret.expose()));
    // Twice, so that nobody goes on from a digest that they know.
    let digest = Sha256::new().chain_update(secret.expose()).chain_update(inner).finalize();
    digest.iter().take(LENGTH).map(|byte| LETTERS[usize::from(*byte) % LETTERS.len()] as char).collect()
}

/// A code as somebody types it, without spaces and in small letters.
pub(crate) fn written(typed: &str) -> String {
    typed.chars().filter(|c| !c.is_whitespace()).flat_map(char::to_lowercase).take(40).collect()
}

/// The gym of a code.
pub(crate) fn gym_of(code: &str) -> Option<i64> {
    let (gym, letters) = code.split_once('-')?;
    let is_one = letters.len() == LENGTH && letters.bytes().all(|letter| LETTERS.contains(&letter));
    gym.parse().ok().filter(|gym| is_one && *gym > 0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_code_is_of_one_class_and_one_installation() {
        let (one, other) = (Secret::of("a secret"), Secret::of("another"));
        let code = letters(&one, "guest 3 2026-11-23T18:00");
        assert_eq!(code, letters(&one, "guest 3 2026-11-23T18:00"));
        assert_ne!(code, letters(&one, "guest 3 2026-11-23T19:00"));
        assert_ne!(code, letters(&other, "guest 3 2026-11-23T18:00"));
        assert_eq!(gym_of(&format!("3-{code}")), Some(3));
        assert_eq!(written(&format!(" 3-{} ", code.to_uppercase())), format!("3-{code}"));
        assert_eq!(
            (gym_of("3"), gym_of("3-abc"), gym_of("x-abcdefgh"), gym_of("-3-abcdefgh")),
            (None, None, None, None)
        );
    }
}
