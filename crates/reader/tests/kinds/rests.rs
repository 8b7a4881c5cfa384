//! Rests: between pieces, as long as the work, as needed, and what a clock leaves.

use serde_json::{Value, json};

use lantern_reader::read;
use lantern_session::movement::Catalogue;

use super::{part, parts, plain, total};

#[test]
fn a_rest_in_a_paragraph_of_its_own_above_another_piece_leads_to_it() {
    for (rest, next) in [
        ("rest 3 min", "C) 18-12-6 for time, cap 6"),
        ("REST 2:00", "C) 21-15-9 for time"),
        ("2 min rest", "21-15-9 for time"),
        ("3 min after the last one is out", "21-15-9 for time"),
    ] {
        let text = format!(
            "B) 5 rds for time, cap 15\n10 deadlifts 90/60\n8 burpees\n\n{rest}\n\n{next}\ncal row\nsit-ups"
        );
        let parts = parts(&text);
        assert_eq!((&parts[0]["format"], &parts[0]["rest_s"]), (&json!("for_time"), &Value::Null), "{text}");
        assert_eq!(parts.len(), 2, "{text}");
        let seconds = if rest.contains('3') { 180 } else { 120 };
        assert_eq!(parts[0]["then_rest_s"], json!(seconds), "{text}");
        // And no rest leads on from the last.
        assert_eq!(parts[1]["then_rest_s"], Value::Null, "{text}");
    }
    // Below the last piece, or with the rounds, it is between them.
    let between = part("5 rounds\n10 deadlifts 90/60\n8 burpees\nrest 2:00");
    assert_eq!((&between["format"], &between["rest_s"]), (&json!("intervals"), &json!(120)));
}

#[test]
fn a_rest_of_which_nobody_says_how_long_it_is_is_guessed_by_the_work_and_said_to_be() {
    let catalogue = Catalogue::standard();
    for (text, share) in [
        ("4 rounds\n500 m row\n10 burpees\nrest as needed", 1.0),
        ("4 rounds with rest 1:1\n500 m row\n10 burpees", 1.0),
        ("4 rounds, each for time, rest as long as it took\n500 m row\n10 burpees", 1.0),
        ("4 rounds, each for time, rest while your partner works\n500 m row\n10 burpees", 1.0),
        ("4 rounds, rest 1:2\n300 m row", 2.0),
        ("6 x 100 m sprint, walk back", 3.0),
    ] {
        let piece = part(text);
        assert_eq!(piece["format"], json!("intervals"), "{text}");
        let once =
            part(&text.replace("rest as needed", "").replace("1:2", "1:1").replace("walk back", "rest 1:1"));
        let (rest, alone) = (piece["rest_s"].as_f64().unwrap(), once["rest_s"].as_f64());
        if share > 1.0 {
            let alone = alone.unwrap();
            assert!((rest - share * alone).abs() <= 15.0 * share, "{text}: {rest} and {alone}");
        }
        assert!((30.0..=300.0).contains(&rest), "{text}: {rest}");
        let reading = read(text, catalogue);
        assert!(reading.assumptions.iter().any(|told| told.message.contains("is a guess")), "{text}");
    }
    // Whoever races rests at will, a team while the others work, and a written work time is exact.
    assert_eq!(part("4 rounds for time\n500 m row\n10 burpees\nrest as needed")["format"], json!("for_time"));
    assert_eq!(
        part("In pairs, 6 rounds, rest while your partner works\n250 m row\n10 burpees")["rest_s"],
        Value::Null
    );
    let exact = part("5 x 3 min row, rest 1:1");
    assert_eq!((&exact["work_s"], &exact["rest_s"]), (&json!(180), &json!(180)));
    let odd = part("5 rounds, rest 1:1\n3:10 row");
    assert_eq!(odd["rest_s"], json!(190));
    let half = part("5 x 2 min row, rest 2:1");
    assert_eq!((&half["work_s"], &half["rest_s"]), (&json!(120), &json!(60)));
}

#[test]
fn the_remainder_of_a_length_is_a_clock() {
    let told = plain("5 rounds: 200 m ski, 8 thrusters 35/25, rest the remainder of 4:00");
    assert!(told.contains("every 4:00 x 5"), "{told}");
}

#[test]
fn minutes_by_a_letter_and_a_number_take_turns_and_one_is_off() {
    let told = plain("EMOM 16\nm1 12 cal row\nm2 10 burpees\nm3 40s plank\nm4 off");
    assert!(told.contains("1) 12 cal row") && told.contains("4) rest"), "{told}");
}

#[test]
fn time_to_change_over_is_a_rest_and_no_movement() {
    let reading = read(
        "Part 1: 5 min AMRAP 5 push presses 40/30 10 box jumps\n2 min transition\nPart 2: 5 min AMRAP 5 deadlifts 60/40 10 lunges",
        Catalogue::standard(),
    );
    assert!(reading.problems.is_empty(), "{:?}", reading.problems);
    assert_eq!(reading.session.parts.len(), 2);
}

