//! Shares of a maximum, and what else stands beside a lift.

use serde_json::json;

use lantern_reader::read;
use lantern_session::movement::Catalogue;
use lantern_session::text::session_text;

use super::{part, parts};

/// The day in the plain notation.
fn plain(text: &str) -> String {
    session_text(&read(text, Catalogue::standard()).session, Catalogue::standard())
}

#[test]
fn shares_stand_before_their_repetitions_too() {
    let part = part("Back squat\nweek 3: 75x5, 85x3, 95x1+");
    assert_eq!((&part["reps"], &part["percent"]), (&json!([5, 3, 1]), &json!([75, 95])));
    assert!(plain("Back squat\nweek 3: 75x5, 85x3, 95x1+").contains("@ 75-85-95%"));
    assert_eq!((&part["open_last"], &part["tempo"]), (&json!(true), &json!(null)));
}

#[test]
fn shares_without_a_sign_rise_as_no_repetitions_do() {
    assert!(plain("Push jerk - 2 reps every 75 seconds x 4. 60-65-70-75").contains("@ 60-65-70-75%"));
    assert_eq!(part("3 rounds for time\n10 burpees\n21-15-9 sit-ups")["percent"], json!(null));
}

#[test]
fn numbered_sets_have_the_share_that_is_told_of_them() {
    let text = plain("Split jerk\n5 sets of 2. Sets 1-2 @70, sets 3-4 @75, set 5 @80");
    assert!(text.contains("split jerk 5x2\n@ 70-70-75-75-80%"), "{text}");
}

#[test]
fn open_sets_at_a_share_of_their_own() {
    let text = plain("Deadlift\n65% x 5\n75% x 5\nthen 3 x AMRAP @ 65%");
    assert!(text.contains("deadlift 5-5-max-max-max\n@ 65-75-65-65-65%"), "{text}");
}

#[test]
fn a_share_is_of_the_lift_that_is_named_behind_it() {
    let part = part("Back rack lunge 4x8 @ 40% back squat");
    assert_eq!(
        (&part["movements"], &part["percent_of"]),
        (&json!(["back-rack-lunge"]), &json!({"lift": "back-squat"}))
    );
}

#[test]
fn a_weight_more_than_last_week_is_no_weight() {
    let parts =
        parts("Bench press\n5 x 5, add 2.5 kg from last week\n\nSquat 5 x 5\n*add 2-5 kg vs last week*");
    for part in parts {
        assert_eq!(
            (&part["rises"], &part["load_range"], &part["loads"]),
            (&json!(false), &json!(null), &json!({}))
        );
    }
}

#[test]
fn the_next_sets_are_no_second_weight() {
    let part = part("Bench press 3x8 @60kg / 2x5 @70kg");
    assert_eq!(part["reps"], json!([8, 8, 8, 5, 5]));
}

#[test]
fn bells_that_are_made_in_pounds_alone_are_in_pounds() {
    let unit = |text: &str, id: &str| part(text)["loads"][id]["unit"].clone();
    assert_eq!(
        unit("3 rounds for time\n400 m run\n21 kettlebell swings (53/35)", "kettlebell-swing"),
        json!("lb")
    );
    assert_eq!(
        unit("3 rounds for time\n400 m run\n21 kettlebell swings (32/24)", "kettlebell-swing"),
        json!("kg")
    );
    assert_eq!(unit("3 rounds for time\n400 m run\n20 DB snatches 50/35", "dumbbell-snatch"), json!("lb"));
    assert_eq!(
        unit("3 rounds for time\n400 m run\n20 DB snatches 22.5s/15s", "dumbbell-snatch"),
        json!("kg")
    );
}

#[test]
fn nobody_does_four_hundred_repetitions() {
    let part = part("Run\n5 x 400 @ mile pace, 90 sec rest");
    assert_eq!(part["totals"]["run"], json!({"amount": 2000, "unit": "metres"}));
}

#[test]
fn a_complex_counted_behind_its_sets_has_its_share() {
    for text in [
        "Snatch pull + hang snatch: 6 x 2+1 @ 70%",
        "Snatch pull + hang snatch: 6 sets of 2+1 @ 70%",
        "Snatch pull + hang snatch\n6 x (2+1) @ 70%",
    ] {
        let told = plain(text);
        assert!(told.contains("2 snatch pull + 1 hang snatch, 6 sets\n@ 70%"), "{text}: {told}");
    }
}

