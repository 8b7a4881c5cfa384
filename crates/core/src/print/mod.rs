//! Printing: canonical text and JSON for any reading.

mod loads;

pub use lantern_reader::{READING_SCHEMA, reading_json};
pub use lantern_session::text::{
    in_words, only_work, part_text, rest_text, session_text, week_text, work_lines, work_text,
};
pub(crate) use lantern_session::wire::number;
pub use loads::loads_csv;

use crate::movement::Catalogue;
use crate::session::{Node, Part};

/// The work of a part, line by line, where a heading says already that it is for time: cap, goal and score stand there too.
pub fn bare_lines(part: &Part, tree: &Node, catalogue: &Catalogue) -> Vec<String> {
    let mut lines = work_lines(part, tree, catalogue);
    if lines.len() > 1 && lines[0].eq_ignore_ascii_case("for time") {
        lines.remove(0);
    }
    lines
}
