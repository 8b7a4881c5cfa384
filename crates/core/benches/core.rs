//! How fast the core answers: reading a day, texts of growing size, and planning a class.

use std::hint::black_box;

use criterion::{BenchmarkId, Criterion, Throughput, criterion_group, criterion_main};
use lantern_core::gym::{Bar, Gym};
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::pacing::{Days, Model, intended_window};
use lantern_core::plan::{Before, Decisions, Request, plan, plan_again};
use lantern_core::print::work_lines;
use lantern_core::read::read;
use lantern_core::roster::roster_from_csv;
use lantern_core::strength::{LiftPlace, lift_sheet, rack_groups};
use lantern_core::versions::{HandLine, Ladders, PieceEdit, VersionName, World, for_class};

const DAY: &str = include_str!("../../../data/demo/sessions/01.txt");
/// Rowers, bars and the rig, all short for 28 people.
const CROWDED: &str =
    "Back squat 5x5 @ 75%\n\n4 rounds for time, cap 16\n15 cal row\n12 thrusters 40/30 kg\n12 pull-ups";
const ROSTER: &str = include_str!("../../../data/demo/members.csv");

/// So many people of the demo's roster, over again where it is shorter.
fn class_of(people: usize) -> Vec<Member> {
    roster_from_csv(ROSTER).0.into_iter().cycle().take(people).collect()
}

fn reading(c: &mut Criterion) {
    let catalogue = Catalogue::standard();
    c.bench_function("read an ordinary day", |b| b.iter(|| read(black_box(DAY), catalogue)));
    let mut group = c.benchmark_group("read");
    for kilobytes in [1, 10, 100] {
        let text: String = DAY.lines().cycle().flat_map(|line| [line, "\n"]).take(kilobytes * 100).collect();
        group.throughput(Throughput::Bytes(text.len() as u64));
        group.bench_with_input(BenchmarkId::from_parameter(text.len()), &text, |b, text| {
            b.iter(|| read(black_box(text), catalogue));
        });
    }
    group.finish();
}

fn planning(c: &mut Criterion) {
    let catalogue = Catalogue::standard();
    let session = read(DAY, catalogue).session;
    let (members, _) = roster_from_csv(ROSTER);
    let twice: Vec<_> = members.iter().chain(&members).cloned().collect();
    let gym = Gym::default();
    let mut group = c.benchmark_group("plan a class");
    group.sample_size(20);
    for (name, class) in [("14 members", &members), ("28 members", &twice)] {
        group.bench_function(name, |b| b.iter(|| plan(black_box(&session), class, &gym, catalogue, 1)));
    }
    group.finish();
}

/// Every set of a lift for 28 members: ramp and eight work sets, plates and reasons, and the racks.
fn loads(c: &mut Criterion) {
    let catalogue = Catalogue::standard();
    let part = read("Back squat 8x3 @ 70-84%", catalogue).session.parts.remove(0);
    let (members, _) = roster_from_csv(ROSTER);
    let gym = Gym::default();
    let lift = catalogue.find("back-squat").expect("a lift of the catalogue");
    c.bench_function("loads of 28 members x 8 sets", |b| {
        b.iter(|| {
            let class = members.iter().chain(&members);
            let sheets: Vec<_> =
                class.map(|member| lift_sheet(black_box(&part), lift, member, &gym, catalogue)).collect();
            (rack_groups(&sheets, LiftPlace::of(lift), &gym), sheets)
        });
    });
}

/// The hour and the floor alone: everything else of the plan is known. A small gym, so that heats have to be found.
fn hour_and_floor(c: &mut Criterion) {
    let catalogue = Catalogue::standard();
    let session = read(CROWDED, catalogue).session;
    let bar = |weight, count| Bar { name: "Bar".to_owned(), weight, count };
    let gym =
        Gym { racks: 6, bars: vec![bar(20.0, 6), bar(15.0, 4)], rowers: 4, rig_places: 12, ..Gym::default() };
    let decisions = Decisions::default();
    let mut group = c.benchmark_group("hour and floor");
    group.sample_size(20);
    for people in [14, 28] {
        let class = class_of(people);
        let request = Request {
            session: &session,
            members: &class,
            gym: &gym,
            catalogue,
            seed: 1,
            decisions: &decisions,
        };
        let plan = plan_again(request, None);
        let before = Before { request, plan: &plan };
        group.bench_function(format!("{people} members"), |b| {
            b.iter(|| plan_again(black_box(request), Some(before)));
        });
    }
    group.finish();
}

/// 28 members, six versions, 200 days each, of a piece of twenty minutes; and how that grows.
fn versions(c: &mut Criterion) {
    let (catalogue, model, gym) = (Catalogue::standard(), Model::standard(), Gym::default());
    let text = "AMRAP 20\n5 pull-ups\n10 push presses 40/30 kg\n15 air squats\n200 m run\ngoal 6-8 rounds";
    let part = read(text, catalogue).session.parts.remove(0);
    let window = intended_window(&part, catalogue, model);
    let class = class_of(56);
    let mut group = c.benchmark_group("six versions of a 20-minute piece");
    group.sample_size(20);
    for (people, samples) in [(14, 200), (28, 200), (56, 200), (28, 100), (28, 400)] {
        let days = Days::new(samples, 1);
        let world = World { catalogue, ladders: Ladders::standard(), model, gym: &gym, days: &days };
        group.bench_function(format!("{people} members, {samples} days"), |b| {
            b.iter(|| for_class(black_box(&part), &class[..people], &window, &PieceEdit::default(), &world));
        });
    }
    group.finish();
}

/// What a coach's click costs: another version for one member, and a line of a version written anew.
fn clicks(c: &mut Criterion) {
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let session = read(DAY, catalogue).session;
    let mut group = c.benchmark_group("a click");
    group.sample_size(20);
    for people in [14, 28] {
        let class = class_of(people);
        let nothing = Decisions::default();
        let request = Request {
            session: &session,
            members: &class,
            gym: &gym,
            catalogue,
            seed: 1,
            decisions: &nothing,
        };
        let plan = plan_again(request, None);
        let before = Before { request, plan: &plan };
        let mut another = Decisions::default();
        another.pieces.change(0, |edit| {
            edit.versions.insert(class[0].name.clone(), VersionName::Simpler);
        });
        let version = plan.pieces[0].versions.iter().find(|version| version.name == VersionName::Simpler);
        let lines = version.map(|version| work_lines(&version.part, &version.part.tree, catalogue));
        let from = lines.into_iter().flatten().find(|line| line.contains(" kg")).expect("a line with a load");
        let to = from.replace(" kg", ".5 kg");
        let mut by_hand = Decisions::default();
        by_hand.pieces.change(0, |edit| {
            edit.hand.push(HandLine { member: None, version: VersionName::Simpler, from, to });
        });
        for (name, decisions) in [("another version", &another), ("a line by hand", &by_hand)] {
            group.bench_function(format!("{name}, {people} members"), |b| {
                b.iter(|| plan_again(black_box(Request { decisions, ..request }), Some(before)));
            });
        }
    }
    group.finish();
}

criterion_group!(benches, hour_and_floor, reading, planning, loads, versions, clicks);
criterion_main!(benches);
