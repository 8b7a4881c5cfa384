use proptest::prelude::*;

use super::*;
use crate::floor::Station;
use crate::gym::Gym;
use crate::movement::Catalogue;
use crate::read::read;
use crate::session::{PartKind, Session};
use crate::units::Kilograms;
use crate::warmup::Warmup;

fn hour_with(text: &str, minutes: u32, edits: &HourEdits, class_size: usize) -> Hour {
    let catalogue = Catalogue::standard();
    let gym = Gym { class_minutes: minutes, ..Gym::default() };
    let warmup = Warmup { seconds: 600, ..Warmup::default() };
    let session = with_changes(&session(text), &edits.changes, &gym, catalogue);
    let pieces = session.parts.iter().enumerate().filter_map(|(part, piece)| {
        let late_s = f64::from(piece.cap_s.or(piece.duration_s)?);
        Some(PieceTime {
            part,
            middle_s: late_s * 0.8,
            late_s,
            heats: None,
            stations: Vec::new(),
            climb: None,
        })
    });
    let lifts = session.parts.iter().enumerate().filter(|(_, part)| part.kind == PartKind::Strength);
    let lift_time = |part| LiftTime {
        part,
        ramp_steps: 4,
        turns: (class_size as u32).div_ceil(gym.racks),
        ..LiftTime::default()
    };
    lay_out(&HourInput {
        session: &session,
        warmup: &warmup,
        pieces: &pieces.collect::<Vec<_>>(),
        lifts: &lifts.map(|(part, _)| lift_time(part)).collect::<Vec<_>>(),
        gym: &gym,
        catalogue,
        edits,
    })
}

fn session(text: &str) -> Session {
    read(text, Catalogue::standard()).session
}

fn hour(text: &str, minutes: u32) -> Hour {
    hour_with(text, minutes, &HourEdits::default(), 14)
}

const LONG: &str = "Back squat 8x5 @ 75%\nrest 3:00\n\nConditioning\nFor time, cap 30\n100 burpees\n\nAccessory\n3x20 sit-ups";

#[test]
fn blocks_follow_each_other_without_gaps() {
    let hour = hour("Back squat 5x5 @ 75%\nrest 2:00\n\nConditioning\nAMRAP 12\n10 burpees", 60);
    assert!(hour.blocks.windows(2).all(|pair| pair[0].end_s == pair[1].start_s));
    assert!(hour.fits, "{hour:?}");
    assert!(hour.earliest_s < hour.ends_s && hour.ends_s < hour.latest_s);
    // What a clock rules is not late or early.
    let piece = hour.blocks.iter().find(|block| block.kind == "conditioning").unwrap();
    assert_eq!((piece.low_s, piece.high_s, piece.length_s()), (720, 720, 720));
}

#[test]
fn a_plan_that_is_too_long_says_by_how_much_and_what_to_change() {
    let hour = hour(LONG, 60);
    assert!(!hour.fits && hour.over_s > 600);
    let changes: Vec<&Change> = hour.changes.iter().map(|suggestion| &suggestion.change).collect();
    assert!(changes.contains(&&Change::OneSetLess { part: 0 }), "{changes:?}");
    assert!(changes.contains(&&Change::LowerCap { part: 1 }));
    // What costs the session least comes first.
    assert!(matches!(changes[0], Change::AccessoryHome { .. }), "{changes:?}");
}

#[test]
fn every_change_saves_what_it_says_and_comes_back() {
    let before = hour(LONG, 60);
    for suggestion in &before.changes {
        let mut edits = HourEdits { changes: vec![suggestion.change.clone()], ..HourEdits::default() };
        // The warm-up itself is made elsewhere.
        if suggestion.change != Change::ShorterWarmup {
            let after = hour_with(LONG, 60, &edits, 14);
            let saved = i64::from(before.ends_s) - i64::from(after.ends_s);
            assert!(
                (saved - suggestion.saves_s).abs() <= 60,
                "{}: {saved} {}",
                suggestion.what,
                suggestion.saves_s
            );
        }
        let last = edits.changes[0].clone();
        edits.take_back(&last);
        assert_eq!(hour_with(LONG, 60, &edits, 14), before);
    }
}

