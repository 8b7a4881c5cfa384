//! Lifts: sets, shares, complexes, and what is done before them.

use lantern_reader::read;
use lantern_session::movement::Catalogue;
use serde_json::{Value, json};

use super::{part, parts, plain, total};

#[test]
fn sets_belong_to_the_lift_that_names_no_number_of_its_own() {
    let part = part("Push press\n5 sets of 4\nsuperset with 8 pull-ups");
    assert_eq!((&part["kind"], &part["format"]), (&json!("strength"), &json!("superset")));
    assert_eq!((total(&part, "push-press"), total(&part, "pull-up")), (json!(20), json!(40)));
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
fn what_cannot_be_lifted_or_held_stays_as_it_is_written() {
    // Implausible is not unsaid: every number stays where the coach wrote it.
    let full = part("every 1:00 x 4\n1) 79 s plank\n2) 18 dead bugs each side");
    assert_eq!((total(&full, "plank"), total(&full, "dead-bug")), (json!(158), json!(72)));
    assert_eq!(part("For time\n7 rounds\n58 burpees")["rounds"], json!(7));
}

#[test]
fn a_complex_in_sets_on_a_clock_is_lifting_and_a_scheme_behind_a_heading_is_a_scheme() {
    let complex = part("Complex: 1 power clean + 1 front squat + 2 jerks\n6 sets, building, every 2 minutes");
    assert_eq!((&complex["kind"], &complex["interval_s"]), (&json!("strength"), &json!(120)));
    let metcon = part("Metcon 9-15-21: calorie row, KB swing 24/16. 7 min cap.");
    assert_eq!((total(&metcon, "kettlebell-swing"), &metcon["cap_s"]), (json!(45), &json!(420)));
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
fn same_bar_may_be_that_of_the_piece_before() {
    let parts = parts(
        "a) 6' AMRAP\n6 hang power cleans 45/30kg\n9 sit-ups\n\nb) For time\n18 front squats, same bar\n18 box jumps\ncap 6'",
    );
    assert_eq!(parts[1]["loads"]["front-squat"]["first"], json!(45));
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
fn shares_may_climb_by_a_step_and_the_sets_follow() {
    let part = part("Front squat, 18 minutes\nSets of 2. Start at 65% and go up 5% a set until 85%");
    assert_eq!((&part["sets"], &part["reps"]), (&json!(5), &json!([2, 2, 2, 2, 2])));
    assert_eq!(part["percent"], json!([65, 85]));
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
fn a_dose_at_a_share_stays_in_its_list() {
    let part = part("3 rounds, start every 4 min:\n200 m row\n9 toes-to-bar\n6 power cleans @ 65 %");
    assert_eq!((&part["format"], total(&part, "power-clean")), (&json!("every"), json!(18)));
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
fn so_many_out_of_ten_is_how_hard() {
    assert_eq!(part("Push press: 6 sets of 3, around 8/10")["rpe"], json!([8, 8]));
    let part = part("For time\n20 power snatches 35/25\n20 burpees\nScale: never go below 3 in a row");
    assert_eq!(part["target"], Value::Null);
    assert_eq!(part["movements"], json!(["power-snatch", "burpee"]));
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
fn another_exercise_beside_a_lift_leaves_it_under_its_heading() {
    let part = part("Strength\nEvery 2:30 x 5\n8 bench press\n8 db rows");
    assert_eq!((&part["kind"], &part["format"]), (&json!("strength"), &json!("every")));
}

#[test]
fn the_first_of_numbered_sets_counts_like_the_others() {
    let part = part("Front squat\nSet 1: 6 reps @ RPE 6\nSet 2: 4 reps @ RPE 7\nSets 3-4: 3 reps @ RPE 8");
    assert_eq!((&part["sets"], total(&part, "front-squat")), (&json!(4), json!(16)));
    assert_eq!((&part["rpe"], &part["efforts"]), (&json!([6, 8]), &json!([6.0, 7.0, 8.0, 8.0])));
}

#[test]
fn shares_of_a_training_max_say_so_and_how_much_it_is() {
    for (text, of) in [
        ("Deadlift 3x5 @ 80%\nUse training max (90%)", json!({"percent": 90.0})),
        ("Deadlift 3x5 @ 80% of TM (85% of 1RM)", json!({"percent": 85.0})),
        ("Deadlift 3x5 @ 80% of your training max", json!("usual")),
        ("Deadlift 3x5 @ 80% TM", json!("usual")),
        ("Deadlift 3x5 @ 80%", Value::Null),
    ] {
        let part = part(text);
        assert_eq!((&part["training_max"], &part["percent"]), (&of, &json!([80, 80])), "{text}");
        plain(text);
    }
    let quiet = part("Snatch: find your heavy single of the day (20'), no misses after 85%");
    assert_eq!((&quiet["percent"], &quiet["duration_s"]), (&Value::Null, &json!(1200)));
}

#[test]
fn lifts_that_are_each_rested_after_rest_from_the_shortest_to_the_longest() {
    let text = "A1 DB bench press 4x8 rest 45s\nA2 Ring rows 4x10 rest 75s";
    let pair = part(text);
    assert_eq!((&pair["format"], &pair["rest_s"]), (&json!("superset"), &Value::Null), "{pair:#}");
    assert!(plain(text).contains("rest 0:45 - 1:15 between sets"), "{}", plain(text));
    let alike = part("A1 DB bench press 4x8 rest 60s\nA2 Ring rows 4x10 rest 60s");
    assert_eq!(alike["rest_s"], json!(60), "{alike:#}");
    let after = parts("Bench press 5x5\nBent over rows 5x8, rest 2 min after the row");
    assert!(after.iter().all(|part| part["totals"].get("row").is_none()), "{after:#?}");
}

#[test]
fn a_share_of_it_is_of_what_was_built() {
    let lift =
        part("Build to a heavy double in the front squat, 14 minutes. Then take 80% of it for 3 sets of 2");
    assert_eq!((&lift["percent"], &lift["percent_of"]), (&json!([80, 80]), &json!("today")), "{lift:#}");
    let off = part("Build to a heavy double in the front squat in 14 minutes, then take 15% off and do 3x3");
    assert_eq!((&off["percent"], &off["percent_of"]), (&json!([85, 85]), &json!("today")), "{off:#}");
}

#[test]
fn what_was_lifted_last_week_is_no_load() {
    let lift = part("Bench press 5x5, same weight as last week + 2.5 kg");
    assert_eq!((&lift["sets"], &lift["loads"]), (&json!(5), &json!({})), "{lift:#}");
    let day = parts(
        "1) Clean: 14 min to establish a heavy single - no misses, stop if technique slips\n2) Clean pull 3x3 @ 95% of the single from today",
    );
    assert_eq!(day.len(), 2, "{day:#?}");
    assert_eq!(
        (&day[0]["movements"], &day[1]["movements"]),
        (&json!(["clean"]), &json!(["clean-pull"])),
        "{day:#?}"
    );
}

#[test]
fn the_way_up_to_the_work_sets_is_not_counted_and_alone_it_is_the_lift() {
    let lift = part("Bench press\nWarm-up sets: 6 @ 45, 4 @ 55\nWorking sets: 5x3 @ 80%");
    assert_eq!((&lift["sets"], &lift["percent"]), (&json!(5), &json!([80, 80])), "{lift:#}");
    let test = part("Clean & jerk\nWarm-up sets: 3 @ 55, 2 @ 65, 1 @ 75, then 3 attempts at a new max");
    assert_eq!(test["percent"], json!([55, 75]), "{test:#}");
}

#[test]
fn a_complex_told_in_brackets_below_its_name_is_one_bar() {
    let text =
        "Snatch complex\n(1 snatch pull, 1 hang snatch, 2 overhead squats)\nBuild over 6 sets. Rest 2 min.";
    let complex = part(text);
    assert_eq!(complex["movements"], json!(["snatch-pull", "hang-snatch", "overhead-squat"]), "{complex:#}");
    assert_ne!(complex["format"], json!("superset"), "{complex:#}");
}

#[test]
fn a_plus_behind_the_last_repetitions_opens_the_last_set() {
    for text in ["Bench press 5/3/1+ @ 75/85/95%", "Bench press 5-3-1+\n@ 75/85/95%"] {
        let lift = part(text);
        assert_eq!(
            (&lift["open_last"], &lift["reps"]),
            (&json!(true), &json!([5, 3, 1])),
            "{text}: {lift:#}"
        );
    }
}
