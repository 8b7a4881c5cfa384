//! Movements of a gym's own: a name, and a movement of the catalogue that it is much like.
//!
//! A coach knows what a hill lap or a tyre flip is like; nobody knows its muscle shares to a tenth. So what is
//! not said is taken from the movement it is like, and the note on the row says that it was.

use serde::{Deserialize, Serialize};

use super::{Catalogue, Movement, MovementId, Pace, Unit, normal_words};

/// Longest name, in characters.
const LONGEST_NAME: usize = 60;
/// Seconds for one unit that anybody could mean.
const SECONDS: std::ops::RangeInclusive<f64> = 0.1..=600.0;

/// A movement as a gym describes it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct OwnMovement {
    /// As coaches write it.
    pub name: String,
    /// The movement that it is much like.
    pub like: MovementId,
    /// What a number beside it counts.
    pub unit: Unit,
    /// Seconds that a regular member takes for one; as the movement it is like when left out.
    #[serde(default)]
    pub seconds: Option<f64>,
    /// Other ways to write it.
    #[serde(default)]
    pub aliases: Vec<String>,
}

/// Why a movement of a gym's own was refused.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum OwnMovementError {
    /// No letters in the name, or too many.
    #[error("a name has letters, and at most {LONGEST_NAME} characters")]
    Name,
    /// The catalogue has it already.
    #[error("`{name}` is known already: it is {known}")]
    Known {
        /// The name that was wanted.
        name: String,
        /// What it means today.
        known: String,
    },
    /// The movement that it should be like is in no catalogue.
    #[error("`{0}` is no movement in the list; choose one that the new one is much like")]
    NotLikeAny(String),
    /// Seconds for one that nobody could mean.
    #[error("seconds for one are between 0.1 and 600, not {0}")]
    Seconds(f64),
    /// Counted otherwise than what it is like, so its pace cannot be taken over.
    #[error("{like} is counted in {unit}, so say how many seconds one takes")]
    SecondsNeeded {
        /// The movement that it is like.
        like: String,
        /// What that one counts.
        unit: &'static str,
    },
}

impl OwnMovement {
    /// The row that planning works with.
    ///
    /// # Errors
    /// When the name is no name or taken, when nothing is like it, or when its pace is unknown.
    pub fn movement(&self, catalogue: &Catalogue) -> Result<Movement, OwnMovementError> {
        let words = normal_words(&self.name);
        if words.is_empty()
            || self.name.chars().count() > LONGEST_NAME
            || !self.name.contains(char::is_alphabetic)
        {
            return Err(OwnMovementError::Name);
        }
        for name in std::iter::once(&self.name).chain(&self.aliases) {
            let words = normal_words(name);
            let words: Vec<&str> = words.iter().map(String::as_str).collect();
            if let Some(found) = catalogue.match_words(&words).filter(|found| found.words == words.len()) {
                let known = found.movement.name.to_lowercase();
                return Err(OwnMovementError::Known { name: name.clone(), known });
            }
        }
        let like = catalogue
            .get(&self.like)
            .ok_or_else(|| OwnMovementError::NotLikeAny(self.like.as_str().to_owned()))?;
        if let Some(seconds) = self.seconds.filter(|seconds| !SECONDS.contains(seconds)) {
            return Err(OwnMovementError::Seconds(seconds));
        }
        let pace = match self.seconds {
            // The spread between fast and slow members is kept from what it is like.
            Some(seconds) => {
                let share =
                    |other: f64| if like.pace.mid > 0.0 { seconds * other / like.pace.mid } else { seconds };
                Pace { fast: share(like.pace.fast), mid: seconds, slow: share(like.pace.slow) }
            }
            None if self.unit == like.unit => like.pace,
            None => {
                let (like, unit) = (like.name.to_lowercase(), like.unit.name());
                return Err(OwnMovementError::SecondsNeeded { like, unit });
            }
        };
        let aliases =
            self.aliases.iter().map(|name| name.trim().to_lowercase()).filter(|name| !name.is_empty());
        Ok(Movement {
            id: MovementId::new(&words.join("-")),
            name: self.name.trim().to_owned(),
            aliases: aliases.collect(),
            unit: self.unit,
            pace,
            metre_pace: like.metre_pace.filter(|_| self.unit == like.unit),
            singles_pace: None,
            like: Some(like.id.clone()),
            notes: format!("Of the gym's own; what is not said is taken from {}.", like.name.to_lowercase()),
            ..like.clone()
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn own(name: &str, like: &str, unit: Unit, seconds: Option<f64>) -> OwnMovement {
        OwnMovement { name: name.into(), like: MovementId::new(like), unit, seconds, aliases: Vec::new() }
    }

    #[test]
    fn what_is_not_said_comes_from_the_movement_it_is_like() {
        let catalogue = Catalogue::standard();
        let tyre = own("Tyre flip", "deadlift", Unit::Reps, Some(6.0)).movement(catalogue).unwrap();
        let deadlift = catalogue.get(&MovementId::new("deadlift")).unwrap();
        assert_eq!((tyre.id.as_str(), tyre.pattern, tyre.pace.mid), ("tyre-flip", deadlift.pattern, 6.0));
        let spread = |pace: Pace| pace.slow / pace.mid;
        assert!((spread(tyre.pace) - spread(deadlift.pace)).abs() < 1e-9);
        assert_eq!(tyre.joints, deadlift.joints);
    }

    #[test]
    fn what_cannot_be_used_is_refused_with_the_reason() {
        let catalogue = Catalogue::standard();
        let refused = |own: OwnMovement| own.movement(catalogue).unwrap_err().to_string();
        assert_eq!(
            refused(own("Burpees", "run", Unit::Reps, None)),
            "`Burpees` is known already: it is burpee"
        );
        assert!(refused(own("  ", "run", Unit::Reps, None)).starts_with("a name has letters"));
        assert!(refused(own("Moon walk", "moon", Unit::Reps, None)).starts_with("`moon` is no movement"));
        assert!(refused(own("Moon walk", "run", Unit::Reps, None)).contains("how many seconds one takes"));
        assert!(refused(own("Moon walk", "run", Unit::Reps, Some(9000.0))).contains("not 9000"));
    }
}
