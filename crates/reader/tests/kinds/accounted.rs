//! What was read and would be lost on the way to the tree: told, or read after all.

use super::{parts, plain, total};
use lantern_reader::read;
use lantern_session::movement::Catalogue;

/// What is said about a text, line by line.
fn told(text: &str) -> Vec<(usize, String)> {
    let problems = read(text, Catalogue::standard()).problems;
    problems.into_iter().map(|problem| (problem.line, problem.message)).collect()
}

#[test]
fn a_number_that_is_in_nothing_that_is_done_is_told() {
    for (text, line) in [
        // The machine's last leg is not in the tree of a warm-up that goes on.
        ("Warm-up\nRow 2 min easy, 1 min mod, 30 sec hard\nThen 2 rounds: 10 lunges, 10 push-ups", 2),
        ("10 min: bike easy, every 2 min stand up for 10 s", 1),
    ] {
        assert!(told(text).iter().any(|(at, _)| *at == line), "{text}: {:?}", told(text));
    }
    // Nothing is said of what is all there.
    for text in [
        "Back squat 5x5 @ 75%, rest 2 min\n\nAMRAP 12\n10 burpees\n200 m run",
        "Every 2 min for 10 min: 3 power cleans @ 70%",
        "5 x 500 m row, around your 2k pace + 4\nrest 2 min",
        "Teams of 2, for time\n1 km row each\n100 sit-ups",
    ] {
        assert_eq!(told(text), [], "{text}");
    }
}

#[test]
fn minutes_that_are_kept_as_words_are_told() {
    let text = "Easy Sunday: 60 minutes, pick 3 machines, 20 min on each.\nStretch 10 min";
    assert!(told(text).iter().any(|(line, _)| *line == 1), "{:?}", told(text));
    assert_eq!(told("Doors open 18:45, bring water\n\nAMRAP 12\n10 burpees\n200 m run"), []);
}

#[test]
fn numbers_beside_sets_that_nothing_explains_are_told() {
    let text =
        "STRENGTH\nEvery 3 min x 5 sets\n3 front squats - build to a heavy 3\n*with it* 6 tall box jumps";
    assert!(told(text).iter().any(|(line, _)| *line == 4), "{:?}", told(text));
    let told = plain(text);
    assert!(told.contains("every 3:00 x 5\n3 front squat\nheavier each set"), "{told}");
}

#[test]
fn a_pause_within_a_repetition_is_a_tempo_and_no_rest() {
    for text in [
        "Back squat with 3 s pause 6x2 @ 72%",
        "Back squat 6x2 @ 72%, 3 seconds in the hole",
        "Pause back squat 6x2 @ 72% (3 sec)",
        "Back squat 6x2 @ 72%, pause for 3 seconds at the bottom",
    ] {
        assert!(plain(text).contains("back squat 6x2\n@ 72%\ntempo 23X0\n"), "{text}: {}", plain(text));
    }
    assert!(plain("Back squat 6x2 @ 72%, 90 s pause").contains("rest 1:30 between sets"));
}

#[test]
fn one_of_the_stations_may_be_a_rest() {
    for text in [
        "4 rounds, 1 minute at each station:\n1 wall walks\n2 double unders\n3 rest\n4 push-ups",
        "4 rounds, 1 minute at each station:\nwall walks\ndouble unders\nrest\npush-ups",
    ] {
        assert!(
            plain(text).contains(
                "4 rounds, 1:00 at each station\n1) wall walk\n2) double-under\n3) rest\n4) push-up"
            ),
            "{text}: {}",
            plain(text)
        );
    }
    // Where everybody moves on for a while, it is as long as the others with that.
    let moved = parts("3 rounds, 40 s on, 20 s off:\n1) wall walks\n2) rest\n3) push-ups");
    assert_eq!(moved[0]["tree"]["of"]["of"][2]["seconds"], 60, "{:#}", moved[0]["tree"]);
}

#[test]
fn what_is_walked_between_runs_is_their_rest() {
    for text in ["8 x 400 m run, 90 s walk", "8 rounds:\n400 m run\n90 s walk"] {
        assert!(
            plain(text).contains("8 rounds\n400 m run\nrest 1:30 between rounds"),
            "{text}: {}",
            plain(text)
        );
    }
    let told = plain("Warm-up\n2 rounds\n200 m run\n60 s walk");
    assert!(told.contains("60 s walk"), "{told}");
}

