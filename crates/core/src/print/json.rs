//! The reading as JSON, schema `honest-lantern/reading/1`; `docs/reading.schema.json` describes it.

use lantern_session::wire::part_json;
use serde_json::{Value, json};

use crate::read::Reading;

/// Name and version of the layout.
pub const READING_SCHEMA: &str = "honest-lantern/reading/1";

/// The whole reading.
pub fn reading_json(reading: &Reading) -> Value {
    json!({
        "schema": READING_SCHEMA,
        "unit": reading.session.unit,
        "title": reading.session.title,
        "parts": reading.session.parts.iter().map(part_json).collect::<Vec<_>>(),
        "notes": reading.session.notes,
        "problems": reading.problems,
        "assumptions": reading.assumptions,
    })
}
