//! What a member can do of one movement at one load: seconds a repetition, and how many unbroken.

use std::cell::RefCell;
use std::collections::HashMap;
use std::rc::Rc;

use crate::member::Member;
use crate::movement::{Catalogue, LoadKind, Movement, MovementId, Unit};
use crate::session::{LoadUnit, Work};
use crate::strength::max_for;
use crate::strength::percent::reps_at_percent;
use crate::units::Kilograms;

use super::model::Model;

/// Local muscle groups, in the order of [`Ability::shares`].
pub const MUSCLES: [&str; 8] = ["grip", "pull", "push", "shoulders", "quads", "posterior", "core", "calves"];

/// What decides an ability: the movement, the load in its unit, what is counted, and how far a stretch is.
type AbilityKey = (MovementId, Option<(u64, LoadUnit)>, Unit, u64);

/// A member with what pacing needs to know, worked out once.
#[derive(Clone, Debug)]
pub struct Athlete<'a> {
    /// Abilities worked out so far: a search asks for the same ones thousands of times.
    known: RefCell<HashMap<AbilityKey, Rc<Ability>>>,
    /// The member.
    pub member: &'a Member,
    /// Level of skill and pace, 0 newest to 1 fastest.
    pub level: f64,
    /// Level of the engine, 0 to 1.
    pub engine: f64,
    /// Power for 2000 m on the rower in watts, measured or guessed.
    pub watts_2k: f64,
}

/// One movement at one load, for one member.
#[derive(Clone, Debug)]
pub struct Ability {
    /// Seconds for one unit, fresh.
    pub seconds: f64,
    /// Fresh unbroken repetitions; infinite for what is slowed rather than broken.
    pub capacity: f64,
    /// Load as a share of the 1RM in percent, when both are known.
    pub percent: Option<f64>,
    /// Seconds of rest per break.
    pub rest_s: f64,
    /// Seconds to get to it.
    pub setup_s: f64,
    /// Cost by muscle group, relative to the one that tires first.
    pub shares: [f64; 8],
    /// Breath demand, 0 to 1.
    pub lungs: f64,
    /// Whether the pace is chosen so that it lasts: machines, runs, swims.
    pub steady: bool,
    /// Whether max or capacity is a guess.
    pub guess: bool,
}

impl<'a> Athlete<'a> {
    /// Works out levels from the member's results; experience stands in where there are none.
    pub fn new(member: &'a Member) -> Self {
        let level = member.experience.level();
        let heavier = member.takes_first_of_pair();
        let watts_2k = match member.row_2k_s {
            Some(seconds) => erg_watts(f64::from(seconds) / 2000.0),
            // 2000 m in about 9:45, 7:10 at the fast end; newer and lighter members slower.
            None => (95.0 + 150.0 * level) * if heavier { 1.15 } else { 0.85 },
        };
        let per_kg = watts_2k / member.bodyweight.map_or(if heavier { 82.0 } else { 66.0 }, Kilograms::kg);
        let from_row = member.row_2k_s.map(|_| ((per_kg - 1.2) / 2.6).clamp(0.0, 1.0));
        // 1600 m in 11:00 is level 0, in 5:15 level 1.
        let from_run = member.run_1600_s.map(|s| ((660.0 - f64::from(s)) / 345.0).clamp(0.0, 1.0));
        let known: Vec<f64> = from_row.into_iter().chain(from_run).collect();
        let engine = if known.is_empty() { level } else { known.iter().sum::<f64>() / known.len() as f64 };
        Self { known: RefCell::default(), member, level, engine, watts_2k }
    }

    /// The movement at the work's load. The load must be this member's: see `versions`. One athlete is asked with one
    /// catalogue and one model.
    pub fn ability(&self, work: &Work, catalogue: &Catalogue, model: &Model) -> Rc<Ability> {
        let load = work.load.map(|load| (load.first.to_bits(), load.unit));
        let stretch = if work.dose.unit == Unit::Metres { work.dose.first().unwrap_or(0.0) } else { 0.0 };
        let key = (work.movement.clone(), load, work.dose.unit, stretch.to_bits());
        if let Some(known) = self.known.borrow().get(&key) {
            return known.clone();
        }
        let ability = Rc::new(self.worked_out(work, catalogue, model));
        self.known.borrow_mut().insert(key, ability.clone());
        ability
    }

