//! Printing: canonical text and JSON for any reading.

mod json;
mod loads;
mod text;

pub(crate) use json::number;
pub use json::{READING_SCHEMA, reading_json};
pub use loads::loads_csv;
pub use text::{part_text, session_text, work_text};
