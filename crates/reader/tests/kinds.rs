//! Kinds of handwriting, each by a text of its own: what it must become.

use lantern_reader::{read, reading_json};
use lantern_session::movement::Catalogue;
use serde_json::{Value, json};

fn parts(text: &str) -> Vec<Value> {
    let reading = reading_json(&read(text, Catalogue::standard()));
    reading["parts"].as_array().unwrap().clone()
}

/// The only part of a text.
fn part(text: &str) -> Value {
    let mut parts = parts(text);
    assert_eq!(parts.len(), 1, "{text}: {parts:#?}");
    parts.remove(0)
}

fn total(part: &Value, movement: &str) -> Value {
    part["totals"][movement]["amount"].clone()
}

#[test]
fn a_buy_in_on_the_line_of_the_rounds_is_done_once() {
    let part = part("Buy in 60 sit-ups, 3 rounds 12 thrusters 35/25 + 12 ring rows, cash out 40 sit-ups");
    assert_eq!(total(&part, "sit-up"), json!(100));
    assert_eq!(total(&part, "thruster"), json!(36));
    assert_eq!(part["rounds"], json!(3));
}

#[test]
fn work_every_minute_behind_other_work_cuts_into_it() {
    let part = part("80 calorie row, every minute 4 burpees");
    assert_eq!((&part["format"], &part["tree"]["node"]), (&json!("for_time"), &json!("interrupt")));
    assert_eq!(total(&part, "row"), json!(80));
}

#[test]
fn a_ladder_comes_back_down_with_its_turning_point_once() {
    for text in [
        "3-6-9 and back down to 3 of\nfront squats 50/35\npush-ups",
        "Ladder 3-6-9 then back down\nfront squats 50/35\npush-ups",
    ] {
        assert_eq!(total(&part(text), "push-up"), json!(27), "{text}");
    }
}

#[test]
fn work_owed_for_putting_the_bar_down_adds_no_volume() {
    let part = part("For time: 60 cleans (50/35)\nEvery time you let go of the bar: 6 burpees");
    assert_eq!(part["tree"]["node"], json!("penalty"));
    assert_eq!(part["totals"]["burpee"], Value::Null);
}

#[test]
fn sets_belong_to_the_lift_that_names_no_number_of_its_own() {
    let part = part("Push press\n5 sets of 4\nsuperset with 8 pull-ups");
    assert_eq!((&part["kind"], &part["format"]), (&json!("strength"), &json!("superset")));
    assert_eq!((total(&part, "push-press"), total(&part, "pull-up")), (json!(20), json!(40)));
}

#[test]
fn what_is_taken_back_is_not_kept() {
    let part = part("so we do three rounds, no four rounds, of ten cal row and fifteen sit ups");
    assert_eq!(part["rounds"], json!(4));
    assert_eq!(total(&part, "sit-up"), json!(60));
}

#[test]
fn a_length_said_once_is_that_of_the_pieces_below() {
    let text = "Each piece is 5 minutes, rest 2 min between.\nA) AMRAP: 6 burpees, 12 air squats\nB) AMRAP: 10 cal row, 5 push-ups";
    let lengths: Vec<Value> = parts(text).iter().map(|part| part["duration_s"].clone()).collect();
    assert_eq!(lengths, [json!(300), json!(300)]);
}

#[test]
fn a_tool_in_front_of_a_name_keeps_the_number_before_it() {
    let part = part("For time: 700 m run, 30 dumbbell box step-ups, 20 burpees");
    assert_eq!(total(&part, "weighted-box-step-up"), json!(30));
}

#[test]
fn practice_against_the_clock_is_skill() {
    assert_eq!(part("12 min to practise handstand walk")["kind"], json!("skill"));
}

#[test]
fn what_stands_left_of_the_rounds_or_closes_the_circle_is_done_once() {
    for text in [
        "600 m run\n4 rounds:\n  8 thrusters 35/25\n  8 chin-ups\n600 m run",
        "600 m run\n4 rounds:\n8 thrusters 35/25\n8 chin-ups\n600 m run",
    ] {
        let part = part(text);
        assert_eq!((total(&part, "run"), total(&part, "chin-up")), (json!(1200), json!(32)), "{text}");
    }
    // One movement and a run could be the round itself.
    assert_eq!(total(&part("400 m run\n3 rounds:\n12 chin-ups\n400 m run"), "run"), json!(1600));
}

