//! Days: parts, letters, class plans, talk, and what is asked about.

use lantern_reader::{read, reading_json};
use lantern_session::movement::Catalogue;
use serde_json::{Value, json};

use super::{part, parts, total};

#[test]
fn what_is_taken_back_is_not_kept() {
    let part = part("so we do three rounds, no four rounds, of ten cal row and fifteen sit ups");
    assert_eq!(part["rounds"], json!(4));
    assert_eq!(total(&part, "sit-up"), json!(60));
}

#[test]
fn a_greeting_names_no_movement_and_tests_nothing() {
    let parts = parts("Good morning folks, next week we test the 2k row.\n\nEMOM 9\n7 burpees");
    assert_eq!(parts.len(), 1);
    assert_eq!(parts[0]["movements"], json!(["burpee"]));
}

#[test]
fn a_line_of_the_class_plan_is_a_part_of_its_own() {
    let parts = parts(
        "0-9 general warm up by the coach\n9-25 front squat 5x4 @ 78%, every 3 min\n25-37 AMRAP 12: 200 m run, 9 toes to bar",
    );
    let kinds: Vec<Value> = parts.iter().map(|part| part["kind"].clone()).collect();
    assert_eq!(kinds, [json!("strength"), json!("conditioning")]);
    assert_eq!(parts[0]["interval_s"], json!(180));
}

#[test]
fn a_lettered_section_ends_with_its_letter() {
    let parts = parts("a. Accessory: 3 x 9 hip thrusts\nb. 4 rounds for time: 7 burpees, 150 m run");
    assert_eq!((&parts[0]["kind"], &parts[1]["kind"]), (&json!("accessory"), &json!("conditioning")));
}

#[test]
fn a_named_piece_behind_the_next_letter_begins_a_part_and_its_schemes_go_side_by_side() {
    let parts = parts(
        "A) Gymnastics 9 min\naccumulate 35 pistols\nB) \"Stairs\"\nfor time, 14 min cap\n1-3-5-7-9 deadlift 90/60\n9-7-5-3-1 HSPU\nC) cool down walk 4 min",
    );
    let kinds: Vec<Value> = parts.iter().map(|part| part["kind"].clone()).collect();
    assert_eq!(kinds, [json!("skill"), json!("conditioning"), json!("mobility")]);
    assert_eq!((total(&parts[1], "deadlift"), total(&parts[1], "handstand-push-up")), (json!(25), json!(25)));
}

#[test]
fn letters_in_lines_of_their_own_are_the_bouts_announced_above() {
    let parts = parts(
        "four short amraps, 5 minutes each, 90 s between\n\nA\n9 wall balls\n9 ring rows\n\nB\n120 m run\n8 push-ups\n\nC\n8 cal ski\n8 sit-ups\n\nD\n6 burpees\n6 box jumps",
    );
    assert_eq!(parts.len(), 4, "{parts:#?}");
    for part in &parts[1..] {
        assert_eq!((&part["format"], &part["duration_s"]), (&json!("amrap"), &json!(300)));
    }
}

#[test]
fn sections_of_an_outline_on_a_day_of_skills_are_practice() {
    let parts = parts(
        "Wednesday skills\n1. Rope - 12 min\n  - rope climb 4x1\n  - pull-to-stand 3x4\n2. Wall walks - 9 min\n  - wall walk 5x2\n  - handstand hold 3 x 25s",
    );
    let read: Vec<_> = parts.iter().map(|part| (&part["kind"], &part["duration_s"])).collect();
    assert_eq!(read, [(&json!("skill"), &json!(720)), (&json!("skill"), &json!(540))]);
}

#[test]
fn one_tool_for_the_day_is_what_everybody_holds() {
    let parts =
        parts("One bell throughout, 20/14 kg\n\n5 rounds for time\n12 goblet squats\n9 kb swings\n200 m run");
    let load = json!({"first": 20, "second": 14, "unit": "kg", "implements": 1});
    for movement in ["goblet-squat", "kettlebell-swing"] {
        assert_eq!(parts[0]["loads"][movement], load);
    }
}

