//! Work: names, amounts, tools, substitutes, teams and levels.

use serde_json::{Value, json};

use super::{part, parts, plain, total};

#[test]
fn a_buy_in_on_the_line_of_the_rounds_is_done_once() {
    let part = part("Buy in 60 sit-ups, 3 rounds 12 thrusters 35/25 + 12 ring rows, cash out 40 sit-ups");
    assert_eq!(total(&part, "sit-up"), json!(100));
    assert_eq!(total(&part, "thruster"), json!(36));
    assert_eq!(part["rounds"], json!(3));
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
fn who_lacks_something_gets_a_substitute_and_no_more_work() {
    let part = part(
        "4 rounds for time: 9 handstand push-ups, 12 V-ups\nAthletes without HSPU: seated DB press 12.5/7.5, 14 reps",
    );
    assert_eq!(part["movements"], json!(["handstand-push-up", "v-up"]));
    assert_eq!(part["alternatives"].as_array().unwrap().len(), 1);
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
fn levels_on_one_line_give_the_load_of_the_first() {
    let part = part("Strength\nGoblet squat 4 x 9\n white 18 kg / pink 12 / bronze 8");
    assert_eq!(part["loads"]["goblet-squat"]["first"], json!(18));
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
fn the_line_of_a_level_gives_each_movement_its_own_load_in_order() {
    let part = part("For time\n30 wall balls\n25 kettlebell swings\nRx: 9/6, 24/16\nScaled: 6/4, 16/12");
    assert_eq!(part["loads"]["wall-ball"]["first"], json!(9));
    assert_eq!(part["loads"]["kettlebell-swing"]["first"], json!(24));
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
fn the_same_number_twice_is_one_for_either_side() {
    let part = part("AMRAP 10\n8/8 db row\n10 burpees");
    assert_eq!(part["per_round"]["dumbbell-row"]["amount"], 16);
    assert_eq!(super::part("AMRAP 10\n12/12 cal row\n9 burpees")["per_round"]["row"]["amount"], 12);
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
fn who_partitions_alone_is_no_team_and_a_number_of_a_partner_is_no_amount() {
    let alone = part("For time\n60 burpees\n120 sit-ups\nPartition as needed");
    assert_eq!(alone["team_size"], json!(1));
    let pair = part("In pairs, for time\n60 burpees\n120 sit-ups\nPartition as needed");
    assert_eq!(pair["team_size"], json!(2));
    let three = part("Teams of 3, 20 min AMRAP\nP1 rows 300 m, P2 rests, P3 rests");
    assert_eq!((&three["team_size"], &three["per_round"]["row"]["amount"]), (&json!(3), &json!(300)));
}

#[test]
fn calories_without_a_machine_are_of_the_one_named_above() {
    let part = part("For time\n24 cal ski\n30 wall balls 6/4\n16 cal\n20 wall balls");
    assert_eq!((total(&part, "ski"), total(&part, "wall-ball")), (json!(40), json!(50)));
}

#[test]
fn a_pace_is_no_distance_to_run() {
    let part = part("5 x 800 m run @ 10k pace, 2:00 jog between");
    assert_eq!((total(&part, "run"), &part["rounds"]), (json!(4000), &json!(5)));
}

#[test]
fn what_stands_between_the_rounds_is_not_done_after_the_last() {
    for (text, movement, amount) in [
        ("For time\n6-9-12-9-6\nthrusters 40/30 kg\npull-ups\n200 m run between the rungs", "run", 800),
        ("3 rounds for time\n14 wall balls\n12 lunges\nBetween rounds: 300 m row", "row", 600),
        ("4 rounds for time\n9 burpees\n18 sit-ups\n100 m run after each round except the last", "run", 300),
        (
            "For time\n15-12-9 deadlifts 80/55\n15-12-9 box jumps\nafter every rung but the last, 250 m row",
            "row",
            500,
        ),
        ("4 rounds for time\n9 burpees\n18 sit-ups\n100 m run after each round", "run", 400),
    ] {
        assert_eq!(total(&part(text), movement), json!(amount), "{text}");
        let again = plain(text);
        assert_eq!(plain(&again), again, "{text}");
    }
    let rounds = part("4 rounds for time\n9 burpees\n100 m run between rounds");
    assert_eq!((&rounds["rounds"], total(&rounds, "burpee")), (&json!(4), json!(36)), "{rounds:#}");
    // What is done once more behind the rounds is told as it was written.
    assert!(plain("5 rounds for time\n12 cal row\n15 burpees\nthen 12 cal row").contains("5 rounds"));
    // A lift's sets have what is done between them each time.
    let sets = part("Front squat 4x5 @ 70%\nBetween sets: 8 push-ups");
    assert_eq!(total(&sets, "push-up"), json!(32), "{sets:#}");
}

#[test]
fn a_part_of_the_body_is_stretched_where_it_is_timed_and_else_spoken_of() {
    let stretch = part("Cool-down: calves 1 min/side, wrists 45 s");
    assert_eq!(
        (total(&stretch, "calf-stretch"), total(&stretch, "wrist-stretch")),
        (json!(120), json!(45)),
        "{stretch:#}"
    );
    let squats =
        part("10 min AMRAP\n9 push-ups, elbows over the wrists\n15 air squats - feel it in the quads");
    assert_eq!(squats["movements"], json!(["push-up", "air-squat"]));
}

#[test]
fn sets_in_front_of_a_list_are_of_all_that_it_names() {
    let list = part("Warm-up\n2 x 6 deadlifts, muscle cleans, front squats");
    let totals = ["deadlift", "muscle-clean", "front-squat"].map(|movement| total(&list, movement));
    assert_eq!(totals, [json!(12), json!(12), json!(12)], "{list:#}");
}

#[test]
fn weights_in_the_plural_are_no_seconds() {
    let piece = part("3 rounds for time\n14 walking lunges with DBs 15s/10s\n300 m run");
    let load = &piece["loads"]["walking-lunge"];
    assert_eq!(
        (&piece["format"], &load["first"], &load["second"]),
        (&json!("for_time"), &json!(15), &json!(10)),
        "{piece:#}"
    );
    let intervals = part("8 x 20s/10s air squats");
    assert_eq!((&intervals["work_s"], &intervals["rest_s"]), (&json!(20), &json!(10)), "{intervals:#}");
}

#[test]
fn minutes_below_a_scheme_are_its_cap() {
    let piece = part("15-12-9\nFront squat 50/35\nBar-facing burpee\n12 min");
    assert_eq!((&piece["format"], &piece["cap_s"]), (&json!("for_time"), &json!(720)), "{piece:#}");
}

#[test]
fn so_long_each_is_so_long_for_all_that_is_named() {
    for text in ["Warm-up: 90 s each: row, skip, air bike", "Warm-up\n90 s each of row, skip, air bike"] {
        let warm = part(text);
        let totals = ["row", "single-under", "air-bike"].map(|movement| total(&warm, movement));
        assert_eq!(totals, [json!(90), json!(90), json!(90)], "{text}: {warm:#}");
    }
}

#[test]
fn how_an_amount_comes_about_is_not_done_twice() {
    let piece = part("For time\n160 m shuttle run (8 x 20 m)\n25 burpees");
    assert_eq!(total(&piece, "shuttle-run"), json!(160), "{piece:#}");
}

#[test]
fn a_part_of_the_body_in_front_of_a_colon_is_no_level_of_the_class() {
    let day = parts("Chest: incline DB press 3 x 12\nBack: 1-arm row 3 x 10 each\nLegs: leg curls 3 x 15");
    let named: Vec<&Value> = day.iter().flat_map(|part| part["movements"].as_array().unwrap()).collect();
    assert_eq!(named, ["incline-bench-press", "dumbbell-row", "banded-leg-curl"], "{day:#?}");
}

#[test]
fn rungs_told_one_by_one_go_on_while_there_is_time() {
    for text in [
        "10 min AMRAP: 2 push-ups, 2 cleans 60/40, 4 push-ups, 4 cleans, 6 push-ups, 6 cleans etc",
        "12 min ladder\n4 burpees\n4 lunges\n8 burpees\n8 lunges\n12 burpees\n12 lunges",
    ] {
        let again = plain(text);
        assert!(again.contains("2-4-6-...") || again.contains("4-8-12-..."), "{again}");
        assert_eq!(part(text)["format"], json!("amrap"), "{text}");
    }
    // What rises otherwise is a list.
    let list = part("AMRAP 10\n5 push-ups\n10 sit-ups\n15 lunges");
    assert_eq!(list["movements"], json!(["push-up", "sit-up", "lunge"]), "{list:#}");
}

#[test]
fn how_quick_a_machine_goes_is_no_length() {
    let rounds = part("4 rounds\n1000 m row @ 2:10-2:20\n20 sit-ups");
    assert_eq!((total(&rounds, "row"), &rounds["duration_s"]), (json!(4000), &Value::Null), "{rounds:#}");
}

#[test]
fn what_is_gone_round_may_have_been_done_once_above() {
    let day = parts("For time\n300 m run\n2 rounds\n100 m run + 300 m run\nthen 1 burpee");
    assert_eq!(day.len(), 1, "{day:#?}");
    assert_eq!(day[0]["format"], json!("for_time"), "{day:#?}");
}

#[test]
fn stretches_are_timed_and_no_length_of_the_part() {
    for (text, movement) in [
        ("shoulder stretch 1 min", "t-chest-stretch"),
        ("hamstring 1 min / side", "hamstring-stretch"),
        ("glute stretch 90 sec each", "half-pigeon"),
        ("neck stretch 45 s", "neck-stretch"),
    ] {
        let day = part(&format!("Mobility:\ncouch stretch 2 min / side\n{text}"));
        assert_eq!(day["movements"], json!(["couch-stretch", movement]), "{text}: {day:#}");
        assert_eq!(day["duration_s"], Value::Null, "{text}");
    }
}

#[test]
fn what_nobody_knows_is_told_whatever_it_is_done_with() {
    for name in ["zorbles", "DB zorbles", "kettlebell zorbles", "barbell zorbles"] {
        let text = format!("4 rounds:\n10 push-ups\n12 {name}\n12 sit-ups");
        let reading = lantern_reader::read(&text, lantern_session::movement::Catalogue::standard());
        let told = |problem: &lantern_session::Problem| problem.message.contains("is no movement I know");
        assert!(reading.problems.iter().any(told), "{name}: {:?}", reading.problems);
    }
}

#[test]
fn an_effort_paces_a_machine_and_makes_no_lift_of_it() {
    let row = part("Row 4 x 3 min @ RPE 6, 1 min rest");
    assert_eq!((&row["kind"], &row["rounds"]), (&json!("conditioning"), &json!(4)), "{row:#}");
    assert_eq!(total(&row, "row"), json!(720), "{row:#}");
}

#[test]
fn an_unknown_name_that_hyphens_hold_together_is_told() {
    let read = lantern_reader::read(
        "For time\n200 m run\n9 box gruntwax-overs\n9 push-ups",
        lantern_session::movement::Catalogue::standard(),
    );
    assert!(read.problems.iter().any(|problem| problem.message.contains("gruntwax")), "{:#?}", read.problems);
}