#[test]
fn bare_minutes_that_follow_one_another_are_stretches_of_the_clock() {
    let parts = parts(
        "On a 24:00 clock\n0-6: max cal row\n6-9 rest\n9-18: 4 rounds 8 push presses 40/30, 12 sit-ups\n18-24: 1 mile run",
    );
    let lengths: Vec<Value> = parts.iter().map(|part| part["duration_s"].clone()).collect();
    assert_eq!(lengths, [json!(360), json!(540), json!(360)]);
    assert_eq!(part("On a 2 minute clock, 6 sets: 2 power cleans @ 75%")["interval_s"], json!(120));
}

#[test]
fn one_window_with_a_rest_and_rounds_is_bouts() {
    let part = part("100 s max cal ski, 50 s rest x 4");
    assert_eq!((&part["format"], &part["work_s"]), (&json!("intervals"), &json!(100)));
    assert_eq!((&part["rounds"], &part["rest_s"]), (&json!(4), &json!(50)));
}

#[test]
fn the_family_in_front_of_a_line_is_no_work_of_its_own() {
    let part = part("Clean - every 90 seconds for 8 sets: 2 power cleans @ 70-75%");
    assert_eq!(part["movements"], json!(["power-clean"]));
}

#[test]
fn one_arm_is_a_manner_and_a_sprint_on_a_machine_is_no_run() {
    let rows = part("3 rounds for time:\n10 single arm dumbbell rows / side\n12 cal bike sprint");
    assert_eq!(rows["movements"], json!(["dumbbell-row", "bike"]));
    assert_eq!(total(&rows, "dumbbell-row"), json!(60));
}

#[test]
fn two_lengths_with_a_rest_between_are_two_pieces() {
    let parts = parts(
        "7 min: 8 burpees then max distance bear crawl\nrest 3\n7 min: 20 box step overs (2 x 17.5/12.5) then max cal row",
    );
    let lengths: Vec<Value> = parts.iter().map(|part| part["duration_s"].clone()).collect();
    assert_eq!(lengths, [json!(420), json!(420)]);
    assert_eq!(parts[1]["loads"]["dumbbell-box-step-over"]["unit"], json!("kg"));
}

#[test]
fn a_minute_before_a_colon_is_a_station_and_in_a_warm_up_a_time() {
    let stations =
        part("4 rounds\n1 minute: push-ups\n1 minute: air squats\n1 minute: cal row\n1 minute: rest");
    assert_eq!((&stations["format"], &stations["rest_s"]), (&json!("intervals"), &json!(60)));
    assert_eq!(stations["movements"], json!(["push-up", "air-squat", "row"]));
    let warm = parts("Warm-up\n2 min: bike\n1 min: plank\n\nFor time: 50 burpees").remove(0);
    assert_eq!((total(&warm, "bike"), total(&warm, "plank")), (json!(120), json!(60)));
}

#[test]
fn who_rests_and_when_to_change_is_no_work() {
    let text = "Teams of 4: two on the rower, two resting. 4000 m row, switch every 250 m. Then 80 burpees.";
    let part = part(text);
    assert_eq!((total(&part, "row"), total(&part, "burpee")), (json!(4000), json!(80)));
}

#[test]
fn a_split_that_is_held_makes_no_team() {
    assert_eq!(
        part("4 rounds: 400 m row, rest 90 sec. Hold the same split every time.")["team_size"],
        json!(1)
    );
}

#[test]
fn repetitions_of_a_lift_every_minute_are_told_behind_the_clock() {
    let part = part("Deadlift EMOM 8: 3 reps @72%");
    assert_eq!(total(&part, "deadlift"), json!(24));
}

#[test]
fn an_unknown_name_in_front_of_sets_is_asked_about() {
    let reading = read("Back squat 5x5\nGruntwax 3 x 10", Catalogue::standard());
    assert!(reading.problems.iter().any(|problem| problem.line == 2 && problem.found == "Gruntwax"));
}

