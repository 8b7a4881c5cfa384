//! What takes turns, what is done once, what is told of more than one thing at a time.

use lantern_reader::{Gloss, LineRole, read, reading_json};
use lantern_session::movement::Catalogue;
use serde_json::{Value, json};

use super::{part, parts, plain, total};

/// What a text is told of: problems, questions and what was taken for granted.
fn told(text: &str) -> String {
    let reading = reading_json(&read(text, Catalogue::standard()));
    format!("{}{}{}", reading["problems"], reading["questions"], reading["assumptions"])
}

fn formats(text: &str) -> Vec<Value> {
    parts(text).iter().map(|part| json!([part["kind"], part["format"]])).collect()
}

#[test]
fn entries_of_one_line_take_turns_where_the_text_says_so() {
    for head in ["14 min EMOM alternating:", "Alternating EMOM 14:"] {
        let part = part(&format!("{head} 11 burpees, 13 kb swings 24/16"));
        assert_eq!(
            (total(&part, "burpee"), total(&part, "kettlebell-swing")),
            (json!(77), json!(91)),
            "{head}"
        );
    }
    let joined = part("14 min EMOM alternating: 4 burpees + 5 push-ups, 13 kb swings 24/16");
    assert_eq!((total(&joined, "burpee"), total(&joined, "push-up")), (json!(28), json!(35)));
}

#[test]
fn rounds_of_a_clock_go_round_its_minutes() {
    let part = part("EMOM x 4 rounds\nmin 1 - 11 cal row\nmin 2 - 9 burpees\nmin 3 - rest");
    assert_eq!((&part["duration_s"], total(&part, "burpee")), (&json!(720), json!(36)));
}

#[test]
fn even_minutes_come_second_though_they_are_written_first() {
    let part = part("EMOM 8\neven: 9 burpees\nodd: 7 push-ups");
    assert_eq!(part["tree"]["of"][0]["movement"], json!("push-up"));
}

#[test]
fn what_stands_before_as_many_rounds_as_the_time_left_is_done_once() {
    for text in [
        "In 13 minutes:\n900 m row\nthen in the remaining time AMRAP:\n5 burpees\n6 sit-ups",
        "900 m row, then as many rounds as possible of 5 burpees and 6 sit-ups until the 13 minute mark",
    ] {
        let part = part(text);
        assert_eq!((&part["format"], &part["duration_s"]), (&json!("amrap"), &json!(780)), "{text}");
        let tree = &part["tree"]["of"]["of"];
        assert_eq!((&tree[0]["movement"], &tree[1]["node"]), (&json!("row"), &json!("rounds")), "{text}");
    }
}

#[test]
fn each_bout_has_the_list_that_is_written_for_it() {
    let part = part(
        "3 x AMRAP 5 - rest 2:00\n1) 8 thrusters 40/30, 7 burpees\n2) 30 DU, 10 pull-ups\n3) 12 sit-ups",
    );
    let round = part["tree"]["of"]["of"].as_array().unwrap();
    let windows = round.iter().filter(|node| node["node"] == "within").count();
    assert_eq!((&part["tree"]["times"], windows), (&json!(1), 3));
}

#[test]
fn stations_of_a_long_clock_are_gone_round_once() {
    let text = "4 min on 1 min off x 4\nStation 1 row for cals\nStation 2 box step-over\nStation 3 ski\nStation 4 burpee";
    let part = part(text);
    assert_eq!(part["rounds"], json!(1));
    assert!(told(text).contains("all of them together"), "a guess says that it is one");
}

#[test]
fn numbers_of_any_size_are_read() {
    for text in [
        "4294967 min on 1 min off x 4294967294\nStation 1 row\nStation 2 ski",
        "EMOM x 4294967295 rounds\nmin 1 - 11 cal row\nmin 2 - 9 burpees",
        "Squat\nsets 1-4294967295 @ 70",
    ] {
        assert!(!told(text).is_empty(), "{text}");
    }
}

#[test]
fn what_cuts_in_from_the_start_begins_with_the_clock() {
    for told in ["(start with the push-ups)", "(including minute 0)"] {
        let part = part(&format!("For time\n80 wall balls, every minute on the minute 4 push-ups {told}"));
        assert_eq!(
            (&part["tree"]["node"], &part["tree"]["from_s"]),
            (&json!("interrupt"), &json!(0)),
            "{told}"
        );
    }
}

#[test]
fn who_stands_at_a_station_is_no_work_of_its_own() {
    let part = part("Team of 3, 28 min:\n2500 m row\n240 air squats\none person rows, one squats, one rests");
    assert_eq!(part["movements"], json!(["row", "air-squat"]));
}

