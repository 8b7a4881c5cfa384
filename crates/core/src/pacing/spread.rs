//! Low, middle and high: the walk repeated over a member's possible days.

use rand::SeedableRng;
use rand_distr::{Distribution, LogNormal};
use rand_pcg::Pcg64Mcg;
use serde::Serialize;

use super::ability::Athlete;
use super::model::Model;
use super::simulate::{Luck, Run, simulate};
use super::window::{Measure, Window};
use crate::movement::Catalogue;
use crate::session::{Node, works};

/// One in ten days is better than the low end, one in ten worse than the high end.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct Quantiles {
    /// One day in ten is below.
    pub p10: f64,
    /// The middle.
    pub p50: f64,
    /// One day in ten is above.
    pub p90: f64,
}

/// What a member will probably do.
#[derive(Clone, Debug, PartialEq)]
pub struct Prediction {
    /// What is measured: seconds, rounds, repetitions or the round that fails.
    pub measure: Measure,
    /// The spread of it.
    pub spread: Quantiles,
    /// Seconds on the clock, whatever is measured.
    pub finish_s: Quantiles,
    /// Share of days inside the window.
    pub chance: f64,
    /// Whether it rests on guesses about the member.
    pub guess: bool,
}

/// Predicts over `samples` days. The same seed gives the same days, whatever the version, so that
/// differences are differences of the versions.
pub fn predict(
    tree: &Node,
    athlete: &Athlete<'_>,
    catalogue: &Catalogue,
    model: &Model,
    window: &Window,
    samples: u32,
    seed: u64,
) -> (Prediction, Run) {
    let guess = works(tree).iter().any(|work| athlete.ability(work, catalogue, model).guess);
    let extra = if guess { model.luck.guess } else { 0.0 };
    let middle = simulate(tree, athlete, catalogue, model, Luck::MEDIAN);
    let mut rng = Pcg64Mcg::seed_from_u64(seed);
    let pace = LogNormal::new(0.0_f64, model.luck.pace + extra * 0.4).expect("a positive sigma");
    let capacity = LogNormal::new(0.0_f64, model.luck.capacity + extra).expect("a positive sigma");
    let mut values = Vec::with_capacity(samples as usize);
    let mut finishes = Vec::with_capacity(samples as usize);
    let mut inside = 0_u32;
    for _ in 0..samples {
        let luck = Luck { pace: pace.sample(&mut rng), capacity: capacity.sample(&mut rng) };
        let run = simulate(tree, athlete, catalogue, model, luck);
        let value = window.measure.of(&run);
        inside += u32::from(window.holds(value));
        values.push(value);
        finishes.push(run.finish_s);
    }
    let prediction = Prediction {
        measure: window.measure,
        spread: quantiles(values, window.measure.of(&middle)),
        finish_s: quantiles(finishes, middle.finish_s),
        chance: f64::from(inside) / f64::from(samples.max(1)),
        guess,
    };
    (prediction, middle)
}

fn quantiles(mut values: Vec<f64>, middle: f64) -> Quantiles {
    if values.is_empty() {
        return Quantiles { p10: middle, p50: middle, p90: middle };
    }
    values.sort_by(f64::total_cmp);
    let at = |share: f64| values[((values.len() - 1) as f64 * share).round() as usize];
    Quantiles { p10: at(0.1), p50: at(0.5), p90: at(0.9) }
}
