//! What stands once for several lines, or several times in one: machines above distances, counts told by their ends, numbered lists in a line, work after each
//! thing, sets told by their numbers.

use serde_json::json;

use super::{part, parts, plain, total};

#[test]
fn a_machine_in_a_line_of_its_own_is_what_the_distances_below_are_of() {
    for (head, movement) in [("Run", "run"), ("Rowing", "row"), ("Ski intervals", "ski")] {
        let text = format!("{head}\n4 x 400 m, 90 s rest\n3 x 200 m, 60 s rest");
        let part = part(&text);
        assert_eq!(part["movements"], json!([movement]), "{text}");
        assert_eq!(total(&part, movement), json!(2200), "{text}");
        assert!(plain(&text).contains("4 rounds\n400 m"), "{}", plain(&text));
    }
    // "w/" is with, and what stands behind a distance is its rest; `w/u` is the warm-up.
    let rests = plain("Row\n3 x 800m w/ 2:15 recovery at 2k pace + 4 sec\n2 x 400m w/ 1:45 at 2k pace");
    assert!(
        rests.contains("rest 2:15 between rounds") && rests.contains("rest 1:45 between rounds"),
        "{rests}"
    );
    assert_eq!(part("w/u\n400 m jog\n10 air squats")["kind"], "warmup");
}

#[test]
fn a_count_told_by_its_ends_is_counted_through() {
    let down = part("10-1 pull-ups\n1-10 burpees\nfor time");
    assert_eq!((total(&down, "pull-up"), total(&down, "burpee")), (json!(55), json!(55)));
    assert_eq!(
        total(&part("For time: 12 down to 1\nkettlebell swings 24/16"), "kettlebell-swing"),
        json!(78)
    );
    // A range is none.
    assert_eq!(total(&part("3 rounds for time\n1-3 rope climbs\n20 push-ups"), "push-up"), json!(60));
}

#[test]
fn a_numbered_list_goes_on_in_its_line() {
    for text in [
        "40s on/20s off, 4 times round:\n1. ski 2. wall balls 3. bike 4. plank",
        "40s on/20s off, 4 times round:\n1) ski 2) wall balls 3) bike 4) plank",
    ] {
        let part = part(text);
        assert_eq!(part["movements"], json!(["ski", "wall-ball", "bike", "plank"]), "{text}");
    }
    // The end of a sentence is none.
    assert_eq!(parts("Back squat 5 x 3. Rest 2 min.\n\nAMRAP 10. 5 burpees. 10 sit-ups.").len(), 2);
}

#[test]
fn what_comes_after_each_thing_of_a_list_comes_behind_each() {
    for text in [
        "For time\n50 wall balls\n40 sit-ups\n30 lunges\n200 m run after each movement",
        "For time, 200 m run after each of them:\n50 wall balls\n40 sit-ups\n30 lunges",
    ] {
        assert_eq!(total(&part(text), "run"), json!(600), "{text}");
    }
    // After each round it is another thing.
    let rounds = part("3 rounds for time\n20 wall balls\n10 sit-ups\n200 m run after each round");
    assert_eq!(total(&rounds, "run"), json!(600));
}

#[test]
fn sets_told_by_their_numbers_have_their_shares_each() {
    let text = "Power snatch, 8 sets, one every 90 seconds\n1-2 @60%\n3-5 @65-70%\n6-8 @72-77%";
    assert_eq!(part(text)["percent"], json!([60, 77]));
    assert!(plain(text).contains("60-60-65-65-65-72-72-72%"), "{}", plain(text));
    for text in [
        "5 back squats every 2:30 x 5 (start at 65, finish around 80)",
        "Back squat every 2:30 for 5 sets of 5, start 65% and add each round, top out around 80-82",
    ] {
        assert_eq!(part(text)["percent"], json!([65, 80]), "{text}");
    }
}

#[test]
fn a_pair_of_bells_is_no_team() {
    let text = "Every 2:30 x 5 sets\n5 back squats @ 70%\n+ 8 box step ups holding a pair of DBs";
    assert_eq!((&part(text)["team_size"], &part(text)["kind"]), (&json!(1), &json!("strength")));
    assert_eq!(part("In pairs, for time: 80 burpees")["team_size"], 2);
    assert_eq!(part("Team chipper (3s)\n90 cal row\n60 burpees")["team_size"], 3);
}

#[test]
fn a_share_in_rungs_that_are_raced_is_a_load() {
    for text in [
        "21-15-9 of\nPower cleans @ 60% of the single above\nLateral burpees\n8 min cap",
        "Metcon\n\"21-15-9\" of\nPower cleans @ 60% of 1RM\nLateral burpees",
    ] {
        let part = part(text);
        assert_eq!((&part["kind"], &part["format"]), (&json!("conditioning"), &json!("for_time")), "{text}");
        assert_eq!(total(&part, "power-clean"), json!(45), "{text}");
    }
    // Sets of two lifts are sets.
    let sets = part("Bench press 5-5-5-5-5, climbing\nBent over row 5x8 after each bench set");
    assert_eq!((&sets["kind"], &sets["sets"]), (&json!("strength"), &json!(5)));
    assert_eq!((total(&sets, "bench-press"), total(&sets, "bent-over-row")), (json!(25), json!(40)));
}

