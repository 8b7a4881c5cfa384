//! How often and how heavy: sets told in the ways of different coaches.

use lantern_session::movement::Catalogue;
use serde_json::{Value, json};

use super::{part, parts, plain, total};

#[test]
fn a_share_of_the_most_repetitions_is_no_number_of_them() {
    for text in ["Strict pull-ups 4 x 55% of max reps", "Push-ups: 4 sets of 55% of your max unbroken"] {
        let lift = part(text);
        assert_eq!(
            (&lift["sets"], &lift["percent"], &lift["percent_of"], &lift["reps"]),
            (&json!(4), &json!([55, 55]), &json!("most_reps"), &Value::Null),
            "{text}: {lift:#}"
        );
        assert!(plain(text).contains("55% of max reps"), "{}", plain(text));
    }
}

#[test]
fn lettered_lifts_below_the_word_superset_are_of_it() {
    let day = parts("Superset, 4 rounds:\nA) 7 bench press @ 70%\nB) 9 bent-over rows @ RPE 8");
    assert_eq!(day.len(), 1, "{day:#?}");
    assert_eq!((&day[0]["format"], &day[0]["sets"]), (&json!("superset"), &json!(4)), "{day:#?}");
    // A letter above the word begins a part of its own.
    let apart = parts(
        "A) Superset, 3 rounds:\n8 bench press\n8 bent-over rows\n\nB) 12 min AMRAP\n10 burpees\n200 m run",
    );
    assert_eq!(apart.len(), 2, "{apart:#?}");
}

#[test]
fn a_word_leads_from_practice_to_the_lift() {
    let day = parts("Double-unders practice 6 min, then deadlift 4x3 @ 80%");
    let kinds: Vec<&Value> = day.iter().map(|part| &part["kind"]).collect();
    assert_eq!(kinds, [&json!("skill"), &json!("strength")], "{day:#?}");
    assert_eq!((&day[1]["sets"], &day[1]["percent"]), (&json!(4), &json!([80, 80])), "{day:#?}");
}

#[test]
fn a_top_set_by_its_effort_is_built_up_to() {
    let lift = part("Bench press: top set of 4 @ RPE 8, then 3x6 @ -12%");
    assert_eq!(
        (&lift["format"], &lift["rm"], &lift["rpe"], &lift["percent"], &lift["reps"]),
        (&json!("build_to"), &json!(4), &json!([8, 8]), &json!([88, 88]), &json!([6, 6, 6])),
        "{lift:#}"
    );
}

#[test]
fn what_was_done_last_time_adds_no_work_and_no_load() {
    for text in [
        "Back squat 4x8; heavier than last time if all sets were clean",
        "Back squat: last session's top set + 2.5 kg for 3 x 5",
        "Back squat, 5 sets of 5, 5 kg heavier than last session",
    ] {
        let lift = part(text);
        assert_eq!(
            (&lift["movements"], &lift["loads"], &lift["rises"]),
            (&json!(["back-squat"]), &json!({}), &json!(false)),
            "{text}: {lift:#}"
        );
    }
}

#[test]
fn each_set_keeps_its_own_weight() {
    let text = "Bench press: 50/35 kg x 8, 60/42.5 kg x 6, 70/50 kg x 4";
    let lift = part(text);
    assert_eq!((&lift["sets"], &lift["reps"]), (&json!(3), &json!([8, 6, 4])), "{lift:#}");
    assert!(
        plain(text).contains("bench press: 50/35 kg x 8, 60/42.5 kg x 6, 70/50 kg x 4"),
        "{}",
        plain(text)
    );
    // Work with a load beside each movement is none of one lift.
    let piece = part("3 rounds for time\n12 thrusters @ 40 kg\n9 deadlifts @ 80 kg");
    assert_eq!(piece["kind"], json!("conditioning"), "{piece:#}");
}

#[test]
fn sets_of_ones_own_weight_that_stay_alike_are_sets() {
    let lift = part("Weighted ring dips 5-5-5-5-5, add weight each set");
    assert_eq!((&lift["kind"], &lift["sets"]), (&json!("strength"), &json!(5)), "{lift:#}");
    let piece = part("21-15-9\npull-ups");
    assert_eq!(piece["kind"], json!("conditioning"), "{piece:#}");
}

#[test]
fn a_strange_word_in_front_of_a_name_is_told() {
    for text in ["Strength\nGruntwax press 4x6", "Strength\nKettlebell bench press 4x6"] {
        let reading = lantern_reader::read(text, Catalogue::standard());
        let told = reading.assumptions.iter().any(|told| told.message.contains("nobody's name"));
        assert!(told, "{text}: {:#?}", reading.assumptions);
    }
    let reading = lantern_reader::read("Strength\nPause front squat 4x6", Catalogue::standard());
    assert!(reading.assumptions.is_empty(), "{:#?}", reading.assumptions);
}

