//! Stations of so many minutes, machines to choose from, lengths that are filled.

use serde_json::json;

use super::{part, parts, plain, total};

#[test]
fn stations_of_so_many_minutes_keep_the_time_between_them() {
    for head in [
        "3 stations, 4 min each, 45 s to move",
        "Rotate through 3 stations, 4 minutes per station, 45 s to change over",
        "Stations - 4 min each, 45 s rotation",
        "4 min per station, 45 s transition",
        "3 stations of 4 min, 45 s rest between stations",
        "3 stations, 4 min each\n45 s transition",
    ] {
        let part = part(&format!("{head}\nA) max cal bike\nB) max wall balls 9/6\nC) max box step-ups"));
        let told = (&part["format"], &part["work_s"], &part["rest_s"]);
        assert_eq!(told, (&json!("intervals"), &json!(240), &json!(45)), "{head}");
        assert_eq!(part["movements"].as_array().unwrap().len(), 3, "{head}");
    }
    // The rest after a round is none between stations.
    let text =
        "3 rounds, 1 min at each station, 1 min rest after each round\n1 wall balls\n2 burpees\n3 row cals";
    assert!(plain(text).contains("3 rounds, 1:00 at each station"), "{}", plain(text));
    let rounds = part(
        "3 rounds, 1 min at each station, 1 min rest after each round\n1 wall balls\n2 burpees\n3 row cals",
    );
    assert_eq!((&rounds["rounds"], &rounds["work_s"]), (&json!(3), &json!(60)));
}

#[test]
fn one_of_two_machines_behind_a_stroke_is_a_choice_and_a_line_of_strokes_alone_is_a_list() {
    for text in [
        "5 rounds for time\n500 m row / 400 m run\n10 thrusters 42.5/30",
        "Every 5:00 x 5 rounds:\n500 m row / 400 m run (alternate)\n10 thrusters 42.5/30",
        "Every 5:00 x 5\n500 m row (odd) / 400 m run (even)\n10 thrusters 42.5/30",
    ] {
        let part = part(text);
        assert_eq!(part["movements"], json!(["row", "thruster"]), "{text}");
        assert_eq!((total(&part, "row"), total(&part, "thruster")), (json!(2500), json!(50)), "{text}");
        assert!(plain(text).contains("or 400 m run"), "{text}");
    }
    let alone = part("AMRAP 12\n10 cal row / 10 cal bike (alternate rounds)\n10 push-ups");
    assert_eq!((&alone["movements"], &alone["team_size"]), (&json!(["row", "push-up"]), &json!(1)));
    // One takes three times as long, or nothing stands beside them.
    assert_eq!(
        part("For time\n500 m row / 1600 m run\n50 burpees")["movements"].as_array().unwrap().len(),
        3
    );
    assert_eq!(
        part("For time: 1000 m row / 800 m run / 1000 m ski")["movements"].as_array().unwrap().len(),
        3
    );
}

#[test]
fn a_choice_of_machines_is_one_of_them() {
    let steady = part("40 min zone 2, choice of row/bike/run");
    assert_eq!((&steady["format"], &steady["movements"]), (&json!("quality"), &json!(["row"])));
    let counted = part("AMRAP 12\n12 cal, your choice of row/bike\n10 push-ups");
    assert_eq!(counted["per_round"]["row"]["amount"], json!(12));
    let reps = part("3 rounds for time\n9 reps of a choice of ring rows or pull-ups\n10 squats");
    assert_eq!((total(&reps, "ring-row"), &reps["movements"][1]), (json!(27), &json!("air-squat")));
}

