//! People as a gym has them on file, with the bodies behind them.

use bodies::Body;
use lantern_core::member::{Experience, Max, Member, Sex};
use lantern_core::movement::MovementId;
use lantern_core::units::Kilograms;
use rand::SeedableRng as _;
use rand_distr::{Distribution as _, StandardNormal};
use rand_pcg::Pcg64;

use crate::{Person, Trial};

/// How far people lie apart in what is on file, as one standard deviation of a logarithm of time.
const ON_FILE: f64 = 0.12;
/// Seconds over 2000 m on the rower of the middle of a class, and with what power of the time for ordinary work they go.
const ROW_2K: (f64, f64) = (475.0, 0.4);
/// Lifts of the middle of a class, as shares of the bodyweight.
const LIFTS: [(&str, f64); 5] =
    [("back-squat", 1.3), ("deadlift", 1.6), ("strict-press", 0.58), ("clean", 0.92), ("snatch", 0.68)];
/// Most in one go.
const IN_ONE_GO: [(&str, f64); 4] =
    [("pull-up", 14.0), ("push-up", 28.0), ("toes-to-bar", 12.0), ("double-under", 50.0)];

/// Those of a trial.
pub(crate) fn drawn(trial: Trial) -> Vec<Person> {
    let mut luck = Pcg64::seed_from_u64(trial.seed ^ 0x5EED);
    (0..trial.people).map(|n| person(trial.seed, n, &mut luck)).collect()
}

fn person(seed: u64, n: usize, luck: &mut Pcg64) -> Person {
    let mut normal = || -> f64 { StandardNormal.sample(luck) };
    let by_file = ON_FILE * normal();
    let sex = if n.is_multiple_of(2) { Sex::M } else { Sex::F };
    let (kg, strong) = if sex == Sex::M { (82.0, 1.0) } else { (65.0, 0.8) };
    let kg = kg * (0.1 * normal()).exp();
    let maxes = LIFTS.map(|(lift, share)| {
        let value = Kilograms::from_kg(kg * share * strong * (-by_file).exp());
        (MovementId::new(lift), Max::on_file(value))
    });
    let best_reps = IN_ONE_GO.map(|(movement, most)| {
        (MovementId::new(movement), (most * strong * (-2.0 * by_file).exp()).round() as u32)
    });
    let (row, power) = ROW_2K;
    let member = Member {
        name: format!("Person {}", n + 1),
        sex: Some(sex),
        age: Some(34),
        bodyweight: Some(Kilograms::from_kg(kg)),
        experience: Experience::Intermediate,
        maxes: maxes.into_iter().collect(),
        best_reps: best_reps.into_iter().collect(),
        row_2k_s: Some((row / strong.sqrt().sqrt() * (power * by_file).exp()) as u32),
        ..Member::default()
    };
    Person { member, body: Body::drawn(seed, n), by_file, told: Vec::new() }
}