#[test]
fn a_list_with_commas_behind_a_lift_is_its_sets() {
    let part = part("Bench press 12, 10, 8, 6 reps");
    assert_eq!((&part["kind"], &part["sets"]), (&json!("strength"), &json!(4)));
    assert_eq!(total(&part, "bench-press"), json!(36));
}

#[test]
fn a_greeting_names_no_movement_and_tests_nothing() {
    let parts = parts("Good morning folks, next week we test the 2k row.\n\nEMOM 9\n7 burpees");
    assert_eq!(parts.len(), 1);
    assert_eq!(parts[0]["movements"], json!(["burpee"]));
}

#[test]
fn fixed_work_behind_a_clock_that_ends_by_itself_is_done_afterwards() {
    let parts = parts("Tabata: push-ups / mountain climbers\nFinish with 60 sit-ups");
    assert_eq!(parts.len(), 2);
    assert_eq!(total(&parts[1], "sit-up"), json!(60));
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
fn a_part_with_its_stretch_of_the_clock_in_brackets_is_as_long() {
    let parts = parts(
        "Part 1 (0:00 - 14:00)\nBuild to a heavy 3 push press\nPart 2 (17:00 - 32:00)\n5 rounds, each round starts on a new 3:00\n9 push press @ 55% of part 1\n15 kb swings",
    );
    assert_eq!((&parts[0]["duration_s"], &parts[0]["rm"]), (&json!(840), &json!(3)));
    assert_eq!((&parts[1]["interval_s"], &parts[1]["rounds"]), (&json!(180), &json!(5)));
}

#[test]
fn a_lift_before_a_colon_with_its_sets_is_prescribed_and_a_bare_number_behind_is_a_share() {
    let parts = parts("Squat: 4x3 @ 80, 1x3+ @ 85\nBench: 4x4 same weight across, RPE 7");
    assert_eq!(parts[0]["percent"], json!([80, 85]));
    assert_eq!(parts[1]["rpe"], json!([7, 7]));
}

#[test]
fn in_a_superset_the_share_is_of_the_lift_that_has_a_maximum() {
    let part = part("Bench press 4x5 @ 70%, superset with 4x7 chin-ups");
    let of = part["tree"]["of"]["of"].as_array().unwrap();
    assert_eq!(of[0]["percent"], json!([[70.0, 70.0]]));
    assert!(of[1].get("percent").is_none(), "{}", of[1]);
}

#[test]
fn who_lacks_something_gets_a_substitute_and_no_more_work() {
    let part = part(
        "4 rounds for time: 9 handstand push-ups, 12 V-ups\nAthletes without HSPU: seated DB press 12.5/7.5, 14 reps",
    );
    assert_eq!(part["movements"], json!(["handstand-push-up", "v-up"]));
    assert_eq!(part["alternatives"].as_array().unwrap().len(), 1);
}

#[test]
fn what_cannot_be_lifted_or_held_stays_as_it_is_written() {
    // Implausible is not unsaid: every number stays where the coach wrote it.
    let full = part("every 1:00 x 4\n1) 79 s plank\n2) 18 dead bugs each side");
    assert_eq!((total(&full, "plank"), total(&full, "dead-bug")), (json!(158), json!(72)));
    assert_eq!(part("For time\n7 rounds\n58 burpees")["rounds"], json!(7));
}

#[test]
fn gym_words_of_other_languages_head_count_and_rest() {
    let parts = parts(
        "Dienstag\n\nKraft\nDeadlift 5 Sätze x 4 reps @ 70%\nPause: 2:15 min\n\nKondition\n4 Runden auf Zeit\n11 burpees\n350 m row\nZeitlimit 13 Minuten",
    );
    assert_eq!(
        (&parts[0]["kind"], &parts[0]["sets"], &parts[0]["rest_s"]),
        (&json!("strength"), &json!(5), &json!(135))
    );
    assert_eq!((&parts[1]["rounds"], &parts[1]["cap_s"]), (&json!(4), &json!(780)));
}

#[test]
fn as_much_as_fits_into_a_length_is_open_however_it_is_said() {
    for head in [
        "13 min, do as much as you can",
        "13 min: as many laps as you manage",
        "as far as you manage in 13 minutes",
        "max number of laps in 13'",
    ] {
        let part = part(&format!("{head}\n7 burpees\n11 sit-ups"));
        assert_eq!((&part["format"], &part["duration_s"]), (&json!("amrap"), &json!(780)), "{head}");
    }
}

#[test]
fn levels_go_by_any_name_where_one_is_as_it_stands() {
    let part = part(
        "4 rounds for time\n11 wall balls 9/6 kg\n13 sit-ups\n\nOtters = as above\nSeals = 6/4 ball, 9 sit-ups",
    );
    assert_eq!(part["movements"], json!(["wall-ball", "sit-up"]));
    assert_eq!(part["loads"]["wall-ball"]["first"], json!(9));
    assert_eq!(total(&part, "sit-up"), json!(52));
}

#[test]
fn a_tool_behind_a_name_makes_it_the_movement_with_it() {
    let part = part(
        "3 rounds for time\n9 thrusters with kettlebells 2x12/8 kg\n14 romanian deadlifts with dumbbells",
    );
    assert_eq!(part["movements"], json!(["kettlebell-thruster", "dumbbell-romanian-deadlift"]));
}

#[test]
fn minutes_named_one_by_one_are_the_odd_and_the_even_ones() {
    let part = part(
        "buzzer goes every 2 minutes, 8 rounds\non 1, 3, 5 and 7: 9 push press 30/20 kg\non 2, 4, 6 and 8: 14/11 cal row",
    );
    assert_eq!((total(&part, "push-press"), total(&part, "row")), (json!(36), json!(56)));
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
fn a_complex_in_sets_on_a_clock_is_lifting_and_a_scheme_behind_a_heading_is_a_scheme() {
    let complex = part("Complex: 1 power clean + 1 front squat + 2 jerks\n6 sets, building, every 2 minutes");
    assert_eq!((&complex["kind"], &complex["interval_s"]), (&json!("strength"), &json!(120)));
    let metcon = part("Metcon 9-15-21: calorie row, KB swing 24/16. 7 min cap.");
    assert_eq!((total(&metcon, "kettlebell-swing"), &metcon["cap_s"]), (json!(45), &json!(420)));
}

#[test]
fn sets_with_a_rest_after_each_are_intervals() {
    let part = part("5 sets, each for time, rest 1:45 after each:\n9 power cleans 60/40\n200 m row");
    assert_eq!((&part["rounds"], &part["rest_s"]), (&json!(5), &json!(105)));
}

#[test]
fn one_thing_again_and_again_with_a_rest_is_intervals_whatever_the_rest_is_called() {
    for (text, work, rest) in [
        ("4 x 2:30 row, 1:15 rest", json!(150), json!(75)),
        ("5 x 4 min ski with 80 s rest. Log your metres.", json!(240), json!(80)),
        ("7 x 300 m run, rest 1:1", Value::Null, Value::Null),
        ("9 x 80 m sprint, walk back", Value::Null, Value::Null),
    ] {
        let part = part(text);
        assert_eq!(
            (&part["format"], &part["work_s"], &part["rest_s"]),
            (&json!("intervals"), &work, &rest),
            "{text}"
        );
    }
    assert_eq!(part("For time\n4 rounds\n300 m run")["format"], json!("for_time"));
}

#[test]
fn when_the_gym_closes_limits_no_piece() {
    let part = part("4 rounds for time\n11 burpees\n\nThe gym closes at 20:00 tonight, tidy up please.");
    assert_eq!(part["cap_s"], Value::Null);
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
fn levels_on_one_line_give_the_load_of_the_first() {
    let part = part("Strength\nGoblet squat 4 x 9\n white 18 kg / pink 12 / bronze 8");
    assert_eq!(part["loads"]["goblet-squat"]["first"], json!(18));
}

#[test]
fn odd_and_even_take_turns_however_long_and_in_one_line() {
    let by_lines = part("Every 3:30 x 6\nOdd: 350 m row + 9 burpees\nEven: 14 cal bike + 11 ring rows");
    assert_eq!(by_lines["tree"]["alternate"], json!(true));
    let in_a_line = part("12 min EMOM, odd 11 cal row, even 13 sit-ups");
    assert_eq!(in_a_line["tree"]["alternate"], json!(true));
}

#[test]
fn shares_may_stand_before_their_repetitions_or_without_a_sign() {
    for text in [
        "Back squat\n60% x 6, 70% x 6, 80% x 4",
        "Back squat 60/70/80 x 4",
        "Back squat: 6 @ 60, 6 @ 70, 4 @ 80",
        "Back squat\nSet 1: 6 @ 60\nSet 2: 6 @ 70\nSet 3: 4 @ 80",
    ] {
        let part = part(text);
        assert_eq!((&part["kind"], &part["percent"]), (&json!("strength"), &json!([60, 80])), "{text}");
        assert_eq!(part["sets"], json!(3), "{text}");
    }
    let between = part("Snatch, 8 lifts between 72 and 84 %, go every minute");
    assert_eq!((&between["percent"], &between["sets"]), (&json!([72, 84]), &json!(8)));
}

#[test]
fn what_is_practised_or_built_for_minutes_is_so_long() {
    let built = part("Find a heavy four deadlift in about 18 minutes");
    assert_eq!((&built["format"], &built["duration_s"]), (&json!("build_to"), &json!(1080)));
    let practised = part("Skill: wall walks for 9 minutes");
    assert_eq!((&practised["duration_s"], &practised["totals"]), (&json!(540), &json!({})));
}

#[test]
fn the_times_of_a_class_plan_are_no_lengths() {
    let parts = parts(
        "0:00 hello\n0:06 warm-up: 2 rounds of 9 lunges, 9 ring rows\n0:18 strength: push press 4 x 4 @ 70%\n0:36 metcon: 9 min AMRAP of 6 burpees, 9 box jumps",
    );
    let kinds: Vec<_> = parts.iter().map(|part| &part["kind"]).collect();
    assert_eq!(kinds, ["warmup", "strength", "conditioning"]);
    assert_eq!((&parts[1]["rest_s"], &parts[2]["duration_s"]), (&Value::Null, &json!(540)));
}

#[test]
fn stays_of_a_minute_that_are_counted_are_intervals() {
    for text in [
        "As many reps as possible\n1 min box jumps\n1 min row\n1 min sit-ups\n1 min rest\nx 4",
        "4 rounds:\n1 min box jumps\n1 min row\n1 min sit-ups\n1 min rest\nCount all reps",
    ] {
        let part = part(text);
        let read = (&part["format"], &part["work_s"], &part["rounds"], &part["score"]);
        assert_eq!(read, (&json!("intervals"), &json!(60), &json!(4), &json!("reps")), "{text}");
    }
}

#[test]
fn a_number_of_both_does_what_stands_above_again() {
    let part = part("for time\n18 front squats 40/30\n18 pull-ups\nthen 12 of both\nthen 6 of both");
    assert_eq!((total(&part, "front-squat"), total(&part, "pull-up")), (json!(36), json!(36)));
}

#[test]
fn a_full_stop_behind_a_decimal_ends_the_sentence() {
    let part = part("3 rounds: 12 hammer curls 12.5/7.5. Rest 80 s between rounds");
    assert_eq!(part["loads"]["dumbbell-curl"]["second"], json!(7.5));
}

#[test]
fn a_length_in_front_of_a_heading_is_that_of_its_part() {
    let parts = parts("7' warm up: 300 m row, 9 lunges\n\n18' strength: front squat 5x3 @ 75%");
    let read: Vec<_> = parts.iter().map(|part| (&part["kind"], &part["duration_s"])).collect();
    assert_eq!(read, [(&json!("warmup"), &json!(420)), (&json!("strength"), &json!(1080))]);
}

#[test]
fn same_bar_may_be_that_of_the_piece_before() {
    let parts = parts(
        "a) 6' AMRAP\n6 hang power cleans 45/30kg\n9 sit-ups\n\nb) For time\n18 front squats, same bar\n18 box jumps\ncap 6'",
    );
    assert_eq!(parts[1]["loads"]["front-squat"]["first"], json!(45));
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
fn a_share_beside_a_machine_is_one_of_the_effort() {
    let part = part("4 rounds\n3 min row @ 85%\n2 min bike @ 80%\n1 min rest");
    assert_eq!((&part["kind"], &part["percent"]), (&json!("conditioning"), &Value::Null));
    assert_eq!(total(&part, "row"), json!(720));
}

#[test]
fn a_share_repetitions_and_sets_may_stand_in_one_chain() {
    let part = part("Back squat 80% x 3, 85% x 2 x 2");
    assert_eq!(part["reps"], json!([3, 2, 2]));
    assert_eq!(part["sets"], json!(3));
}

#[test]
fn minutes_may_be_numbered_with_a_letter_and_rest_among_them() {
    let part = part("EMOM 12\nM1: 9 pull-ups\nM2: 30 s plank\nM3: rest");
    assert_eq!((&part["tree"]["times"], &part["tree"]["alternate"]), (&json!(12), &json!(true)));
    assert_eq!(total(&part, "pull-up"), json!(36));
}

#[test]
fn the_line_of_a_level_gives_each_movement_its_own_load_in_order() {
    let part = part("For time\n30 wall balls\n25 kettlebell swings\nRx: 9/6, 24/16\nScaled: 6/4, 16/12");
    assert_eq!(part["loads"]["wall-ball"]["first"], json!(9));
    assert_eq!(part["loads"]["kettlebell-swing"]["first"], json!(24));
}

#[test]
fn a_clock_with_work_of_its_own_below_rounds_is_another_piece() {
    let parts = parts(
        "Then eight rounds of twenty seconds sit-ups, ten seconds rest\nLast is a ten minute amrap of nine burpees and six pull-ups",
    );
    let formats: Vec<_> = parts.iter().map(|part| (&part["format"], &part["rounds"])).collect();
    assert_eq!(formats, [(&json!("tabata"), &json!(8)), (&json!("amrap"), &Value::Null)]);
}

#[test]
fn one_tool_named_above_is_the_one_of_all_lifts_below() {
    let part =
        part("Kettlebell complex, 4 rounds\n6 cleans\n5 presses\n4 snatches\nrest 90 s after each round");
    assert_eq!(total(&part, "kettlebell-snatch"), json!(16));
    assert_eq!(total(&part, "snatch"), Value::Null);
}

#[test]
fn more_weight_every_set_makes_a_scheme_a_lift() {
    let part = part("Squat: 9-7-5-3, adding weight each set. 2 min rest.");
    assert_eq!((&part["kind"], &part["reps"]), (&json!("strength"), &json!([9, 7, 5, 3])));
    assert_eq!(part["movements"], json!(["back-squat"]));
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
fn shares_may_climb_by_a_step_and_the_sets_follow() {
    let part = part("Front squat, 18 minutes\nSets of 2. Start at 65% and go up 5% a set until 85%");
    assert_eq!((&part["sets"], &part["reps"]), (&json!(5), &json!([2, 2, 2, 2, 2])));
    assert_eq!(part["percent"], json!([65, 85]));
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
fn runs_with_rests_between_are_no_race_against_the_rest() {
    let part = part("600 m run\nrest 75 s\n500 m run\nrest 75 s\n300 m run");
    assert_eq!((&part["cap_s"], &part["duration_s"]), (&Value::Null, &Value::Null));
    let rests = part["tree"]["of"].as_array().unwrap().iter().filter(|node| node["node"] == "rest");
    assert_eq!(rests.count(), 2, "{part:#}");
}

#[test]
fn two_lifts_of_an_outline_are_two_parts_and_six_by_one_no_tempo() {
    let parts = parts("Strength\n1) Clean, 6 x 1 @ 80%\n2) Clean pull, 4x3 @ 95%");
    let sets: Vec<_> = parts.iter().map(|part| (&part["sets"], &part["tempo"])).collect();
    assert_eq!(sets, [(&json!(6), &Value::Null), (&json!(4), &Value::Null)]);
}

#[test]
fn shares_may_stand_in_front_of_a_stroke() {
    let part = part("Front squat: 70/3 75/3 80/2 85/1");
    assert_eq!((&part["reps"], &part["percent"]), (&json!([3, 3, 2, 1]), &json!([70, 85])));
}

#[test]
fn windows_with_rests_are_gone_round_below_rounds() {
    let part = part("4 rounds\n2 min max cal row\n1 min rest\n90 s max push-ups\n1 min rest");
    assert_eq!((&part["format"], &part["rounds"]), (&json!("intervals"), &json!(4)));
    assert_eq!(part["movements"], json!(["row", "push-up"]));
}

#[test]
fn a_dose_at_a_share_stays_in_its_list() {
    let part = part("3 rounds, start every 4 min:\n200 m row\n9 toes-to-bar\n6 power cleans @ 65 %");
    assert_eq!((&part["format"], total(&part, "power-clean")), (&json!("every"), json!(18)));
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
fn a_cash_out_below_a_clock_that_ends_is_done_when_it_has_ended() {
    let parts = parts("EMOM 10:\n12 kettlebell swings\ncash out: 50 burpees");
    assert_eq!(parts.len(), 2, "{parts:?}");
    assert_eq!(parts[1]["format"], "for_time");
    assert_eq!(parts[1]["totals"]["burpee"]["amount"], 50.0);
    // Of rounds it is the end.
    let parts = self::parts("3 rounds for time\n12 kettlebell swings\ncash out: 50 burpees");
    assert_eq!(parts.len(), 1);
}

#[test]
fn sets_of_a_few_squats_are_a_lifts() {
    for (text, movement) in [
        ("5x5 squat", "back-squat"),
        ("squat 5-5-3-3-1", "back-squat"),
        ("Strength\nsquats 3x10", "back-squat"),
        ("Warm-up: 3 x 5 squats", "air-squat"),
        ("5-4-3-2-1 for time\nsquats\nburpees", "air-squat"),
    ] {
        assert_eq!(parts(text)[0]["movements"][0], movement, "{text}");
    }
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

#[test]
fn a_clock_of_so_many_starts_is_told_by_a_cross() {
    let part = part("Front squat\nEMOM x 8 @ 70%\n2 front squats");
    assert_eq!((&part["interval_s"], &part["duration_s"]), (&json!(60), &json!(480)));
    assert_eq!(total(&part, "front-squat"), json!(16), "the lift is named above its dose");
}

#[test]
fn a_substitute_in_brackets_is_no_work() {
    for sub in ["(sub: 20 ring rows)", "(sub ring rows)", "(scale: ring rows)"] {
        let part = part(&format!("For time\n30 pull-ups {sub}\n20 burpees"));
        assert_eq!(part["movements"], json!(["pull-up", "burpee"]), "{sub}");
    }
}

#[test]
fn each_in_two_letters_is_each_side() {
    let part = part("3 rounds\n12 DB row ea\n10 push-ups");
    assert_eq!(part["tree"]["of"]["of"][0]["dose"]["per_side"], true);
}

#[test]
fn machines_are_changed_on_a_clock() {
    let part = part("40 min easy, switch machines every 10: row / bike / ski / run");
    assert_eq!((&part["interval_s"], &part["duration_s"]), (&json!(600), &json!(2400)));
    assert_eq!(part["tree"]["alternate"], true);
}

#[test]
fn each_line_of_sets_has_its_own_share() {
    let part = part("Back squat\n3x5 @ 70%\n2x3 @ 80%\n1x1 @ 90%");
    let shares = [70.0, 70.0, 70.0, 80.0, 80.0, 90.0].map(|share| json!([share, share]));
    assert_eq!(part["tree"]["of"]["percent"], json!(shares));
}

#[test]
fn practice_of_so_long_is_a_part_of_its_own_above_a_lift() {
    for text in [
        "10 minutes of handstand practice\nBack squat 5x5",
        "Spend 8 minutes on kipping pull-ups.\nThen back squat 5x5",
        "10 min to practise handstand walks\nBack squat 5x5",
    ] {
        let parts = parts(text);
        let kinds: Vec<&Value> = parts.iter().map(|part| &part["kind"]).collect();
        assert_eq!(kinds, [&json!("skill"), &json!("strength")], "{text}");
        assert_eq!(parts[1]["reps"], json!([5, 5, 5, 5, 5]));
    }
}

#[test]
fn stretching_said_to_be_the_last_is_no_part_of_the_piece() {
    let parts = parts("AMRAP 12\n10 burpees\n10 swings. We finish with 2 min pigeon each side");
    assert_eq!(parts.len(), 2);
    assert_eq!(parts[0]["movements"], json!(["burpee", "kettlebell-swing"]));
    assert_eq!(parts[1]["kind"], "mobility");
}

#[test]
fn so_many_out_of_ten_is_how_hard() {
    assert_eq!(part("Push press: 6 sets of 3, around 8/10")["rpe"], json!([8, 8]));
    let part = part("For time\n20 power snatches 35/25\n20 burpees\nScale: never go below 3 in a row");
    assert_eq!(part["target"], Value::Null);
    assert_eq!(part["movements"], json!(["power-snatch", "burpee"]));
}

#[test]
fn the_same_number_twice_is_one_for_either_side() {
    let part = part("AMRAP 10\n8/8 db row\n10 burpees");
    assert_eq!(part["per_round"]["dumbbell-row"]["amount"], 16);
    assert_eq!(self::part("AMRAP 10\n12/12 cal row\n9 burpees")["per_round"]["row"]["amount"], 12);
}

#[test]
fn what_is_done_before_a_lift_is_built_up_is_no_part_of_it() {
    for text in [
        "5 min bike\n\nPower clean 3RM in 15 min",
        "3 min row\n10 air squats\n\nDeadlift: build to a heavy triple",
        "10' easy row\n---\nPower clean 3RM (15')",
    ] {
        let parts = parts(text);
        assert_eq!(parts.len(), 2, "{text}");
        assert_eq!((&parts[1]["format"], &parts[1]["rm"]), (&json!("build_to"), &json!(3)), "{text}");
    }
}

#[test]
fn a_stretch_of_the_clock_in_a_line_of_its_own_is_that_of_the_piece_below() {
    let parts = parts(
        "Conditioning\n0:00-10:00\nAMRAP: 10 wall balls, 10 kb swings\n10:00-13:00 rest\n13:00-23:00\nAMRAP: 200m run, 10 burpees",
    );
    let lengths: Vec<&Value> = parts.iter().map(|part| &part["duration_s"]).collect();
    assert_eq!(lengths, [&json!(600), &json!(600)]);
}

#[test]
fn stretches_are_held_as_long_as_is_said_above_them() {
    let part = part("Mobility\n60 s each\ncouch stretch\npigeon");
    assert_eq!(total(&part, "couch-stretch"), json!(60));
    assert_eq!(part["duration_s"], Value::Null);
}

#[test]
fn another_exercise_beside_a_lift_leaves_it_under_its_heading() {
    let part = part("Strength\nEvery 2:30 x 5\n8 bench press\n8 db rows");
    assert_eq!((&part["kind"], &part["format"]), (&json!("strength"), &json!("every")));
}

#[test]
fn the_same_with_another_tool_is_done_instead_of_it() {
    let part =
        part("21-15-9 for time\nthrusters 40/30 kg\npull-ups\n\nNo bar? 2 x 15/10 kg dumbbell thrusters.");
    assert_eq!(part["alternatives"][0]["replaces"], "thruster");
}

#[test]
fn a_bar_may_be_a_stick() {
    for named in
        ["overhead squats with the stick", "OHS with a dowel", "pipe overhead squats", "OHS with a pvc"]
    {
        let part = part(&format!("Warm-up\n10 {named}\n10 push-ups"));
        assert_eq!(part["movements"][0], "pvc-overhead-squat", "{named}");
    }
}

#[test]
fn what_no_longer_fits_ends_a_clock() {
    for end in [
        "until the reps no longer fit",
        "until it no longer fits",
        "until the work doesn't fit",
        "until you can't",
    ] {
        assert_eq!(
            part(&format!("EMOM {end}\n3 thrusters, add 1 each minute"))["format"],
            "until_failure",
            "{end}"
        );
    }
}