#[test]
fn the_last_of_a_list_may_be_open_or_end_short_of_failure() {
    let open = plain("Deadlift\n60%x5, 70%x3, 80% x max");
    assert!(open.contains("deadlift 5-3-max\n@ 60-70-80%\nlast set open"), "{open}");
    let short = plain("Deadlift\n60%x5, 70%x3, 80% x AMRAP(-2)");
    assert!(short.contains("deadlift 5-3-max\n@ 60-70-80%\nlast set open\nRPE 8"), "{short}");
    let dips = plain("Bar dips: 3 sets to 1 short of failure");
    assert!(dips.contains("bar dip 3 sets\nRPE 9"), "{dips}");
}

#[test]
fn shares_that_rise_by_so_much_are_one_for_each_set() {
    for text in [
        "Back squat E2MOM x 7: 3 reps, start @ 60% + 5% every set until 85%, stay there",
        "Back squat 7x3, start @ 60%, +5% each set until 85%",
        "Back squat 7x3, start at 60% and add 5% each set until 85%",
    ] {
        assert!(plain(text).contains("@ 60-65-70-75-80-85%"), "{text}: {}", plain(text));
    }
    let said =
        plain("Push press. Five sets of three. First set at seventy percent, last set at about eighty five.");
    assert!(said.contains("push press 5x3\n@ 70-85%"), "{said}");
}

#[test]
fn an_empty_bar_in_front_of_shares_leads_up_to_them() {
    let told = plain("Strict press: 1x10 empty bar, 1x5 @ 50%, 1x3 @ 60%, then 3x5 @ 75%");
    assert!(told.contains("strict press 5-3-5-5-5\n@ 50-60-75-75-75%"), "{told}");
    let beside = plain(
        "Strict press: 1x10 empty bar, 1x5 @ 50%, 1x3 @ 60%, then 3x5 @ 75%\nBetween sets: 8 dumbbell rows",
    );
    assert!(
        beside.contains("Superset, 5 sets\nA1) strict press 5-3-5-5-5 @ 50-60-75-75-75%\nA2) 8 dumbbell row"),
        "{beside}"
    );
    // Alone it is what is lifted.
    assert!(plain("Strict press 3x10 with the empty bar").contains("empty bar"));
}

#[test]
fn a_share_printed_on_a_clock_stands_there_once() {
    let told = plain(
        "EMOM 16\nodd: 3 power snatches, building from 60 to 80 percent every two rounds\neven: 10 sit-ups",
    );
    assert_eq!(told.matches("@ 60-80%").count(), 1, "{told}");
}

#[test]
fn bars_of_a_race_have_a_share_each() {
    let told = plain(
        "For Time:\n15 clean and jerks @60%\n1 mile run\n10 clean and jerks @70%\n800 m run\n5 clean and jerks @80%\n400 m run\nTime cap: 28:00",
    );
    assert!(
        told.contains(
            "15 clean and jerk @ 60%\n1609 m run\n10 clean and jerk @ 70%\n800 m run\n5 clean and jerk @ 80%\n400 m run\ncap 28:00"
        ),
        "{told}"
    );
}

#[test]
fn the_first_and_the_last_sets_have_shares_of_their_own_without_a_sign() {
    let part = part("Clean\n8 sets of 2, every 90 s\nfirst 4 @ 65, last 4 @ 72");
    assert_eq!(part["percent"], json!([65, 72]), "{part:#}");
}

#[test]
fn waves_below_each_other_are_the_sets_of_one_lift() {
    for text in [
        "Bench press\nwave 1: 7/5/3 @ 60/66/72\nwave 2: 7/5/3 @ 64/70/76",
        "Bench press\n7-5-3 @ 60-66-72%\n7-5-3 @ 64-70-76%",
    ] {
        let part = part(text);
        assert_eq!(part["reps"], json!([7, 5, 3, 7, 5, 3]), "{text}");
        assert_eq!(part["percent"], json!([60, 76]), "{text}");
    }
}

#[test]
fn what_is_said_of_all_lifts_is_said_of_each() {
    let day = parts("All lifts at 55-65%\nFront squat 4x4\nStrict press 4x4\nPendlay row 4x6");
    assert_eq!(day.len(), 3, "{day:#?}");
    assert!(day.iter().all(|part| part["percent"] == json!([55, 65])), "{day:#?}");
    // A lift with a share of its own keeps it.
    let day = parts("All lifts at 55-65%\nFront squat 4x4\nStrict press 4x4\nDeadlift 4x2 @ 80%");
    assert_eq!(day[2]["percent"], json!([80, 80]), "{day:#?}");
}
