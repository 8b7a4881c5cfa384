//! What somebody has done, beside what was predicted of them.

use lantern_core::book::{Predicted, tendency};
use lantern_core::pacing::Measure;
use lantern_store::results::{StoredResult, standing};

use crate::day::day_name;
use crate::day::figures::side_marked;

/// Most results that are shown.
pub(crate) const MOST: i64 = 40;

/// What somebody has done of pieces, newest first.
pub(crate) struct DoneView {
    /// How their last results stood to what was predicted, in words; none while there are too few.
    pub tendency: Option<String>,
    pub rows: Vec<DoneRow>,
}

pub(crate) struct DoneRow {
    pub day: String,
    /// The first lines of the piece.
    pub piece: String,
    pub version: &'static str,
    pub score: String,
    pub predicted: String,
    pub class: &'static str,
    pub word: &'static str,
}

impl DoneView {
    pub fn new(found: Vec<(StoredResult, String)>) -> Self {
        let (mut results, mut words) = (Vec::new(), Vec::new());
        for (result, said) in found {
            results.push((words.len(), result));
            words.push(said);
        }
        let stands = standing(results);
        let told = tendency(stands.iter().map(|(_, result)| &result.entry)).map(|(off, count)| {
            let percent = (off.abs() * 100.0).round();
            match percent {
                0.0..2.0 => format!("The last {count} went as predicted."),
                _ if off < 0.0 => {
                    format!("The last {count} went {percent} % quicker than predicted, in the middle.")
                }
                _ => format!("The last {count} went {percent} % slower than predicted, in the middle."),
            }
        });
        let rows = stands.into_iter().map(|(at, result)| DoneRow::new(&result, &words[at]));
        Self { tendency: told, rows: rows.collect() }
    }
}

impl DoneRow {
    fn new(result: &StoredResult, words: &str) -> Self {
        let entry = &result.entry;
        let measure = entry.predicted.as_ref().map_or(Measure::Finish, |predicted| predicted.measure);
        let (class, word) = side_marked(entry.beside().map(|beside| beside.side), measure);
        let piece: Vec<&str> = words.lines().filter(|line| !line.trim().is_empty()).take(3).collect();
        Self {
            day: day_name(result.day),
            piece: piece.join(", "),
            version: entry.version.label(),
            score: entry.done.to_string(),
            predicted: entry.predicted.as_ref().map(Predicted::range).unwrap_or_default(),
            class,
            word,
        }
    }
}
