//! Versions that count something else than the text: they are held against what the text counts, and said in their own.

use lantern_core::book::{Done, Entry};
use lantern_core::gym::Gym;
use lantern_core::hour::{Change, Without};
use lantern_core::member::{Experience, Max, Member, Sex};
use lantern_core::movement::{Catalogue, MovementId, Unit};
use lantern_core::pacing::{Measure, Prediction, Side};
use lantern_core::plan::{Decisions, PiecePlan, Request, plan_with};
use lantern_core::print::work_lines;
use lantern_core::read::read;
use lantern_core::session::works;
use lantern_core::units::Kilograms;
use lantern_core::versions::{ClassVersion, HandLine, VersionName};

const CALORIES: &str = "Every 3:00 x 5\n10 burpees\nmax calories row\nScore: total calories";

fn regular() -> Member {
    let lift = |id: &str, kg| (MovementId::new(id), Max::on_file(Kilograms::from_kg(kg)));
    let best = [("pull-up", 12), ("strict-pull-up", 6), ("push-up", 25), ("double-under", 40)];
    Member {
        name: "Regular".to_owned(),
        sex: Some(Sex::M),
        experience: Experience::Intermediate,
        bodyweight: Some(Kilograms::from_kg(80.0)),
        maxes: [lift("back-squat", 105.0), lift("deadlift", 130.0), lift("strict-press", 50.0)].into(),
        best_reps: best.map(|(id, reps)| (MovementId::new(id), reps)).into(),
        ..Member::default()
    }
}

fn planned(text: &str, decisions: &Decisions) -> PiecePlan {
    let catalogue = Catalogue::standard();
    let (session, members) = (read(text, catalogue).session, [regular()]);
    let (session, gym) = (&session, &Gym::default());
    plan_with(Request { session, members: &members, gym, catalogue, seed: 1, decisions }).pieces.remove(0)
}

fn version(piece: &PiecePlan, name: VersionName) -> &ClassVersion {
    piece.versions.iter().find(|version| version.name == name).expect("six versions")
}

fn middle(predicted: &Prediction) -> f64 {
    predicted.spread.p50
}

#[test]
fn calories_that_are_run_at_home_are_aimed_at_in_metres() {
    let piece = planned(CALORIES, &Decisions::default());
    let (written, home) = (&piece.versions[0].expected, &version(&piece, VersionName::AtHome).expected);
    assert_eq!((written.measure, written.own_measure()), (Measure::Calories, Measure::Calories));
    assert_eq!((home.measure, home.own_measure()), (Measure::Calories, Measure::Metres));
    let ratio = middle(home) / middle(written);
    assert!((0.7..1.4).contains(&ratio), "{} for {}", middle(home), middle(written));
    let aim = home.aim(&piece.window).expect("it counts metres").show();
    assert!(aim.starts_with("at least ") && aim.ends_with("00 m"), "{aim}");
    assert!(home.show(middle(home)).ends_with(" m"), "{}", home.show(middle(home)));
    assert_eq!(written.aim(&piece.window), None);
}

#[test]
fn metres_among_repetitions_are_told_by_what_they_stand_for() {
    let text = "3 rounds\n1:00 max push-ups\n1:00 max calories row\nrest 1:00\nscore: total reps";
    let piece = planned(text, &Decisions::default());
    let (catalogue, home) = (Catalogue::standard(), version(&piece, VersionName::AtHome));
    assert_eq!(home.expected.own_measure(), Measure::Reps);
    assert_eq!(home.aim(&piece.window, catalogue).unwrap(), "13 m run count as 1 cal");
    let ratio = middle(&home.expected) / middle(&piece.versions[0].expected);
    assert!((0.7..1.4).contains(&ratio), "{ratio:.2}");
    assert_eq!(piece.versions[0].aim(&piece.window, catalogue), None);
}

#[test]
fn a_result_is_called_out_in_the_versions_own_count() {
    let piece = planned(CALORIES, &Decisions::default());
    let own = &piece.members[0];
    let place = own.options.all.iter().position(|choice| choice.version == VersionName::AtHome).unwrap();
    let predicted = &own.options.all[place].predicted;
    let metres = predicted.own(middle(predicted)).round();
    let done = Done::Reps { reps: metres as u32 };
    let entry = Entry::new(&piece, own, VersionName::AtHome, done, String::new());
    let beside = entry.beside().expect("it can be compared");
    assert!(beside.side == Side::Inside && beside.off.abs() < 0.01, "{beside:?}");
    assert_eq!(entry.predicted.unwrap().measure, Measure::Metres);
}

