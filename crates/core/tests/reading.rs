//! The reader against sessions in many handwritings: a snapshot of the facts of each, and rules that hold
//! for every text.

use std::fmt::Write as _;
use std::fs;
use std::path::Path;

use lantern_core::movement::{Catalogue, MovementId, OwnMovement, Unit};
use lantern_core::print::reading_json;
use lantern_core::read::{Reading, apply_suggestion, read};
use lantern_core::session::totals;
use proptest::prelude::*;
use serde_json::Value;

fn fixtures() -> Vec<(String, String)> {
    let mut found: Vec<(String, String)> =
        fs::read_dir(Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/fixtures"))
            .unwrap()
            .map(|entry| entry.unwrap().path())
            .map(|path| {
                (path.file_stem().unwrap().to_string_lossy().into_owned(), fs::read_to_string(path).unwrap())
            })
            .collect();
    found.sort();
    found
}

/// What a careful reader takes from a text, a line a fact.
fn facts(reading: &Reading) -> String {
    let json = reading_json(reading);
    let mut text = String::new();
    let _ = writeln!(text, "unit {}, title {}", json["unit"], json["title"]);
    for part in json["parts"].as_array().unwrap() {
        let _ = writeln!(text, "{} {} lines {}", part["kind"], part["format"], part["lines"]);
        for (key, value) in part.as_object().unwrap() {
            let told = matches!(key.as_str(), "kind" | "format" | "lines" | "tree" | "heading");
            let empty = value.is_null()
                || value.as_array().is_some_and(Vec::is_empty)
                || value.as_object().is_some_and(serde_json::Map::is_empty)
                || (key == "team_size" && value == 1);
            if !told && !empty {
                let _ = writeln!(text, "  {key}: {value}");
            }
        }
    }
    for note in json["notes"].as_array().unwrap() {
        let _ = writeln!(text, "note {}: {}", note["line"], note["text"]);
    }
    for problem in json["problems"].as_array().unwrap() {
        let _ = writeln!(
            text,
            "{}:{} {}",
            problem["line"],
            problem["column"],
            problem["message"].as_str().unwrap()
        );
    }
    for assumption in json["assumptions"].as_array().unwrap() {
        let _ = writeln!(text, "line {}: {}", assumption["line"], assumption["message"].as_str().unwrap());
    }
    text
}

#[test]
fn every_handwriting_gives_its_facts() {
    let fixtures = fixtures();
    assert!(fixtures.len() >= 36);
    for (name, text) in fixtures {
        insta::assert_snapshot!(name, facts(&read(&text, Catalogue::standard())));
    }
}

/// Every line with anything on it is in a part, a note, a problem, or names the day.
fn lost_lines(text: &str, reading: &Reading) -> Vec<usize> {
    let json = reading_json(reading);
    let empty = Vec::new();
    let days = json["days"].as_array().unwrap_or(&empty);
    let spans: Vec<(u64, u64)> = [&json]
        .into_iter()
        .chain(days)
        .flat_map(|day| day["parts"].as_array().unwrap())
        .map(|part| (part["lines"][0].as_u64().unwrap(), part["lines"][1].as_u64().unwrap()))
        .collect();
    let named = |key: &str| -> Vec<u64> {
        let everywhere = [&json].into_iter().chain(days).flat_map(|day| day[key].as_array().unwrap());
        everywhere.filter_map(|entry: &Value| entry["line"].as_u64()).collect()
    };
    let (notes, problems) = (named("notes"), named("problems"));
    let titles: Vec<&str> = reading
        .session
        .title
        .as_deref()
        .into_iter()
        .chain(days.iter().filter_map(|day| day["name"].as_str()))
        .filter(|title| !title.is_empty())
        .collect();
    text.split('\n')
        .enumerate()
        .filter(|(n, line)| {
            let number = *n as u64 + 1;
            let says = line.chars().any(char::is_alphanumeric);
            let kept = spans.iter().any(|(from, to)| (*from..=*to).contains(&number))
                || notes.contains(&number)
                || problems.contains(&number)
                || titles.iter().any(|title| line.contains(title));
            says && !kept
        })
        .map(|(n, _)| n + 1)
        .collect()
}

#[test]
fn no_line_of_any_fixture_is_lost() {
    for (name, text) in fixtures() {
        assert_eq!(lost_lines(&text, &read(&text, Catalogue::standard())), [0; 0], "{name}");
    }
}

#[test]
fn the_lines_of_every_day_of_a_week_are_kept() {
    for text in [
        "Mon\n250 m row\nWednesday\ndual db thruster 2",
        "Monday\n250 m row\nTuesday\ngruntwax the zorbles\n10 burpees",
    ] {
        assert_eq!(lost_lines(text, &read(text, Catalogue::standard())), [0; 0], "{text}");
    }
}

#[test]
fn applying_a_suggestion_makes_the_line_understood() {
    let text = "5 rounds for time\n10 ring mussle thingies\n10 burpees";
    let reading = read(text, Catalogue::standard());
    let problem = &reading.problems[0];
    let mended =
        apply_suggestion(text, problem.line, problem.column, &problem.found, &problem.did_you_mean[0]);
    assert!(read(&mended, Catalogue::standard()).problems.is_empty(), "{mended}");
}

#[test]
fn a_slip_in_a_movement_is_read_as_what_was_meant_and_said_and_adds_no_volume_elsewhere() {
    let slips = [
        ("3 rounds for time\n12 pull-ups\n18 thrustrs, 40/30 kg", 3, "thruster", 54.0),
        ("3 rounds for time\n12 pull-ups\n18 wal bals, 9/6 kg", 3, "wall-ball", 54.0),
        ("Front sqaut 5x5", 1, "front-squat", 25.0),
    ];
    for (text, line, meant, amount) in slips {
        let reading = read(text, Catalogue::standard());
        assert!(
            reading.assumptions.iter().any(|said| said.line == line),
            "{text}: {:?}",
            reading.assumptions
        );
        let totals = totals(&reading.session.parts[0].tree);
        let of = |id: &str| totals.iter().find(|total| total.movement == MovementId::new(id));
        assert_eq!(of(meant).map(|total| total.amount), Some(amount), "{text}");
        assert!(of("pull-up").is_none_or(|total| total.amount == 36.0), "{text}: {totals:?}");
    }
}

#[test]
fn a_range_of_repetitions_stays_a_range() {
    let reading = read("Front squat 4 x 8-10", Catalogue::standard());
    let strength = &reading.session.parts[0].strength;
    assert_eq!((&strength.reps[..], strength.reps_high), (&[8, 8, 8, 8][..], Some(10)));
}

#[test]
fn a_suggestion_for_text_that_is_gone_changes_nothing() {
    assert_eq!(apply_suggestion("10 burpees", 1, 4, "wombats", "run"), "10 burpees");
    assert_eq!(apply_suggestion("10 burpees", 9, 4, "wombats", "run"), "10 burpees");
}

#[test]
fn one_long_line_and_many_short_ones_are_answered_and_reported() {
    let long = "10 burpees, ".repeat(20_000);
    let reading = read(&long, Catalogue::standard());
    assert!(reading.problems[0].message.contains("more than 4000 characters"), "{:?}", reading.problems[0]);
    assert_eq!(lost_lines(&long, &reading), [0; 0]);
    let many = "10 zorbles of gruntwax\n".repeat(40_000);
    let reading = read(&many, Catalogue::standard());
    assert!(reading.problems.iter().any(|problem| problem.message.contains("at most 1500 lines")));
}

#[test]
fn the_reader_knows_an_own_movement_at_once_by_every_name() {
    let catalogue = Catalogue::standard();
    let mut tyre = OwnMovement {
        name: "Tyre flip".into(),
        like: MovementId::new("deadlift"),
        unit: Unit::Reps,
        seconds: None,
        aliases: Vec::new(),
    };
    tyre.aliases = vec!["tire flips".into()];
    let known = catalogue.with_movements([tyre.movement(catalogue).unwrap()]);
    for text in ["For time\n12 tyre flips\n10 burpees", "For time\n12 tire flips\n10 burpees"] {
        let reading = read(text, &known);
        assert!(reading.problems.is_empty(), "{:?}", reading.problems);
        let first = &totals(&reading.session.parts[0].tree)[0];
        assert_eq!((first.movement.as_str(), first.amount), ("tyre-flip", 12.0));
    }
    assert!(!read("For time\n12 tyre flips\n10 burpees", catalogue).problems.is_empty());
}

/// Real lines, cut and glued at random.
fn mutated() -> impl Strategy<Value = String> {
    let lines: Vec<String> =
        fixtures().iter().flat_map(|(_, text)| text.lines().map(str::to_owned).collect::<Vec<_>>()).collect();
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
    #![proptest_config(ProptestConfig::with_cases(150))]

    #[test]
    fn prop_any_text_is_read_and_no_line_is_lost(text in "\\PC{0,200}(\n\\PC{0,80}){0,4}") {
        let reading = read(&text, Catalogue::standard());
        prop_assert_eq!(lost_lines(&text, &reading), Vec::<usize>::new());
    }

    #[test]
    fn prop_mutated_sessions_are_read_and_no_line_is_lost(text in mutated()) {
        let reading = read(&text, Catalogue::standard());
        prop_assert_eq!(lost_lines(&text, &reading), Vec::<usize>::new());
    }

    #[test]
    fn prop_reading_twice_gives_the_same(text in mutated()) {
        prop_assert_eq!(read(&text, Catalogue::standard()), read(&text, Catalogue::standard()));
    }
}

#[test]
fn the_schema_in_the_docs_names_every_key_of_every_reading() {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/reading.schema.json");
    let schema: Value = serde_json::from_str(&fs::read_to_string(path).unwrap()).unwrap();
    let known = |place: &Value, found: &Value| {
        let properties = place["properties"].as_object().unwrap();
        for key in found.as_object().unwrap().keys() {
            assert!(properties.contains_key(key), "{key} is not in the schema");
        }
    };
    let nodes = schema["$defs"]["node"]["properties"]["node"]["enum"].as_array().unwrap();
    for (_, text) in fixtures() {
        let json = reading_json(&read(&text, Catalogue::standard()));
        known(&schema, &json);
        for part in json["parts"].as_array().unwrap() {
            known(&schema["$defs"]["part"], part);
            assert!(nodes.contains(&part["tree"]["node"]), "{}", part["tree"]["node"]);
        }
    }
}

/// Printing keeps the meaning: what is printed reads back as the same parts.
#[test]
fn printed_fixtures_read_back_the_same() {
    let catalogue = Catalogue::standard();
    let mut differing = Vec::new();
    for (name, text) in fixtures() {
        let first = read(&text, catalogue).session;
        let printed = lantern_core::print::session_text(&first, catalogue);
        let second = read(&printed, catalogue).session;
        let trees = |session: &lantern_core::session::Session| {
            session
                .parts
                .iter()
                .map(|part| format!("{:?} {:?} {:?}", part.kind, part.format, part.tree))
                .collect::<Vec<_>>()
        };
        let (first, second) = (trees(&first), trees(&second));
        if first != second {
            differing.push(format!("{name}\n{printed}\nread   {first:#?}\nagain  {second:#?}"));
        }
    }
    assert!(differing.is_empty(), "{}", differing.join("\n\n"));
}
