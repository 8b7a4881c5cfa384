//! What stands beside the work and was once read into it, or not at all.

use serde_json::json;

use super::{part, parts, plain, total};

#[test]
fn repetitions_that_go_on_from_line_to_line_are_no_class_plan() {
    let text = "3 sets:\n4-6 chin-ups\n6-8 ring dips\n8-10 ring rows";
    let part = part(text);
    assert_eq!(part["sets"].as_u64().or(part["rounds"].as_u64()), Some(3), "{part:#}");
    assert_eq!(part["movements"], json!(["chin-up", "ring-dip", "ring-row"]));
    // From the start of the clock they are one.
    let plan = parts("0-5: 400 m run\n5-15: back squat 5x5\n15-30: AMRAP 12: 10 burpees, 10 sit-ups");
    assert_eq!(plan.len(), 3, "{plan:#?}");
}

#[test]
fn what_all_of_a_team_do_at_once_is_not_shared() {
    let text =
        plain("In pairs, for time\n1500 m row\n40 synchro burpees\n80 wall balls 9/6\n400 m run (both)");
    for line in
        ["Teams of 2, split it any way", "40 burpee, synchro", "80 wall ball, 9/6 kg", "400 m run, synchro"]
    {
        assert!(text.lines().any(|other| other == line), "{line}: {text}");
    }
    // Where all of it is, the team is.
    let text = plain("In pairs, AMRAP 12\n12 synchro burpees\n15 synchronised air squats");
    assert!(text.contains("Teams of 2, synchro\n") && text.contains("\n12 burpee\n"), "{text}");
}

#[test]
fn what_is_done_after_a_failure_is_a_part_of_its_own() {
    let parts = parts(
        "Death by thrusters 40/30\n2 reps in minute one, 4 in minute two, until you miss\nOnce you are out, rest until everybody is done, then\n800 m run",
    );
    assert_eq!(parts.len(), 2, "{parts:#?}");
    assert_eq!(parts[0]["tree"]["of"][0]["step"], 2, "{:#}", parts[0]);
    assert_eq!(total(&parts[1], "run"), 800);
}

#[test]
fn then_in_a_line_of_its_own_leads_on_behind_dashes_too() {
    let parts = parts(
        "3 rounds\nmax push-ups\nmax ring rows\nrest 2 min between rounds\n- then -\nSled push 5x20 m, rest 90 s",
    );
    assert_eq!(
        (parts.len(), &parts[0]["rounds"], &parts[1]["rounds"]),
        (2, &json!(3), &json!(5)),
        "{parts:#?}"
    );
}

#[test]
fn a_rest_in_an_open_round_is_rested() {
    let text = plain("AMRAP 30\n300 m run\n15 sit-ups\n90 s rest after each full round");
    assert!(text.contains("rest 1:30 between rounds"), "{text}");
    // At the end of the day it leads nowhere else.
    assert!(plain("AMRAP 18\n300 m run\n15 sit-ups\n1 min rest").contains("rest 1:00 between rounds"));
    // Above another piece it leads to it.
    let parts = parts("AMRAP 6\n8 burpees\n8 swings\n\nrest 3 min\n\nAMRAP 6\n8 squats\n8 sit-ups");
    assert_eq!((parts.len(), &parts[0]["then_rest_s"]), (2, &json!(180)), "{parts:#?}");
}

#[test]
fn bare_metres_are_of_what_the_heading_names() {
    for (heading, movement) in
        [("Rowing", "row"), ("Ski intervals:", "ski"), ("Running day", "run"), ("Intervals", "run")]
    {
        let parts = parts(&format!("{heading}\n5 x 400 m, 2 min rest"));
        assert_eq!(parts[0]["movements"], json!([movement]), "{heading}");
    }
    // Nobody walks on fast.
    let walked = part("5 rounds\n200 m run\n100 m walk\n200 m fast\nrest 2 min between rounds");
    assert_eq!(total(&walked, "run"), 2000, "{walked:#}");
}

#[test]
fn a_rest_in_a_line_of_its_own_parts_rounds_that_count_their_own() {
    let parts = parts("Row\n4 x 400 m, 75 s rest\n4 min off\n3 x 200 m, 60 s rest");
    assert_eq!((parts.len(), &parts[0]["then_rest_s"]), (2, &json!(240)), "{parts:#?}");
}

