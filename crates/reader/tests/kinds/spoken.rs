//! What is said aloud: corrections, clauses, and who does what while another works.

use serde_json::json;

use super::{part, parts, plain, total};

#[test]
fn what_is_taken_back_is_not_done() {
    for slip in ["hang on, no,", "no, hang on,", "actually, no,"] {
        let text = format!(
            "we are doing a twelve minute amrap today, that is thirty calories on the rower, {slip} twenty calories on the rower because we are many, then ten burpees"
        );
        assert_eq!(part(&text)["per_round"]["row"]["amount"], 20, "{slip}");
    }
}

#[test]
fn the_last_clause_of_a_spoken_sentence_counts_like_the_others() {
    let text = "we're going to do twenty minutes without a score, five minutes easy row, five minutes easy bike, five minutes on the ski with a straight back, sit up whenever you want to.";
    assert_eq!(part(text)["movements"], json!(["row", "bike", "ski"]));
}

#[test]
fn sets_on_a_clock_may_be_told_as_so_many_each_time() {
    let part = part(
        "strength is front squat every two minutes for twelve minutes four reps each time at seventy percent",
    );
    assert_eq!((&part["sets"], &part["reps"]), (&json!(6), &json!([4, 4, 4, 4, 4, 4])), "{part:#}");
}

#[test]
fn one_bell_is_held_throughout_and_putting_it_down_costs() {
    let part = part(
        "then we've got a ten minute amrap and it's all one bell, 20/14 kg, so twelve goblet squats and ten kettlebell swings, and if you put the bell down before the round is over you owe me four burpees",
    );
    for movement in ["goblet-squat", "kettlebell-swing"] {
        assert_eq!(part["loads"][movement]["first"], 20, "{part:#}");
    }
    assert!(
        plain("AMRAP 8\n10 kb swings 24/16\nif you set the bell down, 3 burpees")
            .contains("every time you break: 3 burpee")
    );
}

#[test]
fn an_easy_start_warms_up() {
    let day = parts(
        "Tomorrow we're going to start with four minutes easy on the bike, then two rounds of ten lunges and ten ring rows.\n\nThen deadlift, five sets of three at 75%, two minutes rest.",
    );
    assert_eq!(
        (day[0]["kind"].as_str(), day[1]["kind"].as_str()),
        (Some("warmup"), Some("strength")),
        "{day:#?}"
    );
}

#[test]
fn a_rest_of_both_is_that_of_the_lift_above_too() {
    for line in ["Both: rest 2 min", "Rest 2 min between sets on both"] {
        let day = parts(&format!("Bench press 4x6 @ 70%\nDeadlift 4x4 @ 75%\n{line}"));
        assert_eq!((&day[0]["rest_s"], &day[1]["rest_s"]), (&json!(120), &json!(120)), "{line}");
    }
}

#[test]
fn what_cuts_in_may_say_that_it_does_not_at_zero() {
    let text = plain(
        "For time:\n80 air squats\nBUT: every minute, on the minute (not at 0:00) stop and do 4 push-ups + 6 lunges\ncap 15",
    );
    assert!(
        text.contains("at the start of every 1:00, beginning at 1:00, stop and do 4 push-up + 6 lunge"),
        "{text}"
    );
    // How it is broken up is advice.
    assert!(
        !plain("For time:\n80 air squats\nSets of 6 to 9 squats per minute will do").contains("6 air squat")
    );
}

#[test]
fn what_is_held_meanwhile_is_named_and_takes_no_time() {
    let text = "Pairs, for time, cap 20\n90 kb swings 24/16 (partner holds a plank)\n70 sit-ups (partner hangs from the bar)\n50 push-ups";
    let read = part(text);
    assert_eq!(read["movements"], json!(["kettlebell-swing", "plank", "sit-up", "dead-hang", "push-up"]));
    assert_eq!(
        (total(&read, "kettlebell-swing"), &read["totals"]["plank"]),
        (json!(90), &json!(null)),
        "{read:#}"
    );
    let written = plain(text);
    assert!(written.contains("\nplank while the other works\n"), "{written}");
    assert_eq!(plain(&written), written, "read back");
}

#[test]
fn a_complex_is_named_above_what_it_is_made_of() {
    let part = part(
        "STRENGTH\n\nClean complex every 2 min, 6 sets:\n\n  1 clean pull\n  1 hang clean\n  1 front squat\n\nStart around 60 %, end around 75 % of your clean. Missed the hang clean? Same weight again.",
    );
    assert_eq!(part["movements"], json!(["clean-pull", "hang-clean", "front-squat"]), "{part:#}");
    assert_eq!(part["percent"], json!([60, 75]));
}

#[test]
fn an_amrap_behind_a_run_has_the_length_that_was_told() {
    let part = part("In 9 minutes: 600 m run, then AMRAP of\n6 push press 40/30 kg\n8 box jumps");
    assert_eq!((&part["duration_s"], total(&part, "run")), (&json!(540), json!(600)), "{part:#}");
}

#[test]
fn what_no_catalogue_knows_is_said_and_not_the_movement_above() {
    let text = plain(
        "Accessory\n3 rounds\n12 good mornings\n40 s farmers carry\nplate gruntwax hold, as long as you can",
    );
    assert!(!text.contains("max"), "{text}");
}

#[test]
fn the_week_at_the_top_shares_nothing_of_today() {
    let day = parts(
        "Mon - squats, short couplet\nTue - push press << TODAY\nWed - deadlifts, partner work\n\nTUESDAY\n\nPush press 4x3 @ 75%\n\n3 rounds for time\n10 burpees\n200 m run",
    );
    assert!(day.iter().all(|part| part["team_size"].as_u64().unwrap_or(1) == 1), "{day:#?}");
}
