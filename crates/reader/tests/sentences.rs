//! Where sentences end, what heads a part, which role a sentence has, and where the day divides.

use lantern_reader::unit::{Role, Unit, units};
use lantern_reader::weights::Weights;
use lantern_reader::{read, reading_json};
use lantern_session::PartKind;
use lantern_session::movement::Catalogue;

fn sentences(text: &str) -> Vec<Unit> {
    units(text, Catalogue::standard(), Weights::standard())
}

fn texts(text: &str) -> Vec<String> {
    sentences(text).into_iter().map(|unit| unit.text).collect()
}

/// First and last line of each part.
fn seams(text: &str) -> Vec<(u64, u64)> {
    let json = reading_json(&read(text, Catalogue::standard()));
    let place = |part: &serde_json::Value, n: usize| part["lines"][n].as_u64().unwrap();
    json["parts"].as_array().unwrap().iter().map(|part| (place(part, 0), place(part, 1))).collect()
}

#[test]
fn a_sentence_ends_at_its_stop_and_not_at_an_abbreviation() {
    assert_eq!(texts("9 burpees. Keep your hips low.").len(), 2);
    assert_eq!(texts("Rest 2 min. between sets").len(), 1);
    assert_eq!(texts("7 rounds of 3 front squats, 11 sit-ups").len(), 1);
    assert_eq!(texts("600 m run, then 3 rounds of 14 lunges").len(), 2);
    assert_eq!(texts("2.5 km run at 7.30 pace").len(), 1);
}

#[test]
fn a_heading_gives_the_kind_of_what_follows() {
    for (line, kind) in [
        ("Warm-up: 6 min row", PartKind::Warmup),
        ("STRENGTH", PartKind::Strength),
        ("B) Conditioning - AMRAP 9", PartKind::Conditioning),
        ("Accessory work", PartKind::Accessory),
        ("Cool down", PartKind::Mobility),
        ("Skill (10 min): handstands", PartKind::Skill),
    ] {
        let found = sentences(line);
        assert_eq!(found[0].heading.as_ref().map(|(kind, _)| *kind), Some(kind), "{line}");
    }
    for line in ["Strong arms on the push press", "9 strict pull-ups", "warm hands first"] {
        assert!(sentences(line)[0].heading.is_none(), "{line}");
    }
}

#[test]
fn work_is_told_from_talk_and_from_substitutes() {
    let piece = "AMRAP 9\n7 thrusters 40/30\n9 ring rows\n";
    let role = |line: &str| {
        let found = sentences(&format!("{piece}{line}"));
        found.last().unwrap().readings[0].role
    };
    assert_eq!(role("11 kettlebell swings"), Role::Work);
    assert_eq!(role("Breathe behind the bar before you pick it up."), Role::Note);
    assert_eq!(role("Remember what we said about elbows on Monday"), Role::Note);
    assert_eq!(role("No rings? 9 bent over rows"), Role::Substitute);
    assert_eq!(role("Scale the ring rows to banded rows"), Role::Substitute);
}

#[test]
fn the_loads_of_a_level_change_nothing_that_is_written_above_them() {
    let json = reading_json(&read(
        "AMRAP 9\n7 thrusters 40/30\n9 ring rows\nBeginner: 25/15 kg",
        Catalogue::standard(),
    ));
    let part = &json["parts"][0];
    assert_eq!(part["loads"]["thruster"]["first"], 40);
    assert_eq!(part["alternatives"][0]["text"], "Beginner: 25/15 kg");
}

#[test]
fn the_day_divides_at_headings_letters_clocks_and_rests() {
    assert_eq!(seams("Strength\nDeadlift 5x3 @ 80%\n\nFor time\n60 burpees"), [(1, 2), (4, 5)]);
    assert_eq!(seams("A. Push press 4x5\nB. AMRAP 8\n9 lunges\n7 push-ups"), [(1, 1), (2, 4)]);
    assert_eq!(seams("AMRAP 6\n8 burpees\nrest 3 min\nAMRAP 6\n12 lunges"), [(1, 3), (4, 5)]);
    assert_eq!(seams("Front squat 6x2 @ 85%\nEMOM 9\n7 box jumps"), [(1, 1), (2, 3)]);
}

#[test]
fn one_piece_stays_whole() {
    for text in [
        "For time\n500 m row\n30 wall balls\n20 pull-ups\n\ncap 14",
        "4 rounds\n10 lunges\nrest 1 min\nscore is your slowest round",
        "EMOM 12\n1. 9 burpees\n2. 13 sit-ups\n3. rest",
        "AMRAP 11\n6 cleans 50/35\n12 push-ups\nStay smooth on the cleans.\nBeginner: 30/20",
        "A1. Bench press 4x6\nA2. Ring row 4x9",
    ] {
        assert_eq!(seams(text).len(), 1, "{text}");
    }
}
