//! The same text in another hand: what says nothing changes nothing.

use std::fs;
use std::path::Path;
use std::sync::LazyLock;

use lantern_reader::{read, reading_json};
use lantern_session::movement::Catalogue;
use serde_json::Value;

/// Labelled texts, each with its name and what it means as it stands.
static CORPUS: LazyLock<Vec<(String, String, Vec<Value>)>> = LazyLock::new(|| {
    let mut texts = corpus();
    texts.sort();
    // Every other one: reading all of them five times takes most of a minute without optimisation.
    texts.into_iter().step_by(2).map(|(name, text)| (name, text.clone(), meaning(&text))).collect()
});

fn corpus() -> Vec<(String, String)> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("corpus");
    let folders = fs::read_dir(root).unwrap().map(|entry| entry.unwrap().path());
    let files = folders.flat_map(|folder| fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path()));
    files
        .filter(|path| path.extension().is_some_and(|ending| ending == "txt"))
        .map(|path| (path.file_stem().unwrap().to_string_lossy().into(), fs::read_to_string(&path).unwrap()))
        .collect()
}

/// What a text becomes, without where it stands and how it was spelt.
fn meaning(text: &str) -> Vec<Value> {
    let json = reading_json(&read(text, Catalogue::standard()));
    let parts = json["parts"].as_array().unwrap().iter().cloned();
    let plain = |mut part: Value| {
        for place in ["lines", "heading", "alternatives"] {
            part.as_object_mut().unwrap().remove(place);
        }
        part
    };
    parts.map(plain).collect()
}

/// Names of the texts that mean something else in another hand.
fn changed(hand: impl Fn(&str) -> String) -> Vec<String> {
    assert!(CORPUS.len() > 100);
    let other = CORPUS.iter().filter(|(_, text, as_it_stands)| meaning(&hand(text)) != *as_it_stands);
    other.map(|(name, ..)| name.clone()).collect()
}

#[test]
fn line_ends_of_another_system_change_nothing() {
    assert_eq!(changed(|text| text.replace('\n', "\r\n")), [""; 0]);
}

#[test]
fn spaces_at_the_ends_of_lines_change_nothing() {
    assert_eq!(changed(|text| text.replace('\n', "  \n")), [""; 0]);
}

#[test]
fn empty_lines_around_the_text_change_nothing() {
    assert_eq!(changed(|text| format!("\n\n{}\n\n", text.trim_end())), [""; 0]);
}

#[test]
fn typographic_signs_change_nothing() {
    assert_eq!(changed(|text| text.replace('\'', "\u{2019}").replace(" - ", " \u{2013} ")), [""; 0]);
}
