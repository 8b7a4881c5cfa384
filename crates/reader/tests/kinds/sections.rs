//! Where parts begin, what stands outside of rounds, and what is nobody's name.

use serde_json::json;

use lantern_reader::read;
use lantern_session::movement::Catalogue;

use super::{part, parts, plain, total};

#[test]
fn numbers_that_each_stand_before_a_whole_part_number_the_next_one_too() {
    let kinds: Vec<_> = parts(
        "1. Push press 5x4 @ 70%\n2. 4 rounds for time: 12 cal bike, 9 burpees\n3. Couch stretch 2' a side",
    )
    .iter()
    .map(|part| part["kind"].clone())
    .collect();
    assert_eq!(kinds, [json!("strength"), json!("conditioning"), json!("mobility")]);
    let stations = part("EMOM 12\n1. 12 cal bike\n2. 9 burpees\n3. rest");
    assert_eq!(stations["format"], json!("every"));
}

#[test]
fn what_comes_straight_after_a_scheme_is_done_once() {
    let piece = part("FOR TIME 40-30-20-10 DU / sit-ups, then straight into 1 mile run. Cap 18.");
    assert_eq!((total(&piece, "run"), total(&piece, "sit-up")), (json!(1609), json!(100)));
    let counted = part("21-15-9 for time\nthrusters 40/30, then pull-ups");
    assert_eq!(total(&counted, "pull-up"), json!(45));
}

#[test]
fn after_each_third_one_cuts_in_so_often() {
    let piece = part("15 get-ups, 24/16, not for time. After each third one: 100 m farmer's carry.");
    assert_eq!((total(&piece, "get-up"), total(&piece, "farmer-carry")), (json!(15), json!(500)));
}

#[test]
fn sets_of_what_nobody_knows_are_asked_about_and_none_of_the_next_line() {
    for line in ["2 x 10 hip switches", "3 x 6 90/90 hip turns", "3 x 12 gruntwaxes"] {
        let reading = read(&format!("Mobility\n{line}\n60 s couch stretch each side"), Catalogue::standard());
        assert!(
            reading.problems.iter().any(|told| told.line == 2 && told.message.contains("is no movement")),
            "{line}"
        );
        let told = plain(&format!("Mobility\n{line}\n60 s couch stretch each side"));
        assert!(told.contains("60 s couch stretch each side"), "{line}: {told}");
    }
}

#[test]
fn what_everybody_may_do_after_class_is_work_of_its_own() {
    for said in ["After class, if you want: ", "After class: ", "Extras, if you have the time: "] {
        let parts =
            parts(&format!("Front squat 3 x 5 @ 75%\n\n{said}3 x 12 band pull-aparts, 3 x 10 hammer curls"));
        assert_eq!(parts.len(), 2, "{said}");
        assert_eq!(total(&parts[1], "dumbbell-curl"), json!(30), "{said}");
    }
}

#[test]
fn minutes_with_a_stroke_behind_a_heading_are_its_length() {
    let parts = parts(
        "Skill 15': ring muscle-up, low rings. Slowly.\nWOD 12' AMRAP: 6 ring dips, 6 hang cleans 60/42.5",
    );
    assert_eq!((&parts[0]["kind"], &parts[0]["duration_s"]), (&json!("skill"), &json!(900)));
}

#[test]
fn ft_behind_a_load_is_for_time_and_no_length() {
    let piece = part("5 RDS 12 DEADLIFTS 9 HPC @ 70/47.5 FT");
    assert_eq!(piece["format"], json!("for_time"));
    assert!(piece["totals"].get("run").is_none(), "{piece}");
    assert_eq!(total(&part("4 rounds for time\n100 ft lunge\n10 burpees"), "lunge"), json!(120));
}

#[test]
fn nobody_holds_anything_for_a_second() {
    let reading = read(
        "12 min AMRAP, plank (one a round) while the bar is loaded\n10 deadlifts 60/40\n10 burpees",
        Catalogue::standard(),
    );
    let told = lantern_session::text::session_text(&reading.session, Catalogue::standard());
    assert!(!told.contains("1 s"), "{told}");
}

#[test]
fn sets_that_stop_short_of_the_most_say_by_how_much() {
    let told = plain("Dips 3 x AMRAP(-2)");
    assert!(told.contains("3 sets max bar dip") && told.contains("RPE 8"), "{told}");
}

#[test]
fn a_heavy_complex_is_built_up_to() {
    let told = plain("10 min to find a heavy complex: 1 clean + 2 front squats");
    assert!(told.contains("build to") && told.contains("in 10:00"), "{told}");
}

#[test]
fn a_footnote_says_nothing_about_the_clock_of_the_part_above_it() {
    let parts = parts(
        "Intervals\n5 x 3 min row, rest 1:1\u{b2}\n\nAccessory\n3 sets: 14 glute bridges, 10 calf raises\n\n\u{b2} Work three, off three.",
    );
    assert_eq!((&parts[0]["work_s"], &parts[0]["rest_s"]), (&json!(180), &json!(180)));
    assert_eq!((&parts[1]["work_s"], &parts[1]["rest_s"]), (&json!(null), &json!(null)));
}

#[test]
fn a_number_and_a_length_with_a_dash_between_them_are_no_range() {
    let piece = part("TEAM OF 2 - 18 MIN AMRAP\n10 burpees\n20 swings");
    assert_eq!((&piece["team_size"], &piece["duration_s"]), (&json!(2), &json!(1080)));
    assert!(plain("Front squat 4x4 @ 72%, rest 2 - 3 min").contains("rest 2:00 - 3:00"));
}

