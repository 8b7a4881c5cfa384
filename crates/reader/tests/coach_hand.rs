//! A gym that writes in a hand of its own: what its coach puts right in the first texts is asked about no more in the next. The long form is
//! `cargo run --release -p proof -- hand`.

use lantern_reader::corrections::CorrectionKind;
use lantern_reader::habits::Habit;
use lantern_reader::{read_in_hand, reading_json};
use lantern_session::movement::Catalogue;
use reader_train::hand::{Hand, spoiled, trial};
use reader_train::labelled::{self, Labelled, corpus, folder};

/// All but the practice texts, which are another gym's.
fn texts() -> Vec<Labelled> {
    let mut texts = labelled::all().unwrap();
    texts.retain(|text| !text.name.starts_with("practice"));
    texts
}

#[test]
fn a_hand_is_learned_within_a_few_texts() {
    let texts = texts();
    for seed in [1, 2] {
        let hand = Hand::drawn(seed);
        assert_eq!(hand.texts(&texts).len(), 10);
        let trial = trial(&hand, &texts);
        let (strange, known) = (trial.raised_by_a_stranger, trial.raised);
        assert!(strange >= 4, "the hand is strange: {strange}");
        assert!(known * 2 <= strange, "{known} of {strange} are still asked");
        assert!(trial.known.held > trial.strange.held, "what was learned is read: {trial:?}");
    }
}

#[test]
fn the_hand_of_one_gym_spoils_no_text_of_another() {
    let trial = trial(&Hand::drawn(1), &texts());
    assert!(trial.habits.len() >= 8, "{:?}", trial.habits);
    let others = folder(&corpus().join("practice")).unwrap();
    assert_eq!(spoiled(&trial.habits, &others), Vec::<String>::new());
}

#[test]
fn what_a_habit_made_is_told() {
    let habit = Habit {
        kind: CorrectionKind::Heading,
        words: "anvilry".to_owned(),
        value: "strength".to_owned(),
        origin: String::new(),
    };
    let text = "ANVILRY\nBack squat 5 x 3\n\nBLAZE\n9 burpees";
    let told = reading_json(&read_in_hand(text, Catalogue::standard(), &[], std::slice::from_ref(&habit)));
    assert_eq!(told["parts"][0]["kind"], "strength");
    let said = told["assumptions"].as_array().unwrap();
    assert!(
        said.iter().any(|told| told["message"] == "`anvilry` heads strength, as this gym writes"),
        "{said:?}"
    );
}
