//! A gym's weeks of results: how true predictions were, how many were on stimulus, and which pieces went otherwise than meant.

use std::collections::BTreeMap;

use chrono::{Datelike, Days, NaiveDate};
use serde::Serialize;

use super::calibration::median;
use super::{Calibration, Entry, Outcome};
use crate::pacing::Side;

/// A result with where it belongs.
#[derive(Clone, Debug)]
pub struct OnRecord {
    /// When it was done.
    pub day: NaiveDate,
    /// Whose it is, by id.
    pub member: i64,
    /// Which piece it was, by its id.
    pub piece: i64,
    /// What the piece says.
    pub words: String,
    /// The result.
    pub entry: Entry,
}

/// One week.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct WeekBack {
    /// Its Monday.
    pub from: NaiveDate,
    /// Results that could be compared with their window.
    pub results: usize,
    /// Those of them on stimulus.
    pub on_stimulus: usize,
    /// How true predictions were; none where nothing could be compared.
    pub calibration: Option<Calibration>,
}

/// One piece that went otherwise than meant.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct PieceBack {
    /// When.
    pub day: NaiveDate,
    /// What it says.
    pub words: String,
    /// How many did it, and how many of them inside the window, before it, and after it.
    pub results: usize,
    /// See `results`.
    pub inside: usize,
    /// See `results`.
    pub early: usize,
    /// See `results`.
    pub late: usize,
    /// The middle of how much slower than predicted it was, as a share.
    pub slower: f64,
}

/// What a gym's results say.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct LookingBack {
    /// All of them; none where nothing could be compared.
    pub calibration: Option<Calibration>,
    /// Week by week, oldest first.
    pub weeks: Vec<WeekBack>,
    /// Pieces that most people did not do as meant, or that went clearly otherwise than predicted; the newest first.
    pub missed: Vec<PieceBack>,
}

/// Fewest results of a piece that say something about it.
const FEWEST: usize = 4;
/// Share by which a piece is clearly otherwise than predicted: more than days lie apart.
const CLEARLY: f64 = 0.10;

impl LookingBack {
    /// Of results in any order.
    pub fn new(all: &[OnRecord]) -> Self {
        let outcomes = |of: &[&OnRecord]| {
            let known: Vec<Outcome> = of.iter().filter_map(|result| Outcome::of(&result.entry)).collect();
            Calibration::of(&known)
        };
        let (mut weeks, mut pieces) = (BTreeMap::new(), BTreeMap::new());
        for result in all {
            let monday = result.day - Days::new(u64::from(result.day.weekday().num_days_from_monday()));
            weeks.entry(monday).or_insert_with(Vec::new).push(result);
            pieces.entry((result.day, result.piece)).or_insert_with(Vec::new).push(result);
        }
        let weeks = weeks.into_iter().map(|(from, of): (NaiveDate, Vec<&OnRecord>)| {
            let [inside, early, late] = sides(&of);
            WeekBack { from, results: inside + early + late, on_stimulus: inside, calibration: outcomes(&of) }
        });
        let missed = pieces.into_values().rev().filter_map(|of: Vec<&OnRecord>| PieceBack::of(&of));
        Self {
            weeks: weeks.collect(),
            missed: missed.collect(),
            calibration: outcomes(&all.iter().collect::<Vec<_>>()),
        }
    }
}

/// How many lie inside the window, before it, and after it.
fn sides(of: &[&OnRecord]) -> [usize; 3] {
    let sides = of.iter().filter_map(|result| Some(result.entry.beside()?.side));
    sides.fold([0; 3], |mut counts, side| {
        counts[match side {
            Side::Inside => 0,
            Side::Early => 1,
            Side::Late => 2,
        }] += 1;
        counts
    })
}

