//! Lifts of one's own weight: by how many somebody has in a row, and by something easier where there are none.

use lantern_core::gym::Gym;
use lantern_core::member::{Experience, Max, Member, Sex};
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::plan::plan;
use lantern_core::read::read;
use lantern_core::session::works;
use lantern_core::strength::LiftSheet;
use lantern_core::units::Kilograms;

fn somebody(in_a_row: &[(&str, u32)]) -> Member {
    Member {
        name: "Somebody".to_owned(),
        sex: Some(Sex::F),
        age: Some(31),
        experience: Experience::Intermediate,
        bodyweight: Some(Kilograms::from_kg(64.0)),
        best_reps: in_a_row.iter().map(|(id, most)| (MovementId::new(id), *most)).collect(),
        ..Member::default()
    }
}

fn sheet(text: &str, member: Member) -> LiftSheet {
    let catalogue = Catalogue::standard();
    let plan = plan(&read(text, catalogue).session, &[member], &Gym::default(), catalogue, 1);
    plan.strength[0].sheets[0].clone()
}

fn by_feel(text: &str, member: Member) -> String {
    sheet(text, member).by_feel.unwrap_or_default()
}

#[test]
fn who_can_do_none_does_something_easier_and_is_told_why() {
    for (text, easier, why) in [
        ("Strict pull-ups 5x5", "banded-pull-up", "banded pull-up in its place, not there yet"),
        ("Strict pull-ups 4 x max", "banded-pull-up", "not there yet"),
        ("Weighted pull-ups 4x5 +10 kg", "banded-pull-up", "not there yet"),
        ("Ring muscle-ups 5x2", "low-ring-transition", "first 5 strict pull-ups"),
    ] {
        let none = sheet(text, somebody(&[("strict-pull-up", 0), ("push-up", 12)]));
        assert_eq!(none.lift, easier, "{text}: {:?}", none.held_why);
        assert!(none.held_why.as_ref().is_some_and(|told| told.contains(why)), "{text}: {:?}", none.held_why);
        assert!(none.instead_of.is_some(), "{text}");
    }
}

#[test]
fn who_can_do_as_many_does_them_as_written() {
    for text in ["Strict pull-ups 5x5", "Strict pull-ups 4 x max", "Weighted pull-ups 4x5 +10 kg"] {
        let own = sheet(text, somebody(&[("strict-pull-up", 12)]));
        assert_eq!(own.instead_of, None, "{text}: {:?}", own.held_why);
    }
    // With no more in a row than are asked for, nothing is hung on.
    let few = sheet("Weighted pull-ups 4x5 +10 kg", somebody(&[("strict-pull-up", 4)]));
    assert_eq!((few.lift.as_str(), few.instead_of.as_deref()), ("strict-pull-up", Some("weighted-pull-up")));
    assert!(few.held_why.unwrap().contains("4 in a row without a weight"));
}

#[test]
fn the_number_on_file_is_told_beside_the_sets() {
    let pull_ups = |most| somebody(&[("strict-pull-up", most)]);
    assert!(by_feel("Strict pull-ups 5x5", pull_ups(9)).starts_with("nothing to load, 9 in a row on file"));
    let few = by_feel("Strict pull-ups 5x5", pull_ups(3));
    assert!(few.starts_with("3 in a row on file: break the 5 before they fail"), "{few}");
    // As many as possible is no effort of seven.
    let most = by_feel("Strict pull-ups 4 x max", pull_ups(9));
    assert!(
        most.starts_with("as many as stay clean, RPE 9") && most.ends_with("9 in a row on file"),
        "{most}"
    );
}

#[test]
fn push_ups_say_nothing_of_what_can_be_hung_on_at_dips() {
    let dips = sheet("Weighted dips 4x5 @ 80%", somebody(&[("push-up", 40)]));
    assert!(dips.max.is_none() && dips.sets.iter().all(|set| set.load.is_none()), "{:?}", dips.max);
    assert!(dips.by_feel.unwrap().starts_with("no max on file"));
    let own = sheet("Weighted dips 4x5 @ 80%", somebody(&[("bar-dip", 10)]));
    assert!(own.max.is_some_and(|max| max.guess));
}

/// In a piece, too, a share of bodyweight is of the body and not of what is lifted once.
#[test]
fn a_piece_at_a_share_of_bodyweight_has_the_bars_of_each_ones_own() {
    let catalogue = Catalogue::standard();
    let strong = Member {
        maxes: [(MovementId::new("deadlift"), Max::on_file(Kilograms::from_kg(170.0)))].into(),
        ..somebody(&[])
    };
    for (text, kg) in [
        ("3 rounds for time\n10 deadlifts @ 1.5 x bodyweight\n400 m run", 95.0),
        ("3 rounds for time\n10 deadlifts (1.5 bodyweight)\n400 m run", 95.0),
        ("3 rounds for time\n10 deadlifts (3/4 bodyweight)\n400 m run", 47.5),
        ("3 rounds for time\n10 deadlifts (half bodyweight)\n400 m run", 32.5),
    ] {
        let reading = read(text, catalogue);
        assert!(reading.problems.is_empty(), "{text}: {:?}", reading.problems);
        let plan = plan(&reading.session, std::slice::from_ref(&strong), &Gym::default(), catalogue, 1);
        let load = works(&plan.pieces[0].members[0].as_written().tree)[0].load.unwrap();
        // 64 kg of bodyweight: to what the plates make at or below it.
        assert!((load.first - kg).abs() < 2.6 && load.first <= kg + 1.1, "{text}: {load}");
    }
}
