//! Legs of a race and what stands between, behind or after a few rounds of it; sets that no lift is named for.

use super::{plain, total};
use lantern_reader::{read, reading_json};
use lantern_session::movement::Catalogue;
use lantern_session::works;

#[test]
fn what_a_new_sentence_leads_to_is_behind_the_rounds() {
    for text in [
        "For time: 5 rounds of 12 deadlifts, 9 cleans and 6 push jerks. Then 50 sit-ups.",
        "For time: 5 rounds of 12 deadlifts, 9 cleans and 6 push jerks. Finish with 50 sit-ups.",
    ] {
        assert!(plain(text).contains("6 push jerk\nthen 50 sit-up"), "{text}: {}", plain(text));
    }
    // In the same sentence it may be the last of the round.
    let within = plain("For time: 5 rounds of 12 deadlifts, 9 cleans, then 20 sit-ups");
    assert!(within.contains("9 clean\n20 sit-up"), "{within}");
}

#[test]
fn the_way_back_out_is_what_led_in() {
    for text in [
        "For time: 1 km row, then 5 rounds of 12 deadlifts, 9 cleans and 6 push jerks, then 1 km row",
        "Start with a 1 km row, then do 5 rounds of 12 deadlifts, 9 cleans and 6 push jerks. Finish with another 1 km row. 25 min cap.",
    ] {
        let told = plain(text);
        assert!(
            told.contains("1000 m row\n5 rounds\n12 deadlift\n9 clean\n6 push jerk\nthen 1000 m row"),
            "{text}: {told}"
        );
    }
}

#[test]
fn a_rest_between_two_legs_is_rested_once() {
    let legs = "3 rounds\n10 snatch\n15 burpee\nthen rest 3:00\n3 rounds\n10 air squat\n15 pull-up";
    for text in [
        "For time\n3 rounds\n10 snatches\n15 burpees\nrest 3 min\n3 rounds\n10 squats\n15 pull-ups",
        "3 rounds\n  10 snatches\n  15 burpees\nrest 3 min\n3 rounds\n  10 squats\n  15 pull-ups\nfor time",
    ] {
        assert!(plain(text).contains(legs), "{text}: {}", plain(text));
    }
    let by_work = plain("8 x 200 m row, rest 1:1\nrest 5 min\n4 x 500 m run, rest 90 s");
    assert!(by_work.contains("rest 5:00 before the next part"), "{by_work}");
}

#[test]
fn work_after_every_few_rounds_is_done_as_often_as_that() {
    for (text, runs) in [
        ("For time\n6 rounds\n10 pull-ups\n15 squats\n200 m run after every 2 rounds", 600),
        ("For time\n5 rounds\n10 pull-ups\n15 squats\nafter every 2 rounds: 200 m run", 400),
        ("8 rounds for time of 5 pull-ups and 10 squats, every other round run 200 m", 800),
        ("Every 3 rounds: 200 m run\n9 rounds for time\n5 pull-ups\n10 squats", 600),
    ] {
        let part = super::part(text);
        assert_eq!(total(&part, "run"), runs, "{text}: {part:#}");
        assert!(plain(text).contains(" rounds: 200 m run"), "{text}: {}", plain(text));
    }
    let open = plain("AMRAP 20\n10 pull-ups\n15 squats\n200 m run every 3 rounds");
    assert!(
        open.contains("AMRAP 20:00\n10 pull-up\n15 air squat\nafter every 3 rounds: 200 m run"),
        "{open}"
    );
    for text in [
        "AMRAP 12\n2-4-6-...\nthrusters\npull-ups\n200 m run after every 2 rungs",
        "For time\n21-18-15-12\nthrusters\npull-ups\n200 m run after every 2 rungs",
    ] {
        let told = read(text, Catalogue::standard()).problems;
        assert!(told.iter().any(|problem| problem.line == 5), "{text}: {told:?}");
    }
    let rest = plain("For time\n6 rounds\n10 pull-ups\n20 squats\nRest 1 min after every 2 rounds");
    assert!(rest.contains("after every 2 rounds: rest 1:00"), "{rest}");
    // More weight, or another partner, is no work.
    for text in [
        "AMRAP 15 in pairs, swap every 2 rounds\n5 pull-ups\n10 squats",
        "EMOM 16\nodd: 3 power snatches, building from 60 to 80 percent every two rounds\neven: 10 sit-ups",
    ] {
        assert!(!plain(text).contains("after every"), "{text}: {}", plain(text));
    }
}

#[test]
fn supersets_are_counted_in_front_and_lettered_below_or_in_a_line() {
    let told = plain(
        "4 supersets, 75 s between:\na) strict press 8 reps @ 65%\nb) ring rows 10-12\n\n3 supersets:\na) bench press 12\nb) rows 12",
    );
    assert!(
        told.contains("Superset, 4 sets\nA1) 8 strict press @ 65%\nA2) 10 ring row\nrest 1:15"),
        "{told}"
    );
    assert!(told.contains("Superset, 3 sets\nA1) 12 bench press"), "{told}");
    let line = plain("Front squat, 4 x 4, rest 2:30\nSuperset: A1 RDL 3x10, A2 split squat 3x8/leg");
    assert!(line.contains("front squat 4x4"), "{line}");
    assert!(
        line.contains("Superset, 3 sets\nA1) 10 romanian deadlift\nA2) 8 split squat each side"),
        "{line}"
    );
    let turns = plain("12 min EMOM, odd = 14/11 cal row, even = 12 alternating DB snatches");
    assert!(turns.contains("1) 14/11 cal row\n2) 12 dumbbell snatch"), "{turns}");
}

#[test]
fn sets_of_a_lift_that_is_named_nowhere_are_asked_about_and_make_nothing_of_other_work() {
    let catalogue = Catalogue::standard();
    for (text, line) in [
        ("3 rounds for time\n10 burpees\n\nBuild to a heavy single\n\nAMRAP 5\n10 squats", 4),
        ("3 rounds for time\n10 burpees\n\n5 x 3 @ 70%", 4),
        ("Strength: 5 x 3 @ 70%\n\n3 rounds for time\n10 burpees", 1),
        ("Strength\n5 x 5 @ 70%\n\nAMRAP 10\n10 squats\n10 push-ups", 2),
    ] {
        let reading = read(text, catalogue);
        let asked = |line: usize| {
            let mut told = reading.problems.iter();
            told.any(|problem| problem.line == line && problem.message.starts_with("sets of which lift?"))
        };
        assert!(asked(line), "{text}: {:?}", reading.problems);
        assert!(reading.session.parts.iter().all(|part| part.strength.percent.is_empty()), "{text}");
        assert!(reading.session.parts.iter().any(|part| !works(&part.tree).is_empty()), "{text}");
    }
    let day = "Deadlift day\nWork up to a tough set of 3. Drop to 80 percent of that and do 3 sets of 3.\nAfter that, 21-15-9 of deadlifts (100/70) and handstand push-ups, 9 min cap.";
    let told = plain(day);
    assert!(told.contains("deadlift: build to a 3RM\nthen 3x3\n@ 80% of today's top set"), "{told}");
    let parts = reading_json(&read(day, catalogue))["parts"].as_array().unwrap().len();
    assert_eq!(parts, 2);
}
