//! Clocks: lengths, intervals, windows, and what comes when they end.

use serde_json::{Value, json};

use super::{part, parts, plain, total};

#[test]
fn work_every_minute_behind_other_work_cuts_into_it() {
    let part = part("80 calorie row, every minute 4 burpees");
    assert_eq!((&part["format"], &part["tree"]["node"]), (&json!("for_time"), &json!("interrupt")));
    assert_eq!(total(&part, "row"), json!(80));
}

#[test]
fn a_length_said_once_is_that_of_the_pieces_below() {
    let text = "Each piece is 5 minutes, rest 2 min between.\nA) AMRAP: 6 burpees, 12 air squats\nB) AMRAP: 10 cal row, 5 push-ups";
    let lengths: Vec<Value> = parts(text).iter().map(|part| part["duration_s"].clone()).collect();
    assert_eq!(lengths, [json!(300), json!(300)]);
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
fn fixed_work_behind_a_clock_that_ends_by_itself_is_done_afterwards() {
    let parts = parts("Tabata: push-ups / mountain climbers\nFinish with 60 sit-ups");
    assert_eq!(parts.len(), 2);
    assert_eq!(total(&parts[1], "sit-up"), json!(60));
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
fn minutes_named_one_by_one_are_the_odd_and_the_even_ones() {
    let part = part(
        "buzzer goes every 2 minutes, 8 rounds\non 1, 3, 5 and 7: 9 push press 30/20 kg\non 2, 4, 6 and 8: 14/11 cal row",
    );
    assert_eq!((total(&part, "push-press"), total(&part, "row")), (json!(36), json!(56)));
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
        ("7 x 300 m run with a 1:1 rest", Value::Null, json!(90)),
        ("9 x 80 m sprint, walk back", Value::Null, json!(90)),
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
fn odd_and_even_take_turns_however_long_and_in_one_line() {
    let by_lines = part("Every 3:30 x 6\nOdd: 350 m row + 9 burpees\nEven: 14 cal bike + 11 ring rows");
    assert_eq!(by_lines["tree"]["alternate"], json!(true));
    let in_a_line = part("12 min EMOM, odd 11 cal row, even 13 sit-ups");
    assert_eq!(in_a_line["tree"]["alternate"], json!(true));
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
fn a_length_in_front_of_a_heading_is_that_of_its_part() {
    let parts = parts("7' warm up: 300 m row, 9 lunges\n\n18' strength: front squat 5x3 @ 75%");
    let read: Vec<_> = parts.iter().map(|part| (&part["kind"], &part["duration_s"])).collect();
    assert_eq!(read, [(&json!("warmup"), &json!(420)), (&json!("strength"), &json!(1080))]);
}

#[test]
fn minutes_may_be_numbered_with_a_letter_and_rest_among_them() {
    let part = part("EMOM 12\nM1: 9 pull-ups\nM2: 30 s plank\nM3: rest");
    assert_eq!((&part["tree"]["times"], &part["tree"]["alternate"]), (&json!(12), &json!(true)));
    assert_eq!(total(&part, "pull-up"), json!(36));
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
fn runs_with_rests_between_are_no_race_against_the_rest() {
    let part = part("600 m run\nrest 75 s\n500 m run\nrest 75 s\n300 m run");
    assert_eq!((&part["cap_s"], &part["duration_s"]), (&Value::Null, &Value::Null));
    let rests = part["tree"]["of"].as_array().unwrap().iter().filter(|node| node["node"] == "rest");
    assert_eq!(rests.count(), 2, "{part:#}");
}

#[test]
fn windows_with_rests_are_gone_round_below_rounds() {
    let part = part("4 rounds\n2 min max cal row\n1 min rest\n90 s max push-ups\n1 min rest");
    assert_eq!((&part["format"], &part["rounds"]), (&json!("intervals"), &json!(4)));
    assert_eq!(part["movements"], json!(["row", "push-up"]));
}

#[test]
fn a_cash_out_below_a_clock_that_ends_is_done_when_it_has_ended() {
    let parts = parts("EMOM 10:\n12 kettlebell swings\ncash out: 50 burpees");
    assert_eq!(parts.len(), 2, "{parts:?}");
    assert_eq!(parts[1]["format"], "for_time");
    assert_eq!(parts[1]["totals"]["burpee"]["amount"], 50.0);
    // Of rounds it is the end.
    let parts = super::parts("3 rounds for time\n12 kettlebell swings\ncash out: 50 burpees");
    assert_eq!(parts.len(), 1);
}

#[test]
fn a_clock_of_so_many_starts_is_told_by_a_cross() {
    let part = part("Front squat\nEMOM x 8 @ 70%\n2 front squats");
    assert_eq!((&part["interval_s"], &part["duration_s"]), (&json!(60), &json!(480)));
    assert_eq!(total(&part, "front-squat"), json!(16), "the lift is named above its dose");
}

#[test]
fn machines_are_changed_on_a_clock() {
    let part = part("40 min easy, switch machines every 10: row / bike / ski / run");
    assert_eq!((&part["interval_s"], &part["duration_s"]), (&json!(600), &json!(2400)));
    assert_eq!(part["tree"]["alternate"], true);
}

#[test]
fn stretching_said_to_be_the_last_is_no_part_of_the_piece() {
    let parts = parts("AMRAP 12\n10 burpees\n10 swings. We finish with 2 min pigeon each side");
    assert_eq!(parts.len(), 2);
    assert_eq!(parts[0]["movements"], json!(["burpee", "kettlebell-swing"]));
    assert_eq!(parts[1]["kind"], "mobility");
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

#[test]
fn a_station_by_name_takes_its_turn_whole_however_long_it_is() {
    for rest in ["", "\nStation 4: rest"] {
        let text = format!(
            "Every 4 min for {} min\nStation 1: 300 m run\nStation 2: 20 sit-ups + 8 push-ups\nStation 3: 10 burpees{rest}",
            if rest.is_empty() { 24 } else { 32 }
        );
        let part = part(&text);
        assert_eq!((&part["format"], &part["interval_s"]), (&json!("every"), &json!(240)), "{text}");
        // Two times through: nobody does all of it in each turn.
        let done = ["run", "sit-up", "push-up", "burpee"].map(|movement| total(&part, movement));
        assert_eq!(done, [json!(600), json!(40), json!(16), json!(20)], "{text}");
    }
}

#[test]
fn rounds_in_brackets_behind_a_clock_are_no_repetitions() {
    let part = part("Tabata sit-ups (8 rounds)");
    assert_eq!((&part["format"], &part["rounds"]), (&json!("tabata"), &json!(8)));
    assert_eq!(total(&part, "sit-up"), Value::Null);
}

#[test]
fn a_door_that_shuts_is_a_cap() {
    let part = part("For time\n400 m run\n60 wall balls 9/6\n400 m run\nthe shop shuts at 14:00");
    assert_eq!(part["cap_s"], json!(840), "{part:#}");
}

#[test]
fn minutes_that_are_numbered_need_no_sign() {
    for text in
        ["10 min EMOM: min 1 12 cal row, min 2 14 V-ups", "10 min EMOM: min 1: 12 cal row, min 2: 14 V-ups"]
    {
        let part = part(text);
        assert_eq!((total(&part, "row"), total(&part, "v-up")), (json!(60), json!(70)), "{text}: {part:#}");
    }
    let rising = part("Death by push-ups - min 1 one rep, min 2 two reps etc until you can't");
    assert_eq!(rising["movements"], json!(["push-up"]), "{rising:#}");
}

#[test]
fn a_list_goes_back_the_other_way() {
    let part = part(
        "For time:\n40 cal row\n30 wall balls 9/6\n20 burpees\nand back the other way, starting with the wall balls",
    );
    let totals = ["row", "wall-ball", "burpee"].map(|movement| total(&part, movement));
    assert_eq!(totals, [json!(80), json!(60), json!(20)], "{part:#}");
}

#[test]
fn a_class_by_the_clock_on_the_wall_has_no_length_in_its_times() {
    let day = parts(
        "18:00 warm-up with the group\n18:15 pulling: weighted pull-ups 5x3, every 2:30\n18:30 the piece: 3 rounds for time of 400 m row, 20 wall balls. Cap at 15 min\n18:50 stretch lats and hips",
    );
    let lift = day.iter().find(|part| part["movements"] == json!(["weighted-pull-up"])).unwrap();
    assert_eq!((&lift["interval_s"], &lift["rounds"]), (&json!(150), &json!(5)), "{lift:#}");
    assert!(day.iter().all(|part| part["duration_s"].as_u64().is_none_or(|s| s < 1000)), "{day:#?}");
}

#[test]
fn a_length_in_front_of_the_most_of_something_is_what_it_goes_into() {
    for (text, work, rest) in [
        ("3 x 2 min max row, 1 min rest", 120, 60),
        ("3 x 45 s max push-ups, rest 75 s", 45, 75),
        ("3 sets of 2 min max cal bike, 3 min rest", 120, 180),
    ] {
        let bouts = part(text);
        assert_eq!(
            (&bouts["format"], &bouts["rounds"], &bouts["work_s"], &bouts["rest_s"]),
            (&json!("intervals"), &json!(3), &json!(work), &json!(rest)),
            "{text}"
        );
    }
    assert!(
        plain("3 x 2 min max row, 1 min rest").contains("max calories row"),
        "metres only where they are told"
    );
    // A length of one thing of several stays with it on paper.
    let ends = "For time\n800 m run\n2 min max sit-ups";
    assert!(plain(ends).contains("2:00 max sit-up"), "{}", plain(ends));
    let every = "every 4 min x 3\n12 push-ups\n1 min max cal row";
    assert!(plain(every).contains("12 push-up + 1:00 max calories row"), "{}", plain(every));
}

#[test]
fn how_many_things_an_emom_has_is_no_part_of_its_clock() {
    let emom = part("EMOM 12 - 3 movements\n1. 12 cal row\n2. 10 push-ups\n3. 30 s plank");
    assert_eq!((&emom["format"], &emom["duration_s"]), (&json!("every"), &json!(720)), "{emom:#}");
}

#[test]
fn minutes_for_repetitions_are_as_many_as_go_in() {
    for text in [
        "For reps:\n3 min wall balls\n3 min row for calories\n3 min burpees\n1 min rest between stations",
        "3 min wall balls for reps\n1 min rest\n3 min row for calories\n1 min rest\n3 min burpees",
    ] {
        let told = plain(text);
        assert!(told.contains("1 round, 3:00 on, 1:00 off\nwall ball\nrow\nburpee"), "{text}: {told}");
    }
    // Without them they are how long it takes.
    let easy = plain("Warm-up\n3 min row\n3 min bike");
    assert!(easy.contains("180 s row\n180 s bike"), "{easy}");
}

#[test]
fn minutes_each_are_those_of_a_set() {
    let told = plain(
        "3 sets, 6 min each, 2 min rest:\n600 m run, then AMRAP in the time left of\n8 push press\n8 box jumps",
    );
    assert!(
        told.contains("3 x 6:00 AMRAP, 2:00 rest between\nBuy-in: 600 m run\nthen\n8 push press"),
        "{told}"
    );
}

#[test]
fn minutes_of_machines_that_fill_a_length_need_no_clock() {
    let text = "30 min zone 2: 5 min bike / 5 min row / 5 min ski x 2";
    let reading = lantern_reader::read(text, lantern_session::movement::Catalogue::standard());
    assert!(reading.problems.is_empty(), "{:?}", reading.problems);
    // Once through is a third of the length: nobody says what comes then.
    let text = "30 min: 5 min bike, 5 min row";
    let reading = lantern_reader::read(text, lantern_session::movement::Catalogue::standard());
    assert!(!reading.problems.is_empty(), "{:?}", reading.session);
}

#[test]
fn bouts_that_nothing_was_made_of_are_told() {
    let text = "Rowing technique 10 min\n\nTest: 4 x 4 min @ rate 24, 2 min easy between";
    let reading = lantern_reader::read(text, lantern_session::movement::Catalogue::standard());
    assert!(reading.problems.iter().any(|problem| problem.line == 3), "{:?}", reading.problems);
}

#[test]
fn an_amrap_of_several_windows_is_one_in_each() {
    let told = plain(
        "AMRAP in 3 parts\nPart A 0-6 min: 6 pull-ups, 12 push-ups\nRest 2 min\nPart B 8-14 min: 3 power cleans 80/55, 6 box jumps\nRest 2 min\nPart C 16-22 min: 100 m run, 10 KB swings",
    );
    assert_eq!(told.matches("AMRAP 6:00").count(), 3, "{told}");
    assert_eq!(told.matches("rest 2:00 before the next part").count(), 2, "{told}");
    // The length above is that of all of them.
    let ten = plain(
        "Metcon - 10 mins\nMin 0-5: 50 wall balls then max double-unders\nMin 5-10: 30 cal row then max burpees",
    );
    assert_eq!(ten.matches("AMRAP 5:00").count(), 2, "{ten}");
}

#[test]
fn bouts_fill_the_length_that_stands_in_front() {
    let told = plain("Core finisher: 8 min, 30 on 15 off - plank, hollow rocks, side plank L, side plank R");
    assert!(told.contains("3 rounds, 0:30 on, 0:15 off"), "{told}");
    let guesses = |text: &str| {
        let reading = lantern_reader::read(text, lantern_session::movement::Catalogue::standard());
        reading.assumptions.iter().filter(|guess| guess.message.contains("times round")).count()
    };
    assert_eq!(guesses("Core: 8 min, 30 on 15 off - plank, hollow rocks, side plank L, side plank R"), 1);
    assert_eq!(guesses("Core: 9 min, 30 on 15 off - plank, hollow rocks, side plank L, side plank R"), 0);
}

#[test]
fn as_hard_as_it_goes_is_counted_of_what_is_counted() {
    let told = plain(
        "5 rounds\n1 min max effort push-ups\n1 min rest\n45 s max strict handstand push-ups\n1 min rest",
    );
    assert!(told.contains("1:00 max push-up"), "{told}");
    let behind = plain("Every 5 min x 4\n500/450 m row\n15 thrusters 35/25\nMax strict HSPU in 45 s");
    assert!(behind.contains("0:45 max strict handstand push-up"), "{behind}");
    let ridden = plain("8 x 20 sec all-out bike, 1:40 easy between each");
    assert!(ridden.contains("8 rounds\n20 s bike\nrest 1:40"), "{ridden}");
}

#[test]
fn minutes_of_the_hour_may_have_nothing_in_front_of_their_colon() {
    let day = parts(
        ":00-:12 Row 1500 m easy\n:12-:30 Hang snatch, heavy double\n:30-:50 AMRAP 11: 9 burpees, 12 lunges",
    );
    assert_eq!(day[1]["duration_s"], 18 * 60, "{day:#?}");
    assert_eq!((&day[2]["format"], &day[2]["duration_s"]), (&json!("amrap"), &json!(660)));
}