#[test]
fn what_follows_a_lift_on_its_clock_is_done_each_time() {
    let text = "Every 3:00 for 5 sets\nBench press 5 reps @ 75%\nthen 8 ring rows";
    assert_eq!(parts(text).len(), 1);
    assert_eq!(total(&part(text), "ring-row"), json!(40));
    // Below sets without a clock it is work of its own.
    assert_eq!(parts("Bench press 5x5 @ 75%\n\nthen 100 ring rows for time").len(), 2);
}

#[test]
fn two_waves_are_two_pieces_and_the_first_of_two_options_is_the_class_s() {
    let waves = parts(
        "Wave 1, 9:00 to finish:\n  750 m row\n  30 burpees\n(Rest till 12:00)\nWave 2, from 12:00, cap at 21:00:\n  750 m row\n  45 wall balls",
    );
    assert_eq!(waves.len(), 2);
    assert_eq!((&waves[0]["cap_s"], &waves[0]["movements"]), (&json!(540), &json!(["row", "burpee"])));
    let options = parts(
        "Option 1 (have rope climbs): 5 rds - 2 rope climbs, 12 KBS 32/24, 200m run\nOption 2 (no climbs): 5 rds - 8 strict pull-ups, 12 KBS 24/16, 200m run\n15 min cap either way",
    );
    assert_eq!(options.len(), 1);
    assert_eq!(
        (&options[0]["movements"], &options[0]["cap_s"]),
        (&json!(["rope-climb", "kettlebell-swing", "run"]), &json!(900))
    );
    let turns = "for 24 minutes, alternate between A and B every 4 min\nA) 12 cal bike then max push press @ 50/35 in the remaining time\nB) 250 m run then max burpees in the remaining time";
    assert!(
        plain(turns)
            .contains("station 1: 12 cal bike + max push press, 50/35 kg\nstation 2: 250 m run + max burpee"),
        "{}",
        plain(turns)
    );
}

#[test]
fn minutes_of_work_are_as_many_rounds_as_go_in_and_minutes_of_practice_are_none() {
    let amrap = part("7 min of 7 thrusters (95/65lb), 7 chest to bar");
    assert_eq!((&amrap["format"], &amrap["duration_s"]), (&json!("amrap"), &json!(420)));
    assert_ne!(part("10 min of handstand practice")["format"], "amrap");
    assert_ne!(part("Warm-up\n5 min of easy rowing\n10 air squats")["format"], "amrap");
}

#[test]
fn how_it_is_counted_is_no_work() {
    let text = "You'll do five rounds, and each round is three minutes long with a minute off in between: run 300 metres, then as many burpees as you can get before the three minutes are up. Count the burpees, your score is the lowest of your five rounds.";
    let part = part(text);
    assert_eq!(
        (&part["format"], &part["work_s"], &part["rest_s"]),
        (&json!("intervals"), &json!(180), &json!(60))
    );
    assert_eq!(plain(text).matches("burpee").count(), 1, "{}", plain(text));
}

#[test]
fn lists_of_lifts_that_take_turns_are_their_sets() {
    let alike = plain("A1 push press 5-5-5-5 climbing\nA2 strict pull-ups 5-5-5-5\nrest 90s");
    assert!(
        alike.contains("Superset, 4 sets\nA1) 5 push press\nA2) 5 strict pull-up\nheavier each set"),
        "{alike}"
    );
    for text in [
        "A1. push press 5-4-3-2-1\nA2. strict pull-ups 5-5-5-5-5\nrest 90s",
        "A1. push press 5-4-3-2-1\nA2. strict pull-ups 5 reps\nrest 90s",
    ] {
        let told = plain(text);
        let pair = "Superset, 5 sets\nA1) push press 5-4-3-2-1\nA2) 5 strict pull-up\nrest 1:30";
        assert!(told.contains(pair), "{text}: {told}");
    }
    let raced = plain("For time, cap 12\nA1. thrusters 21-15-9\nA2. pull-ups 21-15-9");
    assert!(raced.contains("For time\n21-15-9\nthruster\npull-up"), "{raced}");
}

#[test]
fn as_much_as_goes_in_on_whatever_machine_is_work() {
    for text in ["AMRAP 6\ncals any machine", "AMRAP 6\nmax cals on any machine"] {
        let told = plain(text);
        assert!(
            told.contains("max calories row") && told.contains("or bike; or ski machine"),
            "{text}: {told}"
        );
    }
    assert!(plain("AMRAP 6\nmax metres, machine of your choice").contains("max metres row"));
}
