//! Lifts whose weight is told by where it ends, by how much is put on, or by one bar for several lifts; and what a score counts.

use serde_json::json;

use super::{part, parts, plain};

#[test]
fn a_complex_is_one_bar_however_it_is_written() {
    for text in [
        "Clean complex: 1 power clean, 2 hang cleans, 1 front squat\n5 sets @ 70%",
        "Barbell complex: 1 power clean, 2 hang cleans, 1 front squat, 5 sets @ 70%",
        "1 power clean + 2 hang cleans + 1 front squat, 5 sets @ 70%",
        "Complex of 1 power clean, 2 hang cleans and 1 front squat, 5 sets @ 70%",
    ] {
        let told = plain(text);
        assert!(
            told.contains("1 power clean + 2 hang clean + 1 front squat, 5 sets\n@ 70%"),
            "{text}: {told}"
        );
    }
    let pair = plain("Superset, 5 sets\nA1) 5 power cleans @ 70%\nA2) 8 front squats @ 60%");
    assert!(pair.contains("Superset, 5 sets"), "{pair}");
}

#[test]
fn names_that_are_joined_are_done_once_each() {
    let told =
        plain("Hang snatch + overhead squat, 6 sets, start at 60% of your snatch, go up if it moves well");
    assert!(
        told.contains("1 hang snatch + 1 overhead squat, 6 sets\n@ 60% of snatch\nheavier each set"),
        "{told}"
    );
    let named = plain("Power clean + push jerk\n5x2 @ 70%");
    assert!(named.contains("power clean + push jerk 5x2"), "{named}");
}

#[test]
fn a_share_that_is_built_up_to_is_where_the_sets_end() {
    for (text, told) in [
        ("Deadlift 5x3 building to 85%", "deadlift 5x3\nbuilding to 85%"),
        (
            "Power clean: 6 sets of 2, working up to 75% of your clean",
            "power clean 6x2\nbuilding to 75% of clean",
        ),
        (
            "Front squat - 3 ramping sets of 4, then 2 x 4 at 78%",
            "front squat 5x4\nbuilding to 78%\nlast 2 sets at the top weight",
        ),
    ] {
        assert!(plain(text).contains(told), "{}", plain(text));
    }
    let from = part("Deadlift 5x3, start at 65% and add weight each set");
    assert_eq!(
        (&from["percent"], &from["ends_at_share"], &from["rises"]),
        (&json!([65, 65]), &json!(null), &json!(true))
    );
}

#[test]
fn how_much_is_put_on_is_kept() {
    for (text, jump) in [
        ("Back squat 5x5, start at 60 kg and add 5 kg each set", json!({"first": 5.0, "unit": "kg"})),
        ("Every 90 s for 8 sets: 2 snatches, add 2.5 kg each set", json!({"first": 2.5, "unit": "kg"})),
        (
            "1 power clean every minute, 40/25 kg, 5/2.5 kg more each minute until you miss",
            json!({"first": 5.0, "second": 2.5, "unit": "kg"}),
        ),
        ("Bench press 4x6, add 10 lb each set", json!({"first": 10.0, "unit": "lb"})),
    ] {
        assert_eq!(part(text)["jump"], jump, "{text}");
        plain(text);
    }
    let missed = plain("3 deadlifts every minute, 10 kg more each minute until failure");
    assert!(missed.contains("deadlift: build to a 3RM\n10 kg heavier each set\nevery 1:00"), "{missed}");
}

#[test]
fn each_set_has_the_effort_that_is_told_of_it() {
    let squat = part("Front squat 4 x 6 @ RPE 7, 7, 8, 8");
    assert_eq!((&squat["efforts"], &squat["rpe"]), (&json!([7.0, 7.0, 8.0, 8.0]), &json!([7, 8])));
    assert!(plain("Front squat 4 x 6 @ RPE 7, 7, 8, 8").contains("RPE 7, 7, 8, 8"));
    // A range is one for all, and a list that is no longer than some of the sets is read as its ends.
    assert_eq!(part("Front squat 4 x 6 @ RPE 7-8")["efforts"], json!([]));
    assert_eq!(part("Front squat 4 x 6 @ RPE 7, 8")["efforts"], json!([]));
}

#[test]
fn one_machine_for_a_length_is_held_and_not_scored() {
    for text in [
        "Conditioning: 30 min steady row",
        "30 min zone 2: row, bike or run",
        "Steady state, 30 minutes\nrow",
        "30 min easy row",
    ] {
        let piece = part(text);
        assert_eq!((&piece["format"], &piece["score"]), (&json!("quality"), &json!("none")), "{text}");
        assert_eq!(
            piece["totals"].as_object().unwrap().values().next(),
            Some(&json!({"amount": 1800, "unit": "seconds"}))
        );
    }
    assert_eq!(part("8 min max cal row")["format"], json!("amrap"));
    assert_eq!(
        part("10 minutes: 10 push-ups, 15 squats, as many rounds as possible")["format"],
        json!("amrap")
    );
}

