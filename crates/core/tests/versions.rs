//! Versions for a small class of types: who gets what, and what must hold whatever the piece.

use lantern_core::gym::{Gym, KippingSchool, PushUpSchool, ShrinkFirst};
use lantern_core::limits::Limit;
use lantern_core::member::{Experience, Max, Member, Sex};
use lantern_core::movement::{Catalogue, Movement, MovementId};
use lantern_core::plan::{Decisions, MemberPiece, PiecePlan, Request, plan, plan_with};
use lantern_core::print::work_text;
use lantern_core::read::read;
use lantern_core::roster::roster_from_csv;
use lantern_core::session::{LoadUnit, totals, works};
use lantern_core::units::{Kilograms, WeightUnit};
use lantern_core::versions::{PieceEdit, VersionName};
use proptest::prelude::*;

fn person(name: &str, experience: Experience, squat: f64, reps: &[(&str, u32)]) -> Member {
    let lifts = [("back-squat", 1.0), ("deadlift", 1.25), ("strict-press", 0.45), ("clean", 0.7)];
    Member {
        name: name.to_owned(),
        sex: Some(Sex::M),
        experience,
        bodyweight: Some(Kilograms::from_kg(80.0)),
        maxes: lifts
            .map(|(lift, share)| (MovementId::new(lift), Max::on_file(Kilograms::from_kg(squat * share))))
            .into(),
        best_reps: reps.iter().map(|(id, reps)| (MovementId::new(id), *reps)).collect(),
        ..Member::default()
    }
}

fn strong() -> Member {
    let reps = [
        ("pull-up", 30),
        ("strict-pull-up", 14),
        ("push-up", 50),
        ("toes-to-bar", 24),
        ("double-under", 120),
    ];
    person("Strong", Experience::Advanced, 150.0, &reps)
}

fn regular() -> Member {
    let reps =
        [("pull-up", 12), ("strict-pull-up", 5), ("push-up", 25), ("toes-to-bar", 10), ("double-under", 40)];
    person("Regular", Experience::Intermediate, 105.0, &reps)
}

fn newer() -> Member {
    let reps = [("pull-up", 1), ("strict-pull-up", 0), ("push-up", 8), ("double-under", 2)];
    person("Newer", Experience::Beginner, 70.0, &reps)
}

fn sore() -> Member {
    let limits = vec![Limit::new("sore left knee")];
    Member { name: "Sore".to_owned(), limits, ..regular() }
}

fn newcomer() -> Member {
    Member { name: "Newcomer".to_owned(), ..Member::default() }
}

fn class() -> Vec<Member> {
    vec![strong(), regular(), newer(), sore(), newcomer()]
}

fn piece(text: &str, members: &[Member], gym: &Gym) -> PiecePlan {
    let catalogue = Catalogue::standard();
    plan(&read(text, catalogue).session, members, gym, catalogue, 1).pieces.remove(0)
}

fn of<'p>(piece: &'p PiecePlan, name: &str) -> &'p MemberPiece {
    piece.members.iter().find(|member| member.name == name).unwrap()
}

fn movements(member: &MemberPiece) -> Vec<String> {
    works(&member.chosen().tree).iter().map(|work| work.movement.to_string()).collect()
}

const THRUSTERS: &str = "21-15-9 for time, cap 12\nthrusters 40/30 kg\npull-ups\ngoal 4-9 min";
const JUMPS: &str = "4 rounds for time, cap 20\n400 m run\n15 kettlebell swings 24/16 kg\n12 box jumps 60/50 cm\ngoal 12-18 min";

#[test]
fn the_headline_counts_who_is_inside_and_who_could_do_more() {
    let of = |members: &[Member]| piece(THRUSTERS, members, &Gym::default());
    let told = of(&class()).headline();
    assert!(told.starts_with("As written ") && told.contains(" of 5 finish inside the window;"), "{told}");
    let strong_alone = of(&[strong()]);
    assert!(strong_alone.members[0].is_ahead(&strong_alone.window));
    assert!(strong_alone.headline().ends_with("with these versions 0 do, and 1 could do more."));
    assert!(!of(&[newer()]).headline().contains("could do more"));
}

