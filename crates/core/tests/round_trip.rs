//! Printing keeps the meaning: any tree, printed, reads back as the same tree.

use lantern_core::movement::{Catalogue, MovementId, Unit};
use lantern_core::print::part_text;
use lantern_core::read::read;
use lantern_core::session::{
    Amount, Dose, Format, Likeness, Load, LoadUnit, Node, Part, PartKind, Prescription, Rest, RestAfter,
    Score, Sharing, Tempo, Work,
};
use proptest::prelude::*;

fn node(id: &str, dose: Dose, load: Option<Load>) -> Node {
    Node::Work(Work { load, ..Work::new(MovementId::new(id), dose) })
}

fn fixed(first: u32, second: Option<u32>, unit: Unit) -> Dose {
    Dose {
        amount: Amount::Fixed { first: f64::from(first), second: second.map(f64::from) },
        unit,
        per_side: false,
    }
}

/// Work with an amount of its own.
fn work() -> impl Strategy<Value = Node> {
    let pair = |first: f64, second: f64, implements| Load {
        first,
        second: Some(second),
        unit: LoadUnit::Kg,
        implements,
    };
    prop_oneof![
        (1_u32..60).prop_map(|n| node("burpee", fixed(n, None, Unit::Reps), None)),
        (1_u32..60).prop_map(|n| node("chest-to-bar-pull-up", fixed(n, None, Unit::Reps), None)),
        (1_u32..16).prop_map(|n| node("run", fixed(n * 100, None, Unit::Metres), None)),
        (8_u32..40).prop_map(|n| node("row", fixed(n, Some(n - 2), Unit::Calories), None)),
        (10_u32..90).prop_map(|n| node("plank", fixed(n, None, Unit::Seconds), None)),
        (1_u32..30).prop_map(|n| node(
            "dead-bug",
            Dose { per_side: true, ..fixed(n, None, Unit::Reps) },
            None
        )),
        (1_u32..30, 20_u32..100).prop_map(move |(n, kg)| {
            node("thruster", fixed(n, None, Unit::Reps), Some(pair(f64::from(kg), f64::from(kg) - 7.5, 1)))
        }),
        (1_u32..30).prop_map(move |n| node(
            "dumbbell-thruster",
            fixed(n, None, Unit::Reps),
            Some(pair(15.0, 10.0, 2))
        )),
        (1_u32..30).prop_map(|n| {
            let height = Load { first: 60.0, second: Some(50.0), unit: LoadUnit::Cm, implements: 1 };
            node("box-jump", fixed(n, None, Unit::Reps), Some(height))
        }),
    ]
}

fn works() -> impl Strategy<Value = Node> {
    prop::collection::vec(work(), 1..4).prop_map(Node::seq)
}

/// Work that takes its number from the scheme around it.
fn rung() -> impl Strategy<Value = Node> {
    let open = Dose { amount: Amount::Scheme, unit: Unit::Reps, per_side: false };
    prop::sample::subsequence(vec!["pull-up", "push-up", "air-squat", "deadlift"], 1..4)
        .prop_map(move |ids| Node::seq(ids.into_iter().map(|id| node(id, open, None)).collect()))
}

fn scheme() -> impl Strategy<Value = Node> {
    (
        prop::sample::select(vec![
            vec![21, 15, 9],
            vec![10, 8, 6, 4, 2],
            vec![50, 40, 30, 20, 10],
            vec![1, 2, 3, 4],
        ]),
        rung(),
    )
        .prop_map(|(reps, of)| Node::Scheme { reps, rest_s: None, of: Box::new(of) })
}

fn rounds() -> impl Strategy<Value = Node> {
    (2_u32..8, works()).prop_map(|(n, of)| Node::Rounds { times: Some(n), rest_s: None, of: Box::new(of) })
}

