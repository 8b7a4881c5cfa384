//! Days and tracks of a text.

use lantern_reader::lexicon::Lexicon;
use lantern_reader::sections::{day_name, days, tracks};

fn names(text: &str) -> Vec<(String, (usize, usize))> {
    days(text).into_iter().map(|day| (day.name.name, day.lines)).collect()
}

#[test]
fn a_week_is_divided_at_its_days_and_nothing_is_lost_between() {
    let text = "Week of the sled\n\nMonday - squats\nBack squat 5x5\n\nTUESDAY:\n10 min AMRAP\n10 burpees\n\n## Wednesday\nrest\n";
    assert_eq!(
        names(text),
        [
            ("Monday - squats".to_owned(), (1, 5)),
            ("TUESDAY".to_owned(), (6, 9)),
            ("Wednesday".to_owned(), (10, 12))
        ]
    );
}

#[test]
fn dates_are_told_in_many_ways() {
    let lexicon = Lexicon::standard();
    for (line, iso, day) in [
        ("2026-09-14", Some("2026-09-14"), (14, Some(9))),
        ("Mon 14.09.2026", Some("2026-09-14"), (14, Some(9))),
        ("14/9/26 - legs", Some("2026-09-14"), (14, Some(9))),
        ("Monday 14 Sept", None, (14, Some(9))),
        ("Sept 14th", None, (14, Some(9))),
        ("** Fri 18.9. **", None, (18, Some(9))),
    ] {
        let name = day_name(line, lexicon).unwrap_or_else(|| panic!("{line} names a day"));
        assert_eq!((name.iso_date().as_deref(), name.day), (iso, Some(day)), "{line}");
    }
}

#[test]
fn lines_that_speak_of_days_name_none() {
    let lexicon = Lexicon::standard();
    for line in [
        "Monday we squat 5x5",
        "Friday 18:00 party, bring 2 friends",
        "10/8 cal row",
        "sun salutations x 5",
        "21-15-9",
        "Tue 5x5 @ 75%",
        "  Wednesday",
    ] {
        assert_eq!(day_name(line, lexicon), None, "{line}");
    }
}

#[test]
fn a_list_of_what_comes_is_no_week() {
    assert_eq!(names("Mon - squats\nTue - rows\nWed - rest\n\nTUESDAY\n2 km row for time"), []);
    assert_eq!(names("Monday\nBack squat 5x5\n10 min AMRAP: 10 burpees"), []);
}

#[test]
fn tracks_are_kept_apart_from_the_class() {
    let text = "=== SPORT ===\nBack squat 5x3\n\n10 min AMRAP\n10 burpees\n\n=== BEGINNERS ===\nGoblet squat 5x8\n\n10 min AMRAP\n8 burpees\n\n=== HOME ===\n3 rounds\n20 lunges\n10 burpees";
    let found: Vec<_> = tracks(text).into_iter().map(|track| (track.name, track.lines)).collect();
    assert_eq!(found, [("BEGINNERS".to_owned(), (7, 12))]);
    let evening = "MORNING\nDeadlift 5x5\n\nEVENING - the bars are out, instead of the above:\nDB deadlift 5 x 9\n8 min AMRAP\n9 burpees";
    let found: Vec<_> = tracks(evening).into_iter().map(|track| (track.name, track.lines)).collect();
    assert_eq!(found, [("EVENING".to_owned(), (4, 7))]);
}

#[test]
fn levels_below_a_piece_are_no_tracks() {
    let text =
        "For time\n21-15-9\nthrusters\npull-ups\n\nRX: 43/30\nSCALED: 30/20\nBEGINNERS: 20/15, ring rows";
    assert_eq!(tracks(text), []);
}