impl PieceBack {
    /// Of the results of one piece; none where it went as meant and predicted, or where too few say anything.
    fn of(of: &[&OnRecord]) -> Option<Self> {
        let [inside, early, late] = sides(of);
        let results = inside + early + late;
        let first = of.first().filter(|_| results >= FEWEST)?;
        let slower = median(of.iter().filter_map(|result| result.entry.slower()))?;
        let is_off = inside * 2 < results || slower.abs() > CLEARLY;
        is_off.then(|| Self {
            day: first.day,
            words: first.words.clone(),
            results,
            inside,
            early,
            late,
            slower,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::book::{Done, Predicted};
    use crate::pacing::Measure;
    use crate::versions::VersionName;

    fn result(day: u32, piece: i64, seconds: f64) -> OnRecord {
        let predicted = Predicted {
            measure: Measure::Finish,
            spread: [540.0, 600.0, 660.0],
            window: [Some(480.0), Some(720.0)],
            rests: None,
        };
        let entry = Entry {
            version: VersionName::AsWritten,
            done: Done::Finished { seconds: seconds as u32 },
            said: String::new(),
            predicted: Some(predicted),
            value: Some(seconds),
            at_least: false,
            gone_on: None,
            effort: None,
            hurt: false,
            note: String::new(),
        };
        let day = NaiveDate::from_ymd_opt(2026, 3, day).unwrap();
        OnRecord { day, member: 1, piece, words: format!("piece {piece}"), entry }
    }

    #[test]
    fn weeks_are_counted_from_monday_and_only_what_went_otherwise_is_named() {
        let as_meant = [600.0, 610.0, 590.0, 640.0].map(|seconds| result(3, 1, seconds));
        let too_long = [730.0, 760.0, 600.0, 800.0].map(|seconds| result(4, 2, seconds));
        let few = [900.0, 900.0].map(|seconds| result(11, 3, seconds));
        let back = LookingBack::new(&[&as_meant[..], &too_long, &few].concat());
        let weeks: Vec<(String, usize, usize)> =
            back.weeks.iter().map(|week| (week.from.to_string(), week.results, week.on_stimulus)).collect();
        assert_eq!(weeks, [("2026-03-02".to_owned(), 8, 5), ("2026-03-09".to_owned(), 2, 0)]);
        let [only] = &back.missed[..] else { panic!("{:?}", back.missed) };
        assert_eq!((only.words.as_str(), only.inside, only.late), ("piece 2", 1, 3));
        assert!((only.slower - 0.2417).abs() < 1e-3, "{only:?}");
    }

    #[test]
    fn what_holds_what_it_says_lies_on_the_diagonal() {
        // The days that were predicted themselves, one for each hundredth.
        let day = |n: u32| {
            let place = (f64::from(n) + 0.5) / 100.0;
            let z = (place / (1.0 - place)).ln() / 1.702;
            result(3, i64::from(n), 600.0 * (z * (660.0_f64 / 600.0).ln() / 1.2816).exp())
        };
        let all: Vec<OnRecord> = (0..100).map(day).collect();
        let told = LookingBack::new(&all).calibration.unwrap();
        assert!((told.within - 0.8).abs() < 0.06, "{told:?}");
        for (said, was) in &told.below {
            assert!((said - was).abs() < 0.04, "{told:?}");
        }
        assert!((told.error - told.error_by_file).abs() < 1e-9 && told.slower.abs() < 0.01);
    }

    #[test]
    fn of_nothing_nothing_is_said() {
        let back = LookingBack::new(&[]);
        assert!(back.calibration.is_none() && back.weeks.is_empty() && back.missed.is_empty());
    }

    #[test]
    fn a_piece_went_otherwise_where_half_were_outside_or_all_clearly_slower() {
        let named =
            |seconds: [f64; 4]| !LookingBack::new(&seconds.map(|one| result(3, 1, one))).missed.is_empty();
        // All inside what was meant, and a sixth slower than predicted.
        assert!(named([700.0, 705.0, 710.0, 700.0]));
        // As predicted in the middle, and most of them outside.
        assert!(named([400.0, 590.0, 800.0, 900.0]));
        assert!(!named([400.0, 590.0, 610.0, 900.0]));
    }
}
