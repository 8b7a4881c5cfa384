//! Where parts begin when no empty line shows it, and words that are nobody's slip.

use serde_json::json;

use super::{part, parts, plain, total};

#[test]
fn a_day_reads_the_same_with_its_lines_drawn_apart() {
    let text = "Warm-up\n2 rounds\n200 m row\n10 air squats\n\nFront squat 5x3 @ 80%\n\n3 rounds for time\n12 burpees\n15 sit-ups";
    let (as_written, apart) = (plain(text), plain(&text.replace('\n', "\n\n")));
    assert_eq!(as_written, apart);
    // Paragraphs of prose are parted by theirs.
    let told = "We start with five easy minutes on the rower and then ten slow squats for everybody who is here.\n\nThen it is five sets of three in the deadlift at seventy percent, two minutes between them please.\n\nAfter that four rounds for time of ten burpees and twenty sit-ups, and nobody needs more than twelve minutes for it.\n\nSee you all tomorrow then.";
    assert_eq!(parts(told).len(), 3, "{:#?}", parts(told));
}

#[test]
fn letters_stand_in_front_of_parts_without_empty_lines_too() {
    let day = parts(
        "Warm-up\n2 rounds\n8 lunges\n8 ring rows\nA) Bench press\n4 @ 65%\n4 @ 75%\n2 @ 85%\nB) AMRAP 9\n7 burpees\n9 sit-ups",
    );
    let kinds: Vec<_> = day.iter().map(|part| part["kind"].as_str().unwrap()).collect();
    assert_eq!(kinds, ["warmup", "strength", "conditioning"]);
    assert_eq!(day[1]["percent"], json!([65, 85]), "{:#}", day[1]);
}

#[test]
fn what_is_raced_shared_or_heavy_is_no_warm_up() {
    for below in [
        "For time:\n50 wall balls 9/6\n400 m run\ncap 12",
        "In pairs, one works one rests\n50 wall balls 9/6\n400 m run\ncap 12",
        "Power snatch - 10 min to find a heavy double",
        "Chin-ups 4 x 4, 2 in reserve, rest 2 min",
    ] {
        let day = parts(&format!("Warm-up, 7 min: 200 m jog, 8 lunges, 6 inchworms\n{below}"));
        assert_eq!(day.len(), 2, "{below}: {day:#?}");
        assert_eq!((&day[0]["kind"], &day[0]["duration_s"]), (&json!("warmup"), &json!(420)), "{below}");
    }
}

#[test]
fn a_lift_in_a_line_of_its_own_keeps_its_sets() {
    let day = parts(
        "Warm-up\n2 rounds\n8 lunges\n8 ring rows\nBACK SQUAT\n5 x 2 @ 82%, a set every 2:30\n3 rounds for time\n9 burpees\n12 sit-ups",
    );
    assert_eq!(day.len(), 3, "{day:#?}");
    assert_eq!((&day[1]["movements"], &day[1]["interval_s"]), (&json!(["back-squat"]), &json!(150)));
}

#[test]
fn a_second_superset_is_another_part() {
    let day = parts(
        "Superset 1 - 4 sets, rest 90 s\nBench press x 6\nRing rows x 10\nSuperset 2 - 3 sets, rest 60 s\nGood mornings x 12\nSit-ups x 15",
    );
    assert_eq!((day.len(), &day[0]["sets"], &day[1]["sets"]), (2, &json!(4), &json!(3)), "{day:#?}");
}

#[test]
fn what_belongs_to_the_part_above_begins_none() {
    for (text, format) in [
        ("Superset, 3 rounds\nPush press 6 @ 65 %\nFront squat 5 @ 70 %", "superset"),
        ("For time\n20 lunges\n4 rounds\n9 push-ups\nthen 30 lunges", "for_time"),
        ("Coach goes first\nAMRAP 8\n8 push-ups\n16 lunges", "amrap"),
    ] {
        assert_eq!(part(text)["format"], json!(format), "{text}");
    }
    let shared = part("I go you go\nAMRAP 14\n12 push-ups\n18 lunges");
    assert_eq!((&shared["team_size"], &shared["duration_s"]), (&json!(2), &json!(840)), "{shared:#}");
}

#[test]
fn what_is_bought_in_with_stands_with_what_it_is_for() {
    let part = part(
        "For time, cap 18 min\n\nBuy-in\n   40 cal row\n\n4 rounds\n   9 push presses, 40/27.5 kg\n   12 sit-ups\n\nCash-out\n   40 cal row",
    );
    assert_eq!(
        (&part["cap_s"], total(&part, "row"), total(&part, "sit-up")),
        (&json!(1080), json!(80), json!(48)),
        "{part:#}"
    );
}

#[test]
fn minutes_in_a_column_of_their_own_are_the_clock_of_the_class() {
    let text = " 0   welcome\n 4   WARM-UP, 2 rounds\n       10 lunges\n       10 ring rows\n15   STRENGTH. Deadlift 4x5 @ 70%, 2 min rest\n32   PIECE, 3 rounds for time\n       12 burpees\n       200 m run\n     everybody stops at min 46 (12 min)\n46   walk, breathe\n58   doors";
    let day = parts(text);
    let piece = day.iter().find(|part| part["kind"] == "conditioning").unwrap();
    assert_eq!((&piece["cap_s"], &piece["movements"]), (&json!(720), &json!(["burpee", "run"])), "{day:#?}");
    // "10   lunges" is work, however the numbers rise.
    assert_eq!(
        total(&part("For time\n10   lunges\n20   sit-ups\n30   air squats\n40   push-ups"), "push-up"),
        40
    );
}

#[test]
fn an_english_word_is_no_slip_of_another() {
    // One letter away from a movement or a word that says how a piece is run.
    for word in ["fitting", "internet", "hash", "feeds", "bold", "dock", "competing", "docker"] {
        let text = plain(&format!("AMRAP 9\n7 burpees\n9 sit-ups\nAsk me about the {word} afterwards"));
        assert!(!text.contains("run") && text.matches('\n').count() <= 6, "{word}: {text}");
    }
    // Behind a number a name may be meant, and other forms of a known word are known.
    assert_eq!(total(&part("3 rounds for time\n10 burpess\n10 lunges"), "burpee"), 30);
}
