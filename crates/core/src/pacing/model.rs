//! Parameters of the simulator, from `data/pacing.toml`, where each has its unit and source.

use std::sync::LazyLock;

use serde::Deserialize;

use crate::movement::{Movement, Pattern};

/// All parameters; see `data/pacing.toml` for meaning, unit and source of each.
#[derive(Clone, Debug, Deserialize)]
#[serde(deny_unknown_fields)]
#[expect(missing_docs, reason = "each key is explained where its value stands, in data/pacing.toml")]
pub struct Model {
    pub effort: Effort,
    pub capacity: Capacity,
    pub related: Vec<Related>,
    pub prerequisite: Vec<Prerequisite>,
    pub sets: Sets,
    pub fatigue: Fatigue,
    pub engine: Engine,
    pub transition: Transition,
    pub load: Load,
    pub luck: LuckSpread,
    pub intent: IntentRule,
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Effort {
    pub full_s: f64,
    pub a_doubling: f64,
    pub least: f64,
    pub most: f64,
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Capacity {
    pub squat: f64,
    pub hinge: f64,
    pub lunge: f64,
    pub olympic: f64,
    pub press_vertical: f64,
    pub press_horizontal: f64,
    pub other: f64,
    pub ceiling: f64,
    pub bodyweight_base: [f64; 5],
    pub bodyweight_rise: [f64; 5],
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Related {
    pub movement: String,
    pub of: String,
    pub share: f64,
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Prerequisite {
    pub movement: String,
    pub needs: String,
    pub at_least: u32,
    pub unless_best: u32,
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Sets {
    pub share: f64,
    pub many: f64,
    pub share_of_many: f64,
    pub finish_share: f64,
    pub whole_share: f64,
    pub single_cost: f64,
    pub least_share: f64,
    pub longest_wait: f64,
    pub too_far: f64,
    pub too_far_rest: f64,
    pub rest_barbell: f64,
    pub rest_pull: f64,
    pub rest_press: f64,
    pub rest_squat: f64,
    pub rest_core: f64,
    pub rest_other: f64,
    pub rest_fast: f64,
    pub rest_slow: f64,
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Fatigue {
    pub half_time_s: f64,
    pub lasting: f64,
    pub near_failure: f64,
    pub slope: f64,
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Engine {
    pub critical_base: f64,
    pub critical_rise: f64,
    pub reserve_s: f64,
    pub slow_from: f64,
    pub erg_share: f64,
    pub alone: f64,
    pub run_factor: f64,
    pub riegel: f64,
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Transition {
    pub same_spot_s: f64,
    pub setup_share: f64,
    pub change_load_s: f64,
    pub tag_s: f64,
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Load {
    pub percent: Vec<f64>,
    pub factor: Vec<f64>,
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct LuckSpread {
    pub pace: f64,
    pub capacity: f64,
    pub set: f64,
    pub guess: f64,
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct IntentRule {
    pub window: f64,
    pub chance: f64,
    pub share_of_max: f64,
    pub level: f64,
}

impl Model {
    /// The parameters that ship with the program.
    pub fn standard() -> &'static Self {
        static MODEL: LazyLock<Model> = LazyLock::new(|| {
            toml::from_str(include_str!("../../../../data/pacing.toml"))
                .expect("the shipped parameters are tested")
        });
        &MODEL
    }

    /// Factor on all times for a piece of about this length.
    pub fn effort(&self, seconds: f64) -> f64 {
        let Effort { full_s, a_doubling, least, most } = self.effort;
        (1.0 + a_doubling * (seconds.max(1.0) / full_s).log2()).clamp(least, most)
    }

    /// Repetitions at a share of the 1RM, relative to the press.
    pub fn capacity_factor(&self, movement: &Movement) -> f64 {
        match movement.pattern {
            Pattern::Squat => self.capacity.squat,
            Pattern::Hinge => self.capacity.hinge,
            Pattern::Lunge => self.capacity.lunge,
            Pattern::Olympic => self.capacity.olympic,
            Pattern::PressVertical => self.capacity.press_vertical,
            Pattern::PressHorizontal => self.capacity.press_horizontal,
            _ => self.capacity.other,
        }
    }

    /// Seconds of rest per break for a regular member.
    pub fn rest_per_break(&self, movement: &Movement) -> f64 {
        match movement.pattern {
            _ if movement.is_barbell() => self.sets.rest_barbell,
            Pattern::PullVertical | Pattern::PullHorizontal => self.sets.rest_pull,
            Pattern::PressVertical | Pattern::PressHorizontal => self.sets.rest_press,
            Pattern::Squat | Pattern::Lunge => self.sets.rest_squat,
            Pattern::Core => self.sets.rest_core,
            _ => self.sets.rest_other,
        }
    }

    /// Cycle-time factor at a share of the movement's own 1RM, in percent.
    pub fn load_factor(&self, percent: f64) -> f64 {
        let (xs, ys) = (&self.load.percent, &self.load.factor);
        match xs.iter().position(|&x| percent < x) {
            Some(0) => ys[0],
            Some(n) => ys[n - 1] + (ys[n] - ys[n - 1]) * (percent - xs[n - 1]) / (xs[n] - xs[n - 1]),
            None => ys[ys.len() - 1],
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_shipped_parameters_are_complete_and_heavier_is_slower() {
        let model = Model::standard();
        assert_eq!(model.load.percent.len(), model.load.factor.len());
        let factors: Vec<f64> = (20..120).map(|percent| model.load_factor(f64::from(percent))).collect();
        assert!(factors.windows(2).all(|pair| pair[0] <= pair[1]));
        assert_eq!((factors[0], *factors.last().unwrap()), (1.0, 3.5));
    }
}
