//! Parameters of the simulator, from `data/pacing.toml`, where each has its unit and source.

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use crate::movement::{LoadKind, Movement, Pattern, Property};

/// All parameters; see `data/pacing.toml` for meaning, unit and source of each.
#[derive(Clone, Debug, Deserialize)]
#[serde(deny_unknown_fields)]
#[expect(missing_docs, reason = "each key is explained where its value stands, in data/pacing.toml")]
pub struct Model {
    pub capacity: Capacity,
    pub related: Vec<Related>,
    pub thrown: Vec<Related>,
    pub prerequisite: Vec<Prerequisite>,
    pub breaks: Breaks,
    pub luck: LuckSpread,
    pub intent: IntentRule,
    pub fitted: Fitted,
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
    pub light: f64,
    pub lightness: f64,
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
pub struct Breaks {
    pub barbell: f64,
    pub pull: f64,
    pub press: f64,
    pub squat: f64,
    pub core: f64,
    pub other: f64,
    pub quick: f64,
    pub slow: f64,
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct LuckSpread {
    pub stranger: f64,
    pub known: f64,
    pub pace: f64,
    pub capacity: f64,
    pub set: f64,
    pub guess: f64,
}

#[derive(Clone, Debug, Deserialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct IntentRule {
    pub width: f64,
    pub cap_share: f64,
    pub cap_weight: f64,
    pub longer: f64,
    pub usual_s: f64,
    pub towards_usual: f64,
    pub moving: f64,
    pub chance: f64,
    pub most_of_max: f64,
}

/// What is fitted to a table of what pieces really take, rather than typed; see `docs/model.md`.
#[derive(Clone, Debug, Deserialize, Serialize)]
#[serde(deny_unknown_fields)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Fitted {
    pub pace: Pace,
    pub tempo: Tempo,
    pub pause: Pause,
    pub recovery: Recovery,
    pub bar: Bar,
    pub change: Change,
    pub engine: Engine,
}

#[derive(Clone, Debug, Deserialize, Serialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Pace {
    pub burpee: f64,
    pub jump: f64,
    pub legs: f64,
    pub lunge: f64,
    pub push: f64,
    pub pull: f64,
    pub core: f64,
    pub swing: f64,
    pub implement: f64,
    pub barbell: f64,
    pub olympic: f64,
    pub carry: f64,
    pub spread_breath: f64,
    pub spread_body: f64,
    pub spread_load: f64,
}

#[derive(Clone, Debug, Deserialize, Serialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Tempo {
    pub burpee: f64,
    pub body: f64,
    pub load: f64,
    pub slow: f64,
    pub tired: f64,
}

#[derive(Clone, Debug, Deserialize, Serialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Pause {
    pub from: f64,
    pub pull: f64,
    pub push: f64,
    pub core: f64,
    pub legs: f64,
    pub implement: f64,
    pub barbell: f64,
    pub kip: f64,
    pub slow: f64,
    pub endurance: f64,
}

#[derive(Clone, Debug, Deserialize, Serialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Recovery {
    pub half_time_s: f64,
    pub lasting: f64,
    pub between_s: f64,
}

#[derive(Clone, Debug, Deserialize, Serialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Bar {
    pub slow: f64,
    pub put_down: f64,
    pub put_down_from: f64,
    pub put_down_width: f64,
    pub put_down_rise: f64,
    pub single_saves: f64,
}

#[derive(Clone, Debug, Deserialize, Serialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Change {
    pub same_spot_s: f64,
    pub setup_share: f64,
    pub slow: f64,
    pub change_load_s: f64,
    pub tag_s: f64,
}

#[derive(Clone, Debug, Deserialize, Serialize)]
#[expect(missing_docs, reason = "explained in data/pacing.toml")]
pub struct Engine {
    pub class_day: f64,
    pub mixed_run: f64,
    pub mixed_machine: f64,
    pub mixed_slow: f64,
    pub ski_power: f64,
}

/// What a movement is like for pacing: how its rate and its breaks behave.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    /// Down to the floor and up: rate is a matter of breath.
    Burpee,
    /// Boxes and ropes.
    Jump,
    /// Squats without a load.
    Legs,
    /// One leg after the other, without a load.
    Lunge,
    /// Pressing one's own weight.
    Push,
    /// Pulling one's own weight.
    Pull,
    /// The trunk.
    Core,
    /// A bell swung from the hips.
    Swing,
    /// A ball, bell or dumbbell in the hands.
    Implement,
    /// A bar that is squatted, pressed or lifted from the floor.
    Barbell,
    /// A bar that is pulled up fast.
    Olympic,
    /// Walking under a load.
    Carry,
}

impl Kind {
    /// Of a movement.
    pub fn of(movement: &Movement) -> Self {
        let held = movement.takes_weight();
        match movement.pattern {
            Pattern::Carry => Self::Carry,
            Pattern::Burpee => Self::Burpee,
            Pattern::Jump => Self::Jump,
            Pattern::Core => Self::Core,
            Pattern::PullVertical => Self::Pull,
            Pattern::Olympic if movement.is_barbell() => Self::Olympic,
            _ if movement.is_barbell() => Self::Barbell,
            Pattern::Hinge if held && movement.load_kind == LoadKind::Kettlebell => Self::Swing,
            _ if held => Self::Implement,
            Pattern::PressHorizontal | Pattern::PressVertical => Self::Push,
            Pattern::PullHorizontal => Self::Pull,
            Pattern::Lunge => Self::Lunge,
            _ => Self::Legs,
        }
    }

