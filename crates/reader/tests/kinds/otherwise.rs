//! The same said otherwise: ways of writing that are read as what they say.

use super::*;

/// The plain notation of a text has this line.
fn has_line(text: &str, line: &str) {
    let plain = plain(text);
    assert!(plain.lines().any(|said| said == line), "{text}\n---\n{plain}");
}

#[test]
fn a_name_and_a_number_behind_a_colon_is_how_many() {
    let plain = plain("3 rounds for time\nPull-ups: 15\nDouble unders: 45\nRun: 200 m");
    assert!(plain.contains("15 pull-up\n45 double-under\n200 m run"), "{plain}");
    let swapped = part(
        "3 rounds for time\n10 thrusters\n12 pull-ups\nScaling\nthrusters: 30/20 kg\npull-ups: ring rows",
    );
    assert_eq!(total(&swapped, "pull-up"), 36);
    assert!(!swapped["movements"].as_array().unwrap().iter().any(|name| name == "ring-row"), "{swapped}");
}

#[test]
fn numbers_set_off_like_those_of_a_list_are_how_many_where_they_do_not_count() {
    has_line("3 rounds for time\n21 - swings 24/16\n15 - burpees\n12 - pull-ups", "15 burpee");
    has_line("5 rounds for time:\n(9) hang power cleans\n(6) push jerks", "6 push jerk");
    let listed = part("EMOM 12\n1 - 10 burpees\n2 - 12 swings\n3 - 8 pull-ups");
    assert_eq!(total(&listed, "burpee"), 40);
}

#[test]
fn a_longer_name_is_known_by_what_its_words_stand_for() {
    for (text, name) in [
        ("10 scap press-ups", "10 scapular push-up"),
        ("8 strict PU", "8 strict pull-up"),
        ("8 burpee BJ", "8 burpee box jump"),
        ("12 single-arm KBS", "12 single-arm kettlebell swing"),
        ("8 incline pushups", "8 elevated push-up"),
    ] {
        has_line(&format!("5 rounds for time\n{text}\n200 m run"), name);
    }
}

#[test]
fn an_ampersand_is_and() {
    assert_eq!(
        part("AMRAP 12\n10 burpees\n12 swings\nBetween 5 & 7 rounds")["target"]["rounds_high"].as_f64(),
        Some(7.0)
    );
    has_line("Bench press 4 x 5 @ 75%, rest two & a half minutes", "rest 2:30 between sets");
    has_line("5 rounds for time\n10 clean & jerks 60/40", "10 clean and jerk, 60/40 kg");
}

#[test]
fn how_hard_and_how_slow_stand_behind_an_at_alone() {
    assert_eq!(part("Bench press 5x5 @8")["rpe"], serde_json::json!([8, 8]));
    assert_eq!(part("Front squat 4x4 @7-8")["rpe"], serde_json::json!([7, 8]));
    assert_eq!(part("Bench press 3 x 10, @3110, rest 90 s")["tempo"], "3110");
    // A ball of eight kilos is one.
    assert_eq!(part("For time\n50 wall balls @8")["loads"]["wall-ball"]["first"], 8);
}

#[test]
fn sets_said_in_words_carry_their_share() {
    has_line(
        "Front squat - 4 sets x 4 reps @ 77%, 2:30 between\nthen 1 set x 8 reps @ 65%",
        "front squat 4-4-4-4-8",
    );
    has_line(
        "Strict press: 1 set x 5 reps @ 50%, 1 set x 3 reps @ 60%, then 3 sets x 5 reps @ 75%",
        "strict press 5-3-5-5-5",
    );
    has_line("Strict press 4 by 6 @ 70%, 2 mins rest", "strict press 4x6");
    has_line("Bench press 5 reps x 4 sets @ 75%", "bench press 4x5");
    has_line("Bench press: 5 - 50%, 5 - 60%, 3 - 65%", "bench press 5-5-3");
    has_line("Deadlift\n5 (65% of 1RM)\n3 (75%)\n3 @ 85% of your max", "@ 65-75-85%");
    has_line("Back squat 5x3 - 80%", "@ 80%");
    has_line("Front squat 5x3 @80, 2'", "@ 80%");
    has_line("Deadlift: 5 using 65%, 5 with 75%, 5 @~85%", "@ 65-75-85%");
}

#[test]
fn loads_are_paired_in_many_ways() {
    for load in ["\u{2642} 60 kg / \u{2640} 40 kg", "60 & 40 kg", "60/40k", "M60/W40 kg"] {
        has_line(
            &format!("5 rounds for time\n6 hang power cleans ({load})\n10 burpees"),
            "6 hang power clean, 60/40 kg",
        );
    }
    has_line("For time\n15 (m) / 12 (w) cal row\n20 burpees", "15/12 cal row");
    has_line("For time\n100/80 row calories\n50 wall balls", "100/80 cal row");
}

#[test]
fn what_stands_above_the_loads_is_what_they_come_to() {
    for loads in
        ["10 @ 40/30 kg\n10 @ 50/35 kg\n10 @ 60/42.5 kg", "10 (40/30 kg)\n10 (50/35 kg)\n10 (60/42.5 kg)"]
    {
        assert_eq!(total(&part(&format!("For time\n30 clean and jerks:\n{loads}")), "clean-and-jerk"), 30);
    }
}

