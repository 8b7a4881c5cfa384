//! A gym that writes in a hand of its own: what its coach puts right in the first texts is asked about no more in the next.

use lantern_reader::corrections::{Correction, CorrectionKind};
use lantern_reader::habits::{Habit, learn};
use lantern_reader::{read_in_hand, reading_json};
use lantern_session::movement::Catalogue;
use reader_train::labelled::{Labelled, corpus, folder};
use reader_train::score::{Tally, score};
use serde_json::Value;

/// Words for headings that no lexicon knows, and what they head.
const HEADINGS: [(&str, &str, &str); 6] = [
    ("warm-up", "Smoulder", "warmup"),
    ("warm up", "Smoulder", "warmup"),
    ("strength", "Anvilry", "strength"),
    ("metcon", "Blazing", "conditioning"),
    ("conditioning", "Blazing", "conditioning"),
    ("accessory", "Polishing", "accessory"),
];
/// Words for movements that no catalogue knows, and what they stand for.
const WORDS: [(&str, &str); 5] = [
    ("burpees", "floppers"),
    ("push-ups", "grounders"),
    ("kettlebell swings", "pendulars"),
    ("kb swings", "pendulars"),
    ("box jumps", "hopovers"),
];
/// What the coach says about the day, in front of a word that nobody knows.
const TALK: &str = "Mumble: 12 on the list today, 3 of them new, bring 2 towels";

/// A text in that hand, with the corrections that its coach would make in it.
fn rewritten(text: &str) -> (String, Vec<Correction>) {
    let mut lines = Vec::new();
    let mut corrections = Vec::new();
    let mut right = |kind, line: usize, words: &str, value: &str| {
        corrections.push(Correction::of_line(kind, line, words, value));
    };
    for line in text.split('\n') {
        let mut line = line.to_owned();
        let plain = line.trim_matches(|c: char| !c.is_alphanumeric()).to_lowercase();
        let number = lines.len() + 1;
        if let Some((_, new, kind)) = HEADINGS.iter().find(|(old, ..)| plain == *old) {
            line = (*new).to_owned();
            right(CorrectionKind::Heading, number, &line, kind);
        }
        for (old, new) in WORDS {
            let lower = line.to_lowercase();
            if lower.len() == line.len()
                && let Some(at) = lower.find(old)
            {
                line.replace_range(at..at + old.len(), new);
                right(CorrectionKind::Word, number, new, old);
            }
        }
        lines.push(line);
    }
    lines.push(String::new());
    right(CorrectionKind::Note, lines.len() + 1, TALK, "");
    lines.push(TALK.to_owned());
    (lines.join("\n"), corrections)
}

fn reading(text: &str, habits: &[Habit]) -> Value {
    reading_json(&read_in_hand(text, Catalogue::standard(), &[], habits))
}

fn raised(reading: &Value) -> usize {
    ["questions", "problems"].iter().filter_map(|key| reading[*key].as_array()).map(Vec::len).sum()
}

/// Ten texts in which that hand shows.
fn texts() -> Vec<Labelled> {
    let all = ["practice", "own"].iter().flat_map(|name| folder(&corpus().join(name)).unwrap());
    let shows = |text: &Labelled| {
        let corrections = rewritten(&text.text).1;
        corrections.iter().filter(|c| c.kind == CorrectionKind::Heading).count() > 0 && corrections.len() > 2
    };
    all.filter(shows).take(10).collect()
}

#[test]
fn a_hand_is_learned_within_a_few_texts() {
    let texts = texts();
    assert_eq!(texts.len(), 10);
    let mut habits = Vec::new();
    let (mut strange, mut known) = (Tally::default(), Tally::default());
    let (mut asked_of_a_stranger, mut asked) = (0, 0);
    for (n, text) in texts.iter().enumerate() {
        let (written, corrections) = rewritten(&text.text);
        let (without, with) = (reading(&written, &[]), reading(&written, &habits));
        if n >= 4 {
            score(&without, &text.want, &mut strange);
            score(&with, &text.want, &mut known);
            asked_of_a_stranger += raised(&without);
            asked += raised(&with);
        }
        println!(
            "text {:>2}: {} raised without habits, {} with {}",
            n + 1,
            raised(&without),
            raised(&with),
            habits.len()
        );
        learn(&mut habits, &corrections, &[], &written, "some day");
    }
    println!("from the fifth on: {asked_of_a_stranger} raised without, {asked} with");
    println!("facts {}/{} without, {}/{} with", strange.held, strange.facts, known.held, known.facts);
    assert!(asked_of_a_stranger >= 4, "the hand is strange: {asked_of_a_stranger}");
    assert!(asked * 2 <= asked_of_a_stranger, "{asked} of {asked_of_a_stranger} are still asked");
    assert!(known.held > strange.held, "what was learned is read: {} and {}", known.held, strange.held);
}

#[test]
fn the_hand_of_one_gym_spoils_no_text_of_another() {
    let mut habits = Vec::new();
    for text in texts() {
        let (written, corrections) = rewritten(&text.text);
        learn(&mut habits, &corrections, &[], &written, "some day");
    }
    assert!(habits.len() >= 6, "{habits:?}");
    for text in folder(&corpus().join("practice")).unwrap() {
        let (mut plain, mut in_hand) = (Tally::default(), Tally::default());
        score(&reading(&text.text, &[]), &text.want, &mut plain);
        score(&reading(&text.text, &habits), &text.want, &mut in_hand);
        assert_eq!((in_hand.held, in_hand.extra), (plain.held, plain.extra), "{}", text.name);
    }
}

#[test]
fn what_a_habit_made_is_told() {
    let habit = Habit {
        kind: CorrectionKind::Heading,
        words: "anvilry".to_owned(),
        value: "strength".to_owned(),
        origin: String::new(),
    };
    let told = reading("ANVILRY\nBack squat 5 x 3\n\nBLAZE\n9 burpees", std::slice::from_ref(&habit));
    assert_eq!(told["parts"][0]["kind"], "strength");
    let said = told["assumptions"].as_array().unwrap();
    assert!(
        said.iter().any(|told| told["message"] == "`anvilry` heads strength, as this gym writes"),
        "{said:?}"
    );
}
