//! A running clock that is divided into stretches, in numbers or in words: each is a part of its own.

use serde_json::json;

use super::{parts, total};

#[test]
fn stretches_that_are_led_by_a_word_are_parts_like_others() {
    let day = parts(
        "22:00 running clock\nfrom 0-9 min: build to a tough power clean\nfrom 9-12: rest and take the bar down to 65%\n\
         from 12-22: AMRAP\n7 power cleans @ 65% of that\n14 lateral burpees",
    );
    let [build, amrap] = &day[..] else { panic!("{day:#?}") };
    assert_eq!((&build["duration_s"], &build["format"]), (&json!(540), &json!("build_to")));
    assert_eq!((&amrap["duration_s"], total(amrap, "power-clean")), (&json!(600), json!(null)));
    assert_eq!(amrap["percent"], json!([65, 65]));
}

#[test]
fn a_clock_divided_in_words_is_as_many_parts() {
    for first in ["First 6 min - ", "First 6': "] {
        let day = parts(&format!(
            "{first}find a 4 rep max bench press\nNext 8 - 4 sets of 4 at 80% of it\nLast 9 - 6 rounds of 9 air squats, 7 push-ups"
        ));
        let [build, sets, race] = &day[..] else { panic!("{first}: {day:#?}") };
        assert_eq!((&build["rm"], &build["duration_s"]), (&json!(4), &json!(360)), "{first}");
        assert_eq!((&sets["sets"], &sets["percent_of"]), (&json!(4), &json!("today")), "{first}");
        assert_eq!((&race["cap_s"], total(race, "air-squat")), (&json!(540), json!(54)), "{first}");
    }
    // What is done in each minute of one piece makes none of its own.
    let emom = parts("EMOM 12\nFirst 6 min: 9 box jumps\nLast 6 min: 9 burpees");
    assert!(emom.len() < 3, "{emom:#?}");
}

#[test]
fn what_is_bought_in_on_its_own_clock_is_no_step_of_the_next() {
    let day = parts(
        "In pairs\n0:00-9:00 buy-in: 1600 m run together\n9:00-21:00 AMRAP\n14 sit-ups\n14 deadlifts 80/55 kg",
    );
    let [run, amrap] = &day[..] else { panic!("{day:#?}") };
    assert_eq!((&run["cap_s"], total(run, "run")), (&json!(540), json!(1600)));
    assert_eq!((&amrap["duration_s"], total(amrap, "run")), (&json!(720), json!(null)));
}

#[test]
fn a_stretch_in_which_something_unknown_is_counted_is_told() {
    let text = "0:00-9:00 1600 m run\n9:00-14:00 max cal blurb on any machine";
    let told = lantern_reader::read(text, lantern_session::movement::Catalogue::standard());
    assert!(told.problems.iter().any(|problem| problem.line == 2), "{:?}", told.problems);
    let plan = lantern_reader::read(
        "0:00-0:09 talk through the day\n0:09-0:50 AMRAP 12: 9 burpees, 9 air squats\n0:50-1:00 put away, three easy reps of everything",
        lantern_session::movement::Catalogue::standard(),
    );
    assert!(plan.problems.is_empty(), "{:?}", plan.problems);
}

#[test]
fn a_part_that_starts_at_a_time_of_the_clock_is_no_longer_for_it() {
    for start in ["starts at 11:00:", "begins at 11:00,", "at 11:00:"] {
        let day = parts(&format!(
            "Part 1 (9 min cap): 60 wall balls 9/6 kg, 40 sit-ups\nPart 2 {start} 1RM hang clean"
        ));
        let [race, build] = &day[..] else { panic!("{start}: {day:#?}") };
        assert_eq!((&race["format"], &race["cap_s"]), (&json!("for_time"), &json!(540)), "{start}");
        assert_eq!((&build["format"], &build["duration_s"]), (&json!("build_to"), &json!(null)), "{start}");
    }
}

#[test]
fn a_quote_behind_a_number_closes_a_name() {
    let amrap = parts("\"AMRAP 9\"\n7 burpees\n9 air squats").remove(0);
    assert_eq!(amrap["duration_s"], json!(540));
    let hold = parts("4 rounds\n7 burpees\n30\" plank").remove(0);
    assert_eq!(total(&hold, "plank"), json!(120));
}
