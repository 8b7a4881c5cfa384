//! Where one part ends and the next begins.

use serde_json::{Value, json};

use super::{part, parts, total};

fn formats(text: &str) -> Vec<Value> {
    parts(text).iter().map(|part| json!([part["kind"], part["format"], part["duration_s"]])).collect()
}

#[test]
fn what_is_cashed_out_with_below_a_lift_is_none_of_its_sets() {
    for text in [
        "Back squat 5x5 @ 75%\nCash out: 50 sit-ups",
        "Back squat 5x5 @ 75%\n\nCash out\n50 sit-ups",
        "Back squat 5-5-5-5-5, RPE 8\nCash out: 50 sit-ups",
    ] {
        let [lift, out] = &parts(text)[..] else { panic!("two parts: {text}") };
        assert_eq!(
            (total(lift, "back-squat"), &lift["movements"]),
            (json!(25), &json!(["back-squat"])),
            "{text}"
        );
        assert_eq!((&out["format"], total(out, "sit-up")), (&json!("for_time"), json!(50)), "{text}");
    }
    // Below a piece it is the end of it.
    let piece = part("5 rounds for time\n10 burpees\n200 m run\nCash out: 50 sit-ups");
    assert_eq!((total(&piece, "burpee"), total(&piece, "sit-up")), (json!(50), json!(50)));
}

#[test]
fn where_the_clock_stands_when_the_next_begins_is_no_length() {
    let first = "AMRAP 15\n10 burpees\n10 cal row\n\n";
    for text in [
        "At the 20:00 mark: max calories bike in 3 min",
        "When the clock hits 20:00, max calories bike in 3 min",
    ] {
        let found = formats(&format!("{first}{text}"));
        assert_eq!(found[1], json!(["conditioning", "amrap", 180]), "{text}");
    }
    let found = formats(&format!("{first}Then 400 m team run holding one med ball"));
    assert_eq!(found[1], json!(["conditioning", "for_time", null]));
}

#[test]
fn hours_and_minutes_in_front_of_the_parts_of_a_class_are_no_seconds() {
    let found = formats(
        "0:00-0:12 General: 2 min row, 10 squats, 5 inch worms\n0:12-0:32 Back squat 5x5 @ 75%\n0:35-0:50 12 min AMRAP: 6 burpees, 12 cal row",
    );
    let kinds: Vec<&Value> = found.iter().map(|part| &part[0]).collect();
    assert_eq!(kinds, [&json!("warmup"), &json!("strength"), &json!("conditioning")]);
    assert_eq!((&found[1][2], &found[2][2]), (&json!(1200), &json!(720)));
}

#[test]
fn numbers_in_front_of_lists_and_a_letter_behind_a_pair_begin_parts() {
    let found = formats(
        "1) Press 3 x 5 @ 60%\n2) Superset x3\na) single arm row 10/side\nb) push-ups 8\n3) AMRAP 10: 5 burpees, 10 squats",
    );
    assert_eq!(found.len(), 3, "{found:?}");
    assert_eq!(found[2], json!(["conditioning", "amrap", 600]));
}

#[test]
fn a_scheme_told_again_below_its_work_heads_more_of_it() {
    let text = "For time\n30-20-10\nCal row\nPush jerk 52/35\nthen\n30-20-10\nPistols\nSit-ups";
    let part = part(text);
    assert_eq!((&part["tree"]["node"], part["tree"]["of"].as_array().unwrap().len()), (&json!("seq"), 2));
    let reading = lantern_reader::reading_json(&lantern_reader::read(
        text,
        lantern_session::movement::Catalogue::standard(),
    ));
    assert!(reading["questions"].as_array().unwrap().len() < 2, "one seam is asked about once");
}

#[test]
fn numbers_alone_below_lists_of_work_are_its_next_rung() {
    let part = part(
        "For time, 14 min cap\n3 wall walks, 6 power snatches 40/30, 9 cal bike\n6 wall walks, 9 power snatches, 12 cal bike\n9 / 12 / 15",
    );
    let counted = (total(&part, "wall-walk"), total(&part, "power-snatch"), total(&part, "bike"));
    assert_eq!(counted, (json!(18), json!(27), json!(36)));
}

#[test]
fn minutes_behind_what_is_practised_are_of_all_of_it() {
    let skill = part("Learn: air squat, push-up, ring row (15 min)");
    assert_eq!((&skill["kind"], &skill["duration_s"]), (&json!("skill"), &json!(900)));
    let found = formats("Rowing technique 8 min, coach led\nThen: 8 rounds of 1 min row, 1 min rest");
    assert_eq!((&found[0][0], &found[0][2], found.len()), (&json!("skill"), &json!(480), 2));
}

#[test]
fn who_is_new_does_something_else_and_settings_are_no_work() {
    for text in [
        "5 km row for time.\nDamper 4-6.\nNewer people row 2 km.",
        "5 km row for time, damper at 5\nThose who are new row 2 km only.",
    ] {
        let part = part(text);
        assert_eq!((total(&part, "row"), &part["loads"]), (json!(5000), &json!({})), "{text}");
    }
    let build = part("Snatch 1RM - 20 min to work up; max 3 attempts over 95%");
    assert_eq!((&build["duration_s"], &build["percent"]), (&json!(1200), &json!(null)));
}

#[test]
fn a_lift_named_in_full_behind_its_short_name_has_the_sets() {
    let lift = part("Squat: 5 sets of 3 front squats @ 80%");
    assert_eq!((&lift["movements"], &lift["format"]), (&json!(["front-squat"]), &json!("sets")));
    assert_eq!(total(&lift, "front-squat"), json!(15));
}

#[test]
fn a_lift_that_rises_if_it_goes_well_is_told_of_and_stays() {
    let press = part("Press: 5 sets of 3, start at 70%, add 2.5 kg if the set before was clean");
    assert_eq!((&press["movements"], &press["percent"]), (&json!(["strict-press"]), &json!([70, 70])));
    let share =
        part("Romanian deadlift 4 x 8\nStart around 50% of your deadlift and go up if the tempo holds.");
    assert_eq!(share["percent"], json!([50, 50]));
}

#[test]
fn the_womens_number_stands_in_brackets_behind_the_class_s() {
    let part = part(
        "AMRAP 7\n12 cal row (10 for the women)\n15 (12 for women) push-ups\n7 thrusters at 40 kg (30 for the women)\n10 cal bike (8)",
    );
    assert_eq!(part["loads"]["thruster"]["second"], json!(30));
    let doses =
        super::plain("AMRAP 7\n12 cal row (10 for the women)\n15 (12 for women) push-ups\n10 cal bike (8)");
    for dose in ["12/10 cal row", "15/12 push-up", "10/8 cal bike"] {
        assert!(doses.contains(dose), "{doses}");
    }
}
