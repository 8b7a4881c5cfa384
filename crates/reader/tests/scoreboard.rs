//! The scoreboard: which facts of labelled texts the reader states, what it states beyond them, and what is wrong in silence.
//! `cargo test -p lantern-reader --test reading scoreboard -- --nocapture` prints it; with `SCOREBOARD=1` each wrong fact too.

use std::env;

use lantern_reader::{read, reading_json};
use lantern_session::movement::Catalogue;
use reader_train::labelled;
use reader_train::score::{Tally, score};
use serde_json::{Value, json};

/// What texts of a folder must reach, in percent: least facts, most extra, most silent. Raised with each gain, never lowered.
const FLOORS: [(&str, f64, f64, f64); 7] = [
    ("practice", 99.8, 0.1, 0.0),
    ("own", 99.9, 0.0, 0.0),
    ("batch-1", 99.6, 0.3, 0.4),
    ("batch-2", 99.1, 0.8, 0.6),
    ("batch-3", 98.7, 0.6, 0.6),
    ("batch-4", 99.8, 0.6, 0.2),
    ("batch-5", 99.4, 0.3, 0.6),
];

fn reading(text: &str) -> Value {
    reading_json(&read(text, Catalogue::standard()))
}

#[test]
fn labelled_texts_are_read_at_least_as_well_as_before() {
    let told = env::var_os("SCOREBOARD").is_some();
    let mut missed = Vec::new();
    for (folder, least, most_extra, most_silent) in FLOORS {
        let mut tally = Tally::default();
        let texts = labelled::folder(&labelled::corpus().join(folder)).unwrap();
        assert!(texts.len() > 30, "{folder} holds its texts");
        for text in texts {
            let wrong = score(&reading(&text.text), &text.want, &mut tally);
            if told && !wrong.is_empty() {
                println!("{}: {}", text.name, wrong.join("; "));
            }
        }
        let share = |count: usize| 100.0 * count as f64 / tally.facts as f64;
        let (facts, extra, silent) = (share(tally.held), share(tally.extra), share(tally.silent));
        println!(
            "{folder:<9} {}/{} facts = {facts:.1} %; extra {extra:.1} %; silent {silent:.1} %; {}/{} perfect; {:.1} raised a text",
            tally.held,
            tally.facts,
            tally.perfect,
            tally.texts,
            tally.raised as f64 / tally.texts as f64
        );
        if facts < least || extra > most_extra || silent > most_silent {
            missed.push(folder);
        }
    }
    assert_eq!(missed, Vec::<&str>::new());
}

#[test]
fn the_scoreboard_tells_a_wrong_fact_from_a_right_one() {
    let want = json!({"unit": "kg", "parts": [{"kind": "conditioning", "format": "for_time", "rounds": 5, "movements": ["deadlift"],
        "totals": {"deadlift": {"amount": 50, "unit": "reps"}}, "loads": {"deadlift": {"first": 60, "unit": "kg"}}}]});
    let mut right = Tally::default();
    assert_eq!(
        score(&reading("5 rounds for time\n10 deadlifts @ 60 kg"), &want, &mut right),
        Vec::<String>::new()
    );
    assert_eq!((right.held, right.facts, right.perfect), (7, 7, 1));
    let mut other = Tally::default();
    let wrong = score(&reading("4 rounds for time\n10 deadlifts @ 60 kg\n12 burpees"), &want, &mut other);
    assert_eq!((wrong.len(), other.extra, other.silent), (2, 1, 2), "{wrong:?}");
}