#[test]
fn a_bar_comes_down_to_a_ceiling_in_the_gyms_own_plates() {
    let limits = vec![Limit::new("no deadlift above 60 %")];
    let careful = Member { limits, ..strong() };
    let text = "AMRAP 10\n9 deadlifts 275/185 lb\n12 push-ups\n200 m run";
    let piece = piece(text, &[careful], &Gym::default());
    let chosen = piece.members[0].chosen();
    let load = works(&chosen.tree)[0].load.unwrap();
    assert_eq!((load.first, load.unit), (112.5, LoadUnit::Kg), "60 % of 187.5 kg: {load}");
}

#[test]
fn the_board_has_six_versions_and_each_says_what_it_changes() {
    let piece = piece(THRUSTERS, &class(), &Gym::default());
    let names: Vec<VersionName> = piece.versions.iter().map(|version| version.name).collect();
    assert_eq!(names, VersionName::ALL);
    assert!(piece.versions[0].edits.is_empty());
    for version in &piece.versions[1..] {
        assert!(!version.edits.is_empty(), "{:?}", version.name);
        assert!(version.edits.iter().all(|edit| !edit.what.is_empty() && !edit.why.is_empty()));
    }
    let at_home = piece.versions.last().unwrap();
    assert_eq!(at_home.about, "nothing");
}

#[test]
fn lighter_keeps_the_movements_and_simpler_does_not_keep_the_skill() {
    let piece = piece(THRUSTERS, &class(), &Gym::default());
    let on_board = |name: VersionName| {
        let version = piece.versions.iter().find(|version| version.name == name).unwrap();
        works(&version.part.tree).iter().map(|work| work.movement.to_string()).collect::<Vec<_>>()
    };
    assert_eq!(on_board(VersionName::Lighter), ["thruster", "pull-up"]);
    assert!(!on_board(VersionName::Simpler).contains(&"pull-up".to_owned()));
    assert!(!on_board(VersionName::FirstLight).contains(&"pull-up".to_owned()));
}

#[test]
fn the_board_gets_lighter_step_by_step() {
    let piece = piece(
        "5 rounds for time\n12 front squats 60/45 kg\n200 m run\ngoal 8-12 min",
        &class(),
        &Gym::default(),
    );
    let load = |name: VersionName| {
        let version = piece.versions.iter().find(|version| version.name == name).unwrap();
        works(&version.part.tree).iter().find_map(|work| work.load).map_or(0.0, |load| load.first)
    };
    let loads = [VersionName::AsWritten, VersionName::Lighter, VersionName::FirstLight].map(load);
    assert!(loads[0] > loads[1] && loads[1] > loads[2], "{loads:?}");
    // Where men's and women's numbers differ, both stand on the board.
    let lighter = &piece.versions[1].part.tree;
    assert!(works(lighter).iter().any(|work| work.load.is_some_and(|load| load.second.is_some())));
}

#[test]
fn everybody_gets_the_least_departure_that_is_on_stimulus() {
    let piece = piece(JUMPS, &class(), &Gym::default());
    for member in &piece.members {
        let chosen = member.chosen();
        let better = member.options.all.iter().filter(|option| {
            let side = matches!(option.version, VersionName::AroundIt | VersionName::AtHome);
            option.on_stimulus && !side && option.departure < chosen.departure - 1e-9
        });
        let free = member.name != "Newcomer" && member.name != "Sore";
        if free && chosen.on_stimulus && !chosen.edits.is_empty() {
            // A version without a swap is Lighter, whatever it is called.
            let nearer: Vec<_> = better.filter(|option| option.version == VersionName::Lighter).collect();
            assert!(nearer.is_empty(), "{}: {:?}", member.name, nearer);
        }
    }
    assert_eq!(of(&piece, "Sore").chosen().version, VersionName::AroundIt);
    assert!(!movements(of(&piece, "Sore")).contains(&"box-jump".to_owned()));
}

#[test]
fn a_sore_joint_keeps_everything_that_does_not_load_it() {
    let piece = piece(JUMPS, &class(), &Gym::default());
    let sore = movements(of(&piece, "Sore"));
    assert!(sore.contains(&"kettlebell-swing".to_owned()), "{sore:?}");
    for id in &sore {
        assert!(Catalogue::standard().find(id).unwrap().joint("knee") <= 0.5, "{id}");
    }
}