#[test]
fn bouts_of_an_amrap_say_their_length_anywhere() {
    for head in [
        "3 x AMRAP (5 min) / 2 min rest",
        "3 x AMRAP in 5 minutes, rest 2 min between",
        "3 x 5 min AMRAP, 2 min rest",
    ] {
        has_line(&format!("{head}\n10 burpees\n200 m run"), "3 x 5:00 AMRAP, 2:00 rest between");
    }
}

#[test]
fn repeats_name_the_machine_before_the_distance() {
    has_line("5 x Row 500 m, rest 2 min", "500 m row");
    has_line("6 repeats of 400 m run, rest 1m30s", "rest 1:30 between rounds");
    has_line("Core (accessory): 3 x side plank for 20 sec each side", "20 s side plank each side");
    has_line("8 rounds of 20/10 hollow hold", "8 x 0:20 on, 0:10 off");
}

#[test]
fn strokes_between_falling_numbers_are_rungs() {
    has_line("Metcon: 21/15/9 cal bike / C2B pull ups. 8 min cap.", "21-15-9");
    // Three levels' numbers lie closer together.
    has_line("5 rounds for time\n16/14/12 cal row\n10 burpees", "16/14 cal row");
}

#[test]
fn minutes_end_in_a_tick() {
    let target = &part("For time\n50 wall balls\nPlan: 10-12'")["target"];
    assert_eq!((&target["low_s"], &target["high_s"]), (&600.into(), &720.into()));
    assert_eq!(part("For time\n50 wall balls\ngoal: <8")["target"]["high_s"], 480);
    has_line("Back squat: 6 x 3 @ 80%, rest 2' 30 s", "rest 2:30 between sets");
    has_line("3 rounds for time\n10 burpees\n20-second hollow hold", "20 s hollow hold");
}

#[test]
fn caps_rests_and_teams_in_other_words() {
    has_line("5 rounds for time, must be done in 14 min\n10 burpees", "cap 14:00");
    has_line("Front squat 5x3 @ 80%\nR: 2 min", "rest 2:00 between sets");
    has_line("Front squat 5x3 @ 80%, take 2 min", "rest 2:00 between sets");
    assert_eq!(part("Pairs, for time\n100 burpees")["team_size"], 2);
    assert_eq!(part("Saturday: 3 per team, for time\n100 burpees\n100 swings")["team_size"], 3);
    assert_eq!(
        part("AMRAP 12\n10 burpees\n12 swings\n5 to 6 rounds expected")["target"]["rounds_low"].as_f64(),
        Some(5.0)
    );
    has_line("EMOM 16 of:\n8 burpees\n10 swings", "every 1:00 x 16");
}

#[test]
fn headings_stand_in_brackets_and_count_nothing() {
    let parts = parts("[Strength] Back squat 5x5 @ 70%\n\n[Accessory]\n3 rounds\n10 back extensions");
    assert_eq!((&parts[0]["kind"], &parts[1]["kind"]), (&"strength".into(), &"accessory".into()));
    let rounds = part("Accessory three rounds NFT: 12 z press, 15 lat raises");
    assert_eq!(total(&rounds, "z-press"), 36);
    assert_eq!(total(&part("three rounds, not a sprint:\n15 burpees\n20 swings"), "burpee"), 45);
}

#[test]
fn work_that_fits_nothing_around_it_is_told() {
    let asked = |text: &str, line: u64| {
        let reading = reading_json(&read(text, Catalogue::standard()));
        let problems = reading["problems"].as_array().unwrap().clone();
        problems.iter().any(|problem| problem["line"] == line)
    };
    let finish = "- Metcon: AMRAP 14\n  3 wall walks\n  12 pistols\n- Finish: 100 banded pull-aparts";
    assert!(asked(finish, 4));
    assert_ne!(parts(finish)[0]["per_round"]["banded-pull-apart"]["amount"], 100);
    // Rungs that are uneven go on in no way that is known; even ones are read.
    assert!(asked("9 min AMRAP:\n3 push jerks, 3 burpees, 6/4, 9/5, 15/8 ...", 2));
    assert!(!asked("9 min AMRAP:\n3 push jerks, 3 burpees, 6/6, 9/9 ...", 2));
    assert!(!asked("AMRAP 14\n3 wall walks\n12 pistols", 2));
}

#[test]
fn sets_lead_up_to_a_max_and_windows_stand_in_a_list() {
    let built = part("Bench press: 15 min to find a 1RM. 6@45, 4@55, 2@70, 1@80, 1@88");
    assert_eq!((&built["format"], &built["percent"]), (&"build_to".into(), &serde_json::json!([45, 88])));
    has_line("Front squat: 4 @ 65, 3 @ 75, 2 @ 85, 3 @ 75, 4 @ 65", "front squat 4-3-2-3-4");
    let windows = "AMRAP 4, rest 1, AMRAP 4\n1st: 8 burpees\n2nd: 10 swings";
    has_line(windows, "2 x 4:00 AMRAP, 1:00 rest between");
}