#[test]
fn a_lift_and_what_stands_below_an_empty_line_are_two() {
    let text = "Split jerk 5x2 @ 75%\n\nThe long one:\n1200 m run\n40 pull-ups\n80 push-ups";
    assert_eq!(formats(text), [json!(["strength", "sets"]), json!(["conditioning", null])]);
    assert_eq!(formats("Row 2k\n\nBack squat 5x5")[1], json!(["strength", "sets"]));
}

#[test]
fn the_last_rest_of_a_scheme_leads_to_what_is_next() {
    let parts = parts("5-4-3-2-1\nMuscle-up\n\nrest 6 min\n\n1-2-3-4-5\nRope climb");
    assert_eq!(parts.len(), 2);
    assert_eq!(parts[0]["rest_s"], Value::Null);
}

#[test]
fn a_run_above_a_cool_down_is_the_session() {
    assert_eq!(parts("Run 5k\n\nCool down: 5 min walk")[0]["kind"], json!("conditioning"));
    assert_eq!(parts("Run 800 m\n\nBack squat 5x5 @ 70%")[0]["kind"], json!("warmup"));
}

#[test]
fn two_schemes_side_by_side_go_rung_by_rung() {
    let part = part("For time\n9 down to 1: deadlift 90/60 kg\n1 up to 9: burpees");
    assert_eq!((total(&part, "deadlift"), total(&part, "burpee")), (json!(45), json!(45)));
    assert_eq!(part["tree"]["of"].as_array().map(Vec::len), Some(18));
}

#[test]
fn a_name_in_quotes_is_a_name_whatever_is_in_it() {
    let part = part("\"Nine nines 9-9-9\"\n4 rounds for time\n9 burpees\n9 pull-ups");
    assert_eq!((&part["rounds"], total(&part, "burpee")), (&json!(4), json!(36)));
}

#[test]
fn a_word_in_front_of_a_name_that_is_nobodys_is_told() {
    assert!(told("3 rounds for time\n10 widget presses 40/30\n10 burpees").contains("nobody's name"));
    assert!(told("3 rounds for time\n10 half kneeling presses\n10 burpees").contains("begins like work"));
    assert_eq!(told("3 rounds for time\n10 presses 40/30 kg\n10 burpees"), "[][][]");
}

#[test]
fn odd_and_even_are_told_in_one_line() {
    for head in ["E90s x 8: odd sets", "E90s x 8: odd"] {
        let even = head.replace("E90s x 8: odd", "even");
        let part = part(&format!("{head} 3 power cleans, {even} 12 cal row"));
        assert_eq!((total(&part, "power-clean"), total(&part, "row")), (json!(12), json!(48)), "{head}");
    }
}

#[test]
fn a_list_is_gone_back_the_other_way() {
    let part = part("For time\n40 cal row, 30 box jumps, 20 burpees, then back up");
    assert_eq!((total(&part, "row"), total(&part, "burpee")), (json!(80), json!(20)));
}

#[test]
fn what_comes_whenever_so_many_are_done_is_in_rounds() {
    let part = part("For time\n90 step-ups\nEvery 15 reps: 7 push-ups");
    assert_eq!((total(&part, "box-step-up"), total(&part, "push-up")), (json!(90), json!(42)));
}

#[test]
fn partners_who_switch_do_so_in_rounds_too() {
    for text in [
        "In pairs, switch every 10 reps\n6 rounds for time\n20 burpees\n20 air squats",
        "In pairs, swap every 250 m\n4 rounds for time\n1000 m row\n20 air squats",
    ] {
        assert!(part(text)["tree"]["sharing"].is_object(), "{text}: {}", part(text)["tree"]);
    }
    // Other work that cuts in is nobody's turn.
    let cut_in = part("For time\n100 step-ups\nevery 20 reps: 10 push-ups");
    assert_eq!(cut_in["totals"]["push-up"]["amount"], json!(50));
}