#[test]
fn at_home_everything_can_be_done_with_what_is_there() {
    let catalogue = Catalogue::standard();
    for (home, allowed) in [
        ("none", &["floor_space", "wall", "mat"][..]),
        ("kettlebell 16 kg", &["floor_space", "wall", "mat", "kettlebell"]),
        ("dumbbells 2 x 10 kg", &["floor_space", "wall", "mat", "dumbbell", "dumbbell_pair"]),
        ("band; mat", &["floor_space", "wall", "mat", "band"]),
    ] {
        let member = Member { home: home.to_owned(), ..regular() };
        for text in [THRUSTERS, "AMRAP 12\n12 cal row\n10 wall balls 9/6 kg\n8 toes-to-bar"] {
            let piece = piece(text, std::slice::from_ref(&member), &Gym::default());
            let at_home = piece.members[0].options.all.last().unwrap();
            for work in works(&at_home.tree) {
                let movement = catalogue.get(&work.movement).unwrap();
                let there = |kit: &String| allowed.contains(&kit.as_str());
                assert!(
                    movement.equipment.iter().all(there) || movement.other_equipment.iter().any(there),
                    "{home}: {} in {text:?}",
                    work_text(work, catalogue)
                );
            }
        }
    }
}

#[test]
fn loads_at_home_are_no_heavier_than_what_stands_there() {
    let member = Member { home: "dumbbells 2 x 10 kg".to_owned(), ..strong() };
    let piece = piece(THRUSTERS, std::slice::from_ref(&member), &Gym::default());
    let at_home = piece.members[0].options.all.last().unwrap();
    for load in
        works(&at_home.tree).iter().filter_map(|work| work.load).filter(|load| load.weight().is_some())
    {
        assert!(load.weight().unwrap() <= Kilograms::from_kg(10.0), "{load}");
    }
}

#[test]
fn the_school_for_push_ups_decides_how_they_are_eased() {
    let text = "5 rounds for time\n20 push-ups\n200 m run\ngoal 8-14 min";
    let member = person("Weak", Experience::Beginner, 60.0, &[("push-up", 1)]);
    let eased = |push_up_school| {
        let gym = Gym { push_up_school, ..Gym::default() };
        let piece = piece(text, std::slice::from_ref(&member), &gym);
        let all: Vec<String> = piece.members[0]
            .options
            .all
            .iter()
            .flat_map(|option| {
                works(&option.tree).iter().map(|work| work.movement.to_string()).collect::<Vec<_>>()
            })
            .collect();
        all
    };
    assert!(!eased(PushUpSchool::HandsRaised).contains(&"knee-push-up".to_owned()));
    assert!(
        !eased(PushUpSchool::Knees).contains(&"elevated-push-up".to_owned())
            || eased(PushUpSchool::Knees).contains(&"knee-push-up".to_owned())
    );
}

#[test]
fn kipping_waits_for_strict_strength_where_the_gym_says_so() {
    let text = "5 rounds for time\n5 kipping pull-ups\n200 m run\ngoal 8-12 min";
    let member =
        person("Swinger", Experience::Intermediate, 90.0, &[("kipping-pull-up", 7), ("strict-pull-up", 1)]);
    let chosen = |kipping| {
        let gym = Gym { kipping, ..Gym::default() };
        movements(&piece(text, std::slice::from_ref(&member), &gym).members[0])
    };
    assert!(!chosen(KippingSchool::AfterStrict).contains(&"kipping-pull-up".to_owned()));
    assert!(chosen(KippingSchool::AtOnce).contains(&"kipping-pull-up".to_owned()));
}

#[test]
fn what_shrinks_first_is_the_gyms_choice() {
    let text = "6 rounds for time\n15 front squats 50/35 kg\n15 burpees\ngoal 9-12 min";
    let edits = |shrink_first| {
        let gym = Gym { shrink_first, ..Gym::default() };
        let piece = piece(text, &[regular()], &gym);
        let lighter = &piece.members[0].options.all[1];
        lighter.edits.iter().map(|edit| edit.what.clone()).collect::<Vec<_>>()
    };
    let rounds = |edits: &[String]| edits.iter().any(|what| what.contains("rounds →"));
    assert!(rounds(&edits(ShrinkFirst::Rounds)), "{:?}", edits(ShrinkFirst::Rounds));
    assert!(!rounds(&edits(ShrinkFirst::Reps)), "{:?}", edits(ShrinkFirst::Reps));
}