#[test]
fn time_that_is_left_is_offered_and_can_be_filled() {
    let text = "Back squat 3x5 @ 75%\nrest 2:00";
    let before = hour(text, 60);
    assert!(before.changes.is_empty() && !before.additions.is_empty());
    for suggestion in &before.additions {
        assert!(suggestion.saves_s < 0 && before.spare_s as i64 >= -suggestion.saves_s, "{suggestion:?}");
    }
    let edits = HourEdits { changes: vec![Change::OneSetMore { part: 0 }], ..HourEdits::default() };
    assert!(hour_with(text, 60, &edits, 14).ends_s > before.ends_s);
}

#[test]
fn a_pinned_block_keeps_its_length_and_has_no_spread() {
    let edits = HourEdits {
        pins: [("brief".to_owned(), 60), ("strength-0".to_owned(), 900)].into(),
        ..HourEdits::default()
    };
    let hour = hour_with(LONG, 60, &edits, 14);
    let of = |key: &str| hour.blocks.iter().find(|block| block.key == key).unwrap();
    assert_eq!((of("brief").length_s(), of("brief").high_s, of("brief").pinned), (60, 60, true));
    assert_eq!(of("strength-0").length_s(), 900);
    // Nothing is suggested that a pin would undo.
    assert!(!hour.changes.iter().any(|suggestion| suggestion.change == Change::OneSetLess { part: 0 }));
}

#[test]
fn who_has_left_is_forgotten_and_the_rest_stays() {
    let pair = |a: &str, b: &str| (a.to_owned(), b.to_owned());
    let mut edits = HourEdits::default();
    edits.change_floor(0, |floor| {
        floor.places = [("Ada".to_owned(), (1.0, 2.0))].into();
        floor.teams.together = vec![pair("Ben", "Ada"), pair("Ben", "Cyd")];
        floor.teams.apart = vec![pair("Ada", "Cyd")];
    });
    edits.forget("Ada");
    let floor = edits.floor(0);
    assert!(floor.places.is_empty() && floor.teams.apart.is_empty());
    assert_eq!(floor.teams.together, [pair("Ben", "Cyd")]);
    edits.forget("Cyd");
    assert_eq!(edits, HourEdits::default());
}

#[test]
fn each_change_is_told_of_what_stood_before_it() {
    let lower = Change::LowerCap { part: 1 };
    let edits = HourEdits { changes: vec![lower.clone(), lower], ..HourEdits::default() };
    assert_eq!(
        edits.told(&session(LONG), &Gym::default(), Catalogue::standard()),
        ["Cap two minutes sooner than 30:00", "Cap two minutes sooner than 28:00"]
    );
}

#[test]
fn one_set_less_takes_the_lightest_and_keeps_the_top_set() {
    let session = session("Back squat 5-4-3-2-1 @ 70-75-80-85-90%");
    let strength = &session.parts[0].strength;
    assert_eq!((strength.sets, &strength.reps[..]), (Some(5), &[5, 4, 3, 2, 1][..]));
    let less =
        with_changes(&session, &[Change::OneSetLess { part: 0 }], &Gym::default(), Catalogue::standard());
    assert_eq!((less.parts[0].strength.sets, &less.parts[0].strength.reps[..]), (Some(4), &[4, 3, 2, 1][..]));
}

#[test]
fn what_does_not_fit_a_written_time_says_so_and_what_would() {
    let tight = |text: &str, people| {
        let hour = hour_with(text, 60, &HourEdits::default(), people);
        hour.blocks.into_iter().find(|block| block.kind == "strength").unwrap().tight
    };
    let clock = "Back squat\nevery 1:00 x 10: 5 reps @ 75%";
    let crowded = tight(clock, 20).unwrap();
    insta::assert_snapshot!(crowded, @"3 to a rack take 1:15 a round, and a set starts every 1:00: 2 to a rack would fit, or a start every 1:15");
    assert_eq!(tight(clock, 4), None);
    let written = "Back squat 8x5 @ 75%, in 12 minutes";
    let full = tight(written, 20).unwrap();
    assert!(full.contains("12:00 is written: time for ") && full.contains("of 8 sets"), "{full}");
    // Nobody has said how many sets: none are too many.
    assert_eq!(tight("Back squat: build to a heavy 5 in 12 minutes", 20), None);
}