    fn worked_out(&self, work: &Work, catalogue: &Catalogue, model: &Model) -> Ability {
        let Some(movement) = catalogue.get(&work.movement) else { return Ability::unknown() };
        let weight = work.load.as_ref().and_then(|load| load.weight());
        let max = movement.takes_weight().then(|| self.one_rep_max(movement, catalogue)).flatten();
        let percent = match (weight, max) {
            (Some(weight), Some((max, _))) => Some(weight.kg() / max.kg().max(1.0) * 100.0),
            _ => None,
        };
        let (capacity, capacity_guess) = self.capacity(movement, percent, model);
        let seconds = self.seconds(movement, work, percent, model);
        let strongest = MUSCLES.iter().map(|muscle| movement.muscle(muscle)).fold(0.01, f64::max);
        let rest_factor = model.sets.rest_slow + (model.sets.rest_fast - model.sets.rest_slow) * self.level;
        Ability {
            seconds,
            capacity,
            percent,
            rest_s: model.rest_per_break(movement) * rest_factor,
            setup_s: movement.setup_s.min(15.0),
            shares: MUSCLES.map(|muscle| movement.muscle(muscle) / strongest),
            lungs: movement.muscle("lungs").max(0.2),
            steady: movement.is_engine(),
            guess: capacity_guess || max.is_some_and(|(_, guess)| guess),
        }
    }

    /// The 1RM of a loaded movement and whether it is a guess: on file, inferred, or from bodyweight.
    fn one_rep_max(&self, movement: &Movement, catalogue: &Catalogue) -> Option<(Kilograms, bool)> {
        if let Some(estimate) = max_for(self.member, &movement.id, catalogue) {
            return Some((estimate.value, estimate.guess));
        }
        // Nothing on file: a usual back squat for the experience, and the usual ratios from there.
        let heavier = self.member.takes_first_of_pair();
        let bodyweight = self.member.bodyweight.map_or(if heavier { 82.0 } else { 66.0 }, Kilograms::kg);
        let squat = bodyweight * (0.6 + self.level) * if heavier { 1.0 } else { 0.78 };
        let mut share = 1.0;
        let mut at = movement;
        for _ in 0..6 {
            let Some((next, fraction)) = &at.load_ref else { break };
            if *next == at.id {
                break;
            }
            share *= fraction;
            at = catalogue.get(next)?;
        }
        let root = match at.id.as_str() {
            "back-squat" => 1.0,
            "deadlift" => 1.22,
            "bench-press" => 0.72,
            "strict-press" => 0.45,
            _ => return None,
        };
        Some((Kilograms::from_kg(squat * root * share), true))
    }

    /// Fresh unbroken repetitions, and whether they are a guess.
    fn capacity(&self, movement: &Movement, percent: Option<f64>, model: &Model) -> (f64, bool) {
        if movement.is_engine() || movement.unit == Unit::Seconds {
            return (f64::INFINITY, false);
        }
        if let Some(percent) = percent {
            // A load at the limit is a single at best; beyond it, no repetition can be counted on.
            let over = (103.0 - percent).clamp(0.0, 3.0) / 3.0;
            let reps = reps_at_percent(percent) * model.capacity_factor(movement) * over.max(0.05);
            return (reps.clamp(0.2, model.capacity.ceiling), false);
        }
        let known = |id: &str| self.member.best(id).map(f64::from);
        if let Some(best) = known(movement.id.as_str()) {
            return (best.max(0.2), false);
        }
        let skill =
            if movement.load_kind == LoadKind::BoxHeight { 0 } else { usize::from(movement.skill.min(4)) };
        let usual =
            model.capacity.bodyweight_base[skill] + model.capacity.bodyweight_rise[skill] * self.level;
        if let Some(best) = self.by_a_related_movement(movement.id.as_str(), model) {
            // Few of the harder movement says little about one that nearly everybody can do.
            let floor = if skill <= 1 { 0.6 * usual } else { 0.2 };
            return (best.max(floor), true);
        }
        (usual.max(0.2), skill >= 2)
    }

