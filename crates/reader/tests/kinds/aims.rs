//! What a piece should take, wherever it is told.

use serde_json::{Value, json};

use super::{part, parts, plain};

fn target(part: &Value) -> (Value, Value, Value) {
    let of = |key: &str| part["target"][key].clone();
    (of("low_s"), of("high_s"), of("rounds_low"))
}

#[test]
fn an_aim_above_the_day_or_behind_a_lift_is_of_the_piece() {
    for text in [
        "Steady, then all of it. Expect 11-14 minutes.\n\nA. Push press\n4 x 4 @ 72%\n\nB. 4 rounds for time\n400 m ski\n14 push presses 35/25",
        "A. Push press\n4 x 4 @ 72%, and in the piece expect 11-14 minutes\n\nB. 4 rounds for time\n400 m ski\n14 push presses 35/25",
        "A. Push press\n4 x 4 @ 72%\n\nB. 4 rounds for time\n400 m ski\n14 push presses 35/25\n\nCool-down\n2 min child's pose\n\nExpect 11-14 minutes in the piece.",
    ] {
        let parts = parts(text);
        let of = |n: usize| target(&parts[n]);
        assert_eq!(of(0), (Value::Null, Value::Null, Value::Null), "{text}");
        assert_eq!(of(1), (json!(660), json!(840), Value::Null), "{text}");
    }
    let open = parts(
        "Goal for today: 5 rounds or more.\n\nBench press 5x5 @ 70%\n\n10 min AMRAP\n8 swings\n12 sit-ups",
    );
    assert_eq!(target(&open[1]).2, json!(5.0));
}

#[test]
fn aims_of_several_pieces_in_one_sentence_are_each_of_their_own() {
    let day = "Piece 1: 9 min AMRAP\n7 ring rows\n14 lunges\n\n4 min rest\n\nPiece 2: for time\n60 wall balls\n40 sit-ups\ncap 8\n\n";
    for said in [
        "We want 4+ rounds in piece 1, and under 6 min in piece 2.",
        "At least 4 rounds in the first piece, sub 6 in the second piece.",
    ] {
        let parts = parts(&format!("{day}{said}"));
        assert_eq!(target(&parts[0]).2, json!(4.0), "{said}");
        assert_eq!(target(&parts[1]).1, json!(360), "{said}");
    }
    let parts = parts(
        "In the second part land between 9:30 and 12:00.\n\nFront squat 4x4 @ 75%\n\n3 rounds for time\n500 m row\n20 burpees",
    );
    assert_eq!(target(&parts[1]), (json!(570), json!(720), Value::Null));
}

#[test]
fn an_aim_of_each_is_of_all_pieces_that_are_run_alike() {
    let parts = parts(
        "Three AMRAPs tonight, 5 minutes each, 90 s rest between them\n\nA\n6 pull-ups\n12 lunges\n\nB\n150 m run\n8 push-ups\n\nC\n9 swings\n9 sit-ups\n\nshoot for 2-4 rounds of each",
    );
    let told: Vec<Value> = parts.iter().map(|part| part["target"]["rounds_high"].clone()).collect();
    assert_eq!(told, [json!(4.0), json!(4.0), json!(4.0)]);
    assert!(parts.iter().all(|part| part["format"] == json!("amrap") && part["duration_s"] == json!(300)));
}

#[test]
fn both_ends_of_an_aim_count_and_what_is_to_beat_is_one() {
    let between =
        part("4 rounds for time\n200 m run\n10 burpees\n\nEverybody should be in between 7:00 and 9:30.");
    assert_eq!(target(&between), (json!(420), json!(570), Value::Null));
    let beat = part("10 min AMRAP\n8 swings\n8 burpees\n\nScore to beat: 6 rounds.");
    assert_eq!(target(&beat).2, json!(6.0));
}

#[test]
fn rest_that_is_to_be_left_is_no_time_to_beat() {
    for said in [
        "Finish every minute with 15 seconds to spare.",
        "You want at least 15 s off before the next one starts.",
    ] {
        let told = plain(&format!("EMOM 10\n6 burpees\n8 swings\n\n{said}"));
        assert!(told.contains("at least 0:15 to spare") && !told.contains("goal"), "{said}: {told}");
    }
}

#[test]
fn half_of_the_work_is_for_some_and_half_in_a_name_is_a_name() {
    let piece = part("12 min AMRAP\n6 pull-ups\n12 air squats\n\nNewer people do half the pull-ups.");
    assert_eq!(piece["per_round"].as_object().unwrap().len(), 2);
    let stretch = plain("Cool-down: half pigeon 60 s each side");
    assert!(stretch.contains("60 s half pigeon each side"), "{stretch}");
}

#[test]
fn minutes_beside_a_lift_are_how_long_there_is_for_it() {
    for text in [
        "Deadlift (15 min)\nWork up to a tough double today.\nThen 3 x 3 @ 85% of it",
        "Deadlift - 15 min to build to a tough 2, then 3 x 3 at 85% of that.",
        "Deadlift - 15 minutes to climb to a tough double, then 3 back-off sets at 85% of it for 3.",
    ] {
        let told = plain(text);
        assert!(
            told.contains("deadlift: build to a 2RM in 15:00\nthen 3x3\n@ 85% of today's top set"),
            "{text}: {told}"
        );
    }
}

#[test]
fn metres_are_aimed_at_as_metres_and_so_few_of_them_are_minutes() {
    let ends = |goal: &str, keys: [&str; 2]| {
        let target =
            &part(&format!("Every 4:00 x 5\n12 burpees\nmax metres row\nscore: metres\n{goal}"))["target"];
        keys.map(|key| target[key].as_u64())
    };
    let reps = |goal: &str| ends(goal, ["reps_low", "reps_high"]);
    assert_eq!(reps("goal: 1200-1700 m"), [Some(1200), Some(1700)]);
    assert_eq!(reps("Goal: 1300 metres or more"), [Some(1300), None]);
    assert_eq!(reps("aim for 2 km"), [Some(2000), None]);
    assert_eq!(ends("goal: 16-18 m", ["low_s", "high_s"]), [Some(960), Some(1080)]);
}
