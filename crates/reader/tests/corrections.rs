//! What a coach puts right: it holds, it moves with its lines, and nothing depends on the order in which it was done.

use lantern_reader::corrections::{Correction, CorrectionKind, MOST_CORRECTIONS, with};
use lantern_reader::{Reading, read, read_corrected, reading_json};
use lantern_session::movement::Catalogue;
use lantern_session::{Format, PartKind, totals};
use serde_json::json;

const DAY: &str = "Back squat 4x5 @ 70%\nrest 2:00\n10 burpees\n20 sit-ups\n\nAMRAP 9\n7 pull-ups\n150 m run\nno rings today";

fn corrected(text: &str, corrections: &[Correction]) -> Reading {
    read_corrected(text, Catalogue::standard(), corrections)
}

fn on(kind: CorrectionKind, line: usize, words: &str, value: &str) -> Correction {
    Correction::of_line(kind, line, words, value)
}

/// Kind and movements of each part.
fn parts(reading: &Reading) -> Vec<(PartKind, Vec<String>)> {
    let movements = |part: &lantern_session::Part| {
        totals(&part.tree).iter().map(|total| total.movement.to_string()).collect::<Vec<_>>()
    };
    reading.session.parts.iter().map(|part| (part.kind, movements(part))).collect()
}

#[test]
fn a_part_begins_where_the_coach_says_and_goes_on_where_they_say() {
    let split = corrected(DAY, &[on(CorrectionKind::Split, 3, "10 burpees", "")]);
    assert_eq!(parts(&split)[0].1, ["back-squat"]);
    assert_eq!(parts(&split)[1].1, ["burpee", "sit-up"]);
    let joined = corrected(
        "For time\n30 burpees\n\nFor time\n20 sit-ups",
        &[on(CorrectionKind::Join, 4, "For time", "")],
    );
    assert_eq!(joined.session.parts.len(), 1);
}

#[test]
fn a_line_becomes_a_note_a_substitute_or_a_heading() {
    let noted = corrected(DAY, &[on(CorrectionKind::Note, 7, "7 pull-ups", "")]);
    assert!(parts(&noted).iter().all(|(_, movements)| !movements.contains(&"pull-up".to_owned())));
    assert!(noted.session.notes.iter().any(|note| note.line == 7));
    let instead = corrected(DAY, &[on(CorrectionKind::Substitute, 8, "150 m run", "")]);
    let part = instead.session.parts.last().unwrap();
    assert_eq!((part.alternatives.len(), totals(&part.tree).len()), (1, 1));
    let heading =
        corrected("The grind\n3 x 8 dips", &[on(CorrectionKind::Heading, 1, "The grind", "accessory")]);
    assert_eq!(heading.session.parts[0].kind, PartKind::Accessory);
}

#[test]
fn how_a_part_is_run_is_said_in_plain_words() {
    let run =
        Correction { last_line: 8, ..on(CorrectionKind::Part, 6, "AMRAP 9", "4 rounds for time, cap 11:00") };
    let part = corrected(DAY, &[run]).session.parts.pop().unwrap();
    assert_eq!(
        (part.format, part.rounds, part.cap_s, part.duration_s),
        (Some(Format::ForTime), Some(4), Some(660), None)
    );
    let kind = Correction { last_line: 8, ..on(CorrectionKind::Part, 6, "AMRAP 9", "home") };
    assert_eq!(corrected(DAY, &[kind]).session.parts.pop().unwrap().kind, PartKind::Home);
}

#[test]
fn words_are_read_as_others_and_a_track_is_kept_apart() {
    let word = on(CorrectionKind::Word, 2, "grumbles", "burpees");
    let reading = corrected("For time\n30 grumbles", &[word]);
    assert_eq!(parts(&reading)[0].1, ["burpee"]);
    assert!(reading.problems.is_empty(), "{:?}", reading.problems);
    let track = Correction { last_line: 5, ..on(CorrectionKind::Track, 4, "Competitors", "Competitors") };
    let reading = corrected("For time\n30 burpees\n\nCompetitors\n40 bar muscle-ups", &[track]);
    assert_eq!(parts(&reading).len(), 1);
    let track = &reading.tracks[0];
    assert_eq!((track.name.as_str(), track.lines, track.parts.len()), ("Competitors", (4, 5), 1));
}

#[test]
fn corrections_move_with_their_lines_and_are_dropped_with_a_word_when_those_are_gone() {
    let note = on(CorrectionKind::Note, 7, "7 pull-ups", "");
    let moved = corrected(&format!("See you at six\n\n{DAY}"), std::slice::from_ref(&note));
    assert_eq!(moved.corrections[0].line, 9);
    assert!(parts(&moved).iter().all(|(_, movements)| !movements.contains(&"pull-up".to_owned())));
    let gone = corrected(&DAY.replace("7 pull-ups", "9 chin-ups"), &[note]);
    assert!(gone.corrections.is_empty());
    assert!(
        gone.problems.iter().any(|problem| problem.message.contains("was dropped")),
        "{:?}",
        gone.problems
    );
}

