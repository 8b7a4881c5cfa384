//! Parts that stand below others: what one of them says is none of the other's.

use super::*;

/// The kinds and formats of a day's parts.
fn shape(text: &str) -> Vec<(String, String)> {
    let of = |part: &Value, key: &str| part[key].as_str().unwrap_or("-").to_owned();
    parts(text).iter().map(|part| (of(part, "kind"), of(part, "format"))).collect()
}

fn kinds(text: &str) -> Vec<String> {
    shape(text).into_iter().map(|(kind, _)| kind).collect()
}

const LIFT: &str = "Strength\nBench press 6 x 2 @ 85%\nRest 2:15\n\n";

#[test]
fn below_the_heading_of_a_lift_what_is_raced_is_a_piece() {
    for (below, format) in [
        ("Team of 3, 32 min cap\n90 cal row\n75 thrusters 35/25\nShare as you like", "for_time"),
        ("4 laps\n18 cal bike\n25 m sled push\nrest 1:45 between laps", "intervals"),
        ("7 x 350 m run, rest 1:20\nScore: slowest", "intervals"),
        ("3 rounds\n45 s max swings\n45 s max lunges\n45 s rest", "intervals"),
        ("max cal ski in 5 minutes", "amrap"),
    ] {
        let day = shape(&format!("{LIFT}{below}"));
        assert_eq!(day[0], ("strength".to_owned(), "sets".to_owned()), "{below}");
        assert_eq!(day[1..], [("conditioning".to_owned(), format.to_owned())], "{below}");
    }
    // A second lift, and what is done beside it, stay what they are.
    assert_eq!(kinds(&format!("{LIFT}Pendlay row 4 x 9\nRest 1:10")), ["strength", "strength"]);
}

#[test]
fn sets_without_a_bar_are_no_more_of_what_is_headed_above() {
    let core = "\n\n4 x 14 cossack squats, 4 x 25 s side plank each side";
    for above in ["Warm-up\n3 rounds\n150 m jog\n9 air squats", "Conditioning\nAMRAP 9\n9 burpees\n12 swings"]
    {
        let day = parts(&format!("{above}{core}"));
        assert_eq!(day[1]["kind"], "accessory", "{above}");
        // And each has its own sets.
        assert_eq!(total(&day[1], "cossack-squat"), 56, "{above}");
    }
    let hangs = parts("Warm-up\n2 rounds\n150 m jog\n9 air squats\n\nHanging leg raise 4 x 11, 75 s");
    assert_eq!(hangs[1]["kind"], "strength");
}

#[test]
fn what_a_line_counts_caps_or_calls_a_week_is_of_the_work_below_it() {
    let counted = shape(
        "Press 3x4 @ 78%\nBetween sets: 7 ring rows\n\nFor max reps:\n2 min of burpees\n1 min rest\n2 min of wall balls",
    );
    assert_eq!(counted[1], ("conditioning".to_owned(), "intervals".to_owned()));
    let capped = parts(
        "Mobility 9 min: couch stretch, pigeon\n\nA grinder, 34 min cap\n1200 m run\n60 pull-ups\n1200 m run",
    );
    assert_eq!((&capped[0]["kind"], &capped[1]["cap_s"]), (&"mobility".into(), &2040.into()));
    assert_eq!(total(&capped[1], "pull-up"), 60);
    let week = parts("4 x max push-ups, 80 s rest\n\nWEEK 3/5\nFront squat\n4 x 3 @ 82%");
    assert_eq!(week[1]["week"], serde_json::json!([3, 5]));
}