#[test]
fn a_piece_lasts_to_its_cap_and_the_climb_is_timed() {
    let text = "For time, cap 12\n30 deadlifts 100/70 kg";
    let catalogue = Catalogue::standard();
    let (gym, edits) = (Gym::default(), HourEdits::default());
    let session = session(text);
    let warmup = Warmup { seconds: 600, ..Warmup::default() };
    let climb = Climb { who: "Ada".to_owned(), to: Kilograms::from_kg(100.0), steps: 3, plates: 4 };
    let lasts = |climb: Option<Climb>| {
        let piece =
            PieceTime { part: 0, middle_s: 300.0, late_s: 400.0, heats: None, stations: Vec::new(), climb };
        lay_out(&HourInput {
            session: &session,
            warmup: &warmup,
            pieces: &[piece],
            lifts: &[],
            gym: &gym,
            catalogue,
            edits: &edits,
        })
    };
    let (with, without) = (lasts(Some(climb)), lasts(None));
    let block = |hour: &Hour, kind: &str| hour.blocks.iter().find(|block| block.kind == kind).cloned();
    assert_eq!(block(&with, "conditioning").unwrap().length_s(), 720);
    let climb = block(&with, "climb").unwrap();
    assert!(climb.why.contains("100 kg") && climb.why.contains("Ada"), "{}", climb.why);
    assert_eq!(block(&without, "climb"), None);
    assert_eq!(with.ends_s, without.ends_s + climb.length_s());
}

/// Seconds of setting up, and what is fetched.
fn set_up(text: &str, things: &[(usize, &[(Station, u32)])]) -> Vec<(u32, String)> {
    let catalogue = Catalogue::standard();
    let (gym, edits, session) = (Gym::default(), HourEdits::default(), session(text));
    let pieces = things.iter().map(|(part, stations)| PieceTime {
        part: *part,
        middle_s: 300.0,
        late_s: 400.0,
        heats: None,
        stations: stations
            .iter()
            .map(|(station, count)| Fetched { station: *station, count: *count, at_once: *count })
            .collect(),
        climb: None,
    });
    let hour = lay_out(&HourInput {
        session: &session,
        warmup: &Warmup::default(),
        pieces: &pieces.collect::<Vec<_>>(),
        lifts: &[],
        gym: &gym,
        catalogue,
        edits: &edits,
    });
    let blocks = hour.blocks.iter().filter(|block| block.kind == "set_up");
    blocks.map(|block| (block.length_s(), block.why.clone())).collect()
}

#[test]
fn what_is_fetched_is_counted_and_whatever_the_next_piece_needs_comes_along() {
    let two = "For time, cap 8\n30 kettlebell swings\n\nFor time, cap 8\n30 box jumps\n20 kettlebell swings";
    let bells = Station::Kettlebells(16_000);
    let found = set_up(two, &[(0, &[(bells, 9)]), (1, &[(bells, 4), (Station::Box, 2)])]);
    let [(seconds, why)] = &found[..] else { panic!("{found:?}") };
    assert_eq!(why, "fetch 9 x 16 kg kettlebells, 2 boxes");
    // Whoever fetches what only two need waits for nobody.
    let queued = set_up(two, &[(0, &[(bells, 20)]), (1, &[(Station::Box, 2)])]);
    assert!(queued[0].0 > *seconds && set_up(two, &[(0, &[(bells, 9)]), (1, &[])])[0].0 < *seconds);
    // What stands between has to be put away first.
    let apart = "For time, cap 8\n30 kettlebell swings\n\nBack squat 5x5\n\nFor time, cap 8\n30 box jumps";
    let found = set_up(apart, &[(0, &[(bells, 9)]), (2, &[(Station::Box, 2)])]);
    let told: Vec<&str> = found.iter().map(|(_, why)| why.as_str()).collect();
    assert_eq!(told, ["fetch 9 x 16 kg kettlebells", "put away, fetch 2 boxes"]);
}

#[test]
fn a_piece_is_made_shorter_only_where_a_piece_is_left() {
    let shorter = |minutes: u32| {
        let hour = hour(&format!("AMRAP {minutes}\n10 burpees"), 10);
        hour.changes.iter().any(|offer| matches!(offer.change, Change::ShorterPiece { .. }))
    };
    assert_eq!([4, 5, 12].map(shorter), [false, true, true]);
}

proptest! {
    #[test]
    fn prop_a_bigger_class_never_ends_sooner(sets in 1_u32..8, reps in 1_u32..10, people in 1_usize..30) {
        let text = format!("Back squat {sets}x{reps} @ 75%\n\nConditioning\nAMRAP 10\n10 burpees");
        let of = |people| hour_with(&text, 60, &HourEdits::default(), people).ends_s;
        prop_assert!(of(people) <= of(people + 1));
    }

    #[test]
    fn prop_changes_of_parts_that_are_not_there_do_nothing(part in 3_usize..40) {
        let session = session(LONG);
        for change in [
            Change::AccessoryHome { part },
            Change::OneSetLess { part },
            Change::LowerCap { part },
            Change::ShorterPiece { part },
        ] {
            prop_assert_eq!(&with_changes(&session, &[change], &Gym::default(), Catalogue::standard()), &session);
        }
    }
}