#[test]
fn the_order_and_the_number_of_times_change_nothing() {
    let some = [
        on(CorrectionKind::Split, 3, "10 burpees", ""),
        on(CorrectionKind::Note, 9, "no rings today", ""),
        on(CorrectionKind::Join, 6, "AMRAP 9", ""),
    ];
    let once = corrected(DAY, &some);
    let mut turned: Vec<Correction> = some.to_vec();
    turned.reverse();
    turned.extend(some.to_vec());
    assert_eq!(corrected(DAY, &turned), once);
    // What the reading names gives the reading again.
    assert_eq!(corrected(DAY, &once.corrections), once);
    assert_eq!(corrected(DAY, &[]), read(DAY, Catalogue::standard()));
}

#[test]
fn every_answer_to_a_question_answers_it() {
    let texts = [
        "30 min AMRAP, 3 rounds for time\n10 burpees\n200 m run",
        "Warm-up\n500 m row\n20 band pull-aparts\nrow 5x5, heavier each set",
    ];
    let mut asked = 0;
    for text in texts {
        for question in &read(text, Catalogue::standard()).questions {
            assert!(question.options.len() >= 2 && question.chosen < question.options.len());
            for option in &question.options {
                asked += 1;
                let again = corrected(text, &option.corrections);
                assert!(
                    !again.questions.iter().any(|other| other.message == question.message),
                    "{text}: {option:?}"
                );
                assert!(again.is_complete(), "{text}: {:?}", again.problems);
            }
        }
    }
    assert!(asked >= 2, "only {asked} answers were tried");
    let open = &read(texts[0], Catalogue::standard()).questions[0];
    let json = reading_json(&corrected(texts[0], &open.options[1].corrections));
    assert_eq!((&json["parts"][0]["format"], &json["parts"][0]["rounds"]), (&json!("for_time"), &json!(3)));
}

#[test]
fn what_is_said_of_a_line_again_takes_the_place_of_what_was_said_before() {
    let before = vec![
        on(CorrectionKind::Note, 3, "10 burpees", ""),
        on(CorrectionKind::Split, 3, "10 burpees", ""),
        on(CorrectionKind::Word, 3, "burpees", "sit-ups"),
    ];
    let after = with(before, vec![on(CorrectionKind::Substitute, 3, "10 burpees", "")]);
    let kinds: Vec<CorrectionKind> = after.iter().map(|correction| correction.kind).collect();
    // A seam and a word are other questions.
    assert_eq!(kinds, [CorrectionKind::Split, CorrectionKind::Word, CorrectionKind::Substitute]);
}

#[test]
fn more_corrections_than_are_read_are_said_to_be_left_out() {
    let many: Vec<Correction> = (0..=MOST_CORRECTIONS)
        .map(|n| on(CorrectionKind::Word, 3, "burpees", &format!("sit-ups {n}")))
        .collect();
    let reading = corrected(DAY, &many);
    assert!(reading.problems.iter().any(|problem| problem.message.contains("are left out")));
}

#[test]
fn every_day_of_a_week_is_read_as_it_was_put_right() {
    let text = "\nMONDAY\nGears: 300 m row\nBack squat 5x5\n\nTUESDAY\n8 min AMRAP\n9 burpees\n9 sit-ups";
    let plain = corrected(text, &[]);
    let movements = |reading: &Reading, day: usize| -> usize {
        reading.days[day].parts.iter().map(|part| lantern_session::works(&part.tree).len()).sum()
    };
    assert_eq!((plain.days.len(), movements(&plain, 1)), (2, 2));
    let made = [
        on(CorrectionKind::Note, 9, "9 sit-ups", ""),
        on(CorrectionKind::Heading, 3, "Gears: 300 m row", "warmup"),
    ];
    let reading = corrected(text, &made);
    assert_eq!(movements(&reading, 1), 1, "a correction of another day holds there");
    assert_eq!(reading.days[0].parts, reading.session.parts, "the first day is what is read");
    // Put on its date, each day takes its corrections along, at the places that its lines have then.
    for (day, line) in [(0, 2), (1, 4)] {
        let (alone, own) = reading.days[day].by_itself(text, &reading.corrections);
        assert!(alone.starts_with(["MONDAY", "TUESDAY"][day]), "{alone}");
        assert_eq!(own.iter().map(|made| made.line).collect::<Vec<_>>(), [line]);
        let again = corrected(&alone, &own);
        assert_eq!(again.corrections.len(), 1, "it stands");
        let kinds = |parts: &[lantern_session::Part]| parts.iter().map(|part| part.kind).collect::<Vec<_>>();
        assert_eq!(kinds(&again.session.parts), kinds(&reading.days[day].parts));
    }
}
