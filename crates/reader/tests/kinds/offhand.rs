//! What is written offhand: half a sentence, a number without its sign, a name above what it is about.

use lantern_reader::read;
use lantern_session::movement::Catalogue;
use serde_json::{Value, json};

use super::{part, parts, plain, total};

fn formats(text: &str) -> Vec<Value> {
    parts(text).iter().map(|part| part["format"].clone()).collect()
}

#[test]
fn a_pace_that_changes_every_so_often_is_no_clock() {
    let warm = part(
        "Warm-up\n9 min easy on the rower, speeding up every 3 min\nthen twice through: 12 air squats, 6 inchworms",
    );
    assert_eq!(warm["interval_s"], Value::Null);
    assert_eq!(total(&warm, "inchworm"), json!(12));
}

#[test]
fn a_clock_until_nobody_can_has_the_same_in_every_minute() {
    for text in [
        "EMOM for as long as you can\n6 thrusters 40/30 kg\n4 burpees",
        "Every minute on the minute as long as possible:\n6 thrusters 40/30 kg\n4 burpees",
        "EMOM until failure\n6 thrusters 40/30 kg\n4 burpees",
    ] {
        let part = part(text);
        assert_eq!(part["format"], json!("until_failure"), "{text}");
        assert_eq!(part["per_round"]["burpee"]["amount"], json!(4), "{text}: {part:#}");
        assert!(!plain(text).contains("add "), "{}", plain(text));
    }
    let limited = part("EMOM for as long as you can, 24 min at most\n6 thrusters 40/30 kg\n4 burpees");
    assert_eq!((&limited["format"], &limited["tree"]["times"]), (&json!("every"), &json!(24)));
    // "Death by" has one more each time, whatever it begins with.
    assert!(plain("Death by 10 m shuttle runs").contains("add 1"));
    assert!(plain("Death by burpees").contains("add 1"));
}

#[test]
fn numbers_in_front_of_the_lines_of_a_clock_count_them() {
    let text = "40 s on 20 s off for 16 min\n1 burpees\n2 swings 24/16 kg\n3 sit-ups\n4 ski";
    let part = part(text);
    assert!(read(text, Catalogue::standard()).problems.is_empty());
    assert_eq!(part["rounds"], json!(4));
    assert_eq!(part["loads"]["kettlebell-swing"]["first"], json!(24));
    assert_eq!(part["score"], json!("reps"));
    // Two of one thing and three of another are as many as they say.
    let few = plain("EMOM 10\n1 rope climb\n2 wall walks\n3 devil's presses 15/10 kg");
    assert!(few.contains("2 wall walk"), "{few}");
}

#[test]
fn a_bare_number_behind_sets_of_a_bar_is_a_share_where_it_can_be_one() {
    let share = |text: &str| parts(text)[0]["percent"].clone();
    for text in ["6x4 front squat @72", "Front squat\n6 x 4 @ 72, rest 2 min", "Front squat 6x4 paused @ 72%"]
    {
        assert_eq!(share(text), json!([72, 72]), "{text}");
    }
    // Nobody does five of everything.
    for text in [
        "5x5 deadlift @ 110",
        "5x5 deadlift @ 70 kg",
        "6x4 front squat @ 60/40",
        "For time\n30 deadlifts @ 80",
    ] {
        assert_eq!(share(text), Value::Null, "{text}");
    }
}

#[test]
fn a_pause_without_its_seconds_is_two_of_them_and_a_pause_between_sets_is_a_rest() {
    let paused = part("Paused back squat 4x5 @ 70%");
    assert_eq!(paused["tempo"], json!("22X0"));
    assert_eq!(part("Paused back squat 4x5 @ 70%, tempo 33X1")["tempo"], json!("33X1"));
    let rested = part("Back squat 4x5 @ 70%\n2 min pause");
    assert_eq!((&rested["tempo"], &rested["rest_s"]), (&Value::Null, &json!(120)));
}

