//! Reading a coach's text: any handwriting becomes a tree, and nothing is lost.
//!
//! In goes plain text as coaches write it; out comes a [`Reading`]: the session, and beside it what
//! was not understood and what was taken for granted. Reading never fails and never drops a line.
//!
//! The steps, each in its own file, in the order in which they run:
//!
//! 1. `text` makes one line comparable: lower case, plain dashes, quotes and fractions.
//! 2. `spelling` mends words that are one slip away from a word the reader knows.
//! 3. `label` and `heading` take the bullet, number or heading off the front.
//! 4. `clause` claims structure from what is left (rounds, caps, rests, percentages) by the table in
//!    `rules`, one rule a clause; `captured` turns what they matched into values.
//! 5. `line` groups the remaining numbers, movements and loads into items, and tells work from talk.
//! 6. `assemble` deals lines into parts, `shape` turns each part into a tree, and `check` looks for
//!    contradictions.
//!
//! ```
//! use lantern_core::movement::Catalogue;
//! let reading = lantern_core::read::read("5 rounds for time\n10 deadlifts @ 60 kg\ncap 12", Catalogue::standard());
//! let part = &reading.session.parts[0];
//! assert_eq!((part.rounds, part.cap_s), (Some(5), Some(720)));
//! assert!(reading.problems.is_empty());
//! ```

mod assemble;
mod captured;
mod clause;
mod draft;
mod gloss;
mod heading;
mod label;
mod line;
mod quantity;
mod rules;
mod shape;
mod spelling;
mod text;

pub use crate::session::{Assumption, Problem, Severity};
pub use gloss::{Gloss, Role, Said};

use serde::Serialize;

use crate::movement::Catalogue;
use crate::session::{Session, check};

/// Longest line that is read word by word; what lies beyond is kept as a note and reported.
const LONGEST_LINE: usize = 4_000;
/// Most lines that are read; the rest is kept and reported.
const MOST_LINES: usize = 1_500;

/// A session as understood, with what was not.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub struct Reading {
    /// What was understood.
    pub session: Session,
    /// What was not, or cannot be right.
    pub problems: Vec<Problem>,
    /// What was taken for granted: mended spelling, units that the text leaves out.
    pub assumptions: Vec<Assumption>,
    /// What each line was understood as.
    #[serde(skip)]
    pub lines: Vec<Gloss>,
}

impl Reading {
    /// Whether every line was understood.
    pub fn is_complete(&self) -> bool {
        self.problems.iter().all(|problem| problem.severity == Severity::Warning)
    }

    /// Whether there is anything to plan.
    pub fn is_usable(&self) -> bool {
        !self.session.parts.is_empty()
    }
}

/// The text with what stands at a place replaced by a suggestion; unchanged when it no longer stands there.
/// Lines and columns count from 1.
pub fn apply_suggestion(text: &str, line: usize, column: usize, found: &str, suggestion: &str) -> String {
    let mut lines: Vec<String> = text.split('\n').map(str::to_owned).collect();
    if let Some(old) = line.checked_sub(1).and_then(|n| lines.get_mut(n)) {
        let start = old.char_indices().nth(column.saturating_sub(1)).map_or(old.len(), |(at, _)| at);
        let stands =
            old.get(start..start + found.len()).is_some_and(|there| there.eq_ignore_ascii_case(found));
        if stands {
            old.replace_range(start..start + found.len(), suggestion);
        }
    }
    lines.join("\n")
}

/// Reads a session; never fails, keeps every line.
pub fn read(text: &str, catalogue: &Catalogue) -> Reading {
    let mut lines = Vec::new();
    let mut problems = Vec::new();
    let mut spelling = spelling::Spelling::new(catalogue);
    let stations = label::numbered_stations(text);
    for (n, raw) in text.split('\n').enumerate() {
        let number = n + 1;
        let raw = raw.strip_suffix('\r').unwrap_or(raw);
        if n >= MOST_LINES {
            if n == MOST_LINES {
                problems.push(Problem::too_many_lines(number, MOST_LINES));
            }
            lines.push(line::Line::unread(number, raw));
        } else if raw.len() > LONGEST_LINE {
            problems.push(Problem::too_long_line(number, LONGEST_LINE));
            lines.push(line::Line::unread(number, raw));
        } else {
            let station = stations.contains(&number);
            lines.push(line::read_line(number, raw, station, catalogue, &mut spelling));
        }
    }
    let mut reading: Reading = assemble::assemble(lines, catalogue);
    reading.problems.splice(0..0, problems);
    check(&reading.session, text, catalogue, &mut reading.problems);
    reading.problems.sort_by_key(|problem| (problem.line, problem.column));
    reading
}
