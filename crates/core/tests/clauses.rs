//! Ways of writing one thing: each line of a table is a handwriting, and the fact that it must give.

use lantern_core::movement::Catalogue;
use lantern_core::print::reading_json;
use lantern_core::read::read;
use serde_json::{Value, json};

/// The first part of a text.
fn part(text: &str) -> Value {
    let reading = read(text, Catalogue::standard());
    let json = reading_json(&reading);
    assert!(!json["parts"].as_array().unwrap().is_empty(), "nothing was read in {text:?}");
    json["parts"][0].clone()
}

/// Checks one key of the first part for many texts.
fn all_give(key: &str, cases: &[(&str, Value)]) {
    for (text, expected) in cases {
        let part = part(text);
        assert_eq!(&part[key], expected, "{key} of {text:?}");
    }
}

#[test]
fn caps() {
    for cap in [
        "cap 12",
        "12 min cap",
        "time cap: 12:00",
        "TC 12",
        "cap is 12 minutes",
        "(12 minute time cap)",
        "cap = 12'",
        "we stop the clock at 12 minutes",
        "twelve minute cap",
        "capped at 12",
        "12:00 cap",
        "time limit 12 min",
    ] {
        all_give("cap_s", &[(&format!("5 rounds for time\n10 burpees\n{cap}"), json!(720))]);
    }
}

#[test]
fn amraps() {
    for head in [
        "AMRAP 12",
        "12 min AMRAP",
        "AMRAP in 12 minutes",
        "AMRAP x 12 min",
        "12' AMRAP",
        "AMRAP12:",
        "AMRAP 12:00",
        "As many rounds as possible in 12 minutes",
        "12-minute AMRAP of",
        "amrap - 12 min",
        "as many rounds and reps as possible in 12:00",
        "max rounds in 12 min",
    ] {
        let text = format!("{head}\n10 burpees\n15 sit-ups");
        all_give("format", &[(&text, json!("amrap"))]);
        all_give("duration_s", &[(&text, json!(720))]);
        all_give("score", &[(&text, json!("rounds_reps"))]);
    }
}

#[test]
fn clocks() {
    for (head, interval, times) in [
        ("EMOM 10", 60, 10),
        ("10 min EMOM", 60, 10),
        ("EMOM x 10", 60, 10),
        ("E2MOM x 5", 120, 5),
        ("E2MOM for 10 min", 120, 5),
        ("every 2 minutes for 10 minutes", 120, 5),
        ("every 2:00 x 5", 120, 5),
        ("every 90 seconds for 8 rounds", 90, 8),
        ("on the minute x 10", 60, 10),
        ("every minute on the minute for 10 minutes", 60, 10),
        ("5 rounds, every 2:30", 150, 5),
        ("E3MOM x 4", 180, 4),
        ("every 4 min, for 5 rounds", 240, 5),
    ] {
        let text = format!("{head}\n5 burpees");
        all_give("format", &[(&text, json!("every"))]);
        all_give("interval_s", &[(&text, json!(interval))]);
        all_give("duration_s", &[(&text, json!(interval * times))]);
        all_give("totals", &[(&text, json!({"burpee": {"amount": 5 * times, "unit": "reps"}}))]);
    }
}

#[test]
fn rounds_and_their_number() {
    for head in [
        "5 rounds for time",
        "5 RFT",
        "five rounds for time of",
        "5 rds for time:",
        "For time, 5 rounds",
        "5 rounds, as fast as possible",
        "5 laps for time",
    ] {
        all_give("rounds", &[(&format!("{head}\n10 burpees\n200 m run"), json!(5))]);
        all_give("format", &[(&format!("{head}\n10 burpees\n200 m run"), json!("for_time"))]);
    }
}

#[test]
fn schemes() {
    let totals =
        |n: u32| json!({"burpee": {"amount": n, "unit": "reps"}, "pull-up": {"amount": n, "unit": "reps"}});
    for (scheme, sum) in [
        ("21-15-9", 45),
        ("21 - 15 - 9", 45),
        ("21, 15, 9 reps of", 45),
        ("10-9-8...1", 55),
        ("10-9-8-7-6-5-4-3-2-1", 55),
        ("20-18-16-...-2", 110),
        ("50-40-30-20-10", 150),
        ("10 down to 1", 55),
        ("1-2-3-4-5", 15),
    ] {
        all_give("totals", &[(&format!("For time\n{scheme}\nburpees\npull-ups"), totals(sum))]);
        all_give("totals", &[(&format!("{scheme} for time\nburpees\npull-ups"), totals(sum))]);
    }
}