    /// Best repetitions from those of a related movement, by way of another where need be: pull-ups tell of strict ones,
    /// and those of chin-ups.
    fn by_a_related_movement(&self, id: &str, model: &Model) -> Option<f64> {
        const MOST_STEPS: usize = 3;
        let (mut at, mut share) = (id, 1.0);
        for _ in 0..MOST_STEPS {
            let row = model.related.iter().find(|row| row.movement == at)?;
            share *= row.share;
            if let Some(best) = self.member.best(&row.of) {
                return Some(f64::from(best) * share);
            }
            at = &row.of;
        }
        None
    }

    /// Seconds for one unit when fresh.
    fn seconds(&self, movement: &Movement, work: &Work, percent: Option<f64>, model: &Model) -> f64 {
        let unit = work.dose.unit;
        if unit == Unit::Seconds {
            return 1.0;
        }
        if let Some(seconds) = self.machine_seconds(movement, work, model) {
            return seconds;
        }
        let base = movement.seconds_per(unit, self.level).unwrap_or(1.0);
        base * percent.map_or(1.0, |percent| model.load_factor(percent))
    }

    /// Machines and runs go by the member's own times.
    fn machine_seconds(&self, movement: &Movement, work: &Work, model: &Model) -> Option<f64> {
        let unit = work.dose.unit;
        let watts = self.watts_2k * model.engine.erg_share;
        match (movement.id.as_str(), unit) {
            ("row" | "bike", Unit::Calories) => Some(calorie_seconds(watts)),
            ("ski", Unit::Calories) => Some(calorie_seconds(watts * 0.9)),
            ("row", Unit::Metres) => Some(metre_seconds(watts)),
            ("ski", Unit::Metres) => Some(metre_seconds(watts * 0.9)),
            ("bike", Unit::Metres) => Some(metre_seconds(watts) / 2.0),
            ("run", Unit::Metres) => {
                self.run_pace(work.dose.first().unwrap_or(400.0).clamp(200.0, 5000.0), model)
            }
            _ => None,
        }
    }

    /// Seconds a metre of a run inside mixed work, from the nearest known time.
    fn run_pace(&self, metres: f64, model: &Model) -> Option<f64> {
        let known = self.member.run_400_s.map(|s| (f64::from(s), 400.0));
        let known = known.or(self.member.run_1600_s.map(|s| (f64::from(s), 1600.0)));
        let (seconds, distance) = known?;
        let fresh = seconds * (metres / distance).powf(model.engine.riegel);
        // A 400 m time is all out; three quarters of a minute is not how a round is run.
        let effort = if distance <= 400.0 { 1.06 } else { 1.0 };
        Some(fresh / metres * model.engine.run_factor * effort)
    }
}

impl Ability {
    fn unknown() -> Self {
        Self {
            seconds: 2.0,
            capacity: 20.0,
            percent: None,
            rest_s: 6.0,
            setup_s: 4.0,
            shares: [0.0; 8],
            lungs: 0.5,
            steady: false,
            guess: true,
        }
    }
}

/// Watts at a pace in seconds a metre: the standard monitor formula, `2.80 / p^3`.
pub fn erg_watts(seconds_per_metre: f64) -> f64 {
    2.80 / seconds_per_metre.powi(3)
}

/// Seconds a metre at a power in watts.
pub fn metre_seconds(watts: f64) -> f64 {
    (2.80 / watts.max(20.0)).cbrt()
}

/// Seconds a calorie at a power in watts: the monitor counts `4 * 0.8604 * W + 300` calories an hour.
pub fn calorie_seconds(watts: f64) -> f64 {
    3600.0 / (4.0 * 0.8604 * watts.max(20.0) + 300.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn machine_formulas_agree_with_the_table() {
        // 200 W: 2:00.5 a 500 m, 3.64 s a calorie.
        assert!((metre_seconds(200.0) * 500.0 - 120.5).abs() < 0.1);
        assert!((calorie_seconds(200.0) - 3.64).abs() < 0.01);
        assert!((erg_watts(0.241) - 200.0).abs() < 1.0);
    }

    #[test]
    fn a_member_without_data_still_has_an_engine_and_it_is_modest() {
        let newcomer = Member::default();
        let athlete = Athlete::new(&newcomer);
        assert!(athlete.engine <= 0.2 && (60.0..140.0).contains(&athlete.watts_2k), "{athlete:?}");
    }
}
