//! A programmed session as a tree: what the coach wrote, before any member is known.
//!
//! Text becomes a [`Session`] in the reader, which never gives up: what it cannot follow is a problem beside the tree. Versions rewrite
//! trees; volume, pace and clock read them; [`text`] writes them down. Nothing here knows about members, readers, HTTP or SQL.

mod check;
mod every_few;
pub mod movement;
mod part;
mod problem;
mod sameness;
pub mod text;
mod totals;
mod tree;
pub mod units;
pub mod wire;

pub use check::check;
pub use part::{
    Alternative, Format, Intent, Jump, Part, PartKind, PercentOf, Prescription, Rest, RestAfter, Score,
    Target, Tempo, TrainingMax,
};
pub use problem::{Assumption, Problem, Severity};
pub use sameness::{Likeness, differences, same_parts};
pub use totals::{Total, pattern_totals, per_round, totals, works};
pub use tree::{Amount, Dose, Load, LoadUnit, Node, Sharing, StandsFor, Work};

use serde::{Deserialize, Serialize};

use crate::units::WeightUnit;

/// One day as a coach wrote it.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub struct Session {
    /// The day's name, such as `Monday`, when the text gives one.
    pub title: Option<String>,
    /// The unit of weight, when the text has weights.
    pub unit: Option<WeightUnit>,
    /// The parts in text order.
    pub parts: Vec<Part>,
    /// Announcements and cues, kept as written.
    pub notes: Vec<Note>,
}

/// A line that adds no work: an announcement, a cue, a joke.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Note {
    /// The line, counted from 1.
    pub line: usize,
    /// As written.
    pub text: String,
}