#[test]
fn targets() {
    for (words, expected) in [
        ("goal: 8-12 min", json!({"low_s": 480, "high_s": 720})),
        ("Target 8:00-12:00", json!({"low_s": 480, "high_s": 720})),
        ("should take 8 to 12 minutes", json!({"low_s": 480, "high_s": 720})),
        ("aim for 8-12", json!({"low_s": 480, "high_s": 720})),
        ("sub 9", json!({"high_s": 540})),
        ("goal: under 9:00", json!({"high_s": 540})),
        ("between 8 and 12 minutes", json!({"low_s": 480, "high_s": 720})),
        ("shooting for 8-12", json!({"low_s": 480, "high_s": 720})),
    ] {
        all_give("target", &[(&format!("5 rounds for time\n10 burpees\n{words}"), expected)]);
    }
    for (words, expected) in [
        ("goal: 5-6 rounds", json!({"rounds_low": 5.0, "rounds_high": 6.0})),
        ("5+ rounds", json!({"rounds_low": 5.0})),
        ("at least 5 rounds", json!({"rounds_low": 5.0})),
        ("aim for 5-6", json!({"rounds_low": 5.0, "rounds_high": 6.0})),
    ] {
        all_give("target", &[(&format!("AMRAP 10\n10 burpees\n{words}"), expected)]);
    }
}

#[test]
fn scores() {
    for (words, expected) in [
        ("score: total reps", "reps"),
        ("Score is your slowest round", "slowest_interval"),
        ("score = working time, rests off", "time_minus_rest"),
        ("score: total time", "time"),
        ("Score: rounds + reps", "rounds_reps"),
        ("score is heaviest load", "load"),
        ("score: lowest round", "reps"),
        ("count total reps", "reps"),
        ("slowest round counts", "slowest_interval"),
    ] {
        all_give("score", &[(&format!("5 rounds for time\n10 burpees\n{words}"), json!(expected))]);
    }
}

#[test]
fn rests_between_sets() {
    for rest in [
        "rest 2:00 between sets",
        "2 min rest between sets",
        "rest 2 min",
        "2:00 rest",
        "rest: 2 minutes",
        "rest 120 s between sets",
        "two minutes between sets",
        "resting 2:00 after each set",
        "rest 2'",
    ] {
        all_give("rest_s", &[(&format!("Back squat 5x5 @ 70%\n{rest}"), json!(120))]);
        all_give("rest_s", &[(&format!("Back squat 5x5 @ 70%, {rest}"), json!(120))]);
    }
}

#[test]
fn sets_reps_and_percentages() {
    for (line, sets, reps, percent) in [
        ("Back squat 5x5 @ 75%", 5, vec![5; 5], json!([75, 75])),
        ("5x5 back squat at 75 %", 5, vec![5; 5], json!([75, 75])),
        ("Back squat: 5 sets of 5 @ 70-75%", 5, vec![5; 5], json!([70, 75])),
        ("Back squat, five sets of five, 75% of 1RM", 5, vec![5; 5], json!([75, 75])),
        ("Back squat 5-5-3-3-1 @ 70-75-80-85-90%", 5, vec![5, 5, 3, 3, 1], json!([70, 90])),
        ("Back squat 4 x 4, climbing to 77-82%", 4, vec![4; 4], json!([77, 82])),
        ("BS 3x8 @70%", 3, vec![8; 3], json!([70, 70])),
    ] {
        all_give("sets", &[(line, json!(sets))]);
        all_give("reps", &[(line, json!(reps))]);
        all_give("percent", &[(line, percent)]);
        all_give("movements", &[(line, json!(["back-squat"]))]);
        all_give("kind", &[(line, json!("strength"))]);
    }
}

#[test]
fn heavy_sets_to_find() {
    for (line, rm) in [
        ("Build to a heavy 3 front squat", 3),
        ("Front squat: find a 5RM", 5),
        ("Front squat, work up to a heavy single", 1),
        ("Front squat build to 3 rep max in 15 min", 3),
        ("Front squat 1RM", 1),
        ("Front squat: heavy triple", 3),
        ("build up to a heavy set of 2 front squat", 2),
    ] {
        all_give("rm", &[(line, json!(rm))]);
        all_give("format", &[(line, json!("build_to"))]);
        all_give("score", &[(line, json!("load"))]);
    }
}