#[test]
fn stations_and_turns_below_an_empty_line_are_a_part_of_their_own() {
    let stations = shape(
        "Core\n4 rounds: 9 v-ups, 25 s plank\n\n3 stations, 4 min each, 1 min to move\nStation 1: ski erg, max metres\nStation 2: sandbag over shoulder 45/30\nStation 3: wall balls",
    );
    assert_eq!(
        stations,
        [("accessory".to_owned(), "-".to_owned()), ("conditioning".into(), "intervals".into())]
    );
    let turns = parts(
        "AMRAP 11\n7 burpees\n14 lunges\n\nOdd minutes: 13 swings 24/16\nEven minutes: 6 burpees to a plate\n14 minutes in total",
    );
    assert_eq!((&turns[0]["format"], &turns[1]["format"]), (&"amrap".into(), &"every".into()));
    assert_eq!(total(&turns[1], "kettlebell-swing"), 91);
}

#[test]
fn who_works_together_in_one_piece_does_not_in_the_next() {
    let day = parts(
        "Partner workout, pairs\nAMRAP 21\n12 cal row\n9 burpees\nOne works, one rests\n\n9 x 15 sec all-out bike, 1:45 easy between each",
    );
    assert_eq!((&day[0]["team_size"], &day[1]["team_size"]), (&2.into(), &1.into()));
    // Told for the day, it is of all of it.
    let all = parts("Saturday - teams of 3\n\nAMRAP 14\n15 cal row\n12 burpees\n\nAMRAP 9\n10 thrusters");
    assert!(all.iter().all(|part| part["team_size"] == 3), "{all:#?}");
}

#[test]
fn a_day_is_named_for_a_lift_further_down_too() {
    let day = parts(
        "Warm up, 7 mins: skipping rope\n\nPress day\nWork up to a tough set of 4 in about 12 mins. Drop to 75 percent of that and do 2 sets of 4.",
    );
    assert_eq!((&day[0]["kind"], &day[1]["kind"]), (&"warmup".into(), &"strength".into()));
    assert_eq!((&day[1]["rm"], &day[1]["movements"][0]), (&4.into(), &"strict-press".into()));
}

#[test]
fn a_warm_up_that_the_coach_leads_holds_no_lift() {
    let day = parts("Warm up with the coach\nPower snatch 7 x 2 @ 72%, every 80 seconds");
    assert_eq!(day[0]["kind"], "strength");
    assert_eq!(total(&day[0], "power-snatch"), 14);
}

#[test]
fn a_tool_told_above_a_piece_further_down_is_held_in_it() {
    let day = parts(
        "Strict press 4 x 4 @ 76%\n\nOne ball throughout, 7/5 kg\nFor time:\n300 m run\n45 med ball cleans\n35 wall balls",
    );
    assert_eq!(day[1]["loads"]["medicine-ball-clean"]["first"], 7);
}

#[test]
fn minutes_in_brackets_behind_the_names_of_blocks_are_no_numbers_of_theirs() {
    let day = parts(
        "WARM UP (9)\nrow 400\n\nCLEAN (18)\n2 position power clean x 4 sets light\n\nFINAL (14)\nfor time, cap 11\n40 cal bike\n30 burpees",
    );
    assert_eq!(day[1]["movements"], serde_json::json!(["power-clean"]));
    assert_eq!(total(&day[1], "power-clean"), 8);
    // In a list they are how many.
    let list = part("3 rounds for time\nBurpees (9)\nSwings (12)");
    assert_eq!(total(&list, "burpee"), 27);
    let hour = parts(
        "STRENGTH (0-21)\nDeadlift 4 x 3 @ 82%\n\nCONDITIONING (26-44)\n4 rounds, not for time:\n350 m row\n14 swings 24/16",
    );
    assert_eq!(total(&hour[1], "row"), 1400);
    // Whatever the name is.
    let teams = parts(
        "STRENGTH (0-21)\nDeadlift 4 x 3 @ 82%\n\nTEAMS (26-57)\nTeam of 3, 29 min cap\n80 cal row\n70 burpees",
    );
    assert_eq!(total(&teams[1], "row"), 80);
}