/// Pieces of every format with their own shape.
fn piece() -> impl Strategy<Value = (Format, Node)> {
    let boxed = Box::new;
    prop_oneof![
        rounds().prop_map(|tree| (Format::ForTime, tree)),
        scheme().prop_map(|tree| (Format::ForTime, tree)),
        (works(), rounds(), works()).prop_map(|(before, middle, after)| {
            let flat = |node| match node {
                Node::Seq { of } => of,
                other => vec![other],
            };
            let of = [flat(before), vec![middle], flat(after)].concat();
            (Format::ForTime, Node::Seq { of })
        }),
        (1_u32..30, works()).prop_map(move |(minutes, of)| {
            let of = Node::Rounds { times: None, rest_s: None, of: boxed(of) };
            (Format::Amrap, Node::Within { seconds: minutes * 60, of: boxed(of) })
        }),
        (1_u32..20, 1_u32..4, rung()).prop_map(move |(minutes, step, of)| {
            let of = Node::Ladder { start: step, step, of: boxed(of) };
            (Format::Amrap, Node::Within { seconds: minutes * 60, of: boxed(of) })
        }),
        (2_u32..12, prop::collection::vec(work(), 2..5)).prop_map(|(turns, of)| {
            (
                Format::Every,
                Node::Every { interval_s: 60, times: Some(turns * of.len() as u32), alternate: true, of },
            )
        }),
        (2_u32..12, 2_u32..6, works()).prop_map(|(times, minutes, of)| {
            (
                Format::Every,
                Node::Every { interval_s: minutes * 60, times: Some(times), alternate: false, of: vec![of] },
            )
        }),
        (2_u32..6, 1_u32..5, works()).prop_map(move |(n, rest, of)| {
            (Format::Intervals, Node::Rounds { times: Some(n), rest_s: Some(rest * 60), of: boxed(of) })
        }),
        (2_u32..6, works()).prop_map(move |(n, of)| {
            (Format::Quality, Node::Rounds { times: Some(n), rest_s: None, of: boxed(of) })
        }),
        (works(), work()).prop_map(move |(of, cut)| {
            (Format::ForTime, Node::Interrupt { every_s: 60, from_s: 60, work: boxed(cut), of: boxed(of) })
        }),
        (works(), work()).prop_map(move |(of, owed)| (
            Format::ForTime,
            Node::Penalty { work: boxed(owed), of: boxed(of) }
        )),
        (2_u32..5, works()).prop_map(move |(size, of)| {
            let together = Node::Together { size, sharing: Sharing::Freely, of: boxed(of) };
            (Format::ForTime, together)
        }),
    ]
}

fn part(format: Format, tree: Node) -> Part {
    Part {
        kind: PartKind::Conditioning,
        heading: None,
        lines: (1, 1),
        format: Some(format),
        tree,
        cap_s: None,
        duration_s: None,
        rounds: None,
        interval_s: None,
        work_s: None,
        rest: None,
        then_rest_s: None,
        team_size: 1,
        strength: Prescription::default(),
        target: None,
        score: None::<Score>,
        intents: Vec::new(),
        alternatives: Vec::new(),
    }
}

fn bar_lift() -> impl Strategy<Value = &'static str> {
    prop::sample::select(vec!["back-squat", "front-squat", "deadlift", "bench-press", "push-press"])
}

fn lift_work(id: &str, amount: Amount, percent: &[[f64; 2]]) -> Node {
    let dose = Dose { amount, unit: Unit::Reps, per_side: false };
    Node::Work(Work { percent: percent.to_vec(), ..Work::new(MovementId::new(id), dose) })
}

fn exactly(n: u32) -> Amount {
    Amount::Fixed { first: f64::from(n), second: None }
}

/// Percentages as coaches write them: one, or a range.
fn shares() -> impl Strategy<Value = Vec<[f64; 2]>> {
    (50_u32..85, 0_u32..10).prop_map(|(low, more)| vec![[f64::from(low), f64::from(low + more)]])
}

fn strength_part(format: Format, tree: Node, strength: Prescription) -> Part {
    Part { kind: PartKind::Strength, strength, ..part(format, tree) }
}

