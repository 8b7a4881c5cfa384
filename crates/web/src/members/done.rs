//! What somebody has done, beside what was predicted of them.

use chrono::NaiveDate;
use lantern_core::book::{Predicted, tendency};
use lantern_core::gym::Gym;
use lantern_core::movement::Catalogue;
use lantern_core::pacing::Measure;
use lantern_store::lifts::StoredLift;
use lantern_store::results::{StoredResult, standing};

use crate::day::day_name;
use crate::day::figures::side_marked;
use crate::members::over_time::{OverTime, first_lines};

/// Most results that are looked at.
pub(crate) const MOST: i64 = 160;
/// Most of them that are listed.
const MOST_LISTED: usize = 40;

/// What somebody has done of pieces, newest first.
pub(crate) struct DoneView {
    /// How their last results stood to what was predicted, in words; none while there are too few.
    pub tendency: Option<String>,
    pub rows: Vec<DoneRow>,
    pub over_time: OverTime,
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
    pub fn new(
        found: Vec<(StoredResult, String)>,
        sets: &[StoredLift],
        told: (&Gym, &Catalogue, NaiveDate),
    ) -> Self {
        let (mut results, mut words) = (Vec::new(), Vec::new());
        for (result, said) in found {
            results.push((words.len(), result));
            words.push(said);
        }
        let stands = standing(results);
        let drawn: Vec<(&StoredResult, &str)> =
            stands.iter().map(|(at, result)| (result, words[*at].as_str())).collect();
        let over_time = OverTime::new(&drawn, sets, told);
        let words_of_tendency =
            tendency(stands.iter().map(|(_, result)| &result.entry)).map(|(off, count)| {
                let percent = (off.abs() * 100.0).round();
                match percent {
                    0.0..2.0 => format!("The last {count} went as predicted."),
                    _ if off < 0.0 => {
                        format!("The last {count} went {percent} % quicker than predicted, in the middle.")
                    }
                    _ => format!("The last {count} went {percent} % slower than predicted, in the middle."),
                }
            });
        let rows = stands.iter().take(MOST_LISTED).map(|(at, result)| DoneRow::new(result, &words[*at]));
        Self { tendency: words_of_tendency, rows: rows.collect(), over_time }
    }
}

impl DoneRow {
    fn new(result: &StoredResult, words: &str) -> Self {
        let entry = &result.entry;
        let measure = entry.predicted.as_ref().map_or(Measure::Finish, |predicted| predicted.measure);
        let (class, word) = side_marked(entry.beside().map(|beside| beside.side), measure);
        Self {
            day: day_name(result.day),
            piece: first_lines(words),
            version: entry.version.label(),
            score: entry.done.to_string(),
            predicted: entry.predicted.as_ref().map(Predicted::range).unwrap_or_default(),
            class,
            word,
        }
    }
}