#[test]
fn minutes_behind_sets_are_rested_and_no_aim_of_what_follows() {
    let day = parts(
        "A. Bench press 5 x 4 @ 78%, 2-3 min\nB. 4 rounds: 9 split squats, 12 back extensions, 40 s rest",
    );
    assert_eq!(day[0]["tree"]["rest_s"], json!(120));
    assert_eq!(day[1]["target"], Value::Null);
    let led = parts("Find a heavy hang snatch in 14 min\n-4 min reset-\n6 min AMRAP\n8 burpees\n8 swings");
    assert_eq!(
        formats("Find a heavy hang snatch in 14 min\n-4 min reset-\n6 min AMRAP\n8 burpees\n8 swings"),
        [json!("build_to"), json!("amrap")]
    );
    assert_eq!(led.len(), 2, "{led:#?}");
}

#[test]
fn a_name_above_rounds_says_what_they_are_about() {
    let skill = part("Handstand: 4 rounds of\n25 s handstand hold\n8 shoulder taps\n2 wall walks");
    assert_eq!(total(&skill, "wall-walk"), json!(8));
    assert_eq!(total(&skill, "handstand-hold"), json!(100));
    let lift = parts("Mobility 8 min\nFront squat - week 3/5\n4 x 4 @ 80%, 2 min rest");
    assert_eq!(lift[0]["movements"], json!([]));
    assert_eq!((&lift[1]["week"], &lift[1]["sets"]), (&json!([3, 5]), &json!(4)));
}

