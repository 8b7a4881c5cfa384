//! The days of a text that holds several: a pasted week.

use lantern_session::movement::Catalogue;
use lantern_session::wire::part_json;
use lantern_session::{Note, Part, Problem};
use serde_json::{Value, json};

use crate::corrections::Correction;
use crate::report::Question;
use crate::sections::{self, DayName};
use crate::{Reading, read_class};

/// A day of a text that holds several.
#[derive(Clone, Debug, PartialEq)]
pub struct Day {
    /// What its heading says.
    pub name: DayName,
    /// Its first and last line, counted from 1; what stands above the first day belongs to it.
    pub lines: (usize, usize),
    /// Its parts, as they have been put right; their lines are those of the whole text.
    pub parts: Vec<Part>,
    /// Its lines without work.
    pub notes: Vec<Note>,
    /// What of it was not understood, or cannot be right.
    pub problems: Vec<Problem>,
    /// What of it could as well be read in another way.
    pub questions: Vec<Question>,
}

impl Day {
    /// The day as a text of its own, without empty lines around it, and the corrections of its lines, counted from the first that is left.
    pub fn by_itself(&self, text: &str, corrections: &[Correction]) -> (String, Vec<Correction>) {
        let (first, last) = self.lines;
        let lines: Vec<&str> = text.split('\n').skip(first - 1).take(last + 1 - first).collect();
        let empty = lines.iter().take_while(|line| line.trim().is_empty()).count();
        let above = first - 1 + empty;
        let own = corrections.iter().filter(|correction| (above + 1..=last).contains(&correction.line));
        let own = own.map(|correction| Correction {
            line: correction.line - above,
            last_line: correction.last_line.clamp(correction.line, last) - above,
            ..correction.clone()
        });
        (lines[empty..].join("\n").trim_end_matches('\n').to_owned(), own.collect())
    }
}

/// The days of a text, each read by itself as it has been put right; none where fewer than two of them hold work.
pub(crate) fn days(text: &str, catalogue: &Catalogue, corrections: &[Correction]) -> Vec<Day> {
    let found = sections::days(text).into_iter().map(|section| {
        let within = |line: usize| (section.lines.0..=section.lines.1).contains(&line);
        let own: Vec<Correction> = corrections.iter().filter(|made| within(made.line)).cloned().collect();
        let Reading { session, problems, questions, .. } =
            read_class(&sections::only(text, within), catalogue, &own);
        Day {
            name: section.name,
            lines: section.lines,
            parts: session.parts,
            notes: session.notes,
            problems,
            questions,
        }
    });
    let days: Vec<Day> = found.collect();
    let working = days.iter().filter(|day| !day.parts.is_empty()).count();
    if working < 2 { Vec::new() } else { days }
}

pub(crate) fn day_json(day: &Day) -> Value {
    json!({
        "date": day.name.iso_date(),
        "name": day.name.name,
        "lines": [day.lines.0, day.lines.1],
        "parts": day.parts.iter().map(part_json).collect::<Vec<_>>(),
        "notes": day.notes,
        "problems": day.problems,
        "questions": day.questions,
    })
}