#[test]
fn seconds_behind_sets_are_rested() {
    for name in ["dips", "push-ups", "strict pull-ups"] {
        let part = part(&format!("Push: 5 x 7 {name}, 75 s"));
        assert_eq!((&part["rest_s"], &part["sets"]), (&75.into(), &5.into()), "{name}");
    }
}

#[test]
fn a_number_in_front_of_a_list_in_one_line_is_how_often_all_of_it_is_done() {
    let warm = part("Warm-up\n3x 9 air squats, 7 push-ups, 6 ring rows");
    for (name, times) in [("air-squat", 27), ("push-up", 21), ("ring-row", 18)] {
        assert_eq!(total(&warm, name), times);
    }
}

#[test]
fn a_list_below_the_number_of_its_sets_is_of_them() {
    let day = part("Hang clean\n5 sets\n3-3-2-2-1\n62, 67, 72, 77, 82%");
    assert_eq!((&day["sets"], &day["reps"]), (&5.into(), &serde_json::json!([3, 3, 2, 2, 1])));
}

#[test]
fn sets_by_the_clock_in_a_piece_begin_with_each_interval() {
    let part = part("Conditioning\nKB swings 7 x 12, every 80 s");
    assert_eq!((&part["interval_s"], total(&part, "kettlebell-swing")), (&80.into(), 84.into()));
}

#[test]
fn blocks_that_are_announced_with_their_length_run_on_it() {
    let day = parts(
        "3 blocks of 7 min, 90 s off between blocks\nBlock 1: 300 m run + 12 wall balls\nBlock 2: 14 cal bike + 9 toes to bar\nBlock 3: 350 m row + 8 burpees",
    );
    let runs = day
        .iter()
        .map(|part| (part["format"].clone(), part["duration_s"].clone(), part["then_rest_s"].clone()));
    let rest = |rest: Value| (Value::from("amrap"), Value::from(420), rest);
    assert_eq!(runs.collect::<Vec<_>>(), [rest(90.into()), rest(90.into()), rest(Value::Null)]);
}

#[test]
fn a_lift_in_so_many_minutes_to_a_set_that_looks_good() {
    for (text, reps) in
        [("13 min to a crisp double", 2), ("11 min to a tough 4", 4), ("14 min to a technical 3", 3)]
    {
        let part = part(&format!("Push press - {text}"));
        assert_eq!((&part["kind"], &part["rm"]), (&"strength".into(), &reps.into()), "{text}");
    }
    // What is not understood behind the name is told.
    let told = lantern_reader::read(
        "Push press - 13 min towards a flying 2 for the books\n\nAMRAP 6\n9 burpees",
        Catalogue::standard(),
    );
    assert_eq!(told.problems.iter().map(|problem| problem.line).collect::<Vec<_>>(), [1]);
}

#[test]
fn a_week_says_no_sets_and_the_rest_of_both_lifts_is_of_the_last() {
    let part = part("Strength: front squat, week 3 of 5\n\n6-4-2 @ 70-80-90%, rest 2:45");
    assert_eq!((&part["sets"], &part["week"]), (&3.into(), &serde_json::json!([3, 5])));
    let day = kinds(
        "Front squat 3x4 @ 62%\nPush press 3x4 @ 62%\nBoth: 80 s rest, nothing heavier\nThen AMRAP 9:\n8 burpees\n11 swings",
    );
    assert_eq!(day, ["strength", "strength", "conditioning"]);
}

#[test]
fn rungs_in_numbers_that_are_not_understood_are_told() {
    let day = lantern_reader::read(
        "AMRAP 13\n4 jerks 55/40\n4 ring dips\n8 / 8\n12 / 12\nand so on",
        Catalogue::standard(),
    );
    let told: Vec<usize> = day.problems.iter().map(|problem| problem.line).collect();
    assert_eq!(told, [4, 5]);
    let dated = lantern_reader::read("7/7\n\nAMRAP 9\n8 burpees", Catalogue::standard());
    assert!(dated.problems.is_empty(), "{:?}", dated.problems);
}