#[test]
fn an_hour_is_told_in_a_sentence_and_has_room_for_what_is_pinned() {
    let text = "Back squat 5x5 @ 75%, every 3:00\n\nFor time, cap 12\n50 burpees\n50 air squats";
    let fits = hour(text, 60);
    assert!(fits.fits && !fits.is_tight());
    let (ends, latest) = (crate::units::clock_s(fits.ends_s), crate::units::clock_s(fits.latest_s));
    assert_eq!(fits.sentence(), format!("Ends at {ends} of 60:00, latest {latest}."));
    let short = hour(text, 30);
    let over = crate::units::clock_s(short.ends_s - 1800);
    assert_eq!(short.sentence(), format!("Ends at {ends}, {over} past the 30:00; latest {latest}."));
    // A minute that the usual day keeps and a slow one does not.
    let minutes = fits.ends_s.div_ceil(60);
    assert!(fits.latest_s > minutes * 60, "{fits:?}");
    let tight = hour(text, minutes);
    assert!(tight.is_tight());
    assert_eq!(
        tight.sentence(),
        format!("Ends at {ends}; a slow day runs to {latest}, past the {minutes}:00.")
    );

    let length =
        |hour: &Hour, key: &str| hour.blocks.iter().find(|block| block.key == key).unwrap().length_s();
    let room = fits.room_for("conditioning-1");
    assert_eq!(room, f64::from(3600 - fits.ends_s + length(&fits, "conditioning-1")));
    assert_eq!(fits.room_for("nothing of this name"), f64::from(3600 - fits.ends_s));
    let mut edits = HourEdits::default();
    edits.pins.insert("conditioning-1".to_owned(), 900);
    assert_eq!(hour_with(text, 60, &edits, 14).room_for("conditioning-1"), 900.0);
}

#[test]
fn a_bar_that_rises_on_the_clock_takes_a_set_an_interval() {
    let hour = hour("3 deadlifts every minute, 10 kg more each minute until failure", 60);
    let lift = hour.blocks.iter().find(|block| block.kind == "strength").unwrap();
    assert!(lift.why.contains("one every 1:00"), "{}", lift.why);
}

#[test]
fn a_rest_that_is_written_between_two_parts_stands_between_them() {
    let pieces = |rest| format!("A) AMRAP 8\n10 burpees\n\n{rest}\n\nB) AMRAP 6\n10 sit-ups");
    let block = |hour: &Hour, key: &str| hour.blocks.iter().find(|block| block.key == key).cloned();
    let rested = hour(&pieces("rest 3:00"), 60);
    let rest = block(&rested, "rest-1").unwrap();
    assert_eq!((rest.length_s(), rest.low_s, rest.high_s), (180, 180, 180));
    assert_eq!(rest.start_s, block(&rested, "conditioning-0").unwrap().end_s);
    assert_eq!(rest.end_s, block(&rested, "conditioning-1").unwrap().start_s);
    let straight_on = hour(&pieces(""), 60);
    assert_eq!(block(&straight_on, "rest-1"), None);
    let whole = |hour: &Hour| hour.blocks.last().unwrap().end_s;
    assert_eq!(whole(&rested), whole(&straight_on) + 180);
    // What has to be moved and told before a piece is done meanwhile.
    for minutes in [1, 3, 8] {
        let lift =
            format!("Back squat 5x5 @ 75%\n\nrest {minutes}:00 before the next part\n\nAMRAP 8\n10 burpees");
        let laid = hour(&lift, 90);
        let between =
            block(&laid, "conditioning-1").unwrap().start_s - block(&laid, "strength-0").unwrap().end_s;
        let moved: u32 = ["set_up-1", "brief-1"]
            .iter()
            .filter_map(|key| block(&laid, key))
            .map(|block| block.length_s())
            .sum();
        assert!(moved > 60);
        assert_eq!(between, moved.max(minutes * 60), "{minutes}");
        assert_eq!(block(&laid, "rest-1").is_some(), minutes * 60 > moved, "{minutes}");
    }
}