#[test]
fn a_word_for_how_heavy_is_an_effort_that_is_told_and_makes_no_lift_of_a_piece() {
    let reading = lantern_reader::read("Landmine press 3x8 each arm, moderate", Catalogue::standard());
    assert_eq!(reading.session.parts[0].strength.rpe, Some([7.0, 7.0]));
    assert!(
        reading.assumptions.iter().any(|told| told.message.contains("RPE 7")),
        "{:#?}",
        reading.assumptions
    );
    let piece = part("3 rounds\n15 cal row\n25 m sled push, moderate\nrest 1:00 between rounds");
    assert_eq!((&piece["kind"], &piece["rpe"]), (&json!("conditioning"), &Value::Null), "{piece:#}");
}

#[test]
fn what_is_carried_makes_another_movement_of_the_same_name() {
    let lunges = part("Walking lunges 4 x 18 steps with 2 x 20/12.5 kg dumbbells");
    assert_eq!(lunges["movements"], json!(["dumbbell-lunge"]), "{lunges:#}");
    let plain = part("Walking lunges 4 x 18 steps");
    assert_eq!(plain["movements"], json!(["walking-lunge"]), "{plain:#}");
}

#[test]
fn several_sets_of_small_things_are_an_accessory_and_no_piece() {
    let day = part("Leg curls 3x15, calf raises 3x20 w/ 20/12 kg");
    assert_eq!(day["kind"], json!("accessory"), "{day:#}");
}

#[test]
fn machines_and_bars_of_other_names_are_no_lift_of_a_like_name() {
    for (text, movement) in [
        ("Leg press 4x12 RPE 8", "leg-press"),
        ("Seated cable row 3x10", "cable-row"),
        ("Upright row 3x10", "upright-row"),
        ("Snatch grip RDL 3x8", "romanian-deadlift"),
        ("Barbell step-ups 3x8", "barbell-step-up"),
    ] {
        let lift = part(&format!("Strength\n{text}"));
        assert_eq!(lift["movements"], json!([movement]), "{text}: {lift:#}");
    }
}

#[test]
fn an_empty_bar_is_kept_in_the_plain_notation() {
    assert!(plain("Good morning 3x8 with an empty bar").contains("with the empty bar"));
}

/// Sets below a list of repetitions are none of it, and their share is not the list's.
#[test]
fn sets_behind_a_list_are_sets_of_their_own() {
    for (behind, wanted) in [
        ("then 3 x 5 @ 70%", "deadlift 3x5\n@ 70%"),
        ("2 x 8 @ 65%", "deadlift 2x8\n@ 65%"),
        ("then 1 x 10 @ 70% of today's heaviest", "deadlift 1x10\n@ 70% of today's top set"),
        (
            "then 1 set max unbroken reps @ 70% of today's heaviest",
            "1 sets max deadlift\n@ 70% of today's top set",
        ),
    ] {
        let day = plain(&format!("Deadlift 5-5-3-3-1-1\n{behind}\n"));
        assert!(day.contains(wanted) && day.contains("deadlift 5-5-3-3-1-1\n\n"), "{behind}: {day}");
    }
    // A share for each of the list is the list's, and what they all are may be said below it.
    let listed = plain("Deadlift 5-3-1\n75/85/95%\n");
    assert!(listed.contains("deadlift 5-3-1\n@ 75-85-95%"), "{listed}");
}

/// "w/u:" and "work:" below the name of a lift head nothing: the way up is everybody's own.
#[test]
fn words_in_front_of_the_sets_of_a_lift_head_no_part() {
    for below in [
        "w/u: 10 @ bar, 8 @ 40%, 5 @ 55%\nwork: 4 x 6 @ 72.5%",
        "\nwarm up: 8 @ 40%, 5 @ 55%\nmain: 4 x 6 @ 72.5%",
        "ramp: 8 @ 40%, 5 @ 55%\nwork sets: 4 x 6 @ 72.5%",
    ] {
        let day = plain(&format!("Bench press\n{below}\n"));
        assert!(day.contains("Strength\nbench press 4x6\n@ 72.5%\n"), "{below}: {day}");
        assert!(!day.contains("Warm-up"), "{below}: {day}");
    }
}

/// "@ 70-80" of a lift is a share, and nobody's seventy repetitions.
#[test]
fn a_bare_range_behind_at_is_a_share() {
    for (text, wanted) in [
        ("Back squat 5x5 @ 70-80", "back squat 5x5\n@ 70-80%"),
        ("Snatch 12 x 1 @ 70-80, every 45 s", "every 0:45 x 12\n1 snatch\n@ 70-80%"),
    ] {
        assert!(plain(text).contains(wanted), "{text}: {}", plain(text));
    }
}

#[test]
fn a_dose_in_front_of_its_clock_is_done_each_minute() {
    let lift = part("Clean & jerk: 3 reps EMOM 10 @ 70%");
    assert_eq!(
        (&lift["format"], &lift["duration_s"], &lift["percent"]),
        (&json!("every"), &json!(600), &json!([70, 70]))
    );
    assert_eq!(total(&lift, "clean-and-jerk"), json!(30));
}