#[test]
fn a_score_counts_what_it_names_and_no_way_there() {
    let counted = |text: &str| {
        let mut names = Vec::new();
        fn walk(node: &serde_json::Value, names: &mut Vec<String>) {
            if let Some(movement) = node["movement"].as_str()
                && node["uncounted"] != true
            {
                names.push(movement.to_owned());
            }
            match node {
                serde_json::Value::Object(fields) => fields.values().for_each(|child| walk(child, names)),
                serde_json::Value::Array(all) => all.iter().for_each(|child| walk(child, names)),
                _ => {}
            }
        }
        walk(&part(text)["tree"], &mut names);
        names
    };
    let bouts = "4 rounds of 3 min on, 1 min off\n15 wall balls\n200 m run\nmax burpees in the time left";
    assert_eq!(counted(&format!("{bouts}\nScore: total burpees")), ["burpee"]);
    assert_eq!(counted(&format!("{bouts}\nScore: total reps")), ["wall-ball", "burpee"]);
    let machine = "5 rounds\n9 thrusters 30/20\n1:00 max calories ski\n1:00 rest";
    assert_eq!(counted(&format!("{machine}\nScore: calories")), ["ski"]);
    assert_eq!(counted(&format!("{machine}\nScore: total reps + calories")), ["thruster", "ski"]);
    let far = "Every 3 min x 4\n9 thrusters 30/20\nmax metres row";
    assert_eq!(counted(&format!("{far}\nScore: total distance")), ["row"]);
    assert_eq!(counted(bouts), ["burpee"], "what is open behind fixed work, where nobody says");
    assert!(plain(bouts).contains("score: total burpee"));
    assert_eq!(counted("AMRAP 8\n200 m run\n10 push-ups"), ["run", "push-up"], "rounds count all of it");
    assert_eq!(counted("AMRAP 8: max metres row"), ["row"]);
}

#[test]
fn singles_that_are_lifted_climb_by_a_share() {
    let told = plain("Snatch - every 2 min x 5, singles, from 70% adding 3% each");
    assert!(told.contains("every 2:00 x 5\n1 snatch\n@ 70-73-76-79-82%"), "{told}");
    // On a rope they are not lifted.
    assert_eq!(part("For time\n40 singles\n20 sit-ups")["movements"], json!(["single-under", "sit-up"]));
}

#[test]
fn what_is_only_told_is_no_dose() {
    let lift = part("Weighted pull ups 5x3, heavier than last week");
    assert_eq!((&lift["rises"], &lift["reps"]), (&json!(false), &json!([3, 3, 3, 3, 3])));
    let squat = part("Back squat\nWarm up to 70%\nthen 3 x 6 @ 72%");
    assert_eq!((&squat["reps"], &squat["percent"]), (&json!([6, 6, 6]), &json!([72, 72])));
}

#[test]
fn who_holds_while_another_works_is_told_in_a_line() {
    let told = plain(
        "Partner AMRAP 16\nP1 holds a wall sit while P2 does:\n8 kettlebell swings 24/16\n8 goblet squats 24/16",
    );
    assert!(
        told.contains(
            "Teams of 2, one works while the others hold\nAMRAP 16:00\nwall sit while the other works\n8 kettlebell swing"
        ),
        "{told}"
    );
}

#[test]
fn sets_are_to_be_finished_by_a_time() {
    let told = plain("Every 3:30 x 6 sets\n12/10 cal row\n8 toes to bar\nAim to finish each set by 2:30");
    assert!(told.contains("each round in under 2:30"), "{told}");
    let share = plain("3 rounds for time\n9 power cleans @ 65%\n15 cal row");
    assert!(share.contains("@ 65%"), "a share in a piece stands in the plain notation: {share}");
}

#[test]
fn a_moderate_double_is_built_up_to_and_is_no_heaviest() {
    for (text, reps, effort) in [
        ("Power clean\nWork up to a moderate double in 15 minutes", 2, 7),
        ("Front squat: build to a solid triple", 3, 8),
        ("Push press\nBuild to a comfortable single", 1, 7),
    ] {
        let lift = part(text);
        let found = (&lift["format"], &lift["rm"], &lift["rpe"]);
        assert_eq!(found, (&json!("build_to"), &json!(reps), &json!([effort, effort])), "{text}: {lift:#}");
    }
}

