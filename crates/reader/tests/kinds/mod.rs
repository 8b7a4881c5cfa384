//! Kinds of handwriting, each by a text of its own: what it must become.

mod accounted;
mod aims;
mod apart;
mod builds;
mod clocks;
mod days;
mod doses;
mod legs;
mod lifts;
mod listed;
mod offhand;
mod otherwise;
mod passing;
mod rests;
mod seams;
mod sections;
mod shares;
mod spaced;
mod spoken;
mod stations;
mod stretches;
mod told;
mod turns;
mod work;

use lantern_reader::{read, reading_json};
use lantern_session::movement::Catalogue;
use lantern_session::text::session_text;
use serde_json::Value;

fn parts(text: &str) -> Vec<Value> {
    let reading = reading_json(&read(text, Catalogue::standard()));
    reading["parts"].as_array().unwrap().clone()
}

/// The only part of a text.
fn part(text: &str) -> Value {
    let mut parts = parts(text);
    assert_eq!(parts.len(), 1, "{text}: {parts:#?}");
    parts.remove(0)
}

fn total(part: &Value, movement: &str) -> Value {
    part["totals"][movement]["amount"].clone()
}

/// The day in the plain notation, which must read as the same day again.
fn plain(text: &str) -> String {
    let catalogue = Catalogue::standard();
    let once = session_text(&read(text, catalogue).session, catalogue);
    assert_eq!(session_text(&read(&once, catalogue).session, catalogue), once, "{text}");
    once
}
