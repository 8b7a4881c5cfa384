//! What is said when a text is not clear or cannot be right: what was found, where, and what to try.

use serde::Serialize;

/// Something not understood, or that cannot be right.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Problem {
    /// The line, counted from 1.
    pub line: usize,
    /// The first character it is about, counted from 1.
    pub column: usize,
    /// How much it matters.
    pub severity: Severity,
    /// In words for a coach with ten minutes before class.
    pub message: String,
    /// Nearest readings, best first; each can replace the found text.
    pub did_you_mean: Vec<String>,
    /// The text that a suggestion would replace; empty when suggestions are not replacements.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub found: String,
}

/// How much a problem matters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Severity {
    /// Something was not understood; the plan lacks it.
    Error,
    /// The plan stands, but somebody should look.
    Warning,
}

/// Something taken for granted that the text does not say outright.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Assumption {
    /// The line, counted from 1.
    pub line: usize,
    /// The first character it is about, counted from 1.
    pub column: usize,
    /// In words: "read `dealifts` as `deadlifts`".
    pub message: String,
}

impl Problem {
    fn new(line: usize, column: usize, severity: Severity, message: String) -> Self {
        Self { line, column, severity, message, did_you_mean: Vec::new(), found: String::new() }
    }

    /// An error at a place.
    pub fn error(line: usize, column: usize, message: String) -> Self {
        Self::new(line, column, Severity::Error, message)
    }

    /// A warning at a place.
    pub fn warning(line: usize, column: usize, message: String) -> Self {
        Self::new(line, column, Severity::Warning, message)
    }

    /// Words that name no movement, with the nearest names.
    pub fn unknown_movement(line: usize, column: usize, found: &str, nearest: Vec<String>) -> Self {
        let message = if nearest.is_empty() {
            format!("`{found}` is no movement I know; choose one, or add it to the gym's movements")
        } else {
            format!("`{found}` is no movement I know; did you mean {}?", listing(&nearest))
        };
        Self { did_you_mean: nearest, found: found.to_owned(), ..Self::error(line, column, message) }
    }

    /// A text without any work.
    pub fn nothing_here() -> Self {
        Self::error(
            1,
            1,
            "this does not read as a session: no movement with an amount was found; \
             write one movement a line, as in `5 rounds for time` and `10 burpees`"
                .to_owned(),
        )
    }

    /// More lines than are read; `limit` of them are.
    pub fn too_many_lines(line: usize, limit: usize) -> Self {
        Self::error(
            line,
            1,
            format!("a day has at most {limit} lines here; the lines from this one on are kept as notes"),
        )
    }

    /// More parts than are read; `limit` of them are.
    pub fn too_many_parts(line: usize, limit: usize) -> Self {
        Self::error(
            line,
            1,
            format!("a day has at most {limit} parts here; the lines from this one on are kept as notes"),
        )
    }

    /// More movements in a part than are read; `limit` of them are.
    pub fn too_many_movements(line: usize, limit: usize) -> Self {
        Self::error(
            line,
            1,
            format!(
                "a part has at most {limit} movements here; what follows is kept as notes: open another part for it"
            ),
        )
    }

    /// A line of more characters than are read; `limit` of them are.
    pub fn too_long_line(line: usize, limit: usize) -> Self {
        Self::error(
            line,
            limit + 1,
            format!("this line has more than {limit} characters; it is kept as a note: break it into lines"),
        )
    }
}

/// "`a`, `b` or `c`".
fn listing(names: &[String]) -> String {
    match names {
        [] => String::new(),
        [only] => format!("`{only}`"),
        [init @ .., last] => {
            let init: Vec<String> = init.iter().map(|name| format!("`{name}`")).collect();
            format!("{} or `{last}`", init.join(", "))
        }
    }
}