#[test]
fn lifts_that_have_the_odd_and_the_even_minutes_are_one_clock() {
    for text in [
        "EMOM 10\nOdd: 5 strict press @ 70%\nEven: 5 bent over rows @ 60%",
        "EMOM 10\nmin 1: 5 strict press @ 70%\nmin 2: 5 bent over rows @ 60%",
    ] {
        let told = plain(text);
        assert!(
            told.contains("every 1:00 for 10:00\nodd: 5 strict press @ 70%\neven: 5 bent-over row @ 60%"),
            "{text}: {told}"
        );
    }
}

#[test]
fn numbers_in_front_of_a_superset_on_a_long_clock_are_no_turns() {
    let told = plain("Strength\nEvery 3 min x 5\n1) 3 front squats @ 80%\n2) 6 box jumps");
    assert!(told.starts_with("Strength\nevery 3:00 x 5\n3 front squat + 6 box jump\n@ 80%"), "{told}");
}

#[test]
fn how_long_is_built_may_stand_between() {
    assert!(plain("Power clean: build in 12 min to a heavy triple").contains("build to a 3RM in 12:00"));
    assert!(
        plain("Work up over 15 min to a heavy push press").contains("push press: build to a 1RM in 15:00")
    );
    assert!(plain("8 min to find a heavy hang power clean (touch and go double)").contains("a 2RM in 8:00"));
    let carried = parts("Strength\nBuild to a heavy 20 m yoke walk in 15 min");
    assert_eq!(carried[0]["format"], "build_to", "{:#}", carried[0]);
}

#[test]
fn a_distance_of_nobody_is_no_run() {
    let reading = plain("3 rounds for time\n500 m zorbling\n10 push-ups");
    assert!(!reading.contains("run") && reading.contains("10 push-up"), "{reading}");
}

#[test]
fn who_is_in_a_team_stands_in_brackets_too() {
    for head in ["Team workout (3 people, 40 min cap)", "Team workout, 3 athletes per team, 40 min cap"] {
        let told = plain(&format!("{head}\n150 cal row\n100 burpees"));
        assert!(told.contains("Teams of 3") && told.contains("cap 40:00"), "{head}: {told}");
    }
    assert!(plain("Only one athlete works at a time\nAMRAP 20\n30 cal row").contains("Teams of 2"));
}

#[test]
fn a_weight_told_by_how_often_it_goes_is_a_share_of_that_max() {
    let told = plain("4 sets of 8 Romanian deadlifts at a weight you could do for 12. Rest 90 seconds.");
    assert!(told.contains("romanian deadlift 4x8\n@ 100% of 12RM\nrest 1:30"), "{told}");
}

#[test]
fn right_and_then_left_is_each_side_of_all_before_it() {
    let told =
        parts("5 rounds: 5 swings, 5 cleans, 5 presses - right, then left. 90 s rest. One bell 24/16 kg");
    assert_eq!(total(&told[0], "kettlebell-swing"), 50, "{:#}", told[0]);
    // Without a dash it is of what stands right before it.
    let one = parts("3 rounds for time\n10 push-ups, 10 single-arm rows right then left");
    assert_eq!(total(&one[0], "push-up"), 30, "{:#}", one[0]);
    assert_eq!(total(&one[0], "dumbbell-row"), 60, "{:#}", one[0]);
}

#[test]
fn minutes_and_as_much_as_goes_may_stand_behind_a_machine() {
    for text in ["Bike test: 20 min for max calories", "Bike: 20 min max cals"] {
        assert!(plain(text).contains("AMRAP 20:00\nmax calories bike"), "{text}: {}", plain(text));
    }
    assert!(
        plain("Sprint intervals on the bike\n8 x 20 s all out / 1:40 easy").contains("8 x 0:20 on, 1:40 off")
    );
}