#[test]
fn loads() {
    let pair = |first: f64, second: f64, unit: &str, implements: u32| {
        let plain = |n: f64| if n.fract() == 0.0 { json!(n as i64) } else { json!(n) };
        json!({"first": plain(first), "second": plain(second), "unit": unit, "implements": implements})
    };
    for (line, id, expected) in [
        ("10 deadlifts 100/70 kg", "deadlift", pair(100.0, 70.0, "kg", 1)),
        ("10 deadlifts @ 100/70kg", "deadlift", pair(100.0, 70.0, "kg", 1)),
        ("10 deadlifts (225/155 lb)", "deadlift", pair(225.0, 155.0, "lb", 1)),
        ("10 deadlifts @225/155#", "deadlift", pair(225.0, 155.0, "lb", 1)),
        ("10 deadlifts with 100 kg / 70 kg", "deadlift", pair(100.0, 70.0, "kg", 1)),
        ("10 deadlifts, men 100 kg, women 70 kg", "deadlift", pair(100.0, 70.0, "kg", 1)),
        ("10 box jumps 60/50 cm", "box-jump", pair(60.0, 50.0, "cm", 1)),
        ("10 box jumps (24/20\")", "box-jump", pair(24.0, 20.0, "in", 1)),
        ("10 DB thrusters 2 x 22.5/15 kg", "dumbbell-thruster", pair(22.5, 15.0, "kg", 2)),
        ("15 wall balls 9/6 kg to 3/2.7 m", "wall-ball", pair(9.0, 6.0, "kg", 1)),
        ("20 swings with a 24/16 kg bell", "kettlebell-swing", pair(24.0, 16.0, "kg", 1)),
    ] {
        let text = format!("5 rounds for time\n{line}");
        assert_eq!(part(&text)["loads"][id], expected, "{line}");
    }
}

#[test]
fn amounts_and_sides() {
    for (line, id, amount, unit) in [
        ("500m row", "row", 500, "metres"),
        ("0.5 km row", "row", 500, "metres"),
        ("15/12 cal row", "row", 15, "calories"),
        ("row 15 cal", "row", 15, "calories"),
        ("400 m run", "run", 400, "metres"),
        ("run 400m", "run", 400, "metres"),
        ("1 mile run", "run", 1609, "metres"),
        ("45 s plank", "plank", 45, "seconds"),
        ("plank 0:45", "plank", 45, "seconds"),
        ("10 dead bugs each side", "dead-bug", 20, "reps"),
        ("10 dead bugs e/s", "dead-bug", 20, "reps"),
        ("10 dead bugs per side", "dead-bug", 20, "reps"),
        ("30 s side plank/side", "side-plank", 60, "seconds"),
        ("6 get-ups (3/3)", "get-up", 6, "reps"),
        ("10 lunges (5 each side)", "lunge", 10, "reps"),
    ] {
        let text = format!("For time\n{line}\ncap 5");
        assert_eq!(part(&text)["totals"][id], json!({"amount": amount, "unit": unit}), "{line}");
    }
}

#[test]
fn teams() {
    for (words, size) in [
        ("In pairs", 2),
        ("with a partner", 2),
        ("Teams of 3", 3),
        ("in teams of four", 4),
        ("Partner workout", 2),
        ("I go you go", 2),
        ("groups of 3, one works at a time", 3),
    ] {
        all_give("team_size", &[(&format!("{words}\nAMRAP 15\n10 burpees\n20 sit-ups"), json!(size))]);
    }
}

#[test]
fn bouts_with_rest() {
    for (head, rounds, work, rest) in [
        ("4 x 3:00 on, 1:30 off", 4, 180, 90),
        ("5 rounds of 2 min on / 1 min off", 5, 120, 60),
        ("6 x 40 s on 20 s off", 6, 40, 20),
        ("3 min on, 1 min off x 4", 4, 180, 60),
    ] {
        let text = format!("{head}\n200 m run\nmax burpees in the remaining time");
        all_give("format", &[(&text, json!("intervals"))]);
        all_give("rounds", &[(&text, json!(rounds))]);
        all_give("work_s", &[(&text, json!(work))]);
        all_give("rest_s", &[(&text, json!(rest))]);
    }
    for text in [
        "4 rounds\n500 m row\nrest 2:00 between rounds",
        "4 x 500 m row, rest 2:00",
        "4 x 500m row\n2 min rest between efforts",
    ] {
        all_give("format", &[(text, json!("intervals"))]);
        all_give("rest_s", &[(text, json!(120))]);
        all_give("totals", &[(text, json!({"row": {"amount": 2000, "unit": "metres"}}))]);
    }
}

