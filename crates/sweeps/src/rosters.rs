//! Classes that are swept over: three of described people and one that is drawn.

use std::fs;
use std::path::Path;

use anyhow::{Context as _, Result, ensure};
use lantern_core::gym::Gym;
use lantern_core::limits::Limit;
use lantern_core::member::{Experience, Max, Member, Sex};
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::plan::{Before, Decisions, Here, Plan, Request, plan, plan_again};
use lantern_core::roster::roster_from_csv;
use lantern_core::units::Kilograms;
use rand::{RngExt as _, SeedableRng as _};
use rand_distr::{Distribution as _, StandardNormal};
use rand_pcg::Pcg64;

use crate::fixtures::Fixture;

/// A class by its name.
pub struct Roster {
    /// As tables call it.
    pub name: &'static str,
    /// Who comes.
    pub members: Vec<Member>,
}

/// Every text for every class.
pub fn days<'a>(fixtures: &'a [Fixture], rosters: &'a [Roster]) -> Vec<(&'a Fixture, &'a Roster)> {
    fixtures.iter().flat_map(|fixture| rosters.iter().map(move |roster| (fixture, roster))).collect()
}

/// The plan of a text for a class in the usual gym, with nothing decided.
pub fn planned(fixture: &Fixture, roster: &Roster) -> Plan {
    plan(&fixture.session, &roster.members, &Gym::default(), Catalogue::standard(), 1)
}

/// As [`planned`], when some of the class are not here and some have only just come.
pub fn planned_here(fixture: &Fixture, roster: &Roster, before: &Plan, here: Here) -> Plan {
    let (gym, as_booked) = (Gym::default(), Decisions::default());
    let decisions = Decisions { here, ..Decisions::default() };
    let request = Request {
        session: &fixture.session,
        members: &roster.members,
        gym: &gym,
        catalogue: Catalogue::standard(),
        seed: 1,
        decisions: &as_booked,
    };
    plan_again(Request { decisions: &decisions, ..request }, Some(Before { request, plan: before }))
}

/// Rosters on file, from the root of the project.
const FILES: [(&str, &str); 3] = [
    ("practice", "crates/sweeps/data/practice_roster.csv"),
    ("demo gym", "data/demo/members.csv"),
    ("reference people", "crates/fit/data/people.csv"),
];

/// All classes.
///
/// # Errors
/// When a file cannot be read or one of its rows is not right; the message names it.
pub fn rosters() -> Result<Vec<Roster>> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let on_file = FILES.map(|(name, path)| {
        let text = fs::read_to_string(root.join(path)).with_context(|| format!("read {path}"))?;
        let (members, errors) = roster_from_csv(&text);
        ensure!(errors.is_empty(), "{path}: {errors:?}");
        Ok(Roster { name, members })
    });
    let drawn = Roster { name: "drawn class of 28", members: drawn(28, 28) };
    on_file.into_iter().chain([Ok(drawn)]).collect()
}

/// Lifts as shares of the back squat, and how far they scatter.
const LIFTS: [(&str, f64); 9] = [
    ("front-squat", 0.85),
    ("deadlift", 1.22),
    ("strict-press", 0.44),
    ("push-press", 0.59),
    ("bench-press", 0.68),
    ("clean", 0.70),
    ("clean-and-jerk", 0.66),
    ("snatch", 0.51),
    ("overhead-squat", 0.62),
];

/// What some of them say that they spare.
const LIMITS: [&str; 4] = [
    "sore left knee, no jumping",
    "right shoulder: nothing overhead",
    "wrist: no front rack",
    "no deadlift above 60 %",
];

/// A class of ordinary people: strength, engine and skill of each hang together, and not entirely. The same seed draws the same class.
fn drawn(count: usize, seed: u64) -> Vec<Member> {
    let mut luck = Pcg64::seed_from_u64(seed);
    (0..count).map(|n| person(n, &mut luck)).collect()
}

fn person(n: usize, luck: &mut Pcg64) -> Member {
    let mut normal = || -> f64 { StandardNormal.sample(luck) };
    let trained = (0.5 + 0.25 * normal()).clamp(0.0, 1.0);
    let mut close = |far: f64| (trained + far * normal()).clamp(0.0, 1.1);
    let (strength, engine, skill) = (close(0.15), close(0.15), close(0.18));
    let sex = if n.is_multiple_of(2) { Sex::M } else { Sex::F };
    let heavier = sex == Sex::M;
    let kg = if heavier { 82.0 } else { 65.0 } * (0.12 * normal()).exp();
    let squat = kg * (0.7 + 1.2 * strength) * if heavier { 1.0 } else { 0.82 };
    let mut maxes = vec![("back-squat", squat)];
    maxes.extend(LIFTS.map(|(lift, share)| (lift, squat * share * (0.05 * normal()).exp())));
    let reps = |most: f64, from: f64| ((most * (skill - from) / (1.0 - from)).max(0.0)).round() as u32;
    let pulls = if heavier { 1.0 } else { 0.7 };
    let best = [
        ("strict-pull-up", reps(16.0 * pulls, 0.25)),
        ("pull-up", reps(36.0 * pulls, 0.25)),
        ("push-up", 5 + reps(50.0 * pulls, 0.0)),
        ("handstand-push-up", reps(18.0, 0.45)),
        ("toes-to-bar", reps(25.0, 0.3)),
        ("double-under", reps(130.0, 0.2)),
        ("muscle-up", reps(8.0, 0.75)),
    ];
    let experience = match trained {
        t if t < 0.2 => Experience::New,
        t if t < 0.45 => Experience::Beginner,
        t if t < 0.7 => Experience::Intermediate,
        _ => Experience::Advanced,
    };
    let limits = if n % 7 == 3 { vec![Limit::new(LIMITS[n / 7 % LIMITS.len()])] } else { Vec::new() };
    let quick = |slow: f64, fast: f64| (slow * (fast / slow).powf(engine)) as u32;
    let harder = if heavier { 1.0 } else { 1.12 };
    Member {
        name: format!("Person {}", n + 1),
        sex: Some(sex),
        age: Some(luck.random_range(20..55)),
        bodyweight: Some(Kilograms::from_kg(kg.round())),
        experience,
        maxes: maxes
            .into_iter()
            .map(|(lift, kg)| (MovementId::new(lift), Max::on_file(Kilograms::from_kg(kg.round()))))
            .collect(),
        best_reps: best.into_iter().map(|(id, reps)| (MovementId::new(id), reps)).collect(),
        row_2k_s: Some(quick(545.0 * harder, 395.0 * harder)),
        run_400_s: Some(quick(128.0 * harder, 68.0 * harder)),
        run_1600_s: Some(quick(620.0 * harder, 335.0 * harder)),
        limits,
        ..Member::default()
    }
}
