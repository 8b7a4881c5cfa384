//! The words of limits: `data/limit_words.csv`, longest phrase first.

use std::collections::HashMap;
use std::sync::LazyLock;

use serde::Deserialize;

use crate::movement::Property;

/// What a phrase means.
#[derive(Clone, Debug, PartialEq)]
pub(super) enum Sense {
    /// A body part or injury with its usual group, and the ladder that spares it.
    Part { group: Vec<Property>, reason: Option<String> },
    /// What is done or asked of the body.
    Property(Vec<Property>),
    /// A ban that needs no "no".
    Stated(Vec<Property>),
    /// Movements, by patterns of ids.
    Family(String),
    /// Every lift there is, for ceilings.
    Every,
    /// A state with bans of its own.
    Condition { name: String, reason: Option<String> },
    /// "no", "avoid", "can't".
    Ban,
    /// "fine", "ok", "can".
    Allow,
    /// "back to" something at a date.
    BackTo,
    /// "only": forbids what is outside, which is not worked out.
    Only,
    /// "heavy": a matter of dose.
    Heavy,
    /// Somebody has cleared them.
    Clearance,
    /// It has been operated.
    Repaired,
    /// There is nothing.
    None,
    /// It is over.
    Over,
    /// A note that limits nothing.
    Note,
    /// Care without saying of what, or another person to ask.
    Vague,
    /// Says nothing by itself.
    Filler,
}

#[derive(Deserialize)]
struct Row {
    phrase: String,
    class: String,
    value: String,
    #[serde(default)]
    reason: String,
}

impl Row {
    fn sense(&self) -> Option<Sense> {
        let properties = || self.value.split('|').filter_map(Property::named).collect();
        let reason = || Some(self.reason.clone()).filter(|reason| !reason.is_empty());
        Some(match self.class.as_str() {
            "part" => Sense::Part { group: properties(), reason: reason() },
            "property" => Sense::Property(properties()),
            "stated" => Sense::Stated(properties()),
            "family" => Sense::Family(self.value.clone()),
            "every" => Sense::Every,
            "condition" => Sense::Condition { name: self.value.clone(), reason: reason() },
            "ban" => Sense::Ban,
            "allow" => Sense::Allow,
            "back_to" => Sense::BackTo,
            "only" => Sense::Only,
            "heavy" => Sense::Heavy,
            "clearance" => Sense::Clearance,
            "repaired" => Sense::Repaired,
            "none" => Sense::None,
            "over" => Sense::Over,
            "note" => Sense::Note,
            "vague" => Sense::Vague,
            "filler" => Sense::Filler,
            _ => return None,
        })
    }
}

/// Longest phrase of the file, in words.
const LONGEST: usize = 5;

static SENSES: LazyLock<HashMap<String, Sense>> = LazyLock::new(|| {
    let text = include_str!("../../../../data/limit_words.csv");
    let reader = csv::ReaderBuilder::new().comment(Some(b'#')).flexible(true).from_reader(text.as_bytes());
    let rows = reader.into_deserialize::<Row>().map(|row| row.expect("the shipped words are tested"));
    rows.filter_map(|row| Some((row.phrase.clone(), row.sense()?))).collect()
});

/// The longest phrase that the words begin with, and how many of them it takes. A trailing s is overlooked.
pub(super) fn longest(words: &[&str]) -> Option<(&'static Sense, usize)> {
    let single = |word: &str| {
        let stem = word.strip_suffix("ies").map(|stem| format!("{stem}y"));
        stem.or_else(|| {
            word.strip_suffix("es").filter(|s| s.ends_with("ch") || s.ends_with("sh")).map(str::to_owned)
        })
        .or_else(|| word.strip_suffix('s').filter(|s| s.len() > 1).map(str::to_owned))
    };
    (1..=LONGEST.min(words.len())).rev().find_map(|count| {
        let phrase = words[..count].join(" ");
        let known = SENSES.get(&phrase).or_else(|| {
            let singles: Vec<String> = words[..count]
                .iter()
                .map(|word| single(word).unwrap_or_else(|| (*word).to_owned()))
                .collect();
            SENSES.get(&singles.join(" "))
        });
        known.map(|sense| (sense, count))
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_row_of_the_file_has_a_meaning_and_stands_once() {
        let text = include_str!("../../../../data/limit_words.csv");
        let reader =
            csv::ReaderBuilder::new().comment(Some(b'#')).flexible(true).from_reader(text.as_bytes());
        let rows: Vec<Row> = reader.into_deserialize().map(Result::unwrap).collect();
        for row in &rows {
            assert!(row.sense().is_some(), "{}", row.phrase);
            assert!(row.phrase.split(' ').count() <= LONGEST, "{}", row.phrase);
            assert_eq!(rows.iter().filter(|other| other.phrase == row.phrase).count(), 1, "{}", row.phrase);
            let named = |name: &str| Property::named(name).is_some();
            let propertied = matches!(row.class.as_str(), "part" | "property" | "stated");
            assert!(!propertied || row.value.split('|').all(named), "{}", row.phrase);
        }
    }
}
