//! What holds for every text: nothing is lost, nothing panics, and what says nothing changes nothing.

use std::collections::HashSet;
use std::fs;
use std::path::Path;
use std::time::Instant;

use lantern_reader::{Reading, read, reading_json};
use lantern_session::movement::Catalogue;
use proptest::prelude::*;

fn corpus() -> Vec<String> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("corpus");
    let folders = fs::read_dir(root).unwrap().map(|entry| entry.unwrap().path());
    let files = folders.flat_map(|folder| fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path()));
    let mut texts: Vec<_> =
        files.filter(|path| path.extension().is_some_and(|ending| ending == "txt")).collect();
    texts.sort();
    texts.into_iter().map(|path| fs::read_to_string(path).unwrap()).collect()
}

/// Lines with words on them that are in no part, note, problem or question.
fn lost(text: &str, reading: &Reading) -> Vec<usize> {
    let json = reading_json(reading);
    let mut kept = HashSet::new();
    let apart = ["parts", "tracks", "days"].iter().flat_map(|key| json[*key].as_array().unwrap());
    for part in apart {
        kept.extend(part["lines"][0].as_u64().unwrap()..=part["lines"][1].as_u64().unwrap());
    }
    for key in ["notes", "problems", "questions"] {
        for told in json[key].as_array().unwrap() {
            let first = told["line"].as_u64().unwrap();
            kept.extend(first..=told["last_line"].as_u64().unwrap_or(first));
        }
    }
    let says = |line: &str| line.chars().any(char::is_alphanumeric);
    let title = |line: &str| json["title"].as_str() == Some(line.trim());
    let lines = text
        .split('\n')
        .enumerate()
        .filter(|(n, line)| says(line) && !title(line) && !kept.contains(&(*n as u64 + 1)));
    lines.map(|(n, _)| n + 1).collect()
}

#[test]
fn no_line_of_any_labelled_text_is_lost() {
    for text in corpus() {
        assert_eq!(lost(&text, &read(&text, Catalogue::standard())), [0; 0], "{text}");
    }
}

#[test]
fn time_grows_with_the_text_and_not_faster() {
    let day = "Strength\nBack squat 5x5 @ 75%\n\nFor time\n21-15-9\nthrusters 40/30 kg\npull-ups\ncap 12\n\n";
    let took = |text: &str| {
        let begun = Instant::now();
        let reading = read(text, Catalogue::standard());
        assert_eq!(lost(text, &reading), [0; 0]);
        begun.elapsed().as_secs_f64()
    };
    took(day);
    let (short, long) = (took(&day.repeat(20)), took(&day.repeat(160)));
    assert!(long < short * 8.0 * 3.0, "eight times the text took {:.1} times as long", long / short);
    for text in [
        "10 burpees, ".repeat(20_000),
        "1 ".repeat(3_000),
        "(".repeat(3_900),
        "3 x ".repeat(900),
        "10-".repeat(1_300),
    ] {
        took(&text);
    }
}

/// Real lines, cut and glued at random.
fn mutated() -> impl Strategy<Value = String> {
    let lines: Vec<String> =
        corpus().iter().flat_map(|text| text.lines().map(str::to_owned).collect::<Vec<_>>()).collect();
    prop::collection::vec((prop::sample::select(lines), any::<prop::sample::Index>(), any::<bool>()), 0..14)
        .prop_map(|picked| {
            let cut = picked.into_iter().map(|(line, at, whole)| {
                let end = if whole { line.len() } else { at.index(line.len() + 1) };
                let end = (0..=end).rev().find(|end| line.is_char_boundary(*end)).unwrap_or(0);
                line[..end].to_owned()
            });
            cut.collect::<Vec<_>>().join("\n")
        })
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 96, ..ProptestConfig::default() })]

    #[test]
    fn any_text_is_read_and_no_line_of_it_lost(text in "\\PC{0,200}(\n\\PC{0,80}){0,6}") {
        prop_assert_eq!(lost(&text, &read(&text, Catalogue::standard())), [0; 0]);
    }

    #[test]
    fn lines_of_coaches_in_any_order_are_read_and_none_lost(text in mutated()) {
        prop_assert_eq!(lost(&text, &read(&text, Catalogue::standard())), [0; 0]);
    }

    #[test]
    fn reading_twice_gives_the_same(text in mutated()) {
        prop_assert_eq!(read(&text, Catalogue::standard()), read(&text, Catalogue::standard()));
    }
}
