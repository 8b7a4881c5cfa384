//! What somebody spares: the words as given, what was understood of them, and whether anything was left that a person
//! must look at.
//!
//! The words are never dropped and never changed. [`parse`] reads them into bans by [`Property`] and by movement,
//! allowances, ceilings and a date; whatever it does not know makes the limit *unread*: not accounted for until somebody has
//! looked. Judgement, conservative, not medical advice. Health data: for the coach only.

mod ceiling;
mod conditions;
mod ground;
mod parse;
mod words;

use serde::{Deserialize, Serialize};

pub use ceiling::{Ceiling, Strictest};
pub use ground::Ground;
use parse::parse;

use crate::movement::{Movement, Property};

/// Above this stress (0 to 1) a movement goes against a sore joint; the caution on flagged joints begins at the same
/// figure.
pub const JOINT_LIMIT: f64 = 0.5;
/// Longest limit that is kept, in characters.
pub const LONGEST: usize = 500;
/// Most limits of one person.
pub const MOST: usize = 20;

/// A sentence about what somebody spares.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(from = "Stored", into = "Stored")]
pub struct Limit {
    /// In the member's or coach's words.
    pub text: String,
    /// What a coach has said after looking at words that were not understood.
    pub looked: Option<Looked>,
    read: Read,
}

/// That somebody has looked at words which the program does not understand, and what they stand for.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(default)]
pub struct Looked {
    /// The day, as 2026-11-23.
    pub on: String,
    /// Ladders to go down besides what was understood: joints, or `pregnancy`.
    pub spares: Vec<String>,
}

/// The words as they are kept; all else follows from them, and from the program's vocabulary of today.
#[derive(Clone, Serialize, Deserialize)]
struct Stored {
    text: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    looked: Option<Looked>,
}

/// What was understood of a sentence.
#[derive(Clone, Debug, Default, PartialEq)]
pub(crate) struct Read {
    /// All properties that are forbidden.
    forbids: Vec<Property>,
    /// Those of them that follow from a sore part alone; a word of what is fine lifts them.
    by_part: Vec<Property>,
    /// Those of them that were stated; another tool that is said to be fine lifts them.
    by_word: Vec<Property>,
    /// Patterns of movement ids.
    movements: Vec<String>,
    /// Movements of these patterns that have the property beside them.
    forms: Vec<(String, Property)>,
    /// Patterns of movement ids, and properties, that stay.
    allows: Vec<String>,
    /// Patterns of movement ids that whoever treats the person allows: they stay whatever a condition brings.
    by_doctor: Vec<String>,
    ceilings: Vec<Ceiling>,
    effort: Option<f64>,
    until: Option<String>,
    /// Ladders that lead around it: joints, or `pregnancy`.
    reasons: Vec<String>,
    condition: Option<String>,
    /// A joint is sore and nothing was said of what it forbids.
    sore: bool,
    unread: bool,
    /// It says that there is nothing to spare.
    nothing: bool,
}

impl From<Stored> for Limit {
    fn from(stored: Stored) -> Self {
        Self { looked: stored.looked, ..Self::new(&stored.text) }
    }
}

impl From<Limit> for Stored {
    fn from(limit: Limit) -> Self {
        Self { text: limit.text, looked: limit.looked }
    }
}

/// Ladders that lead around a sore joint, as data files name them, with the words for them.
pub const REASONS: [(&str, &str); 8] = [
    ("shoulder", "shoulder"),
    ("elbow", "elbow"),
    ("wrist", "wrist"),
    ("low_back", "low back"),
    ("hip", "hip"),
    ("knee", "knee"),
    ("ankle_impact", "ankle, no impact"),
    ("pregnancy", "pregnancy"),
];

impl Limit {
    /// A sentence, read.
    pub fn new(text: &str) -> Self {
        let text = text.trim().to_owned();
        Self { read: parse(&text), looked: None, text }
    }

    /// What hurt in class, from the day on until somebody says otherwise: spared like any sore part.
    pub fn hurt(what: &str, day: &str) -> Self {
        Self::new(&format!("{} hurt in class on {day}", what.trim()))
    }

