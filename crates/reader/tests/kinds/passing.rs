//! What is said in passing is no work: paces, heights, one or the other, how many at a time.

use serde_json::json;

use super::{part, parts, plain, total};

#[test]
fn a_pace_that_is_held_is_no_distance_and_a_run_in_sets_is_a_piece() {
    let run = part("Run 3 x 1 mile. Rest 3 min. Hold your 5k pace.");
    assert_eq!((&run["kind"], &run["rest_s"]), (&json!("conditioning"), &json!(180)));
    assert_eq!(total(&run, "run"), json!(4827));
}

#[test]
fn what_is_carried_counts_beside_the_height_of_the_box() {
    let piece = part("AMRAP 12\n8 DB box step overs 22.5/15 (50 cm)\n10 push-ups");
    assert_eq!(piece["loads"]["dumbbell-box-step-over"]["first"], json!(22.5));
    let stations = part("3 rounds, 1 min per station, 1 min rest\nwall balls 9/6\nbox jumps 50\nrow (cals)");
    let told = plain("3 rounds, 1 min per station, 1 min rest\nwall balls 9/6\nbox jumps 50\nrow (cals)");
    assert!(told.contains("box jump, 50 cm"), "{told}");
    assert!(stations["totals"].get("box-jump").is_none(), "{stations}");
}

#[test]
fn double_or_single_unders_are_one_or_the_other() {
    let piece = part("AMRAP 16\n1 rope climb\n32 DU / 64 SU");
    assert_eq!(piece["movements"], json!(["rope-climb", "double-under"]));
    assert_eq!(piece["alternatives"][0]["replaces"], json!("double-under"));
}

#[test]
fn a_name_in_short_is_work_of_its_own_in_a_list_with_strokes() {
    let piece = part("For time: 40 cal row / 40 wallballs / 40 KBS / 40 cal bike");
    assert_eq!(piece["movements"], json!(["row", "wall-ball", "kettlebell-swing", "bike"]));
    let twice = part("10 min AMRAP\n14 liegestuetze / 14 push-ups\n10 burpees");
    assert_eq!(twice["movements"], json!(["push-up", "burpee"]));
}

#[test]
fn sets_above_a_short_amrap_are_so_many_of_them() {
    let piece = part("6 sets\nAMRAP 2:\n6 burpee pull-ups\n10 goblet squats\nmax cal ski\nRest 2:00");
    assert_eq!((&piece["rounds"], &piece["work_s"], &piece["rest_s"]), (&json!(6), &json!(120), &json!(120)));
    let two = parts("AMRAP 1: 6 min\n10 burpees\n10 swings\n\nAMRAP 2: 6 min\n10 lunges\n10 push-ups");
    assert_eq!(two.len(), 2);
}

#[test]
fn the_end_of_a_climb_is_told_behind_its_sets_too() {
    let told = plain("Deadlifts 8-8-6-6-4, add weight. Finish around 80-85% for the 4.");
    assert!(told.contains("8-8-6-6-4\nbuilding to 82.5%"), "{told}");
}

#[test]
fn a_limit_for_each_ten_is_no_time_to_beat() {
    let piece = part("30 clean & jerks for time @ 60/42.5 kg\nNo more than 2 min per 10\ncap 8");
    assert_eq!((&piece["target"], &piece["cap_s"]), (&json!(null), &json!(480)));
}

#[test]
fn a_share_of_another_lift_needs_no_sign_and_what_is_collected_stands_alone() {
    let parts = parts(
        "Front rack lunge 4 x 8 (4 per leg) 60% FS\nPull-ups: accumulate 40 strict in as few sets as possible",
    );
    assert_eq!(
        (&parts[0]["percent"], &parts[0]["percent_of"]),
        (&json!([60, 60]), &json!({"lift": "front-squat"}))
    );
    assert_eq!(total(&parts[1], "pull-up"), json!(40));
}

#[test]
fn what_a_word_leads_to_below_a_lift_is_no_substitute_and_no_bar() {
    let parts = parts(
        "Max effort: 1 rep max deadlift\nThen: 3 x 3 @ 85% of new max\nThen: 100 banded hamstring curls each leg",
    );
    assert_eq!((&parts[0]["movements"], parts.len()), (&json!(["deadlift"]), 2));
    assert_eq!(parts[1]["movements"], json!(["banded-leg-curl"]));
}

#[test]
fn how_long_the_coach_leads_is_a_length_and_full_rounds_take_turns() {
    let led = part("WARM-UP\nCoach led 8-10 min");
    assert_eq!((&led["duration_s"], &led["target"]), (&json!(600), &json!(null)));
    let told = plain("In pairs: 6 rounds each alternating full rounds\n12 KB swings 32/24\n200m run");
    assert!(told.contains("alternating rounds"), "{told}");
}