#[test]
fn tempo_effort_and_weeks() {
    for line in ["Front squat 4x4 tempo 31X1", "Front squat 4x4 @ 31X1", "tempo 31x1 front squat 4x4"] {
        all_give("tempo", &[(line, json!("31X1"))]);
    }
    all_give("tempo", &[("Front squat 4x4, 3 seconds down, 1 second pause in the hole", json!("31X0"))]);
    for (line, rpe) in [
        ("Front squat 4x4 @ RPE 8", json!([8, 8])),
        ("Front squat 4x4, RPE 7-8", json!([7, 8])),
        ("Front squat 4x4, 2 RIR", json!([8, 8])),
    ] {
        all_give("rpe", &[(line, rpe)]);
    }
    for line in ["Week 3 of 6: front squat 4x4 @ 80%", "front squat, wk 3/6, 4x4 @ 80%"] {
        all_give("week", &[(line, json!([3, 6]))]);
    }
}

#[test]
fn what_is_done_instead_adds_no_work() {
    for line in [
        "or 10 ring rows",
        "No rig? 10 ring rows",
        "sub: 10 ring rows",
        "Scaled: 10 ring rows",
        "if you have no bar: 10 ring rows",
    ] {
        let text = format!("5 rounds for time\n10 pull-ups\n{line}");
        let part = part(&text);
        assert_eq!(part["movements"], json!(["pull-up"]), "{line}");
        assert_eq!(part["alternatives"].as_array().unwrap().len(), 1, "{line}");
    }
    assert_eq!(
        part("5 rounds for time\n10 pull-ups or 15 ring rows\n20 push-ups")["movements"],
        json!(["pull-up", "push-up"])
    );
}

#[test]
fn teams_of_every_size() {
    for (head, size) in [
        ("In pairs", 2),
        ("2 man teams", 2),
        ("Teams of 3", 3),
        ("3 person team", 3),
        ("Buddy workout", 2),
        ("w/ partner", 2),
        ("with a buddy", 2),
        ("in threes", 3),
        ("Team of 4", 4),
        ("partner wod", 2),
    ] {
        let text = format!("{head}\n5 rounds for time\n20 cal row\n10 burpees");
        all_give("team_size", &[(&text, json!(size))]);
        all_give("rounds", &[(&text, json!(5))]);
    }
}

#[test]
fn bouts_of_an_amrap() {
    for head in [
        "3 x 5:00 AMRAP, 2 min rest between",
        "3 x 5 min AMRAP\nrest 2:00 between AMRAPs",
        "3 rounds of 5 min AMRAP, rest 2 min between rounds",
        "3 x AMRAP 5, 2:00 rest between",
        "3 sets\nAMRAP 5 min\nrest 2 mins between sets",
    ] {
        let text = format!("{head}\n10 cal bike\n8 box jumps");
        for (key, value) in [
            ("format", json!("intervals")),
            ("rounds", json!(3)),
            ("work_s", json!(300)),
            ("rest_s", json!(120)),
        ] {
            all_give(key, &[(&text, value)]);
        }
    }
}

#[test]
fn a_clock_that_cuts_into_a_piece_and_one_that_is_the_piece() {
    for line in ["EMOM: 5 burpees", "every minute: 5 burpees", "at the top of every minute do 5 burpees"] {
        let text = format!("For time: 100 thrusters 43/30 kg\n{line}\ncap 20");
        let part = part(&text);
        assert_eq!((&part["format"], &part["cap_s"]), (&json!("for_time"), &json!(1200)), "{text}");
        assert_eq!(part["tree"]["node"], json!("interrupt"), "{text}");
        assert_eq!(part["totals"].as_object().unwrap().len(), 1, "what cuts in has no total: {text}");
    }
    for head in ["EMOM20", "EMOM 20", "20 min EMOM", "E1MOM x 20"] {
        let text = format!("{head}:\nmin 1: 12 cal bike\nmin 2: 10 burpees");
        all_give("format", &[(&text, json!("every"))]);
        all_give("duration_s", &[(&text, json!(1200))]);
    }
    for head in ["E2M for 16 min", "E2MOM 16", "every 2 min for 16 min", "Every 2:00 x 8"] {
        let text = format!("{head}\nA) 200 m run\nB) 12 burpees");
        all_give("interval_s", &[(&text, json!(120))]);
        all_give("duration_s", &[(&text, json!(960))]);
    }
}