/// Lifts of every kind: straight sets, sets of falling repetitions, builds, sets on a clock, supersets.
fn lift() -> impl Strategy<Value = Part> {
    let boxed = Box::new;
    let rest = prop::option::of((4_u32..13).prop_map(|n| n * 15));
    let extras = (
        prop::option::of((1_u32..7).prop_map(|k| (k, Some(6)))),
        prop::option::of(prop::sample::select(vec!["31X1", "3010", "22X0"])),
    );
    prop_oneof![
        (bar_lift(), 2_u32..9, 1_u32..13, shares(), rest, extras).prop_map(
            move |(id, sets, reps, percent, rest_s, (week, tempo))| {
                let of = boxed(lift_work(id, exactly(reps), &percent));
                let strength = Prescription {
                    sets: Some(sets),
                    reps: vec![reps; sets as usize],
                    percent,
                    week,
                    tempo: tempo.map(|text| Tempo(text.to_owned())),
                    ..Prescription::default()
                };
                let rest = rest_s.map(|seconds| Rest::of(seconds, RestAfter::Each));
                let tree = Node::Rounds { times: Some(sets), rest_s, of };
                Part { rest, ..strength_part(Format::Sets, tree, strength) }
            }
        ),
        (bar_lift(), prop::sample::select(vec![vec![5, 4, 3, 2, 1], vec![5, 5, 3, 3, 1], vec![8, 6, 4]]))
            .prop_map(move |(id, reps)| {
                let strength = Prescription {
                    sets: Some(reps.len() as u32),
                    reps: reps.clone(),
                    ..Prescription::default()
                };
                let of = boxed(lift_work(id, Amount::Scheme, &[]));
                strength_part(Format::Sets, Node::Scheme { reps, rest_s: None, of }, strength)
            }),
        (bar_lift(), prop::sample::select(vec![1_u32, 2, 3, 5]), 8_u32..21).prop_map(
            move |(id, rm, minutes)| {
                let of = boxed(lift_work(id, exactly(rm), &[]));
                let of = boxed(Node::Rounds { times: None, rest_s: None, of });
                let tree = Node::Within { seconds: minutes * 60, of };
                let strength = Prescription { rm: Some(rm), ..Prescription::default() };
                Part {
                    duration_s: Some(minutes * 60),
                    score: Some(Score::Load),
                    ..strength_part(Format::BuildTo, tree, strength)
                }
            }
        ),
        (bar_lift(), 4_u32..11, 1_u32..4, 4_u32..13, shares()).prop_map(
            move |(id, times, reps, quarters, percent)| {
                let of = vec![lift_work(id, exactly(reps), &percent)];
                let interval_s = quarters * 15;
                let tree = Node::Every { interval_s, times: Some(times), alternate: false, of };
                let strength = Prescription {
                    sets: Some(times),
                    reps: vec![reps; times as usize],
                    percent,
                    ..Prescription::default()
                };
                Part {
                    interval_s: Some(interval_s),
                    duration_s: Some(times * interval_s),
                    ..strength_part(Format::Every, tree, strength)
                }
            }
        ),
        (bar_lift(), 2_u32..6, 3_u32..13, 3_u32..13).prop_map(move |(id, sets, reps, pulls)| {
            let pull = node("chin-up", fixed(pulls, None, Unit::Reps), None);
            let of = boxed(Node::seq(vec![lift_work(id, exactly(reps), &[]), pull]));
            let strength = Prescription { sets: Some(sets), ..Prescription::default() };
            strength_part(Format::Superset, Node::Rounds { times: Some(sets), rest_s: None, of }, strength)
        }),
    ]
}