/// What is asked of a substitute is what its ladder says stands for one of the text's, in every kind of piece that counts.
#[test]
fn nobody_gets_ahead_or_falls_behind_by_what_is_counted_instead() {
    let texts = [
        "AMRAP 10\n20 double-unders\n10 pull-ups\nscore: total reps",
        "5 rounds\n1:00 max double-unders\nrest 1:00\nscore: total reps",
        "3 rounds\n1:00 max pull-ups\n1:00 max calories row\nrest 1:00\nscore: total reps",
        "10 min max metres row\nscore: metres",
        CALORIES,
    ];
    let mut otherwise = 0;
    for text in texts {
        let piece = planned(text, &Decisions::default());
        let own = &piece.members[0].options;
        for choice in own.all.iter() {
            let ratio = middle(&choice.predicted) / middle(&own.as_written.predicted);
            assert!((0.6..1.7).contains(&ratio), "{text}: {}, {ratio:.2}", choice.version.label());
            otherwise += usize::from(choice.predicted.aim(&piece.window).is_some());
        }
    }
    assert!(otherwise >= 8, "{otherwise} versions count something else");
}

#[test]
fn a_line_by_hand_counts_for_as_long_as_it_takes_and_leaves_the_others_as_they_were() {
    let by_hand = |version: VersionName, from: &str, to: &str| {
        let mut decisions = Decisions::default();
        let piece = planned(CALORIES, &decisions);
        let part = &self::version(&piece, version).part;
        let lines = work_lines(part, &part.tree, Catalogue::standard());
        let line = lines.into_iter().find(|line| line.contains(from)).expect("the line is there");
        let line = HandLine { version, member: None, to: line.replace(from, to), from: line };
        decisions.pieces.change(0, |edit| edit.hand = vec![line]);
        planned(CALORIES, &decisions)
    };
    let run = by_hand(VersionName::Lighter, "max calories row", "max metres run");
    let lighter = version(&run, VersionName::Lighter);
    assert!(lighter.by_hand && lighter.expected.own_measure() == Measure::Metres);
    let ratio = middle(&lighter.expected) / middle(&run.versions[0].expected);
    assert!((0.7..1.4).contains(&ratio), "{ratio:.2}");
    let fewer = by_hand(VersionName::AtHome, "burpee", "air squat");
    let home = version(&fewer, VersionName::AtHome);
    assert!(home.by_hand, "{:?}", works(&home.part.tree));
    assert_eq!((home.expected.measure, home.expected.own_measure()), (Measure::Calories, Measure::Metres));
}

#[test]
fn a_written_window_stays_what_was_written_when_a_machine_is_out() {
    let text = "Every 3:00 x 5\n10 burpees\nmax metres run\nScore: total metres";
    let out = |text: &str| {
        let mut decisions = Decisions::default();
        decisions.hour.changes = vec![Change::Without { what: Without::Running }];
        planned(text, &decisions)
    };
    let written = out(&format!("{text}\ngoal 1500-2400 m"));
    let expected = &written.versions[0].expected;
    assert_eq!(written.window.show(), "1500-2400 m");
    assert!(works(&written.written().tree).iter().all(|work| work.movement.as_str() != "run"));
    assert!(expected.aim(&written.window).is_some(), "{expected:?}");
    let as_run = middle(&planned(text, &Decisions::default()).versions[0].expected);
    let ratio = middle(expected) / as_run;
    assert!((0.8..1.25).contains(&ratio), "{ratio:.2}");
    // What is inferred is of what is done.
    let inferred = out(text);
    assert_eq!(inferred.versions[0].expected.aim(&inferred.window), None);
}