#[test]
fn a_plan_may_have_bullets_in_front_of_its_times() {
    let told = plain(
        "7:00 class\n- 0:00 warm-up (general)\n- 0:10 technique, bar only\n- 0:20 every minute for 10 min: 1 snatch, 70-80%\n- 0:35 21-15-9 overhead squats 42.5/30 and pull-ups, 12 min cap\n- 0:50 cool down",
    );
    assert!(told.contains("every 1:00 x 10\n1 snatch\n@ 70-80%") && told.contains("21-15-9"), "{told}");
    assert!(!told.contains("10 s snatch") && !told.contains("Mobility\n0:50"), "{told}");
}

#[test]
fn the_last_set_may_go_back_where_shares_have_no_sign() {
    for text in ["Back squat\n10@55\n8@60\n20@50", "Back squat\n1x10@55\n1x8@60\nthen 1x20@50"] {
        assert!(plain(text).contains("back squat 10-8-20\n@ 55-60-50%"), "{text}: {}", plain(text));
    }
    let two = plain("Bench press 8-8-8 @ 70%, then 6-6 @ 75%");
    assert!(two.contains("bench press 3x8\n@ 70%") && two.contains("bench press 2x6\n@ 75%"), "{two}");
}

#[test]
fn a_share_and_an_effort_beside_different_sets_are_asked_about() {
    let text = "Front squat 4x4 (RPE 8), back-off 1x10 @ 65%";
    assert!(
        told(text).iter().any(|(_, message)| message.contains("which sets have the share")),
        "{:?}",
        told(text)
    );
}

#[test]
fn a_scheme_in_quotes_is_no_name() {
    let told =
        plain("EMOM 10\n10 burpees\n\nConditioning:\n\"21-18-15-12\"\nrow cals\nthrusters 40/30\n16 min cap");
    assert!(told.contains("21-18-15-12\n"), "{told}");
}

#[test]
fn what_contradicts_itself_is_asked_about_whichever_half_is_lost() {
    for text in [
        "30 min AMRAP, 3 rounds for time\n10 burpees\n200 m run\n15 sit-ups",
        "20 min AMRAP, 5 rounds for time: 10 push-ups, 15 air squats",
        "Conditioning\nAMRAP 12, 4 rounds for time\n12 cal row\n9 thrusters 40/30",
    ] {
        let questions = read(text, Catalogue::standard()).questions;
        assert!(
            questions.iter().any(|asked| asked.message.contains("which of the two")),
            "{text}: {questions:?}"
        );
    }
}

#[test]
fn a_line_that_is_not_understood_is_told_wherever_it_stands() {
    for (text, line) in [
        // Above its work, below it, between two lines of it: nobody knows what a zork is.
        ("Zork 12\n10 burpees\n200 m run", 1),
        ("For time\n40 burpees\n60 lunges\nblib 9", 4),
        ("AMRAP 9\n10 burpees\nglump to 3 blips\n12 swings", 3),
        ("Back squat 5 x 3 @ 70%\n2 glump in the 6th", 2),
        // The sets of something that is named, in words that leave a number over.
        ("Press: grow over 5 sets of 2, the last one a glump 9", 1),
        // A word that means something, and no phrase that says what.
        ("AMRAP 9\n10 burpees\n12 swings sets 4", 3),
    ] {
        assert!(told(text).iter().any(|(at, _)| *at == line), "{text}: {:?}", told(text));
    }
    // What is told above its work is told of the part.
    let part = read("Zork 12\n10 burpees\n200 m run", Catalogue::standard()).session.parts.remove(0);
    assert_eq!(part.lines.0, 1);
}

#[test]
fn talk_places_and_times_of_day_are_no_lost_numbers() {
    for text in [
        "A1 straight into A2\nA1 ring row 4 x 6\nA2 dips 4 x 6",
        "Coffee from 9.40\n\nAMRAP 9\n10 burpees\n12 swings",
        "AMRAP 9\n10 burpees\n12 swings\n\nOn Friday 40 of us go for a swim, bring 2 friends",
        "AMRAP 9\n10 burpees\n12 swings\nIf you are under 2 rounds after 5 minutes take a lighter bell",
        "AMRAP 9\n10 burpees\n12 swings\npage 2",
    ] {
        assert_eq!(told(text), [], "{text}");
    }
}