    /// Whether something is carried, which leaves less choice of tempo.
    pub fn is_loaded(self) -> bool {
        matches!(self, Self::Swing | Self::Implement | Self::Barbell | Self::Olympic | Self::Carry)
    }
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

    /// Factor on the rate of the catalogue.
    pub fn rate(&self, kind: Kind) -> f64 {
        let pace = &self.fitted.pace;
        match kind {
            Kind::Burpee => pace.burpee,
            Kind::Jump => pace.jump,
            Kind::Legs => pace.legs,
            Kind::Lunge => pace.lunge,
            Kind::Push => pace.push,
            Kind::Pull => pace.pull,
            Kind::Core => pace.core,
            Kind::Swing => pace.swing,
            Kind::Implement => pace.implement,
            Kind::Barbell => pace.barbell,
            Kind::Olympic => pace.olympic,
            Kind::Carry => pace.carry,
        }
    }

    /// How far quick and slow people lie apart, against the catalogue.
    pub fn spread_of(&self, kind: Kind) -> f64 {
        let pace = &self.fitted.pace;
        match kind {
            Kind::Burpee | Kind::Jump => pace.spread_breath,
            kind if kind.is_loaded() => pace.spread_load,
            _ => pace.spread_body,
        }
    }

    /// Exponent of a repetition's time over the length of the piece, for somebody in the middle.
    pub fn tempo(&self, kind: Kind) -> f64 {
        let tempo = &self.fitted.tempo;
        match kind {
            Kind::Burpee => tempo.burpee,
            kind if kind.is_loaded() => tempo.load,
            _ => tempo.body,
        }
    }

    /// Seconds of pause a repetition for each capacity spent beyond where pauses begin.
    pub fn pause(&self, movement: &Movement, kind: Kind) -> f64 {
        let pause = &self.fitted.pause;
        let seconds = match kind {
            Kind::Pull => pause.pull,
            Kind::Push => pause.push,
            Kind::Core => pause.core,
            Kind::Burpee | Kind::Jump | Kind::Legs | Kind::Lunge | Kind::Carry => pause.legs,
            Kind::Swing | Kind::Implement => pause.implement,
            Kind::Barbell | Kind::Olympic => pause.barbell,
        };
        let swings = kind == Kind::Pull && movement.has(Property::Kipping);
        if swings { seconds * pause.kip } else { seconds }
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

    /// Fresh repetitions at a share of the 1RM, in percent: smooth from the lightest load to the heaviest. A load at the
    /// maximum is a single; beyond it hardly one can be counted on.
    pub fn reps_at(&self, percent: f64, movement: &Movement) -> f64 {
        let lightness = (100.0 / percent.max(1.0)).ln();
        if lightness <= 0.0 {
            return (1.0 + lightness * 10.0).max(0.3);
        }
        1.0 + self.capacity.light * lightness.powf(self.capacity.lightness) * self.capacity_factor(movement)
    }

    /// Factor on the time of a repetition at a share of the 1RM, in percent.
    pub fn load_factor(&self, percent: f64) -> f64 {
        let share = (percent / 100.0).max(0.0);
        1.0 + self.fitted.bar.slow * share * share * share
    }

    /// How far a bar of this share of the 1RM, in percent, is lifted once at a time: 0 touch and go, 1 singles.
    pub fn singles(&self, percent: f64) -> f64 {
        let bar = &self.fitted.bar;
        1.0 / (1.0 + ((bar.put_down_from - percent / 100.0) / bar.put_down_width).exp())
    }

    /// Time to put a bar down and set up again, as far as that is done at this share of the 1RM, in repetitions of somebody in the
    /// middle: a lift of two parts takes longer to set up for than one of one.
    pub fn put_down(&self, percent: f64) -> f64 {
        let bar = &self.fitted.bar;
        let heavy = (bar.put_down_rise * (percent / 100.0 - 0.7)).exp();
        self.singles(percent) * bar.put_down * heavy
    }

    /// Seconds of rest per break for a regular member: how pauses are told as sets.
    pub fn rest_per_break(&self, movement: &Movement) -> f64 {
        match movement.pattern {
            _ if movement.is_barbell() => self.breaks.barbell,
            Pattern::PullVertical | Pattern::PullHorizontal => self.breaks.pull,
            Pattern::PressVertical | Pattern::PressHorizontal => self.breaks.press,
            Pattern::Squat | Pattern::Lunge => self.breaks.squat,
            Pattern::Core => self.breaks.core,
            _ => self.breaks.other,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::{Catalogue, MovementId};

    #[test]
    fn heavier_is_slower_and_fewer_without_a_jump() {
        let model = Model::standard();
        let clean = Catalogue::standard().get(&MovementId::new("power-clean")).unwrap();
        let seconds =
            |percent: u32| model.load_factor(f64::from(percent)) + model.put_down(f64::from(percent));
        let reps = |percent: u32| model.reps_at(f64::from(percent), clean);
        for percent in 5..110 {
            assert!(seconds(percent) <= seconds(percent + 1) && reps(percent) >= reps(percent + 1));
            assert!(seconds(percent + 1) < seconds(percent) * 1.15, "{percent}");
        }
    }
}