#[test]
fn minutes_of_going_easy_below_bouts_are_none_of_them() {
    for text in [
        "5 x 300 m run, 75 s walk\n8 min jog",
        "5 x 300, a bit quicker than those, 75 s walk\n8 min jog home",
    ] {
        let parts = parts(text);
        let run = parts[0]["totals"]["run"].clone();
        assert!(run["amount"] != json!(2400), "{text}: {run}");
        let tree = parts[0]["tree"].to_string();
        let minutes = tree.matches("480.0").count();
        assert_eq!((minutes, tree.starts_with(r#"{"node":"rounds""#)), (1, false), "{text}: {tree}");
    }
}

#[test]
fn pairs_above_two_clocks_are_of_both() {
    let day =
        parts("Pairs\n10 min AMRAP: 300 m row, 12 burpees\n2 min rest\n10 min AMRAP: 200 m run, 12 swings");
    assert_eq!((&day[0]["team_size"], &day[1]["team_size"]), (&json!(2), &json!(2)));
    let each = part("You go I go, 6 rounds each:\n12 cal row\n8 burpees");
    assert_eq!(total(&each, "burpee"), json!(96));
}

#[test]
fn a_list_in_a_length_is_gone_round_where_once_through_is_soon_done() {
    for text in [
        "Metcon - 14 min\n6 pull-ups\n10 push-ups\n14 air squats",
        "20 min easy: 6 cal ski, 6 ring rows, 8 push-ups",
    ] {
        assert_eq!(formats(text), [json!("amrap")], "{text}");
    }
    // Fixed work that fills the length is done once.
    assert_eq!(
        formats("Metcon - 14 min\n80 wall balls\n60 sit-ups\n40 burpees\n20 pull-ups"),
        [json!("for_time")]
    );
}

#[test]
fn a_title_in_quotes_is_no_length_and_a_spread_between_rounds_no_aim() {
    let titled = part("\"40s\"\n40 double-unders, 40 sit-ups, 40 double-unders, 40 air squats\ncap 12");
    assert_eq!(titled["duration_s"], Value::Null);
    let even = part(
        "4 rounds, 2:00 rest\n1:00 max cal ski\n1:00 max box jumps\nRecord each round, they should be within 4 of each other.",
    );
    assert_eq!(even["target"], Value::Null);
}

#[test]
fn sets_have_a_range_of_shares_by_their_place() {
    let clock = part("Clean & jerk\nEMOM 8: 1 rep. first 4 min 72-76, last 4 min 80-84");
    let each = clock["tree"]["of"][0]["percent"].clone();
    assert_eq!((&each[0], &each[7]), (&json!([72.0, 76.0]), &json!([80.0, 84.0])));
    let singles = part("Snatch: 10 singles in 12 min between 74 and 84");
    assert_eq!((&singles["percent"], &singles["duration_s"]), (&json!([74, 84]), &json!(720)));
}

#[test]
fn a_number_behind_work_that_has_its_own_is_what_it_weighs() {
    let list = part("14 min AMRAP\n14 kb swings 20\n12 DB deadlifts 2 x 17.5\n9 hang cleans 45\n8 box jumps");
    let load = |id: &str| list["loads"][id]["first"].clone();
    assert_eq!((load("kettlebell-swing"), load("hang-clean")), (json!(20), json!(45)));
    assert_eq!(load("dumbbell-deadlift"), json!(17.5));
    assert_eq!(total(&list, "kettlebell-swing"), Value::Null);
    assert_eq!(list["per_round"]["kettlebell-swing"]["amount"], json!(14));
}

#[test]
fn sets_stand_behind_a_lift_without_a_sign_between_them() {
    let lift = part("push press 4 4 3 3 2, heavier each set");
    assert_eq!((&lift["reps"], &lift["sets"]), (&json!([4, 4, 3, 3, 2]), &json!(5)));
}

#[test]
fn calories_of_no_machine_are_of_any_and_of_no_other_movement() {
    for text in ["12 min AMRAP\n12 cal\n12 lunges", "AMRAP 12 min:\n12 cal / 12 lunges"] {
        let per = part(text)["per_round"].clone();
        assert_eq!(per["row"], json!({"amount": 12, "unit": "calories"}), "{text}: {per}");
        assert_eq!(per["lunge"], json!({"amount": 12, "unit": "reps"}), "{text}: {per}");
    }
}

#[test]
fn three_numbers_that_rise_or_fall_evenly_are_no_date() {
    let two = part("16-12-8\npower cleans 50 kg\nsit-ups\nrest 2 min\n8-12-16\ncal ski\nlunges");
    assert_eq!((total(&two, "sit-up"), total(&two, "lunge")), (json!(36), json!(36)));
    // The rest stands between them, and not after each rung.
    assert!(
        plain("16-12-8\npower cleans 50 kg\nsit-ups\nrest 2 min\n8-12-16\ncal ski\nlunges")
            .contains("rest 2:00")
    );
    assert_eq!(two["tree"]["of"][0]["rest_s"], Value::Null, "{}", two["tree"]);
}

#[test]
fn what_one_round_is_counts_none_and_what_is_not_timed_is_for_quality() {
    let open = part("AMRAP 16 min\n1 round = 4 pull-ups, 8 push-ups, 12 squats");
    assert_eq!(open["rounds"], Value::Null);
    assert_eq!(formats("4 rounds (not timed)\n12 bench dips\n20 hollow rocks"), [json!("quality")]);
}

#[test]
fn how_long_bouts_go_on_is_of_all_stations_together() {
    for (text, rounds) in [
        ("40 s on 20 s off for 12 min\nburpees\nsit-ups\nski", 4),
        ("45 s on, 15 s off for 20 minutes:\n1. swings 24/16 kg\n2. box jumps\n3. plank\n4. row", 5),
        ("40 s on 20 s off, 5 rounds\nburpees\nsit-ups\nski", 5),
    ] {
        assert_eq!(part(text)["rounds"], json!(rounds), "{text}");
    }
    // Of one thing it is as many as go into it.
    assert_eq!(part("40 s on 20 s off for 12 min\nburpees")["tree"]["times"], json!(12));
}

#[test]
fn sets_of_one_thing_that_a_remark_counts_are_no_rounds_of_a_time() {
    let open = part("AMRAP 16\n10 swings 24/16 kg\n8 pull-ups\nPull-ups: three sets from the first round");
    assert_eq!((&open["rounds"], &open["tree"]["of"]["times"]), (&Value::Null, &Value::Null));
    assert_eq!(open["per_round"]["pull-up"]["amount"], json!(8));
    // Sets of the time are.
    assert_eq!(part("3 sets of 4 min AMRAP\n10 burpees\n8 sit-ups")["rounds"], json!(3));
}

#[test]
fn what_has_no_number_beside_the_time_that_is_left_fills_it() {
    for text in [
        "4 min: 30 wall balls 9/6 kg, remaining time burpees",
        "AMRAP 4\n30 wall balls 9/6 kg\nrest of time burpees",
        "4 min: 30 wall balls 9/6 kg, then burpees for the rest of the time",
    ] {
        let part = part(text);
        assert_eq!(
            (&part["score"], total(&part, "wall-ball")),
            (&json!("reps"), json!(30)),
            "{text}: {part:#}"
        );
        assert!(plain(text).contains("max burpee"), "{text}: {}", plain(text));
    }
    // Going easy is no work.
    assert!(!plain("Every 4 min x 3\n12 burpees\nremaining time: walk").contains("max"));
}

#[test]
fn sets_of_singles_at_the_front_of_a_line_are_no_tempo() {
    let parts = parts("- 5x2 hang snatch @ 65%\n- 4x1 snatch @ 72.5, 75, 77.5, 80\nrest 2 min");
    assert!(parts.iter().all(|part| part["tempo"] == Value::Null), "{parts:#?}");
    assert_eq!(parts.last().unwrap()["percent"], json!([72.5, 80]));
    assert_eq!(part("Back squat 5 x 3 @ 70%, tempo 4x1")["tempo"], json!("4X1"));
}

#[test]
fn a_tabata_that_alternates_is_eight_intervals_of_all_together() {
    let both = part("Tabata, alternating: push-ups, sit-ups");
    assert_eq!((&both["format"], &both["rounds"]), (&json!("tabata"), &json!(4)));
    assert_eq!(part("Tabata\npush-ups\nsit-ups")["rounds"], json!(8));
}

#[test]
fn a_team_that_starts_one_after_the_other_has_a_station_each() {
    let team = part("Teams of 3, waterfall style\nAMRAP 21\n12 cal row\n10 toes-to-bar\n8 burpees");
    assert_eq!(team["tree"]["sharing"], json!("stations"));
}

#[test]
fn rungs_in_pairs_are_of_both_movements() {
    let ladder = |text: &str| part(text)["tree"]["of"].clone();
    for text in [
        "10 min ladder: 3 deadlifts 100/70 kg 3 ring dips, 6/6, 9/9, keep going up by 3",
        "10 min ladder\n3 deadlifts 100/70 kg\n3 ring dips\n6/6, 9/9, 12/12 ...",
        "AMRAP 10\n3/3, 6/6, 9/9 ...\ndeadlifts 100/70 kg\nring dips",
        "AMRAP 10\n3+3, 6+6 and so on\ndeadlifts 100/70 kg\nring dips",
    ] {
        let of = ladder(text);
        assert_eq!((&of["start"], &of["step"]), (&json!(3), &json!(3)), "{text}: {of:#}");
    }
    let down = part("For time\n15/15, 10/10, 5/5\ndeadlifts 100/70 kg\nring dips");
    assert_eq!(total(&down, "ring-dip"), json!(30));
    // Of each side, and one thing after another.
    assert!(part("AMRAP 9\n6/6 single-arm rows\n8 sit-ups")["tree"]["of"]["start"].is_null());
}

#[test]
fn dumbbells_in_the_plural_are_no_seconds() {
    let pairs = part("4 rounds for time\n9 DB bench presses 20s/12s\n14 sit-ups");
    assert_eq!(pairs["loads"]["dumbbell-bench-press"]["first"], json!(20));
    assert_eq!(pairs["work_s"], Value::Null);
    assert_eq!(part("Burpees 40s/20s x 6")["work_s"], json!(40));
    assert_eq!(part("DB snatches 40s/20s x 6")["work_s"], json!(40));
    let carried = part("4 rounds for time\n50 m farmer carry 32s/20s\n14 sit-ups");
    assert_eq!(carried["loads"]["farmer-carry"]["second"], json!(20));
}

#[test]
fn a_named_superset_is_done_as_often_as_is_said_behind_its_name() {
    let sets = parts(
        "Superset 1 x 4: 9 DB bench presses, 11 ring rows, rest 75 s\nSuperset 2 x 3: 12 dips, 14 curls, rest 60 s",
    );
    let told: Vec<_> = sets.iter().map(|part| (&part["format"], &part["sets"], &part["rest_s"])).collect();
    assert_eq!(
        told,
        [(&json!("superset"), &json!(4), &json!(75)), (&json!("superset"), &json!(3), &json!(60))]
    );
    assert_eq!(part("Superset B (5 sets)\n9 DB bench presses\n11 ring rows")["sets"], json!(5));
}

#[test]
fn what_is_easy_is_nobodys_race() {
    for text in [
        "16 min easy:\n2 min row\n2 min walk\nrepeat x4",
        "Recovery, 16 min\n2 min row\n2 min walk\nx4",
        "4 rounds easy\n2 min row\n2 min walk",
    ] {
        let easy = part(text);
        assert_eq!(
            (&easy["format"], total(&easy, "row")),
            (&json!("quality"), json!(480)),
            "{text}: {easy:#}"
        );
    }
    // Hard and easy in turn are bouts.
    let bouts = part("Bike: 6 x 2 min hard / 1 min easy");
    assert_eq!((&bouts["work_s"], &bouts["rest_s"], &bouts["rounds"]), (&json!(120), &json!(60), &json!(6)));
    assert_eq!(part("9 min: 2 min hard / 1 min easy row")["rounds"], json!(3));
}

#[test]
fn rounds_that_start_on_a_clock_end_before_the_long_rest_below_them() {
    let day = "6 x 300 m row, start every 2:30\nRest 5 min\nThen 8-1 of power clean (60/40 kg) and push-ups, with 15 sit-ups after each round\nCap 12";
    let parts = parts(day);
    assert_eq!((&parts[0]["interval_s"], &parts[0]["then_rest_s"]), (&json!(150), &json!(300)), "{parts:#?}");
    assert_eq!((&parts[1]["cap_s"], total(&parts[1], "push-up")), (&json!(720), json!(36)));
    assert_eq!(total(&parts[1], "sit-up"), json!(120));
}

#[test]
fn a_share_of_what_stands_above_is_of_today() {
    let open =
        &parts("Hang snatch: heavy double in 10 min\n\nAMRAP 5\n4 hang snatches (65% of above)\n7 burpees")
            [1];
    assert_eq!((&open["percent"], &open["percent_of"]), (&json!([65, 65]), &json!("today")));
}

#[test]
fn partners_alternate_whole_rounds_where_it_is_said_of_them() {
    let pair = part("AMRAP 14, alternating with a partner, full rounds:\n6 deadlifts 100/70 kg\n9 push-ups");
    assert_eq!(pair["tree"]["sharing"], json!("rounds"));
    let paced =
        part("Teams of 3, AMRAP 18\nP1: 300 m row\nP2: 7 burpees\nP3: rest\nrotate when the rower is done");
    assert_eq!(paced["tree"]["sharing"], json!("stations"));
}

#[test]
fn a_part_that_comes_again_is_asked_to_be_written_out() {
    let told = read(
        "A: 6 min AMRAP: 9 burpees, 12 sit-ups\nB: 6 min AMRAP: 9 swings 24/16 kg, 12 lunges\nC: repeat A",
        Catalogue::standard(),
    );
    assert!(told.problems.iter().any(|problem| problem.line == 3), "{:?}", told.problems);
}

#[test]
fn a_heading_that_names_its_kind_and_a_movement_is_no_work() {
    let core = part("Core & carry\n3 rounds\n30 m sandbag carry 45/30 kg\n14 sit-ups");
    assert!(!plain("Core & carry\n3 rounds\n30 m sandbag carry 45/30 kg\n14 sit-ups").contains("farmer"));
    assert_eq!(total(&core, "sit-up"), json!(42));
}

#[test]
fn so_many_times_up_a_hill_are_no_metres() {
    let hill = part("7 x hill sprint\nrest 90 s");
    assert_eq!((&hill["rounds"], &hill["rest_s"], total(&hill, "run")), (&json!(7), &json!(90), Value::Null));
    let told = read("7 x hill sprint\nrest 90 s", Catalogue::standard());
    assert!(told.problems.iter().any(|problem| problem.message.contains("how many")), "{:?}", told.problems);
}

#[test]
fn machines_with_strokes_between_them_are_one_of_them() {
    for (text, seconds) in [
        ("12 min row/bike/ski", 720),
        ("30 min easy bike / row / ski, your choice", 1800),
        ("40 min zone 2 run or row", 2400),
    ] {
        let part = part(text);
        let all: u64 = ["row", "bike", "ski", "run"].iter().filter_map(|id| total(&part, id).as_u64()).sum();
        assert_eq!(all, seconds, "{text}: {part:#}");
    }
    let told = read("4 rounds for time\n14 cal row/bike\n9 burpees", Catalogue::standard());
    assert!(told.problems.is_empty(), "{:?}", told.problems);
    // Written apart they are done apart.
    let each = part("4 rounds for time\n14 cal row / 9 cal bike");
    assert_eq!((total(&each, "row"), total(&each, "bike")), (json!(56), json!(36)));
}

#[test]
fn every_so_manieth_minute_is_a_clock() {
    for (text, interval, rounds) in [
        ("Every 3rd minute for 6 sets: sled push 25 m", 180, 6),
        ("Every other minute for 16 min: 4 power cleans 60/40 kg", 120, 8),
        ("Every fourth minute x 5: 300 m run", 240, 5),
    ] {
        let clock = part(text);
        assert_eq!(
            (&clock["interval_s"], &clock["tree"]["times"]),
            (&json!(interval), &json!(rounds)),
            "{text}"
        );
    }
}

#[test]
fn times_with_their_rests_first_are_as_many_pieces() {
    let day = "AMRAP 6, 2 min rest, AMRAP 6, 2 min rest, AMRAP 6\n1st: 9 burpees\n2nd: 12 swings 24/16 kg\n3rd: 7 pull-ups";
    assert_eq!(part(day)["rounds"], json!(3), "{:#}", part(day));
}

#[test]
fn what_is_done_to_start_and_to_finish_is_done_once() {
    let race = part(
        "For time\n1200 m run together to start\n7 rounds: 9 push-ups, 12 swings 24/16 kg\n800 m run to finish",
    );
    assert_eq!((total(&race, "run"), total(&race, "push-up")), (json!(2000), json!(63)));
}

#[test]
fn what_ends_a_piece_is_not_in_its_rounds_whatever_it_is_led_by() {
    for led in [
        "To finish:",
        "Last of all,",
        "After the last round:",
        "After all rounds:",
        "Once done,",
        "to finish",
    ] {
        let race = part(&format!("4 rounds for time\n9 pull-ups\n14 wall balls 9/6 kg\n{led} 600 m run"));
        assert_eq!((total(&race, "run"), total(&race, "pull-up")), (json!(600), json!(36)), "{led}");
    }
}

#[test]
fn laps_of_a_run_are_no_rounds_of_what_is_listed_with_them() {
    for laps in ["2 laps run", "run 3 laps of the gym"] {
        let warm = part(&format!("Warm-up\n- {laps}\n- 7 inchworms\n- 12 air squats"));
        assert_eq!((total(&warm, "inchworm"), total(&warm, "air-squat")), (json!(7), json!(12)), "{laps}");
    }
}

#[test]
fn who_is_where_is_no_work_beside_how_much_of_it() {
    for (posts, first) in [
        ("One on the ski erg, one on the barbell, one resting", "12 cal ski"),
        ("One skis, one does burpees, one rests", "12 cal ski"),
    ] {
        let text = format!("Teams of 3, 24 min\n{posts}\n{first}\n9 burpees\nRotate when the skier is done");
        let part = part(&text);
        assert_eq!(
            (&part["team_size"], &part["tree"]["sharing"]),
            (&json!(3), &json!("stations")),
            "{posts}"
        );
        let plain = plain(&text);
        assert!(!plain.contains("max") && !plain.contains("rest"), "{posts}: {plain}");
    }
    // Where nothing more is said, it is the work.
    let alone = plain("Teams of 3, 12 min\nOne rows, one bikes, one rests\nScore: total calories");
    assert!(alone.contains("row") && alone.contains("bike"), "{alone}");
}