/// "40 s of burpees" in what counts repetitions are as many as fit into them, whoever writes no "max" before it.
#[test]
fn who_fails_in_no_round_is_told_none() {
    let predicted = |text: &str| planned(text, &Decisions::default()).versions[0].expected.clone();
    // So little that nobody ever fails, with an end and without one.
    let limited = predicted("EMOM for as long as you can, 20 min at most\n3 burpees");
    assert_eq!(limited.measure, Measure::SlowestInterval);
    assert!((5.0..30.0).contains(&middle(&limited)), "{} s", middle(&limited));
    let open = predicted("EMOM for as long as you can\n3 burpees");
    assert_eq!(
        (open.measure, open.show(middle(&open)).as_str()),
        (Measure::FailedRound, "60 rounds and more")
    );
    assert_eq!(open.said(), "60 rounds and more");
    let never = open.spread.p10;
    for (range, said) in
        [((never, never), "60 or more"), ((35.0, never), "35 to 60 or more"), ((7.0, 9.2), "7 to 9")]
    {
        assert_eq!(Measure::FailedRound.show_briefly(range.0, range.1), said);
    }
    assert_eq!(Measure::Rounds.show_briefly(5.0, 6.06), "5 to 6.1");
    let aim = |text: &str| planned(text, &Decisions::default()).window;
    let endless = aim("EMOM for as long as you can\n3 burpees");
    assert_eq!((endless.low, endless.show().as_str()), (None, "as long as you can"));
    assert_eq!(
        endless.why,
        "not written: as long as you can; a regular would hold it for 60 rounds and more"
    );
    let hard = predicted("EMOM for as long as you can\n9 thrusters 40/30 kg\n9 burpees");
    assert!((1.0..20.0).contains(&middle(&hard)), "{}", hard.show(middle(&hard)));
    // One more each minute: the round that fails, or as many as the time holds.
    let rising = predicted("Death by burpees");
    let (failed, limit) = (middle(&rising), predicted("Death by burpees, 8 min cap"));
    assert!(rising.measure == Measure::FailedRound && (9.0..25.0).contains(&failed), "{failed}");
    assert_eq!((limit.measure, middle(&limit)), (Measure::Rounds, 8.0));
    let window = aim("Death by burpees");
    let low = window.low.unwrap_or_default();
    assert_eq!(window.show(), format!("at least round {low:.0}"));
    assert!(window.why.ends_with(&format!("and below round {low:.0} it is over too soon")), "{}", window.why);
}

#[test]
fn a_round_of_stations_that_is_rested_after_is_no_bout_beside_theirs() {
    let text = "3 rounds, 1:00 at each station\nwall ball, 9/6 kg\nbox jump, 50 cm\npush press, 40/25 kg\nrow\nrest 1:00 between rounds\nscore: total reps";
    let piece = planned(text, &Decisions::default());
    let own = &piece.members[0].options.as_written;
    assert_eq!(own.run.interval_work.len(), 12);
    let counted: f64 = own.run.interval_reps.iter().sum();
    assert!((counted / own.run.reps - 1.0).abs() < 1e-6, "{counted} of {}", own.run.reps);
    // The round that is one piece of work is the bout.
    let whole = planned(
        "3 rounds\n12 burpees\n15 wall balls 9/6 kg\nrest 2:00 between rounds",
        &Decisions::default(),
    );
    assert_eq!(whole.members[0].options.as_written.run.interval_work.len(), 3);
}

#[test]
fn so_long_of_something_that_is_counted_is_as_much_as_fits() {
    let bouts = |burpees: &str, row: &str, score: &str| {
        let text = format!(
            "4 rounds\n{burpees}\nrest 0:20\n{row}\nrest 0:20\n40 s plank\nrest 1:00\nscore: {score}"
        );
        planned(&text, &Decisions::default())
    };
    let timed = bouts("40 s burpees", "40 s row", "total reps");
    let open = bouts("0:40 max burpees", "0:40 max calories row", "total reps");
    let of = |piece: &PiecePlan| middle(&piece.members[0].options.as_written.predicted);
    let ratio = of(&timed) / of(&open);
    assert!((0.98..1.02).contains(&ratio) && of(&timed) > 45.0, "{} for {}", of(&timed), of(&open));
    assert!(
        timed.window.low.is_some_and(|low| low > 20.0) && timed.window.high.is_none(),
        "{:?}",
        timed.window
    );
    for choice in timed.members[0].options.all.iter() {
        let ratio = middle(&choice.predicted) / of(&timed);
        assert!((0.5..1.8).contains(&ratio), "{}: {ratio:.2}", choice.version.label());
        if choice.version == VersionName::Lighter {
            // With nothing to lift there is less to do, by the same share of each time.
            continue;
        }
        let seconds = works(&choice.tree).into_iter().filter(|work| work.dose.unit == Unit::Seconds);
        assert_eq!(seconds.filter_map(|work| work.dose.first()).sum::<f64>(), 120.0, "{:?}", choice.tree);
    }
    let bike = planned("8 rounds\n20 s bike\nrest 1:40\nscore: total calories", &Decisions::default());
    let written = &bike.members[0].options.as_written.predicted;
    assert_eq!(written.own_measure(), Measure::Calories);
    assert!((40.0..120.0).contains(&middle(written)), "{}", middle(written));
}