#[test]
fn shares_may_stand_below_their_repetitions_or_without_a_sign() {
    assert!(plain("Front squat\n6-4-2-6-4-2\n65-75-85-70-80-90").contains("@ 65-75-85-70-80-90%"));
    assert!(
        plain("Bench press\n- 5 @ 60\n- 4 @ 70\n- 3+ @ 80")
            .contains("bench press 5-4-3\n@ 60-70-80%\nlast set open")
    );
    assert!(
        plain("Front squat, percentages of your best clean:\n3 @ 75\n2 @ 85").contains("@ 75-85% of clean")
    );
    assert!(
        plain("Push press\nevery 2 min x 6\nsets 1-2 @ 60, 3-4 @ 65, 5-6 @ 70")
            .contains("@ 60-60-65-65-70-70%")
    );
    assert!(plain("Snatch 4x2, start at 65 and finish around 80%").contains("@ 65-80%"));
    // It is a guess where nothing says so, and is said to be one.
    let guessed = |text: &str| {
        let read = lantern_reader::read(text, lantern_session::movement::Catalogue::standard());
        read.assumptions.iter().any(|told| told.message.contains("percent of the maximum"))
    };
    assert!(guessed("Bench press\n5 @ 60\n4 @ 70") && !guessed("Bench press\n5 @ 60\n4 @ 70%"));
    // In a piece it is what everybody lifts.
    assert_eq!(part("3 rounds for time\n10 deadlifts @ 70\n10 burpees")["percent"], json!(null));
}

#[test]
fn sets_are_counted_wherever_their_number_stands() {
    assert!(
        plain("Push jerk\n2 @ 70% x 2 sets\n1 @ 80% x 3 sets")
            .contains("push jerk 2-2-1-1-1\n@ 70-70-80-80-80%")
    );
    assert!(plain("Strength (20 min)\nPress 5x4 @ 70%, every 3 min").contains("every 3:00 x 5"));
    assert!(plain("Clean\n1 rep every 40 s for 12 reps @ 80%").contains("every 0:40 x 12"));
    assert!(plain("5x8 tempo goblet squats").contains("goblet squat 5x8"));
}

#[test]
fn repetitions_that_differ_in_a_pair_stay_with_their_lift() {
    let text = plain("Bench: 8 @ 60%, 6 @ 70%, 4 @ 80%\nBetween sets: 10 ring rows");
    assert!(text.contains("A1) bench press 8-6-4 @ 60-70-80%\nA2) 10 ring row"), "{text}");
    let text = plain("A1. Chin-ups 6-6-4-4, rest 60 s\nA2. Bench press 4 x 8");
    assert!(text.contains("A1) chin-up 6-6-4-4") && text.contains("A2) 8 bench press"), "{text}");
}

#[test]
fn a_lift_comes_again_by_what_stands_above() {
    let again = parts(
        "A) Build to a heavy complex in 12 min: 1 power clean + 1 hang clean + 1 jerk\nB) E2MOM 8: 1 complex @ 80% of A",
    );
    assert_eq!(again.len(), 2, "{again:#?}");
    assert_eq!(again[1]["movements"], again[0]["movements"]);
    assert!(plain("Bench press 3x3 @ 85%\n\nAssistance: 5x10 @ 50%").contains("bench press 5x10\n@ 50%"));
    assert!(
        plain("Back squat\nfind today's 5RM\ndrop 15% and do 2 more sets of 5")
            .contains("then 2x5\n@ 85% of today's top set")
    );
    assert!(plain("Clean (from the hang) 5x2 @ 70%").contains("hang clean 5x2"));
}

#[test]
fn any_machine_is_one_of_them() {
    let part = part("4 rounds for time\n400 m on any machine\n12 burpees");
    assert_eq!(total(&part, "row"), 1600, "{part:#}");
    assert_eq!(part["alternatives"].as_array().map(Vec::len), Some(2), "{part:#}");
}