#[test]
fn a_tool_goes_with_any_name_of_the_movement() {
    for (line, id) in [
        ("20 DB deads", "dumbbell-deadlift"),
        ("20 dumbbell deadlifts", "dumbbell-deadlift"),
        ("10 kb deads", "kettlebell-deadlift"),
        ("12 db rdls", "dumbbell-romanian-deadlift"),
        ("10 toes2bar", "toes-to-bar"),
        ("8 pvc pass thrus", "pvc-pass-through"),
        ("20 box step ups holding 22.5/15 db", "weighted-box-step-up"),
    ] {
        all_give("movements", &[(&format!("5 rounds for time\n{line}"), json!([id]))]);
    }
}

#[test]
fn a_bare_ball_or_bar_number_is_of_the_unit_that_exists() {
    for (line, id, unit) in [
        ("15 wall balls 20/14", "wall-ball", "lb"),
        ("15 wall balls 9/6", "wall-ball", "kg"),
        ("10 thrusters 95/65", "thruster", "lb"),
        ("10 thrusters 40/30", "thruster", "kg"),
    ] {
        let part = part(&format!("5 rounds for time\n{line}"));
        assert_eq!(part["loads"][id]["unit"], json!(unit), "{line}");
    }
}

#[test]
fn work_before_and_after_rounds_is_done_once() {
    for (text, id, total) in [
        ("For time\n500 m row, then 2 rounds: 5 burpees, 10 air squats", "row", 500),
        ("For time\n30 cal bike\n21-15-9 of\nthrusters 40 kg\nburpees\n30 cal bike", "bike", 60),
        ("Cash in: 50 cal ski\n3 rounds: 10 pull-ups, 20 push-ups\nCash out: 50 cal ski", "ski", 100),
        ("800m run\nthen\n5 rounds:\n5 strict pull ups\n10 push-ups\nthen\n800m run", "run", 1600),
    ] {
        assert_eq!(part(text)["totals"][id]["amount"], json!(total), "{text}");
    }
}

#[test]
fn results_that_are_meant_to_be() {
    for target in [
        "goal 12-15 min",
        "Most should land between 12:00 and 15:00",
        "aim for 12 to 15 minutes",
        "target: 12:00-15:00",
        "most of you will need 12-15 min",
        "should take 12 to 15 min",
    ] {
        let text = format!("3 rounds for time\n600 m run\n15 deadlifts 100/70 kg\n{target}");
        all_give("target", &[(&text, json!({"low_s": 720, "high_s": 900}))]);
    }
}

#[test]
fn lifts_in_few_words() {
    for (text, key, value) in [
        ("Strict press 5-5-5-5-5, add weight each set if it moves", "reps", json!([5, 5, 5, 5, 5])),
        ("Back squat 3 singles @ 90%", "sets", json!(3)),
        ("Front squat 12 reps @ 60% of today's 3RM", "percent", json!([60, 60])),
        ("Clean complex: hang clean + clean + jerk. 5 sets.", "sets", json!(5)),
        ("Deadlift - wk 2/5 - 5 sets of 3 building 75 to 85%", "week", json!([2, 5])),
        ("Bench press 4x8 RPE 8", "rpe", json!([8, 8])),
    ] {
        all_give(key, &[(text, value)]);
        all_give("kind", &[(text, json!("strength"))]);
    }
}

#[test]
fn quality_and_steady_work_is_not_for_time() {
    for head in ["3 RFQ", "3 rounds for quality", "For quality, 3 rounds:", "Not for time: 3 rounds"] {
        let text = format!("{head}\n8 Turkish get-ups\n60 s plank");
        all_give("format", &[(&text, json!("quality"))]);
        all_give("rounds", &[(&text, json!(3))]);
        all_give("score", &[(&text, json!("none"))]);
    }
    all_give("duration_s", &[("30 min Zone 2 - bike, row or run", json!(1800))]);
    all_give("movements", &[("30 min Zone 2 - bike, row or run", json!(["bike"]))]);
}