#[test]
fn an_easy_machine_and_steady_work_are_held_and_not_scored() {
    let [_, easy] = &parts("Back squat 5x5 @ 75%\n\n10 min easy bike")[..] else { panic!("two parts") };
    assert_eq!((&easy["format"], &easy["score"]), (&json!("quality"), &json!("none")));
    let [_, last] = &parts("A1) Bench press 4x6\nA2) Row 4x8\nB) 10 min easy bike")[..] else {
        panic!("two parts")
    };
    assert_eq!(last["movements"], json!(["bike"]));
    for head in
        ["25 minutes, steady effort", "Keep moving for 25 minutes", "25 min at a conversational pace:"]
    {
        let part = part(&format!("{head}\n500 m row\n15 KB swings 24/16\n15 sit-ups"));
        let told = (&part["format"], &part["duration_s"], &part["score"]);
        assert_eq!(told, (&json!("amrap"), &json!(1500), &json!("none")), "{head}");
    }
}

#[test]
fn rounds_within_a_length_are_done_once_and_what_they_leave_is_filled() {
    for text in [
        "In 20 min:\n5 rounds of\n5 wall walks\n10 sandbag cleans 45/30\nthen max distance row until the clock hits 20",
        "20 min AMRAP\n5 rounds of\n5 wall walks\n10 sandbag cleans 45/30\nthen max distance row in the remaining time",
        "In 20 min: 5 rounds of 5 wall walks and 10 sandbag cleans 45/30, then max distance row",
    ] {
        let part = part(text);
        let tree = &part["tree"]["of"]["of"];
        assert_eq!((&tree[0]["node"], &tree[0]["times"]), (&json!("rounds"), &json!(5)), "{text}");
        assert_eq!(tree[1]["movement"], json!("row"), "{text}");
        assert!(plain(text).contains("then max metres row"), "{text}");
    }
    // Five of these do not go into it once: so long there is for each.
    let each = part("5 rounds\nIn 4 min:\n400 m run\n15 push-ups\nthen max cal row in the remaining time");
    assert_eq!(each["tree"]["of"]["node"], json!("rounds"));
}

#[test]
fn the_most_a_piece_may_take_is_a_cap_of_all_or_of_each_round() {
    for head in [
        "5 rounds, 20 min max",
        "5 rounds for time, 20 minutes at most",
        "5 rounds for time - 20 min or less",
    ] {
        let part = part(&format!("{head}\n10 air squats\n8 ring rows\n100 m run"));
        assert_eq!((&part["format"], &part["cap_s"]), (&json!("for_time"), &json!(1200)), "{head}");
    }
    let easy = part("3 rounds for quality, 12 min max\n10 air squats\n8 ring rows");
    assert_eq!((&easy["format"], &easy["cap_s"]), (&json!("quality"), &json!(720)));
    let each =
        part("2 rounds, 5 min rest after the first:\n800 m run\n30 thrusters 30/20\n10 min cap per round");
    assert_eq!((&each["format"], &each["cap_s"]), (&json!("intervals"), &json!(null)));
    assert!(
        plain("2 rounds, 5 min rest after the first:\n800 m run\n30 thrusters 30/20\n10 min cap per round")
            .contains("each round in under 10:00")
    );
}

#[test]
fn what_each_of_a_team_does_is_as_many_times_as_much_and_a_run_is_run_together() {
    let rows = part("In pairs, for time\n1 km row each\n100 burpees, share as you like");
    assert_eq!((total(&rows, "row"), total(&rows, "burpee")), (json!(2000), json!(100)));
    let runs = part("Teams of 3, cap 30\n400 m run each\n60 cal bike\n60 wall balls");
    assert_eq!(total(&runs, "run"), json!(400));
    assert!(
        plain("Teams of 3, cap 30\n400 m run each\n60 cal bike\n60 wall balls")
            .contains("400 m run, synchro")
    );
    // Alone it says nothing more.
    assert_eq!(total(&part("3 rounds for time\n10 burpees each\n10 pull-ups"), "burpee"), json!(30));
}

#[test]
fn numbers_in_front_of_what_has_so_long_each_are_places() {
    let text = "8 rounds of :20/:10 at each movement, 1 minute between\n1 Ski\n2 Jumping lunges\n3 Ring rows";
    let part = part(text);
    assert_eq!(part["movements"], json!(["ski", "jumping-lunge", "ring-row"]));
    assert_eq!(part["totals"], json!({}), "{part:#}");
}