/// Windows with a header of their own each, gone through more than once: how often stands above the first or below the last.
#[test]
fn windows_that_take_turns_are_one_piece() {
    let windows =
        "AMRAP 3:\n8 burpees\n10 air squats\nrest 2 min\n3 min AMRAP\n6 pull-ups, 12 sit-ups\nrest 2 min\n";
    let wanted = "4 x 3:00 AMRAP, 2:00 rest between\n1) 8 burpee + 10 air squat\n2) 6 pull-up + 12 sit-up";
    for text in [
        format!("2 sets:\n{windows}"),
        format!("2 rounds of\n\n{}", windows.replace("rest", "\nrest")),
        format!("{windows}x 2\n"),
        format!("{windows}\nRepeat both twice\n"),
        format!("A) {}", windows.replace("3 min", "B) 3 min") + "Go through a and b 2 times\n"),
    ] {
        assert!(plain(&text).contains(wanted), "{text}{}", plain(&text));
        part(&text);
        // Every line says what it is of.
        let lines = read(&text, Catalogue::standard()).lines;
        let unsaid = |line: &&Gloss| line.role != LineRole::Blank && line.said.is_empty();
        assert_eq!(lines.iter().find(unsaid), None, "{text}");
    }
    // Once through they are as many pieces, and so are those that are not alike.
    assert_eq!(parts(windows).len(), 2);
    let unlike = [
        format!("2 sets:\n{}", windows.replace("3 min AMRAP", "5 min AMRAP")),
        format!("2 sets:\n{windows}AMRAP 5\n15 burpees\nrest 2 min\n"),
    ];
    for text in unlike {
        assert!(!plain(&text).contains("4 x"), "{}", plain(&text));
    }
}

/// "AMRAP 2 - 10 box jumps" is two minutes of tens, not two to ten; "AMRAP 2:" above "AMRAP 3:" is no second bout.
#[test]
fn a_dash_between_a_length_and_an_amount_makes_no_range() {
    let open = plain("AMRAP 2 - 10 box jumps, 10 push-ups");
    assert!(open.contains("AMRAP 2:00\n10 box jump\n10 push-up"), "{open}");
    let lengths: Vec<Value> = parts("AMRAP 2:\n10 box jumps\n\nrest 1 min\n\nAMRAP 3:\n10 burpees")
        .into_iter()
        .map(|part| part["duration_s"].clone())
        .collect();
    assert_eq!(lengths, [json!(120), json!(180)]);
}

/// A rest and how often all of it is done, told behind stations: it is rested between the rounds, and the repetitions count.
#[test]
fn rounds_told_behind_stations_go_round_all_of_them() {
    let wanted = "3 rounds, 1:00 at each station\nwall ball\nbox jump\nrow\nrest 1:00 between rounds\nscore: total reps";
    for text in [
        "For reps: 1 min max wall balls, 1 min max box jumps, 1 min max cal row, 1 min rest. 3 rounds.",
        "1 min wall balls\n1 min box jumps\n1 min cal row\n1 min rest\n3 rounds\nscore: total reps",
    ] {
        assert!(plain(text).contains(wanted), "{text}: {}", plain(text));
    }
}

/// As far as possible is counted in metres.
#[test]
fn the_longest_distance_is_metres() {
    for text in [
        "10 min max distance row",
        "AMRAP 10: max distance row",
        "Row for max distance, 10 min",
        "10 min to row as far as you can",
    ] {
        assert!(plain(text).contains("max metres row"), "{text}: {}", plain(text));
    }
}

/// A rest that is told once above several bouts lies behind each of them but the last.
#[test]
fn bouts_that_are_told_together_are_rested_between() {
    let bouts = ["6 pull-ups, 8 burpees", "30 double unders, 10 sit-ups", "8 burpees, 12 cal row"];
    for (head, marks) in [
        ("AMRAP x 3 (4 min each, 2 min rest)", ["AMRAP 1: ", "AMRAP 2: ", "AMRAP 3: "]),
        ("3 AMRAPs of 4 min, rest 2 min between", ["A) ", "B) ", "C) "]),
    ] {
        let lines: Vec<String> =
            marks.iter().zip(bouts).map(|(mark, bout)| format!("{mark}{bout}")).collect();
        let parts = parts(&format!("{head}\n{}", lines.join("\n")));
        let told: Vec<_> = parts.iter().map(|part| (&part["duration_s"], &part["then_rest_s"])).collect();
        let (four, two, none) = (json!(240), json!(120), json!(null));
        assert_eq!(told, [(&four, &two), (&four, &two), (&four, &none)], "{head}");
    }
}

#[test]
fn rungs_below_a_told_step_are_a_ladder() {
    let told = plain(
        "AMRAP 7 ascending by 3:\n3 thrusters 40/30\n3 lateral burpees\n6 thrusters\n6 lateral burpees...",
    );
    assert!(told.contains("3-6-9-...\nthruster, 40/30 kg\nlateral burpee over bar\n"), "{told}");
    let said = plain("Nine, seven and five squat cleans and ring dips for time, cap nine minutes");
    assert!(said.contains("9-7-5\nclean\nring dip\ncap 9:00"), "{said}");
}