#[test]
fn a_week_is_read_as_its_first_day_with_the_others_at_hand() {
    let text = "Week 3\n\nMONDAY\nFront squat 5x3 @ 80%\n\nTUESDAY\n11 min AMRAP\n9 burpees\n9 box jumps\n\nWEDNESDAY\nrest\n";
    let reading = reading_json(&read(text, Catalogue::standard()));
    assert_eq!(reading["parts"].as_array().unwrap().len(), 1);
    let days: Vec<_> = reading["days"]
        .as_array()
        .unwrap()
        .iter()
        .map(|day| (&day["name"], &day["lines"], day["parts"].as_array().unwrap().len()))
        .collect();
    assert_eq!(
        days,
        [
            (&json!("MONDAY"), &json!([1, 5]), 1),
            (&json!("TUESDAY"), &json!([6, 10]), 1),
            (&json!("WEDNESDAY"), &json!([11, 13]), 0)
        ]
    );
    assert_eq!(reading["days"][1]["parts"][0]["lines"], json!([7, 9]));
}

#[test]
fn a_version_instead_of_the_above_is_a_track_of_its_own() {
    let text = "Press 5x5 @ 70%\n\n9 min AMRAP\n9 thrusters 30/20\n9 burpees\n\nLUNCH GROUP - no racks, instead of the above:\nDB press 5 x 9\n9 min AMRAP\n9 goblet squats\n9 burpees";
    let reading = reading_json(&read(text, Catalogue::standard()));
    let kinds: Vec<_> =
        reading["parts"].as_array().unwrap().iter().map(|part| part["kind"].clone()).collect();
    assert_eq!(kinds, [json!("strength"), json!("conditioning")]);
    assert_eq!(
        (&reading["tracks"][0]["name"], &reading["tracks"][0]["lines"]),
        (&json!("LUNCH GROUP"), &json!([7, 11]))
    );
}

#[test]
fn stretches_of_the_class_plan_may_stand_behind_bullets() {
    let parts = parts(
        "- 0-10 warm-up: 400 m ski\n- 10-25 deadlift 5x5\n- 25-30 set up\n- 30-45 15 min AMRAP: 9 burpees, 9 lunges",
    );
    let kinds: Vec<_> = parts.iter().map(|part| (&part["kind"], &part["duration_s"])).collect();
    assert_eq!(
        kinds,
        [
            // The minutes of the plan frame a block with a heading of its own.
            (&json!("warmup"), &Value::Null),
            (&json!("strength"), &json!(900)),
            (&json!("conditioning"), &json!(900))
        ]
    );
}

#[test]
fn a_line_that_begins_like_work_is_not_passed_over_in_silence() {
    let text = "For time\n30 burpees\n3 x the thing we did last week with 12 dumbbell rows\n10 lunges";
    let reading = reading_json(&read(text, Catalogue::standard()));
    let problems = reading["problems"].as_array().unwrap();
    assert_eq!((problems.len(), &problems[0]["line"]), (1, &json!(3)));
    assert!(problems[0]["message"].as_str().unwrap().contains("begins like work"), "{problems:?}");
}

#[test]
fn a_scheme_without_work_is_asked_about() {
    let text = "Ladder one, for time: 2-4-6-8 power cleans 50/35\n\nLadder two, for time: 8-6-4-2 of same";
    let reading = reading_json(&read(text, Catalogue::standard()));
    let told = reading["problems"].as_array().unwrap().iter().map(|problem| &problem["line"]);
    assert!(told.into_iter().any(|line| *line == json!(3)), "{reading:#}");
}

#[test]
fn a_greeting_is_no_lift_and_the_evenness_of_rounds_no_target() {
    let part =
        part("Good morning! Today:\n5 rounds\nrow 400 m\nrest 1:30\nAll rounds within 5 s of one another");
    assert_eq!((&part["movements"], &part["target"]), (&json!(["row"]), &Value::Null));
}

#[test]
fn what_is_spoken_of_beside_work_that_is_counted_is_kept_as_words() {
    let reading = read(
        "5 rounds for time\n9 pull-ups\n200 m run\nrun the block clockwise please",
        Catalogue::standard(),
    );
    assert_eq!(reading.session.notes.iter().map(|note| note.line).collect::<Vec<_>>(), [4]);
    assert_eq!(reading.lines[3].role, lantern_reader::LineRole::Note);
}

#[test]
fn what_nobody_would_programme_is_asked_about() {
    for text in [
        "For time\n900 burpees",
        "For time, cap 5 min\n10 rounds\n400 m run\n20 pull-ups",
        "AMRAP 5\n100 thrusters\n2000 m row",
    ] {
        let problems = read(text, Catalogue::standard()).problems;
        assert!(
            problems.iter().any(|problem| problem.message.contains("read as it is meant")),
            "{text}: {problems:?}"
        );
    }
}