    /// Several sentences, one behind each `;`; empty ones are none.
    pub fn several(text: &str) -> impl Iterator<Item = Self> {
        text.split(';').map(str::trim).filter(|sentence| !sentence.is_empty()).map(Self::new)
    }

    /// Whether a careful program must say: not accounted for, look.
    pub fn is_unread(&self) -> bool {
        self.read.unread && self.looked.is_none()
    }

    /// Whether the sentence limits nothing: "none", an old injury said to be over, a note about the evening meal.
    pub fn is_nothing(&self) -> bool {
        self.read.nothing && self.looked.as_ref().is_none_or(|looked| looked.spares.is_empty())
    }

    /// Properties that are forbidden, as data names them.
    pub fn forbids(&self) -> impl Iterator<Item = &'static str> {
        self.read.forbids.iter().map(|property| property.key())
    }

    /// Movements that are forbidden by name, as patterns of ids with `*` for anything.
    pub fn forbids_movements(&self) -> &[String] {
        &self.read.movements
    }

    /// What is said to be fine, as it was understood.
    pub fn allows(&self) -> &[String] {
        &self.read.allows
    }

    /// Ceilings of load that the words state.
    pub fn ceilings(&self) -> &[Ceiling] {
        &self.read.ceilings
    }

    /// The hardest effort that the words or the condition leave, as RPE.
    pub fn effort(&self) -> Option<f64> {
        self.read.effort
    }

    /// Until when, as written; nobody guesses that it has passed.
    pub fn until(&self) -> Option<&str> {
        self.read.until.as_deref()
    }

    /// The condition that was named, such as `pregnancy` or `heart`.
    pub fn condition(&self) -> Option<&str> {
        self.read.condition.as_deref()
    }

    /// Ladders that lead around it, likeliest first: joints, or `pregnancy`.
    pub fn reasons(&self) -> impl Iterator<Item = &str> {
        let looked = self.looked.iter().flat_map(|looked| &looked.spares);
        self.read.reasons.iter().chain(looked).map(String::as_str)
    }

    /// Whether a movement is something that this limit spares.
    pub fn spares(&self, movement: &Movement) -> bool {
        let read = &self.read;
        let looked = self.looked.iter().flat_map(|looked| &looked.spares);
        if looked.into_iter().any(|reason| loads(movement, reason)) {
            return true;
        }
        let mut allowed = read.allows.iter().filter(|pattern| is_of_family(movement, pattern));
        // An allowance lifts only the ban that it stands with, and never what a condition brings.
        let (fine, with_tool) = (allowed.clone().next().is_some(), allowed.any(|pattern| is_tool(pattern)));
        let by_doctor = read.by_doctor.iter().any(|pattern| is_of_family(movement, pattern));
        let forbidden = |property: &Property| {
            let stated = read.by_part.contains(property) || read.by_word.contains(property);
            let lifted = (fine && read.by_part.contains(property))
                || (with_tool && read.by_word.contains(property))
                || (by_doctor && !stated);
            movement.has(*property) && !lifted
        };
        read.forbids.iter().any(forbidden)
            || read.movements.iter().any(|pattern| is_of_family(movement, pattern))
            || read
                .forms
                .iter()
                .any(|(pattern, property)| is_of_family(movement, pattern) && movement.has(*property))
            || (read.sore && !fine && read.reasons.iter().any(|reason| loads(movement, reason)))
    }

    /// What was understood, in a sentence for the member's page.
    pub fn told(&self) -> String {
        let read = &self.read;
        let words = |property: &Property| property.key().replace('_', " ");
        let mut parts = Vec::new();
        if !read.forbids.is_empty() {
            parts.push(format!(
                "leaves out {}",
                read.forbids.iter().map(words).collect::<Vec<_>>().join(", ")
            ));
        }
        if !read.movements.is_empty() || !read.forms.is_empty() {
            parts.push("leaves out the movements named".to_owned());
        }
        if !read.allows.is_empty() {
            parts.push("keeps what is said to be fine".to_owned());
        }
        parts.extend(read.ceilings.iter().map(ToString::to_string));
        parts.extend(read.effort.map(|rpe| format!("effort at most {rpe:.0} of 10")));
        parts.extend(read.until.as_ref().map(|until| format!("until {until}, as written")));
        match (parts.is_empty(), read.nothing) {
            (true, true) => "nothing to spare".to_owned(),
            (true, false) => "nothing of it was understood".to_owned(),
            _ => parts.join("; "),
        }
    }
}