#[test]
fn what_is_built_across_the_sets_of_a_clock_is_a_lift() {
    let lift = part("Every 90 s x 6 sets\n2 hang power cleans, build across the sets");
    let found = (&lift["kind"], &lift["format"], &lift["rises"]);
    assert_eq!(found, (&json!("strength"), &json!("every"), &json!(true)), "{lift:#}");
    // In a piece "every climb" is a climb.
    let piece = part("For time\n5 rope climbs\n20 burpees\n2 pull-ups for every climb that is not there");
    assert_eq!(piece["rises"], json!(false), "{piece:#}");
}

#[test]
fn a_build_behind_sets_at_a_share_is_one_of_its_own() {
    for then in ["then build to a heavy double", "then heavy double for the day (no misses)"] {
        for between in [", ", "\n"] {
            let text = format!("Clean 4 x 2 @ 65%{between}{then}");
            let day = parts(&text);
            assert_eq!(day.len(), 2, "{text}: {day:#?}");
            assert_eq!((&day[0]["sets"], &day[0]["percent"]), (&json!(4), &json!([65, 65])), "{text}");
            assert_eq!((&day[1]["format"], &day[1]["rm"]), (&json!("build_to"), &json!(2)), "{text}");
            assert_eq!(day[1]["movements"], json!(["clean"]), "{text}");
        }
    }
    // Of a piece nobody builds anything.
    let piece = parts("For time\n400 m run\n21 cleans, 60/40 kg\n\nThen build to a heavy double");
    assert!(piece.iter().all(|part| part["format"] != json!("build_to")), "{piece:#?}");
    // Sets without a share are the build.
    assert_eq!(parts("Clean 5 x 2, build to a heavy double").len(), 1);
}

#[test]
fn superset_with_in_a_line_of_its_own_stands_between_two_lifts() {
    for with in ["superset with", "in a superset with:"] {
        for second in ["pull-ups 3 x max", "pull-ups 3x7"] {
            let text = format!("Push press 3x5\n{with}\n{second}");
            let day = parts(&text);
            assert_eq!(day.len(), 1, "{text}: {day:#?}");
            assert_eq!((&day[0]["format"], &day[0]["sets"]), (&json!("superset"), &json!(3)), "{text}");
        }
    }
}

#[test]
fn a_lift_above_its_minutes_and_bare_shares_is_that_lift() {
    let lift = part("STRENGTH - Back squat, 18 min\n6 @ 65\n4 @ 75\n2 @ 85");
    assert_eq!(lift["movements"], json!(["back-squat"]), "{lift:#}");
    assert_eq!((&lift["reps"], &lift["duration_s"]), (&json!([6, 4, 2]), &json!(1080)), "{lift:#}");
    // Submaximal sets are sets, and their number is none of repetitions.
    let sets = part("Chin-ups 5 x submax");
    assert!(plain("Chin-ups 5 x submax").contains("5 rounds"), "{sets:#}");
}

#[test]
fn what_is_added_to_another_day_is_no_weight() {
    for text in ["Squats 5x5, same weight as Monday + 2.5 kg", "Squats 5x5 @ last week + 2.5 kg"] {
        let told = plain(text);
        assert!(told.contains("back squat 5x5") && !told.contains("2.5 kg"), "{text}: {told}");
    }
}

#[test]
fn lifts_that_get_heavy_behind_a_colon_are_no_swaps() {
    let told =
        plain("Snatch: work to a heavy single in 15 min\nClean & jerk: work to a heavy single in 15 min");
    assert!(told.contains("snatch: build to a 1RM in 15:00"), "{told}");
    assert!(told.contains("clean and jerk: build to a 1RM in 15:00"), "{told}");
}

#[test]
fn the_heaviest_complex_is_built_to() {
    let part = part("9 minutes, heaviest complex of 1 power clean + 1 push press");
    assert_eq!((&part["format"], &part["duration_s"]), (&json!("build_to"), &json!(540)), "{part:#}");
}

#[test]
fn one_pair_of_bells_is_no_pair_of_people() {
    let part = part("Take one pair and keep it (15/10)\n\nAMRAP 8\n8 DB rows\n8 DB thrusters");
    assert_eq!(part["team_size"], 1);
}

#[test]
fn a_score_in_calories_is_said_once() {
    let reading = lantern_reader::read(
        "Every 3 min x 4\n9 thrusters 30/20\nmax calories ski\nscore: calories",
        lantern_session::movement::Catalogue::standard(),
    );
    let said: Vec<&str> = reading.lines[3].said.iter().map(|said| said.text.as_str()).collect();
    assert_eq!(said, ["score: calories"]);
}
