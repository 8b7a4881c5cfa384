//! What a column of a table means.

use crate::movement::{Catalogue, MovementId, normal_words};

/// What a column means.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Meaning {
    /// Whose row it is.
    Name,
    /// When.
    Day,
    /// Which lift.
    Lift,
    /// What was on the bar.
    Weight,
    /// `kg` or `lb`.
    Unit,
    /// Repetitions.
    Reps,
    /// Effort.
    Rpe,
    /// How a lift came to be on record.
    Source,
    /// What the piece was.
    Piece,
    /// What was done of it.
    Score,
    /// In which version.
    Version,
    /// Whatever else was told.
    Note,
    /// The most that was lifted once, a column a lift.
    MaxOf(MovementId),
    /// Nothing that is taken in.
    LeaveOut,
}

/// Meanings with their keys in forms, and words for them.
const NAMED: [(Meaning, &str, &str); 13] = [
    (Meaning::Name, "name", "name"),
    (Meaning::Day, "day", "day"),
    (Meaning::Lift, "lift", "lift"),
    (Meaning::Weight, "weight", "weight on the bar"),
    (Meaning::Unit, "unit", "kg or lb"),
    (Meaning::Reps, "reps", "repetitions"),
    (Meaning::Rpe, "rpe", "effort, RPE"),
    (Meaning::Source, "source", "tested, estimated or stated"),
    (Meaning::Piece, "piece", "the piece, as it was programmed"),
    (Meaning::Score, "score", "score of the piece"),
    (Meaning::Version, "version", "version done"),
    (Meaning::Note, "note", "note"),
    (Meaning::LeaveOut, "leave", "leave it out"),
];
/// In front of the id of a lift whose maxes stand in a column.
const MAX_OF: &str = "max:";

/// Words by which columns are often called.
const OFTEN: [(&str, Meaning); 26] = [
    ("name", Meaning::Name),
    ("member", Meaning::Name),
    ("athlete", Meaning::Name),
    ("who", Meaning::Name),
    ("date", Meaning::Day),
    ("day", Meaning::Day),
    ("on", Meaning::Day),
    ("lift", Meaning::Lift),
    ("exercise", Meaning::Lift),
    ("movement", Meaning::Lift),
    ("weight", Meaning::Weight),
    ("load", Meaning::Weight),
    ("kg", Meaning::Weight),
    ("unit", Meaning::Unit),
    ("reps", Meaning::Reps),
    ("repetitions", Meaning::Reps),
    ("rpe", Meaning::Rpe),
    ("source", Meaning::Source),
    ("piece", Meaning::Piece),
    ("workout", Meaning::Piece),
    ("score", Meaning::Score),
    ("result", Meaning::Score),
    ("version", Meaning::Version),
    ("scaling", Meaning::Version),
    ("note", Meaning::Note),
    ("notes", Meaning::Note),
];

impl Meaning {
    /// As forms send it.
    pub fn key(&self) -> String {
        match self {
            Self::MaxOf(lift) => format!("{MAX_OF}{lift}"),
            other => NAMED.iter().find(|(known, ..)| known == other).map_or("", |(_, key, _)| key).to_owned(),
        }
    }

    /// From its key.
    pub fn from_key(key: &str, catalogue: &Catalogue) -> Option<Self> {
        if let Some(lift) = key.strip_prefix(MAX_OF) {
            let id = MovementId::new(lift);
            return catalogue
                .get(&id)
                .is_some_and(|movement| movement.takes_weight())
                .then_some(Self::MaxOf(id));
        }
        NAMED.iter().find(|(_, known, _)| *known == key).map(|(meaning, ..)| meaning.clone())
    }

    /// Each with its key and words, but for those of single lifts.
    pub fn all() -> impl Iterator<Item = (String, &'static str)> {
        NAMED.iter().map(|(meaning, _, words)| (meaning.key(), *words))
    }
}

/// What a column probably means, by what it is called; none where it says nothing known.
pub fn guess(header: &str, catalogue: &Catalogue) -> Option<Meaning> {
    let words: Vec<String> = normal_words(header)
        .into_iter()
        .filter(|word| !matches!(word.as_str(), "1rm" | "rm" | "max" | "pr" | "best" | "the" | "of" | "in"))
        .collect();
    let only = match &words[..] {
        [only] => Some(only.as_str()),
        [first, ..] if ["weight", "load", "date", "score"].contains(&first.as_str()) => Some(first.as_str()),
        _ => None,
    };
    if let Some((_, meaning)) = only.and_then(|word| OFTEN.iter().find(|(known, _)| *known == word)) {
        return Some(meaning.clone());
    }
    let lift: Vec<&str> =
        words.iter().map(String::as_str).filter(|word| !matches!(*word, "kg" | "lb" | "lbs")).collect();
    let known = catalogue.match_words(&lift).filter(|found| found.words == lift.len())?;
    known.movement.takes_weight().then(|| Meaning::MaxOf(known.movement.id.clone()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn columns_are_known_by_what_they_are_often_called() {
        let catalogue = Catalogue::standard();
        let of = |header: &str| guess(header, catalogue).map(|meaning| meaning.key()).unwrap_or_default();
        let told = ["Athlete", "Date", "Weight (kg)", "Back Squat 1RM", "deadlift_kg", "Score", "Shoe size"];
        assert_eq!(told.map(of), ["name", "day", "weight", "max:back-squat", "max:deadlift", "score", ""]);
    }

    #[test]
    fn a_meaning_is_what_its_key_says() {
        let catalogue = Catalogue::standard();
        for (key, _) in Meaning::all() {
            assert_eq!(Meaning::from_key(&key, catalogue).map(|meaning| meaning.key()), Some(key));
        }
        assert_eq!(Meaning::from_key("max:burpee", catalogue), None);
    }
}