#[test]
fn a_rest_between_two_parts_is_of_the_first_however_it_is_told() {
    let piece = "AMRAP 8\n10 deadlifts 90/60\n8 burpees";
    let next = "10 box jumps\n12 sit-ups";
    for (between, seconds) in [
        ("\nrest 2:00\n\nB) AMRAP 6", 120),
        ("\nrest 3 min before part B\n\nB) AMRAP 6", 180),
        ("rest 4:00 before the next piece\n\nB) AMRAP 6", 240),
        ("2 min rest before part 2\n\nB) AMRAP 6", 120),
        ("\nB) rest 2:00, then AMRAP 6", 120),
        ("\n2 min transition\n\nB) AMRAP 6", 120),
        ("\nthree minutes after the last one is out\n\nB) AMRAP 6", 180),
        ("\nOnce you are recovered (5 min or so)\n\nB) AMRAP 6", 300),
    ] {
        let text = format!("A) {piece}\n{between}\n{next}");
        let parts = parts(&text);
        assert_eq!(parts.len(), 2, "{text}\n{parts:#?}");
        assert_eq!(parts[0]["then_rest_s"], json!(seconds), "{text}");
        assert_eq!((&parts[0]["rest_s"], &parts[1]["then_rest_s"]), (&Value::Null, &Value::Null), "{text}");
        let again = plain(&text);
        assert!(again.contains("before the next part"), "{again}");
    }
    let lift =
        parts("A) Back squat 5x5 @ 75%, rest 2 min\n\nRest 6 min\n\nB) AMRAP 8: 10 burpees 12 sit-ups");
    assert_eq!((&lift[0]["rest_s"], &lift[0]["then_rest_s"]), (&json!(120), &json!(360)));
    let alike =
        parts("A) Back squat 5x3 @ 90%, rest 5 min\n\nRest 5 min\n\nB) AMRAP 8: 10 burpees 12 sit-ups");
    assert_eq!((&alike[0]["rest_s"], &alike[0]["then_rest_s"]), (&json!(300), &json!(300)));
    // Nobody rests on the way home.
    let home = parts("AMRAP 8\n10 burpees\n12 sit-ups\n\nrest 5 min\n\nAt home\n3 x 20 sit-ups");
    assert_eq!((home.len(), &home[0]["then_rest_s"]), (2, &Value::Null));
    let told = parts("A) Back squat 5x5 @ 75%\nrest 3:00 before part B\n\nB) AMRAP 8: 10 burpees 12 sit-ups");
    assert_eq!((&told[0]["rest_s"], &told[0]["then_rest_s"]), (&Value::Null, &json!(180)));
    let clock = parts("A) E2MOM 10: 2 power cleans @ 70%\n\nrest 4 min\n\nB) AMRAP 8: 10 burpees 12 sit-ups");
    assert_eq!((&clock[0]["rest_s"], &clock[0]["then_rest_s"]), (&Value::Null, &json!(240)));
    let bouts = parts("A) 6 x 1 min row, 1 min off\nrest 5 min\n\nB) AMRAP 8: 10 burpees 12 sit-ups");
    assert_eq!((&bouts[0]["rest_s"], &bouts[0]["then_rest_s"]), (&json!(60), &json!(300)));
    // Kilograms off the bar are no minutes.
    let lighter = parts(
        "AMRAP 15\n5 power cleans 60/40\n7 push-ups\ntoo slow? take 10 off\n\nAccessory\n3 x 20 sit-ups",
    );
    assert_eq!(lighter[0]["then_rest_s"], Value::Null);
}

#[test]
fn a_rest_for_both_is_that_of_each_lift_above() {
    let lifts = parts("Bench press 4x6 @ 65%\nFront squat 4x4 @ 70%\nBoth: 2 min rest, no heroes today");
    assert_eq!(lifts.len(), 2, "{lifts:#?}");
    assert_eq!((&lifts[0]["rest_s"], &lifts[1]["rest_s"]), (&json!(120), &json!(120)), "{lifts:#?}");
}

#[test]
fn weights_are_changed_in_a_rest() {
    let told = plain(
        "0-10 Find a heavy double front squat\n10-12 rest/change weights\n12-20 AMRAP: 8 front squats, 8 box jumps",
    );
    assert!(told.contains("rest 2:00 before the next part"), "{told}");
}

#[test]
fn who_walks_between_runs_rests() {
    let told = plain("6 x 400 m @ 90%, 2 min walk rest");
    assert!(told.contains("6 rounds\n400 m run\nrest 2:00 between rounds\n90 % effort"), "{told}");
}

#[test]
fn the_last_station_may_be_a_rest() {
    for text in [
        "5 rounds, 1 minute each of: row (cals), wall balls, box jumps, rest",
        "5 rounds, 1 min at each:\nrow\nwall balls\nbox jumps\nrest",
    ] {
        let told = plain(text);
        assert!(
            told.contains(
                "5 rounds, 1:00 at each station\nrow\nwall ball\nbox jump\nrest 1:00 between rounds"
            ),
            "{text}: {told}"
        );
    }
}

#[test]
fn the_jog_back_is_no_work() {
    let part = part("9 x 300 m run @ 5k pace, jog 300 m back");
    assert_eq!((&part["format"], total(&part, "run")), (&json!("intervals"), json!(2700)), "{part:#}");
}

#[test]
fn half_of_the_work_is_rested() {
    let part = part("3 x 700 m run, rest = half the work time");
    let rest = part["rest_s"].as_u64().unwrap();
    assert_eq!(part["format"], "intervals");
    assert!((60..=180).contains(&rest), "{rest}");
}
