//! Pieces as coaches program them from day to day, drawn.

use rand::seq::IndexedRandom as _;
use rand::{RngExt as _, SeedableRng as _};
use rand_pcg::Pcg64;

/// Work of which rounds are made: repetitions that are usual in a round of some ten of each, by the step of a class's week.
const BARS: [(&str, u32); 5] = [
    ("deadlifts 80/55 kg", 8),
    ("power cleans 50/35 kg", 6),
    ("thrusters 35/25 kg", 9),
    ("push press 40/27.5 kg", 9),
    ("front squats 45/30 kg", 8),
];
const OWN: [(&str, u32); 6] = [
    ("burpees", 8),
    ("push-ups", 12),
    ("air squats", 20),
    ("pull-ups", 7),
    ("sit-ups", 16),
    ("walking lunges", 18),
];
const BELLS: [(&str, u32); 4] = [
    ("kettlebell swings 24/16 kg", 14),
    ("wall balls 9/6 kg", 14),
    ("dumbbell snatches 22.5/15 kg", 12),
    ("goblet squats 24/16 kg", 12),
];
const ENGINES: [(&str, u32); 4] = [("m row", 300), ("m run", 200), ("cal bike", 12), ("m ski", 250)];

/// The `n`th of a seed's.
pub fn drawn(seed: u64, n: usize) -> String {
    let mut luck = Pcg64::seed_from_u64(seed.wrapping_mul(31).wrapping_add(n as u64));
    let heavy = (n + seed as usize).is_multiple_of(2);
    let loads = if heavy { &BARS[..] } else { &BELLS[..] };
    let mut lines = Vec::new();
    if luck.random_bool(0.5) {
        let (what, much) = ENGINES.choose(&mut luck).expect("there are some");
        lines.push(format!("{much} {what}"));
    }
    for from in [loads, &OWN[..]] {
        let (what, many) = from.choose(&mut luck).expect("there are some");
        lines.push(format!("{many} {what}"));
    }
    let work = lines.join("\n");
    match luck.random_range(0..4) {
        0 => format!("AMRAP {}\n{work}", luck.random_range(8..=18)),
        1 => format!("Every 4:00 for 5 rounds\n{work}\nscore: slowest round"),
        _ => {
            let rounds = luck.random_range(3..=7);
            format!(
                "{rounds} rounds for time, cap {}\n{work}",
                rounds * if lines.len() > 2 { 4 } else { 2 } + 3
            )
        }
    }
}