#[test]
fn a_window_set_by_the_coach_moves_everything() {
    let catalogue = Catalogue::standard();
    let session = read(THRUSTERS, catalogue).session;
    let planned = |low, high| {
        let mut decisions = Decisions::default();
        decisions.pieces.change(0, |edit: &mut PieceEdit| (edit.low, edit.high) = (low, high));
        plan_with(Request {
            session: &session,
            members: &[regular()],
            gym: &Gym::default(),
            catalogue,
            seed: 1,
            decisions: &decisions,
        })
        .pieces
        .remove(0)
    };
    let (short, long) = (planned(Some(150.0), Some(240.0)), planned(Some(480.0), Some(720.0)));
    assert_eq!(short.window.why, "set by the coach");
    let middle = |piece: &PiecePlan| piece.members[0].chosen().predicted.spread.p50;
    assert!(middle(&short) < middle(&long), "{} {}", middle(&short), middle(&long));
}

#[test]
fn a_lighter_choice_never_holds_more_work_than_the_text() {
    let piece = piece(THRUSTERS, &class(), &Gym::default());
    for member in &piece.members {
        let lighter =
            member.options.all.iter().find(|option| option.version == VersionName::Lighter).unwrap();
        let before = totals(&member.as_written().tree);
        for total in totals(&lighter.tree) {
            let written = before.iter().find(|known| known.movement == total.movement).unwrap();
            assert!(total.amount <= written.amount, "{}", member.name);
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(16))]

    #[test]
    fn prop_versions_never_leave_anybody_worse_off(reps in 6_u32..25, kg in 20_u32..60, minutes in 4_u32..16) {
        let text = format!(
            "3 rounds for time\n{reps} thrusters {kg}/{} kg\n{reps} pull-ups\ngoal {minutes}-{} min",
            kg * 7 / 10,
            minutes + 3
        );
        let piece = piece(&text, &class(), &Gym::default());
        let (before, after) = piece.on_stimulus();
        prop_assert!(after >= before);
        for member in &piece.members {
            // Who is on stimulus as written keeps the text.
            if member.as_written().on_stimulus {
                prop_assert_eq!(member.chosen().version, VersionName::AsWritten);
            }
            // Nobody is given a load that the rules are against when another version is free of it.
            if member.options.all.iter().any(|option| option.on_stimulus && option.version != VersionName::AtHome)
                && !member.as_written().allowed
            {
                prop_assert!(member.chosen().allowed, "{}: {}", member.name, member.chosen().reason);
            }
        }
    }

    #[test]
    fn prop_the_coachs_choice_survives_any_text(reps in 1_u32..60, rounds in 1_u32..9, which in 0_usize..6) {
        let catalogue = Catalogue::standard();
        let session = read(&format!("{rounds} rounds for time\n{reps} burpees\n{reps} deadlifts 60/40 kg"), catalogue).session;
        let mut decisions = Decisions::default();
        decisions.pieces.change(0, |edit: &mut PieceEdit| {
            edit.versions.insert("Regular".to_owned(), VersionName::ALL[which]);
        });
        let planned = plan_with(Request { session: &session, members: &class(), gym: &Gym::default(), catalogue, seed: 1, decisions: &decisions });
        let member = of(&planned.pieces[0], "Regular");
        prop_assert!(member.options.by_coach);
        prop_assert_eq!(member.chosen().version, VersionName::ALL[which]);
    }
}

/// What is lighter, simpler or instead of something is in the gym's plates, on a bar as on the sheet.
#[test]
fn a_version_in_a_gym_that_weighs_in_pounds_is_in_pounds() {
    let (members, catalogue) =
        (roster_from_csv(include_str!("../../../data/demo/members.csv")).0, Catalogue::standard());
    let reading = read("21-15-9 for time, cap 12\nthrusters 40/30 kg\npull-ups", catalogue);
    let plan = plan(&reading.session, &members, &Gym::default().in_unit(WeightUnit::Lb), catalogue, 1);
    let mut changed = 0;
    for member in &plan.pieces[0].members {
        for work in works(&member.chosen().tree) {
            let is_barbell = catalogue.get(&work.movement).is_some_and(Movement::is_barbell);
            let Some(load) = work.load.filter(|_| is_barbell) else { continue };
            let is_as_written =
                load.unit.weight() == Some(WeightUnit::Kg) && [40.0, 30.0].contains(&load.first);
            // Five pounds are the least that plates of two and a half add.
            let is_of_plates = load.unit.weight() == Some(WeightUnit::Lb) && (load.first % 5.0).abs() < 0.02;
            assert!(is_as_written || is_of_plates, "{}: {} {load}", member.name, work.movement);
            changed += usize::from(is_of_plates);
        }
    }
    assert!(changed > 3, "{changed}");
}