#[test]
fn what_stands_in_passing_is_no_aim_of_the_next_piece() {
    for talk in ["Find today's 5RM in about 4-5 sets", "- no more than 3 misses"] {
        let parts = parts(&format!(
            "Back squat\nbuild to a heavy 5\n{talk}\n\n5 rounds for time\n10 burpees\n10 swings"
        ));
        assert_eq!(parts.last().unwrap()["target"], json!(null), "{talk}");
    }
}

#[test]
fn lines_by_the_number_of_their_rounds_take_turns() {
    let text = plain("E2MOM for 16\nRound 1,3,5,7: 12 cal row\nRound 2,4,6,8: 10 burpees");
    assert!(text.contains("1) 12 cal row\n2) 10 burpee"), "{text}");
    let text = plain("3 rounds of\n1 min wall balls\n1 min swings 24/16\n1 min burpees\n1 min rest");
    assert!(text.contains("3 rounds, 1:00 at each station") && text.contains("score: total reps"), "{text}");
}

#[test]
fn what_is_held_in_each_hand_is_no_number_of_sets() {
    let part = part("8-6-4 for time\nDB thrusters 2x20/12\nSit-ups\ncap 8");
    assert_eq!(
        (&part["loads"]["dumbbell-thruster"]["first"], &part["loads"]["dumbbell-thruster"]["second"]),
        (&json!(20), &json!(12))
    );
    assert_eq!(total(&part, "dumbbell-thruster"), 18);
}

#[test]
fn minutes_are_minutes_where_they_add_up() {
    let easy = part("Zone 2, 40 min\n20 bike\n20 run");
    assert_eq!((total(&easy, "bike"), total(&easy, "run")), (json!(1200), json!(1200)), "{easy:#}");
    // Where they do not, they are what the machine counts.
    assert_eq!(part("5 rounds for time\n12 bike\n10 burpees")["totals"]["bike"]["unit"], "calories");
}

#[test]
fn shares_of_what_is_built_above_are_of_today() {
    let text = plain("Power clean 3RM, 15 min\n\nAMRAP 8\n5 power cleans @ 60% of 3RM\n8 burpees");
    assert!(text.contains("@ 60% of today's top set"), "{text}");
    assert!(plain("Deadlift 3x3 @ 85% of 3RM").contains("@ 85% of 3RM"));
    assert!(
        plain("Back squat E3MOM x 4\n1) 5 @ 60\n2) 4 @ 70\n3) 3 @ 80\n4) AMRAP @ 65")
            .contains("back squat 5-4-3-max\n@ 60-70-80-65%\nlast set open")
    );
}

#[test]
fn a_clock_may_be_a_table_of_words() {
    let part = part("Work: 40 s  Rest: 20 s  Rounds: 5\nMountain climbers\nAir squats");
    assert_eq!(
        (&part["work_s"], &part["rest_s"], &part["rounds"]),
        (&json!(40), &json!(20), &json!(5)),
        "{part:#}"
    );
    // The same rest after each of some minutes is of the clock.
    let text =
        plain("For max reps:\n2 min of burpees\n1 min rest\n2 min of cal row\n1 min rest\n2 min of sit-ups");
    assert!(text.contains("2:00 on, 1:00 off"), "{text}");
}

#[test]
fn one_sentence_may_hold_a_whole_day() {
    let day = parts(
        "We warm up for 9 min, then 5 x 2 power clean @ 65% EMOM, and to finish 12 min AMRAP of 8 burpees and 11 toes to bar.",
    );
    assert_eq!(day.len(), 3, "{day:#?}");
    assert_eq!((&day[1]["interval_s"], &day[1]["sets"]), (&json!(60), &json!(5)), "{:#}", day[1]);
    assert_eq!((&day[2]["format"], &day[2]["duration_s"]), (&json!("amrap"), &json!(720)), "{:#}", day[2]);
}

#[test]
fn into_how_many_lists_a_list_is_divided_is_not_asked() {
    let list = "Back squat 5x3 @ 80%\n\nAccessory\n3 x 10 bent over rows\n3 x 12 hollow rocks\n\n3 x 15 banded pull-aparts";
    let reading = lantern_reader::reading_json(&lantern_reader::read(
        list,
        lantern_session::movement::Catalogue::standard(),
    ));
    assert_eq!(reading["questions"], serde_json::json!([]), "{reading:#}");
}