/// Short intervals one movement after the other, and stations on a clock.
fn bouts() -> impl Strategy<Value = Part> {
    let boxed = Box::new;
    let open = |id: &str| node(id, Dose { amount: Amount::Max, unit: Unit::Reps, per_side: false }, None);
    let ids = prop::sample::subsequence(vec!["push-up", "air-squat", "burpee", "sit-up"], 2..4);
    prop_oneof![
        (ids.clone(), 4_u32..11).prop_map(move |(ids, times)| {
            let child = |id: &str| Node::Rounds {
                times: Some(times),
                rest_s: Some(10),
                of: boxed(Node::Within { seconds: 20, of: boxed(open(id)) }),
            };
            let tree = Node::seq(ids.into_iter().map(child).collect());
            Part { rounds: Some(times), ..part(Format::Tabata, tree) }
        }),
        (ids, 2_u32..6, 30_u32..60, 10_u32..30).prop_map(move |(ids, times, work_s, rest_s)| {
            let mut round = Vec::new();
            for id in ids {
                round.push(Node::Within { seconds: work_s, of: boxed(open(id)) });
                round.push(Node::Rest { seconds: Some(rest_s) });
            }
            let of = boxed(Node::Seq { of: round });
            part(Format::Intervals, Node::Rounds { times: Some(times), rest_s: None, of })
        }),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(300))]

    #[test]
    fn prop_a_printed_lift_reads_back_the_same(lift in lift()) {
        let catalogue = Catalogue::standard();
        let text = part_text(&lift, catalogue);
        let reading = read(&text, catalogue);
        prop_assert_eq!(reading.session.parts.len(), 1, "{}", text);
        let again = &reading.session.parts[0];
        prop_assert_eq!((again.kind, again.format), (lift.kind, lift.format), "{}", text);
        prop_assert_eq!(&again.tree, &lift.tree, "{}", text);
        prop_assert_eq!(&again.strength, &lift.strength, "{}", text);
        prop_assert_eq!(again.rest, lift.rest, "{}", text);
        prop_assert!(reading.problems.is_empty(), "{}: {:?}", text, reading.problems);
    }

    #[test]
    fn prop_printed_bouts_read_back_the_same(bouts in bouts()) {
        let catalogue = Catalogue::standard();
        let text = part_text(&bouts, catalogue);
        let reading = read(&text, catalogue);
        prop_assert_eq!(reading.session.parts.len(), 1, "{}", text);
        prop_assert_eq!(&reading.session.parts[0].tree, &bouts.tree, "{}", text);
        prop_assert_eq!(reading.session.parts[0].format, bouts.format, "{}", text);
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(300))]

    #[test]
    fn prop_a_printed_tree_reads_back_the_same((format, tree) in piece()) {
        let catalogue = Catalogue::standard();
        let text = part_text(&part(format, tree.clone()), catalogue);
        let reading = read(&text, catalogue);
        prop_assert_eq!(reading.session.parts.len(), 1, "{}", text);
        prop_assert_eq!(&reading.session.parts[0].tree, &tree, "{}", text);
        prop_assert_eq!(reading.session.parts[0].format, Some(format), "{}", text);
        // What is drawn at random may be more than anybody programmes; that is asked, and changes nothing.
        let mut problems = reading.problems;
        problems.retain(|problem| !problem.message.ends_with("is it read as it is meant?"));
        prop_assert!(problems.is_empty(), "{}: {:?}", text, problems);
    }
}

/// A part that is kept comes back from its row as it was, and is told for the same.
#[test]
fn every_part_of_every_fixture_is_kept_whole() {
    let catalogue = Catalogue::standard();
    let mut parts = 0;
    for folder in std::fs::read_dir(concat!(env!("CARGO_MANIFEST_DIR"), "/../reader/corpus")).unwrap() {
        for file in std::fs::read_dir(folder.unwrap().path()).unwrap() {
            let path = file.unwrap().path();
            if path.extension().is_none_or(|extension| extension != "txt") {
                continue;
            }
            for part in read(&std::fs::read_to_string(&path).unwrap(), catalogue).session.parts {
                let kept = serde_json::to_value(&part).unwrap();
                let back: Part = serde_json::from_value(kept).unwrap();
                assert_eq!(back, part, "{}", path.display());
                assert_eq!(Likeness::of(&back, catalogue), Likeness::of(&part, catalogue));
                parts += 1;
            }
        }
    }
    assert!(parts > 900, "{parts}");
}
