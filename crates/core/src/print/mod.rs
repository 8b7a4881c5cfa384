//! Printing: canonical text and JSON for any reading.

mod loads;

pub use lantern_reader::{READING_SCHEMA, reading_json};
pub use lantern_session::text::{in_words, only_work, part_text, session_text, work_lines, work_text};
pub(crate) use lantern_session::wire::number;
pub use loads::loads_csv;
