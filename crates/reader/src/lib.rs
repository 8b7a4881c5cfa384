//! Reads a coach's text into a session: candidates are weighed, and what is not clear is asked.
//!
//! 1. `tokens` cuts a line into numbers, words and signs; `lexicon` and `values` know what each can mean.
//! 2. `grammar` finds every phrase of a sentence by the rows of `data/grammar.csv`, and `cover` the best ways to explain the sentence with them.
//! 3. `unit` cuts lines into sentences and reads each in several roles: work, an aside, a note, a substitute, a level.
//! 4. `day` searches over where parts begin; `facts` and `lower` make a part of each run of sentences, `judge` says what is wrong with it.
//!
//! ```
//! use lantern_session::movement::Catalogue;
//! let reading = lantern_reader::read("5 rounds for time\n10 deadlifts @ 60 kg\ncap 12", Catalogue::standard());
//! let part = &reading.session.parts[0];
//! assert_eq!((part.rounds, part.cap_s), (Some(5), Some(720)));
//! assert!(reading.problems.is_empty());
//! ```

pub mod cover;
mod day;
mod facts;
pub mod grammar;
mod judge;
pub mod label;
pub mod lexicon;
mod lower;
pub mod report;
pub mod say;
pub mod source;
pub mod spelling;
mod table;
pub mod tokens;
pub mod unit;
pub mod values;
pub mod weights;

use lantern_session::movement::Catalogue;
use lantern_session::wire::part_json;
use lantern_session::{Note, Session};
use serde_json::{Value, json};

use crate::day::Divider;
use crate::report::{Assumption, Problem, Severity};
use crate::unit::{Role, units};
use crate::weights::Weights;

/// A session as understood, with what was not.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Reading {
    /// What was understood.
    pub session: Session,
    /// What was not, or cannot be right.
    pub problems: Vec<Problem>,
    /// What was taken for granted.
    pub assumptions: Vec<Assumption>,
}

impl Reading {
    /// Whether every line was understood.
    pub fn is_complete(&self) -> bool {
        self.problems.iter().all(|problem| problem.severity == Severity::Warning)
    }
}

/// Reads a session; never fails, keeps every line.
pub fn read(text: &str, catalogue: &Catalogue) -> Reading {
    let weights = Weights::standard();
    let units = units(text, catalogue, weights);
    let divider = Divider::new(&units, catalogue, weights);
    let divisions = divider.divide();
    let mut reading = Reading::default();
    let Some(best) = divisions.into_iter().next() else { return reading };
    for segment in best.segments {
        let made = segment.lowered.part.is_some();
        for (n, at) in segment.units.clone().enumerate() {
            let unit = &units[at];
            let read = &unit.readings[segment.chosen[n]];
            match read.role {
                Role::Title if reading.session.title.is_none() => {
                    reading.session.title =
                        Some(unit.text.trim_matches(['#', '*', '=', ':', ' ']).to_owned());
                    reading.session.notes.push(Note { line: unit.line, text: unit.text.clone() });
                }
                Role::Work | Role::Substitute | Role::Level(_) if made => {}
                _ => reading.session.notes.push(Note { line: unit.line, text: unit.text.clone() }),
            }
            if read.role != Role::Note {
                for (column, from, to) in &unit.mended {
                    let message = format!("read `{from}` as `{to}`");
                    reading.assumptions.push(Assumption { line: unit.line, column: *column, message });
                }
            }
        }
        reading.problems.extend(segment.lowered.problems);
        reading.assumptions.extend(segment.lowered.assumptions);
        reading.session.unit = reading.session.unit.or(segment.lowered.unit);
        if let Some(mut part) = segment.lowered.part {
            let worked = segment.units.clone().enumerate().filter(|(n, at)| {
                units[*at].heading.is_some()
                    || !matches!(units[*at].readings[segment.chosen[*n]].role, Role::Note | Role::Title)
            });
            let lines: Vec<(usize, usize)> =
                worked.map(|(_, at)| (units[at].line, units[at].last_line)).collect();
            if let (Some(first), Some(last)) = (lines.first(), lines.last()) {
                part.lines = (first.0, last.1);
            }
            reading.session.parts.push(part);
        }
    }
    reading.session.notes.sort_by_key(|note| note.line);
    reading.session.notes.dedup();
    reading.problems.sort_by_key(|problem| (problem.line, problem.column));
    reading.assumptions.sort_by_key(|assumption| (assumption.line, assumption.column));
    reading
}

/// The whole reading as JSON.
pub fn reading_json(reading: &Reading) -> Value {
    json!({
        "schema": "honest-lantern/reading/1",
        "unit": reading.session.unit,
        "title": reading.session.title,
        "parts": reading.session.parts.iter().map(part_json).collect::<Vec<_>>(),
        "notes": reading.session.notes,
        "problems": reading.problems,
        "assumptions": reading.assumptions,
        "questions": [],
    })
}

/// How the day could divide, best first: what each way costs, and what each of its parts does.
pub fn explain(text: &str, catalogue: &Catalogue) -> String {
    use std::fmt::Write as _;
    let weights = Weights::standard();
    let units = units(text, catalogue, weights);
    let mut told = String::new();
    let divider = Divider::new(&units, catalogue, weights);
    for division in divider.divide() {
        let _ = writeln!(told, "{:.2}", division.cost);
        for segment in division.segments {
            let lines = (units[segment.units.start].line, units[segment.units.end - 1].line);
            let part = segment.lowered.part.as_ref().map(|part| (part.kind, part.format));
            let _ = writeln!(
                told,
                "  lines {lines:?} {:.2}{:+.2} {part:?} chosen {:?}",
                segment.cost,
                divider.cut_cost(segment.units.start),
                segment.chosen
            );
        }
    }
    told
}