/// Whether a movement loads a joint, or is left out in pregnancy.
pub fn loads(movement: &Movement, reason: &str) -> bool {
    match reason {
        "pregnancy" => {
            movement.joint("ankle") > 0.4
                || (matches!(movement.pattern, crate::movement::Pattern::Burpee)
                    && movement.joint("ankle") > 0.2)
                || movement.equipment.iter().any(|kit| kit == "rig" || kit == "rope")
                || movement.joint("abdomen") > JOINT_LIMIT
        }
        "ankle_impact" => movement.joint("ankle") > JOINT_LIMIT,
        joint => movement.joint(joint) > JOINT_LIMIT,
    }
}

/// Whether a movement, or the one that a gym's own is much like, is meant by patterns of ids such as
/// `*push-up|!*handstand*`.
fn is_of_family(movement: &Movement, patterns: &str) -> bool {
    let ids = [Some(&movement.id), movement.like.as_ref()];
    ids.into_iter().flatten().any(|id| {
        let meant = |pattern: &str| matches(id.as_str(), pattern);
        let (out, within): (Vec<&str>, Vec<&str>) = patterns.split('|').partition(|p| p.starts_with('!'));
        within.into_iter().any(meant) && !out.into_iter().any(|pattern| meant(&pattern[1..]))
    })
}

/// Whether patterns mean whatever is done with a hand-held tool, rather than a movement.
fn is_tool(patterns: &str) -> bool {
    patterns.starts_with("*dumbbell*") || patterns.starts_with("*kettlebell*")
}

/// A pattern with `*` for anything at its ends.
fn matches(id: &str, pattern: &str) -> bool {
    match (pattern.strip_prefix('*'), pattern.strip_suffix('*')) {
        (Some(_), Some(_)) => id.contains(pattern.trim_matches('*')),
        (Some(end), None) => id.ends_with(end),
        (None, Some(start)) => id.starts_with(start),
        (None, None) => id == pattern,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_hurt_in_class_is_spared_at_once_and_waits_for_a_coach_to_look() {
        for (what, reason) in
            [("left knee", "knee"), ("low back", "low_back"), ("right shoulder", "shoulder")]
        {
            let limit = Limit::hurt(what, "2026-11-23");
            assert_eq!(limit.reasons().next(), Some(reason), "{what}");
            // Which movements it was, nobody has said.
            assert!(limit.is_unread(), "{what}");
        }
        assert!(Limit::hurt("something under the ribs", "2026-11-23").is_unread());
    }

    #[test]
    fn what_was_understood_is_told_and_so_is_that_there_was_nothing() {
        let told = |words: &str| Limit::new(words).told();
        assert_eq!(told("no restrictions"), "nothing to spare");
        assert_eq!(told("gruntwax since May"), "nothing of it was understood");
        let knee = told("sore knee, no jumping, squats are fine, RPE 6 at most, until March");
        for part in
            ["leaves out jump", "keeps what is said to be fine", "effort at most 6 of 10", "until March"]
        {
            assert!(knee.contains(part), "{part}: {knee}");
        }
    }

    #[test]
    fn in_pregnancy_falls_jumps_and_what_presses_on_the_belly_are_left_out() {
        let catalogue = crate::movement::Catalogue::standard();
        let left_out = |id: &str| loads(catalogue.find(id).unwrap(), "pregnancy");
        for id in ["box-jump", "burpee", "pull-up", "double-under", "rope-climb"] {
            assert!(left_out(id), "{id}");
        }
        for id in ["air-squat", "row", "strict-press", "ring-row"] {
            assert!(!left_out(id), "{id}");
        }
    }
}
