//! How true predictions were: results beside what was predicted of them.

use serde::Serialize;

use super::{Done, Entry, Predicted};
use crate::pacing::{ONE_IN_TEN, Quantiles, standard_normal_below};

/// A result beside its prediction.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Outcome {
    /// How far it lies above the middle, as a logarithm of the time; of what is counted, below.
    pub off: f64,
    /// One standard deviation of what was predicted, on the side on which it lies.
    pub spread: f64,
    /// The same as `off` for what was predicted without what results had taught.
    pub off_by_file: f64,
}

impl Outcome {
    /// Of a result as it was predicted when it was entered; none where nothing can be compared, or the cap says no more than that it was slower.
    pub fn of(entry: &Entry) -> Option<Self> {
        let cut = matches!(entry.done, Done::Capped { left: None });
        Self::beside(entry.value.filter(|_| !cut)?, entry.predicted.as_ref()?)
    }

    /// Of a value in the measure of a prediction.
    pub fn beside(value: f64, predicted: &Predicted) -> Option<Self> {
        let Quantiles { p10, p50, p90 } = predicted.quantiles();
        if value <= 0.0 || p10 <= 0.0 || p50 <= 0.0 {
            return None;
        }
        let far = (value / p50).ln();
        let side = if far > 0.0 { (p90 / p50).ln() } else { (p50 / p10).ln() };
        let slower = if predicted.measure.is_time() { far } else { -far };
        let learned = predicted.rests.as_ref().map_or(0.0, |rests| rests.pull.abs() * rests.slower);
        Some(Self { off: slower, spread: (side / ONE_IN_TEN).max(LEAST), off_by_file: slower + learned })
    }

    /// Where in what was predicted it lies: 0 below everything, 1 above, 0.5 in the middle.
    pub fn place(&self) -> f64 {
        standard_normal_below(self.off / self.spread)
    }

    /// Whether it lies within what eight of ten days are to be.
    pub fn is_within(&self) -> bool {
        self.off.abs() <= self.spread * ONE_IN_TEN
    }

    /// Continuous ranked probability score: how far what was predicted lies from what came, small being better; of a normal distribution, on
    /// the logarithm (Gneiting and Raftery 2007, equation 21 there without its sign).
    pub fn crps(&self) -> f64 {
        let z = self.off / self.spread;
        let density = (-0.5 * z * z).exp() / std::f64::consts::TAU.sqrt();
        let below = standard_normal_below(z);
        self.spread * (z * (2.0 * below - 1.0) + 2.0 * density - std::f64::consts::PI.sqrt().recip())
    }
}

/// No prediction is surer than this.
const LEAST: f64 = 1e-3;
/// In how many steps it is told how often results came to lie below what was predicted.
const STEPS: usize = 10;

/// How true predictions were, all together.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Calibration {
    /// How many results.
    pub count: usize,
    /// Share of results within what eight of ten were to be within.
    pub within: f64,
    /// Middle of how far results lay from the middle of what was predicted, as a share.
    pub error: f64,
    /// The same without what results had taught.
    pub error_by_file: f64,
    /// Mean continuous ranked probability score, on the logarithm.
    pub crps: f64,
    /// Middle of by how much they were slower than predicted, as a share.
    pub slower: f64,
    /// For each tenth: the share of results that were as quick or quicker than so many days of a hundred were to be.
    pub below: Vec<(f64, f64)>,
}

impl Calibration {
    /// Of results; none where there are none.
    pub fn of(all: &[Outcome]) -> Option<Self> {
        let share = |count: usize| count as f64 / all.len() as f64;
        let as_share = |off: f64| off.exp() - 1.0;
        let mean = all.iter().map(Outcome::crps).sum::<f64>() / all.len().max(1) as f64;
        let below = (1..STEPS).map(|step| {
            let said = step as f64 / STEPS as f64;
            (said, share(all.iter().filter(|outcome| outcome.place() <= said).count()))
        });
        Some(Self {
            count: all.len(),
            within: share(all.iter().filter(|outcome| outcome.is_within()).count()),
            error: as_share(median(all.iter().map(|outcome| outcome.off.abs()))?),
            error_by_file: as_share(median(all.iter().map(|outcome| outcome.off_by_file.abs()))?),
            crps: mean,
            slower: as_share(median(all.iter().map(|outcome| outcome.off))?),
            below: below.collect(),
        })
    }
}

/// The middle one, or between the two middle ones; none of none.
pub(super) fn median(values: impl Iterator<Item = f64>) -> Option<f64> {
    let mut all: Vec<f64> = values.collect();
    all.sort_by(f64::total_cmp);
    let middle = all.len() / 2;
    let high = *all.get(middle)?;
    Some(if all.len() % 2 == 1 { high } else { f64::midpoint(all[middle - 1], high) })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pacing::Measure;

    fn predicted(measure: Measure) -> Predicted {
        Predicted { measure, spread: [540.0, 600.0, 690.0], window: [None, None], rests: None }
    }

    #[test]
    fn the_ends_of_what_was_predicted_are_a_tenth_from_either_side() {
        let place = |value: f64| Outcome::beside(value, &predicted(Measure::Finish)).unwrap().place();
        for (value, said) in [(540.0, 0.1), (600.0, 0.5), (690.0, 0.9)] {
            assert!((place(value) - said).abs() < 1e-3, "{value}: {}", place(value));
        }
        assert!(Outcome::beside(689.0, &predicted(Measure::Finish)).unwrap().is_within());
        assert!(!Outcome::beside(700.0, &predicted(Measure::Finish)).unwrap().is_within());
        assert_eq!(Outcome::beside(0.0, &predicted(Measure::Finish)).map(|one| one.off), None);
    }

    #[test]
    fn more_rounds_are_quicker_and_what_was_learned_is_taken_off() {
        let of = |predicted: &Predicted| Outcome::beside(660.0, predicted).unwrap();
        let (time, rounds) = (of(&predicted(Measure::Finish)), of(&predicted(Measure::Rounds)));
        assert!(time.off > 0.0 && (time.off + rounds.off).abs() < 1e-12);
        assert!((time.off - time.off_by_file).abs() < 1e-12);
        let rests = serde_json::json!({
            "of": { "shares": [["legs", 1.0]], "length_s": 600.0, "rested": false },
            "pull": 0.5, "noise": 0.1, "slower": 0.04, "unsure": 0.1 });
        let learned =
            Predicted { rests: serde_json::from_value(rests).unwrap(), ..predicted(Measure::Finish) };
        assert!((of(&learned).off_by_file - time.off - 0.02).abs() < 1e-12);
    }

    /// The values of a standard normal at 0, 1 and 2, worked out from the definition by integrating the squared distance of the steps.
    #[test]
    fn the_score_of_a_prediction_is_the_one_of_its_definition() {
        for off in [-2.0, -1.0, 0.0, 0.5, 1.0, 2.0_f64] {
            let step = 1e-3;
            let steps = (-9000..9000).map(|n| f64::from(n) * step);
            let apart = |at: f64| {
                let came = if at >= off { 1.0 } else { 0.0 };
                (standard_normal_below(at) - came).powi(2)
            };
            let defined: f64 = steps.map(|at| apart(at + step / 2.0) * step).sum();
            for spread in [1.0, 0.1] {
                let outcome = Outcome { off: off * spread, spread, off_by_file: 0.0 };
                let score = outcome.crps() / spread;
                assert!((score - defined).abs() < 2e-3, "{off}: {score} {defined}");
            }
        }
    }
}