#[test]
fn what_limits_the_piece_behind_its_lighter_loads_limits_it_all_the_same() {
    let piece =
        part("3 RFT\n20 burpees\n11 cleans 65/45kg\nScale: 60/40, 50/35. TC 16 min. Expected finish 10-14.");
    assert_eq!((&piece["cap_s"], &piece["target"]["low_s"]), (&json!(960), &json!(600)));
}

#[test]
fn a_zone_or_a_pace_is_no_amount() {
    let bike = plain("Z2 bike 40 min");
    assert!(bike.contains("2400 s bike") || bike.contains("40:00"), "{bike}");
    let row = part("4 x 500m row @ 2k+4, rest 90s");
    assert_eq!(total(&row, "row"), json!(2000));
}

#[test]
fn one_of_several_that_stand_beside_each_other_is_done() {
    let piece =
        part("Every 5:00 for 25:00\n400m run / 500m row / 1000m bike (choose one)\n15 thrusters 42.5/30");
    assert_eq!(piece["movements"], json!(["run", "thruster"]));
    assert_eq!(piece["alternatives"].as_array().unwrap().len(), 2);
}

#[test]
fn clusters_are_clusters_with_their_sets_behind_them() {
    let told = plain("Push jerk 1.1.1 x 5 (10 s between singles), build");
    assert!(told.contains("5x3") && !told.contains("tempo"), "{told}");
}

#[test]
fn schemes_on_one_line_go_down_side_by_side() {
    let piece = part("For time 60-50-40 sit-ups / 30-20-10 strict hspu");
    assert_eq!((total(&piece, "sit-up"), total(&piece, "strict-handstand-push-up")), (json!(150), json!(60)));
}

#[test]
fn one_thing_for_a_length_and_for_distance_is_as_far_as_one_gets() {
    for text in ["6 min row for distance", "6 min row, score: metres", "6 min row for metres"] {
        let piece = part(text);
        assert_eq!(
            (&piece["format"], &piece["duration_s"], &piece["score"]),
            (&json!("amrap"), &json!(360), &json!("reps")),
            "{text}"
        );
        assert!(plain(text).contains("max metres row"), "{text}");
    }
}

#[test]
fn rungs_that_are_told_one_by_one_are_one_and_what_comes_when_all_are_out_is_the_next_piece() {
    let told = plain(
        "Every minute until you miss\nMinute 1: 1 thruster 40/30\nMinute 2: 2 thrusters\nMinute 3: 3, one more every minute from there\n\nThree minutes after the last one is out, everybody together\n5 min row for metres",
    );
    assert!(told.contains("add 1 reps each round\n1 thruster, 40/30 kg\n"), "{told}");
    assert!(told.contains("AMRAP 5:00\nmax metres row"), "{told}");
}

#[test]
fn one_bar_is_of_every_lift_and_a_length_behind_a_heading_is_its_own() {
    let piece = part(
        "Pairs today share a single bar, the same bar throughout, 60/40 kg\n\n800m row\n50 deadlifts\n30 hang power cleans\n\ncap 25 min",
    );
    assert_eq!(piece["loads"]["deadlift"]["first"], json!(60));
    let warmup = part("Warm-up, 8 min: 3 rounds of\n150 m jog, 9 lunges, 5 inchworms");
    assert_eq!(warmup["duration_s"], json!(480));
    assert_eq!(part("D) Accessory\nSeated row 3 x 12 @ 30/20 kg, rest 75 sec")["rest_s"], json!(75));
}

#[test]
fn a_short_form_with_full_stops_heads_a_warm_up() {
    let day =
        parts("W.U.: 2 min bike, then 2 x (8 inchworms, 8 air squats)\n\nFor time\n400 m run\n30 burpees");
    assert_eq!(day.len(), 2, "{day:#?}");
    assert_eq!(day[0]["kind"], json!("warmup"));
}

#[test]
fn a_team_above_several_windows_is_of_all_of_them() {
    let day = parts(
        "Teams of 3, 24 minutes:\n0-8: max rounds of 8 pull-ups, 12 sit-ups\n8-16: max distance row, change every 200 m\n16-24: max cals bike, change every 15 cal",
    );
    let sizes: Vec<_> = day.iter().map(|part| part["team_size"].clone()).collect();
    assert_eq!(sizes, [json!(3), json!(3), json!(3)], "{day:#?}");
}

#[test]
fn of_levels_that_are_written_out_the_first_is_the_piece() {
    let told = plain(
        "RX: 21-15-9 thruster 42.5/30 + pull up\nINT: 21-15-9 thruster 35/25 + jumping pull up\nBEG: 15-12-9 DB thruster 10/7 + ring row\nCap 10",
    );
    assert!(told.contains("21-15-9\nthruster, 42.5/30 kg\npull-up\ncap 10:00"), "{told}");
    let below = plain(
        "AMRAP 15\n5 strict handstand push-ups\n10 pistols\n\nLevel 2 = 5 box pike push-ups, 10 pistols to a box\nLevel 1 = 8 push-ups, 10 air squats",
    );
    assert!(below.contains("5 strict handstand push-up\n10 pistol\nscore"), "{below}");
}

#[test]
fn lifts_with_their_sets_behind_a_colon_are_no_swaps() {
    let told = plain(
        "Bench: 5 sets of 5, 2 min between\nRow: 4 sets of 8 per arm w/ DB, 90s between\nDips: 3 sets to 1 short of failure",
    );
    for lift in ["bench press 5x5", "row each side 4x8\nrest 1:30", "bar dip 3 sets"] {
        assert!(told.contains(lift), "{lift}: {told}");
    }
}