#[test]
fn shares_that_rise_with_each_wave_stay_within_it() {
    let waves = part("Deadlift 3-3-2-2-1-1 starting at 75%, +5% each wave");
    assert_eq!(waves["sets"], json!(6));
    assert!(plain("Deadlift 3-3-2-2-1-1 starting at 75%, +5% each wave").contains("@ 75-75-80-80-85-85%"));
    assert!(plain("Deadlift 3-3-2-2-1-1 starting at 70%, +5% each set").contains("@ 70-75-80-85-90-95%"));
}

#[test]
fn a_share_of_a_squat_is_of_the_one_with_a_bar_and_bare_shares_may_rise() {
    assert!(plain("Pause back squat 4x3 @ 70% of your squat").contains("@ 70% of back squat"));
    let complex = part("Snatch pull + snatch + overhead squat: 6 sets, 65 up to 78%");
    assert_eq!((&complex["sets"], &complex["percent"]), (&json!(6), &json!([65, 78])));
    assert_eq!(part("Weighted pull-ups: heaviest 5 of the day")["rm"], json!(5));
}

#[test]
fn work_between_the_sets_of_a_bar_takes_turns_with_them_and_is_no_race() {
    for between in [
        "Between sets: 7 strict pull-ups",
        "After each set: 7 strict pull-ups",
        "In between: 7 strict pull-ups",
    ] {
        let lift = part(&format!("Push jerk 4-4-3-3-2\n{between}"));
        assert_eq!((&lift["kind"], &lift["format"]), (&json!("strength"), &json!("superset")), "{between}");
        assert_eq!((&lift["reps"], &lift["score"]), (&json!([4, 4, 3, 3, 2]), &json!(null)), "{between}");
    }
    // Where it is raced, it is a race.
    let raced = part("For time, 9 min cap\n9-7-5 power snatch 40/30 kg\nafter each set: 7 burpees");
    assert_eq!(raced["format"], json!("for_time"));
}

#[test]
fn sets_of_all_that_goes_after_a_drop_are_as_many_open_sets() {
    for text in [
        "Bench press\nWork up to a heavy 4 (14 min)\nDrop 20%, 3 x max reps",
        "Bench press: build to a heavy 4, then drop 20% and do 3 x max reps",
    ] {
        let lift = part(text);
        assert_eq!((&lift["rm"], &lift["reps"]), (&json!(4), &json!([0, 0, 0])), "{text}");
        assert_eq!((&lift["percent"], &lift["open_last"]), (&json!([80, 80]), &json!(true)), "{text}");
    }
}

#[test]
fn three_numbers_behind_the_sign_of_a_weight_are_a_tempo_and_no_sets() {
    let lift = part("Romanian deadlift 4x9 @ 4-1-1");
    assert_eq!((&lift["tempo"], &lift["reps"]), (&json!("411"), &json!([9, 9, 9, 9])));
    // Efforts are larger numbers.
    assert_eq!(part("Back squat 3x5 @ RPE 7-8-9")["tempo"], json!(null));
}

#[test]
fn the_most_of_so_many_repetitions_is_of_the_load() {
    let lift = part("Find a 4 rep max bench press");
    assert_eq!(
        (&lift["rm"], total(&lift, "bench-press")),
        (&json!(4), total(&part("Find a 4RM bench press"), "bench-press"))
    );
}

#[test]
fn seconds_of_a_pause_in_brackets_are_no_team() {
    for text in ["4 paused back squats (3s) @ 65%", "Pause squat 4x4 (3s) @ 65%"] {
        let lift = part(text);
        assert_eq!((&lift["team_size"], &lift["tempo"]), (&json!(1), &json!("23X0")), "{text}");
    }
    assert_eq!(part("AMRAP 9 (2s)\n7 burpees\n9 sit-ups")["team_size"], json!(2));
}

#[test]
fn one_and_one_of_what_is_a_clean_and_a_jerk_is_one() {
    let reps = |text: &str| part(text)["reps"].clone();
    assert_eq!(reps("Clean & jerk 4 x 1+1 @ 75%"), json!([1, 1, 1, 1]));
    assert_eq!(reps("Power clean 4 x 1+1 @ 75%"), json!([2, 2, 2, 2]), "a cluster of two");
}

#[test]
fn rounds_below_a_cap_are_raced_at_whatever_share() {
    let race = part("4 rounds\n7 power cleans (45% of today's top)\n14 push-ups\ncap 11");
    assert_eq!((&race["format"], &race["cap_s"]), (&json!("for_time"), &json!(660)));
    let lifts = part("4 rounds\n7 front squats @ 65%\n14 push-ups\nrest 2 min");
    assert_eq!(lifts["kind"], json!("strength"), "nobody races them");
}

#[test]
fn as_many_as_you_can_less_some_are_sets_and_no_window() {
    let sets = part("Ring dips: 4 sets, as many as you can minus 2\nrest 3 min");
    assert_eq!(
        (&sets["format"], &sets["sets"], &sets["rest_s"], &sets["work_s"]),
        (&json!("max_reps"), &json!(4), &json!(180), &Value::Null)
    );
}
